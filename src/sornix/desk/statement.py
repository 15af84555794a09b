"""The statement: the sentence that says what the figure does, each changeable word a control."""

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QIcon, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from sornix.core import figure as edits
from sornix.core.drawing import SHAPES, STYLES, Style
from sornix.core.drawing.marks import trend_colour
from sornix.core.errors import TrendImpossible
from sornix.core.figure import AXES, MARKS, SHOWS, Series, Trend, series_points, trend_fit
from sornix.core.readings import Table, table_named
from sornix.core.text import plain_text, plural, rich
from sornix.core.trends import MODELS
from sornix.desk.bars import Bar
from sornix.desk.panelsline import PanelsLine
from sornix.desk.scalewords import (
    PARTS,
    choose_kind,
    free_part,
    hold_typed,
    nudge,
    show_direction,
    show_held,
    show_kind,
    shows_range,
)
from sornix.desk.theme import readable
from sornix.desk.words import (
    ActWord,
    Choice,
    ChoiceWord,
    NumberWord,
    StatementLine,
    group,
    plain_word,
)
from sornix.desk.workbench import Scene, Workbench
from sornix.paint.shapes import polygon

ROW_NUMBER = "row number"
_NO_TREND = "no trend"
_OWN_PANEL = "own panel"
_REACHES = {False: "over its readings", True: "over the whole axis"}


def sample_icon(series: Series, style: Style) -> QIcon:
    """The marker or line of a series, as it is told from others."""
    pixmap = QPixmap(28, 28)
    pixmap.setDevicePixelRatio(2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    look, mark = style.look(series.look), MARKS[series.mark]
    colour = QColor(look.colour)
    if mark.line:
        painter.setPen(QPen(colour, 2))
        painter.drawLine(QPointF(0, 7), QPointF(14, 7))
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


class _PlotLine(StatementLine):
    """“Plot y against x as points”."""

    def __init__(self, bench: Workbench, series_id: str, first: bool) -> None:
        super().__init__("Plot" if first else "and")
        self._bench, self._id = bench, series_id
        self.y_word = ChoiceWord("The column plotted upward")
        self.x_word = ChoiceWord("The column plotted along")
        self.swap = ActWord("⇄", "Swap x and y: columns, ranges, titles and trend")
        self.mark = ChoiceWord("How the readings are drawn")
        self.more = ActWord("+ add another", "Add another series to this figure", link=True)
        self.less = ActWord("remove", "Remove this series from the figure", link=True)
        self.add(self.y_word, group(plain_word("against"), self.x_word))
        self.sides = {d: ChoiceWord(f"The scale that {d} is read from") for d in "xy"}
        if first:
            self.add(self.swap)
        self.on = group(plain_word("on"), *self.sides.values())
        self.panel = ActWord("+ panel below", "Add a panel with the next column", link=True)
        self.add(group(plain_word("as"), self.mark), self.on, self.more, self.panel, self.less)
        self.panel.clicked.connect(
            lambda: bench.edit("added a panel", lambda f: edits.add_panel(f, bench.tables))
        )
        for word in self.sides.values():
            word.chosen.connect(self._put_on)
        self.y_word.chosen.connect(lambda name: self._change("plotted other readings", y=name))
        self.x_word.chosen.connect(
            lambda name: self._change("plotted against other readings", x=name)
        )
        self.mark.chosen.connect(lambda name: self._change(f"drew {MARKS[name].words}", mark=name))
        self.swap.clicked.connect(lambda: bench.edit("swapped x and y", edits.swap_axes))
        self.more.clicked.connect(self._add)
        self.less.clicked.connect(
            lambda: bench.edit("removed a series", lambda f: edits.remove_series(f, series_id))
        )

    def _change(self, name: str, **changes: object) -> None:
        self._bench.edit(
            name, lambda f: edits.change_series(f, self._bench.tables, self._id, **changes)
        )

    def _put_on(self, axis: object) -> None:
        if axis == _OWN_PANEL:
            words = "gave a series its own panel"
            self._bench.edit(words, lambda f: edits.own_panel(f, self._id))
            return
        words = f"put a series on {AXES[str(axis)]}"
        self._bench.edit(words, lambda f: edits.put_on(f, self._id, str(axis)))

    def _add(self) -> None:
        self._bench.edit("added a series", lambda f: edits.add_series(f, self._bench.tables))

    def show_scene(self, scene: Scene) -> None:
        panel = scene.figure.panel
        series = panel.one_series(self._id)
        table = table_named(scene.tables, series.table)
        self.y_word.set_choices(
            " " + _shortened(series.y or ROW_NUMBER),
            _column_choices(table, series.y),
            sample_icon(series, STYLES[scene.figure.style]),
        )
        self.x_word.set_choices(
            _shortened(series.x or ROW_NUMBER), _column_choices(table, series.x)
        )
        self.mark.set_choices(
            MARKS[series.mark].words,
            [Choice(m.name, m.words, m.name == series.mark) for m in MARKS.values()],
        )
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
        last = series.id == panel.series[-1].id
        self.more.setVisible(last)
        self.panel.setVisible(last and len(scene.figure.panels) == 1)
        self.less.setVisible(len(panel.series) > 1)


class _ScaleWords(QWidget):
    """“x from 0 to 12 every 2 →”."""

    def __init__(self, bench: Workbench, axis: str) -> None:
        super().__init__()
        self._bench, self._axis = bench, axis
        self.fields = {part: NumberWord(f"{AXES[axis]} {word}") for part, word in PARTS.items()}
        self.direction = ActWord("", "")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 8, 0)
        row.setSpacing(5)
        words = (f"{AXES[axis]} from", "to", "every")
        self._labels = [plain_word(word) for word in words]
        for label, field in zip(self._labels, self.fields.values(), strict=True):
            row.addWidget(label)
            row.addWidget(field)
        self.kind = ChoiceWord(f"The kind of scale of {AXES[axis]}")
        self.kind.chosen.connect(lambda chosen: choose_kind(bench, axis, chosen))
        row.addWidget(self.kind)
        row.addWidget(self.direction)
        for part, field in self.fields.items():
            field.entered.connect(partial(hold_typed, bench, axis, part, field))
            field.freed.connect(partial(free_part, bench, axis, part))
            field.nudged.connect(partial(nudge, bench, axis, part))
        self.direction.clicked.connect(
            lambda: bench.edit(f"reversed {AXES[axis]}", lambda f: edits.reverse(f, axis))
        )

    def show_scene(self, scene: Scene) -> None:
        shows_range(self.fields.values(), self._labels, scene, self._axis)
        for part, field in self.fields.items():
            show_held(field, scene, self._axis, part)
        show_kind(self.kind, scene, self._axis)
        # a linear scale, and time for times, go without saying
        kind = scene.place.scale(self._axis).kind
        self.kind.setVisible(kind not in ("linear", "time"))
        show_direction(self.direction, scene, self._axis)


class _TrendLine(StatementLine):
    """“Trend: straight line through all 24 readings with equation, R²”."""

    def __init__(self, bench: Workbench, trend_id: str | None, first: bool) -> None:
        super().__init__("Trend" if first else "and")
        self._bench, self._id = bench, trend_id
        self.model = ChoiceWord("The shape of the trend")
        self.through = ChoiceWord("The readings that the trend goes through")
        self.all = plain_word("")
        self.shows = ChoiceWord("What is written on the figure")
        self.parts = group(plain_word("through"), self.through, self.all)
        self.reach = ChoiceWord("How far the trend is drawn")
        self.extra = group(plain_word("with"), self.shows)
        self.add(self.model, self.parts, self.reach, self.extra)
        self.model.chosen.connect(self._choose_model)
        self.through.chosen.connect(self._choose_series)
        self.shows.chosen.connect(self._toggle)
        self.reach.chosen.connect(
            lambda extended: self._change("changed the reach of a trend", extended=extended)
        )

    def _choose_model(self, choice: object) -> None:
        trend_id = self._id
        if choice is None and trend_id is not None:
            self._bench.edit("removed a trend", lambda f: edits.remove_trend(f, trend_id))
        elif isinstance(choice, tuple):
            model, series = choice
            name = f"added a {MODELS[model].words}"
            self._bench.edit(name, lambda f: edits.add_trend(f, series, model))

    def _choose_series(self, series: object) -> None:
        self._change("put the trend through other readings", series=series)

    def _toggle(self, part: object) -> None:
        trend = self._trend()
        if trend is None:
            return
        shows = set(trend.shows) ^ {str(part)}
        self._change(
            "changed the label of a trend", shows=tuple(part for part in SHOWS if part in shows)
        )

    def _trend(self) -> Trend | None:
        trends = self._bench.scene.figure.panel.trends if self._bench.scene else ()
        return next((t for t in trends if t.id == self._id), None)

    def _change(self, name: str, **changes: object) -> None:
        trend_id = self._id
        if trend_id is not None:
            self._bench.edit(name, lambda f: edits.change_trend(f, trend_id, **changes))

    def show_scene(self, scene: Scene) -> None:
        panel = scene.figure.panel
        trend = self._trend()
        several = len(panel.series) > 1
        names = {s.id: edits.series_name(panel, s, scene.tables) for s in panel.series}
        more = [
            Choice((m.name, s.id), f"{m.words} through {names[s.id]}", divided=i == 0)
            for i, (m, s) in enumerate((m, s) for m in MODELS.values() for s in panel.series)
            if not any(t.model == m.name for t in panel.trends_of(s.id))
        ]
        self.parts.setVisible(trend is not None)
        self.extra.setVisible(trend is not None)
        self.reach.setVisible(trend is not None)
        if trend is None:
            self.model.setStyleSheet("")
            self.model.set_choices(_NO_TREND, [Choice(c.value, c.text) for c in more])
            return
        colour = trend_colour(trend, panel, STYLES[scene.figure.style])
        text = readable(colour, self._bench.theme.card)
        self.model.setStyleSheet(f"color: {text}; border-bottom-color: {colour};")
        words = MODELS[trend.model].words
        self.model.set_choices(
            words, [Choice((), words, True), Choice(None, _NO_TREND, False), *more]
        )
        self.through.setVisible(several)
        self.through.set_choices(
            names[trend.series], [Choice(i, n, i == trend.series) for i, n in names.items()]
        )
        self.reach.set_choices(
            _REACHES[trend.extended],
            [Choice(k, w, k == trend.extended) for k, w in _REACHES.items()],
        )
        self.all.setText(_through_words(trend, scene, several))
        listed = ", ".join(SHOWS[part] for part in trend.shows) or "nothing written"
        self.shows.set_choices(listed, [Choice(k, w, k in trend.shows) for k, w in SHOWS.items()])


def _through_words(trend: Trend, scene: Scene, several: bool) -> str:
    panel = scene.figure.panel
    total = len(series_points(panel.one_series(trend.series), panel, scene.tables).x)
    try:
        count = trend_fit(trend, panel, scene.tables).n
    except TrendImpossible:
        count = total
    if count < total:
        return f"{count} of {plural(total, 'reading')}"
    return ("" if several else "all ") + plural(count, "reading")


# More plot lines than this scroll, so that the paper keeps its place.
_MOST_PLOT_LINES = 3


def _scrolling(lines: Sequence[QWidget]) -> QWidget:
    """The lines under each other; a few of them in sight where there are many."""
    holder = QWidget()
    column = QVBoxLayout(holder)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(6)
    for line in lines:
        column.addWidget(line)
    column.addStretch(1)
    holder.setObjectName("plotLines")
    if len(lines) <= _MOST_PLOT_LINES:
        return holder
    area = QScrollArea()
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setWidget(holder)
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFixedHeight(_MOST_PLOT_LINES * 32 - 4)
    return area


class Statement(Bar):
    """All lines of the statement of the panel in hand."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__("statement")
        self._bench = bench
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(18, 9, 14, 10)
        self._column.setSpacing(6)
        self._shape: object = None
        self.panels: PanelsLine | None = None
        self.plots: list[_PlotLine] = []
        self.scales: dict[str, _ScaleWords] = {}
        self.trends: list[_TrendLine] = []
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def show_scene(self, scene: Scene) -> None:
        """Shows a scene; lines are made anew only where their number or order changed."""
        panel = scene.figure.panel
        ids = [s.id for s in panel.series], [t.id for t in panel.trends]
        shape = (*ids, panel.axes, len(scene.figure.panels))
        if shape != self._shape:
            self._shape = shape
            self._make_lines(*shape)
        parts: list[_PlotLine | _ScaleWords | _TrendLine] = [*self.plots, *self.trends]
        if self.panels is not None:
            self.panels.show_scene(scene)
        for part in (*parts, *self.scales.values()):
            part.show_scene(scene)

    def preview(self, scene: Scene) -> None:
        """Shows the scales of a scene while a gesture goes on."""
        for words in self.scales.values():
            words.show_scene(scene)

    def _make_lines(
        self, series: list[str], trends: list[str], axes: Sequence[str], panels: int
    ) -> None:
        while (item := self._column.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        self.plots = [_PlotLine(self._bench, s, i == 0) for i, s in enumerate(series)]
        self.scales = {axis: _ScaleWords(self._bench, axis) for axis in axes}
        scale_line = StatementLine("Scales")
        scale_line.add(*self.scales.values())
        self.trends = [_TrendLine(self._bench, t, i == 0) for i, t in enumerate(trends or [None])]
        self.panels = PanelsLine(self._bench, panels) if panels > 1 else None
        if self.panels is not None:
            self._column.addWidget(self.panels)
        self._column.addWidget(_scrolling(self.plots))
        for line in (scale_line, *self.trends):
            self._column.addWidget(line)
