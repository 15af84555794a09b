"""What is changed now and then about a series, each thing a word, under its line."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from sornix.core import figure as edits
from sornix.core.errors import EditRefused
from sornix.core.figure import (
    BARS,
    COLOURS,
    DASHES,
    ERRORS,
    MARKS,
    NAMES,
    SHAPE_NAMES,
    TOGETHER,
    WRITTEN,
    ErrorBars,
    Figure,
    Panel,
    Series,
    SeriesStyle,
    column_or_rows,
)
from sornix.core.figure.model.checks import limits_of, usual
from sornix.core.figure.model.series import IN_TWO_COLUMNS
from sornix.core.readings import TEXT, TIME, Tables, table_named
from sornix.core.scales import KINDS
from sornix.core.scales.kind import Kind
from sornix.core.text import parse_number, plain_text, rich, shortest, spoken
from sornix.gui.base.plain import plain_label
from sornix.gui.session.editing import Editing
from sornix.gui.session.scene import Scene
from sornix.gui.statement.wordlines import (
    AS_THE_STYLE,
    Chosen,
    Entries,
    NumberTyped,
    Pick,
    Typed,
    listed,
    made,
)
from sornix.gui.widgets.inlinecontrols import ActWord, Choice, ChoiceWord, StatementLine

_COLOURS = {"": "its own colour"} | {name: name for name in COLOURS}
_SHAPES = {"": "its own shape"} | {name: name.replace("-", " ") for name in SHAPE_NAMES}
_DASHES = {"": "its own dashes"} | {name: name for name in DASHES}
_FILLED = {True: "filled", False: "open"}
_REPLICATES = {False: "without the single ones", True: "with the single ones behind"}
_BANDS = {False: "as bars", True: "as a band"}
_HIDDEN = {False: "shown", True: "hidden"}
_NO_ERRORS = "no error bars"


def _series(scene: Scene, key: str) -> Series:
    return scene.figure.panel.one_series(key)


def _of(part: Callable[[Series], object]) -> Callable[[Scene, str], object]:
    return lambda scene, key: part(_series(scene, key))


def _mark(scene: Scene, key: str) -> Any:
    return MARKS[_series(scene, key).mark]


def _has_points(scene: Scene, key: str) -> bool:
    return bool(_mark(scene, key).points)


def _has_line(scene: Scene, key: str) -> bool:
    return bool(_mark(scene, key).line)


def _has_bars(scene: Scene, _key: str) -> bool:
    return any(MARKS[series.mark].bars for series in scene.figure.panel.shown)


def _several(scene: Scene, _key: str) -> bool:
    return len(scene.figure.panel.series) > 1


def _size(part: str, usual: str) -> Callable[[Scene, str], tuple[str, bool]]:
    def value(scene: Scene, key: str) -> tuple[str, bool]:
        held = getattr(_series(scene, key).style, part)
        return shortest(held or getattr(scene.style, usual), 0), held is not None

    return value


def _put_size(part: str) -> Callable[[Editing, Figure, str, str | None], Figure]:
    def put(_bench: Editing, figure: Figure, key: str, text: str | None) -> Figure:
        size = parse_number(text) if text else None
        limits = limits_of(SeriesStyle, part)
        if size is not None and size not in limits:
            raise EditRefused(f"A size is {limits.words}.")
        return edits.style_series(figure, key, **{part: size})

    return put


def _columns(scene: Scene, key: str) -> Entries:
    """Columns of numbers that can hold the lengths of error bars."""
    table = table_named(scene.tables, _series(scene, key).table)
    return [(column.name, f"“{column.name}”") for column in table.number_columns]


def _written(scene: Scene, key: str) -> Entries:
    table = table_named(scene.tables, _series(scene, key).table)
    named = [(f"={c.name}", f"“{c.name}” written at them") for c in table.columns]
    return [*WRITTEN.items(), *named]


def _times(series: Series, tables: Tables, direction: str) -> Kind | None:
    """How lengths are told along a time; None along anything else."""
    column = column_or_rows(table_named(tables, series.table), series.column(direction))
    return KINDS["time"] if column.kind == TIME else None


def _error_words(direction: str, tables: Callable[[], Any]) -> list[Pick | Typed]:
    """Kind, size, columns and form of error bars along an axis."""

    def errors(scene: Scene, key: str) -> ErrorBars | None:
        return _series(scene, key).errors(direction)

    def is_kind(*kinds: str) -> Callable[[Scene, str], bool]:
        return lambda scene, key: (found := errors(scene, key)) is not None and found.kind in kinds

    def length(scene: Scene, key: str) -> tuple[str, bool]:
        found = errors(scene, key)
        if found is None:
            return "0", False
        times = _times(_series(scene, key), scene.tables, direction)
        if times is not None and found.kind == "fixed":
            return times.step_words(found.size), True
        return shortest(found.size, 0), True

    def put_length(_bench: Editing, figure: Figure, key: str, text: str | None) -> Figure:
        times = _times(figure.panel.one_series(key), tables(), direction)
        parse = parse_number if times is None else times.parse_step
        size = parse(text) if text else 0.0
        if size < 0:
            raise EditRefused("An error bar has a length of 0 or more.")
        return edits.change_errors(figure, key, direction, size=size)

    def part(name: str) -> Callable[[Scene, str], object]:
        return lambda scene, key: getattr(errors(scene, key), name, None)

    def put(name: str) -> Callable[[Figure, str, Any], Figure]:
        return lambda f, key, v: edits.change_errors(f, key, direction, **{name: v})

    kinds = {None: _NO_ERRORS} | {kind: f"± {words}" for kind, words in ERRORS.items()}
    return [
        Pick(f"Error bars in {direction}", listed(kinds), part("kind"),
             lambda f, key, kind: edits.set_errors(f, tables(), key, direction, kind),
             before=f"in {direction}"),
        Typed(f"Length of error bars in {direction}", "", "", length, put_length,
              is_kind("fixed", "percent")),
        Pick(f"Column of lengths in {direction}", _columns, part("column"), put("column"),
             is_kind("column", *IN_TWO_COLUMNS)),
        Pick(f"Column of lengths above in {direction}", _columns, part("upper"), put("upper"),
             is_kind(*IN_TWO_COLUMNS)),
        Pick(f"Form of error bars in {direction}", listed(_BANDS), part("band"), put("band"),
             lambda scene, key: direction == "y" and errors(scene, key) is not None),
    ]  # fmt: skip


def _width(scene: Scene, _key: str) -> tuple[str, bool]:
    width = scene.figure.panel.bar_width
    return shortest(100 * width, 0.5), width != usual(Panel, "bar_width")


def _put_width(_bench: Editing, figure: Figure, _key: str, text: str | None) -> Figure:
    width = parse_number(text) / 100 if text else usual(Panel, "bar_width")
    part = limits_of(Panel, "bar_width")
    if width not in part:
        low, high = spoken(100 * part.low), spoken(100 * part.high)
        raise EditRefused(f"Bars take {low} to {high} % of their place.")
    return edits.change_panel(figure, bar_width=width)


def _words(tables: Callable[[], Any]) -> dict[str, list[Pick | Typed]]:
    return {
        "Look": [
            Pick("Colour of the series", listed(_COLOURS), _of(lambda s: s.style.colour),
                 lambda f, k, v: edits.style_series(f, k, colour=v)),
            Pick("Shape of the markers", listed(_SHAPES), _of(lambda s: s.style.shape),
                 lambda f, k, v: edits.style_series(f, k, shape=v), _has_points),
            Pick("Whether markers are filled", listed(_FILLED), _of(lambda s: s.style.filled),
                 lambda f, k, v: edits.style_series(f, k, filled=v), _has_points),
            Typed("Size of the markers in mm", "", "mm", _size("size_mm", "marker_mm"),
                  _put_size("size_mm"), _has_points, AS_THE_STYLE),
            Pick("Dashes of the line", listed(_DASHES), _of(lambda s: s.style.dash),
                 lambda f, k, v: edits.style_series(f, k, dash=v), _has_line),
            Typed("Width of the line in mm", "line of", "mm", _size("width_mm", "line_mm"),
                  _put_size("width_mm"), _has_line, AS_THE_STYLE),
            Pick("Whether it is drawn", listed(_HIDDEN), _of(lambda s: s.hidden),
                 edits.hide_series, _several),
        ],
        "Errors": [
            Pick("What is drawn of several readings at one place",
                 listed({k: f"{w} reading" if k == "each" else f"{w} those at one place"
                         for k, w in TOGETHER.items()}),
                 _of(lambda s: s.together), edits.set_together,
                 lambda scene, key: edits.repeats(scene.figure.panel, scene.tables,
                                                  _series(scene, key))),
            *_error_words("y", tables),
            *_error_words("x", tables),
            Pick("Readings that are drawn together", listed(_REPLICATES),
                 _of(lambda s: s.replicates),
                 lambda f, k, v: edits.change_series(f, tables(), k, replicates=v),
                 lambda scene, key: _series(scene, key).together != "each"),
        ],
        "Names": [
            Pick("What is written at the points", _written, _of(lambda s: s.written),
                 lambda f, k, v: edits.change_series(f, tables(), k, written=v)),
            Pick("Where names stand", listed(dict(NAMES)),
                 lambda scene, _: scene.figure.panel.names,
                 lambda f, _k, v: edits.change_panel(f, names=v)),
            Pick("How bars stand", listed({k: f"bars {w}" for k, w in BARS.items()}),
                 lambda scene, _: scene.figure.panel.bars,
                 lambda f, _k, v: edits.change_panel(f, bars=v), _has_bars),
            Typed("Width of the bars in percent of their place", "bars of", "%", _width,
                  _put_width, _has_bars),
        ],
    }  # fmt: skip


class SeriesLines(QWidget):
    """The further lines of one series."""

    def __init__(self, bench: Editing, series_id: str) -> None:
        super().__init__()
        self._bench, self._id = bench, series_id
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.parts: dict[str, Chosen | NumberTyped] = {}
        # whose lines these are, where a line of the statement has several
        self.about = plain_label("")
        self.about.hide()
        lines: dict[str, StatementLine] = {}
        for name, words in _words(lambda: bench.tables).items():
            line = lines[name] = StatementLine(name)
            if not self.parts:
                line.add(self.about)
            for word in words:
                part = made(bench, word, lambda: series_id, lambda: "a series")
                self.parts[word.name] = part
                line.add(part)
            column.addWidget(line)
        self.earlier = ActWord("earlier", "Earlier in the order of series", link=True)
        self.later = ActWord("later", "Later in the order of series", link=True)
        for act, by in ((self.earlier, -1), (self.later, 1)):
            act.clicked.connect(partial(self._shift, by))
        self.split = ChoiceWord("One series for each value of a column")
        self.split.chosen.connect(self._split)
        self.apart = ActWord("on its own", "Give this series a line of its own", link=True)
        lines["Names"].add(self.split, self.earlier, self.later, self.apart)

    def _shift(self, by: int) -> None:
        words = "changed the order of series"
        self._bench.edit(words, lambda f: edits.shift_series(f, self._id, by))

    def _split(self, column: object) -> None:
        tables = self._bench.tables
        words = f"one series per value of “{column}”"
        self._bench.edit(words, lambda f: edits.split_series(f, tables, self._id, str(column)))

    def show_scene(self, scene: Scene) -> None:
        for part in self.parts.values():
            part.show_scene(scene)
        panel = scene.figure.panel
        name = plain_text(rich(edits.series_name(panel, _series(scene, self._id), scene.tables)))
        self.about.setText(f"of {name} alone:")
        several = _several(scene, self._id)
        self.earlier.setVisible(several)
        self.later.setVisible(several)
        table = table_named(scene.tables, _series(scene, self._id).table)
        columns = [column.name for column in table.columns if column.kind == TEXT]
        self.split.setVisible(bool(columns))
        self.split.set_choices(
            "one series per value of", [Choice(name, f"“{name}”") for name in columns]
        )
