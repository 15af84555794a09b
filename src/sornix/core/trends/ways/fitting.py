"""Putting a model through readings in the way that is asked for.

What is seldom asked for is imported when it is: start-up time (docs/architecture.md).
"""

from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.text import as_subject
from sornix.core.trends.fits.fit import Fit, Model
from sornix.core.trends.fits.model import MODELS
from sornix.core.trends.fits.sample import PLAIN, ParameterConstraints, Sample

# The models that can be fitted to the logarithms of y; those of trends.logs.
ON_LOGS = ("exponential", "power", "arrhenius")


def model_of(name: str, *, on_logs: bool = False) -> Model:
    """The model of a name, fitted to the logarithms of y if that is asked and possible."""
    if on_logs and name in ON_LOGS:
        from sornix.core.trends.ways.logs import LOGGED

        return LOGGED[name]
    return MODELS[name]


def put_through(
    model: Model, sample: Sample, way: ParameterConstraints = PLAIN,
    method: str = "least-squares", *, on_logs: bool = False,
) -> Fit:  # fmt: skip
    """A model through readings, by a method of METHODS, or `on_logs` of y; with errors in both
    where the readings have `x_sd`. Raises TrendImpossible."""
    sample.need_squares()
    if on_logs:
        if model.name not in ON_LOGS:
            raise TrendImpossible(
                f"{as_subject(model.words, 'is', 'are')} no line through logarithms."
            )
        model = model_of(model.name, on_logs=True)
    if sample.x_sd is not None:
        if not model.errors_in_both or way.settings or method != "least-squares":
            raise TrendImpossible(
                "Errors in both x and y are for a straight line by least squares, with no "
                "parameter held.",
                remedy="Choose a straight line, or errors in y alone.",
            )
        from sornix.core.trends.ways.york import fit_york

        return fit_york(sample)
    if method == "least-squares" or not model.names:
        return model.fit(sample, way)
    from sornix.core.trends.ways.robust import fit_robust

    found = fit_robust(model, sample, way, method)
    return evolve(found, own_method=found.own_method + " on logarithms" * on_logs)
