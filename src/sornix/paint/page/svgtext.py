"""The display list as SVG that can be taken apart: each item in a group that says what it is of,
colours as classes, so that a page can show some, and in other colours."""

import base64
from collections.abc import Callable, Iterator, Mapping
from html import escape
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice
from PyQt6.QtGui import QFont

from sornix.core.drawing import (
    SHAPES,
    Crowd,
    Drawing,
    Fill,
    Lines,
    Markers,
    Path,
    Rects,
    Stroke,
    Text,
    dashed,
)
from sornix.core.drawing.parts.items import Item
from sornix.core.letters import printable
from sornix.paint.fonts import UNITS_PER_MM
from sornix.paint.measure import set_runs
from sornix.paint.shade import crowd_picture

Floats = NDArray[np.float64]
# A shade is a picture of so many dots to the millimetre: about those of a screen, or half as many
# where it would be larger than its readings.
_CROWD_DOTS, _FEW_DOTS, _FEW = 10.0, 6.0, 10_000


class SvgText:
    """Writes items; `colours` are those that it has met, by their number in classes `f0` (filled
    with it) and `s0` (drawn in it); `shapes` the markers that are used, by their names; `letters`
    those of each face."""

    def __init__(self) -> None:
        self.colours: dict[str, int] = {}
        self.shapes: dict[tuple[str, float], str] = {}
        # what the names of shapes begin with: several drawings may stand on one page
        self.prefix = "m"
        # the letters of each face, italic or not, bold or not
        self.letters: dict[tuple[bool, bool], set[str]] = {}
        self._write: Mapping[type[Any], Callable[[Any], str]] = {
            Fill: self._fill, Rects: self._rects, Lines: self._lines, Path: self._path,
            Markers: self.markers, Text: self._text, Crowd: self._crowd,
        }  # fmt: skip

    def colour(self, name: str) -> int:
        """The number of a colour."""
        return self.colours.setdefault(name, len(self.colours))

    def group(self, item: Item, **told: str) -> str:
        """An item in a group that says what it is of, and what else is `told` of it."""
        more = "".join(f' data-{name}="{escaped(value)}"' for name, value in told.items())
        return f'<g data-of="{escaped(item.of)}"{more}>{self._write[type(item)](item)}</g>'

    def defs(self) -> str:
        """The shapes of the markers that were written."""
        return "".join(
            f'<path id="{name}" d="{_shape(shape, size)}"/>'
            for (shape, size), name in self.shapes.items()
        )

    def _pen(self, stroke: Stroke) -> str:
        return f'class="s{self.colour(stroke.colour)}" stroke-width="{_number(stroke.width_mm)}"'

    def _fill(self, item: Fill) -> str:
        cover = f' fill-opacity="{_number(item.cover)}"' if item.cover < 1 else ""
        return f'<path class="f{self.colour(item.colour)}"{cover} d="{_closed(item.points)}"/>'

    def _rects(self, item: Rects) -> str:
        edge = ""
        if item.edge.width_mm:
            edge = f' s{self.colour(item.edge.colour)}" stroke-width="{_number(item.edge.width_mm)}'
        corners = "".join(
            _closed(np.array([[a, b], [c, b], [c, d], [a, d]]))
            for a, b, c, d in item.corners.tolist()
        )
        return f'<path class="f{self.colour(item.colour)}{edge}" d="{corners}"/>'

    def _lines(self, item: Lines) -> str:
        ends = item.ends.reshape(-1, 2, 2)
        gaps = np.full((len(ends), 1, 2), np.nan)
        broken = np.concatenate((ends, gaps), axis=1).reshape(-1, 2)
        drawn = dashed(broken, item.stroke.dashes)
        return f'<path {self._pen(item.stroke)} d="{_open(drawn)}"/>'

    def _path(self, item: Path) -> str:
        return self.line(item, _open(dashed(item.points, item.stroke.dashes)))

    def line(self, item: Path, drawn: str) -> str:
        """A line in the look of an item."""
        cap = "" if item.stroke.dashes else ' stroke-linecap="round"'
        return f'<path {self._pen(item.stroke)}{cap} stroke-linejoin="round" d="{drawn}"/>'

    def markers(self, item: Markers) -> str:
        """The markers one by one, as uses of one shape."""
        uses = "".join(
            f'<use href="#{self.shape(item)}" x="{x}" y="{y}"/>' for x, y in _texts(item.points)
        )
        return f"<g {self.look(item)}>{uses}</g>"

    def look(self, item: Markers) -> str:
        """How the markers of an item look, as attributes."""
        edge = ""
        if item.edge.width_mm:
            edge = f' s{self.colour(item.edge.colour)}" stroke-width="{_number(item.edge.width_mm)}'
        return f'class="f{self.colour(item.fill)}{edge}"'

    def shape(self, item: Markers) -> str:
        """The name of the shape of an item's markers."""
        key = item.shape, item.size_mm
        return self.shapes.setdefault(key, f"{self.prefix}{len(self.shapes)}")

    def _text(self, item: Text) -> str:
        runs = set_runs(item.runs, item.size_mm, item.bold)
        begin = -item.anchor * sum([run.advance for run in runs])
        turn = f" rotate({_number(-item.angle)})" if item.angle else ""
        at = f'transform="translate({_number(item.x)} {_number(item.y)}){turn}"'
        parts = "".join(
            self._run(text, font, (begin + x) / UNITS_PER_MM, y / UNITS_PER_MM,
                      advance / UNITS_PER_MM)
            for text, font, x, y, advance in runs if text.strip()
        )  # fmt: skip
        return f'<g class="f{self.colour(item.colour)}" {at}>{parts}</g>'

    def _run(self, text: str, font: QFont, x: float, y: float, advance: float) -> str:
        text, bold = printable(text), font.weight() >= QFont.Weight.DemiBold
        self.letters.setdefault((font.italic(), bold), set()).update(text)
        how = ' font-style="italic"' if font.italic() else ""
        how += ' font-weight="600"' if bold else ""
        size = _number(font.pixelSize() / UNITS_PER_MM)
        # as wide as it was measured, in whatever typeface the reader has
        return (
            f'<text x="{_number(x)}" y="{_number(y)}" font-size="{size}" '
            f'textLength="{_number(advance)}" lengthAdjust="spacingAndGlyphs"{how}>'
            f"{escape(text)}</text>"
        )

    def _crowd(self, item: Crowd) -> str:
        content = QByteArray()
        buffer = QBuffer(content)
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        few = sum(len(part.points) for part in item.parts) <= _FEW
        place, picture = crowd_picture(item, _FEW_DOTS if few else _CROWD_DOTS)
        # of the highest quality, it loses nothing
        picture.save(buffer, "WEBP", 100)
        told = base64.b64encode(content.data()).decode()
        left, top, width, height = (_number(side) for side in place)
        return (
            f'<image x="{left}" y="{top}" width="{width}" height="{height}" '
            f'preserveAspectRatio="none" href="data:image/webp;base64,{told}"/>'
        )


def head(drawing: Drawing) -> str:
    """The beginning of the SVG of a drawing, of its true size."""
    width, height = _number(drawing.width_mm), _number(drawing.height_mm)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}" role="img" aria-labelledby="said">'
    )


def escaped(text: str) -> str:
    """A text as it stands in HTML and SVG, with a mark in place of what these cannot hold."""
    return escape(printable(text))


def _number(value: float) -> str:
    text = f"{value:.3f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def _texts(points: Floats) -> Iterator[tuple[str, str]]:
    for x, y in points.tolist():
        yield _number(x), _number(y)


def _closed(points: Floats) -> str:
    parts = [f"{x} {y}" for x, y in _texts(points[np.isfinite(points).all(axis=1)])]
    return f"M{'L'.join(parts)}Z" if parts else ""


def _open(points: Floats) -> str:
    """A line through points, broken at those that are no numbers."""
    broken = np.isnan(points).any(axis=1)
    found = []
    for part in np.split(points, np.flatnonzero(broken)):
        known = [f"{x} {y}" for x, y in _texts(part[np.isfinite(part).all(axis=1)])]
        if len(known) > 1:
            found.append(f"M{'L'.join(known)}")
    return "".join(found)


def _shape(shape: str, size_mm: float) -> str:
    outline = SHAPES[shape]
    radius = _number(size_mm / 2)
    if outline is None:
        return (
            f"M-{radius} 0A{radius} {radius} 0 1 0 {radius} 0A{radius} {radius} 0 1 0 -{radius} 0Z"
        )
    return _closed(outline * size_mm)
