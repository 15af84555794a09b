"""Trends: least squares through readings, its statistics, and the equation as text.

One module a model; each registers itself in MODELS, from which statement and commands read.
"""

from sornix.core.trends import line as _line
from sornix.core.trends import polynomial as _polynomial
from sornix.core.trends import shapes as _shapes
from sornix.core.trends.byformula import ByFormula
from sornix.core.trends.equation import Equation
from sornix.core.trends.fit import Fit, Parameter, Prediction
from sornix.core.trends.model import MODELS, Model

__all__ = ["MODELS", "ByFormula", "Equation", "Fit", "Model", "Parameter", "Prediction"]

_KNOWN = (_line.LINE, _polynomial.ORIGIN, *_shapes.SHAPES)
assert {model.name for model in _KNOWN} <= MODELS.keys()
