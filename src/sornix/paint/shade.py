"""The shade of a crowd: how many dots cover each pixel, as light."""

from collections.abc import Sequence
from functools import lru_cache
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from sornix.core.drawing import Crowd, Rect
from sornix.core.drawing.parts.items import CrowdPart
from sornix.paint.pixels import pixels_of

Floats = NDArray[np.float64]
Grid = NDArray[Any]
Whole = NDArray[np.intp]

# The part of the shade that a single reading has: with less, places of few readings are white.
_LEAST_SHADE, _MOST_LEAST = 0.04, 0.15
# Paler shades let the grid be seen.
_OPAQUE = 0.25
_SUB_PIXELS = 8
# a pixel has so many parts, which dots cover or not
_PARTS = _SUB_PIXELS**2
_SMALL = np.dtype(np.uint16)
# Rows of so many bytes are worked out together: a processor keeps them at hand.
_BYTES = 200_000
_LEVELS = 4096
_SHARES = np.linspace(0, 1, 1 << 14, dtype=np.float32)


class _Raster(NamedTuple):
    """The pixels of a picture of the data area: `left`, `top` in mm, `dots` to the millimetre."""

    left: float
    top: float
    dots: float
    width: int
    height: int


class _Shade(NamedTuple):
    """What one part of a crowd covers: how many parts of dots each pixel, and how many readings
    each of these dots stands for."""

    cover: Grid
    unit: int
    colour: str

    def dots(self, cover: Grid) -> Grid:
        """How many readings are where parts of dots are, so many."""
        readings: Grid = cover * np.float32(self.unit / _PARTS)
        return readings


def paint_crowd(item: Crowd, painter: QPainter, dots_per_mm: float | None) -> None:
    """Paints the shade of a crowd: for the pixels of a raster, or as a picture of `dots_per_mm`."""
    if dots_per_mm is not None:
        place, picture = crowd_picture(item, dots_per_mm)
        painter.drawImage(QRectF(*place), picture)
        return
    device, matrix = painter.device(), painter.transform()
    ratio = device.devicePixelRatioF() if device is not None else 1.0
    dots = matrix.m11() * ratio
    # whole pixels of the device
    x, y = (round(at * ratio) for at in (item.area.left * matrix.m11() + matrix.dx(),
                                         item.area.top * matrix.m22() + matrix.dy()))  # fmt: skip
    left, top = (x / ratio - matrix.dx()) / matrix.m11(), (y / ratio - matrix.dy()) / matrix.m22()
    across, down, picture = _picture(item, _raster(item, left, top, dots))
    picture.setDevicePixelRatio(ratio)
    painter.save()
    painter.resetTransform()
    painter.drawImage(QPointF((x + across) / ratio, (y + down) / ratio), picture)
    painter.restore()


def crowd_picture(item: Crowd, dots_per_mm: float) -> tuple[Rect, QImage]:
    """The shade of a crowd as a picture of `dots_per_mm`, and where it stands in mm."""
    raster = _raster(item, item.area.left, item.area.top, dots_per_mm)
    across, down, picture = _picture(item, raster)
    left, top, width, height = (
        pixels / dots_per_mm for pixels in (across, down, picture.width(), picture.height())
    )
    return Rect(raster.left + left, raster.top + top, width, height), picture


def _raster(item: Crowd, left: float, top: float, dots: float) -> _Raster:
    width, height = (max(int(np.ceil(side * dots)), 1) for side in item.area[2:])
    return _Raster(left, top, dots, width, height)


def _picture(item: Crowd, raster: _Raster) -> tuple[int, int, QImage]:
    """The shade as a picture, transparent where no reading lies, of the part of the data area that
    holds some, and where in it that part begins."""
    dot = _dot(item.dot_mm * raster.dots)
    places = [_places(part, raster) for part in item.parts]
    reach = len(dot) // 2
    across, width = _span([x for x, _ in places], reach, raster.width)
    down, height = _span([y for _, y in places], reach, raster.height)
    shades = [
        _shade(part, (x - across, y - down), (width, height), dot)
        for part, (x, y) in zip(item.parts, places, strict=True)
    ]
    picture = QImage(width, height, QImage.Format.Format_ARGB32)
    pixels = pixels_of(picture, to_write=True)
    if len(shades) > 1:
        pixels[:] = _of_several(shades, item)
    elif shades[0].cover.dtype == _SMALL:
        # there are far fewer numbers than pixels; none is beyond the last, and so it is faster
        numbers = np.arange(int(shades[0].cover.max()) + 1, dtype=np.float32)
        colours = _of_one(shades[0]._replace(cover=numbers), item)
        np.take(colours, shades[0].cover, out=pixels, mode="clip")
    else:
        pixels[:] = _of_one(shades[0], item)
    return across, down, picture


def _places(part: CrowdPart, raster: _Raster) -> tuple[Whole, Whole]:
    """The pixels in which the readings of a part lie, counted from the left and the top."""
    x = ((part.points[:, 0] - raster.left) * raster.dots).astype(np.intp)
    y = ((part.points[:, 1] - raster.top) * raster.dots).astype(np.intp)
    return np.clip(x, 0, raster.width - 1), np.clip(y, 0, raster.height - 1)


def _span(places: Sequence[Whole], reach: int, most: int) -> tuple[int, int]:
    """The first of `most` pixels that dots shade which reach so far, and how many they are."""
    ends = [(one.min(), one.max()) for one in places if len(one)]
    first = max(int(min(least for least, _ in ends)) - reach, 0)
    last = min(int(max(greatest for _, greatest in ends)) + reach, most - 1)
    return first, last - first + 1


def _in_units(weights: Whole | None) -> tuple[Whole | None, int]:
    """Weights as multiples of the least of them, if they all are, and that; None where each is the
    same: of every n-th reading each stands for n."""
    least = int(weights.min()) if weights is not None and len(weights) else 1
    if weights is None or least < 2:
        return weights, 1
    whole, rest = np.divmod(weights, least)
    if rest.any():
        return weights, 1
    return (None if (whole == 1).all() else whole), least


def _of_one(shade: _Shade, item: Crowd) -> Any:
    """The pixels, as numbers, of what the only part of a crowd covers."""
    share = _share(shade.dots(shade.cover), item)
    share *= np.float32(len(_SHARES) - 1)
    share += np.float32(0.5)
    return _of_shares(shade.colour, item.paper)[share.astype(np.uint16)]


def _of_several(shades: Sequence[_Shade], item: Crowd) -> Any:
    """The pixels, as numbers, of what several parts cover, each with its colour."""
    found = np.empty(shades[0].cover.shape, np.uint32)
    there = np.logical_or.reduce([one.cover > 0 for one in shades])
    # most pixels are blank, and these are alike
    dots = [one.dots(np.append(one.cover[there], _SMALL.type(0))) for one in shades]
    number = sum(dots[1:], dots[0])
    share = _share(number, item)
    each = share / np.maximum(number, np.float32(1e-9))
    colours = [one.colour for one in shades]
    pixels = _pixels(share, [each * one for one in dots], colours, item.paper).view(np.uint32)
    found.fill(pixels[-1, 0])
    found[there] = pixels[:-1, 0]
    return found


def _share(number: Grid, item: Crowd) -> Grid:
    """How much of the full shade so many dots have: a single reading can be seen, and each further
    one darkens as much as any other."""
    least = min(max(3 / item.full, _LEAST_SHADE), _MOST_LEAST)
    further = number - np.float32(1)
    further *= np.float32((1 - least) / max(item.full - 1, 1.0))
    share: Grid = np.minimum(number, np.float32(1))
    share *= np.float32(least)
    share += np.clip(further, 0, np.float32(1 - least), out=further)
    return share


@lru_cache(maxsize=16)
def _of_shares(colour: str, paper: str) -> Any:
    """The pixels of all shares of one colour, as numbers (_SHARES,)."""
    return _pixels(_SHARES, [_SHARES], [colour], paper).view(np.uint32)[:, 0]


def _pixels(share: Grid, each: Sequence[Grid], colours: Sequence[str], paper: str) -> Any:
    """Blue, green, red and cover as bytes (…, 4), of shades of which `each` colour has a part."""
    cover = np.clip(share / _OPAQUE, 0.1, 1.0)
    pixels = np.empty((*share.shape, 4), np.uint8)
    for channel, blank in enumerate(_light(paper)):
        light = np.full(share.shape, blank, np.float32)
        for part, colour in zip(each, colours, strict=True):
            light -= part * np.float32(blank - _light(colour)[channel])
        # a signal that gives this light on the paper, as much of which is seen through
        beneath = _signal(np.float32(blank))
        signal = beneath - (beneath - _signal(light)) / cover
        # QImage's bytes are blue, green, red
        pixels[..., 2 - channel] = np.clip(255 * signal + 0.5, 0, 255)
    pixels[..., 3] = np.where(share > 1 / 512, 255 * cover + 0.5, 0)
    return pixels


def _shade(part: CrowdPart, at: tuple[Whole, Whole], size: tuple[int, int], dot: Whole) -> _Shade:
    """What a part covers, whose readings are in the pixels `at` from the left and the top, of a
    picture of that width and height."""
    weights, unit = _in_units(part.weights)
    return _Shade(_covers(at, weights, size, dot), unit, part.colour)


def _covers(
    at: tuple[Whole, Whole], weights: Whole | None, size: tuple[int, int], dot: Whole
) -> Grid:
    """How many parts of dots in the pixels `at` cover each, shape (height, width)."""
    reach = len(dot) // 2
    # with room for dots around all pixels
    wide, high = (side + 2 * reach for side in size)
    x, y = at
    keys = (y + reach) * wide + (x + reach)
    if weights is None and len(keys) <= np.iinfo(_SMALL).max:
        counts: Grid = np.zeros(high * wide, _SMALL)
        np.add.at(counts, keys, _SMALL.type(1))
    else:
        counts = np.bincount(keys, weights, minlength=high * wide)
    # whole numbers of two bytes, where they are enough, are added twice as fast
    enough = int(counts.max()) * int(dot.sum()) <= np.iinfo(_SMALL).max
    counts = counts.astype(_SMALL if enough else np.float32, copy=False)
    return _spread(counts.reshape(high, wide), dot)


def _dot(size: float) -> Whole:
    """How many parts of each pixel a dot of `size` pixels about the middle one covers; an odd
    square."""
    reach = max(int(np.ceil(size / 2 - 0.5)), 0)
    fine = (np.arange((2 * reach + 1) * _SUB_PIXELS) + 0.5) / _SUB_PIXELS - reach - 0.5
    inside = fine[:, None] ** 2 + fine[None, :] ** 2 <= (size / 2) ** 2
    side = 2 * reach + 1
    parts = inside.reshape(side, _SUB_PIXELS, side, _SUB_PIXELS)
    covered: Whole = parts.sum(axis=(1, 3))
    return covered


def _spread(counts: Grid, dot: Whole) -> Grid:
    """The counts of pixels, with room for a dot around them, each laid over all that its dot
    covers, which is the same above and below its middle, left and right of it."""
    reach = len(dot) // 2
    height, width = (side - 2 * reach for side in counts.shape)
    form = counts.dtype.type
    found = np.zeros((height, width), form)
    quarter = dot[reach:, reach:].tolist()
    lines = max(_BYTES // (width * counts.itemsize), 1)
    for begin in range(0, height, lines):
        here = found[begin : begin + lines]
        rows, some = np.empty((len(here), counts.shape[1]), form), np.empty_like(here)
        middle = begin + reach
        for down, parts in enumerate(quarter):
            above, below = (counts[at:][: len(here)] for at in (middle - down, middle + down))
            both = np.add(above, below, rows) if down else below
            for across, part in enumerate(parts):
                if part:
                    left, right = (
                        both[:, at:][:, :width] for at in (reach - across, reach + across)
                    )
                    each = np.add(left, right, some) if across else right
                    here += np.multiply(each, form(part), some)
    return found


def _light(colour: str) -> tuple[float, float, float]:
    """Red, green and blue as light, 0 to 1 (IEC 61966-2-1)."""
    signal = np.array(QColor(colour).getRgbF()[:3])
    bent = ((signal + 0.055) / 1.055) ** 2.4
    red, green, blue = np.where(signal <= 0.04045, signal / 12.92, bent).tolist()
    return red, green, blue


def _signal(light: Any) -> Any:
    """The signals 0 to 1 that stand for light, float32."""
    return _SIGNALS[(light * (_LEVELS - 1) + 0.5).astype(np.intp)]


def _signals() -> Grid:
    """The signals that stand for levels of light, shape (_LEVELS,)."""
    light = np.linspace(0, 1, _LEVELS)
    signal = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
    return signal.astype(np.float32)


_SIGNALS = _signals()
