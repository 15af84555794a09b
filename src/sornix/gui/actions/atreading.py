"""What can be done with readings: left out of trends and brought back, and the menu of one."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QMenu

from sornix.core import figure as edits
from sornix.core.text import plural, row_words
from sornix.gui.widgets.question import asking

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from PyQt6.QtCore import QPoint

    from sornix.core.figure import Figure
    from sornix.gui.actions.atwork import AtWork
    from sornix.gui.session.nearest import Reading


class AtReading:
    """The acts on readings of a window."""

    def __init__(self, window: AtWork) -> None:
        self._window = window

    def leave_out(self, rows: Sequence[int], reason: str = "", *, series: str = "") -> None:
        """Leaves rows out of the trends of a series, or of every one."""
        name = f"left {plural(len(rows), 'reading' if series else 'row')} out"
        self._edit_series(name, series, lambda f, one: edits.leave_out(f, one, rows, reason))

    def bring_back(self, rows: Sequence[int], *, series: str = "") -> None:
        """Takes rows into the trends of a series, or of every one, again."""
        name = f"brought {plural(len(rows), 'reading' if series else 'row')} back"
        self._edit_series(name, series, lambda f, one: edits.bring_back(f, one, rows))

    def _edit_series(self, name: str, series: str, change: Callable[[Figure, str], Figure]) -> None:
        """One step that changes a series, or every one where none is named."""
        panes = self._window.panes

        def change_all(figure: Figure) -> Figure:
            shown = panes.table_pane.table_name if panes is not None else ""
            drawn = [s.id for s in figure.panel.series if s.table == shown]
            for one in [series] if series else drawn:
                figure = change(figure, one)
            return figure

        self._window.edit(name, change_all)

    def ask_reason(self, what: str, then: Callable[[str], None]) -> None:
        """Asks why readings are left out, and leaves them out then."""
        dialog = asking(self._window.frame)
        dialog.setWindowTitle("Leave out")
        dialog.setLabelText(f"Why leave {what} out of trends? (The reason may stay empty.)")
        dialog.accepted.connect(lambda: then(dialog.textValue().strip()))
        dialog.finished.connect(dialog.deleteLater)
        dialog.open()

    def show_menu(self, reading: Reading | None, at: QPoint) -> None:
        """What can be done with the reading under the pointer, and with the figure."""
        window = self._window
        scene = window.bench.scene
        if scene is None:
            return
        menu = QMenu(window.frame)
        if reading is not None:
            left_out = scene.figure.panel.one_series(reading.series).left_out
            out = any(left.row == reading.row for left in left_out)
            for words, act in self._acts_on(reading, left_out=out).items():
                action = menu.addAction(words)
                if action is not None:
                    action.triggered.connect(lambda _=False, act=act: act())
            menu.addSeparator()
        for name in self._acts_here():
            menu.addAction(window.menus.actions[name])
        menu.addSeparator()
        menu.addAction(window.menus.actions["copy-figure"])
        menu.addAction(window.menus.actions["export"])
        menu.aboutToHide.connect(menu.deleteLater)
        menu.popup(at)

    def _acts_on(self, reading: Reading, *, left_out: bool) -> dict[str, Callable[[], None]]:
        rows, row = (reading.row,), row_words(reading.row)
        if left_out:
            return {f"Bring {row} back": partial(self.bring_back, rows, series=reading.series)}
        leave_out = partial(self.leave_out, rows, series=reading.series)
        return {
            f"Leave {row} out": leave_out,
            f"Leave {row} out, with a reason…": partial(self.ask_reason, row, leave_out),
        }

    def _acts_here(self) -> list[str]:
        """The acts on what is under the pointer of the paper."""
        if self._window.panes is None:
            return []
        selection = self._window.panes.selection
        self._window.menus.update()
        if selection.in_hand is not None:
            return ["put-back"]
        return ["pin" if selection.at is not None else "pin-place", "add-note"]
