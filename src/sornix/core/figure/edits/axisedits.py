"""Edits of axes: their ranges, kinds, ticks, labels and lines, and what stands at their values.

They are functions from figure to figure; they raise EditRefused and then nothing has changed.
"""

import math
from collections.abc import Callable, Mapping
from typing import Any

import numpy as np
from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.extents import axis_extent, settled_range
from sornix.core.figure.derived.otherunits import straight_reach
from sornix.core.figure.derived.points import own_kind, scale_kind
from sornix.core.figure.model.additions import Guide
from sornix.core.figure.model.scale import AXES, Other, Scale
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.readings import Tables
from sornix.core.scales import KINDS, Kind, check_range, check_step, is_categorical
from sornix.core.text import spoken


def freed(scale: Scale) -> Scale:
    """A scale with both ends and the step free."""
    return evolve(scale, start=None, end=None, step=None, origin=None, room=None)


def for_others(scale: Scale) -> Scale:
    """A scale for other readings: what was held, and said, of those that it had is free."""
    title = None if scale.title else scale.title
    return evolve(freed(scale), other=None, title=title, words=None, before="", after="")


def suited(panel: Panel, tables: Tables) -> Panel:
    """The panel, its axes on the scales that their columns ask for where the kind that is held is
    for others: dates have no logarithm, nor are numbers moments."""
    for axis in AXES:
        scale = panel.scale(axis)
        own = own_kind(panel, tables, axis)
        if scale.kind in (None, own) or not panel.series_on(axis):
            continue
        traits = KINDS[str(scale.kind)].traits
        if not traits.listed and own not in traits.suits:
            free = evolve(freed(scale), kind=None, base="10", other=None)
            panel = panel.with_scale(axis, free)
    return panel


def change_scale(figure: Figure, axis: str, **changes: Any) -> Figure:
    """An axis with other labels, minor ticks, room, words or turn: what needs no check against its
    readings. Range, kind, step and other units have edits of their own."""
    return figure.with_scale(axis, evolve(figure.panel.scale(axis), **changes))


def change_axis_look(figure: Figure, axis: str, **changes: Any) -> Figure:
    """An axis whose line, ticks, labels or grid lines are drawn otherwise."""
    scale = figure.panel.scale(axis)
    return figure.with_scale(axis, evolve(scale, look=evolve(scale.look, **changes)))


def set_axis_title(figure: Figure, axis: str, title: str | None) -> Figure:
    """A title of one's own, or None to follow the columns."""
    return change_scale(figure, axis, title=title)


def add_guide(
    figure: Figure, tables: Tables, axis: str, value: float, end: float | None = None,
    label: str = "",
) -> Figure:  # fmt: skip
    """A line at a value of an axis, or a shaded range to `end`. Refused on listed places."""
    panel = figure.panel
    kind = scale_kind(panel, tables, axis)
    if is_categorical(kind):
        raise EditRefused(f"{AXES[axis]} has places in a list, and no values between them.")
    if end is not None:
        value, end = sorted((value, end))
        check_range(value, end, value_words(kind), of_axis=False)
    guide = Guide(figure.next_id("g"), axis, value, end, label.strip())
    return figure.with_panel(evolve(panel, guides=(*panel.guides, guide)))


def change_guide(figure: Figure, guide_id: str, **changes: Any) -> Figure:
    """A guide at another `value` (a range moves as a whole), or with another `label`."""
    panel = figure.panel

    def changed(guide: Guide) -> Guide:
        if guide.id != guide_id:
            return guide
        new = evolve(guide, **changes)
        if guide.end is not None and "end" not in changes:
            new = evolve(new, end=guide.end + new.value - guide.value)
        return new

    return figure.with_panel(evolve(panel, guides=tuple(map(changed, panel.guides))))


def remove_guide(figure: Figure, guide_id: str) -> Figure:
    """The figure without a line or a shaded range."""
    panel = figure.panel
    guides = tuple(guide for guide in panel.guides if guide.id != guide_id)
    return figure.with_panel(evolve(panel, guides=guides))


def set_other(figure: Figure, tables: Tables, axis: str, other: Other | None) -> Figure:
    """The axis in other units on its other side, or None for no such side.

    Refused on scales of dates or lists, beside a second scale, and where the formula gives no value
    or does not only rise or only fall over the range.
    """
    panel = figure.panel
    kind = scale_kind(panel, tables, axis)
    if other is not None:
        if not KINDS[kind].traits.counts:
            raise EditRefused("This scale has no other units.")
        if f"{axis}2" in panel.axes:
            raise EditRefused(
                f"Beside {axis} stands the second scale.",
                remedy="Put its series on the first scale before.",
            )
        span = settled_range(
            panel.scale(axis), kind, axis_extent(panel, tables, axis), axis, free_step=True
        )
        straight_reach(other, span)
    return change_scale(figure, axis, other=other)


def hold_view(figure: Figure, ranges: Mapping[str, tuple[float, float]]) -> Figure:
    """Holds both ends of axes, by name; steps are kept where they still make ticks."""
    for axis, (start, end) in ranges.items():
        check_range(start, end, spoken)
        figure = change_scale(figure, axis, start=start, end=end)
    return figure


def set_kind(
    figure: Figure, tables: Tables, axis: str, kind: str | None, base: str = "10"
) -> Figure:
    """Another kind of scale, None for the one that the columns ask for, and the base of a log one.

    A held step is freed, because it is of another sort; so are held ends that the kind has no
    place for. Refused where it could show no reading at all.
    """
    old = figure.panel.scale(axis)
    scale = evolve(old, kind=kind, base=base, step=None, origin=None, other=None)
    changed = figure.with_scale(axis, scale)
    found = KINDS[scale_kind(changed.panel, tables, axis)]
    own = own_kind(changed.panel, tables, axis)
    if kind not in (None, own) and own not in found.traits.suits and KINDS[own].traits.dated:
        raise EditRefused(
            f"Dates and times have no place on a {found.name} scale.",
            remedy="Compute the time since a moment in a column of its own, and draw along that.",
        )
    if is_categorical(scale_kind(figure.panel, tables, axis)) or found.traits.listed:
        # a place in a list is no value
        changed = figure.with_scale(axis, evolve(scale, start=None, end=None))
        scale = changed.panel.scale(axis)
    start, end = (
        value if value is not None and _has_place(found, value) else None
        for value in (scale.start, scale.end)
    )
    changed = figure.with_scale(axis, evolve(scale, start=start, end=end))
    before, after = (axis_extent(f.panel, tables, axis) for f in (figure, changed))
    if before is not None and after is None:
        raise EditRefused(
            f"No reading has a place on a {found.name} scale: {found.why}.",
            remedy="Choose other columns, or another kind of scale.",
        )
    return changed


def _has_place(kind: Kind, value: float) -> bool:
    return bool(kind.shows(np.array([value]))[0])


def hold(figure: Figure, tables: Tables, axis: str, **held: float | None) -> Figure:
    """Holds `start`, `end` or `step` of an axis at a value, or frees it with None.

    Refused: an end that is not below the other held one, a step that is longer than the range or
    makes too many ticks.
    """
    for value in held.values():
        if value is not None and not math.isfinite(value):
            raise EditRefused("A range needs finite numbers.")
    panel = figure.panel
    old = panel.scale(axis)
    kind = scale_kind(panel, tables, axis)
    if is_categorical(kind) and any(held.get(part) is not None for part in ("start", "end")):
        raise EditRefused(
            "On this scale everything that is listed is shown.",
            remedy="Leave readings out of the table instead, or look closer.",
        )
    words = value_words(kind)
    for part in ("start", "end"):
        value = held.get(part)
        if value is not None and not _has_place(KINDS[kind], value):
            raise EditRefused(
                f"{words(value)} has no place on a {kind} scale: {KINDS[kind].why}.",
                remedy="Give a value above 0, or choose another kind of scale.",
            )
    if "step" in held and held["step"] is not None and held["step"] <= 0:
        check_step(kind, 0, 1, held["step"], words)
    changes: dict[str, Any] = held
    scale = evolve(old, **changes)
    if scale.start is not None and scale.end is not None:
        check_range(scale.start, scale.end, words)
    extent = axis_extent(panel, tables, axis)
    if extent is not None:
        _refuse_emptiness(scale, extent.least, extent.greatest, words)
    if held.get("step") is not None:
        span = settled_range(scale, kind, extent, axis, free_step=True)
        check_step(kind, span.start, span.end, float(held["step"] or 0), words)
    return figure.with_scale(axis, scale)


def _refuse_emptiness(
    scale: Scale, least: float, greatest: float, words: Callable[[float], str]
) -> None:
    """Refuses one held end that leaves a free other end nothing to follow."""
    if scale.end is None and scale.start is not None and scale.start >= greatest > least:
        said = f"from {words(scale.start)} would hold no reading: the greatest"
        reading = greatest
    elif scale.start is None and scale.end is not None and scale.end <= least < greatest:
        said = f"to {words(scale.end)} would hold no reading: the least"
        reading = least
    else:
        return
    raise EditRefused(
        f"A range {said} one is {words(reading)}.",
        remedy="Hold the other end first if this is meant.",
    )


def value_words(kind: str) -> Callable[[float], str]:
    """How values of a kind of scale are said in a sentence."""
    if KINDS[kind].traits.counts:
        return spoken
    return lambda value: KINDS[kind].words(value, 0.0)


def free_scale(figure: Figure, axis: str) -> Figure:
    """Both ends and the step of an axis free."""
    return figure.with_scale(axis, freed(figure.panel.scale(axis)))


def reverse(figure: Figure, axis: str) -> Figure:
    """The axis turned round."""
    scale = figure.panel.scale(axis)
    return figure.with_scale(axis, evolve(scale, reversed=not scale.reversed))
