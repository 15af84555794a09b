"""Painting a display list: on the screen, and into PNG, SVG and PDF."""

from sornix.paint.export import FORMATS, export, png, write_figure
from sornix.paint.fonts import FAMILY, load_fonts
from sornix.paint.measure import QtMeasure
from sornix.paint.painter import paint

__all__ = ["FAMILY", "FORMATS", "QtMeasure", "export", "load_fonts", "paint", "png", "write_figure"]
