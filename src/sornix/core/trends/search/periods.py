"""Where to look for the period of a sine: the peaks of the periodogram.

At each frequency the best level, sine and cosine follow in closed form (M. Zechmeister and
M. Kürster, Astronomy & Astrophysics 496 (2009) 577–584, with the mean left floating). Of many
readings, these are first put into even cells and transformed at once. Frequencies go as far as the
spacing of the readings determines them: to half of one over it, for uneven readings that of the
closest tenth of them, and to no more turns over the range than can be gone through.
"""

import math

import numpy as np

from sornix.core.patience import go_on
from sornix.core.trends.fits.sample import Floats, Sample

# Frequencies are looked at in steps of this part of one turn over the range, from the first on.
_STEP, _FIRST = 0.2, 0.3
_MOST_PEAKS = 12
# A sweep through decades has readings that are closer than any period is looked for.
_MOST_TURNS = 4000.0
# So many readings are worth the exact sums at each frequency.
_MOST_EXACT = 400
_AT_ONCE = 1 << 18
# Cells of an even grid, at least so many to a period, at most so many in all.
_CELLS_TO_A_PERIOD, _MOST_CELLS = 8, 1 << 21


def periods(sample: Sample) -> Floats:
    """Periods and places of a rise through the mean, one row (2,) for each, the best first."""
    low, reach = float(sample.x.min()), float(np.ptp(sample.x)) or 1.0
    gaps = np.diff(np.unique((sample.x - low) / reach))
    close = float(np.quantile(gaps, 0.1)) if len(gaps) else 1.0
    most = max(0.5 / close, 2.0)
    u, y = (sample.x - low) / reach, sample.y
    if len(u) <= _MOST_EXACT:
        most = min(most, _MOST_TURNS)
        turns = np.arange(_FIRST, most * (1 + 1e-9) + _STEP, _STEP)
        power, sine, cosine = _exact(u, y, turns)
    else:
        turns, power, sine, cosine = _of_cells(u, y, most)
    shown = np.minimum(turns, most)
    inner = (power[1:-1] >= power[:-2]) & (power[1:-1] > power[2:])
    peaks = np.concatenate([[0], np.flatnonzero(inner) + 1, [len(power) - 1]])
    best = peaks[np.argsort(-power[peaks], kind="stable")][:_MOST_PEAKS]
    turns, sine, cosine = shown[best], sine[best], cosine[best]
    # a sin(2π(x − t)/p) has a rise at t
    phase = np.arctan2(-cosine, sine) / (2 * math.pi * turns)
    return np.column_stack((reach / turns, low + phase * reach))


def _exact(u: Floats, y: Floats, turns: Floats) -> tuple[Floats, Floats, Floats]:
    """How much of the squares about the mean each frequency takes up, and its sine and cosine."""
    parts = []
    block = max(_AT_ONCE // len(u), 1)
    about = y - y.mean()
    for begin in range(0, len(turns), block):
        go_on()
        angle = 2 * math.pi * turns[begin : begin + block, None] * u
        c, s = np.cos(angle), np.sin(angle)
        c -= c.mean(axis=1, keepdims=True)
        s -= s.mean(axis=1, keepdims=True)
        cc, ss, cs = (c * c).sum(axis=1), (s * s).sum(axis=1), (c * s).sum(axis=1)
        yc, ys = c @ about, s @ about
        rest = cc * ss - cs * cs
        # where the two are one column, neither is told
        usable = rest > 1e-9 * np.maximum(cc * ss, 1e-300)
        rest = np.where(usable, rest, 1.0)
        cosine, sine = (yc * ss - ys * cs) / rest, (ys * cc - yc * cs) / rest
        power = np.where(usable, cosine * yc + sine * ys, 0.0)
        parts.append((power, sine, cosine))
    power, sine, cosine = (np.concatenate(part) for part in zip(*parts, strict=True))
    return power, sine, cosine


def _of_cells(u: Floats, y: Floats, most: float) -> tuple[Floats, Floats, Floats, Floats]:
    """The same of many readings, about as good, at frequencies that are given with it."""
    cells = min(1 << math.ceil(math.log2(_CELLS_TO_A_PERIOD * most)), _MOST_CELLS)
    longer = round(1 / _STEP)
    at = np.minimum((u * cells).astype(np.intp), cells - 1)
    held = np.bincount(at, y - y.mean(), cells)
    found = np.fft.rfft(held, cells * longer)
    turns = np.arange(len(found)) / longer
    kept = (turns >= _FIRST) & (turns <= most)
    turns, found = turns[kept], found[kept]
    # a cell stands for its middle
    found = found * np.exp(-1j * math.pi * turns / cells)
    return turns, np.abs(found) ** 2, -found.imag, found.real
