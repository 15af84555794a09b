"""Letters that no file or picture can hold: halves of letters, and signs that are none."""

from sornix.core.patterns import pattern

# What XML and HTML cannot hold, and no typeface shows: controls but tab and line ends, and what
# Unicode says is no letter, at the end of each of its planes and in a block of its own.
_ENDS = "".join(chr(plane << 16 | 0xFFFE) + chr(plane << 16 | 0xFFFF) for plane in range(17))
_CONTROLS = pattern(f"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ufdd0-\ufdef{_ENDS}]")

# What says how letters run, or where a line may end, and is not seen: beside a number it would be
# no number. As a table for translating.
UNSEEN = dict.fromkeys(
    (0x200B, 0x200E, 0x200F, *range(0x202A, 0x202F), 0x2060, *range(0x2066, 0x206A), 0xFEFF)
)


def has_half(text: str) -> bool:
    """Whether a text holds half a letter (a lone surrogate), which UTF-8 does not have."""
    return not text.isascii() and any("\ud800" <= sign <= "\udfff" for sign in text)


def whole_letters(text: str) -> str:
    """The text with a mark in place of each half of a letter."""
    return text.encode(errors="replace").decode() if has_half(text) else text


def printable(text: str) -> str:
    """The text as it can be printed: with a mark in place of what is no letter."""
    if text.isprintable():
        return text
    return _CONTROLS.sub("\ufffd", whole_letters(text))
