"""Settling a panel of a given size: its scales, and the room that its axes need around the data."""

from functools import lru_cache
from typing import NamedTuple

from attrs import evolve

from sornix.core.drawing.layout.axes import (
    BOTTOM,
    LEFT,
    RIGHT,
    SIDES,
    TOP,
    Axis,
    dressed,
    relabelled,
)
from sornix.core.drawing.layout.kept import Canvas, Kept
from sornix.core.drawing.layout.secondaryaxis import other_scale
from sornix.core.drawing.layout.ticklabels import Labels
from sornix.core.drawing.parts.items import Measure
from sornix.core.drawing.parts.style import MM_PER_POINT, Style
from sornix.core.figure import (
    AXES,
    AxisLook,
    Panel,
    axis_extent,
    axis_title,
    fitting,
    scale_kind,
    tick_words,
)
from sornix.core.scales import (
    KINDS,
    AxisConstraints,
    Extent,
    Resolved,
    Room,
    with_minor,
    with_words,
    without_labels,
)
from sornix.core.text import Rich, rich, with_comma


class Margins(NamedTuple):
    """Room around a data area, in mm."""

    left: float
    top: float
    right: float
    bottom: float


class Settled(NamedTuple):
    """The scales of a panel by axis, its axes ready to be drawn, and the room that they need."""

    scales: dict[str, Resolved]
    axes: tuple[Axis, ...]
    margins: Margins


def settle(
    panel: Panel, canvas: Canvas, size: tuple[float, float], bare: frozenset[str] = frozenset()
) -> Settled:
    """A panel whose data area has this width and height in mm. Axes in `bare` have neither labels
    nor a title: another panel says them."""
    return _SETTLED.answer(
        panel, canvas, size, bare, make=lambda: _settled(panel, canvas, size, bare)
    )


# Each panel is settled for two or three sizes at each drawing.
_SETTLED: Kept[Settled] = Kept(128)
_WANTED: "Kept[list[_Wanted]]" = Kept(64)


def _settled(
    panel: Panel, canvas: Canvas, size: tuple[float, float], bare: frozenset[str]
) -> Settled:
    scales: dict[str, Resolved] = {}
    axes = []
    style = canvas.style
    wanted = _WANTED.answer(panel, canvas, make=lambda: _wanted(panel, canvas))
    for name, side, look, labels, sought, words, title, colour in wanted:
        level = side in (BOTTOM, TOP)
        length = size[0] if level else size[1]
        scales[name] = found = _resolved(sought, words, look.hide, labels, length)
        if style.decimal == "comma" and found.traits.counts:
            found = relabelled(found, [with_comma(tick.label) for tick in found.ticks])
        if name in bare:
            title = ()
            nothing: list[Rich] = [() for _ in found.ticks]
            found = evolve(relabelled(found, nothing), groups=(), factor=())
        scale = panel.scale(name)
        axes.append(
            Axis(name, False, side, found, look, labels, title, colour, style, scale.title_spot)
        )
        if scale.other is not None:
            opposite = TOP if level else RIGHT
            room = labels.room(length, scale.turn)
            title = rich(scale.other.title) if scale.other.title else ()
            beside = other_scale(scale.other, found, room)
            axes.append(Axis(name, True, opposite, beside, look, labels, title, style.ink, style))
    if not panel.has_axes:
        # what has no axes keeps its scales for the day it has some again
        return Settled(scales, (), Margins(0.0, 0.0, 0.0, 0.0))
    if any(axis.side == TOP for axis in axes):
        axes = [axis if axis.level else evolve(axis, crowned=True) for axis in axes]
    return Settled(scales, tuple(axes), _margins(axes, size, style, canvas.measure))


class _Sought(NamedTuple):
    """All that a scale follows from, besides the room that it has."""

    kind: str
    extent: Extent | None
    held: AxisConstraints
    reverse: bool
    before: str
    after: str
    minor: str

    @property
    def beside(self) -> tuple[Rich, Rich]:
        before, after = (rich(text) if text else () for text in (self.before, self.after))
        return before, after


class _Wanted(NamedTuple):
    """All of an axis that does not follow from its length."""

    name: str
    side: str
    look: AxisLook
    labels: Labels
    sought: _Sought
    words: dict[float, str] | None
    title: Rich
    colour: str


def _wanted(panel: Panel, canvas: Canvas) -> list[_Wanted]:
    """The axes of a panel, whatever its size."""
    tables, style, found = canvas.tables, canvas.style, []
    for name in panel.axes:
        side, scale = SIDES[name], panel.scale(name)
        size_mm = (scale.look.size_pt or style.label_pt) * MM_PER_POINT
        sought = _Sought(
            scale_kind(panel, tables, name), axis_extent(panel, tables, name),
            fitting(panel, tables, name), scale.reversed, scale.before, scale.after, scale.minor,
        )  # fmt: skip
        text = axis_title(panel, tables, name, style.units)
        found.append(
            _Wanted(
                name,
                side,
                scale.look,
                Labels(size_mm, side in (BOTTOM, TOP), canvas.measure),
                sought,
                tick_words(panel, tables, name) if scale.words is not None else None,
                rich(text) if text else (),
                _title_colour(panel, name, style),
            )
        )
    return found


def _title_colour(panel: Panel, axis: str, style: Style) -> str:
    """That of its series where an axis stands for one beside a second scale, else ink."""
    series = panel.series_on(axis)
    second = any(other in panel.axes for other in AXES if other != axis and other[0] == axis[0])
    alone = second and len(series) == 1
    return style.written(style.look_of(series[0]).colour) if alone else style.ink


def _resolved(
    sought: _Sought,
    words: dict[float, str] | None,
    hide: tuple[str, ...],
    labels: Labels,
    length: float,
) -> Resolved:
    """The scale of an axis of a length, with its labels as they are drawn."""
    found = _found(sought, labels, length)
    if words is not None:
        found = with_words(found, words, _room(sought, labels, length))
    return without_labels(found, hide)


def _room(sought: _Sought, labels: Labels, length: float) -> Room:
    room = labels.room(length, sought.held.turn)
    before, after = sought.beside
    if sought.held.labels == "none":
        return room._replace(size_mm=lambda _: 0.0)
    if not (before or after):
        return room
    return room._replace(size_mm=lambda label: labels.room(length, sought.held.turn).size_mm(
        dressed(label, before, after)))  # fmt: skip


# panels that share an axis ask for the same scale, and so does every frame of a gesture for those
# that do not move
@lru_cache(maxsize=512)
def _found(sought: _Sought, labels: Labels, length: float) -> Resolved:
    room = _room(sought, labels, length)
    found = KINDS[sought.kind].resolve(sought.extent, sought.held, room, reverse=sought.reverse)
    found = with_minor(found, sought.minor, length)
    if sought.held.labels == "none":
        found = evolve(found, groups=(), factor=())
        return relabelled(found, [() for _ in found.ticks])
    before, after = sought.beside
    if not (before or after):
        return found
    return relabelled(found, [dressed(tick.label, before, after) for tick in found.ticks])


def _margins(
    axes: list[Axis], size: tuple[float, float], style: Style, measure: Measure
) -> Margins:
    """What axes need at each side: that of the axis itself, and of labels that reach beyond the
    ends of the others."""
    need = {LEFT: style.room_mm, TOP: style.room_mm, RIGHT: style.room_mm, BOTTOM: style.room_mm}
    for axis in axes:
        need[axis.side] = max(need[axis.side], axis.depth(measure))
        length = size[0] if axis.level else size[1]
        first, last = (LEFT, RIGHT) if axis.level else (BOTTOM, TOP)
        # a label may reach into the margin of the figure by half
        spare = style.margin_mm / 2 if axis.level else -style.room_mm / 2
        need[first] = max(need[first], axis.overhang(length, end=False) - spare)
        need[last] = max(need[last], axis.overhang(length, end=True) - spare)
    return Margins(need[LEFT], need[TOP], need[RIGHT], need[BOTTOM])
