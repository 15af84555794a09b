"""Names are text wherever they are shown: nothing in them is run, opened or taken for markup."""

import html
from collections.abc import Iterator
from html.parser import HTMLParser
from xml.etree import ElementTree as ET

from attrs import evolve
from click.testing import CliRunner
from PyQt6.QtCore import QAbstractItemModel, Qt
from PyQt6.QtWidgets import QApplication, QDialog, QLabel, QMessageBox, QTableView, QWidget

from sornix.cli import main
from sornix.core import figure as edits
from sornix.core.document import Document, Missing, load_document, save_document
from sornix.core.letters import printable
from sornix.gui.dialogs.matchdialog import MatchDialog
from sornix.paint.export import pdf, svg
from sornix.paint.exportfiles import told_of
from tests.qt import WindowTest

NAMES = (
    "<img src=/etc/passwd>", "a & b &amp; <b>c", 'say "hello" \'there\'',
    "</title><script>x</script>",
    "tail ]]> --> end", "bell \x07 and \x0b \x1b[31m", "half \ud800 letter", "`*_[link](x)_*`",
)  # fmt: skip


class Tags(HTMLParser):
    """The tags in a piece of HTML."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.found: set[str] = set()
        self.feed(text)

    def handle_starttag(self, tag: str, _attrs: object) -> None:
        self.found.add(tag)


class HostileNames(WindowTest):
    def named(self, name: str) -> Document:
        """A figure that bears a name wherever a name can stand."""
        self.window.open_demo("nitrate-standards")
        self.settle()
        document = self.document
        table = document.tables[0]
        x, y, *others = table.columns
        columns = (evolve(x, name=f"{name} x", unit=name), evolve(y, name=name), *others)
        read_as = table.read_as and evolve(table.read_as, doubts={"decimal": name})
        table = evolve(table, name=name, columns=columns, notes=(name,), read_as=read_as)
        figure = document.figure
        series = evolve(figure.panel.series[0], table=name, x=f"{name} x", y=name, name=name)
        panel = evolve(figure.panel, series=(series,), title=name)
        figure = evolve(figure.with_panel(panel), title=name, source=name)
        tables = (table,)
        figure = edits.add_note(figure, tables, name, series="s1", row=3)
        figure = edits.add_guide(figure, tables, "y", 0.4, label=name)
        figure = edits.set_axis_title(figure, "y", name)
        figure = edits.leave_out(figure, "s1", [5], name)
        return Document(tables, figure)

    def _windows(self) -> Iterator[QWidget]:
        """The window and every dialog that tells a name."""
        window = self.window
        yield window.frame
        name = window.bench.tables[0].name
        missing = [Missing(name, (name, "other"))]
        for ask in (
            window.hand_over.ask_export,
            window.hand_over.ask_print,
            window.readings.rename_table,
            window.menus.actions["compute"].trigger,
            window.menus.actions["summary"].trigger,
            lambda: MatchDialog(window.frame, name, missing, (name, "other"), print),
            lambda: window.files.ask_before_losing(name, print, print),
        ):
            ask()
            self.settle()
            kinds = (QDialog, QMessageBox)
            dialogs = [w for w in QApplication.topLevelWidgets() if isinstance(w, kinds)]
            for dialog in [d for d in dialogs if d.isVisible()]:
                yield dialog
                dialog.close()
            self.settle()

    def test_the_window_and_its_dialogs_show_names_as_they_stand(self) -> None:
        for name in NAMES:
            self.window.bench.begin(self.named(name), path=None, name=printable(name))
            self.window.say(name)
            self.window.tell(name)
            self.settle()
            for root in self._windows():
                for widget in [root, *root.findChildren(QWidget)]:
                    with self.subTest(name, kind=type(widget).__name__):
                        self._check_tip(widget.toolTip())
                        if isinstance(widget, QLabel):
                            self._check_label(widget)
                        if isinstance(widget, QTableView):
                            self._check_model(widget.model())

    def _check_label(self, label: QLabel) -> None:
        if label.textFormat() != Qt.TextFormat.PlainText and "<" in label.text():
            allowed = {"i", "sup", "sub", "span", "br", "b"} if "</" in label.text() else set()
            self.assertLessEqual(Tags(label.text()).found, allowed - {"b"}, label.text())

    def _check_tip(self, tip: str) -> None:
        if "<" in tip:
            self.assertLessEqual(Tags(tip).found, {"span", "br"}, tip)

    def _check_model(self, model: QAbstractItemModel | None) -> None:
        assert model is not None
        for column in range(3):
            for row in range(2):
                tip = model.data(model.index(row, column), Qt.ItemDataRole.ToolTipRole)
                self._check_tip(str(tip or ""))
            across = Qt.Orientation.Horizontal
            head = model.headerData(column, across, Qt.ItemDataRole.ToolTipRole)
            self._check_tip(str(head or ""))

    def test_what_leaves_the_window_is_well_formed_and_says_the_name(self) -> None:
        for name in NAMES:
            document = self.named(name)
            self.window.bench.begin(document, path=None, name=printable(name))
            self.settle()
            scene = self.window.bench.scene
            assert scene is not None
            told = told_of(document, scene.drawing)
            with self.subTest(name, form="svg"):
                drawn = ET.fromstring(svg(scene.drawing, told=told).decode())
                text = "".join(drawn.itertext())
                self.assertIn(printable(name).split(" ")[0], text)
                self.assertFalse(drawn.findall(".//{*}script") + drawn.findall(".//{*}a"))
            with self.subTest(name, form="pdf"):
                self.assertTrue(pdf(scene.drawing, told=told).startswith(b"%PDF"))
            with self.subTest(name, form="clipboard"):
                self.window.hand_over.copy_figure()
                clipboard = QApplication.clipboard()
                data = clipboard.mimeData() if clipboard is not None else None
                assert data is not None
                self.assertFalse(data.hasHtml())
            path = self.folder / "hostile.sornix"
            save_document(document, path, b"")
            self.assertEqual(load_document(path), document)
            with self.subTest(name, form="report"):
                self._check_reports(name)

    def _check_reports(self, name: str) -> None:
        csv = self.folder / "run.csv"
        quoted = printable(name).replace('"', '""')
        csv.write_text(f'"{quoted}",y\n' + "".join(f"{i},{2 * i + i % 3}\n" for i in range(9)))
        read = CliRunner().invoke(main, ["readings", str(csv), "--json"])
        import json

        columns = [column["name"] for column in json.loads(read.stdout)["columns"]]
        for form in ("html", "md", "txt"):
            out = self.folder / f"report.{form}"
            words = ["fit", str(csv), "--x", columns[0], "--y", "y", "--report", str(out)]
            result = CliRunner().invoke(main, words)
            self.assertEqual(result.exit_code, 0, result.output)
            text = out.read_text()
            if form == "html":
                ours = {"html", "head", "meta", "title", "style", "body", "h1", "h2", "table",
                        "tr", "td", "small", "p"}  # fmt: skip
                self.assertLessEqual(Tags(text).found, ours)
                self.assertIn(columns[0].split(" ")[0], html.unescape(text))
            if form == "md":
                self.assertNotRegex(text, r"(?<!\\)<(img|script|b)")

    def test_names_of_files_may_hold_anything(self) -> None:
        rows = "".join(f"{i},{2 * i}\n" for i in range(5))
        for raw in (b"bad \xff name.csv", b"<b>bold.csv", b"new\nline.csv", b"--json.csv"):
            path = self.folder / __import__("os").fsdecode(raw)
            path.write_text("x,y\n" + rows)
            with self.subTest(raw):
                self.open(path)
                self.assertEqual(self.window.bench.name, printable(path.stem))
                self._check_label(self.window.frame.name)
                words = ["plot", str(path), "Plot y against x", "--out", str(path) + ".svg"]
                result = CliRunner().invoke(main, words)
                self.assertEqual(result.exit_code, 0, result.output)
                ET.fromstring(path.with_name(path.name + ".svg").read_text())
