"""Readings that a held range leaves out."""

from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import AXES, Figure, hold, marked
from sornix.core.readings import Tables
from sornix.core.scales import KINDS
from sornix.core.text import plural


def readings_outside(view: View, axis: str) -> tuple[int, int]:
    """How many readings lie below and above the range of an axis."""
    scale = view.place.scale(axis)
    below = above = 0
    for series in view.shown_on(axis):
        points = marked(series, view.panel, view.tables).points
        along = axis[0] == "x"
        values = points.x if along else points.y
        if len(values):
            least, greatest = points.x_ends if along else points.y_ends
            below += int((values < scale.start).sum()) if least < scale.start else 0
            above += int((values > scale.end).sum()) if greatest > scale.end else 0
    return below, above


def free_end(figure: Figure, tables: Tables, axis: str, part: str) -> Figure:
    """Frees the `start` or the `end` of an axis."""
    if part == "start":
        return hold(figure, tables, axis, start=None)
    return hold(figure, tables, axis, end=None)


def find(view: View) -> Iterator[Finding]:
    for axis, scale in view.place.scales.items():
        ends = (("start", scale.start, "below"), ("end", scale.end, "above"))
        for count, (part, value, side) in zip(readings_outside(view, axis), ends, strict=True):
            if count:
                edit = partial(free_end, tables=view.tables, axis=axis, part=part)
                end = KINDS[scale.kind].words(value, abs(scale.end - scale.start) * 1e-3)
                yield Finding(
                    f"{plural(count, 'reading')} {'is' if count == 1 else 'are'} not shown: "
                    f"{AXES[axis]} {side} {end}.",
                    Remedy(
                        f"Free the {part} of {AXES[axis]}",
                        f"freed the {part} of {AXES[axis]}",
                        edit,
                    ),
                    size=count,
                )
