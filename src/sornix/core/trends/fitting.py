"""Putting a model through readings in the way that is asked for."""

from collections.abc import Mapping
from types import MappingProxyType

from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.trends.fit import PLAIN, Fit, Sample, Way
from sornix.core.trends.logs import ON_LOGS
from sornix.core.trends.model import Model
from sornix.core.trends.robust import LOSSES, fit_robust
from sornix.core.trends.york import fit_york

# How residuals count, by name.
METHODS: Mapping[str, str] = MappingProxyType(
    {"least-squares": "least squares", **{name: loss.words for name, loss in LOSSES.items()}}
)


def put_through(
    model: Model, sample: Sample, way: Way = PLAIN, method: str = "least-squares", *,
    on_logs: bool = False,
) -> Fit:  # fmt: skip
    """A model through readings, by a method of METHODS, or `on_logs` of y; with errors in both
    where the readings have `x_sd`. Raises TrendImpossible."""
    if on_logs:
        if model.name not in ON_LOGS:
            raise TrendImpossible(f"A {model.words} is no line through logarithms.")
        model = ON_LOGS[model.name]
    if sample.x_sd is not None:
        if model.name != "line" or way.settings or method != "least-squares":
            raise TrendImpossible(
                "Errors in both x and y are for a straight line by least squares, with no "
                "parameter held.",
                remedy="Choose a straight line, or errors in y alone.",
            )
        return fit_york(sample)
    if method == "least-squares" or not model.names:
        return model.fit(sample, way)
    found = fit_robust(model, sample, way, method)
    return evolve(found, own_method=found.own_method + " on logarithms" * on_logs)
