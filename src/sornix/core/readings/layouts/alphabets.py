"""In which alphabet a text that is not UTF-8 was written: how well its letters go together."""

import re
import unicodedata
from collections.abc import Mapping
from types import MappingProxyType

# The codes that are tried, in the order in which equals are taken, with the letters beyond ASCII
# that texts in them are mostly of; "" where every letter of the script is as likely.
_CODES: Mapping[str, str] = MappingProxyType(
    {
        "cp1252": "äöüßéèàçêëñáíóúâîôûåæøÄÖÜÉÅØÇ",
        "cp1250": "áčďéěíňóřšťúůýžłąęśćńźżőűöüäșțăâîČŠŽŘÁÚŁŚŻ",
        "cp1251": "",
        "cp1253": "",
        "cp1254": "çğıöşüâîİŞĞÇÖÜ",
        "mac_roman": "äöüßéèàçêëñáíóúâîôûåæøÄÖÜÉÅØÇ",
        "shift_jis": "",
        "gb18030": "",
        "euc_kr": "",
    }
)
# Signs of units, of measuring and of writing: those that may stand before letters, those that stand
# behind them, and others, which stand apart.
_BEFORE = frozenset("°µμΩ’“„€£¥")
_POWERS = frozenset("²³”’…–")
_UNITS = frozenset("°µμΩ²³±€£¥")
_SIGNS = _BEFORE | _POWERS | frozenset("±·×—")
# by so much the commonest code is taken for likelier, and others are as likely
_COMMON, _NEAR = 0.5, 0.4
_WORD = re.compile(r"[^\s,;|\"]*[^\x00-\x7f][^\s,;|\"]*")
_MOST_LETTERS = 4000
_MOST_WORDS = 60


def code_of(raw: bytes) -> tuple[str, str]:
    """The code that a text with bytes beyond ASCII is most likely in, and a doubt about it in
    words, or ""."""
    head = raw[: raw.rfind(b"\n", 0, 1 << 16) + 1] or raw
    texts = {}
    for code in _CODES:
        try:
            texts[code] = head.decode(code)
        except UnicodeDecodeError:
            continue
    if not texts:
        return "cp1252", ""
    scores = {code: _score(text, _CODES[code]) for code, text in texts.items()}
    if "cp1252" in scores:
        scores["cp1252"] += _COMMON
    ranked = sorted(scores, key=lambda code: -scores[code])
    best = ranked[0]
    for other in ranked[1:]:
        near = scores[other] > scores[best] - _NEAR
        pair = (
            _first_difference(texts[best], texts[other])
            if near or (other == "cp1252" != best)
            else None
        )
        if pair is not None:
            return (
                best,
                f"“{pair[0]}” may be “{pair[1]}”: the letters tell no alphabet for certain.",
            )
    return best, ""


def _score(text: str, usual: str) -> float:
    """How well the letters beyond ASCII fit: in words of one script, small ones after others, and
    few of them among Latin ones unless they are usual."""
    words = list(dict.fromkeys(_WORD.findall(text)))[:_MOST_WORDS]
    return sum(_fit(word, usual) for word in words)


def _fit(word: str, usual: str) -> float:
    letters = [one for one in word if one.isalpha()]
    strange = sum(one > "\x7f" for one in letters)
    latin = sum(_is_latin(one) for one in letters)
    fit = sum(
        _fit_of(letter, before, after, usual)
        for before, letter, after in zip(f" {word}", word, f"{word[1:]} ", strict=False)
        if letter > "\x7f"
    )
    # a word is of one script, and a Latin one has few letters beyond ASCII
    if 0 < latin < len(letters):
        fit -= 3.0
    elif latin and 2 * strange > len(letters) > 1:
        fit -= 1.0 * strange
    return fit


def _fit_of(letter: str, before: str, after: str, usual: str) -> float:
    """How well a letter or sign goes with its neighbours."""
    if letter in _SIGNS:
        apart = not (after.isalpha() or (before.isalpha() and letter not in _POWERS))
        return (2.0 if letter in _UNITS else 0.3) if letter in _BEFORE or apart else -3.0
    kind = unicodedata.category(letter)
    if kind[0] != "L" or "\uff61" <= letter <= "\uff9f":
        return -3.0
    if letter.isupper() and (before.islower() or (before.isupper() and after.islower())):
        return -2.0
    if usual:
        return 1.0 if letter in usual else -0.5
    return 1.0 if not _is_latin(letter) else -1.0


def _is_latin(letter: str) -> bool:
    return unicodedata.name(letter, "").startswith("LATIN")


def _first_difference(one: str, other: str) -> tuple[str, str] | None:
    """The first word that two readings of a text differ in."""
    pairs = zip(re.split(r"[\s,;|]+", one), re.split(r"[\s,;|]+", other), strict=False)
    return next(((a.strip('"'), b.strip('"')) for a, b in pairs if a != b), None)
