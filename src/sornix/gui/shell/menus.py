"""The acts of the main window."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QMessageBox

from sornix.demo import DEMOS
from sornix.gui.actions.figureacts import figure_acts
from sornix.gui.actions.readingsacts import readings_acts
from sornix.gui.actions.trendacts import trend_acts
from sornix.gui.base.themes import THEMES
from sornix.gui.shell.figureacts import several_figures_acts
from sornix.gui.shell.statementacts import history_act, statement_acts
from sornix.gui.widgets.acts import Act, State
from sornix.version import __version__

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from PyQt6.QtWidgets import QWidget

    from sornix.gui.shell.panes import Panes
    from sornix.gui.shell.window import Window


def window_acts(window: Window) -> list[Act]:
    """Every act, in the order of the menus."""
    return [
        *_file_acts(window),
        *_edit_acts(window),
        *readings_acts(window, window.readings, window.at_reading),
        *figure_acts(window),
        *several_figures_acts(window),
        *trend_acts(window),
        *_view_acts(window),
        *_help_acts(window),
    ]


def _file_acts(window: Window) -> list[Act]:
    hand_over = window.hand_over
    demos = [
        Act(
            f"demo/{d.name}",
            "File",
            d.words,
            partial(window.open_demo, d.name),
            under="Open a demo figure",
        )
        for d in DEMOS.values()
    ]
    return [
        Act("open", "File", "Open…", window.ask_open, "Ctrl+O"),
        Act("new-table", "File", "New table to type into", window.readings.new_table, "Ctrl+N"),
        *demos,
        *(_recent_act(window, number) for number in range(8)),
        Act("save", "File", "Save", window.saving.save, "Ctrl+S", window.open_state, divided=True),
        Act("save-as", "File", "Save as…", window.saving.save_as, "Ctrl+Shift+S",
            window.open_state),
        Act("save-pattern", "File", "Save as a pattern for other readings…",
            window.saving.save_pattern, "", window.open_state),
        Act("replace-readings", "File", "Replace the readings by those of a file…",
            hand_over.ask_readings, "Ctrl+Shift+O", window.open_state, divided=True),
        Act("small-panels", "File", "Small panels of several files…",
            hand_over.ask_small_panels, "", window.open_state),
        Act("export", "File", "Export figure or numbers…", hand_over.ask_export, "Ctrl+E",
            window.open_state, divided=True),
        Act("document-report", "File", "Report…", hand_over.ask_report, "Ctrl+Shift+E",
            window.open_state),
        Act("print", "File", "Print…", hand_over.ask_print, "Ctrl+P", window.open_state),
        Act("close", "File", "Close the window", window.close, "Ctrl+W", divided=True),
        Act("quit", "File", "Quit", window.quit, "Ctrl+Q"),
    ]  # fmt: skip


def _recent_act(window: Window, number: int) -> Act:
    def path() -> Path | None:
        recent = window.settings.recent
        return recent[number] if number < len(recent) else None

    def run() -> None:
        found = path()
        if found is not None:
            window.open_path(found)

    def state() -> State:
        found = path()
        return State(found is not None, str(found or ""), shown=found is not None)

    return Act(f"recent/{number}", "File", "", run, "", state, under="Open recent")


def _edit_acts(window: Window) -> list[Act]:
    bench, hand_over = window.bench, window.hand_over

    return [
        Act("undo", "Edit", "Undo", bench.undo, "Ctrl+Z", lambda: _named("Undo", bench.undo_name)),
        Act("redo", "Edit", "Redo", bench.redo, "Ctrl+Shift+Z",
            lambda: _named("Redo", bench.redo_name)),
        history_act(window),
        Act("copy-figure", "Edit", "Copy figure", hand_over.copy_figure, "Ctrl+Shift+C",
            window.open_state, divided=True),
        Act("copy-drawn", "Edit", "Copy the numbers that are drawn", hand_over.copy_numbers,
            "", window.open_state),
        Act("copy-cells", "Edit", "Copy cells", window.readings.clipboard.copy_cells, "",
            window.open_state),
        Act("paste", "Edit", "Paste: over cells, or as a new table",
            window.readings.clipboard.paste, "Ctrl+V"),
        Act("copy-caption", "Edit", "Copy caption", hand_over.copy_caption, "", window.open_state),
        Act("copy-methods", "Edit", "Copy methods text", hand_over.copy_methods, "",
            window.open_state),
        Act("copy-numbers", "Edit", "Copy all numbers of the ledger", hand_over.copy_told, "",
            window.open_state),
        *statement_acts(window),
        Act("preferences", "Edit", "Preferences…", window.ask_preferences, "Ctrl+,",
            divided=True),
    ]  # fmt: skip


def _named(word: str, step: str) -> State:
    """Undo and redo say what they would take back or bring back."""
    return State(bool(step), f"{word}: {step}" if step else "")


def _view_acts(window: Window) -> list[Act]:
    def part(name: str, which: Callable[[Panes], QWidget], words: str, shortcut: str = "") -> Act:
        def widget() -> QWidget | None:
            return which(window.panes) if window.panes else None

        def toggle() -> None:
            shown = widget()
            if shown is not None:
                shown.setVisible(shown.isHidden())

        def state() -> State:
            shown = widget()
            return State(shown is not None, on=shown is not None and not shown.isHidden())

        return Act(f"show-{name}", "View", words, toggle, shortcut, state)

    return [
        part("tray", lambda p: p.table_pane, "Readings tray", "F7"),
        part("statement", lambda p: p.statement, "Statement"),
        part("caption", lambda p: p.caption, "Caption"),
        part("ledger", lambda p: p.results, "Results", "F8"),
        _row_act(window),
        *_zoom_acts(window),
        *(_theme_act(window, name) for name in THEMES),
    ]


def _row_act(window: Window) -> Act:
    """The row of figures, or the name of the one in sight alone."""

    def toggle() -> None:
        if window.panes is not None:
            window.panes.figures.set_folded(not window.panes.figures.is_folded)

    def state() -> State:
        row = window.panes.figures if window.panes is not None else None
        several = row is not None and not row.isHidden()
        return State(several, on=row is not None and several and not row.is_folded)

    return Act("show-figures", "View", "Row of figures", toggle, "F9", state)


def _zoom_acts(window: Window) -> list[Act]:
    def zoom(step: int) -> None:
        if window.panes is not None:
            window.panes.zoom(step)

    return [
        Act(
            "zoom-in",
            "View",
            "Paper larger",
            partial(zoom, 1),
            "Ctrl++",
            window.open_state,
            divided=True,
        ),
        Act("zoom-out", "View", "Paper smaller", partial(zoom, -1), "Ctrl+-", window.open_state),
        Act(
            "zoom-fit",
            "View",
            "Fit the paper into the window",
            partial(zoom, 0),
            "Ctrl+0",
            window.open_state,
        ),
    ]


def _theme_act(window: Window, name: str) -> Act:
    def state() -> State:
        return State(on=window.settings.text("theme", "desktop") == name)

    choose = partial(window.choose_theme, name)
    return Act(f"theme/{name}", "View", THEMES[name], choose, "", state, under="Theme")


def _help_acts(window: Window) -> list[Act]:
    def about() -> None:
        box = QMessageBox(window.frame)
        box.setWindowTitle("About Sornix")
        box.setText(f"Sornix {__version__}")
        box.setInformativeText(
            "Measured readings as figures, least-squares trends, and a plain account of both.\n\n"
            "Free software under the GNU General Public License, version 3 or later; it comes "
            "without any warranty."
        )
        box.finished.connect(box.deleteLater)
        box.open()

    return [
        Act("guide", "Help", "Guide", window.finding.show_help, "F1"),
        Act(
            "shortcuts", "Help", "Shortcuts", partial(window.finding.show_help, shortcuts=True), ""
        ),
        Act("find", "Help", "Find an act…", window.finding.find_act, "Ctrl+K"),
        Act("about", "Help", "About Sornix", about, divided=True),
    ]
