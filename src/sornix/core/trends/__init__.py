"""Trends: least squares through readings, its statistics, and the equation as text.

One module a kind of model; MODELS lists them, and statement and commands read from it. What
is asked of a fit now and then stands in modules of its own: `readoff`, `statistics`, `account`,
`report`, `shared`.
"""

from sornix.core.trends.fits.equation import Equation
from sornix.core.trends.fits.fit import Fit, Model
from sornix.core.trends.fits.model import METHODS, MODELS
from sornix.core.trends.fits.sample import (
    PLAIN,
    UNTREATED,
    ParameterConstraints,
    Sample,
    Setting,
    Treatment,
)
from sornix.core.trends.fits.told import Bands, Parameter, Prediction
from sornix.core.trends.models.byformula import UNDETERMINED, UNSETTLED, UNSURE, ByFormula
from sornix.core.trends.models.line import LINE
from sornix.core.trends.models.ofthetrades import OF_THE_TRADES
from sornix.core.trends.models.polynomial import POLYNOMIALS
from sornix.core.trends.models.shapes import SHAPES
from sornix.core.trends.models.smoothers import SMOOTHERS
from sornix.core.trends.models.throughpoint import ORIGIN, THROUGH
from sornix.core.trends.ways.fitting import ON_LOGS, model_of, put_through

__all__ = [
    "METHODS",
    "MODELS",
    "ON_LOGS",
    "PLAIN",
    "UNDETERMINED",
    "UNSETTLED",
    "UNSURE",
    "UNTREATED",
    "Bands",
    "ByFormula",
    "Equation",
    "Fit",
    "Model",
    "Parameter",
    "ParameterConstraints",
    "Prediction",
    "Sample",
    "Setting",
    "Treatment",
    "model_of",
    "put_through",
]

_known: tuple[Model, ...] = (
    LINE,
    ORIGIN,
    THROUGH,
    *POLYNOMIALS,
    *SHAPES,
    *OF_THE_TRADES,
    *SMOOTHERS,
)
for _model in _known:
    MODELS[_model.name] = _model
