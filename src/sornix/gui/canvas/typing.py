"""Texts of the figure that can be typed anew where they stand."""

from collections.abc import Callable
from typing import NamedTuple

from sornix.core import figure as edits
from sornix.core.figure import AXES, Figure, axis_title, note_text, series_name
from sornix.gui.session.workbench import Scene

NEW_NOTE = "new-note"


class Typing(NamedTuple):
    """A text of the figure as it was typed, the name of its field, what typing it anew is called in
    the history, and what it makes of the figure."""

    text: str
    field: str
    step: str
    put: Callable[[Figure, str], Figure]


def typing_of(scene: Scene, of: str) -> Typing:
    """The text that a box is of. Raises NotThere where it is no longer there."""
    figure, panel = scene.figure, scene.figure.panel
    kind, *name = of.split("/")
    if name and kind in _NAMED:
        return _NAMED[kind](scene, name[0])
    whole = {
        NEW_NOTE: Typing("", "Note", "wrote a note", lambda f, _: f),
        "source": Typing(figure.source, "Source line", "changed the source line", edits.set_source),
        "title": Typing(figure.title, "Title", "changed the title", edits.set_title),
        "panel-title": Typing(
            panel.title, "Title of the panel", "changed the title of a panel",
            lambda f, text: edits.set_panel_title(f, f.hand, text),
        ),
    }  # fmt: skip
    return whole[of] if of in whole else _axis_typing(scene, of.removesuffix("-title"))


def _axis_typing(scene: Scene, axis: str) -> Typing:
    said = AXES[axis]
    return Typing(
        axis_title(scene.figure.panel, scene.tables, axis, scene.style.units),
        f"{said} title",
        f"changed the title of {said}",
        lambda f, text: edits.set_axis_title(f, axis, text.strip() or None),
    )


def _series_typing(scene: Scene, name: str) -> Typing:
    panel = scene.figure.panel
    text = series_name(panel, panel.one_series(name), scene.tables)
    return Typing(
        text, "Name of the series", "renamed a series", lambda f, t: edits.rename_series(f, name, t)
    )


def _curve_typing(scene: Scene, name: str) -> Typing:
    text = scene.figure.panel.one_curve(name).name
    return Typing(
        text, "Name of the curve", "named a curve", lambda f, t: edits.name_curve(f, name, t)
    )


def _note_typing(scene: Scene, name: str) -> Typing:
    panel = scene.figure.panel
    text = note_text(panel.one_note(name), panel, scene.tables)
    return Typing(
        text, "Note", "changed a note", lambda f, t: edits.change_note(f, name, text=t.strip())
    )


def _guide_typing(scene: Scene, name: str) -> Typing:
    text = scene.figure.panel.one_guide(name).label
    return Typing(
        text,
        "Label of the line",
        "changed the label of a line",
        lambda f, t: edits.change_guide(f, name, label=t.strip()),
    )


_NAMED: dict[str, Callable[[Scene, str], Typing]] = {
    "series": _series_typing,
    "curve": _curve_typing,
    "note": _note_typing,
    "guide": _guide_typing,
}
