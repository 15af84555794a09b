"""What can be done with each kind of thing on the figure: one table."""

from typing import NamedTuple, TypeGuard, get_args

from PyQt6.QtCore import Qt

from sornix.core.figure import (
    AXES,
    AxisBand,
    AxisTitle,
    CurveName,
    Divider,
    GuideBox,
    Legend,
    Movable,
    NoteBox,
    PanelTitle,
    ReadOffLine,
    SeriesName,
    SourceLine,
    Target,
    Title,
    TrendEnd,
    TrendLabel,
)

_SHAPES = Qt.CursorShape


class Handling(NamedTuple):
    """The cursor over something, its words in a sentence, and whether it belongs to the figure, not
    to one of its panels."""

    cursor: Qt.CursorShape
    words: str = ""
    of_all: bool = False


_HANDLED: dict[type, Handling] = {
    Title: Handling(_SHAPES.IBeamCursor, "title", of_all=True),
    SourceLine: Handling(_SHAPES.SizeAllCursor, "source line"),
    PanelTitle: Handling(_SHAPES.IBeamCursor, "title of a panel"),
    AxisTitle: Handling(_SHAPES.IBeamCursor, "title of {}"),
    Legend: Handling(_SHAPES.SizeAllCursor, "legend"),
    TrendLabel: Handling(_SHAPES.SizeAllCursor, "label of the trend"),
    NoteBox: Handling(_SHAPES.SizeAllCursor, "note"),
    SeriesName: Handling(_SHAPES.SizeAllCursor, "name of a series"),
    CurveName: Handling(_SHAPES.SizeAllCursor, "name of a curve"),
    GuideBox: Handling(_SHAPES.PointingHandCursor, "line at a value"),
    TrendEnd: Handling(_SHAPES.SizeHorCursor),
    ReadOffLine: Handling(_SHAPES.SizeVerCursor),
    AxisBand: Handling(_SHAPES.SizeHorCursor),
    Divider: Handling(_SHAPES.SplitHCursor, of_all=True),
}


def handling(what: Target) -> Handling:
    """How something is handled; an axis and a divider by the way they run."""
    found = _HANDLED[type(what)]
    match what:
        case AxisBand(axis) if axis[0] == "y":
            return found._replace(cursor=_SHAPES.SizeVerCursor)
        case Divider("row", _):
            return found._replace(cursor=_SHAPES.SplitVCursor)
        case AxisTitle(axis):
            return found._replace(words=found.words.format(AXES[axis]))
    return found


def can_be_placed(what: Target) -> TypeGuard[Movable]:
    """Whether something has a place of its own."""
    return isinstance(what, get_args(Movable))
