"""Trends: least squares through readings, its statistics, and the equation as text.

One module a model; each registers itself in MODELS, from which statement and commands read. What
is asked of a fit now and then stands in modules of its own: `readoff`, `statistics`, `account`,
`report`, `shared`.
"""

from sornix.core.trends import line as _line
from sornix.core.trends import polynomial as _polynomial
from sornix.core.trends import shapes as _shapes
from sornix.core.trends import smoothers as _smoothers
from sornix.core.trends.byformula import UNDETERMINED, UNSETTLED, UNSURE, ByFormula
from sornix.core.trends.equation import Equation
from sornix.core.trends.fit import Bands, Fit, Parameter, Prediction
from sornix.core.trends.fitting import METHODS, ON_LOGS, model_of, put_through
from sornix.core.trends.model import MODELS, Model
from sornix.core.trends.sample import PLAIN, UNTREATED, Sample, Setting, Treatment, Way

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
    "Prediction",
    "Sample",
    "Setting",
    "Treatment",
    "Way",
    "model_of",
    "put_through",
]

_KNOWN = (_line.LINE, _polynomial.ORIGIN, *_shapes.SHAPES, *_smoothers.SMOOTHERS)
assert {model.name for model in _KNOWN} <= MODELS.keys()
# the plainest comes first wherever models are listed
for _name in [name for name in MODELS if name != "line"]:
    MODELS[_name] = MODELS.pop(_name)
