"""The text for a methods section, written from the trends and how readings were drawn."""

from sornix.core.figure.derived.drawn import marked
from sornix.core.figure.derived.points import column_or_rows, own_axis, series_name, series_points
from sornix.core.figure.derived.trendfits import fitted_trends, trend_words, weighing_words
from sornix.core.figure.model.series import MARKS, OF_REPLICATES, Series
from sornix.core.figure.model.trend import Trend
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.figure.prose.caption import lower_names
from sornix.core.figure.prose.trendreport import asked_read_offs
from sornix.core.readings import Tables, table_named
from sornix.core.text import (
    capital,
    formula_text,
    plain_text,
    plural,
    r_squared_text,
    rich,
    significant,
    spoken,
    unit_words,
    with_error,
)
from sornix.core.trends import UNTREATED, Fit
from sornix.core.trends.fits.account import treatment_words
from sornix.core.trends.fits.counting import AS_IT_IS
from sornix.version import __version__

_OF_ERRORS = {
    "sd": "one standard deviation",
    "se": "one standard error of the mean",
    "ci95": "95 % confidence intervals of the mean",
}


def methods_text(figure: Figure, tables: Tables) -> str:
    """Sentences for a methods section, or those set by the user."""
    if figure.methods is not None:
        return plain_text(rich(figure.methods))
    sentences: list[str] = []
    for index in range(len(figure.panels)):
        panel = figure.seen(index)
        shown = _of_readings if panel.has_axes else _without_axes
        said = [*shown(panel, tables), *_of_trends(panel, tables)]
        if said and len(figure.panels) > 1:
            said[0] = f"{figure.heading(index)} {said[0]}"
        sentences += said
    if any("±" in sentence for sentence in sentences):
        sentences.append("± is one standard error.")
    trends = [trend for panel in figure.panels for trend in panel.drawn_trends]
    if any({"confidence", "prediction"} & set(trend.shows) for trend in trends):
        sentences.append("Bands are pointwise, of 95 %.")
    fitted = "Figure and fits were" if trends else "The figure was"
    sentences.append(f"{fitted} made with Sornix {__version__}.")
    return plain_text(rich(" ".join(sentences)))


def _of_readings(panel: Panel, tables: Tables) -> list[str]:
    """How several readings at one place, and readings computed from others, are shown."""
    said = []
    for series in panel.shown:
        name = lower_names(series_name(panel, series, tables))
        said += _of_computed(series, tables)
        if series.together == "each":
            continue
        points = marked(series, panel, tables).points
        readings = len(series_points(series, panel, tables).x)
        marks = "Bars" if MARKS[series.mark].bars else "Points"
        said.append(
            f"{marks} of {name} are {series.together}s of the readings at one place "
            f"({plural(readings, 'reading')} at {plural(len(points.x), 'place')})."
        )
        errors = series.errors("y") or series.errors("x")
        if errors is not None and errors.kind in OF_REPLICATES:
            said.append(f"Error bars are {_OF_ERRORS[errors.kind]}.")
    return said


def _of_computed(series: Series, tables: Tables) -> list[str]:
    """How the columns of a series were computed, where they were."""
    table = table_named(tables, series.table)
    columns = (column_or_rows(table, name) for name in (series.x, series.y))
    return [f"{made.name} was computed: {made.rule.words}." for made in columns if made.rule]


def _without_axes(panel: Panel, tables: Tables) -> list[str]:
    """How the parts of a whole, or correlations, are found."""
    if panel.form == "correlations":
        said = "Coefficients of correlation are those of Pearson (1895), each over the rows in"
        return [f"{said} which both columns hold a reading."]
    series = panel.series[0]
    how = "their mean was taken" if series.together == "mean" else "they were added up"
    return [*_of_computed(series, tables), f"Where several readings are of one part, {how}."]


def _of_trends(panel: Panel, tables: Tables) -> list[str]:
    return [
        sentence
        for trend, fit in fitted_trends(panel, tables)
        for sentence in _of_trend(trend, fit, panel, tables)
    ]


def _of_trend(trend: Trend, fit: Fit, panel: Panel, tables: Tables) -> list[str]:
    """One trend: through what, how, with which parameters and how well."""
    series = panel.one_series(trend.series)
    table = table_named(tables, series.table)
    x = lower_names(column_or_rows(table, series.x).name)
    # series that share their y are named by their x
    along_x = own_axis(panel) == "x"
    y = column_or_rows(table, series.y).name if along_x else series_name(panel, series, tables)
    y = lower_names(y)
    words = trend_words(trend)
    article = "an" if words[:1].casefold() in "aeiou" else "a"
    what = (
        f"The formula {formula_text(trend.formula)}"
        if trend.formula
        else capital(f"{article} {words}")
    )
    weighing = weighing_words(trend)
    how = fit.method + (f", {weighing}" if weighing else "")
    dof = plural(int(fit.dof), "degree of freedom", "degrees of freedom")
    count = f"{plural(fit.n, 'reading')}, {dof}" if fit.names else plural(fit.n, "reading")
    made = f"was fitted to {y} against {x} by {how}" if fit.names else f"of {y} was drawn"
    said = [f"{what} {made} ({count})."]
    if fit.along != AS_IT_IS:
        how = "counted from" if fit.along.origin else "told in parts of"
        counted = f"counted in {fit.along.told}" if fit.along.told else f"{how} {fit.along.start}"
        said.append(f"In its parameters, {x} is {counted}.")
    values = [
        f"{p.name} = {with_error(p.value, None if p.held else p.standard_error)} "
        f"{unit_words(p.unit)}".strip()
        + (" (held)" if p.held else "")
        for p in fit.parameters
    ]
    of = " of ln y" if fit.on_logs else ""
    if fit.r_squared is not None:
        values.append(f"R²{of} = {r_squared_text(fit.r_squared)}")
    if fit.residual_sd is not None:
        values.append(f"residual standard deviation{of} {significant(fit.residual_sd, 2)}")
    if values:
        said.append(f"Results: {'; '.join(values)}.")
    if fit.resampled is not None:
        times, seed = fit.resampled.asked
        of = "readings" if trend.weights == "both" else "residuals"
        said.append(
            f"Its 95 % intervals are by resampling of {of}, {spoken(times)} times (seed {seed})."
        )
    elif fit.ends95 and fit.names:
        said.append(f"95 % intervals of {', '.join(fit.ends95)} are by profile.")
    left_out = len(series.left_out)
    if left_out:
        verb = "was" if left_out == 1 else "were"
        said.append(f"{plural(left_out, 'reading')} {verb} left out.")
    if any(asked_read_offs(trend, fit)):
        said.append(
            f"{capital(x, name=True)} was read off with 95 % intervals by inverting the trend."
        )
        if trend.treatment != UNTREATED:
            said.append(f"Samples were counted as {treatment_words(trend.treatment)}.")
    return said
