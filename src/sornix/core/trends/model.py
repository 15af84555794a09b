"""What every model of a trend answers, and the table of models."""

from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from sornix.core.trends.equation import Equation
from sornix.core.trends.fit import Fit, Floats, Prediction


class Model(Protocol):
    """A model. `name` is its name in commands, `words` its words in statements."""

    name: str
    words: str
    method: str
    # whether it is a straight line on linear scales
    straight: bool

    def fit(self, x: Floats, y: Floats, rows: NDArray[np.intp], x_unit: str, y_unit: str) -> Fit:
        """Least squares through readings, shapes (n,), all finite. Raises TrendImpossible."""
        ...

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        """The trend at `x`, any shape."""
        ...

    def predict(self, fit: Fit, x: float) -> Prediction: ...

    def read_off(self, fit: Fit, y: float) -> tuple[float, tuple[float, float] | None]:
        """The x at which the trend is `y`, and its 95 % interval where it is bounded."""
        ...

    def equation(
        self, fit: Fit, symbols: tuple[str, str], drawn: tuple[float, float], tolerance: float
    ) -> Equation:
        """The equation with digits enough to give back the curve within `tolerance` (in units
        of y) for x between the ends `drawn`."""
        ...


MODELS: dict[str, Model] = {}
