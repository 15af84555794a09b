"""The acts of the menu Readings."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from sornix.core.text import plural
from sornix.gui.widgets.acts import Act, State

if TYPE_CHECKING:
    from sornix.gui.actions.atreading import AtReading
    from sornix.gui.actions.atwork import AtWork
    from sornix.gui.actions.readingsdesk import ReadingsDesk


def readings_acts(window: AtWork, readings: ReadingsDesk, at_reading: AtReading) -> list[Act]:
    """The acts of the menu Readings, in its order."""

    def go() -> None:
        if window.panes is not None:
            window.panes.table_pane.show()
            window.panes.table_pane.grid.setFocus()

    def has_file() -> State:
        table = readings.table
        return State(table is not None and table.source is not None and bool(table.source.path))

    def following() -> State:
        return State(has_file().enabled, on=readings.follower.is_followed(readings.table))

    def follow() -> None:
        table = readings.table
        if table is not None:
            readings.follower.follow(table, on=not readings.follower.is_followed(table))

    def column_menu() -> None:
        if window.panes is not None:
            readings.columns.open_menu(window.panes.table_pane.grid.currentIndex().column(), None)

    def act(
        name: str, words: str, run: object, shortcut: str = "", *, divided: bool = False
    ) -> Act:
        assert callable(run)
        return Act(name, "Readings", words, run, shortcut, window.open_state, divided=divided)

    return [
        act("add-readings", "Add readings from a file…", readings.ask_more),
        act("paste-table", "Paste as a new table", readings.clipboard.paste_table),
        act("paste-columns", "Paste as new columns", readings.clipboard.paste_columns),
        act("copy-readings", "Copy the table", readings.clipboard.copy_table, divided=True),
        act("save-table", "Save the table…", readings.save_table),
        act("to-readings", "Go to the table", go, "F6", divided=True),
        act("find-reading", "Find…", readings.find, "Ctrl+F"),
        act("column-menu", "Column…", column_menu, "Ctrl+M"),
        act("compute", "Compute a column…", readings.columns.compute, "Ctrl+="),
        act("pattern", "Continue the pattern of the selected cells", readings.continue_pattern,
            "Ctrl+Shift+P"),
        act("insert-rows", "Insert rows before the selected ones", readings.insert_rows,
            "Ctrl+Shift+I"),
        Act("delete-rows", "Readings", "Delete the selected rows", readings.delete_rows,
            "Ctrl+Shift+Delete", partial(_lit_state, window)),
        act("summary", "Summarise by groups…", readings.summarise, divided=True),
        act("correlations", "Correlations…", readings.correlate),
        act("rename-table", "Rename this table…", readings.rename_table, divided=True),
        act("draw-table", "Draw this table", readings.draw_table),
        act("remove-table", "Remove this table", readings.remove_table),
        Act("read-again", "Readings", "Read its file again", readings.read_again, "F5", has_file,
            divided=True),
        Act("follow", "Readings", "Follow its file as it grows", follow, "", following),
        Act("leave-out", "Readings", "Leave the lit rows out…",
            partial(_leave_lit_out, window, at_reading), "Ctrl+D", partial(_lit_state, window),
            divided=True),
        Act("bring-back", "Readings", "Bring the lit rows back",
            partial(_bring_lit_back, window, at_reading), "Ctrl+Shift+D",
            partial(_lit_state, window)),
    ]  # fmt: skip


def _lit_rows(window: AtWork) -> list[int]:
    return window.panes.table_pane.grid.selected_rows() if window.panes is not None else []


def _lit_state(window: AtWork) -> State:
    return State(window.panes is not None and window.panes.table_pane.grid.has_selection)


def _leave_lit_out(window: AtWork, at_reading: AtReading) -> None:
    rows = _lit_rows(window)
    if rows:
        at_reading.ask_reason(plural(len(rows), "row"), partial(at_reading.leave_out, rows))


def _bring_lit_back(window: AtWork, at_reading: AtReading) -> None:
    rows = _lit_rows(window)
    if rows:
        at_reading.bring_back(rows)
