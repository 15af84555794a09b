"""Curves of formulas: theory drawn over measured points."""

from functools import lru_cache

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import EditRefused
from sornix.core.figure.model.additions import Constant, Curve
from sornix.core.figure.model.values import Figure
from sornix.core.formula import Expression, Name, names_in, parse_formula

Floats = NDArray[np.float64]


@lru_cache(maxsize=32)
def _parsed(formula: str) -> Expression:
    return parse_formula(formula)


def constants_in(formula: str) -> tuple[str, ...]:
    """The names in a formula besides x, each once. Raises FormulaError."""
    names = (name.name for name in names_in(_parsed(formula)))
    return tuple(dict.fromkeys(name for name in names if name != "x"))


def curve_values(curve: Curve, x: Floats) -> Floats:
    """The values of a curve at x, shape (n,), NaN where it has none."""
    from sornix.core.formula import evaluate

    known = {constant.name: constant.value for constant in curve.constants}

    def value_of(name: Name) -> Floats:
        return x if name.name == "x" else np.full(len(x), known.get(name.name, np.nan))

    return np.broadcast_to(evaluate(_parsed(curve.formula), value_of), x.shape)


def add_curve(figure: Figure, formula: str, name: str = "") -> Figure:
    """A curve from a formula of x; its constants begin at 1."""
    panel = figure.panel
    constants = tuple(Constant(one, 1.0) for one in constants_in(formula))
    looks = {s.palette_index for s in panel.series} | {c.palette_index for c in panel.curves}
    look = min(set(range(1, len(looks) + 2)) - looks)
    curve = Curve(figure.next_id("c"), formula.strip(), constants, name.strip(), look)
    return figure.with_panel(evolve(panel, curves=(*panel.curves, curve)))


def change_curve(figure: Figure, curve_id: str, formula: str) -> Figure:
    """Another formula; constants that it still names keep their values."""
    old = _curve(figure, curve_id)
    values = {constant.name: constant.value for constant in old.constants}
    constants = tuple(Constant(n, values.get(n, 1.0)) for n in constants_in(formula))
    return _with(figure, evolve(old, formula=formula.strip(), constants=constants))


def set_constant(figure: Figure, curve_id: str, name: str, value: float) -> Figure:
    """Another value of a constant."""
    old = _curve(figure, curve_id)
    if name not in [constant.name for constant in old.constants]:
        raise EditRefused(f"The curve has no constant “{name}”.")
    constants = tuple(Constant(c.name, value) if c.name == name else c for c in old.constants)
    return _with(figure, evolve(old, constants=constants))


def name_curve(figure: Figure, curve_id: str, name: str) -> Figure:
    """A name for legends; emptied, its formula."""
    return _with(figure, evolve(_curve(figure, curve_id), name=name.strip()))


def remove_curve(figure: Figure, curve_id: str) -> Figure:
    panel = figure.panel
    return figure.with_panel(
        evolve(panel, curves=tuple(c for c in panel.curves if c.id != curve_id))
    )


def _curve(figure: Figure, curve_id: str) -> Curve:
    return figure.panel.one_curve(curve_id)


def _with(figure: Figure, curve: Curve) -> Figure:
    panel = figure.panel
    curves = tuple(curve if c.id == curve.id else c for c in panel.curves)
    return figure.with_panel(evolve(panel, curves=curves))
