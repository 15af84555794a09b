"""Every act of the window in one table: its menu, words, shortcut and what it does."""

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QMenuBar, QWidget

MENUS = ("File", "Edit", "Readings", "Figure", "Trend", "View", "Help")


class State(NamedTuple):
    """How an act stands just now: its words if they change, whether it can be done or is on."""

    enabled: bool = True
    words: str = ""
    on: bool | None = None
    shown: bool = True


class Act(NamedTuple):
    """An act. `under` names a sub-menu; `divided` draws a line above it."""

    name: str
    menu: str
    words: str
    run: Callable[[], object]
    shortcut: str = ""
    state: Callable[[], State] = State
    under: str = ""
    divided: bool = False


class Menus:
    """The menu bar made from a table of acts, brought up to date whenever a menu opens."""

    def __init__(self, bar: QMenuBar, window: QWidget, acts: Sequence[Act]) -> None:
        self._acts = acts
        self.actions: dict[str, QAction] = {}
        # many acts can be done under the same condition
        self._alike: dict[Callable[[], State], list[Act]] = {}
        self._shown: dict[Callable[[], State], State] = {}
        menus: dict[str, QMenu] = {}
        for name in MENUS:
            menu = bar.addMenu(f"&{name}")
            assert menu is not None
            menu.aboutToShow.connect(self.update)
            menus[name] = menu
        for act in acts:
            menu = menus[act.menu]
            if act.divided:
                menu.addSeparator()
            if act.under:
                key = f"{act.menu}/{act.under}"
                if key not in menus:
                    sub = menu.addMenu(act.under)
                    assert sub is not None
                    menus[key] = sub
                menu = menus[key]
            action = QAction(act.words, window)
            if act.shortcut:
                action.setShortcut(QKeySequence(act.shortcut))
            action.triggered.connect(lambda _=False, run=act.run: run())
            menu.addAction(action)
            # menus of a bar own their shortcuts only while shown: the window holds them always
            window.addAction(action)
            self.actions[act.name] = action
            self._alike.setdefault(act.state, []).append(act)
        self.update()

    @property
    def listed(self) -> list[tuple[str, str, QAction]]:
        """Every act with the name of its menu, and what its sub-menu puts before its words."""
        return [
            (act.menu, f"{act.under}: " if act.under else "", self.actions[act.name])
            for act in self._acts
        ]

    def update(self) -> None:
        """Words, ticks and whether each act can be done, as things stand."""
        for state_of, acts in self._alike.items():
            state = state_of()
            # each step asks for all of them, and changes few; a click ticks by itself
            if state == self._shown.get(state_of) and (
                state.on is None
                or all(self.actions[act.name].isChecked() == state.on for act in acts)
            ):
                continue
            self._shown[state_of] = state
            for act in acts:
                self._show(act, state)

    def _show(self, act: Act, state: State) -> None:
        action = self.actions[act.name]
        action.setEnabled(state.enabled)
        action.setVisible(state.shown)
        action.setText(state.words or act.words)
        if state.on is not None:
            action.setCheckable(True)
            action.setChecked(state.on)
