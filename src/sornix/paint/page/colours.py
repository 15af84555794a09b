"""Colours of a page: each has a counterpart for those who read light on dark."""

import numpy as np

# Sums and differences of cones' signals in which distances are alike to the eye (B. Ottosson,
# "A perceptual color space for image processing", 2020).
_TO_CONES = np.array([[0.4122214708, 0.5363325363, 0.0514459929],
                      [0.2119034982, 0.6806995451, 0.1073969566],
                      [0.0883024619, 0.2817188376, 0.6299787005]])  # fmt: skip
_TO_LAB = np.array([[0.2104542553, 0.7936177850, -0.0040720468],
                    [1.9779984951, -2.4285922050, 0.4505937099],
                    [0.0259040371, 0.7827717662, -0.8086757660]])  # fmt: skip
# White paper becomes so dark, and what is black on it so light.
_DARKEST, _SPAN = 0.2, 0.76
# What has a colour of its own keeps it, as light as it needs to be seen on dark.
_COLOURED, _LIGHT_ENOUGH = 0.035, 0.74


def for_dark(colour: str) -> str:
    """The counterpart of `#rrggbb` on dark paper."""
    signal = np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)]) / 255
    light = np.where(signal <= 0.04045, signal / 12.92, ((signal + 0.055) / 1.055) ** 2.4)
    lab = _TO_LAB @ np.cbrt(_TO_CONES @ light)
    chroma = float(np.hypot(lab[1], lab[2]))
    if chroma > _COLOURED:
        lab[0] = max(lab[0], _LIGHT_ENOUGH)
    else:
        lab[0] = _DARKEST + _SPAN * (1 - lab[0])
    made = np.linalg.solve(_TO_CONES, np.linalg.solve(_TO_LAB, lab) ** 3)
    made = np.clip(made, 0, 1)
    signal = np.where(made <= 0.0031308, 12.92 * made, 1.055 * made ** (1 / 2.4) - 0.055)
    red, green, blue = np.round(255 * signal).astype(int).tolist()
    return f"#{red:02x}{green:02x}{blue:02x}"
