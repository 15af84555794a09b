"""Numbers in and out: what people type, and what a figure prints."""

import math
import re
from collections.abc import Sequence
from decimal import ROUND_HALF_EVEN, Decimal, localcontext
from functools import lru_cache

from sornix.core.errors import EditRefused
from sornix.core.patterns import pattern
from sornix.core.text.lengths import LONGEST_NUMBER

MINUS = "−"
THIN_SPACE = "\u2009"
_SUPERSCRIPTS = str.maketrans("-−0123456789", "⁻⁻⁰¹²³⁴⁵⁶⁷⁸⁹")
_PLAIN_DIGITS = str.maketrans("⁻⁰¹²³⁴⁵⁶⁷⁸⁹", "-0123456789")
_PLAIN = pattern(r"[+-]?(\d+(?:\.\d*)?|\.\d+)(e[+-]?\d+)?", re.IGNORECASE)
_POWER = pattern(r"(?:(?P<factor>.+?)[×*x·])?10\^\(?(?P<power>[+-]?\d{1,4})\)?", re.IGNORECASE)
_PREFIXES = {"k": 3, "M": 6, "G": 9, "m": -3, "µ": -6, "μ": -6, "u": -6, "n": -9, "p": -12}
_PREFIXED = pattern(r"(?P<number>[+-]?[\d.,]+)(?P<prefix>[kMGmµμunp])")
_GROUPED = pattern(r"[+-]?\d{1,3},\d{3}")
_DECIMAL_COMMA = pattern(r"[+-]?\d*,(?!\d{3}$)\d+(e[+-]?\d+)?", re.IGNORECASE)
_SEVERAL = ("two", "three", "four", "five", "six", "seven", "eight", "nine")


def plural(count: int, one: str, many: str | None = None) -> str:
    """`1 reading`, `24 readings`, `1 200 readings`: the number with the noun that fits it."""
    noun = one if count == 1 else (many or one + "s")
    return f"{decimal_text(Decimal(count))} {noun}"


def spoken_list(words: Sequence[str]) -> str:
    """`a`, `a and b`, `a, b and c`."""
    return " and ".join(filter(None, (", ".join(words[:-1]), words[-1])))


def counted(number: int) -> str:
    """A whole number as it is told: `60 000`."""
    return decimal_text(Decimal(int(number)))


def row_words(index: int) -> str:
    """A row of a table by its index from 0: `row 60 000`."""
    return f"row {counted(int(index) + 1)}"


def short(text: str, most: int = 60) -> str:
    """The text, or its beginning with … where it has more than `most` letters: for messages."""
    return text if len(text) <= most else text[: most - 1] + "…"


def there_are(count: int) -> str:
    """`there is 1`, `there are 3`, `there are none`."""
    return f"there {'is' if count == 1 else 'are'} {count or 'none'}"


def with_article(words: str) -> str:
    """Words with their article: `an exponential`, `a straight line`; several have none."""
    if _are_several(words):
        return words
    return f"{'an' if words[:1].lower() in 'aeiou' else 'a'} {words}"


def as_subject(words: str, of_one: str, of_several: str, *, known: bool = False) -> str:
    """Words and a verb that begin a sentence: `A straight line needs`, `Two peaks need`; of what is
    `known`: `The straight line is`, `The two peaks are`."""
    subject = f"The {words}" if known else capital(with_article(words))
    return f"{subject} {of_several if _are_several(words) else of_one}"


def _are_several(words: str) -> bool:
    return words.split(" ", maxsplit=1)[0] in _SEVERAL


def capital(text: str, *, name: bool = False) -> str:
    """The text as a sentence begins. What is no word keeps its letters, since others mean something
    else: pH, t, δ18O, µS, ln y. A lone `a` is a word, unless the text begins with a `name`."""
    word = _FIRST_WORD.match(text)
    small = word is not None and word[0].islower() and word[0] not in _NO_WORDS
    if word is None or not small or (len(word[0]) == 1 and (name or word[0] != "a")):
        return text
    return text[:1].upper() + text[1:]


# letters up to what is none, no figure or capital behind them, and not Greek
_FIRST_WORD = pattern(r"(?![\u0370-\u03ffµ])[^\W\d_]++(?![\d_^])")
_NO_WORDS = ("ln", "lg")


def decimal_text(value: Decimal) -> str:
    """`value` in full, with a true minus sign and thin spaces from five digits on."""
    sign, digits, _ = value.as_tuple()
    text = f"{abs(value):f}"
    whole, dot, rest = text.partition(".")
    if len(whole) > 4:
        head = len(whole) % 3
        groups = [whole[:head]] * bool(head)
        groups += [whole[i : i + 3] for i in range(head, len(whole), 3)]
        whole = THIN_SPACE.join(groups)
    return (MINUS if sign and any(digits) else "") + whole + dot + rest


def spoken(value: float) -> str:
    """A number for a sentence: as short as it can be said within six digits."""
    text = significant(value, 6)
    if "." in text and "×" not in text:
        text = text.rstrip("0").rstrip(".")
    return text


def power_of_ten(exponent: int) -> str:
    """`10⁻⁷` for −7."""
    return "10" + str(exponent).translate(_SUPERSCRIPTS)


def rounded(value: float, places: int) -> Decimal:
    """The binary64 `value`, exactly, rounded half to even to `places` decimals (may be < 0)."""
    exact = Decimal(value)
    # quantize needs room for every digit that it keeps
    digits = max(exact.adjusted() + 1, 1) + max(places, 0) + 2
    quantum = Decimal(1).scaleb(-places)
    with localcontext() as context:
        context.prec = max(digits, 28)
        return exact.quantize(quantum, rounding=ROUND_HALF_EVEN)


@lru_cache(maxsize=4096)
def significant(value: float, digits: int = 4) -> str:
    """`value` to `digits` significant digits, as it is printed for reading.

    Very large and very small numbers are given as `1.234×10⁷`.
    """
    if not math.isfinite(value):
        return "not known"
    if value == 0:
        return "0"
    exponent = Decimal(value).adjusted()
    kept = rounded(value, digits - 1 - exponent)
    exponent = kept.adjusted()
    if -4 <= exponent < max(digits, 6):
        return decimal_text(rounded(value, max(digits - 1 - exponent, 0)))
    return f"{decimal_text(kept.scaleb(-exponent))}×{power_of_ten(exponent)}"


_MOST_PLACES = 20


def with_error(value: float, error: float | None) -> str:
    """`0.0711 ± 0.0004`: the error to two digits, the value to the same place."""
    if error is None or error <= 0 or not math.isfinite(error):
        return significant(value, 6)
    places = 1 - rounded(error, 1 - Decimal(error).adjusted()).adjusted()
    # as small as numbers are that stand alone without a power of ten
    if -3 <= places <= _MOST_PLACES and abs(value) < 1e6 and max(abs(value), error) >= 1e-4:
        kept = max(places, 0)
        return f"{decimal_text(rounded(value, kept))} ± {decimal_text(rounded(error, kept))}"
    power = Decimal(max(abs(value), error)).adjusted()
    if places + power > _MOST_PLACES:
        # so many digits say nothing together
        return f"{significant(value, 15)} ± {significant(error, 2)}"
    parts = [
        decimal_text(
            rounded(number, places)
            .scaleb(-power)
            .quantize(Decimal(1).scaleb(min(-places - power, 0)))
        )
        for number in (value, error)
    ]
    return f"({parts[0]} ± {parts[1]})×{power_of_ten(power)}"


def interval_text(ends: tuple[float, float], unit: str = "") -> str:
    """`0.312 to 0.524`, `above 0.31 mg, with no upper end`: an end may be open. Both are told to
    the place of the third digit of half their distance: more says nothing of an interval, and is
    not worked out."""
    half = (ends[1] - ends[0]) / 2
    if math.isfinite(half):
        return f"{_ends_text(ends, half)} {unit}".strip()
    low, high = (f"{significant(end, 3)} {unit}".strip() for end in ends)
    if math.isfinite(ends[0]):
        return f"above {low}, with no upper end"
    return f"below {high}, with no lower end" if math.isfinite(ends[1]) else "all numbers"


def _ends_text(ends: tuple[float, float], half: float) -> str:
    if half <= 0:
        return f"{significant(ends[0], 3)} to {significant(ends[1], 3)}"
    place = Decimal(half).adjusted() - 2
    kept = [rounded(end, -place) for end in ends]
    if -4 <= max(k.adjusted() for k in kept if k) < 6:
        return " to ".join(map(decimal_text, kept))
    return " to ".join(significant(float(k), max(k.adjusted() - place + 1, 1)) for k in kept)


@lru_cache(maxsize=4096)
def shortest(value: float, within: float) -> str:
    """`value` with as few digits as leave it off by at most `within`; exact where that is 0."""
    if not math.isfinite(value):
        return significant(value, 1)
    for digits in range(1, 18):
        text = significant(value, digits)
        if abs(float(_plain(text)) - value) <= within:
            break
    return text


def parse_number(text: str) -> float:
    """The number that a person typed: `0.5`, `−3`, `1e-3`, `10^-3`, `1.5×10^3`, `0,5`, `12 000`,
    `1.5 k`.

    Raises EditRefused with an explanation where it is not a number.
    """
    value = float(_plain(text))
    if not math.isfinite(value):
        raise EditRefused(f"“{text.strip()}” is larger than this application can hold.")
    return value


def parse_measured(text: str) -> tuple[float, float | None]:
    """A number as people type it, with its standard deviation where one is given: `0.35 ± 0.01`.
    Raises EditRefused."""
    value, sign, sd = re.sub(r"\+\s*/?\s*[-−]", "±", text).partition("±")
    return parse_number(value), parse_number(sd) if sign else None


def _plain(text: str) -> str:
    """The number in a text, in the form that Python reads. Raises EditRefused."""
    if len(text) > LONGEST_NUMBER:
        raise EditRefused(f"“{short(text)}” is not a number.")
    tidy = "".join(text.split()).replace(MINUS, "-")
    if _PLAIN.fullmatch(tidy):
        return tidy
    tidy = re.sub(r"10([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)$", lambda m: "10^" + m[1].translate(_PLAIN_DIGITS), tidy)
    if match := _POWER.fullmatch(tidy):
        factor = Decimal(_plain(match["factor"]) if match["factor"] else 1)
        return f"{factor.scaleb(int(match['power'])):e}"
    if match := _PREFIXED.fullmatch(tidy):
        return f"{Decimal(_plain(match['number'])).scaleb(_PREFIXES[match['prefix']]):e}"
    if _DECIMAL_COMMA.fullmatch(tidy):
        tidy = tidy.replace(",", ".")
    if _GROUPED.fullmatch(tidy):
        raise EditRefused(
            f"The comma in “{text.strip()}” may divide thousands or decimals.",
            remedy=f"Write {tidy.replace(',', '')} or {tidy.replace(',', '.')}.",
        )
    if not _PLAIN.fullmatch(tidy):
        raise EditRefused(
            f"“{text.strip()}” is not a number." if text.strip() else "There is no number here.",
            remedy="Write it as 0.5, −3, 1e-3 or 10^-3.",
        )
    return tidy


def r_squared_text(value: float) -> str:
    """R² with four decimals, and more where four would round it to 1."""
    if value < 0.99995:
        # z: what rounds to 0 has no sign
        return f"{value:z.4f}".replace("-", "−")
    if value == 1:
        return "1"
    return significant(value, 8 if value < 0.999999995 else 12)
