"""In which alphabet a text that is not UTF-8 was written: how well its letters go together."""

import re
import unicodedata
from collections.abc import Mapping
from types import MappingProxyType

from sornix.core.patterns import pattern

# The small letters beyond ASCII that texts are mostly of, one entry a language or some that are
# alike, and then those that are rare in them: no text has the letters of all that a code is for.
_WESTERN = ("äöüß", "éèàçêâîôûù œëï", "ñáéíóúü", "ãçáéíóúêôõ", "àèéìòù", "åäöæøé", "áíúóæð éýþö")
_CENTRAL = (
    "áčďéěíňóřšťúůýž ľĺŕôä", "ąćęłóśż ńź", "áéíóöőúüű", "ăâîșțşţ", "čćđšž", "äöüß",
)  # fmt: skip
_CYRILLIC = ("оеаинтсрвлкмдпуяыьгбзъщіїє",)
# The codes that are tried, in the order in which equals are taken.
_CODES: Mapping[str, tuple[str, ...]] = MappingProxyType(
    {
        "cp1252": _WESTERN,
        "cp1250": _CENTRAL,
        "cp1251": _CYRILLIC,
        "cp1253": ("αοιετσνηυρπκμλςγδάίόέήύώθω",),
        "cp1254": ("çğıöşüâîi\u0307",),
        "cp1255": ("יוהלאתמרבשנםעדקחפטגכןצ",),
        "cp1256": ("اليمنتربوعدهسكفحقةجشصأطخ",),
        "cp1257": ("ąčęėįšųūž", "āčēģīķļņšūž", "õäöüšž"),
        "mac_roman": _WESTERN,
        "iso8859_2": _CENTRAL,
        "koi8_r": _CYRILLIC,
        "cp866": _CYRILLIC,
        "cp850": _WESTERN,
        "cp852": _CENTRAL,
        "shift_jis": ("",),
        "gb18030": ("",),
        "big5": ("",),
        "euc_kr": ("",),
    }
)
# Capitals that begin no word, and letters that only stand before others, or at the end.
_NEVER_FIRST = frozenset("ÈËÏŒ")
_STANDS_BEFORE: Mapping[str, str] = MappingProxyType(
    {"ã": "oe", "õ": "e", "à": " ", "ì": " ", "ò": " ", "ù": " "}
)
# The first bytes of the letters that texts in East Asian codes are mostly of, as their tables have
# them in front: kana, the signs of the first level, syllables.
_IN_FRONT: Mapping[str, tuple[tuple[int, int], ...]] = MappingProxyType(
    {
        "shift_jis": ((0x82, 0x83), (0x88, 0x97)),
        "gb18030": ((0xB0, 0xD7),),
        "big5": ((0xA4, 0xC6),),
        "euc_kr": ((0xB0, 0xC8),),
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
_WORD = pattern(r"[^\s,;|\"]*[^\x00-\x7f][^\s,;|\"]*")
# A unit of millionths is no word of any language; it is worth as much as several letters.
_MICRO = pattern(r"[(\[/]?[µμ](?:g|m|l|L|mol|M|S|A|V|s|W|Pa|E|Bq|Sv|eq|atm)(?![a-z])")
_MICRO_FIT = 3.0
_MOST_LETTERS = 4000
_MOST_WORDS = 60


def code_of(raw: bytes) -> tuple[str, str]:
    """The code that a text with bytes beyond ASCII is most likely in, and a doubt about it in
    words, or ""."""
    texts, scores = _scored(raw)
    if not texts:
        return "cp1252", ""
    best, *others = _ranked(scores)
    for other in others:
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


def ranked_codes(raw: bytes) -> list[str]:
    """The codes that a text can be in, the likeliest first."""
    return _ranked(_scored(raw)[1])


def _ranked(scores: Mapping[str, float]) -> list[str]:
    return sorted(scores, key=lambda code: -scores[code])


def _scored(raw: bytes) -> tuple[dict[str, str], dict[str, float]]:
    """How the head of a text looks in each code that it can be in, and how well its letters fit."""
    head = raw[: raw.rfind(b"\n", 0, 1 << 16) + 1] or raw
    texts = {}
    for code in _CODES:
        try:
            texts[code] = head.decode(code)
        except UnicodeDecodeError:
            continue
    scores = {code: _score(text, code) for code, text in texts.items()}
    if "cp1252" in scores:
        scores["cp1252"] += _COMMON
    return texts, scores


def _score(text: str, code: str) -> float:
    """How well the letters beyond ASCII fit, in the language that they fit best: in words of one
    script, small ones after others, those that are often used, and few of them among Latin ones."""
    words = list(dict.fromkeys(_WORD.findall(text)))[:_MOST_WORDS]
    fit = max(sum(_fit(word, code, usual) for word in words) for usual in _CODES[code])
    return fit + (_MICRO_FIT if any(map(_MICRO.match, words)) else 0.0)


def _fit(word: str, code: str, usual: str) -> float:
    letters = [one for one in word if one.isalpha() and one not in _SIGNS]
    strange = sum(one > "\x7f" for one in letters)
    latin = sum(_is_latin(one) for one in letters)
    fit = sum(
        _fit_of(letter, before, after, code, usual)
        for before, letter, after in zip(f" {word}", word, f"{word[1:]} ", strict=False)
        if letter > "\x7f"
    )
    # a word is of one script, and a Latin one has few letters beyond ASCII
    if 0 < latin < len(letters):
        fit -= 3.0
    elif latin and 2 * strange > len(letters) > 1:
        fit -= 1.0 * strange
    return fit


def _fit_of(letter: str, before: str, after: str, code: str, usual: str) -> float:
    """How well a letter or sign goes with its neighbours."""
    if letter in _SIGNS and not (before.isalpha() and letter.lower() in usual):
        apart = not (after.isalpha() or (before.isalpha() and letter not in _POWERS))
        if apart or (letter in _BEFORE and not (before.isalpha() and after.isalpha())):
            return 2.0 if letter in _UNITS else 0.3
        return -1.0 if letter in _BEFORE else -3.0
    kind = unicodedata.category(letter)
    if kind[0] != "L" or "\uff61" <= letter <= "\uff9f":
        return -3.0
    if code in _IN_FRONT:
        # a letter of two bytes counts as much as two letters, and a little less the more there are
        lead, ranges = letter.encode(code)[0], _IN_FRONT[code]
        many = sum(high - low for low, high in ranges) / 200
        return 2.0 - many if any(low <= lead <= high for low, high in ranges) else -2.0
    if letter.isupper() and (before.islower() or (before.isupper() and after.islower())):
        return -2.0
    small = letter.lower()
    first = letter in _NEVER_FIRST and not before.isalpha()
    common, _, rare = usual.partition(" ")
    behind = after.lower() if after.isalpha() else " "
    if not first and behind in _STANDS_BEFORE.get(small, behind):
        worth = 0.5 if _is_squeezed(letter, before, after) else 1.0
        if small in common:
            return worth
        if small in rare:
            return 0.6 * worth
    return -0.5 if _is_latin(letter) else 0.2


def _is_squeezed(letter: str, before: str, after: str) -> bool:
    """Whether a Latin letter is a vowel between vowels or a consonant between consonants."""
    if not (_is_latin(letter) and before.isalpha() and after.isalpha()):
        return False
    return len({_is_vowel(one) for one in (before, letter, after)}) == 1


def _is_vowel(letter: str) -> bool:
    return unicodedata.normalize("NFD", letter)[0].lower() in "aeiouyæøœı"


def _is_latin(letter: str) -> bool:
    return unicodedata.name(letter, "").startswith("LATIN")


def _first_difference(one: str, other: str) -> tuple[str, str] | None:
    """The first word that two readings of a text differ in."""
    pairs = zip(re.split(r"[\s,;|]+", one), re.split(r"[\s,;|]+", other), strict=False)
    return next(((a.strip('"'), b.strip('"')) for a, b in pairs if a != b), None)
