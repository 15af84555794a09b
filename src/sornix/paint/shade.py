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

Floats = NDArray[np.float64]
Grid = NDArray[np.float32]

# The part of the shade that a single reading has: with less, places of few readings are white.
_LEAST_SHADE, _MOST_LEAST = 0.04, 0.15
# Paler shades let the grid be seen.
_OPAQUE = 0.25
_SUB_PIXELS = 8
# So many rows of pixels are worked out together: a processor keeps them at hand.
_ROWS = 64
_LEVELS = 4096
_SHARES = np.linspace(0, 1, 1 << 14, dtype=np.float32)


class _Raster(NamedTuple):
    """The pixels of a picture of the data area: `left`, `top` in mm, `dots` to the millimetre."""

    left: float
    top: float
    dots: float
    width: int
    height: int


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
    picture = _picture(item, _raster(item, left, top, dots))
    picture.setDevicePixelRatio(ratio)
    painter.save()
    painter.resetTransform()
    painter.drawImage(QPointF(x / ratio, y / ratio), picture)
    painter.restore()


def crowd_picture(item: Crowd, dots_per_mm: float) -> tuple[Rect, QImage]:
    """The shade of a crowd as a picture of `dots_per_mm`, and where it stands in mm."""
    raster = _raster(item, item.area.left, item.area.top, dots_per_mm)
    place = Rect(raster.left, raster.top, raster.width / dots_per_mm, raster.height / dots_per_mm)
    return place, _picture(item, raster)


def _raster(item: Crowd, left: float, top: float, dots: float) -> _Raster:
    width, height = (max(int(np.ceil(side * dots)), 1) for side in item.area[2:])
    return _Raster(left, top, dots, width, height)


def _picture(item: Crowd, raster: _Raster) -> QImage:
    """The shade as a picture, transparent where no reading lies."""
    dot = _dot(item.dot_mm * raster.dots)
    covers = [_covers(part, raster, dot) for part in item.parts]
    number = sum(covers[1:], covers[0])
    # a single reading can be seen, and each further one darkens as much as any other
    least = min(max(3 / item.full, _LEAST_SHADE), _MOST_LEAST)
    further = number - np.float32(1)
    further *= np.float32((1 - least) / max(item.full - 1, 1.0))
    share: Any = np.minimum(number, np.float32(1))
    share *= np.float32(least)
    share += np.clip(further, 0, np.float32(1 - least), out=further)
    if len(item.parts) == 1:
        share *= np.float32(len(_SHARES) - 1)
        share += np.float32(0.5)
        pixels = _of_shares(item.parts[0].colour, item.paper)[share.astype(np.uint16)]
    else:
        each = share / np.maximum(number, np.float32(1e-9))
        colours = [part.colour for part in item.parts]
        pixels = _pixels(share, [each * dots for dots in covers], colours, item.paper)
    form = QImage.Format.Format_ARGB32
    # a copy is its own, and the pixels are let go
    return QImage(pixels.data, raster.width, raster.height, 4 * raster.width, form).copy()


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


def _covers(part: CrowdPart, raster: _Raster, dot: Grid) -> Grid:
    """How many dots of a part cover each pixel, shape (height, width)."""
    x = ((part.points[:, 0] - raster.left) * raster.dots).astype(np.intp)
    y = ((part.points[:, 1] - raster.top) * raster.dots).astype(np.intp)
    keys = np.clip(y, 0, raster.height - 1) * raster.width + np.clip(x, 0, raster.width - 1)
    many = raster.width * raster.height
    counts = np.bincount(keys, part.weights, minlength=many).reshape(raster.height, raster.width)
    return _spread(counts.astype(np.float32), dot)


def _dot(size: float) -> Grid:
    """How much of each pixel a dot of `size` pixels about the middle one covers; an odd square."""
    reach = int(np.ceil(size / 2))
    fine = (np.arange((2 * reach + 1) * _SUB_PIXELS) + 0.5) / _SUB_PIXELS - reach - 0.5
    inside = fine[:, None] ** 2 + fine[None, :] ** 2 <= (size / 2) ** 2
    side = 2 * reach + 1
    parts = inside.reshape(side, _SUB_PIXELS, side, _SUB_PIXELS)
    covered: Grid = parts.mean(axis=(1, 3)).astype(np.float32)
    return covered


def _spread(counts: Grid, dot: Grid) -> Grid:
    """The counts of pixels, each laid over all that its dot covers, which is the same above and
    below its middle, left and right of it."""
    reach = len(dot) // 2
    height, width = counts.shape
    wide = np.zeros((height + 2 * reach, width + 2 * reach), np.float32)
    wide[reach:-reach, reach:-reach] = counts
    found = np.zeros_like(counts)
    quarter = dot[reach:, reach:].tolist()
    for begin in range(0, height, _ROWS):
        here = found[begin : begin + _ROWS]
        rows, some = np.empty((len(here), wide.shape[1]), np.float32), np.empty_like(here)
        middle = begin + reach
        for down, parts in enumerate(quarter):
            above, below = (wide[at:][: len(here)] for at in (middle - down, middle + down))
            both = np.add(above, below, rows) if down else below
            for across, part in enumerate(parts):
                if part:
                    left, right = (
                        both[:, at:][:, :width] for at in (reach - across, reach + across)
                    )
                    each = np.add(left, right, some) if across else right
                    here += each if part == 1 else np.multiply(each, np.float32(part), some)
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
