"""Models that are formulas of x: fitted by descent, with derivatives from the formula itself."""

import math
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from decimal import Decimal

import numpy as np
from attrs import evolve

from sornix.core.errors import EditRefused, TrendImpossible
from sornix.core.formula import Expression, Program, names_in, parse_formula
from sornix.core.formula.derive import depends, derivative
from sornix.core.text import as_subject, counted, plural, row_words, significant, there_are
from sornix.core.trends.fits.counting import AS_IT_IS, from_afar
from sornix.core.trends.fits.equation import (
    Equation,
    Printing,
    as_typed,
    formula_runs,
    printed_value,
)
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.model import Symmetric, at_ends
from sornix.core.trends.fits.sample import (
    PLAIN,
    Floats,
    ParameterConstraints,
    Sample,
    about_mean,
    ratio_unit,
)
from sornix.core.trends.search.profile import profiles
from sornix.core.trends.search.search import Found, Grid, Parts, Search, Tidy

_CHECKED = 80


# More than these no readings of a laboratory tell apart.
_MOST_PARAMETERS = 40

# How notes of these begin.
# Parameters that lie this many times themselves about their value are no more than guesses.
_VAGUE = 1000.0
# What is less than this part of its scale may be no more than rounding.
_CRUMB = 1e-9
UNSETTLED, UNDETERMINED = "The search did not come to rest", "The readings do not determine"
UNSURE = "The least sum of squares may not have been found"


class ByFormula(Symmetric):
    """A model by its formula; `parameters` are its names with what they mean. Starts are looked for
    on a grid of the parameters that enter in no straight way, the others being solved for.

    `units` say of which unit a parameter is: that of `y`, of `x`, or `1/x`. `tidy` chooses among
    parameters that give the same curve. Where x is far from 0, `origin` says what comes of it: with
    "moves" the parameters are told for x counted from near the first reading, with "scales" for x
    in parts of that; else it is the parameter that is itself a place along x, and only found so.
    What is `computed` is the same formula in a form without numbers beyond all bounds; `needs` says
    where it has numbers at all.
    """

    straight = False
    method = "nonlinear least squares"

    def __init__(
        self, name: str, words: str, formula: str, parameters: Mapping[str, str] | None = None,
        grid: Grid | None = None, units: Mapping[str, str] | None = None,
        tidy: Tidy | None = None, *, origin: str = "", computed: str = "", needs: str = "",
    ) -> None:  # fmt: skip
        self.name, self.words, self.formula = name, words, formula
        self.meanings: Mapping[str, str] = parameters or {}
        self._units = units or {}
        self._grid = grid
        self.tidy = tidy
        self.origin = origin
        self._computed = computed
        self._needs = needs
        self._made: Parts | None = None

    @property
    def parts(self) -> Parts:
        """The formula and what is made of it, when that is first wanted."""
        if self._made is None:
            whole = parse_formula(self.formula)
            found = dict.fromkeys(n.name for n in names_in(whole) if n.name != "x")
            names = tuple(self.meanings) or _in_order(found)
            if len(names) > _MOST_PARAMETERS:
                raise EditRefused(
                    f"This formula has {len(names)} parameters, and at most {_MOST_PARAMETERS} can "
                    "be fitted."
                )
            computed = parse_formula(self._computed) if self._computed else whole
            slopes = [derivative(computed, name) for name in names]
            program = Program([computed, *slopes])
            self._made = Parts(whole, names, _straight(names, slopes), program)
        return self._made

    @property
    def names(self) -> tuple[str, ...]:
        return self.parts.names

    # -- fitting -------------------------------------------------------------------------------

    def fit(self, sample: Sample, way: ParameterConstraints = PLAIN) -> Fit:
        names = self.names
        if not names:
            raise TrendImpossible(
                "This formula has no parameters to fit.",
                remedy="Name one in it, such as a * x, or draw it as a curve.",
            )
        way.checked(names, self.words)
        held = way.held
        free = [name for name in names if name not in held]
        if not free:
            raise TrendImpossible(
                "Every parameter is held, so there is nothing to fit.", remedy="Free one of them."
            )
        places = len(np.unique(sample.x))
        if places < len(free):
            different = "" if places == sample.n else " at different x"
            raise TrendImpossible(
                f"A curve with {plural(len(free), 'parameter')} needs as many readings{different}, "
                f"and {there_are(places)}."
            )
        self._check_range(sample)
        inner = self.counted([sample])[0]
        if self.origin in names and inner is not sample:
            way = way.moved(self.origin, -inner.along.origin)
        search = Search(self.parts, self._grid, self.tidy, inner, way, free)
        found = search.outcome()
        if found is None:
            raise TrendImpossible(
                f"No {self.words} could be put through these readings.",
                remedy="Give other starts, or another shape.",
            )
        outcome = self._outcome(inner, way.held, free, found)
        if not way.quick:
            ended = [free[i] for i in found.best.ended]
            one_sided = at_ends(self, inner, way, ended, outcome.known)
            outcome = evolve(outcome, ends95={**profiles(outcome, search, found.best), **one_sided})
        return self.put_back(outcome, sample) if inner is not sample else outcome

    def check_unit(self, sample: Sample) -> None:
        """Raises TrendImpossible for x in a unit that the shape means nothing in."""

    def _check_range(self, sample: Sample) -> None:
        """Raises TrendImpossible for readings where the shape has no numbers."""
        if not self._needs:
            return
        outside = sample.places < 0 if self._needs == "x at or above 0" else sample.places <= 0
        count = int(outside.sum())
        if count:
            row = row_words(sample.rows[outside][0])
            which = f"{row} is not" if count == 1 else (
                f"{counted(count)} readings are not, the first in {row}"
            )  # fmt: skip
            raise TrendImpossible(
                f"{as_subject(self.words, 'needs', 'need')} {self._needs}, and {which}.",
                remedy=f"Leave {'it' if count == 1 else 'them'} out, or hold a range of x.",
            )

    def counted(self, samples: Sequence[Sample]) -> list[Sample]:
        """Readings as this model is fitted to them, counted alike; see `origin`."""
        if not self.origin or any(sample.along != AS_IT_IS for sample in samples):
            return list(samples)
        along = from_afar([sample.x for sample in samples], in_parts=self.origin == "scales")
        return [sample.counted(along) for sample in samples]

    def put_back(self, fit: Fit, sample: Sample) -> Fit:
        """A fit to counted readings with the parameter that is a place put back among those of x;
        one whose origin moves stays as it is."""
        if self.origin not in fit.names:
            return fit
        place = fit.names.index(self.origin)
        values = list(fit.values)
        values[place] = fit.along.place(values[place])
        profiled = dict(fit.ends95)
        if self.origin in profiled:
            low, high = profiled[self.origin]
            profiled[self.origin] = fit.along.place(low), fit.along.place(high)
        return evolve(fit, values=tuple(values), sample=sample, ends95=profiled)

    def _outcome(
        self, sample: Sample, held: dict[str, float], free: list[str], outcome: Found
    ) -> Fit:
        names, found = self.names, outcome.best
        values = held | dict(zip(free, found.values.tolist(), strict=True))
        places = [names.index(name) for name in free]
        unscaled = np.zeros((len(names),) * 2)
        unscaled[np.ix_(places, places)] = found.unscaled
        notes = list(self._doubts(free, outcome))
        notes += [f"{free[i]} is at the end of what it may be." for i in found.ended]
        at_end = {free[i] for i in found.ended}
        fit = Fit(
            self, names, tuple(values[name] for name in names), self.units(sample), unscaled,
            sample, sample.y - self.parts.program.run(values | {"x": sample.x}, sample.n)[0],
            math.fsum((found.residuals**2).tolist()), about_mean(sample), iterations=found.steps,
            converged=found.converged, notes=tuple(notes), held=frozenset(held) | at_end,
            loose=frozenset(free[i] for i in found.loose),
        )  # fmt: skip
        return self._through_all(fit) if fit.is_exact else fit

    def _through_all(self, fit: Fit) -> Fit:
        """A fit that leaves nothing but rounding, by which no error is known: parameters that only
        rounding leaves off 0 are 0, and those are named that a step may change unseen."""
        x = fit.sample.x
        size, reach = float(np.abs(fit.y).max()) or 1.0, float(np.ptp(x)) or 1.0
        scales = {"y": size, "x": reach, "1/x": 1 / reach, "y/x": size / reach}
        steps = {name: scales.get(self._units.get(name, ""), 1.0) for name in fit.names}
        known = fit.known

        def is_same(name: str, value: float) -> bool:
            with np.errstate(all="ignore"):
                other = self.parts.program.run(known | {name: value, "x": x}, fit.n)[0]
            return bool((np.abs(fit.y - other) <= fit.grain).all())

        def are_nothing(names: Iterable[str]) -> None:
            for name in names:
                if abs(known[name]) <= _CRUMB * steps[name] and is_same(name, 0.0):
                    known[name] = 0.0

        free = [name for name in fit.names if name not in fit.held]
        # where a height is nothing, its place is free
        are_nothing(name for name in free if self._units.get(name) == "y")
        # of a formula of one's own, no scale is known
        left_open = fit.loose | {
            name for name in free if self._units and (
                is_same(name, known[name] + steps[name])
                or (is_same(name, known[name] / 2) and not is_same(name, 0.0))
            )
        }  # fmt: skip
        are_nothing(name for name in free if name not in left_open)
        doubts = (UNDETERMINED, UNSURE) if left_open else ()
        notes = [note for note in fit.notes if not note.startswith(doubts)]
        if left_open:
            notes.append(f"{UNDETERMINED} {', '.join(n for n in free if n in left_open)}.")
        return evolve(fit, values=tuple(known.values()), loose=left_open, notes=tuple(notes))

    def _doubts(self, free: list[str], outcome: Found) -> Iterator[str]:
        """What is not known of a search's outcome, in sentences."""
        found = outcome.best
        dof = len(found.residuals) - len(free)
        if not found.converged:
            yield f"{UNSETTLED}; the numbers may not be the best ones."
        if found.loose:
            yield f"{UNDETERMINED} {', '.join(free[i] for i in found.loose)}."
        elif dof > 0:
            # one alone may just happen to be near 0
            errors = np.sqrt(found.rss / dof * np.diag(found.unscaled))
            vague = [
                n for n, v, e in zip(free, found.values, errors, strict=True) if e > _VAGUE * abs(v)
            ]
            if len(vague) > 1:
                yield f"{UNDETERMINED} {', '.join(vague)}: quite other values fit as well."
        if outcome.doubtful and found.converged and not found.loose:
            yield f"{UNSURE}: a second search did not come to the same curve."
        bent = [name for name in free if name not in self.parts.straight]
        for other in outcome.alike[:2]:
            known = dict(zip(free, other.values.tolist(), strict=True))
            listed = ", ".join(f"{name} = {significant(known[name], 4)}" for name in bent)
            yield f"Another curve of this shape fits nearly as well: {listed}."

    def units(self, sample: Sample) -> tuple[str, ...]:
        """The units of the parameters, "" where they are not known from the formula."""
        of = {"y": sample.y_unit, "x": sample.x_unit, "1/x": ratio_unit("", sample.x_unit),
              "y/x": ratio_unit(sample.y_unit, sample.x_unit)}  # fmt: skip
        return tuple(of.get(self._units.get(name, ""), "") for name in self.names)

    # -- using ---------------------------------------------------------------------------------

    def run(self, fit: Fit, x: Floats, moved: Floats | None = None) -> list[Floats]:
        """The curve at `x` (k,) and its derivatives by the parameters of `fit.spread`, each of
        shape (k,); or (b, k) for each of some curves with these parameters `moved` (b, p)."""
        if moved is None:
            return self.parts.program.run(fit.known | {"x": x}, len(x))
        columns = (np.array(fit.values) + moved).T[..., None]
        known: dict[str, Floats | float] = dict(zip(fit.names, columns, strict=True))
        return self.parts.program.run(known | {"x": x}, len(moved), len(x))

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        found = self.run(fit, np.ravel(x))[0]
        return np.where(np.isfinite(found), found, np.nan).reshape(np.shape(x))

    def gradient(self, fit: Fit, x: Floats) -> Floats:
        return np.column_stack(self.run(fit, x)[1:])

    def equation(self, fit: Fit, asked: Printing) -> Equation:
        """With as few digits as keep each parameter within a tenth of its standard error, and more
        until the curve is given back within the tolerance."""
        symbols, drawn, tolerance, units = asked
        places = np.linspace(*drawn, _CHECKED)
        curve = self.evaluate(fit, places)
        more = 0
        while True:
            printed = tuple(self._printed(fit, more))
            known = {n: float(v) for n, v in zip(fit.names, printed, strict=True)}
            off = np.abs(self.parts.program.run(known | {"x": places}, _CHECKED)[0] - curve)
            if more > 14 or not np.nanmax(off, initial=0.0) > tolerance:
                break
            more += 1
        values = dict(zip(fit.names, printed, strict=True))
        of = dict(zip(fit.names, fit.units, strict=True)) if units else {}
        return Equation(formula_runs(self.parts.whole, symbols, values, of, fit.along), printed)

    def _printed(self, fit: Fit, more: int) -> Iterator[Decimal]:
        for name, value in zip(fit.names, fit.values, strict=True):
            error = fit.standard_error(name)
            within = error / 10 * 10.0**-more if error else 0.0
            if name in fit.held:
                yield as_typed(value)
                continue
            if error and abs(value) < _CRUMB * error:
                yield Decimal(0)
                continue
            yield printed_value(value, within=within, exact=fit.is_exact, least_digits=2 + more)


def _in_order(names: Iterable[str]) -> tuple[str, ...]:
    """Names as they were written, or by their numbers if they are numbered: b1, b2, b10."""
    listed = list(names)
    parts = [re.fullmatch(r"(\D+)(\d+)", name) for name in listed]
    if len({part[1] for part in parts if part}) == 1 and all(parts):
        listed.sort(key=lambda name: int(re.sub(r"\D", "", name)))
    return tuple(listed)


def _straight(names: tuple[str, ...], slopes: list[Expression]) -> tuple[str, ...]:
    """Parameters in which, together, a formula with these derivatives is a straight sum."""
    kept: list[str] = []
    for name in names:
        together = [*kept, name]
        parts = [s for n, s in zip(names, slopes, strict=True) if n in together]
        if not any(depends(part, other) for part in parts for other in together):
            kept.append(name)
    return tuple(kept)
