"""Long words on a figure: equations in several lines, none wider than the panel that it stands in,
and sizes at which a single line has room."""

import re

from sornix.core.drawing.parts.items import Measure
from sornix.core.patterns import pattern
from sornix.core.text import Rich, Run

# An equation goes on in a new line before a sign between two terms; where a term alone is too wide,
# at any space.
_BEFORE_TERM = pattern(r"(?= [+−] )")
_BEFORE_WORD = pattern(r"(?= )")
_INDENT = Run("   ")
_MORE = Run(" …")


def broken(runs: Rich, most_mm: float, size_mm: float, measure: Measure, most: int) -> list[Rich]:
    """The runs as lines of at most that width, where they have places to break; of more than
    `most` lines the last ends with …."""
    if measure.width(runs, size_mm) <= most_mm:
        return [runs]
    lines: list[Rich] = []
    line: Rich = ()
    for piece in _pieces(runs, most_mm, size_mm, measure):
        if line and measure.width((*line, *piece), size_mm) > most_mm:
            lines.append(line)
            line = (_INDENT, *_without_space(piece))
        else:
            line = (*line, *piece)
    lines.append(line)
    if len(lines) > most:
        lines = [*lines[: most - 1], (*lines[most - 1], _MORE)]
    return lines


def _pieces(runs: Rich, most_mm: float, size_mm: float, measure: Measure) -> list[Rich]:
    """What stays together: terms; of one that is too wide the terms in its brackets, or words."""
    ways = ((_BEFORE_TERM, False), (_BEFORE_TERM, True), (_BEFORE_WORD, True))
    pieces: list[Rich] = [runs]
    for before, inside in ways:
        cut: list[Rich] = []
        for piece in pieces:
            wide = measure.width((_INDENT, *piece), size_mm) > most_mm
            cut += _cut(piece, before, inside=inside) if wide else [piece]
        pieces = cut
    return pieces


def _cut(runs: Rich, before: "re.Pattern[str]", *, inside: bool) -> list[Rich]:
    """Runs cut before every match in those that are no scripts, and unless `inside`, in no
    brackets."""
    pieces: list[list[Run]] = [[]]
    depth = 0
    for run in runs:
        parts = [run.text] if run.script else [t for t in before.split(run.text) if t]
        for number, text in enumerate(parts):
            begins = number > 0 or (not run.script and before.match(text) is not None)
            if begins and (inside or depth == 0):
                pieces.append([])
            pieces[-1].append(run._replace(text=text))
            depth += text.count("(") - text.count(")")
    return [tuple(piece) for piece in pieces if piece]


def _without_space(runs: Rich) -> Rich:
    return (runs[0]._replace(text=runs[0].text.lstrip(" ")), *runs[1:])


def fitted_size(
    runs: Rich, size_mm: float, room_mm: float, measure: Measure, *, bold: bool = True
) -> float:
    """The size at which a line has room: its own, or smaller, but not below half of it."""
    width = measure.width(runs, size_mm, bold=bold)
    return size_mm * min(max(room_mm / width, 0.5), 1.0) if width else size_mm
