"""What leaves the bench, and the next run's readings: export, copy, print, patterns."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from attrs import evolve
from PyQt6.QtCore import QByteArray, QMimeData
from PyQt6.QtWidgets import QApplication

from sornix.core.document import (
    Document,
    drawn_table,
    load_with_state,
    matched,
    missing_columns,
    pages_of,
    read_for,
    small_panels,
    under_names,
    with_readings,
)
from sornix.core.errors import SornixError
from sornix.core.readings import Table, table_named, write_text
from sornix.core.text import plural

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence
    from pathlib import Path

    from sornix.gui.actions.atwork import AtWork
    from sornix.gui.dialogs.exportdialog import Chosen, ExportDialog
    from sornix.gui.dialogs.matchdialog import MatchDialog
    from sornix.gui.dialogs.printing import PrintDialog
    from sornix.gui.dialogs.reportdialog import ReportChosen, ReportDialog
    from sornix.gui.session.scene import Scene

# An OpenDocument drawing on the clipboard, by the name that office programs know it under.
FLAT_DRAWING = 'application/x-openoffice-drawing;windows_formatname="Drawing Format"'
# More rows than this are not worth being pasted as text.
_MOST_ROWS_COPIED = 20_000


class HandOver:
    """The acts by which figures go out of a window and other readings come into one."""

    def __init__(self, window: AtWork) -> None:
        self._window = window
        # the dialog that is open, or was last
        self.dialog: ExportDialog | PrintDialog | MatchDialog | ReportDialog | None = None

    # -- out -----------------------------------------------------------------------------------

    def _with_every_trend(self, then: Callable[[Scene], None]) -> None:
        self._window.bench.with_every_trend(self._window.start, then)

    def copy_caption(self) -> None:
        if self._window.bench.scene is not None:
            self._window.copy_text(self._window.bench.scene.caption)

    def copy_methods(self) -> None:
        if self._window.bench.scene is not None:
            self._window.copy_text(self._window.bench.scene.methods)

    def copy_told(self) -> None:
        """All numbers of the ledger."""
        if self._window.panes is not None:
            self._window.copy_text(self._window.panes.results.text)

    def ask_export(self) -> None:
        """Opens the dialog about formats, sizes and names."""
        self._with_every_trend(self._ask_export)

    def _ask_export(self, scene: Scene) -> None:
        window = self._window
        from sornix.gui.dialogs.exportdialog import ExportDialog

        take = partial(self.export, scene)
        folder = window.bench.path.parent if window.bench.path else window.files.folder
        self.dialog = ExportDialog(window.frame, scene, folder, window.bench.name, take)

    def export(self, scene: Scene, chosen: Chosen) -> None:
        """Writes the files that were chosen, and remembers how."""
        window = self._window
        window.bench.remember_export(chosen.export)
        window.files.folder = chosen.folder
        document = evolve(scene.document, export=chosen.export)
        drawing = scene.drawing
        from sornix.paint.exportfiles import planned

        if window.is_read(f for path in chosen.paths for f in planned(document, drawing, path)):
            return

        def write() -> list[Path]:
            from sornix.paint.exportfiles import write_out

            return [file for path in chosen.paths for file in write_out(document, drawing, path)]

        def done(files: list[Path]) -> None:
            many = files[0].name if len(files) == 1 else plural(len(files), "file")
            window.tell(f"written: {many}")

        window.start("exporting…", write, done, writes=True)

    def copy_figure(self) -> None:
        """Puts the figure on the clipboard as picture, as SVG, as OpenDocument drawing (a vector
        picture with its alternative text, for word processors) and as its numbers, so that each
        program takes what suits it."""
        self._with_every_trend(self._copy_figure)

    def _copy_figure(self, scene: Scene) -> None:
        window = self._window
        clipboard = QApplication.clipboard()
        if clipboard is None:
            return
        from sornix.paint.export import png, svg
        from sornix.paint.exportfiles import told_of
        from sornix.paint.flatdrawing import flat_drawing

        drawing, how = scene.drawing, scene.document.export
        told = told_of(scene.document, drawing)
        data = QMimeData()
        try:
            data.setData("image/png", QByteArray(png(drawing, how, told)))
        except SornixError as error:
            window.say(str(error))
            return
        data.setData("image/svg+xml", QByteArray(svg(drawing, how, told)))
        data.setData(FLAT_DRAWING, QByteArray(flat_drawing(drawing, told)))
        data.setText(_numbers(scene) or scene.caption)
        clipboard.setMimeData(data)
        window.tell("figure copied")

    def copy_numbers(self) -> None:
        """Copies what is drawn as text that a spreadsheet takes."""
        self._with_every_trend(self._copy_numbers)

    def _copy_numbers(self, scene: Scene) -> None:
        text = _numbers(scene)
        clipboard = QApplication.clipboard()
        if text and clipboard is not None:
            data = QMimeData()
            data.setText(text)
            # a word processor makes a table of this, a spreadsheet of either
            data.setHtml(_as_table(text))
            clipboard.setMimeData(data)
            self._window.tell("copied")
        else:
            self._window.say("These are too many readings to copy. Export them as CSV instead.")

    def ask_print(self) -> None:
        self._with_every_trend(self._ask_print)

    def _ask_print(self, scene: Scene) -> None:
        window = self._window
        from sornix.gui.dialogs.printing import PrintDialog

        self.dialog = PrintDialog(window.frame, scene.drawing, window.bench.name, window.tell)

    def ask_report(self) -> None:
        """Opens the dialog about a report of the whole document."""
        self._with_every_trend(self._ask_report)

    def _ask_report(self, scene: Scene) -> None:
        window = self._window
        from sornix.gui.dialogs.reportdialog import ReportDialog

        folder = window.bench.path.parent if window.bench.path else window.files.folder
        self.dialog = ReportDialog(
            window.frame, scene.document, folder, window.bench.name, self.write_report
        )

    def write_report(self, chosen: ReportChosen) -> None:
        """Writes the report that was chosen."""
        window = self._window
        window.files.folder = chosen.folder
        if window.is_read(chosen.paths):
            return

        def done(files: list[Path]) -> None:
            many = files[0].name if len(files) == 1 else plural(len(files), "file")
            window.tell(f"written: {many}")

        window.start("writing the report…", chosen.write, done, writes=True)

    # -- in ------------------------------------------------------------------------------------

    def ask_readings(self) -> None:
        """Asks for a file whose readings take the place of those drawn."""
        window = self._window
        if window.bench.document is not None:
            window.files.ask_open(self.replace_readings, "Readings in place of those drawn")

    def replace_readings(self, path: Path) -> None:
        """Draws the figure from the readings in a file; columns that come near are asked about."""
        document = self._window.bench.document
        if document is None:
            return

        def done(fresh: Table) -> None:
            self._match(document, fresh, path.name)

        self._window.start(f"reading {path.name}…", lambda: read_for(document, path), done)

    def _match(self, document: Document, fresh: Table, file: str) -> None:
        """Takes up other readings, after asking which columns are meant where names differ."""
        missing = missing_columns(document, fresh)
        if not missing:
            self._put(fresh)
        elif len(missing) > len(fresh.columns):
            names = ", ".join(f"“{m.name}”" for m in missing)
            columns = ", ".join(fresh.column_names)
            self._window.say(
                f"{file}: There is no column like {names}. Its columns are {columns}. Rename them "
                "there, or draw other columns here."
            )
        else:
            from sornix.gui.dialogs.matchdialog import MatchDialog

            def take(names: Mapping[str, str]) -> None:
                self._put(under_names(fresh, names))

            self.dialog = MatchDialog(self._window.frame, file, missing, fresh.column_names, take)

    def _put(self, fresh: Table) -> None:
        notes: list[str] = []

        def change(document: Document) -> Document:
            fitted = with_readings(document, fresh)
            notes.extend(fitted.notes)
            return fitted.document

        if self._window.bench.edit_document("replaced the readings", change) and notes:
            self._window.say(" ".join(notes))

    def ask_small_panels(self) -> None:
        """Asks for the files of several runs, for one page of small panels."""
        if self._window.bench.document is not None:
            self._window.files.ask_several("Runs for small panels", self.draw_small_panels)

    def draw_small_panels(self, paths: Sequence[Path]) -> None:
        """One page with the figure once for each file; what cannot be drawn is said."""
        document = self._window.bench.document
        if document is None:
            return
        problems: list[str] = []

        def make() -> tuple[Document, None]:
            tables = []
            for path in paths:
                try:
                    table = matched(document, read_for(document, path))
                    # what cannot be drawn is found out now, not with the whole page
                    with_readings(document, table)
                    tables.append(table)
                except SornixError as error:
                    problems.append(f"{path.name}: {error.what} {error.remedy}".strip())
            page, *others = pages_of(tables) if tables else [()]
            if others:
                rest = plural(len(tables) - len(page), "run")
                problems.append(f"{rest} had no room on the page.")
            return small_panels(document, page), None

        def tell() -> None:
            if problems:
                self._window.say(" ".join(problems))

        self._window.take_up("drawing the runs…", make, "Small panels", then=tell)

    # -- patterns --------------------------------------------------------------------------------

    def open_pattern(self, path: Path, document: Document) -> None:
        """Offers what a pattern that was opened is for."""
        window = self._window

        def change_itself() -> None:
            window.take_up(
                f"opening {path.name}…", lambda: load_with_state(path), path.stem, path=path
            )

        table = table_named(document.tables, drawn_table(document))
        columns = ", ".join(f"“{c.name}”" for c in table.columns[:4])
        window.offer(
            f"This is a pattern for readings with the columns {columns}"
            f"{' …' if len(table.columns) > 4 else ''}. It shows those that it was made with.",
            {
                "Choose readings…": self.ask_readings,
                "Several files…": self.ask_small_panels,
                "Change the pattern itself": change_itself,
            },
        )


def _numbers(scene: Scene) -> str:
    """What is drawn as tab-separated tables under their names; "" where that is too much."""
    from sornix.core.drawing import drawn_tables

    if sum(table.row_count for table in scene.tables) > _MOST_ROWS_COPIED:
        return ""
    tables = drawn_tables(scene.figure, scene.tables, scene.drawing)
    several = len(tables) > 1
    return "\n".join(
        (f"{table.name}\n" if several else "") + write_text(table, "\t", units=True).decode()
        for table in tables
    )


def _as_table(text: str) -> str:
    """Lines of cells with tabs between them as a table of HTML, a table for each part."""
    from html import escape

    parts = []
    for part in text.strip("\n").split("\n\n"):
        lines = [line.split("\t") for line in part.split("\n")]
        rows = "".join(
            "<tr>" + "".join(f"<td>{escape(cell)}</td>" for cell in line) + "</tr>"
            for line in lines
        )
        parts.append(f"<table>{rows}</table>")
    return "<br>".join(parts)
