"""Marker shapes as outlines that fit a circle of diameter 1, all of nearly equal area."""

import math
from collections.abc import Mapping
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def _polygon(corners: int, turn: float, radius: float) -> Floats:
    angles = math.radians(turn) + np.arange(corners) * (2 * math.pi / corners)
    return radius * np.column_stack((np.cos(angles), np.sin(angles)))


def _cross() -> Floats:
    a, b = 0.16, 0.52
    corners = [(a, b), (a, a), (b, a), (b, -a), (a, -a), (a, -b), (-a, -b), (-a, -a), (-b, -a)]
    corners += [(-b, a), (-a, a), (-a, b)]
    turned = np.array(corners) @ np.array([[1, 1], [-1, 1]]) / math.sqrt(2)
    return np.asarray(turned, dtype=np.float64)


def _star() -> Floats:
    outer, inner = _polygon(5, -90, 0.68), _polygon(5, -54, 0.32)
    return np.stack((outer, inner), axis=1).reshape(-1, 2)


# A circle is None: painters have their own.
SHAPES: Mapping[str, Floats | None] = MappingProxyType(
    {
        "circle": None,
        "square": _polygon(4, 45, 0.63),
        "triangle": _polygon(3, -90, 0.68),
        "diamond": _polygon(4, 0, 0.64),
        "down-triangle": _polygon(3, 90, 0.68),
        "pentagon": _polygon(5, -90, 0.58),
        "cross": _cross(),
        "hexagon": _polygon(6, 0, 0.56),
        "star": _star(),
        "plus": _cross() @ np.array([[1, 1], [-1, 1]]) / math.sqrt(2),
        "left-triangle": _polygon(3, 180, 0.68),
        "right-triangle": _polygon(3, 0, 0.68),
    }
)
