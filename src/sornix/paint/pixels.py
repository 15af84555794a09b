"""The pixels of a picture of Qt's as an array."""

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QImage


def pixels_of(picture: QImage, *, to_write: bool = False) -> NDArray[np.uint32]:
    """The pixels of a picture of the format RGB32 or ARGB32, shape (height, width), which lie in
    its own memory: they hold as long as it does."""
    # stubs do not know that the memory can be given its size
    bits: Any = picture.bits() if to_write else picture.constBits()
    bits.setsize(picture.sizeInBytes())
    # each pixel of these formats has four bytes, so that no line ends with any beside its pixels
    return np.frombuffer(bits, np.uint32).reshape(picture.height(), picture.width())
