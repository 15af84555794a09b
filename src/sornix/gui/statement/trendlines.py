"""The further lines of a trend: formula, weights, method, and what is asked of each parameter."""

import math
from functools import partial

from attrs import evolve
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from sornix.core import figure as edits
from sornix.core.errors import EditRefused, TrendImpossible
from sornix.core.figure import (
    FORMULA,
    INTERVALS,
    WEIGHTS,
    Constant,
    Figure,
    Trend,
    possible_intervals,
    trend_fit,
    trend_model,
)
from sornix.core.readings import table_named
from sornix.core.text import parse_number, shortest, significant, spoken
from sornix.core.trends import METHODS, Fit
from sornix.core.trends.fits.account import meaning_of
from sornix.core.trends.fits.counting import AS_IT_IS
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.session.editing import Editing
from sornix.gui.session.scene import Scene
from sornix.gui.statement.trendline import trend_of
from sornix.gui.widgets.inlinecontrols import (
    ActWord,
    Choice,
    ChoiceWord,
    NumberWord,
    StatementLine,
    group,
    scrolling,
)
from sornix.gui.widgets.sliding import Sliding

_COLUMN = "column:"
_PRODUCTS = {False: "without their products", True: "with their products"}
_SHARED = {False: "its own", True: "in common"}


_USUAL = Trend("", "")

_VALUE_WIDTH, _MEANING_WIDTH = 118, 112
# What numbers are that nobody holds.
_FITTED, _AS_USUAL = "found from the readings", "as usual"


class _ParameterLine(StatementLine):
    """“k = 0.231, from −∞ to ∞, begun at 0.2”."""

    def __init__(self, bench: Editing, trend_id: str, name: str, meaning: str) -> None:
        super().__init__("")
        self._bench, self._id, self._name = bench, trend_id, name
        said = f"{name}, {meaning}" if meaning else name
        self.value = NumberWord(f"Value of {said}", _FITTED)
        self.low, self.high = NumberWord(f"Least {name}", ""), NumberWord(f"Greatest {name}", "")
        self.start = NumberWord(f"Where the search for {name} begins", _FITTED)
        self.slider = Sliding(f"where the search for {name} begins")
        self.shared = ChoiceWord(f"Whether other trends of this shape have the same {name}")
        self._fields = {
            "held": self.value, "low": self.low, "high": self.high, "start": self.start,
        }  # fmt: skip
        # where the search begins, or what was found, of every parameter
        self._starts: dict[str, float] = {}
        for part, field in self._fields.items():
            field.entered.connect(partial(self._put, part))
            field.freed.connect(partial(self._put, part, ""))
        label = plain_label(f"{name} =")
        label.setToolTip(plain_tip(said))
        self._bounds = group(plain_label("from"), self.low, plain_label("to"), self.high)
        self._search = group(plain_label("begun at"), self.start, self.slider)
        self._means = means = plain_label(meaning)
        named = group(label, self.value, filling=True)
        # lines of parameters under each other are read as a table
        named.setMinimumWidth(_VALUE_WIDTH)
        means.setMinimumWidth(_MEANING_WIDTH if meaning else 0)
        self.add(named, means, self._bounds, self._search)
        self.add(self.shared)
        self.slider.slides.connect(self._slide)
        self.slider.let_go.connect(self._let_go)
        self.shared.chosen.connect(self._share)

    def _put(self, part: str, text: str) -> None:
        """Holds, bounds or begins; an empty text asks nothing any more."""
        words = {"held": f"held {self._name}" if text else f"freed {self._name}"}
        name = words.get(part, f"changed what {self._name} may be")

        def change(figure: Figure) -> Figure:
            plain = text.strip()
            value = None if plain in ("", "∞", "−∞", "-∞") else parse_number(plain)
            return edits.change_setting(figure, self._id, self._name, **{part: value})

        if not self._bench.edit(name, change):
            self._fields[part].mark_wrong()

    def _slide(self, value: float) -> None:
        """Shows the curve as it is with the starts, in place of the fit."""
        scene = self._bench.scene
        trend = trend_of(scene, self._id)
        if scene is None or trend is None:
            return
        known = self._starts | {self._name: value}
        try:
            along = trend_fit(trend, scene.figure.panel, scene.tables).along
        except TrendImpossible:
            along = AS_IT_IS

        def change(figure: Figure) -> Figure:
            without = edits.remove_trend(figure, self._id)
            formula = along.in_formula(trend_model(trend).formula)
            shown = edits.add_curve(without, formula, "start")
            curve = shown.panel.curves[-1]
            constants = tuple(Constant(c.name, known.get(c.name, c.value)) for c in curve.constants)
            curves = (*shown.panel.curves[:-1], evolve(curve, constants=constants))
            return shown.with_panel(evolve(shown.panel, curves=curves))

        self._bench.preview(change)
        text = shortest(value, 0)
        self.start.show_value(text, held=True, full=text)

    def _let_go(self, value: float) -> None:
        self._bench.cancel()
        self._put("start", repr(value))

    def _share(self, shared: object) -> None:
        """Makes the parameter one for all trends of this shape, or each one's own again."""
        scene = self._bench.scene
        trend = trend_of(scene, self._id)
        if trend is None:
            return
        names = [n for n in trend.shared if n != self._name] + [self._name] * bool(shared)

        def change(figure: Figure) -> Figure:
            for other in figure.panel.trends:
                if other.model == trend.model and other.formula == trend.formula:
                    figure = edits.change_trend(figure, other.id, shared=tuple(names))
            return figure

        self._bench.edit(f"made {self._name} {_SHARED[bool(shared)]}", change)

    def show_scene(self, trend: Trend, fit: Fit | None, company: int) -> None:
        """Shows what is asked, and the value that was found."""
        if fit is not None:
            self._means.setText(meaning_of(fit, self._name))
        setting = trend.setting(self._name)
        found = fit.known.get(self._name) if fit is not None else None
        value = setting.held if setting.held is not None else found
        text = "…" if value is None else (
            shortest(value, 0) if setting.held is not None else significant(value, 4)
        )  # fmt: skip
        self.value.show_value(text, held=setting.held is not None, full=text)
        for field, end, free in ((self.low, setting.low, "−∞"), (self.high, setting.high, "∞")):
            shown = free if end is None else shortest(end, 0)
            field.show_value(shown, held=end is not None, full=shown)
        start = setting.start if setting.start is not None else found
        self.slider.about = start if start is not None and math.isfinite(start) else 1.0
        begun = "its own search" if setting.start is None else shortest(setting.start, 0)
        self.start.show_value(begun, held=setting.start is not None, full=begun)
        free_to_move = setting.held is None
        searched = trend.model == FORMULA or trend_model(trend).method.startswith("nonlinear")
        point = self._name in ("x0", "y0") and trend.model == "line-through-point"
        self._bounds.setVisible(free_to_move and not point and not trend.shared)
        self._search.setVisible(free_to_move and searched and not trend.shared)
        self.shared.setVisible(company > 1 and not trend.settings)
        is_shared = self._name in trend.shared
        self.shared.set_choices(
            _SHARED[is_shared], [Choice(k, w, k == is_shared) for k, w in _SHARED.items()]
        )
        known = fit.known if fit is not None else {}
        asked = {s.name: s.start for s in trend.settings if s.start is not None}
        self._starts = {**known, **asked}


class TrendLines(QWidget):
    """The further lines of one trend."""

    def __init__(self, bench: Editing, trend_id: str) -> None:
        super().__init__()
        self._bench, self._id = bench, trend_id
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(4)
        self._formula_line = StatementLine("")
        self.formula = NumberWord("Formula of the trend, of x and parameters", "")
        self.formula.entered.connect(self._put_formula)
        self.formula.freed.connect(lambda: self._put_formula(""))
        self.keep = ActWord(
            "keep as a shape…", "Save the formula as a shape of your own", link=True
        )
        self._formula_line.add(plain_label("y ="), self.formula, self.keep)
        self._how = StatementLine("")
        self.weights = ChoiceWord("How the readings weigh")
        self.weights.chosen.connect(self._weigh)
        self.method = ChoiceWord("How residuals count")
        self.method.chosen.connect(
            lambda name: self._change(f"fitted by {METHODS[str(name)]}", method=str(name))
        )
        self.span = NumberWord("Width of the smoother", _AS_USUAL)
        self.span.entered.connect(self._put_width)
        self.span.freed.connect(lambda: self._put_width(""))
        self._span_unit = plain_label("")
        self._span = group(plain_label("over"), self.span, self._span_unit)
        self._how.add(self._span, self.weights, group(plain_label("by"), self.method))
        self._also = StatementLine("")
        self.columns = ChoiceWord("Further columns that the line is in")
        self.columns.chosen.connect(self._toggle_column)
        self.products = ChoiceWord("Whether the line has products of its columns")
        self.products.chosen.connect(
            lambda on: self._change(_PRODUCTS[bool(on)], products=bool(on))
        )
        self._also.add(group(plain_label("in"), self.columns), self.products)
        self._sure = StatementLine("")
        self.intervals = ChoiceWord("How the 95 % intervals are found")
        self.intervals.chosen.connect(
            lambda name: self._change(INTERVALS[str(name)], intervals=str(name))
        )
        self.times, self.seed = (
            NumberWord("How many times readings are made anew", _AS_USUAL),
            NumberWord("The seed of what is drawn", _AS_USUAL),
        )
        for part, field in (("resamples", self.times), ("seed", self.seed)):
            field.entered.connect(partial(self._put_whole, part))
            field.freed.connect(partial(self._put_whole, part, ""))
        self._resampling = group(self.times, plain_label("times, seed"), self.seed)
        self._sure.add(self.intervals, self._resampling)
        for line in (self._formula_line, self._how, self._also, self._sure):
            self._column.addWidget(line)
        self.parameters: dict[str, _ParameterLine] = {}
        self._lines: QWidget | None = None
        self._of: object = None

    def _change(self, words: str, **changes: object) -> bool:
        return self._bench.edit(words, lambda f: edits.change_trend(f, self._id, **changes))

    def _put_formula(self, text: str) -> None:
        if not self._change("changed the formula of a trend", formula=text.strip()):
            self.formula.mark_wrong()

    def _put_width(self, text: str) -> None:
        def change(figure: Figure) -> Figure:
            value = parse_number(text) if text.strip() else None
            return edits.change_setting(figure, self._id, "width", held=value)

        if not self._bench.edit("changed the width of a smoother", change):
            self.span.mark_wrong()

    def _toggle_column(self, name: object) -> None:
        """Takes a further column into the line, or leaves it out."""
        trend = trend_of(self._bench.scene, self._id)
        if trend is not None:
            without = tuple(one for one in trend.columns if one != name)
            columns = without if name in trend.columns else (*trend.columns, str(name))
            self._change("changed the columns of a line", columns=columns)

    def _show_columns(self, scene: Scene, trend: Trend) -> None:
        series = scene.figure.panel.one_series(trend.series)
        table = table_named(scene.tables, series.table)
        names = [c.name for c in table.columns if c.count and c.name not in (series.x, series.y)]
        self._also.setVisible(trend_model(trend).in_several and bool(names))
        along = series.x or "the row"
        listed = ", ".join((along, *trend.columns)) if trend.columns else f"{along} alone"
        self.columns.set_choices(listed, [Choice(n, n, n in trend.columns) for n in names])
        self.products.setVisible(bool(trend.columns))
        self.products.set_choices(
            _PRODUCTS[trend.products],
            [Choice(k, w, k == trend.products) for k, w in _PRODUCTS.items()],
        )
        if self._lines is not None:
            # what is asked of parameters is asked of those of one column
            self._lines.setVisible(bool(self.parameters) and not trend.columns)

    def _put_whole(self, part: str, text: str) -> None:
        """A whole number of how readings are resampled, or the usual one."""

        def change(figure: Figure) -> Figure:
            value = parse_number(text) if text.strip() else getattr(_USUAL, part)
            if value != int(value):
                raise EditRefused("This is a whole number.")
            return edits.change_trend(figure, self._id, **{part: int(value)})

        if not self._bench.edit("changed how readings are resampled", change):
            (self.times if part == "resamples" else self.seed).mark_wrong()

    def _weigh(self, choice: object) -> None:
        name = str(choice)
        if name.startswith(_COLUMN):
            column = name.removeprefix(_COLUMN)
            self._change(f"weighed by {column}", weights="column", weight_column=column)
        else:
            self._change(f"made a trend: {WEIGHTS[name]}", weights=name, weight_column=None)

    def show_scene(self, scene: Scene) -> None:
        trend = trend_of(scene, self._id)
        if trend is None:
            return
        panel = scene.figure.panel
        model = trend_model(trend)
        if (model.name, model.names) != self._of:
            self._of = (model.name, model.names)
            self._make_parameters(trend)
        try:
            fit: Fit | None = trend_fit(trend, panel, scene.tables)
        except TrendImpossible:
            fit = None
        typed = trend.model == FORMULA
        self._formula_line.setVisible(typed)
        self.formula.show_value(trend.formula, held=False, full=trend.formula)
        self._show_weights(scene, trend)
        smoother = not model.names
        self._span.setVisible(smoother)
        if smoother:
            width = trend.setting("width").held
            text = shortest(model.usual_width if width is None else width, 0)
            self.span.show_value(text, held=width is not None, full=text)
            self._span_unit.setText(model.width_unit)
        self.method.setVisible(not smoother and trend.weights != "both")
        self.method.set_choices(
            METHODS[trend.method], [Choice(k, w, k == trend.method) for k, w in METHODS.items()]
        )
        self._show_columns(scene, trend)
        possible = possible_intervals(trend)
        self.intervals.set_choices(
            INTERVALS[trend.intervals],
            [Choice(k, w, k == trend.intervals) for k, w in INTERVALS.items() if k in possible],
        )
        self._resampling.setVisible(trend.intervals == "resampling")
        for part, field in (("resamples", self.times), ("seed", self.seed)):
            value = getattr(trend, part)
            text = spoken(value)
            field.show_value(text, held=value != getattr(_USUAL, part), full=text)
        company = sum(t.model == trend.model and t.formula == trend.formula for t in panel.trends)
        for line in self.parameters.values():
            line.show_scene(trend, fit, company)

    def _show_weights(self, scene: Scene, trend: Trend) -> None:
        series = scene.figure.panel.one_series(trend.series)
        table = table_named(scene.tables, series.table)
        numbers = [c.name for c in table.columns
                   if c.has_places and c.name not in (series.x, series.y)]  # fmt: skip
        entries = []
        for name, words in WEIGHTS.items():
            if name == "column":
                entries += [Choice(_COLUMN + c, f"weighing by the SD in “{c}”",
                                   trend.weight_column == c) for c in numbers]  # fmt: skip
                continue
            possible = {
                "errors": series.errors_y is not None,
                "both": None not in (series.errors_x, series.errors_y)
                and trend_model(trend).errors_in_both,
            }.get(name, True)
            if possible or trend.weights == name:
                entries.append(Choice(name, words, trend.weights == name))
        shown = WEIGHTS[trend.weights]
        if trend.weights == "column":
            shown = f"weighing by the SD in “{trend.weight_column}”"
        self.weights.set_choices(shown, entries)

    def _make_parameters(self, trend: Trend) -> None:
        if self._lines is not None:
            self._lines.hide()
            self._lines.deleteLater()
        model = trend_model(trend)
        self.parameters = {
            name: _ParameterLine(self._bench, self._id, name, model.meanings.get(name, ""))
            for name in model.names
        }
        self._lines = scrolling(list(self.parameters.values()))
        self._lines.setVisible(bool(self.parameters))
        self._column.addWidget(self._lines)
