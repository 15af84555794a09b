"""Curves of formulas of x, over the whole of the axis."""

import numpy as np

from sornix.core.drawing.marks.reduction import clipped
from sornix.core.drawing.marks.tracing import OFF, traced
from sornix.core.drawing.parts.items import Item, PanelPlace, Path, Stroke
from sornix.core.drawing.parts.style import Style
from sornix.core.figure import Panel, curve_values

_FAR = 1e4


def curve_items(panel: Panel, place: PanelPlace, style: Style) -> list[Item]:
    """The curves of a panel; where a formula has no value there is none."""
    items: list[Item] = []
    inner = place.inner.grown(1e-6)
    low, high = place.x.edges(1)
    for curve in panel.curves:
        x = traced(
            lambda x, curve=curve: [curve_values(curve, x)],  # type: ignore[misc]
            place, (float(low), float(high)), style.trend_mm * OFF,
        )  # fmt: skip
        y = curve_values(curve, x)
        with np.errstate(invalid="ignore", divide="ignore"):
            points = place.place(x, y)
        points = np.where(np.isfinite(points), np.clip(points, -_FAR, _FAR), np.nan)
        line = clipped(points, (inner.left, inner.top), (inner.right, inner.bottom))
        stroke = Stroke(style.look(curve.palette_index).colour, style.trend_mm)
        items.append(Path(f"curve/{curve.id}", line, stroke))
    return items
