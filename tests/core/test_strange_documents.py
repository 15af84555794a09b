"""Documents keep what was decided on reading, carry anything, and take nothing on trust."""

import io
import json
import os
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
from attrs import evolve
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from sornix.core.document import Document, load_document, new_document, save_document
from sornix.core.document.differences import differences
from sornix.core.document.stored.package import document_parts, packed
from sornix.core.document.stored.safetycopy import SafetyCopy, Work, left_behind
from sornix.core.errors import DocumentError
from sornix.core.figure import leave_out, set_title
from sornix.core.readings import Table, number_column, read_text
from sornix.core.readings.changes.again import read_again
from sornix.core.readings.formats.sources import read_file, whole_lines_of
from sornix.core.readings.tables.column import Column, moments_column, text_column, time_column
from sornix.demo import demo_document
from tests.base import SornixTest
from tools.fuzz import tried

# Letters that texts may be made of: halves of letters and controls among them.
_LETTERS = st.text(
    st.sampled_from("a1.,;-/:<> \t\n\r\"'é°\u00a0\x00\x0b\ud800\U0001f600"), max_size=12
)
_FAR = st.floats(-1e14, 1e14) | st.sampled_from(
    [253402300800.0, -62135596801.0, 1.7e9 + 1e-7, 9.1e9 + 0.25, 0.1]
)


@st.composite
def _columns(draw: st.DrawFn) -> tuple[Column, ...]:
    """Columns of any kind, with strange cells, limits and missing ones."""
    count = draw(st.integers(2, 6))
    rows = st.integers(0, count - 1)
    values = draw(st.lists(st.floats(allow_infinity=False), min_size=count, max_size=count))
    strange = draw(st.dictionaries(rows, _LETTERS.filter(bool), max_size=2))
    first = np.array(values)
    first[list(strange)] = np.nan
    known = np.flatnonzero(np.isfinite(first))
    bounds = {int(row): "<" for row in known[:1]}
    names = draw(st.lists(_LETTERS.filter(str.strip), min_size=3, max_size=3, unique=True))
    moments = draw(st.lists(st.none() | _FAR, min_size=count, max_size=count))
    texts = draw(st.lists(_LETTERS, min_size=count, max_size=count))
    seconds = [np.nan if m is None else m for m in moments]
    told = {row: "25/01/2026" for row, m in enumerate(moments) if m is None}
    return (
        evolve(number_column(names[0], first, "mg", strange), bounds=bounds, as_read={0: "x y"}),
        time_column(names[1], seconds, draw(st.sampled_from(["day", "second", "fraction"])), told),
        text_column(names[2], texts),
    )


class KeptAsDecided(SornixTest):
    def again(self, document: Document) -> Document:
        path = self.folder / "d.sornix"
        save_document(document, path, b"")
        return load_document(path)

    @settings(max_examples=120, suppress_health_check=[HealthCheck.too_slow])
    @given(_columns())
    def test_whatever_stands_in_the_cells_comes_back(self, columns: tuple[Column, ...]) -> None:
        document = new_document(Table("strange", columns, ("A note.",)))
        found = self.again(document)
        self.assertEqual(found, document)
        self.assertEqual(found.tables[0].remarks, document.tables[0].remarks)

    def test_what_was_told_as_text_is_no_reading_afterwards(self) -> None:
        for text, name, cell in (
            ("a;b\n1,5;2\n9.5;3\n2,5;4\n3,5;5,5\n1,25;4,5\n", "a", "9.5"),
            ("when,b\n01/13/2026,2\n01/14/2026,3\n25/01/2026,4\n02/20/2026,1\n", "when",
             "25/01/2026"),
        ):  # fmt: skip
            document = new_document(read_text(text.encode(), "told"))
            column = document.tables[0].column(name)
            self.assertEqual(list(column.texts.values()), [cell])
            found = self.again(document)
            self.assertEqual(found, document)
            self.assertIn(cell, " ".join(found.tables[0].remarks))

    def test_long_tables_come_back_too(self) -> None:
        count = np.arange(30_000.0)
        gap = np.where(count == 7, np.nan, count)
        seconds = 1.7e9 + count / 7
        texts = {5: "25/01/2026"}
        for columns in (
            (number_column("alone", gap),),
            (moments_column("t", seconds.copy()), number_column("y", gap)),
            (number_column("y", gap, "", {7: "1,5"}), text_column("w", ["a\r\n", ""] * 15_000)),
            (time_column("t", np.where(count == 5, np.nan, seconds), "fraction", texts),
             number_column("y", count)),
        ):  # fmt: skip
            document = new_document(Table("long", columns))
            self.assertEqual(self.again(document), document)

    def test_sources_are_told_from_the_folder_or_by_name(self) -> None:
        inside = self.folder / "runs"
        inside.mkdir()
        (inside / "run.csv").write_text("a,b\n1,2\n3,4\n")
        document = new_document(*read_file(inside / "run.csv"))
        self.assertEqual(self.again(document), document)
        parts = document_parts(document, b"", self.folder / "a" / "b" / "c" / "d")
        self.assertNotIn(str(self.folder), b"".join(parts.values()).decode())
        package = json.loads(document_parts(document, b"", self.folder)["datapackage.json"])
        told = package["resources"][0]["sornix"]["source"]["path"]
        self.assertEqual(told, "runs/run.csv")
        # the whole folder is carried somewhere else, and the readings are found again
        save_document(document, self.folder / "d.sornix", b"")
        moved = self.folder.with_name(self.folder.name + "-moved")
        self.addCleanup(lambda: moved.exists() and moved.rename(self.folder))
        self.folder.rename(moved)
        found = load_document(moved / "d.sornix")
        (moved / "runs" / "run.csv").write_text("a,b\n1,2\n3,4\n5,6\n")
        self.assertEqual(read_again(found.tables[0])[0].row_count, 3)


class TakenOnNoTrust(SornixTest):
    def setUp(self) -> None:
        super().setUp()
        document = demo_document("snail-counts")
        self.parts = document_parts(document, b"\x89PNG", self.folder)

    def load(self, **parts: bytes | None) -> Document:
        """The document with other parts in place of some; None leaves one out."""
        changed = {**self.parts, **{n.replace("_", "."): p for n, p in parts.items()}}
        content = packed({name: part for name, part in changed.items() if part is not None})
        return load_document(self.write("d.sornix", content))

    def _with(self, part: str, *way: Any, value: object) -> bytes:
        told = json.loads(self.parts[part])
        inner = told
        for step in way[:-1]:
            inner = inner[step]
        inner[way[-1]] = value
        return json.dumps(told).encode()

    def test_every_part_is_looked_at(self) -> None:
        first = ("resources", 0)
        ours = (*first, "sornix")
        fields = (*first, "schema", "fields", 2, "sornix")
        read_as = json.loads(self.parts["datapackage.json"])["resources"][0]["sornix"]["read_as"]
        wrong = (
            (*first, "notes", [1]), (*first, "notes", "text"), (*first, "title", 3),
            (*ours, "source", {"path": 5}), (*ours, "source", {"path": "a\0b"}),
            (*ours, "changes", [{"act": "explode", "arguments": {}}]), (*ours, "changes", 7),
            (*ours, "read_as", {**read_as, "doubts": {"decimal": 4}}),
            (*ours, "read_as", {**read_as, "words": ["colour"]}),
            (*ours, "read_as", {**read_as, "held": {"separator": 1}}),
            (*ours, "read_as", {**read_as, "dialect": {"header": -1}}),
            (*ours, "read_as", {**read_as, "dialect": {"encoding": "klingon"}}),
            (*ours, "summary", {"source": "x", "by": [1], "values": [], "statistics": []}),
            (*fields, "texts", {"999": "x"}), (*fields, "exact", {"0": "x"}),
            (*fields, "bounds", {"0": "!"}), (*fields, "form", "century"),
            (*fields, "computed", {"rule": "spell"}),
        )  # fmt: skip
        for *steps, value in wrong:
            with self.subTest(way=steps[-1], value=str(value)[:40]):
                changed = self._with("datapackage.json", *steps, value=value)
                with self.assertRaises(DocumentError) as caught:
                    self.load(datapackage_json=changed)
                self.assertLess(len(str(caught.exception)), 1200)
        others: tuple[tuple[tuple[Any, ...], Any], ...] = (
            (("export",), {"endings": [".exe"]}), (("export",), "all"), (("pattern",), "no"),
            (("figures",), []), (("shown",), 1), (("shown",), -1), (("shown",), "first"),
            *((("figures", 0, *way), value) for way, value in (
                (("width_mm",), True), (("title",), 5), (("panels",), {}), (("width_mm",), 1e999),
                (("panels", 0, "series", 0, "look"), 10**40),
            )),
        )  # fmt: skip
        for way, value in others:
            with self.subTest(way=way, value=str(value)[:40]), self.assertRaises(DocumentError):
                self.load(figure_json=self._with("figure.json", *way, value=value))
        deep = b'{"format":' + b"[" * 100_000 + b"]" * 100_000 + b"}"
        for parts in ({"figure_json": deep}, {"figure_json": b"\xff"}, {"datapackage_json": None}):
            with self.assertRaises(DocumentError):
                self.load(**parts)

    def test_what_opens_can_be_saved_and_a_trap_does_not_open(self) -> None:
        strange = self._with("figure.json", "figures", 0, "title", value="\ud800 \x0b <b>")
        found = self.load(figure_json=strange)
        save_document(found, self.folder / "again.sornix", b"")
        self.assertEqual(load_document(self.folder / "again.sornix"), found)
        stream = io.BytesIO()
        with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
            for name, part in self.parts.items():
                content = b" " * (65 << 20) if name == "figure.json" else part
                archive.writestr(name, content)
        with self.assertRaises(DocumentError) as caught:
            load_document(self.write("trap.sornix", stream.getvalue()))
        self.assertIn("too large", str(caught.exception))
        # many readings that pack well are no trap: they are packed less
        table = Table("many", (number_column("y", np.zeros(20_000_000)),))
        save_document(new_document(table), self.folder / "many.sornix", b"")
        self.assertEqual(load_document(self.folder / "many.sornix").tables[0].row_count, 20_000_000)

    def test_a_figure_can_be_drawn_with_any_options_that_its_schema_allows(self) -> None:
        # those that once could not, and others
        for seed in (11, 15, 17, 79, 101, 1273, *range(40)):
            with self.subTest(seed=seed):
                _, became, _ = tried(seed, "", "options")
                self.assertIn(became, ("drawn", "not drawn", "refused"))

    def test_a_row_far_beyond_the_readings_costs_nothing(self) -> None:
        document = demo_document("nitrate-standards")
        figure = leave_out(document.figure, "s1", [10_000_000_000], "far")
        save_document(evolve(document, figure=figure), self.folder / "far.sornix", b"")
        found = load_document(self.folder / "far.sornix")
        self.assertEqual(found.figure.panel.series[0].left_out[0].row, 10_000_000_000)


class Copies(SornixTest):
    def test_a_copy_is_kept_up_with_what_changes_and_found_when_its_writer_is_gone(self) -> None:
        root = self.folder / "copies"
        document = demo_document("nitrate-standards")
        copy = SafetyCopy(root)
        work = Work("mine", Path("/somewhere/mine.sornix"))
        copy.write(document, work)
        cells = {p for p in root.rglob("*.part") if b"Absorbance" in p.read_bytes()[:200]}
        times = {p: p.stat().st_mtime_ns for p in cells}
        changed = evolve(document, figure=set_title(document.figure, "Changed"))
        copy.write(changed, work)
        self.assertEqual(left_behind(root), [], "somebody works with it")
        self.assertTrue(any(p.exists() and p.stat().st_mtime_ns == t for p, t in times.items()))
        count = len(list(root.rglob("*.part")))
        copy.write(document, work)
        self.assertEqual(len(list(root.rglob("*.part"))), count, "what is not used is gone")
        copy.write(changed, work)
        copy.let_go()
        (left,) = left_behind(root)
        self.assertEqual((left.work.name, left.work.path), (work.name, work.path))
        self.assertEqual(left.load(), changed)
        taken = left.take_over()
        assert taken is not None
        self.assertIsNone(left.take_over(), "one at a time")
        taken.forget()
        self.assertEqual(list(root.iterdir()), [])

    def test_tables_that_move_up_keep_their_own_cells(self) -> None:
        root = self.folder / "copies"
        copy = SafetyCopy(root)
        document = demo_document("nitrate-standards")
        gone, stays, comes = (
            evolve(document.tables[0], name=name) for name in ("\u0391", "\u0392", "\u0393")
        )
        first = stays.columns[0]
        stays = evolve(
            stays, columns=(evolve(first, values=first.values[::-1]), *stays.columns[1:])
        )
        copy.write(evolve(document, tables=(*document.tables, gone, stays)), Work("x"))
        now = evolve(document, tables=(*document.tables, stays, comes))
        copy.write(now, Work("x"))
        copy.let_go()
        (left,) = left_behind(root)
        self.assertEqual(left.load().tables, now.tables)
        taken = left.take_over()
        left.throw_away()
        self.assertTrue(left.folder.exists(), "somebody took it over")
        assert taken is not None
        taken.let_go()
        left.throw_away()
        self.assertFalse(left.folder.exists())

    def test_a_damaged_copy_is_a_sentence(self) -> None:
        root = self.folder / "copies"
        copy = SafetyCopy(root)
        copy.write(demo_document("depth-profile"), Work("x"))
        copy.let_go()
        (left,) = left_behind(root)
        for part in left.folder.glob("*.part"):
            part.write_bytes(b"\0")
        with self.assertRaises(DocumentError):
            left.load()
        (left.folder / "copy.json").write_bytes(b"{")
        (left,) = left_behind(root)
        with self.assertRaises(DocumentError):
            left.load()
        (root / "empty").mkdir()
        os.utime(root / "empty", (1, 1))
        left_behind(root)
        self.assertFalse((root / "empty").exists(), "old litter goes")


class Differences(SornixTest):
    def test_what_differs_is_said_in_words(self) -> None:
        mine = demo_document("nitrate-standards")
        self.assertEqual(differences(mine, demo_document("nitrate-standards")), [])
        series = evolve(mine.figure.panel.series[0], mark="line")
        figure = set_title(mine.figure.with_panel(evolve(mine.figure.panel, series=(series,))), "B")
        values = mine.tables[0].columns[1].numbers.copy()
        values[3] = 0.5
        column = evolve(mine.tables[0].columns[1], values=values)
        columns = (mine.tables[0].columns[0], column, *mine.tables[0].columns[2:])
        other = evolve(mine, figure=figure, tables=(evolve(mine.tables[0], columns=columns),))
        self.assertEqual(
            differences(mine, other),
            [
                (
                    "“nitrate-standards”: 1 cell of “Absorbance at 220 nm”, first in row 4: "
                    "0.077 here, 0.5 there."
                ),
                "panel 1, series s1, mark: “points” here, “line” there.",
                "title: “Nitrate standards, 12 March run” here, “B” there.",
            ],
        )


class Growing(SornixTest):
    def test_a_line_without_its_end_waits_whatever_the_encoding(self) -> None:
        text = "t,y\n1,2\n3,4"
        for encoding in ("utf-8", "utf-16", "utf-16-le", "utf-16-be", "cp1252"):
            with self.subTest(encoding):
                raw = whole_lines_of(text.encode(encoding))
                self.assertEqual(raw.decode(encoding), "t,y\n1,2\n")
        self.assertEqual(whole_lines_of(b"no end"), b"")
        # a letter whose second byte is that of a line end
        self.assertEqual(whole_lines_of("a\n\u0a41".encode("utf-16-le")), "a\n".encode("utf-16-le"))
