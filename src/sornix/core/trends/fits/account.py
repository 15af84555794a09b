"""What is told of a fit: rows of names and values under headings, the same on screen, in reports
and on the command line."""

import math
import re
from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

import numpy as np

from sornix.core.text import (
    interval_text,
    plural,
    r_squared_text,
    row_words,
    significant,
    spoken,
    unit_words,
    with_error,
)
from sornix.core.text.moments import moment_words
from sornix.core.trends.fits.between import apart
from sornix.core.trends.fits.counting import AS_IT_IS
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.readoff import ReadOff, added_to, in_sample, limits
from sornix.core.trends.fits.sample import UNTREATED, Floats, Treatment
from sornix.core.trends.fits.statistics import (
    FTest,
    cooks_distances,
    correlations,
    lack_of_fit,
    leverages,
    regression_test,
    runs_test,
)


class Row(NamedTuple):
    """A name and its value, what it is about, and the number in full where it is one."""

    name: str
    value: str
    about: str = ""
    exact: float | None = None


class Section(NamedTuple):
    """Rows under a heading, and sentences after them."""

    heading: str
    rows: tuple[Row, ...]
    sentences: tuple[str, ...] = ()


def p_text(p: float) -> str:
    """A probability: `0.032`, `< 0.0001`."""
    return "< 0.0001" if p < 1e-4 else significant(p, 2)


def parameter_rows(fit: Fit) -> tuple[Row, ...]:
    """The parameters with their standard errors and meanings; their intervals are what they are
    about."""
    rows = []
    for parameter in fit.parameters:
        unit = unit_words(parameter.unit)
        if parameter.held:
            value = f"{spoken(parameter.value)} {unit}".strip()
            how, about = "held", ""
            if parameter.ci95 is not None:
                how = "at its end"
                about = f"95 % confidence interval, one-sided: {interval_text(parameter.ci95)}"
            rows.append(Row(_named(fit, parameter.name), f"{value} ({how})", about,
                            parameter.value))  # fmt: skip
            continue
        value = f"{with_error(parameter.value, parameter.standard_error)} {unit}".strip()
        if fit.along.words and parameter.name == fit.by.origin:
            # a place in time is a date as well
            within = (parameter.standard_error or 0.0) * fit.along.step
            value += f" ({moment_words(fit.along.place(parameter.value), within)})"
        about = ""
        if parameter.ci95 is not None:
            how = f" by {fit.ends_by}" if parameter.name in fit.ends95 else ""
            about = f"95 % confidence interval{how}: {interval_text(parameter.ci95)}"
        rows.append(Row(_named(fit, parameter.name), value, about, parameter.value))
    return tuple(rows)


def interval_rows(fit: Fit) -> tuple[Row, ...]:
    """The 95 % interval of each parameter that has one."""
    rows = []
    for parameter in fit.parameters:
        if parameter.ci95 is not None:
            unit = unit_words(parameter.unit)
            how = ""
            if parameter.held:
                how = "One-sided, at the end of what it may be"
            elif parameter.name in fit.ends95:
                how = f"By {fit.ends_by}"
            rows.append(Row(parameter.name, interval_text(parameter.ci95, unit), how))
    return tuple(rows)


def meaning_of(fit: Fit, name: str) -> str:
    """What a parameter is, where x is counted as the fit counts it: `value at 1990`."""
    meaning = fit.by.meanings.get(name, "")
    if fit.along != AS_IT_IS and fit.by.origin not in fit.names:
        meaning = re.sub(r"(?<=\bat )[01]$", fit.along.start, meaning)
    return meaning


def _named(fit: Fit, name: str) -> str:
    meaning = meaning_of(fit, name)
    return f"{name}, {meaning}" if meaning else name


def quality_rows(fit: Fit) -> tuple[Row, ...]:
    """How well the curve goes through the readings, in a few numbers."""
    rows = []
    of = " of ln y" if fit.on_logs else ""
    if fit.r_squared is not None:
        rows.append(Row(f"R²{of}", r_squared_text(fit.r_squared), _R_SQUARED, fit.r_squared))
    elif fit.names:
        alone = fit.n <= fit.free
        why = "As many parameters as readings" if alone else "All y are the same"
        rows.append(Row("R²", "not defined", why))
    if fit.r_squared_about_level is not None:
        about = f"Share of the squares about y = {spoken(fit.level or 0.0)}, which is held; not to "
        rows.append(Row(f"R² about {spoken(fit.level or 0.0)}",
                        r_squared_text(fit.r_squared_about_level),
                        f"{about}be set beside that of other trends",
                        fit.r_squared_about_level))  # fmt: skip
    if fit.r is not None:
        rows.append(Row("r", r_squared_text(fit.r), "Coefficient of correlation", fit.r))
    if fit.residual_sd is not None:
        sd = significant(fit.residual_sd, 2)
        about = f"Residual standard deviation{of}, " + (
            "a factor of e to that power" if fit.on_logs else "in units of y"
        )
        rows.append(Row(f"scatter about trend{of}", sd, about, fit.residual_sd))
    rows.append(Row("number", plural(fit.n, "reading"), "", float(fit.n)))
    return tuple(rows)


_R_SQUARED = "Share of the variation of y that the trend takes up"


# What looks at each reading beside the others takes as much memory as several columns.
_MOST_BESIDE = 2_000_000
_NOT_BESIDE = f"Not worked out of more than {plural(_MOST_BESIDE, 'reading')}"


def test_rows(fit: Fit) -> tuple[Row, ...]:
    """Tests of the fit, and what compares it with others."""
    rows = []
    if fit.adjusted_r_squared is not None:
        adjusted = fit.adjusted_r_squared
        rows.append(Row("adjusted R²", r_squared_text(adjusted),
                        "R² less what further parameters take up by chance", adjusted))  # fmt: skip
    if fit.names:
        dof = plural(int(fit.dof), "degree of freedom", "degrees of freedom")
        rows.append(Row("left for the scatter", dof, "", float(fit.dof)))
    level = "level" if fit.level is None else spoken(fit.level)
    rows += _f_rows("F of the trend", regression_test(fit), f"Against y being {level}")
    about = "Means of replicates against the scatter of replicates; a small p speaks against "
    few = fit.n <= _MOST_BESIDE
    if few:
        rows += _f_rows("F of lack of fit", lack_of_fit(fit), f"{about}the shape")
    else:
        rows.append(Row("F of lack of fit, runs of residuals", "—", _NOT_BESIDE))
    runs = runs_test(fit) if few else None
    if runs is not None:
        expected = significant(runs.expected, 3)
        rows.append(Row("runs of residuals", f"{runs.runs} of {expected}, p {p_text(runs.p)}",
                        "Runs of one sign along x, of those expected; few speak against the shape",
                        runs.p))  # fmt: skip
    if fit.aicc is not None:
        about = (
            "Akaike’s criterion for small samples: of shapes for the same readings, less is better"
        )
        rows.append(Row("AICc", significant(fit.aicc, 4), about, fit.aicc))
    return tuple(rows)


def _f_rows(name: str, test: FTest | None, about: str) -> Iterator[Row]:
    if test is not None:
        dof = f"{test.upper_dof:g} and {test.lower_dof:g} degrees of freedom"
        value = f"{significant(test.ratio, 3)}, p {p_text(test.p)}"
        yield Row(name, value, f"{about} ({dof})", test.ratio)


def chance_rows(fit: Fit) -> tuple[Row, ...]:
    """What the residuals show beside those of readings that scatter normally; see
    trends.resampling."""
    if fit.resampled is None:
        return ()
    return tuple(
        Row(one.name, f"{significant(one.found, 3)}, p {p_text(one.p)}", one.about, one.found)
        for one in fit.resampled.checks
    )


def influence_rows(fit: Fit) -> tuple[Row, ...]:
    """The readings that stand out: by their residual, by their place, by what they move."""
    if not fit.n:
        return ()
    size = float(fit.told_residuals[fit.largest])
    rows = [Row("largest residual", f"{significant(size, 2)}, {row_words(fit.rows[fit.largest])}",
                "Reading − trend", size)]  # fmt: skip
    if not fit.names:
        return tuple(rows)
    if fit.n > _MOST_BESIDE:
        rows.append(Row("leverage, Cook’s distance", "—", _NOT_BESIDE))
        return tuple(rows)
    lever = leverages(fit)
    most = _first_of_largest(lever)
    about = "How much a reading draws the trend to itself, 0 to 1"
    value = f"{significant(lever[most], 2)}, {row_words(fit.rows[most])}"
    rows.append(Row("greatest leverage", value, about, float(lever[most])))
    cook = cooks_distances(fit)
    if cook is not None and np.isfinite(cook).any():
        most = _first_of_largest(cook)
        about = "How far the trend would move without the reading; above 1 is much"
        rows.append(Row("greatest Cook’s distance",
                        f"{significant(cook[most], 2)}, {row_words(fit.rows[most])}", about,
                        float(cook[most])))  # fmt: skip
    return tuple(rows)


def _first_of_largest(values: Floats) -> int:
    """The place of the largest value, the first of some that only rounding tells apart."""
    return int(np.argmax(values >= np.nanmax(values) * (1 - 1e-9)))


def correlation_rows(fit: Fit) -> tuple[Row, ...]:
    """The correlation of each pair of fitted parameters."""
    found = correlations(fit)
    free = [i for i, name in enumerate(fit.names) if name not in fit.held]
    if fit.residual_sd is None:
        return ()
    return tuple(
        Row(f"{fit.names[i]} and {fit.names[j]}", f"{found[i, j]:.3f}".replace("-", "−"),
            "Correlation of the two parameters", float(found[i, j]))
        for place, i in enumerate(free) for j in free[place + 1 :] if math.isfinite(found[i, j])
    )  # fmt: skip


# How a value along x is told, so finely that it is off by no more than so much.
PlaceWords = Callable[[float, float], str]


_SHORT = 7


def number_words(unit: str) -> PlaceWords:
    """Places along x that are numbers of a unit."""
    unit = unit_words(unit)

    def words(value: float, within: float) -> str:
        digits = 5
        if value and 0 < within < math.inf:
            digits = max(3, math.ceil(math.log10(abs(value) / within)))
        elif len(typed := spoken(value)) <= _SHORT:
            # as it was typed
            return f"{typed} {unit}".strip()
        return f"{significant(value, min(digits, 15))} {unit}".strip()

    return words


def read_off_rows(
    fit: Fit, found: Sequence[ReadOff], words: PlaceWords, y_unit: str,
    treatment: Treatment = UNTREATED,
) -> tuple[Row, ...]:  # fmt: skip
    """x read off for each y, with its interval; and what that was in a sample that was treated."""
    rows = []
    for one in found:
        value = _read_off_text(fit, one, words)
        if one.beyond:
            value += ", beyond the readings"
        own = "" if one.sd is None else f" ± {spoken(one.sd)}"
        name = f"y = {spoken(one.y)}{own} {unit_words(y_unit)}".strip()
        rows.append(Row(name, value, _IN_PARENTHESES, one.x))
        # where the line is 0, standard addition tells what was in the sample
        if one.y and treatment != UNTREATED and not fit.along.words:
            inside = in_sample(one, treatment)
            rows.append(Row("in the sample", _read_off_text(fit, inside, words),
                            treatment_words(treatment), inside.x))  # fmt: skip
    return tuple(rows)


_IN_PARENTHESES = "95 % interval in parentheses"


def treatment_words(treatment: Treatment) -> str:
    """What was done to the samples: `diluted 10 times, recovery 92 % ± 3 %`."""
    said = []
    if treatment.dilution != 1:
        said.append(f"diluted {spoken(treatment.dilution)} times")
    if (treatment.recovery, treatment.recovery_sd) != (100, 0):
        known = f" ± {spoken(treatment.recovery_sd)}\u00a0%" if treatment.recovery_sd else ""
        said.append(f"recovery {spoken(treatment.recovery)}\u00a0%{known}")
    return ", ".join(said)


def _read_off_text(fit: Fit, one: ReadOff, words: PlaceWords) -> str:
    # to a hundredth of the interval, or as finely as a figure of the readings could tell it
    low, high = one.interval or (0.0, 0.0)
    within = (high - low) / 100
    if one.interval is None and fit.residual_sd is not None:
        within = float(np.ptp(fit.x)) * 1e-5
    value = words(one.x, within)
    if one.interval is not None:
        unit = f" {unit_words(fit.sample.x_unit)}"
        ends = [words(end, within).removesuffix(unit) for end in one.interval]
        return f"{value} ({ends[0]} to {ends[1]})"
    return f"{value} (no bounded interval)" if fit.residual_sd is not None else value


def between_rows(
    fit: Fit, name: str, other: Fit, other_name: str, test: FTest | None
) -> tuple[Row, ...]:
    """What a trend has to do with another of its shape: differences and ratios of parameters, and
    whether one curve would do for both."""
    rows = []
    units = dict(zip(fit.names, fit.units, strict=True))
    for one in apart(fit, other):
        differ = one.of_difference[0] > 0 or one.of_difference[1] < 0
        told = f"{name} less {other_name}; at 95 % they "
        told += "differ" if differ else "are not told apart"
        unit = unit_words(units[one.name])
        value = (
            f"{significant(one.difference, 4)} {unit}".strip()
            + f" ({interval_text(one.of_difference)})"
        )
        rows.append(Row(f"{one.name}, difference", value, told, one.difference))
        if one.ratio is not None:
            bounds = "no bounded interval"
            if one.of_ratio is not None:
                bounds = interval_text(one.of_ratio)
            value = f"{significant(one.ratio, 4)} ({bounds})"
            rows.append(Row(f"{one.name}, ratio", value, f"{name} over {other_name}", one.ratio))
    rows += _f_rows("F of a curve for each", test, "Against one curve for all of this shape")
    return tuple(rows)


def addition_rows(fit: Fit, treatment: Treatment = UNTREATED) -> tuple[Row, ...]:
    """The content by standard addition of a line that is read off at y = 0."""
    found = added_to(fit)
    if found is None:
        return ()
    unit = unit_words(fit.sample.x_unit)

    def row(name: str, one: ReadOff, about: str) -> Row:
        value = f"{significant(one.x, 4)} {unit}".strip()
        if one.interval is not None:
            value += f" ({interval_text(one.interval)})"
        return Row(name, value, about, one.x)

    about = (
        "From where the line is 0 to x = 0, which is the sample without any addition; 95 % "
        "interval in parentheses"
    )
    rows = [row("content by standard addition", found, about)]
    if treatment != UNTREATED:
        own = in_sample(found, treatment)
        rows.append(row("in the sample", own, treatment_words(treatment)))
    return tuple(rows)


def told_rows(fit: Fit, places: Sequence[float], words: PlaceWords, y_unit: str) -> tuple[Row, ...]:
    """The trend at some x, with the interval for the mean."""
    rows = []
    for x in places:
        found = fit.predict(x)
        value = f"{significant(found.value, 5)} {unit_words(y_unit)}".strip()
        if found.confidence95 is not None:
            value += f" ({interval_text(found.confidence95)})"
        if not fit.ends[0] <= x <= fit.ends[1]:
            value += ", beyond the readings"
        name = f"x = {words(x, 0.0)}"
        rows.append(Row(name, value, "95 % interval of the trend in parentheses", found.value))
    return tuple(rows)


def limit_rows(fit: Fit) -> tuple[Row, ...]:
    """Limits of detection and quantification of a calibration line."""
    found = limits(fit)
    if found is None:
        return ()
    unit = unit_words(fit.sample.x_unit)
    return (
        Row("limit of detection", f"{significant(found.detection, 2)} {unit}".strip(),
            "3.3 × scatter / slope (ICH Q2(R1), 6.3)", found.detection),
        Row("limit of quantification", f"{significant(found.quantification, 2)} {unit}".strip(),
            "10 × scatter / slope (ICH Q2(R1), 7.3)", found.quantification),
        Row("critical y of a blank", significant(found.critical, 3),
            "Above it a reading is not a blank’s, at 95 % (Currie 1968)", found.critical),
    )  # fmt: skip
