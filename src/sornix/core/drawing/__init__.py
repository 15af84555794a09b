"""From a figure and its readings to a display list: what stands where, in mm."""

from sornix.core.drawing.layout.layout import draw_figure
from sornix.core.drawing.marks.plotteddata import drawn_names, drawn_tables
from sornix.core.drawing.marks.reduction import Detail
from sornix.core.drawing.marks.residuals import (
    AGAINST,
    RESIDUALS_MM,
    draw_residuals,
    ready_residuals,
)
from sornix.core.drawing.parts.dashes import dashed
from sornix.core.drawing.parts.items import (
    Box,
    Crowd,
    Drawing,
    Fill,
    Item,
    Lines,
    Markers,
    Measure,
    PanelPlace,
    Path,
    Rect,
    Rects,
    Stroke,
    Text,
)
from sornix.core.drawing.parts.shapes import SHAPES
from sornix.core.drawing.parts.style import LOOKS, STYLES, Style, style_of

__all__ = [
    "AGAINST",
    "LOOKS",
    "RESIDUALS_MM",
    "SHAPES",
    "STYLES",
    "Box",
    "Crowd",
    "Detail",
    "Drawing",
    "Fill",
    "Item",
    "Lines",
    "Markers",
    "Measure",
    "PanelPlace",
    "Path",
    "Rect",
    "Rects",
    "Stroke",
    "Style",
    "Text",
    "dashed",
    "draw_figure",
    "draw_residuals",
    "drawn_names",
    "drawn_tables",
    "ready_residuals",
    "style_of",
]
