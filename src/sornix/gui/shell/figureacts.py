"""The acts about several figures of a document."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu

from sornix.core.document import (
    Document,
    add_copy,
    add_empty,
    add_first_of,
    add_residuals,
    figure_names,
    move_figure,
    name_figure,
    remove_figure,
)
from sornix.gui.widgets.acts import Act, State
from sornix.gui.widgets.question import asking

if TYPE_CHECKING:
    from collections.abc import Callable

    from sornix.gui.shell.window import Window

_UNDER = "Several figures"


def several_figures_acts(window: Window) -> list[Act]:
    """The acts of the sub-menu, in its order."""
    bench = window.bench

    def step(words: str, change: Callable[[Document], Document]) -> Callable[[], object]:
        return lambda: bench.edit_document(words, change)

    def when(holds: Callable[[Document], object]) -> Callable[[], State]:
        def state() -> State:
            return State(bench.document is not None and bool(holds(bench.document)))

        return state

    def act(
        name: str, words: str, run: Callable[[], object], shortcut: str = "",
        state: Callable[[], State] = window.open_state, *, divided: bool = False,
    ) -> Act:  # fmt: skip
        return Act(f"figure-{name}", "Figure", words, run, shortcut, state, _UNDER, divided)

    def move(by: int) -> None:
        document = bench.document
        if document is not None:
            place = document.place
            bench.edit_document("moved a figure", lambda d: move_figure(d, place, place + by))

    def look(by: int) -> None:
        document = bench.document
        if document is not None:
            bench.look_at(document.place + by)

    several = when(lambda d: len(d.figures) > 1)
    return [
        act("copy", "Add a copy of this one", step("added a figure", add_copy)),
        act("empty", "Add an empty one", step("added a figure", add_empty)),
        act("first", "Add the first figure of a table…", partial(_add_first, window)),
        act("residuals", "Add the residuals of a trend", partial(_add_residuals, window), "",
            when(lambda d: d.figure.panel.trends)),
        act("name", "Name…", partial(_ask_name, window), divided=True),
        act("earlier", "Move earlier", partial(move, -1), "Ctrl+Shift+PgUp",
            when(lambda d: d.before)),
        act("later", "Move later", partial(move, 1), "Ctrl+Shift+PgDown",
            when(lambda d: d.after)),
        act("remove", "Remove", step("removed a figure", lambda d: remove_figure(d, d.place)), "",
            several),
        act("before", "The one before", partial(look, -1), "Ctrl+PgUp", when(lambda d: d.before),
            divided=True),
        act("after", "The one after", partial(look, 1), "Ctrl+PgDown", when(lambda d: d.after)),
    ]  # fmt: skip


def _add_first(window: Window) -> None:
    """Adds the first figure of the only table, or of one that is chosen from a menu."""
    names = [table.name for table in window.bench.tables]

    def add(name: str) -> None:
        window.bench.edit_document("added a figure", lambda d: add_first_of(d, name))

    _choose(window, {name: partial(add, name) for name in names})


def _add_residuals(window: Window) -> None:
    """Adds the residuals of the only trend of the panel in hand, or of one that is chosen."""
    scene = window.bench.scene
    if scene is None:
        return
    panel = scene.figure.panel
    said = [
        f"{number}: {scene.drawing.place.equations[trend.id].text}"
        if trend.id in scene.drawing.place.equations else f"trend {number}"
        for number, trend in enumerate(panel.trends, 1)
    ]  # fmt: skip

    def add(trend_id: str) -> None:
        add_residuals_of(window, trend_id)

    _choose(window, {words: partial(add, t.id)
                     for words, t in zip(said, panel.trends, strict=True)})  # fmt: skip


def add_residuals_of(window: Window, trend_id: str) -> None:
    """Adds the residuals of a trend as a figure of their own."""
    window.bench.edit_document("added residuals", lambda d: add_residuals(d, trend_id))


def _choose(window: Window, acts: dict[str, Callable[[], None]]) -> None:
    """Does the only act, or lets one be chosen from a menu over the figure."""
    if len(acts) == 1:
        next(iter(acts.values()))()
        return
    menu = QMenu(window.frame)
    for words, act in acts.items():
        action = menu.addAction(words.replace("&", "&&"))
        if action is not None:
            action.triggered.connect(lambda _=False, act=act: act())
    menu.aboutToHide.connect(menu.deleteLater)
    over = window.panes.paper if window.panes is not None else window.frame
    menu.popup(over.mapToGlobal(QPoint(40, 40)))


def _ask_name(window: Window) -> None:
    document = window.bench.document
    if document is None:
        return
    place = document.place
    dialog = asking(window.frame)
    dialog.setWindowTitle("Name of the figure")
    dialog.setLabelText("Name (nothing: its title):")
    dialog.setTextValue(document.figure.name or figure_names(document)[place])

    def name() -> None:
        typed = dialog.textValue()
        usual = figure_names(name_figure(document, place, ""))[place]
        wanted = "" if typed.strip() == usual else typed
        window.bench.edit_document("named a figure", lambda d: name_figure(d, place, wanted))

    dialog.accepted.connect(name)
    dialog.finished.connect(dialog.deleteLater)
    dialog.open()
