"""The acts about the statement as text."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QApplication

from sornix.gui.widgets.acts import Act

if TYPE_CHECKING:
    from sornix.gui.shell.window import Window


def statement_acts(window: Window) -> list[Act]:
    return [
        Act("statement-text", "Edit", "Statement as text", partial(_toggle, window), "Ctrl+T",
            window.open_state, divided=True),
        Act("copy-statement", "Edit", "Copy statement as text", partial(_copy, window), "",
            window.open_state),
        Act("paste-statement", "Edit", "Paste a statement", partial(_paste, window),
            "Ctrl+Shift+V", window.open_state),
    ]  # fmt: skip


def history_act(window: Window) -> Act:
    return Act("history", "Edit", "History…", partial(_history, window), "Ctrl+H",
               window.open_state)  # fmt: skip


def _history(window: Window) -> None:
    """The steps of the document, in words."""
    from sornix.gui.dialogs.historyview import HistoryView

    history = window.bench.history
    if history is not None:
        view = HistoryView(window.frame, history.steps, len(history.past), window.bench.go)
        view.finished.connect(view.deleteLater)
        view.open()


def _toggle(window: Window) -> None:
    """The statement as text, or its words again."""
    if window.panes is None:
        return
    if window.panes.text.isVisible():
        window.panes.text.close_text()
    else:
        window.panes.type_statement()


def _copy(window: Window) -> None:
    from sornix.core.statement import write_statement

    scene = window.bench.scene
    if scene is not None:
        window.copy_text(write_statement(scene.figure, scene.tables, plotted=True))


def _paste(window: Window) -> None:
    """A statement from the clipboard, to be tried on the readings that are open."""
    clipboard = QApplication.clipboard()
    text = clipboard.text() if clipboard is not None else ""
    if not text.strip():
        window.say("There is no text on the clipboard.")
    elif window.panes is not None:
        window.panes.type_statement(text)
