"""Random walks over the acts on a table: what must hold whatever is done, in whatever order."""

from typing import Any

from attrs import evolve
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from sornix.core.document import (
    Document,
    History,
    add_summary,
    change_table,
    load_document,
    new_document,
    save_document,
)
from sornix.core.errors import SornixError
from sornix.core.figure import leave_out, series_points
from sornix.core.readings import Table, read_text
from sornix.core.readings.changes.again import read_again
from sornix.core.readings.changes.operations import OPERATIONS
from sornix.core.readings.formats.sources import read_file
from sornix.core.readings.tables.origin import Grouping
from tests.base import SornixTest

TEXT = """Site,Row,Mass (mg),Length (cm),On
A,1,12,3.5,2026-04-03
B,2,9 mg,4.25,2026-04-05
A,3,<2,5,2026-04-04
C,4,,6.125,2026-04-08
B,5,30,7,2026-04-13
A,6,31.5,8,2026-04-20
"""

_COLUMNS = st.sampled_from(["Site", "Row", "Mass", "Length", "On", "Twice", "Renamed"])
_ROWS = st.integers(0, 7)
# acts with arguments that may or may not make sense where the walk has come to
_OF_ROWS = st.one_of(
    st.tuples(st.just("sort"), st.fixed_dictionaries(
        {"column": _COLUMNS, "descending": st.booleans()})),
    st.tuples(st.just("insert_rows"), st.fixed_dictionaries(
        {"at": st.integers(0, 5), "count": st.integers(1, 3)})),
    st.tuples(st.just("delete_rows"), st.fixed_dictionaries(
        {"rows": st.lists(_ROWS, min_size=1, max_size=3)})),
)  # fmt: skip
STEPS = st.one_of(
    _OF_ROWS,
    st.tuples(st.just("rename"), st.fixed_dictionaries(
        {"column": _COLUMNS, "name": st.sampled_from(["Renamed", "Mass", "Two words"]),
         "unit": st.sampled_from(["", "mg", "m", "ells"])})),
    st.tuples(st.just("set_kind"), st.fixed_dictionaries(
        {"column": _COLUMNS, "kind": st.sampled_from(["number", "time", "text"])})),
    st.tuples(st.just("repair"), st.fixed_dictionaries(
        {"column": _COLUMNS, "form": st.sampled_from(["unit", "limit", "words"]),
         "way": st.sampled_from(["strip", "mark", "half", "missing"])})),
    st.tuples(st.sampled_from(["restore", "fill_down"]),
              st.fixed_dictionaries({"column": _COLUMNS})),
    st.tuples(st.just("convert"), st.fixed_dictionaries(
        {"column": st.sampled_from(["Mass", "Length", "Twice"]),
         "unit": st.sampled_from(["g", "m", "mg"])})),
    st.tuples(st.just("compute"), st.fixed_dictionaries(
        {"name": st.just("Twice"), "unit": st.just("mg"),
         "rule": st.fixed_dictionaries({"rule": st.just("formula"),
                                        "formula": st.sampled_from(
                                            ["2 * Mass", "Length + Row", "Twice + 1"])})})),
    st.tuples(st.just("settle"), st.fixed_dictionaries({"column": st.just("Twice")})),
    st.tuples(st.just("insert_column"), st.fixed_dictionaries({"at": st.integers(0, 3)})),
    st.tuples(st.just("delete_columns"), st.fixed_dictionaries(
        {"names": st.lists(_COLUMNS, min_size=1, max_size=2)})),
    st.tuples(st.just("set_cells"), st.fixed_dictionaries(
        {"cells": st.lists(st.tuples(_ROWS, st.integers(0, 6),
                                     st.sampled_from(["7", "x", "", "2026-05-01", "3.5 mg"])),
                           min_size=1, max_size=3, unique_by=lambda c: c[:2])})),
    st.tuples(st.just("add_columns"), st.fixed_dictionaries(
        {"columns": st.just([{"name": "More", "unit": "m", "cells": ["1", "2", "x"]}])})),
)  # fmt: skip


class Walks(SornixTest):
    def start(self) -> Document:
        return new_document(*read_file(self.write("walk.csv", TEXT)))

    def walk(self, document: Document, steps: list[tuple[str, dict[str, Any]]]) -> list[Document]:
        """The documents on the way; a refused step leaves the last one as it was."""
        documents = [document]
        for act, arguments in steps:
            before = documents[-1]
            try:
                documents.append(change_table(before, "walk", act, **arguments))
            except SornixError as error:
                self.assertTrue(error.what.endswith("."))
        return documents

    def test_every_act_is_on_the_ways(self) -> None:
        found: set[str] = set()

        @settings(max_examples=300)
        @given(STEPS)
        def look(step: tuple[str, dict[str, Any]]) -> None:
            found.add(step[0])

        look()
        self.assertEqual(found, set(OPERATIONS))

    @settings(max_examples=100, suppress_health_check=[HealthCheck.too_slow])
    @given(st.lists(STEPS, max_size=8))
    def test_the_file_read_again_comes_to_the_same_table(
        self, steps: list[tuple[str, dict[str, Any]]]
    ) -> None:
        end = self.walk(self.start(), steps)[-1].tables[0]
        again, lost = read_again(end)
        self.assertEqual(lost, ())
        self.assertEqual([c.cells() for c in again.columns], [c.cells() for c in end.columns])
        self.assertEqual(again.columns, end.columns)
        self.assertEqual(again.changes, end.changes)

    @given(st.lists(STEPS, max_size=6))
    def test_a_document_is_saved_whatever_was_done(
        self, steps: list[tuple[str, dict[str, Any]]]
    ) -> None:
        document = self.walk(self.start(), steps)[-1]
        path = self.folder / "walk.sornix"
        save_document(document, path, b"")
        self.assertEqual(load_document(path), document)

    @given(st.lists(STEPS, min_size=1, max_size=8))
    def test_undo_goes_back_the_way_that_was_come(
        self, steps: list[tuple[str, dict[str, Any]]]
    ) -> None:
        way = self.walk(self.start(), steps)
        history = History(way[0])
        for document in way[1:]:
            history = history.done("a step", document)
        forward = [history.present]
        while history.past:
            history = history.undone()
            forward.append(history.present)
        self.assertEqual(forward[-1], way[0])
        while history.future:
            history = history.redone()
        self.assertEqual(history.present, way[-1])

    @given(st.lists(_OF_ROWS, max_size=6), st.integers(0, 5))
    def test_a_reading_that_was_left_out_keeps_its_row(
        self, steps: list[tuple[str, dict[str, Any]]], row: int
    ) -> None:
        """The row that was left out is told by its number in the column Row."""
        document = self.start()
        figure = leave_out(document.figure, "s1", [row], "why")
        end = self.walk(evolve(document, figure=figure), steps)[-1]
        numbers = end.tables[0].column("Row").cells()
        left = [numbers[one.row] for one in end.figure.panel.series[0].left_out]
        self.assertEqual(left, [str(row + 1)] if str(row + 1) in numbers else [])

    @given(st.lists(STEPS, max_size=6))
    def test_a_summary_is_always_that_of_its_source(
        self, steps: list[tuple[str, dict[str, Any]]]
    ) -> None:
        document = add_summary(self.start(), Grouping("walk", ("Site",), ("Length",), ("n", "sum")))
        end = self.walk(document, steps)[-1]
        source, summary = end.tables
        grouping = summary.grouping
        assert grouping is not None
        (by,), (value,) = grouping.by, grouping.values
        column = source.column(value)
        total = sum(v for v, there in zip(column.numbers, column.present, strict=True) if there)
        self.assertAlmostEqual(sum(summary.column(f"{value} sum").numbers), total, 6)
        groups = set(source.column(by).cells())
        self.assertEqual(len(groups), summary.row_count)

    @given(st.lists(STEPS, max_size=6))
    def test_the_figure_always_has_its_columns(
        self, steps: list[tuple[str, dict[str, Any]]]
    ) -> None:
        for document in self.walk(self.start(), steps):
            panel = document.figure.panel
            for series in panel.series:
                points = series_points(series, panel, document.tables)
                self.assertLessEqual(len(points.x), document.tables[0].row_count)
            self.assert_whole(document.tables[0])

    def assert_whole(self, table: Table) -> None:
        """What a table says of its cells agrees with the cells."""
        for column in table.columns:
            self.assertEqual(column.count + column.missing, len(column))
            for row in (*column.texts, *column.bounds, *column.as_read):
                self.assertTrue(0 <= row < len(column))
            for row in column.texts:
                self.assertFalse(column.present[row], "a strange cell counts as missing")
            for row in column.bounds:
                self.assertTrue(column.present[row], "a limit is a reading")
        self.assertEqual(read_text(TEXT.encode(), "walk").column_names[:2], ("Site", "Row"))
