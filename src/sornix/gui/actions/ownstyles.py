"""Styles and shapes of the user's own: kept with the settings, saved under a name, taken away
again."""

from collections.abc import Callable
from contextlib import suppress
from functools import partial
from typing import TYPE_CHECKING, TypeVar

from attrs import asdict

from sornix.core import figure as edits
from sornix.core.figure import FORMULA, Figure, OwnStyle
from sornix.core.figure.model.trend import OwnShape
from sornix.gui.base.settings import Settings
from sornix.gui.widgets.acts import Act, State
from sornix.gui.widgets.question import asking

if TYPE_CHECKING:
    from sornix.gui.actions.atwork import AtWork

_KEPT, _SHAPES = "styles", "shapes"
Kind = TypeVar("Kind")


def own_styles(settings: Settings) -> tuple[OwnStyle, ...]:
    """The styles in the settings; what cannot be understood is passed over."""
    return _own(settings, _KEPT, OwnStyle)


def own_shapes(settings: Settings) -> tuple[OwnShape, ...]:
    """The shapes in the settings; what cannot be understood is passed over."""
    return _own(settings, _SHAPES, OwnShape)


def _own(settings: Settings, name: str, kind: type[Kind]) -> tuple[Kind, ...]:
    kept = settings.listed(name)
    if not kept:
        return ()
    from sornix.core.document.stored.structuring import structured

    found = []
    for value in kept:
        with suppress(ValueError):
            found.append(structured(value, kind, name))
    return tuple(found)


def _keep_shapes(window: "AtWork", shapes: tuple[OwnShape, ...]) -> None:
    window.bench.know_shapes(shapes)
    window.settings.remember(**{_SHAPES: [asdict(shape) for shape in shapes]})
    window.refresh()


def own_shape_acts(window: "AtWork") -> list[Act]:
    """The acts about shapes, at the end of the menu Trend."""

    def typed() -> State:
        scene = window.bench.scene
        return State(scene is not None and any(
            trend.model == FORMULA for trend in scene.figure.panel.trends))  # fmt: skip

    return [
        Act("save-shape", "Trend", "Save the formula as a shape of your own…",
            partial(ask_shape, window), "", typed, divided=True),
        Act("remove-shape", "Trend", "Remove a shape of your own…",
            partial(ask_removed_shape, window), "", lambda: State(bool(window.bench.shapes))),
    ]  # fmt: skip


def ask_shape(window: "AtWork") -> None:
    """Asks what a formula is called and what its parameters are, and keeps it: that of the trend
    whose lines are open, or else the last."""
    from sornix.gui.dialogs.shapedialog import ShapeDialog

    scene = window.bench.scene
    if scene is None:
        return
    formulas = [t for t in scene.figure.panel.trends if t.model == FORMULA]
    opened = window.panes.statement.opened_trend if window.panes is not None else ""
    trend = next((t for t in formulas if t.id == opened), formulas[-1])

    def keep(shape: OwnShape) -> None:
        others = tuple(s for s in window.bench.shapes if s.name != shape.name)
        _keep_shapes(window, (*others, shape))
        window.edit(f"called a formula “{shape.name}”", lambda f: edits.change_trend(
            f, trend.id, called=shape.name, meanings=shape.meanings))  # fmt: skip

    ShapeDialog(window.frame, trend, keep)


def ask_removed_shape(window: "AtWork") -> None:
    """Asks which shape of the user's own is not wanted any more; trends keep theirs."""

    def remove(gone: str) -> None:
        _keep_shapes(window, tuple(s for s in window.bench.shapes if s.name != gone))

    names = [shape.name for shape in window.bench.shapes]
    _ask_removed(window, "shape", "trends of it stay as they are", names, remove)


def _keep(window: "AtWork", styles: tuple[OwnStyle, ...]) -> None:
    window.bench.styles = styles
    window.settings.remember(**{_KEPT: [asdict(style) for style in styles]})


def ask_style_name(window: "AtWork") -> None:
    """Asks for a name, and keeps the style of the figure under it."""
    dialog = asking(window.frame)
    dialog.setWindowTitle("A style of your own")
    dialog.setLabelText("Name (it keeps the style, what is held, and the size):")
    scene = window.bench.scene
    dialog.setTextValue(scene.figure.style_name if scene else "")

    def keep() -> None:
        def change(figure: Figure) -> Figure:
            own = edits.own_style(figure, dialog.textValue())
            others = tuple(s for s in window.bench.styles if s.name != own.name)
            _keep(window, (*others, own))
            return edits.put_on_style(figure, own)

        window.edit("named a style", change)

    dialog.accepted.connect(keep)
    dialog.finished.connect(dialog.deleteLater)
    dialog.open()


def ask_removed_style(window: "AtWork") -> None:
    """Asks which style of the user's own is not wanted any more; figures keep theirs."""

    def remove(gone: str) -> None:
        _keep(window, tuple(s for s in window.bench.styles if s.name != gone))
        window.refresh()

    names = [style.name for style in window.bench.styles]
    _ask_removed(window, "style", "figures that have it keep their looks", names, remove)


def _ask_removed(
    window: "AtWork", kind: str, stays: str, names: list[str], remove: Callable[[str], None]
) -> None:
    """Asks which of the user's own is to go, and tells what `stays`."""
    dialog = asking(window.frame)
    dialog.setWindowTitle(f"Remove a {kind} of your own")
    dialog.setLabelText(f"{kind.capitalize()} ({stays}):")
    dialog.setComboBoxItems(names)
    dialog.accepted.connect(lambda: remove(dialog.textValue()))
    dialog.finished.connect(dialog.deleteLater)
    dialog.open()
