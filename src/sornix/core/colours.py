"""Colours as `#rrggbb`: their contrast, mixtures, and what can be read."""

from functools import lru_cache


def channels(colour: str) -> tuple[int, int, int]:
    """Red, green and blue, 0 to 255."""
    red, green, blue = (int(colour[i : i + 2], 16) for i in (1, 3, 5))
    return red, green, blue


@lru_cache(maxsize=1024)
def mixed(colour: str, other: str, part: float) -> str:
    """A colour of which `part` is the first and the rest the other."""
    pairs = zip(channels(colour), channels(other), strict=True)
    return "#" + "".join(f"{round(part * a + (1 - part) * b):02x}" for a, b in pairs)


@lru_cache(maxsize=1024)
def luminance(colour: str) -> float:
    """Relative luminance, 0 to 1 (WCAG 2.2)."""
    shares = (channel / 255 for channel in channels(colour))
    linear = [s / 12.92 if s <= 0.04045 else ((s + 0.055) / 1.055) ** 2.4 for s in shares]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    """The ratio of the luminances of two colours, 1 to 21 (WCAG 2.2, "contrast ratio")."""
    low, high = sorted(luminance(colour) for colour in (one, other))
    return (high + 0.05) / (low + 0.05)


@lru_cache(maxsize=1024)
def readable(colour: str, ground: str) -> str:
    """The colour, mixed with white or black until text in it can be read on `ground`."""
    end = "#ffffff" if luminance(ground) < 0.18 else "#000000"
    for step in range(20):
        found = mixed(colour, end, 1 - step / 20)
        if contrast(found, ground) >= 4.5:
            return found
    return end
