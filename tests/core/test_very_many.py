"""More readings than anyone would keep in memory: what is laid down on the disk, and gone through
in pieces."""

import os
from pathlib import Path
from unittest import mock

import numpy as np
import pyarrow as pa
from attrs import evolve
from hypothesis import given
from hypothesis import strategies as st
from pyarrow import feather, parquet

from sornix.core.document import (
    change_table,
    load_document,
    new_document,
    save_document,
)
from sornix.core.document.stored import toolong
from sornix.core.drawing import draw_figure
from sornix.core.errors import DocumentError, EditRefused, ReadingsError, TrendImpossible
from sornix.core.figure import add_trend, fitted_trends, series_points, trend_fit
from sornix.core.readings import Table
from sornix.core.readings.formats.sources import read_file
from sornix.core.readings.tables import laid
from sornix.core.readings.tables.column import (
    Column,
    ends_of,
    largest_of,
    mean_of,
    number_column,
    pieces,
)
from sornix.core.readings.tables.correlation import correlations
from sornix.core.readings.tables.everyrow import EveryRow
from sornix.core.readings.tables.grouping import group_rows
from sornix.core.readings.tables.origin import Grouping
from sornix.core.text import counted, plural
from sornix.core.trends.fits.account import influence_rows, test_rows
from tests.base import SornixTest
from tests.core.measure import PlainMeasure

_COUNT = 300_000


class VeryMany(SornixTest):
    """Everything that takes more than a little is laid down in the folder of the test."""

    def setUp(self) -> None:
        super().setUp()
        self.laid = self.folder / "laid"
        for name, value in (("folder", lambda: self.laid), ("MOST_IN_MEMORY", 1 << 16),
                            ("_MOST_IN_ROOM", 1 << 16)):  # fmt: skip
            patched = mock.patch.object(laid, name, value)
            patched.start()
            self.addCleanup(patched.stop)

    def _columns(self) -> dict[str, object]:
        random = np.random.default_rng(12)
        gaps = random.normal(12, 1, _COUNT)
        gaps[::1000] = np.nan
        endless = random.normal(0, 1, _COUNT)
        endless[7] = np.inf
        days = np.arange(_COUNT) * 60 + 1.5
        return {
            "Time (s)": np.arange(_COUNT) * 0.01,
            "Level (m)": np.round(2 + random.normal(0, 0.1, _COUNT), 3),
            "Temperature (°C)": gaps,
            "Odd": endless,
            "Shots": pa.array([None, 2**60, *range(_COUNT - 2)], pa.int64()),
            "Moment": pa.array([None, *(days[1:] * 1e6).tolist()])
            .cast(pa.int64())
            .cast(pa.timestamp("us")),
            "Site": [f"site {i % 3}" for i in range(_COUNT)],
            "Rough": random.normal(0, 1, _COUNT).round(2).astype(np.float32),
        }

    def _opened_anew(self, path: Path) -> Table:
        with mock.patch.object(laid, "MOST_IN_MEMORY", 1 << 40):
            copy = self.folder / f"copy{path.suffix}"
            copy.write_bytes(path.read_bytes())
            (table,) = read_file(copy)
        return table

    def test_columns_that_are_laid_down_are_those_that_are_in_memory(self) -> None:
        table = pa.table(self._columns())
        parquet.write_table(table, self.folder / "a.parquet", row_group_size=70_000)
        feather.write_feather(table, str(self.folder / "b.arrow"), compression="uncompressed")
        for name in ("a.parquet", "b.arrow"):
            path = self.folder / name
            (found,) = read_file(path)
            wanted = self._opened_anew(path)
            self.assertEqual(found.columns, wanted.columns)
            self.assertEqual(found.notes, wanted.notes)
            kinds = ["number"] * 5 + ["time", "text", "number"]
            self.assertEqual([column.kind for column in found.columns], kinds)
            for column, source in zip(found.columns, table.columns, strict=True):
                if column.has_places:
                    known = source.cast(pa.float64(), safe=False) if column.kind == "number" else (
                        source.cast(pa.int64()).cast(pa.float64()))  # fmt: skip
                    there = np.isfinite(known.to_numpy())
                    np.testing.assert_array_equal(column.present, there)
                    self.assertEqual(column.is_complete, bool(there.all()))
            self.assertIn("“Shots” have more than 15 digits", " ".join(found.notes))
            np.testing.assert_array_equal(found.columns[1].numbers, table.column(1).to_numpy())
            # numbers of fewer bits are the decimals that they stand for
            rough = table.column("Rough").to_numpy().astype(np.float64).round(2)
            np.testing.assert_array_equal(found.column("Rough").numbers, rough)

    def test_what_is_known_of_a_file_is_not_read_again_until_it_changes(self) -> None:
        path = self.folder / "a.parquet"
        parquet.write_table(pa.table({"x": np.arange(9e4), "y": np.arange(9e4) % 7}), path)
        (first,) = read_file(path)
        (kept,) = self.laid.iterdir()
        self.assertEqual(self.laid.stat().st_mode & 0o077, 0, "nobody else looks into it")
        with mock.patch("sornix.core.readings.formats.apart.found_in", side_effect=AssertionError):
            (again,) = read_file(path)
        self.assertEqual(first, again)
        # another file of that name: what was laid down of the old one goes
        parquet.write_table(pa.table({"x": np.arange(8e4), "y": np.arange(8e4) % 5}), path)
        (other,) = read_file(path)
        self.assertEqual(other.row_count, 80_000)
        (now,) = self.laid.iterdir()
        self.assertNotEqual(now, kept)
        # those who have the old one still have it
        self.assertEqual(first.columns[1].ends, (0.0, 6.0))
        # what is not as it was laid down is laid down anew
        for wrong in (now.read_bytes()[:5000], b"", now.read_bytes()[:-8] + bytes(8)):
            now.write_bytes(wrong)
            self.assertEqual(read_file(path)[0].columns[1].ends, (0.0, 4.0))

    def test_no_more_is_kept_than_there_is_room_for(self) -> None:
        for number in range(4):
            path = self.folder / f"{number}.parquet"
            parquet.write_table(pa.table({"x": np.arange(9e4) + number}), path)
            with mock.patch.object(laid, "_MOST_BYTES", 1_700_000):
                read_file(path)
            for one in self.laid.iterdir():
                os.utime(one, (number, number))
        self.assertEqual(len(list(self.laid.iterdir())), 2)
        with mock.patch("os.posix_fallocate", side_effect=OSError):
            # without a disk there may still be memory
            self.assertEqual(laid.room_for(100_000).shape, (100_000,))

    def test_values_on_the_disk_are_there_again_after_they_were_let_go_of(self) -> None:
        values = laid.room_for(1 << 20)
        values[:] = np.random.default_rng(1).normal(size=len(values))
        copy = values.copy()
        for part in (values, values[5:-3], values[1000:1010], copy):
            laid.let_go_of(part)
            np.testing.assert_array_equal(values, copy)
        self.assertEqual(list(self.laid.iterdir()), [])

    @given(st.integers(0, 10**6), st.sampled_from((1, 2, 65_536, 65_537, 131_073, 200_000)))
    def test_what_is_told_in_pieces_is_told_of_all(self, seed: int, count: int) -> None:
        random = np.random.default_rng(seed)
        values = np.round(random.normal(0, 2, count), 1)
        self.assertEqual(ends_of(values), (values.min(), values.max()))
        self.assertEqual(largest_of(values), int(np.abs(values).argmax()))
        self.assertAlmostEqual(mean_of(values), float(values.mean()), 12)
        self.assertAlmostEqual(mean_of(np.full(count, 1.2e308)) / 1.2e308, 1.0, 9)
        whole = [part[min(i, 1) :] for i, part in enumerate(pieces(values))]
        np.testing.assert_array_equal(np.concatenate(whole), values)
        for way, run in ((2, np.arange(count)), (1, np.arange(count) // 3), (-2, -np.arange(count)),
                         (0, np.r_[np.arange(count), 0.0])):  # fmt: skip
            column = number_column("x", run.astype(float))
            known = column.way if count > 3 else 0
            self.assertEqual(known, way if count > 3 else 0)
            self.assertEqual(column.ends, (run.min(), run.max()))

    @given(st.integers(1, 400), st.lists(st.integers(0, 399), max_size=20))
    def test_the_indices_of_every_row_answer_as_an_array_of_them_does(
        self, count: int, some: list[int]
    ) -> None:
        lazy, array = EveryRow(count), np.arange(count)
        which = np.array([at % count for at in some], dtype=np.intp)
        mask = np.isin(array, which)
        for asked in (slice(None), slice(3, 90, 7), which, mask):
            np.testing.assert_array_equal(lazy[asked], array[asked])
        self.assertEqual((len(lazy), lazy.shape, lazy.tolist()), (count, (count,), array.tolist()))
        self.assertEqual((int(lazy[0]), int(lazy[-1])), (0, count - 1))
        np.testing.assert_array_equal(np.asarray(lazy), array)
        with self.assertRaises(IndexError):
            lazy[count]

    def test_a_figure_and_its_trend_are_those_of_readings_in_memory(self) -> None:
        path = self.folder / "a.parquet"
        parquet.write_table(pa.table(self._columns()).select([0, 1]), path)
        drawn = []
        for (table,) in (read_file(path), (self._opened_anew(path),)):
            document = new_document(table)
            figure = add_trend(document.figure, "s1", "line")
            ((_, fit),) = fitted_trends(figure.panel, document.tables)
            points = series_points(figure.panel.series[0], figure.panel, document.tables)
            self.assertEqual(fit.values, tuple(fit.by.fit(fit.sample).values))
            panels = repr(draw_figure(figure, document.tables, PlainMeasure()).panels)
            within = points.within((10, 20), (1.9, 2.1))
            drawn.append((fit.values, fit.rss, fit.largest, within, panels))
        self.assertEqual(drawn[0], drawn[1])
        self.assertEqual(drawn[0][3], sum(
            1.9 <= y <= 2.1 for y in np.asarray(table.columns[1].numbers)[1000:2001]
        ))  # fmt: skip

    def test_what_takes_the_memory_of_a_column_is_refused_with_what_to_do(self) -> None:
        huge = Column("x", "", "number", np.broadcast_to(np.float64(1), 10_000_001))
        document = new_document(Table("t", (huge,)))
        with self.assertRaises(EditRefused) as caught:
            change_table(document, "t", "set_cells", cells=[(0, 0, "2")])
        self.assertIn(plural(10_000_001, "row"), str(caught.exception))
        with self.assertRaises(EditRefused):
            correlations(document.tables[0])
        with self.assertRaises(EditRefused):
            group_rows(document.tables[0], Grouping("t", ("x",), (), ("rows",)), "by x")
        renamed = change_table(document, "t", "rename", column="x", name="y", unit="m")
        self.assertEqual(renamed.tables[0].column_names, ("y",))

    def test_a_document_of_too_many_is_refused_and_a_pattern_has_their_beginning(self) -> None:
        path = self.folder / "a.parquet"
        parquet.write_table(pa.table(self._columns()), path)
        document = new_document(*read_file(path))
        out = self.folder / "a.sornix"
        with mock.patch.object(toolong, "_MOST_SAVED", _COUNT - 1):
            with self.assertRaises(DocumentError) as caught:
                save_document(document, out, b"")
            self.assertIn("Save it as a pattern", str(caught.exception))
            self.assertFalse(out.exists())
            save_document(evolve(document, pattern=True), out, b"")
        kept = load_document(out)
        (table,) = kept.tables
        self.assertEqual(table.row_count, 10_000)
        self.assertIn(f"first {plural(10_000, 'row')} of {counted(_COUNT)}", table.notes[-1])
        begun, whole = (one.column("Level").numbers for one in (table, *document.tables))
        np.testing.assert_array_equal(begun, whole[:10_000])
        self.assertEqual(kept.figure.panels, document.figure.panels)

    def test_what_looks_at_each_reading_beside_others_is_not_done_for_too_many(
        self,
    ) -> None:
        x = np.arange(5000.0)
        table = Table("t", (number_column("x", x), number_column("y", np.sin(x) + x)))
        figure = new_document(table).figure
        panel = add_trend(add_trend(figure, "s1", "line"), "s1", "polynomial-2").panel
        robust = add_trend(figure, "s1", "line", method="huber").panel.trends
        resampled = add_trend(figure, "s1", "line", intervals="resampling").panel.trends
        with mock.patch("sornix.core.figure.derived.trendfits._MOST_FITTED", 4999):
            line, curve = panel.trends
            fit = trend_fit(line, panel, (table,))
            for trend in (curve, *robust, *resampled):
                with self.assertRaises(TrendImpossible) as caught:
                    trend_fit(trend, evolve(panel, trends=(trend,)), (table,))
                self.assertIn(f"these are {counted(5000)}", str(caught.exception))
            # of a part of them it is
            held = evolve(curve, start=100.0)
            self.assertEqual(trend_fit(held, evolve(panel, trends=(held,)), (table,)).n, 4900)
        told = [row.value for row in (*influence_rows(fit), *test_rows(fit))]
        with mock.patch("sornix.core.trends.fits.account._MOST_BESIDE", 4999):
            fewer = [row.value for row in (*influence_rows(fit), *test_rows(fit))]
        self.assertEqual((told.count("—"), fewer.count("—")), (0, 2))
        self.assertLess(set(fewer), {*told, "—"})

    def test_where_nothing_can_be_laid_down_memory_has_to_do(self) -> None:
        path = self.folder / "a.parquet"
        parquet.write_table(pa.table({"x": np.arange(9e4), "y": np.arange(9e4) % 7}), path)
        # what stands where the folder should be is no folder
        self.laid.write_text("in the way")
        (table,) = read_file(path)
        self.assertEqual(table.columns[1].ends, (0.0, 6.0))
        self.assertEqual(self.laid.read_text(), "in the way")
        self.laid.unlink()
        # what somebody who was killed has left is taken away, not what is being written
        self.laid.mkdir()
        old, new = self.laid / "1-2.columns.77", self.laid / "1-2.columns.78"
        for one in (old, new):
            one.write_bytes(bytes(9))
        os.utime(old, (1, 1))
        read_file(path)
        self.assertEqual((old.exists(), new.exists()), (False, True))

    def test_strange_columns_are_what_they_are_in_memory(self) -> None:
        moments = np.arange(5) * 10**9 + 123_456_789
        strange = pa.table({
            "none": pa.array([], pa.float64()), "words": pa.array([], pa.string()),
        })  # fmt: skip
        parquet.write_table(strange, self.folder / "empty.parquet")
        with self.assertRaises(ReadingsError):
            read_file(self.folder / "empty.parquet")
        names = ["x", "x", "when", "kind", "lists", "took", "gone", "wild", "day", "é"]
        table = pa.table([
            pa.array([1, None, 3, 4, 5], pa.uint64()), pa.array([True, False, None, True, True]),
            pa.array(moments, pa.timestamp("ns", "Europe/Berlin")),
            pa.array(["a", "b", None, "a", ""]).dictionary_encode(),
            pa.array([[1], [2, 3], None, [], [4]]), pa.array([1, 2, 3, 4, 5], pa.duration("ms")),
            pa.array([None] * 5, pa.float64()), pa.array([-np.inf, np.nan, 1e308, 1e308, 0.0]),
            pa.array([1, 2, 3, 4, None], pa.date32()), pa.array([0, 1, 2, 3, 4], pa.int8()),
        ], names=names)  # fmt: skip
        path = self.folder / "strange.parquet"
        parquet.write_table(table, path, row_group_size=2)
        with mock.patch.object(laid, "MOST_IN_MEMORY", 0):
            (found,) = read_file(path)
        self.assertEqual(len(list(self.laid.iterdir())), 1)
        wanted = self._opened_anew(path)
        self.assertEqual(found.columns, wanted.columns)
        self.assertEqual(found.notes, wanted.notes)
        self.assertEqual(found.column_names[:2], ("x", "x 2"))
        cells = [column.cells() for column in found.columns]
        self.assertEqual(cells[0], ["1", "", "3", "4", "5"])
        self.assertEqual(cells[6], [""] * 5)
        self.assertEqual(cells[7][:2] + cells[7][4:], ["", "", "0"])
        self.assertEqual(cells[8][:2], ["1970-01-02", "1970-01-03"])
        self.assertIn("“when” are in universal time", " ".join(found.notes))
