"""Several figures in a document: they share its readings, and move with them."""

import zipfile
from functools import partial

import numpy as np
from attrs import evolve
from hypothesis import given
from hypothesis import strategies as st

from sornix.core.document import (
    MOST_FIGURES,
    Document,
    add_copy,
    add_empty,
    add_first_of,
    add_residuals,
    add_tables,
    change_table,
    figure_names,
    load_document,
    move_figure,
    name_figure,
    new_document,
    place_of,
    remove_figure,
    remove_table,
    rename_table,
    save_document,
    with_readings,
    with_table_read_again,
)
from sornix.core.errors import EditRefused
from sornix.core.figure import (
    add_trend,
    caption,
    change_series,
    change_trend,
    leave_out,
    series_points,
    set_title,
)
from sornix.core.readings import Table, number_column
from tests.base import SornixTest

_X = np.array([0.0, 1, 2, 4, 6, 8, 10, 12])
_Y = 0.07 * _X + np.array([3.0, -2, 4, -6, 1, 5, -4, -1]) / 1000


def _table(name: str = "run", y: np.ndarray = _Y) -> Table:
    return Table(name, (number_column("c", _X, "mg/L"), number_column("A", y),
                        number_column("T", 20 - _X, "°C")))  # fmt: skip


def _document() -> Document:
    document = new_document(_table())
    figure = change_series(document.figure, document.tables, "s1", x="c", y="A", mark="points")
    return evolve(document, figure=add_trend(figure, "s1"))


def _residuals(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    return y - np.polyval(np.polyfit(x, y, 1), x)


class SeveralFigures(SornixTest):
    def test_they_are_added_named_put_in_order_and_taken_out(self) -> None:
        document = add_tables(_document(), [_table("other")])
        document = evolve(document, figure=set_title(document.figure, "Standards of {file}"))
        document = add_first_of(add_copy(document), "other")
        names = ("Standards of run", "Standards of run (2)", "Figure 3")
        self.assertEqual((figure_names(document), document.place), (names, 2))
        named = name_figure(document, 1, "  Second   run ")
        self.assertEqual(named.figures[1].name, "Second run")
        self.assertEqual([place_of(named, n) for n in ("second RUN", "3", "figure 3")], [1, 2, 2])
        self.assertEqual(name_figure(named, 1, ""), document)
        for wrong in (
            partial(name_figure, named, 0, "Second run"), partial(place_of, named, "4"),
            partial(place_of, named, "²"), partial(remove_figure, _document(), 0),
        ):  # fmt: skip
            with self.assertRaises(EditRefused):
                wrong()
        with self.assertRaises(EditRefused) as caught:
            remove_table(document.looking_at(0), "other")
        self.assertIn("drawn in another figure", str(caught.exception))
        for _ in range(MOST_FIGURES - 3):
            document = add_copy(document)
        with self.assertRaises(EditRefused):
            add_empty(document)

    @given(st.lists(st.tuples(st.sampled_from("amrl"), st.integers(0, 6), st.integers(0, 6)),
                    max_size=12))  # fmt: skip
    def test_whatever_is_done_the_same_one_stays_in_sight(self, steps: list[tuple]) -> None:  # type: ignore[type-arg]
        document, kept = _document(), ["0"]
        document, shown, made = name_figure(document, 0, "0"), "0", 0
        for act, one, other in steps:
            count = len(kept)
            if act == "a":
                made += 1
                document = add_copy(document)
                document = name_figure(document, document.place, str(made))
                kept.insert(kept.index(shown) + 1, str(made))
                shown = str(made)
            elif act == "m":
                document = move_figure(document, one % count, other % count)
                kept.insert(other % count, kept.pop(one % count))
            elif act == "l":
                document = document.looking_at(one % count)
                shown = kept[one % count]
            elif count > 1:
                document = remove_figure(document, one % count)
                gone = kept.pop(one % count)
                shown = shown if gone != shown else kept[min(one % count, count - 2)]
            self.assertEqual([figure.name for figure in document.figures], kept)
            self.assertEqual(document.figure.name, shown)

    def test_all_follow_what_is_done_to_the_readings(self) -> None:
        document = add_first_of(add_copy(_document()), "run").looking_at(0)
        document = evolve(document, figure=leave_out(document.figure, "s1", [7], "late"))
        renamed = change_table(document, "run", "rename", column="A", name="Absorbance", unit="")
        renamed = rename_table(renamed, "run", "March")
        for figure in renamed.figures:
            series = figure.panel.series[0]
            self.assertEqual(series.table, "March")
            self.assertIn(series.y, renamed.tables[0].column_names)
            self.assertEqual(len(series_points(series, figure.panel, renamed.tables).x), 8)
        moved = change_table(document, "run", "delete_rows", rows=[0, 1])
        self.assertEqual([o.row for o in moved.figure.panel.series[0].left_out], [5])
        with self.assertRaises(EditRefused) as caught:
            change_table(evolve(document, figure=change_series(
                document.figure, document.tables, "s1", y="T")), "run", "delete_columns",
                names=["A"])  # fmt: skip
        self.assertIn("drawn in another figure", str(caught.exception))
        fresh = Table("run", _table().columns[::2])
        anew = with_table_read_again(document, "run", fresh)
        self.assertEqual([figure.panel.series[0].y for figure in anew.figures], ["T"] * 3)
        fitted = with_readings(document, _table("run 2", _Y + 1)).document
        self.assertEqual({f.panel.series[0].table for f in fitted.figures}, {"run 2"})

    def test_residuals_are_those_of_the_readings_as_they_are_now(self) -> None:
        document = _document()
        trend = document.figure.panel.trends[0]
        document = evolve(document, figure=leave_out(document.figure, "s1", [7], "late"))
        document = add_residuals(document, trend.id)
        name = "Residuals of A"

        def found(of: Document) -> np.ndarray:
            return of.tables[0].column(name).numbers

        self.assertEqual(document.figure.panel.series[0].y, name)
        np.testing.assert_allclose(found(document)[:7], _residuals(_X[:7], _Y[:7]), atol=1e-15)
        self.assertTrue(np.isnan(found(document)[7]))
        typed = change_table(document, "run", "set_cells", cells=[[2, 1, "0.5"]])
        y = _Y.copy()
        y[2] = 0.5
        np.testing.assert_allclose(found(typed)[:7], _residuals(_X[:7], y[:7]), atol=1e-15)
        # what is left out has moved up with its row, and the columns have other names
        moved = change_table(typed, "run", "delete_rows", rows=[0])
        moved = change_table(moved, "run", "rename", column="A", name="B", unit="")
        moved = change_table(moved, "run", "rename", column="c", name="k", unit="")
        np.testing.assert_allclose(found(moved)[:6], _residuals(_X[1:7], y[1:7]), atol=1e-15)
        self.assertTrue(np.isnan(found(moved)[6]))
        path = self.folder / "d.sornix"
        save_document(moved, path, b"")
        again = load_document(path)
        self.assertEqual(again, moved)
        again = change_table(again, "run", "set_cells", cells=[[1, 1, "0.1"]])
        y[2] = 0.1
        np.testing.assert_allclose(found(again)[:6], _residuals(_X[1:7], y[1:7]), atol=1e-15)
        # too few readings for a trend are no reason to refuse what is typed
        few = change_table(again, "run", "delete_rows", rows=[1, 2, 3, 4, 5, 6])
        self.assertTrue(np.isnan(found(few)).all())

    def test_residuals_of_a_formula_are_called_by_its_name(self) -> None:
        document = _document()
        for called, said in (("", "formula"), ("Response", "Response")):
            figure = add_trend(document.figure, "s1", "formula", "a + b * x", called=called)
            trend = figure.panel.trends[-1].id
            made = add_residuals(evolve(document, figure=figure), trend)
            column = made.tables[0].columns[-1]
            assert column.rule is not None
            self.assertIn(f"{said} through “A”", column.rule.words)
            np.testing.assert_allclose(column.numbers, _residuals(_X, _Y), atol=1e-12)
        trend = document.figure.panel.trends[0].id
        by_t = change_trend(document.figure, trend, weights="column", weight_column="T")
        made = add_residuals(evolve(document, figure=by_t), trend)
        other = change_table(made, "run", "rename", column="T", name="U", unit="")
        numbers = [one.tables[0].columns[-1].numbers for one in (made, other)]
        np.testing.assert_array_equal(numbers[0], numbers[1])
        self.assertGreater(np.abs(numbers[0] - _residuals(_X, _Y)).max(), 1e-6)

    def test_a_document_of_several_is_the_same_when_it_is_opened(self) -> None:
        document = add_empty(add_copy(_document()))
        document = name_figure(document, 1, "— “a”; b —").looking_at(1)
        path = self.folder / "d.sornix"
        save_document(document, path, b"")
        found = load_document(path)
        self.assertEqual((found, found.place), (document, 1))
        said = zipfile.ZipFile(path).read("statement.txt").decode()
        self.assertEqual(said.count("\nPlot "), 3)
        self.assertIn("— Figure 3 —", said)

    def test_an_empty_one_says_so_and_shows_what_is_chosen(self) -> None:
        document = add_empty(_document())
        self.assertEqual(caption(document.figure, document.tables, {}), "Nothing is drawn yet.")
        figure = change_series(document.figure, document.tables, "s1", y="T")
        self.assertEqual([s.y for s in figure.panel.shown], ["T"])
