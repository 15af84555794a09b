"""The ledger: trend, residuals, readings and cautions as cards that can be copied."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from sornix.core.drawing import STYLES, Drawing, draw_residuals
from sornix.core.drawing.marks import trend_colour
from sornix.core.errors import TrendImpossible
from sornix.core.figure import (
    Figure,
    Series,
    Trend,
    axis_title,
    bring_back,
    own_axis,
    own_column,
    row_count,
    series_name,
    series_points,
    trend_fit,
    trend_symbols,
    trend_words,
)
from sornix.core.text import (
    Rich,
    plain_text,
    plural,
    r_squared_text,
    rich,
    shortest,
    significant,
    with_error,
)
from sornix.core.trends import Fit
from sornix.desk.bars import Bar
from sornix.desk.theme import Theme, readable
from sornix.desk.workbench import Scene
from sornix.paint.painter import paint

_WIDTH_MM = 62.0
_RESIDUALS_MM = 17.0
_R_SQUARED_TIP = "Share of the variation of y that the trend takes up"


# Asks the workbench for an edit, by the name that its step will have.
Ask = Callable[[str, Callable[[Figure], Figure]], object]

_MOST_LISTED = 12


def html(runs: Rich) -> str:
    """Runs as the rich text that labels show."""
    parts = []
    for run in runs:
        text = run.text.replace("&", "&amp;").replace("<", "&lt;")
        if run.italic:
            text = f"<i>{text}</i>"
        if run.script:
            tag = "sup" if run.script > 0 else "sub"
            text = f"<{tag}>{text}</{tag}>"
        parts.append(text)
    return "".join(parts)


class _Card(QFrame):
    """A card with an edge in a colour, rows of names and values, and its text for copying."""

    def __init__(self, colour: str, theme: Theme, copy: Callable[[str], None]) -> None:
        super().__init__()
        self._theme = theme
        self.setObjectName("card")
        self.setStyleSheet(f"#card {{ border-left: 4px solid {colour}; }}")
        self._lines: list[str] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(11, 8, 9, 7)
        column.setSpacing(3)
        self._column = column
        self._copy = copy

    @property
    def text(self) -> str:
        """The card as plain text, one line a row."""
        return "\n".join(self._lines)

    def headline(self, runs: Rich, colour: str) -> None:
        label = QLabel(html(runs))
        label.setTextFormat(Qt.TextFormat.RichText)
        text = readable(colour, self._theme.card)
        label.setStyleSheet(f"color: {text}; font-size: 18px; font-weight: 600;")
        label.setWordWrap(True)
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._lines.append(plain_text(runs))
        self._column.addWidget(label)

    def name(self, text: str, colour: str) -> None:
        label = QLabel(text)
        text_colour = readable(colour, self._theme.card)
        label.setStyleSheet(f"color: {text_colour}; font-weight: 600;")
        label.setWordWrap(True)
        self._lines.append(text)
        self._column.addWidget(label)

    def sentence(self, text: str) -> None:
        label = QLabel(text)
        label.setWordWrap(True)
        self._lines.append(text)
        self._column.addWidget(label)

    def small(self, text: str) -> None:
        label = QLabel(text)
        label.setObjectName("small")
        label.setWordWrap(True)
        self._lines.append(text)
        self._column.addWidget(label)

    def act(
        self, text: str, words: str, step: str, edit: Callable[[Figure], Figure], ask: "Ask"
    ) -> None:
        """A sentence with a button that asks for an edit."""
        self.sentence(text)
        button = QPushButton(words)
        button.setAccessibleName(f"{words}: {text}")
        button.clicked.connect(lambda: ask(step, edit))
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button)
        self._column.addLayout(row)

    def row(self, name: str, value: str, tip: str = "") -> None:
        """A name at the left and its value at the right."""
        name_label, value_label = QLabel(name), QLabel(value)
        name_label.setObjectName("name")
        value_label.setObjectName("value")
        value_label.setWordWrap(True)
        value_label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
        name_label.setAlignment(Qt.AlignmentFlag.AlignTop)
        value_label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        row = QHBoxLayout()
        row.setSpacing(8)
        for label in (name_label, value_label):
            label.setToolTip(tip)
        row.addWidget(name_label)
        row.addWidget(value_label, 1)
        self._column.addLayout(row)
        self._lines.append(f"{name}\t{value}")

    def picture(self, drawing: Drawing, name: str) -> None:
        self._column.addWidget(_Picture(drawing, name))

    def finish(self, what: str) -> None:
        """Puts the copy button at the foot."""
        row = QHBoxLayout()
        row.setContentsMargins(0, 1, 0, 0)
        row.addStretch(1)
        button = QPushButton("copy")
        button.setAccessibleName(f"Copy {what} as text")
        button.setToolTip(f"Copy {what} as text")
        button.clicked.connect(lambda: self._copy(self.text))
        row.addWidget(button)
        self._column.addLayout(row)


class _Picture(QWidget):
    """A small drawing, as wide as the card."""

    def __init__(self, drawing: Drawing, name: str) -> None:
        super().__init__()
        self._drawing = drawing
        self.setAccessibleName(name)
        self.setFixedHeight(72)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        scale = self.width() / self._drawing.width_mm
        painter = QPainter(self)
        painter.translate(0, (self.height() - self._drawing.height_mm * scale) / 2)
        paint(self._drawing, painter, scale)
        painter.end()


class Ledger(Bar):
    """Cards about what the figure shows, made anew for every scene."""

    def __init__(self, theme: Theme, copy: Callable[[str], None], ask: Ask) -> None:
        super().__init__("ledger")
        self.theme = theme
        self._ask = ask
        self._copy = copy
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setFrameShape(QFrame.Shape.NoFrame)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column = QVBoxLayout(self)
        column.setContentsMargins(1, 0, 0, 0)
        column.addWidget(self._area)
        self._cards: list[tuple[str, _Card]] = []

    @property
    def text(self) -> str:
        """All cards as plain text."""
        return "\n\n".join(f"{heading}\n{card.text}" for heading, card in self._cards)

    def show_scene(self, scene: Scene) -> None:
        position = self._area.verticalScrollBar()
        before = position.value() if position else 0
        self._cards = []
        body = QWidget()
        body.setObjectName("ledgerBody")
        column = QVBoxLayout(body)
        column.setContentsMargins(14, 10, 12, 14)
        column.setSpacing(7)
        panel = scene.figure.panel
        for trend in panel.trends:
            self._trend_cards(scene, trend, column)
        if not panel.trends:
            card = self._card("Trend", "#8fa19d", column)
            card.sentence("No trend on this figure. Choose one in the statement's Trend line.")
        self._cautions(scene, column)
        self._left_out(scene, column)
        self._readings_cards(scene, column)
        column.addStretch(1)
        self._area.setWidget(body)
        if position is not None:
            position.setValue(before)

    def _card(self, heading: str, colour: str, column: QVBoxLayout) -> _Card:
        label = QLabel(heading.upper())
        label.setObjectName("heading")
        if self._cards:
            column.addSpacing(7)
        column.addWidget(label)
        return self._same_heading(heading, colour, column)

    def _same_heading(self, heading: str, colour: str, column: QVBoxLayout) -> _Card:
        card = _Card(colour, self.theme, self._copy)
        column.addWidget(card)
        self._cards.append((heading, card))
        return card

    def _trend_cards(self, scene: Scene, trend: Trend, column: QVBoxLayout) -> None:
        panel, style = scene.figure.panel, STYLES[scene.figure.style]
        colour = trend_colour(trend, panel, style)
        series = panel.one_series(trend.series)
        several = len(panel.series) > 1
        name = f"Trend of {series_name(panel, series, scene.tables)}" if several else "Trend"
        if len(panel.trends) > 1:
            name += f": {trend_words(trend)}"
        card = self._card(name, colour, column)
        try:
            fit = trend_fit(trend, panel, scene.tables)
        except TrendImpossible as error:
            card.sentence(str(error))
            return
        equation = scene.drawing.place.equations.get(trend.id)
        if equation is not None and equation.runs:
            card.headline(equation.runs, colour)
        _symbol_line(card, scene, trend)
        for parameter in fit.parameters:
            value = with_error(parameter.value, parameter.standard_error)
            unit = plain_text(rich(parameter.unit))
            tip = _parameter_tip(parameter.ci95)
            meaning = fit.by.meanings.get(parameter.name, "")
            label = f"{parameter.name}, {meaning}" if meaning else parameter.name
            card.row(label, f"{value} {unit}".strip(), tip)
        _numbers(card, fit)
        card.small(f"{fit.method.capitalize()}; ± is one standard error.")
        for note in fit.notes:
            card.small(note)
        card.finish("the trend's numbers")
        look = style.look_of(series).colour
        residuals = self._card("Residuals (reading − trend)", look, column)
        picture = draw_residuals(fit, style, (look, colour), (_WIDTH_MM, _RESIDUALS_MM))
        residuals.picture(picture, "Residuals against x")
        largest = int(abs(fit.residuals).argmax())
        residuals.small(
            f"Largest at row {fit.rows[largest] + 1}: {significant(fit.residuals[largest], 2)}"
        )

    def _readings_cards(self, scene: Scene, column: QVBoxLayout) -> None:
        panel, style = scene.figure.panel, STYLES[scene.figure.style]
        card = self._card("Readings", style.look(panel.series[0].look).colour, column)
        for series in panel.series:
            colour = style.look_of(series).colour
            self._series_rows(card, scene, series, colour, brief=len(panel.series) > 2)

    def _series_rows(
        self, card: _Card, scene: Scene, series: Series, colour: str, *, brief: bool
    ) -> None:
        panel = scene.figure.panel
        points = series_points(series, scene.figure.panel, scene.tables)
        values = points.x if own_axis(panel) == "x" else points.y
        unit = plain_text(rich(own_column(panel, series, scene.tables).unit))
        missing = row_count(series, scene.tables) - len(values)
        count = plural(len(values), "reading") + (f", {missing} missing" if missing else "")
        card.name(plain_text(rich(series_name(panel, series, scene.tables))), colour)
        if not len(values):
            card.row("number", count)
            return
        # extremes are readings, so they are given in full; a mean is not
        least, greatest = (shortest(float(end), 0) for end in (values.min(), values.max()))
        mean = significant(float(values.mean()), 4)
        if brief:
            card.small(f"{count}, {least} to {greatest} {unit}".strip() + f", mean {mean}")
            return
        card.row("number", count)
        card.row("greatest", f"{greatest} {unit}".strip())
        card.row("least", f"{least} {unit}".strip())
        card.row("mean", f"{mean} {unit}".strip())

    def _left_out(self, scene: Scene, column: QVBoxLayout) -> None:
        """The readings left out, each with its reason and a way back."""
        panel = scene.figure.panel
        card = None
        for series in panel.series:
            for left in series.left_out[:_MOST_LISTED]:
                if card is None:
                    card = self._card("Left out of trends", "#8fa19d", column)
                reason = f": {left.reason}" if left.reason else ""
                edit = partial(bring_back, series_id=series.id, rows=(left.row,))
                card.act(f"Row {left.row + 1}{reason}", "bring back", "brought a reading back",
                         edit, self._ask)  # fmt: skip
            more = len(series.left_out) - _MOST_LISTED
            if card is not None and more > 0:
                card.small(f"… and {more} more of {series_name(panel, series, scene.tables)}")

    def _cautions(self, scene: Scene, column: QVBoxLayout) -> None:
        for number, finding in enumerate(scene.cautions):
            make = self._card if number == 0 else self._same_heading
            card = make("Cautions", "#d9a21b", column)
            remedy = finding.remedy
            if remedy is None:
                card.sentence(finding.text)
            else:
                card.act(finding.text, remedy.words, remedy.step, remedy.edit, self._ask)


def _symbol_line(card: _Card, scene: Scene, trend: Trend) -> None:
    """What the symbols of the equation stand for, where they are not the axes' own names."""
    panel = scene.figure.panel
    x_symbol, y_symbol = trend_symbols(trend, panel, scene.tables)
    titles = [plain_text(rich(axis_title(panel, scene.tables, axis))) for axis in "yx"]
    card.small(f"{y_symbol}: {titles[0]}; {x_symbol}: {titles[1]}")


def _parameter_tip(interval: tuple[float, float] | None) -> str:
    if interval is None:
        return ""
    low, high = (significant(end, 5) for end in interval)
    return f"95 % confidence interval: {low} to {high}"


def _numbers(card: _Card, fit: Fit) -> None:
    if fit.r_squared is not None:
        card.row("R²", r_squared_text(fit.r_squared), _R_SQUARED_TIP)
    else:
        card.row("R²", "not defined", "All y are the same")
    if fit.r is not None:
        card.row("r", r_squared_text(fit.r), "Coefficient of correlation")
    if fit.residual_sd is not None:
        card.row(
            "scatter about trend",
            significant(fit.residual_sd, 2),
            "Residual standard deviation, in units of y",
        )
    card.row("number", plural(fit.n, "reading"))
