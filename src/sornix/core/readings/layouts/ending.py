"""What stands below the readings of a text: lines that sum them up."""

import re
from collections.abc import Sequence

import numpy as np

from sornix.core.patterns import pattern
from sornix.core.readings.cells.marks import Marks, number_in
from sornix.core.text import plural, short


def _listed(words: str) -> frozenset[str]:
    return frozenset(word.strip() for word in words.replace("\n", ";").split(";") if word.strip())


# Words that rows of sums and means begin with, in the larger European languages.
_WORDS = _listed(
    """
    mean; average; avg; sum; total; count; n; min; max; minimum; maximum; median; std; sd; stdev;
    std dev; st dev; std. dev; standard deviation; variance; var; cv; rsd; %rsd; cv %; rsd %; se;
    sem; std err; standard error; range; grand total; subtotal
    mittelwert; mittel; durchschnitt; summe; gesamt; anzahl; standardabweichung; stabw; std.abw;
    stdabw; std.-abw; std. abw; standardabw; varianz; maximalwert; minimalwert; größtwert; vk
    moyenne; somme; effectif; écart-type; médiane; ecart-type
    media; promedio; suma; desviación estándar; mediana; somma; totale; deviazione standard
    média; soma; desvio padrão; gemiddelde; som; totaal; medelvärde; summa; gennemsnit
    średnia; suma; průměr; součet; среднее; сумма; итого
    """
)
# What a line through the readings has, told by two of them: a place may be called Slope.
_FITTED = _listed(
    """
    slope; intercept; y-intercept; y intercept; r²; r^2; r2; rsq; r squared; r-squared; correlation;
    correlation coefficient; steigung; achsenabschnitt; y-achsenabschnitt; bestimmtheitsmaß;
    korrelation; pente; ordonnée à l'origine; pendiente; pendenza; intercetta
    """
)
# What was least that could be told, and is no reading.
_LIMITS = pattern(
    r"(?:lod|loq|mdl|mql|pql|mrl|lld|llod|lloq|(?:method )?(?:detection|quantification|reporting|"
    r"determination) limits?|limits? of (?:detection|quantification|determination|reporting)"
    r"|nachweisgrenze|bestimmungsgrenze|limite de (?:détection|quantification)"
    r"|límite de (?:detección|cuantificación))(?: \(?(?:lod|loq|mdl)\)?)?"
)
# How a line that explains the table begins.
_FOOTNOTE = pattern(
    r"(?:notes?|source|legend|key|abbreviations?|remarks?|anm(?:erkung(?:en)?)?|quelle|nota|fuente)"
    r"\.?\s?[:.].*|[*†‡§¹²³]+\s?[^\W\d_].*|(?:n\.?[ad]\.?|sd|se|sem|lod|nd)\s?[=:,]\s?\w.*|n\s?=\s?\d+",
    re.IGNORECASE | re.DOTALL,
)
# What a row above readings is called that says something of the columns, besides sums.
_OF_COLUMNS = pattern(
    r"(?:input |output |full )?(?:ranges?|gain|offset|scale|serial(?: ?(?:no|nr|number))?|sensor"
    r"|channel|type|model|calibration|slope|factor|precision|resolution|accuracy|method"
    r"|[^\W\d][^=]*=)\.?"
)
_NUMBER_FIRST = pattern(r"[<>≤≥~€$£]? ?[-+−]?[.,]?\d")
# Sums and means of so few are told by all columns.
_FEWEST_SUMMED = 2
# Shorter texts may be marks of readings that are missing.
_SHORTEST = 2
# So many lines at the end of a text are looked at.
MOST_LINES = 40


def summing_up(rows: Sequence[Sequence[str]], marks: Marks) -> int:
    """How many rows at the end are no readings but sum up those above, or say farewell.

    Rows that sum up begin with a word such as Mean, and hold numbers besides. Where words stand in
    that column anyway, a number must be the mean or the sum of those above it."""
    count = _farewell(rows, marks)
    fitted = len(_FITTED.intersection(_word(row)[1] for row in rows)) > 1
    while count < len(rows) - 2:
        row, above = rows[len(rows) - 1 - count], rows[: len(rows) - 1 - count]
        if any(cell.strip() for cell in row) and not (
            _sums_up(row, above, marks)
            or _is_footnote(row)
            or _is_farewell(row, above)
            or (fitted and _word(row)[1] in _FITTED)
        ):
            break
        count += 1
    # blank rows alone are no end
    while count and not any(cell.strip() for cell in rows[len(rows) - count]):
        count -= 1
    return count


def _is_footnote(row: Sequence[str]) -> bool:
    """Whether a row holds one text, which explains the table."""
    filled = [cell.strip() for cell in row if cell.strip()]
    return len(filled) == 1 and _FOOTNOTE.fullmatch(filled[0]) is not None


def _is_farewell(row: Sequence[str], above: Sequence[Sequence[str]]) -> bool:
    """Whether a row holds a text alone, in a first column of numbers: End of export."""
    text = row[0].strip() if row else ""
    if not text or any(cell.strip() for cell in row[1:]) or not any(map(str.isalpha, text)):
        return False
    begun = [one[0].strip() for one in above[-MOST_LINES:] if len(one) > 1 and one[0].strip()]
    numbers = [_NUMBER_FIRST.match(cell) is not None for cell in begun]
    # names and units may be among them
    below = numbers[numbers.index(True) :] if True in numbers else []
    return len(text) > _SHORTEST and len(below) > 1 and all(below)


def says_of_columns(row: Sequence[str]) -> bool:
    """Whether a row says something of the columns, by its first word, such as their range or mean,
    where each row of readings begins with a number or a time."""
    word = row[0].strip().casefold() if row else ""
    rest = [cell for cell in row[1:] if cell.strip()]
    called = word.rstrip(":.").strip() in _WORDS or _OF_COLUMNS.fullmatch(word.rstrip(":"))
    return bool(rest) and bool(called)


def is_limit(row: Sequence[str]) -> bool:
    """Whether a row holds the limits of detection, by its first word."""
    at, word = _word(row)
    rest = [cell for cell in row[at + 1 :] if cell.strip()]
    return bool(rest) and _LIMITS.fullmatch(word) is not None


def passed_over(count: int, where: str, what: str = "line", more: str = "") -> str:
    """What is said of so many lines that are no readings."""
    were = "was" if count == 1 else "were"
    return f"{plural(count, what)} {where} {were} passed over{more}."


def passed_over_below(words: Sequence[str]) -> str:
    """What is said of rows at the end, by the words that they begin with."""
    listed = short(", ".join(words), 60)
    return passed_over(len(words), f"below the readings ({listed})")


def _word(row: Sequence[str]) -> tuple[int, str]:
    """The place of the first cell of a row that holds something, and its word."""
    at = next((i for i, cell in enumerate(row) if cell.strip()), 0)
    return at, row[at].strip().casefold().rstrip(":.").strip() if row else ""


def _sums_up(row: Sequence[str], above: Sequence[Sequence[str]], marks: Marks) -> bool:
    at, word = _word(row)
    rest = [cell for cell in row[at + 1 :] if cell.strip()]
    # numbers, also with a unit or an uncertainty
    numbers = all(_NUMBER_FIRST.match(cell.strip()) for cell in rest)
    if numbers and is_limit(row):
        return True
    if word not in _WORDS or not rest or not numbers:
        return False
    column = [one[at].strip() for one in above[-MOST_LINES:] if at < len(one) and one[at].strip()]
    if 2 * sum(cell == row[at].strip() for cell in column) > len(column):
        # a balance that stands still prints N before each reading
        return False
    texts = [cell for cell in column if number_in(cell, marks) is None]
    usual = [cell for cell in texts if cell.casefold().rstrip(":.") not in _WORDS
             and not any(sign.isdigit() for sign in cell)]  # fmt: skip
    if len(usual) * 2 < len(column) or not column:
        return True
    sums = [_summed(row, above, i, marks) for i in range(at + 1, len(row)) if row[i].strip()]
    # of two numbers the sum is another number by chance, but not in each column
    return max(sums, default=0) > _FEWEST_SUMMED or (len(sums) > 1 and all(sums))


def _farewell(rows: Sequence[Sequence[str]], marks: Marks) -> int:
    """How many rows of words follow a blank line and rows that begin with numbers."""
    count = 0
    for row in reversed(rows):
        filled = [cell for cell in row if cell.strip()]
        if not filled:
            if count:
                break
        elif number_in(row[0], marks) is not None or not any(map(str.isalpha, "".join(filled))):
            return 0
        count += 1
    above = [row for row in rows[: len(rows) - count] if any(cell.strip() for cell in row)]
    numbers = [row for row in above if number_in(row[0], marks) is not None]
    return count if count < len(rows) and 2 * len(numbers) > len(above) else 0


def _summed(row: Sequence[str], above: Sequence[Sequence[str]], at: int, marks: Marks) -> int:
    """Of how many numbers above it that of a row is the mean or the sum; 0 where it is neither."""
    told = number_in(row[at], marks) if at < len(row) else None
    found = [number_in(one[at], marks) for one in above if at < len(one)]
    values = np.array([value for value in found if value is not None])
    if told is None or len(values) < _FEWEST_SUMMED:
        return 0
    digits = len(row[at].partition(marks.decimal)[2])
    near = 0.51 * 10.0**-digits
    is_one = any(abs(told - one) <= near for one in (values.mean(), values.sum()))
    return len(values) if is_one else 0
