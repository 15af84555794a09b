"""The line of the statement for a series: what is plotted against what, and how."""

from collections.abc import Sequence
from functools import lru_cache, partial

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QIcon, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QPushButton

from sornix.core import figure as edits
from sornix.core.colours import readable
from sornix.core.drawing import SHAPES, Style
from sornix.core.figure import AXES, FORMS, MARKS, TOGETHER, Panel, Series
from sornix.core.figure.edits.together import spread_series
from sornix.core.readings import Table, table_named
from sornix.core.text import plain_text, rich, spoken_list
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.base.themes import theme_now
from sornix.gui.session.editing import Editing, Together
from sornix.gui.session.scene import Scene
from sornix.gui.widgets.inlinecontrols import (
    ActWord,
    Choice,
    ChoiceWord,
    StatementLine,
    group,
)
from sornix.paint.shapes import polygon

ROW_NUMBER = "row number"
_OWN_PANEL = "own panel"


def sample_icon(series: Series, style: Style, ground: str) -> QIcon:
    """The marker or line of a series, as it is told from others, to be seen on a ground."""
    look = style.look_of(series)
    return _sample(look.colour, look.shape, series.mark, ground)


# shown at every edit, and the same nearly always
@lru_cache(maxsize=64)
def _sample(colour_name: str, shape: str, mark_name: str, ground: str) -> QIcon:
    pixmap = QPixmap(28, 28)
    pixmap.setDevicePixelRatio(2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    mark, colour = MARKS[mark_name], QColor(readable(colour_name, ground))
    if mark.line:
        painter.setPen(QPen(colour, 2))
        painter.drawLine(QPointF(0, 7), QPointF(14, 7))
    if mark.bars or mark.area:
        if mark.area:
            colour.setAlpha(90)
        for left, top in ((1, 6), (5.5, 2), (10, 4)) if mark.bars else ((0, 7),):
            painter.fillRect(QRectF(left, top, 3 if mark.bars else 14, 13 - top), colour)
    if mark.points:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QBrush(colour))
        outline = SHAPES[shape]
        if outline is None:
            painter.drawEllipse(QRectF(2.5, 2.5, 9, 9))
        else:
            painter.drawPolygon(polygon(outline * 9 + 7))
    painter.end()
    return QIcon(pixmap)


def _shortened(text: str, most: int = 26) -> str:
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"


def _column_choices(table: Table, present: str | None, *, several: bool = False) -> list[Choice]:
    choices = [
        Choice(
            c.name,
            plain_text(rich(c.title)) + ("" if c.has_places else " (text)"),
            c.name == present,
        )
        for c in table.columns
    ]
    choices.append(Choice(None, ROW_NUMBER, present is None, divided=True))
    return [*choices, *([Choice(_SEVERAL, "several columns…")] if several else [])]


def column_ticks(scene: Scene, ids: Sequence[str]) -> tuple[list[Choice], int]:
    """The columns that a line of series can draw, with ticks: those of the first one's unit before
    the others, in the table's order, but what is drawn in its own; and how many have that unit."""
    panel = scene.figure.panel
    own = edits.own_axis(panel)
    first = panel.one_series(ids[0])
    table = table_named(scene.tables, first.table)
    drawn = [name for one in ids if (name := panel.one_series(one).column(own))]
    along = first.x if own == "y" else first.y
    unit = table.column(drawn[0]).unit if drawn else ""
    columns = [c for c in table.columns if c.has_places and (c.name != along or c.name in drawn)]
    columns.sort(key=lambda column: column.unit != unit)
    order = iter(drawn)
    named = [table.column(next(order)) if c.name in drawn else c for c in columns]
    entries = [Choice(c.name, plain_text(rich(c.title)), c.name in drawn) for c in named]
    return entries, sum(column.unit == unit for column in columns)


def _joined(names: list[str]) -> str:
    """Names of columns as a part of a sentence: a few in full, many as their number."""
    whole = spoken_list(names)
    few = len(names) <= _MOST_NAMED and len(whole) <= _MOST_LETTERS
    return whole if few else f"{len(names)} columns"


_MOST_NAMED, _MOST_LETTERS = 4, 56
_SEVERAL = "several"


class PlotLine(StatementLine):
    """“Plot y against x as points”, for one series or for several that are alike: then a word
    changes all of them, and swatches open what is single to one."""

    # the word under which the columns of the line are to be listed
    listing = pyqtSignal(object)
    # the id of a series whose own lines are wanted, or not any more
    singled = pyqtSignal(str)

    def __init__(self, bench: Editing, ids: Sequence[str], first: bool) -> None:
        super().__init__("Plot" if first else "and")
        self.ids, self._id = tuple(ids), ids[0]
        series_id = self._id
        if len(ids) > 1:
            alone = bench
            bench = Together(
                bench, lambda was, now: spread_series(was, now, alone.tables, self.ids)
            )
        self._bench = bench
        self.y_word = ChoiceWord("The column plotted upward")
        self.x_word = ChoiceWord("The column plotted along")
        self.swap = ActWord("⇄", "Swap x and y: columns, ranges, titles and trend")
        self.mark = ChoiceWord("How the readings are drawn")
        self.less = ActWord("remove", "Remove this series from the figure", link=True)
        self.together = ChoiceWord("What becomes of several readings at one place")
        self.together.chosen.connect(self._draw_together)
        self.each = plain_label("")
        self.swatches = {one: self._swatch(one) for one in (self.ids if len(ids) > 1 else ())}
        self.add(group(self.together, self.y_word), self.each)
        self.add(group(plain_label("against"), self.x_word))
        self.sides = {d: ChoiceWord(f"The scale that {d} is read from") for d in "xy"}
        if first:
            self.add(self.swap)
        self.on = group(plain_label("on"), *self.sides.values())
        self.further = QPushButton("more ▾")
        self.further.setProperty("link", "true")
        self.further.setCheckable(True)
        self.further.setAccessibleName("Look, error bars and names of this series")
        self.further.setToolTip("Look, error bars and names of this series")
        self.add(group(plain_label("as"), self.mark), self.on, self.further)
        self.add(self.less)
        if self.swatches:
            self.add(group(*self.swatches.values()))
        for word in self.sides.values():
            word.chosen.connect(self._put_on)
        self.y_word.chosen.connect(self._choose_y)
        self.x_word.chosen.connect(self._choose_x)
        self.mark.chosen.connect(self._draw_as)
        self.swap.clicked.connect(lambda: bench.edit("swapped x and y", edits.swap_axes))
        self.less.clicked.connect(
            lambda: bench.edit("removed a series", lambda f: edits.remove_series(f, series_id))
        )

    @property
    def series_id(self) -> str:
        """The first of its series."""
        return self._id

    @property
    def edits(self) -> Editing:
        """Through which all of its series are changed."""
        return self._bench

    def _swatch(self, series_id: str) -> QPushButton:
        button = QPushButton()
        button.setProperty("link", "true")
        button.setCheckable(True)
        button.clicked.connect(lambda: self.singled.emit(series_id))
        return button

    def _choose_y(self, name: object) -> None:
        if name == _SEVERAL:
            self.listing.emit(self.y_word)
        else:
            self._change("plotted other readings", y=name)

    def _choose_x(self, name: object) -> None:
        if name == _SEVERAL:
            self.listing.emit(self.x_word)
        else:
            self._change("plotted against other readings", x=name)

    def _change(self, name: str, **changes: object) -> None:
        self._bench.edit(
            name, lambda f: edits.change_series(f, self._bench.tables, self._id, **changes)
        )

    def _draw_as(self, mark: object) -> None:
        tables = self._bench.tables
        if mark in FORMS:
            words = f"drew the readings as {FORMS[str(mark)]}"
            self._bench.edit(words, lambda f: edits.change_panel(f, form=str(mark)))
            return
        words = f"drew the readings as {MARKS[str(mark)].words}"
        self._bench.edit(words, lambda f: edits.set_mark(f, tables, self._id, str(mark)))

    def _draw_together(self, together: object) -> None:
        words = "changed what is drawn together"
        self._bench.edit(words, lambda f: edits.set_together(f, self._id, str(together)))

    def _put_on(self, axis: object) -> None:
        if axis == _OWN_PANEL:
            words = "gave a series its own panel"
            self._bench.edit(words, lambda f: edits.own_panel(f, self._id))
            return
        words = f"put a series on {AXES[str(axis)]}"
        self._bench.edit(words, lambda f: edits.put_on(f, self._id, str(axis)))

    def show_scene(self, scene: Scene) -> None:
        panel = scene.figure.panel
        series = panel.one_series(self._id)
        table = table_named(scene.tables, series.table)
        self._show_columns(scene, panel, series, table)
        # worth a word where there is something to be drawn together
        together = series.together
        of_bars = MARKS[series.mark].bars and edits.repeats(panel, scene.tables, series)
        self.together.setVisible(together != "each" or of_bars)
        self.together.set_choices(
            TOGETHER[together], [Choice(k, w, k == together) for k, w in TOGETHER.items()]
        )
        on_axes = panel.has_axes
        entries = [
            Choice(m.name, m.words, on_axes and m.name == series.mark) for m in MARKS.values()
        ]
        if series.id == panel.series[0].id:
            forms = [(name, words) for name, words in FORMS.items() if name != "series"]
            entries += [
                Choice(name, words, name == panel.form, divided=i == 0)
                for i, (name, words) in enumerate(forms)
            ]
        shown = MARKS[series.mark].words if on_axes else FORMS[panel.form]
        self.mark.set_choices(shown, entries)
        # a second scale stands beside a first one that other series are on
        self.on.setVisible(len(panel.series) > len(self.ids))
        for direction, word in self.sides.items():
            now = series.axis(direction)
            axes = (direction, f"{direction}2")
            entries = [Choice(a, f"{AXES[a]} scale", a == now) for a in axes]
            if len(self.ids) == 1:
                entries.append(Choice(_OWN_PANEL, "its own panel, below", divided=True))
            word.set_choices(AXES[now], entries)
            # the way that is worth a word: upward, and along where it is taken already
            word.setVisible(direction == edits.own_axis(panel) or now != direction)
        self.less.setVisible(len(panel.series) > 1 == len(self.ids))

    def _show_columns(self, scene: Scene, panel: Panel, series: Series, table: Table) -> None:
        """The words for what is plotted against what."""
        own = edits.own_axis(panel)
        words = {"y": self.y_word, "x": self.x_word}
        listed = len(self.ids) > 1 and series.only is None
        for axis, word in words.items():
            name = series.column(axis)
            if listed and axis == own:
                names = [panel.one_series(one).column(axis) or ROW_NUMBER for one in self.ids]
                word.set_choices(_joined([_shortened(one) for one in names]), ())
                word.opener = partial(self.listing.emit, word)
                continue
            icon = sample_icon(series, scene.style, theme_now().card) if axis == "y" else None
            space = " " if icon is not None and not self.swatches else ""
            choices = partial(_column_choices, table, name, several=axis == own and not listed
                              and series.only is None)  # fmt: skip
            word.set_choices(space + _shortened(name or ROW_NUMBER), choices,
                             None if self.swatches else icon)  # fmt: skip
        self.each.setVisible(len(self.ids) > 1 and series.only is not None)
        if series.only is not None:
            self.each.setText(f"of each of {len(self.ids)} “{_shortened(series.only.column)}”")
        for one, button in self.swatches.items():
            single = panel.one_series(one)
            name = plain_text(rich(edits.series_name(panel, single, scene.tables)))
            button.setIcon(sample_icon(single, scene.style, theme_now().card))
            button.setAccessibleName(f"Look and name of {name}")
            button.setToolTip(plain_tip(f"Look and name of {name}"))
