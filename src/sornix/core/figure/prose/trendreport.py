"""The report of a panel's trends: what was fitted how, with which numbers."""

from collections.abc import Iterator, Mapping

from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.figure.derived.points import axis_title, series_name
from sornix.core.figure.derived.trendfits import (
    fitted_trends,
    trend_fit,
    trend_symbols,
    trend_words,
    weighing_words,
)
from sornix.core.figure.derived.trendsamples import trend_columns, trend_unit
from sornix.core.figure.model.trend import Trend
from sornix.core.figure.model.values import Panel
from sornix.core.readings import TIME, Tables
from sornix.core.text import capital, plain_text, plural, rich, row_words
from sornix.core.text.moments import moment_words
from sornix.core.trends import Equation, Fit
from sornix.core.trends.fits.account import (
    PlaceWords,
    Row,
    Section,
    addition_rows,
    between_rows,
    chance_rows,
    correlation_rows,
    influence_rows,
    interval_rows,
    limit_rows,
    number_words,
    parameter_rows,
    quality_rows,
    read_off_rows,
    test_rows,
    told_rows,
)
from sornix.core.trends.fits.between import one_for_all
from sornix.core.trends.fits.counting import AS_IT_IS
from sornix.core.trends.fits.readoff import ReadOff, read_off


def place_words(trend: Trend, panel: Panel, tables: Tables) -> PlaceWords:
    """How places along the x of a trend are told: with their unit, or as dates and times."""
    x, _ = trend_columns(trend, panel, tables)
    return moment_words if x.kind == TIME else number_words(trend_unit(x))


def symbol_words(trend: Trend, fit: Fit, panel: Panel, tables: Tables) -> str:
    """What the symbols of an equation stand for: `A: Absorbance; c: Nitrate / (mg/L)`."""
    series = panel.one_series(trend.series)
    x_symbol, y_symbol = trend_symbols(trend, panel, tables)
    _, y = trend_columns(trend, panel, tables)
    # of what shares its axis, the trend says nothing
    alone = evolve(panel, series=(series,), trends=())
    x_title, y_title = (
        plain_text(rich(axis_title(alone, tables, axis))) for axis in (series.x_axis, series.y_axis)
    )
    y_title += " in seconds since 1970" if y.kind == TIME else ""
    if fit.along != AS_IT_IS:
        how = "counted from" if fit.along.origin else "in parts of"
        x_title += f" in {fit.along.told}" if fit.along.told else f", {how} {fit.along.start}"
    return f"{y_symbol}: {y_title}; {x_symbol}: {x_title}"


def how_words(trend: Trend, fit: Fit) -> str:
    """How a fit was made, as a sentence."""
    method = f"{capital(fit.method)}"
    weighing = weighing_words(trend)
    weighing = f", {weighing}" if weighing else ""
    iterated = f", {plural(fit.iterations, 'step')}" if fit.iterations else ""
    told = any(one.standard_error for one in fit.parameters)
    return f"{method}{weighing}{iterated}{'; ± is one standard error' if told else ''}."


def asked_read_offs(trend: Trend, fit: Fit) -> list[ReadOff | None]:
    """x for each y that the trend is to read off, None for one that has none."""
    found: list[ReadOff | None] = []
    for asked in trend.read_offs:
        try:
            found.append(read_off(fit, asked.y, asked.replicates, asked.sd))
        except TrendImpossible:
            found.append(None)
    return found


CHANCE, INTERVALS_95 = "Residuals beside chance", "95 % intervals"


def trend_sections(
    trend: Trend, panel: Panel, tables: Tables, equation: Equation | None
) -> list[Section]:
    """Everything that is told of a trend. Raises TrendImpossible."""
    fit = trend_fit(trend, panel, tables)
    words = place_words(trend, panel, tables)
    y_unit = fit.sample.y_unit
    series = panel.one_series(trend.series)
    name = trend_words(trend)
    if len(panel.series) > 1:
        name += f" of {plain_text(rich(series_name(panel, series, tables)))}"
    head = [Row("equation", equation.text)] if equation is not None and equation.runs else []
    sections = [
        Section(
            f"{capital(name)}",
            (*head, *parameter_rows(fit), *quality_rows(fit)),
            (symbol_words(trend, fit, panel, tables), how_words(trend, fit), *fit.notes),
        ),
        Section(INTERVALS_95, interval_rows(fit)),
        Section("Tests", test_rows(fit)),
        Section(CHANCE, chance_rows(fit)),
        Section("Readings that stand out", influence_rows(fit)),
        Section("Correlation of parameters", correlation_rows(fit)),
        Section(
            "Read off",
            (
                *read_off_rows(
                    fit,
                    [one for one in asked_read_offs(trend, fit) if one],
                    words,
                    y_unit,
                    trend.treatment,
                ),
                *told_rows(fit, trend.told_at, words, y_unit),
            ),
        ),
        Section(
            "Standard addition",
            addition_rows(fit, trend.treatment)
            if any(one.y == 0 for one in trend.read_offs)
            else (),
        ),
        Section("Limits", limit_rows(fit) if trend.read_offs else ()),
        *_beside_others(trend, fit, panel, tables),
        Section("Left out", _left_out(trend, panel)),
    ]
    return [section for section in sections if section.rows or section.sentences]


def _beside_others(trend: Trend, fit: Fit, panel: Panel, tables: Tables) -> Iterator[Section]:
    """The trend beside each other one of its shape on the panel."""
    alike = [
        (other, found) for other, found in fitted_trends(panel, tables)
        if other.model == trend.model and other.formula == trend.formula and other.id != trend.id
        and not (other.columns or trend.columns)
    ]  # fmt: skip

    def called(one: Trend) -> str:
        series = panel.one_series(one.series)
        return plain_text(rich(series_name(panel, series, tables)))

    for other, found in alike[:_MOST_BESIDE]:
        # trends that share something, or readings, are no independent ones
        if trend.shared or other.series == trend.series or fit.along != found.along:
            continue
        test = one_for_all((fit, found))
        rows = between_rows(fit, called(trend), found, called(other), test)
        yield Section(f"Beside {called(other)}", rows)


_MOST_BESIDE = 6


def _left_out(trend: Trend, panel: Panel) -> tuple[Row, ...]:
    series = panel.one_series(trend.series)
    return tuple(
        Row(row_words(left.row), left.reason or "no reason given") for left in series.left_out
    )


def report_sections(
    panel: Panel, tables: Tables, equations: Mapping[str, Equation]
) -> list[Section]:
    """The sections of every trend of a panel that can be fitted."""
    sections = []
    for trend in panel.drawn_trends:
        try:
            sections += trend_sections(trend, panel, tables, equations.get(trend.id))
        except TrendImpossible as error:
            words = trend_words(trend)
            sections.append(Section(f"{capital(words)}", (), (str(error),)))
    return sections
