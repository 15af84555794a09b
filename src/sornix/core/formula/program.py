"""Several formulas worked out together, what they have in common only once: a curve and its
derivatives share most of their parts."""

from collections.abc import Callable, Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from sornix.core.formula.evaluate import FUNCTIONS
from sornix.core.formula.expression import Expression, Name, Number

Floats = NDArray[np.float64]


class Program:
    """Formulas as a list of steps, each on the results of earlier ones."""

    def __init__(self, formulas: Sequence[Expression]) -> None:
        self._constants: list[tuple[int, np.float64]] = []
        self._names: list[tuple[int, str]] = []
        self._steps: list[tuple[int, Callable[..., Floats], tuple[int, ...]]] = []
        self._places: dict[object, int] = {}
        self._parts: dict[tuple[int, ...], Program] = {}
        self._results = [self._place(formula) for formula in formulas]

    def _place(self, part: Expression) -> int:
        """Where the result of a part stands; parts that are written alike stand in one place."""
        key: object
        if isinstance(part, Number):
            key = part.value
        elif isinstance(part, Name):
            key = part.name
        else:
            inside = tuple(self._place(operand) for operand in part.operands)
            key = (part.function, inside)
        if key in self._places:
            return self._places[key]
        place = self._places[key] = len(self._places)
        if isinstance(part, Number):
            self._constants.append((place, np.float64(part.value)))
        elif isinstance(part, Name):
            self._names.append((place, part.name))
        else:
            self._steps.append((place, FUNCTIONS[part.function], inside))
        return place

    def only(self, *places: int) -> "Program":
        """The program of some of the formulas, by their places among all."""
        if places not in self._parts:
            part = Program(())
            part._constants, part._names, part._places = self._constants, self._names, self._places
            part._results = [self._results[place] for place in places]
            needed = set(part._results)
            for step in reversed(self._steps):
                if step[0] in needed:
                    part._steps.append(step)
                    needed.update(step[2])
            part._steps.reverse()
            self._parts[places] = part
        return self._parts[places]

    def run(self, known: Mapping[str, Floats | float], *shape: int) -> list[Floats]:
        """The value of each formula, of a shape, from numbers and arrays for its names that
        broadcast to that shape; as it is where none is given. What is not a number is NaN or
        infinite."""
        with np.errstate(all="ignore"):
            return self.values(known, *shape)

    def values(self, known: Mapping[str, Floats | float], *shape: int) -> list[Floats]:
        """The same for whoever lets NumPy say nothing of it already."""
        values: list[Floats | np.float64] = [np.float64(0)] * len(self._places)
        for place, constant in self._constants:
            values[place] = constant
        for place, name in self._names:
            given = known[name]
            values[place] = np.float64(given) if isinstance(given, float) else given
        for place, function, inside in self._steps:
            if len(inside) == 2:
                values[place] = function(values[inside[0]], values[inside[1]])
            else:
                values[place] = function(*[values[i] for i in inside])
        found = [np.asarray(values[place]) for place in self._results]
        if not shape:
            return found
        return [v if v.shape == shape else np.broadcast_to(v, shape) for v in found]
