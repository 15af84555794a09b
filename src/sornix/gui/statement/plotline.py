"""The line of the statement for a series: what is plotted against what, and how."""

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QIcon, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QPushButton

from sornix.core import figure as edits
from sornix.core.colours import readable
from sornix.core.drawing import SHAPES, Style
from sornix.core.figure import AXES, FORMS, MARKS, TOGETHER, Series
from sornix.core.readings import Table, table_named
from sornix.core.text import plain_text, rich
from sornix.gui.base.plain import plain_label
from sornix.gui.base.themes import theme_now
from sornix.gui.session.workbench import Scene, Workbench
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
    pixmap = QPixmap(28, 28)
    pixmap.setDevicePixelRatio(2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    look, mark = style.look_of(series), MARKS[series.mark]
    colour = QColor(readable(look.colour, ground))
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
        outline = SHAPES[look.shape]
        if outline is None:
            painter.drawEllipse(QRectF(2.5, 2.5, 9, 9))
        else:
            painter.drawPolygon(polygon(outline * 9 + 7))
    painter.end()
    return QIcon(pixmap)


def _shortened(text: str, most: int = 26) -> str:
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"


def _column_choices(table: Table, present: str | None) -> list[Choice]:
    choices = [
        Choice(
            c.name,
            plain_text(rich(c.title)) + ("" if c.has_places else " (text)"),
            c.name == present,
        )
        for c in table.columns
    ]
    return [*choices, Choice(None, ROW_NUMBER, present is None, divided=True)]


class PlotLine(StatementLine):
    """“Plot y against x as points”."""

    def __init__(self, bench: Workbench, series_id: str, first: bool) -> None:
        super().__init__("Plot" if first else "and")
        self._bench, self._id = bench, series_id
        self.series_id = series_id
        self.y_word = ChoiceWord("The column plotted upward")
        self.x_word = ChoiceWord("The column plotted along")
        self.swap = ActWord("⇄", "Swap x and y: columns, ranges, titles and trend")
        self.mark = ChoiceWord("How the readings are drawn")
        self.less = ActWord("remove", "Remove this series from the figure", link=True)
        self.together = ChoiceWord("What becomes of several readings at one place")
        self.together.chosen.connect(self._draw_together)
        self.add(group(self.together, self.y_word), group(plain_label("against"), self.x_word))
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
        for word in self.sides.values():
            word.chosen.connect(self._put_on)
        self.y_word.chosen.connect(lambda name: self._change("plotted other readings", y=name))
        self.x_word.chosen.connect(
            lambda name: self._change("plotted against other readings", x=name)
        )
        self.mark.chosen.connect(self._draw_as)
        self.swap.clicked.connect(lambda: bench.edit("swapped x and y", edits.swap_axes))
        self.less.clicked.connect(
            lambda: bench.edit("removed a series", lambda f: edits.remove_series(f, series_id))
        )

    def _change(self, name: str, **changes: object) -> None:
        self._bench.edit(
            name, lambda f: edits.change_series(f, self._bench.tables, self._id, **changes)
        )

    def _draw_as(self, mark: object) -> None:
        tables = self._bench.tables
        if mark in FORMS:
            words = f"drew a {FORMS[str(mark)]}"
            self._bench.edit(words, lambda f: edits.change_panel(f, form=str(mark)))
            return
        words = f"drew {MARKS[str(mark)].words}"
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
        self.y_word.set_choices(
            " " + _shortened(series.y or ROW_NUMBER),
            partial(_column_choices, table, series.y),
            sample_icon(series, scene.style, theme_now().card),
        )
        self.x_word.set_choices(
            _shortened(series.x or ROW_NUMBER), partial(_column_choices, table, series.x)
        )
        # worth a word where there is something to be drawn together
        together = series.together
        of_bars = MARKS[series.mark].bars and edits.repeats(panel, scene.tables, series)
        self.together.setVisible(together != "each" or of_bars)
        self.together.set_choices(
            TOGETHER[together], [Choice(k, w, k == together) for k, w in TOGETHER.items()]
        )
        on_axes = panel.form == "series"
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
        several = len(panel.series) > 1
        self.on.setVisible(several)
        for direction, word in self.sides.items():
            now = series.axis(direction)
            axes = (direction, f"{direction}2")
            entries = [Choice(a, f"{AXES[a]} scale", a == now) for a in axes]
            entries.append(Choice(_OWN_PANEL, "its own panel, below", divided=True))
            word.set_choices(AXES[now], entries)
            # the way that is worth a word: upward, and along where it is taken already
            word.setVisible(direction == edits.own_axis(panel) or now != direction)
        self.less.setVisible(len(panel.series) > 1)
