"""Texts of the figure that can be typed anew where they stand."""

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import Any, NamedTuple

from sornix.core import figure as edits
from sornix.core.errors import NotThere
from sornix.core.figure import (
    AXES,
    AxisTitle,
    CurveName,
    Figure,
    GuideBox,
    NoteBox,
    PanelTitle,
    SeriesName,
    SourceLine,
    Target,
    Title,
    axis_title,
    note_text,
    series_name,
)
from sornix.core.frozen import frozen
from sornix.gui.session.scene import Scene


@frozen
class NewNote:
    """A note that is not there yet."""


class Typing(NamedTuple):
    """A text of the figure as it was typed, the name of its field, what typing it anew is called in
    the history, and what it makes of the figure."""

    text: str
    field: str
    step: str
    put: Callable[[Figure, str], Figure]


def typing_of(scene: Scene, what: Target | NewNote) -> Typing:
    """The text that a box is of. Raises NotThere where it is no longer there, or is no text."""
    if not can_be_typed(what):
        raise NotThere
    return _TYPED[type(what)](scene, what)


def can_be_typed(what: Target | NewNote) -> bool:
    """Whether something is a text that can be typed anew."""
    return type(what) in _TYPED


def _panel_typing(scene: Scene) -> Typing:
    return Typing(
        scene.figure.panel.title, "Title of the panel", "changed the title of a panel",
        lambda f, text: edits.set_panel_title(f, f.hand, text),
    )  # fmt: skip


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


_TYPED: Mapping[type, Callable[[Scene, Any], Typing]] = MappingProxyType({
    NewNote: lambda _scene, _new: Typing("", "Note", "wrote a note", lambda f, _: f),
    Title: lambda scene, _: Typing(
        scene.figure.title, "Title", "changed the title", edits.set_title
    ),
    SourceLine: lambda scene, _: Typing(
        scene.figure.source, "Source line", "changed the source line", edits.set_source
    ),
    PanelTitle: lambda scene, _: _panel_typing(scene),
    AxisTitle: lambda scene, of: _axis_typing(scene, of.axis),
    SeriesName: lambda scene, of: _series_typing(scene, of.series),
    CurveName: lambda scene, of: _curve_typing(scene, of.curve),
    NoteBox: lambda scene, of: _note_typing(scene, of.note),
    GuideBox: lambda scene, of: _guide_typing(scene, of.guide),
})  # fmt: skip
