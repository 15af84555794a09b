"""The acts of the menu Figure."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from sornix.core import figure as edits
from sornix.core.errors import EditRefused
from sornix.core.figure import (
    AxisTitle,
    Figure,
    PanelTitle,
    SeriesName,
    SourceLine,
    Target,
    Title,
)
from sornix.core.readings import TEXT
from sornix.core.text import parse_number, shortest
from sornix.gui.actions.ownstyles import ask_removed_style, ask_style_name
from sornix.gui.widgets.acts import Act, State
from sornix.gui.widgets.question import asking

if TYPE_CHECKING:
    from collections.abc import Callable

    from sornix.gui.actions.atwork import AtWork, Parts
    from sornix.gui.canvas.writing import Writing

_NOTES, _SCALES = "Notes and pins", "Scales"
# So many series have their names in the menu; all can be typed on the figure.
_MOST_NAMED = 8


def figure_acts(window: AtWork) -> list[Act]:
    """The acts of the menu Figure, in its order."""

    def add_series() -> None:
        scene = window.bench.scene
        if scene is not None:
            window.edit("added a series", lambda f: edits.add_series(f, scene.tables))

    def swap() -> None:
        window.edit("swapped x and y", edits.swap_axes)

    def title(name: str, of: Target, words: str, shortcut: str = "") -> Act:
        return Act(name, "Figure", words, partial(_type, window, of), shortcut,
                   window.open_state, divided=of == Title())  # fmt: skip

    scale_acts = zip(_scale_acts(window, "x"), _scale_acts(window, "y"), strict=True)
    return [
        Act("add-series", "Figure", "Add another series", add_series, "", window.open_state),
        *_panel_acts(window),
        Act("swap", "Figure", "Swap x and y", swap, "", window.open_state),
        *(act for pair in scale_acts for act in pair),
        *(act for number in range(_MOST_NAMED) for act in _split_acts(window, number)),
        title("title", Title(), "Title…", "F2"),
        title("panel-title", PanelTitle(), "Title of the panel…"),
        title("x-title", AxisTitle("x"), "Title of x…"),
        title("y-title", AxisTitle("y"), "Title of y…"),
        Act(
            "source",
            "Figure",
            "Source line…",
            partial(_type, window, SourceLine()),
            "",
            window.open_state,
        ),
        *_note_acts(window),
        *(_series_name_act(window, number) for number in range(_MOST_NAMED)),
        Act("caption", "Figure", "Caption…", partial(_type_caption, window), "", window.open_state),
        Act(
            "methods",
            "Figure",
            "Methods text…",
            partial(_type_caption, window, other=True),
            "",
            window.open_state,
        ),
        Act(
            "places",
            "Figure",
            "Let everything that was dragged find its place",
            partial(_let_find_places, window),
            "",
            window.open_state,
        ),
        Act(
            "size",
            "Figure",
            "Size…",
            partial(_ask_size, window),
            "",
            window.open_state,
            divided=True,
        ),
        *_style_acts(window),
        *_look_acts(window),
    ]


def _panel_acts(window: AtWork) -> list[Act]:
    """More series and panels, and fewer panels."""

    def add_every() -> None:
        tables = window.bench.tables
        window.edit("added every column", lambda f: edits.add_every_series(f, tables))

    def add_panel() -> None:
        tables = window.bench.tables
        window.edit("added a panel", lambda f: edits.add_panel(f, tables))

    def remove_panel() -> None:
        window.edit("removed a panel", lambda f: edits.remove_panel(f, f.hand))

    def several_panels() -> State:
        scene = window.bench.scene
        return State(scene is not None and len(scene.figure.panels) > 1)

    return [
        Act(
            "add-every",
            "Figure",
            "Add every other column of numbers",
            add_every,
            "",
            window.open_state,
        ),
        Act("add-panel", "Figure", "Add a panel", add_panel, "", window.open_state),
        Act("remove-panel", "Figure", "Remove the panel in hand", remove_panel, "", several_panels),
    ]


def _series_name_act(window: AtWork, number: int) -> Act:
    """Types the name of the n-th series, where names are shown."""

    def series() -> tuple[str, str] | None:
        scene = window.bench.scene
        panel = scene.figure.panel if scene else None
        if scene is None or panel is None or not 1 < len(panel.series) > number:
            return None
        one = panel.series[number]
        return one.id, edits.series_name(panel, one, scene.tables)

    def run() -> None:
        found = series()
        if found is not None:
            _type(window, SeriesName(found[0]))

    def state() -> State:
        found = series()
        return State(found is not None, f"{found[1]}…" if found else "", shown=found is not None)

    return Act(f"name/{number}", "Figure", "", run, "", state, under="Name of a series")


def _split_acts(window: AtWork, number: int) -> list[Act]:
    """One series, or one panel, for each value of the n-th column of text."""

    def column() -> str | None:
        scene = window.bench.scene
        found = [c.name for c in scene.table.columns if c.kind == TEXT] if scene else []
        return found[number] if number < len(found) else None

    def split(words: str, change: Callable[[Figure, str], Figure]) -> None:
        name = column()
        if name is not None:
            window.edit(f"one {words} per value of “{name}”", lambda f: change(f, name))

    def per_series() -> None:
        tables = window.bench.tables
        split("series", lambda f, n: edits.split_series(f, tables, f.panel.series[0].id, n))

    def per_panel() -> None:
        tables = window.bench.tables
        split("panel", lambda f, n: edits.split_panels(f, tables, n))

    def state() -> State:
        name = column()
        return State(name is not None, name or "", shown=name is not None)

    return [
        Act(f"series-per/{number}", "Figure", "", per_series, "", state,
            under="One series per value of"),
        Act(f"panel-per/{number}", "Figure", "", per_panel, "", state,
            under="One panel per value of"),
    ]  # fmt: skip


def _type(window: AtWork, of: Target) -> None:
    """Opens a text of the figure for typing."""
    if window.panes is not None:
        window.panes.editor.writing.edit_text(of)


def _note_acts(window: AtWork) -> list[Act]:
    """Notes and pins at the reading in hand, and what is done with what is in hand."""

    def writing(act: Callable[[Writing], object]) -> Callable[[], None]:
        def run() -> None:
            if window.panes is not None:
                window.panes.paper.setFocus()
                act(window.panes.editor.writing)

        return run

    def on_reading() -> State:
        return State(window.panes is not None and window.panes.selection.at is not None)

    def at_place() -> State:
        there = window.panes is not None and window.panes.selection.here is not None
        return State(there, shown=there)

    def held() -> State:
        return State(window.panes is not None and window.panes.selection.in_hand is not None)

    return [
        Act("add-note", "Figure", "Note on the figure… (key N on the figure)",
            writing(lambda w: w.write_note()), "", window.open_state, under=_NOTES),
        Act("pin", "Figure", "Pin the reading in hand (key P on the figure)",
            writing(lambda w: w.pin()), "", on_reading, under=_NOTES),
        Act("pin-place", "Figure", "Pin this place", writing(lambda w: w.pin_place()), "",
            at_place, under=_NOTES),
        Act("next-text", "Figure", "Take the next text in hand (key L on the figure)",
            writing(lambda w: w.take_next()), "", window.open_state, under=_NOTES),
        Act("put-back", "Figure", "Put back what is in hand (Backspace)",
            writing(lambda w: w.put_back()), "", held, under=_NOTES),
    ]  # fmt: skip


# Choices with two sides: the name of the choice, words of the act, the other side and the usual.
_CHOICES = (
    ("decimal", "Decimal comma in numbers", "comma", "point"),
    ("units", "Units in brackets: Quantity (unit)", "brackets", "stroke"),
)


def _choice_act(window: AtWork, name: str, words: str, other: str, usual: str) -> Act:
    """Turns a choice about the figure on and off."""

    def now() -> str:
        scene = window.bench.scene
        return getattr(scene.figure.choices, name) if scene is not None else usual

    def turn() -> None:
        value = usual if now() == other else other
        window.edit(f"changed: {words.lower()}", lambda f: edits.choose(f, **{name: value}))

    def state() -> State:
        return State(window.bench.scene is not None, on=now() == other)

    return Act(f"choice/{name}", "Figure", words, turn, "", state, under="Style")


def _style_acts(window: AtWork) -> list[Act]:
    """The styles, and those of the user's own."""

    def state(name: str) -> Callable[[], State]:
        def now() -> State:
            scene = window.bench.scene
            figure = scene.figure if scene else None
            on = figure is not None and figure.style == name and not figure.style_name
            return State(scene is not None, on=on)

        return now

    def choose(name: str) -> Callable[[], None]:
        words = f"styled the figure {edits.STYLE_NAMES[name].words}"
        return lambda: window.edit(words, lambda f: edits.set_style(f, name))

    def has_own() -> State:
        return State(bool(window.bench.styles), shown=bool(window.bench.styles))

    return [
        *(
            Act(f"style/{name}", "Figure", style.words.capitalize(), choose(name), "",
                state(name), under="Style")
            for name, style in edits.STYLE_NAMES.items()
        ),
        *(_choice_act(window, *choice) for choice in _CHOICES),
        Act("free-style", "Figure", "Leave all choices to the style",
            lambda: window.edit("left all choices to the style", edits.free_choices), "",
            window.open_state, under="Style"),
        Act("save-style", "Figure", "Save this style as one of your own…",
            partial(ask_style_name, window), "", window.open_state, under="Style"),
        Act("remove-style", "Figure", "Remove a style of your own…",
            partial(ask_removed_style, window), "", has_own, under="Style"),
    ]  # fmt: skip


def _type_caption(window: AtWork, *, other: bool = False) -> None:
    """Opens the caption for typing, or the methods text."""
    if window.panes is not None:
        window.panes.caption.show()
        window.panes.caption.show_text(int(other))
        window.panes.caption.begin()


def _let_find_places(window: AtWork) -> None:
    window.edit("let everything find its place", edits.let_find_places)


def _look_acts(window: AtWork) -> list[Act]:
    """The strips, and what can be done with a closer look."""

    def panes(act: Callable[[Parts], object]) -> Callable[[], None]:
        def run() -> None:
            if window.panes is not None:
                act(window.panes)

        return run

    def looking() -> State:
        return State(window.panes is not None and window.panes.paper.look is not None)

    return [
        Act("strip-x", "Figure", "Scale strip of x (key X on the figure)",
            panes(lambda p: p.open_inspector("x")), "", window.open_state, under=_SCALES),
        Act("strip-y", "Figure", "Scale strip of y (key Y on the figure)",
            panes(lambda p: p.open_inspector("y")), "", window.open_state, under=_SCALES),
        Act("keep-look", "Figure", "Keep the range of the closer look",
            panes(lambda p: p.paper.keep_look()), "", looking),
        Act("leave-look", "Figure", "Back to the figure",
            panes(lambda p: p.paper.leave_look()), "", looking),
    ]  # fmt: skip


def _scale_acts(window: AtWork, axis: str) -> list[Act]:
    """Reverse, free and grid of one axis."""

    def scale() -> edits.Scale | None:
        scene = window.bench.scene
        return scene.figure.panel.scale(axis) if scene else None

    def reverse() -> None:
        window.edit(f"reversed {axis}", lambda f: edits.reverse(f, axis))

    def reversed_state() -> State:
        now = scale()
        return State(now is not None, on=bool(now and now.reversed))

    def free() -> None:
        window.edit(f"freed {axis}", lambda f: edits.free_scale(f, axis))

    def held_state() -> State:
        now = scale()
        return State(now is not None and (now.start, now.end, now.step) != (None, None, None))

    def grid() -> None:
        now = scale()
        if now is not None:
            window.edit(
                "changed the grid", lambda f: edits.change_scale(f, axis, grid=not now.grid)
            )

    def grid_state() -> State:
        now = scale()
        return State(now is not None, on=bool(now and now.grid))

    free_words = f"Free range and step of {axis}"
    grid_words = f"Grid lines at the ticks of {axis}"
    return [
        Act(f"reverse-{axis}", "Figure", f"Reverse {axis}", reverse, "", reversed_state,
            under=_SCALES),
        Act(f"free-{axis}", "Figure", free_words, free, "", held_state, under=_SCALES),
        Act(f"grid-{axis}", "Figure", grid_words, grid, "", grid_state, under=_SCALES),
    ]  # fmt: skip


def _ask_size(window: AtWork) -> None:
    """Asks for the size of the figure as “85 × 64”."""
    scene = window.bench.scene
    if scene is None:
        return
    now = f"{shortest(scene.figure.width_mm, 0)} × {shortest(scene.figure.height_mm, 0)}"
    dialog = asking(window.frame)
    dialog.setWindowTitle("Size of the figure")
    dialog.setLabelText("Width × height in mm:")
    dialog.setTextValue(now)

    def change(figure: Figure) -> Figure:
        parts = dialog.textValue().replace("x", "×").replace("mm", "").split("×")
        if len(parts) != 2:
            raise EditRefused(
                f"“{dialog.textValue()}” is not a size.", remedy="Write it as 85 × 64."
            )
        return edits.set_size(figure, *(parse_number(part) for part in parts))

    dialog.accepted.connect(lambda: window.edit("changed the size", change))
    dialog.finished.connect(dialog.deleteLater)
    dialog.open()
