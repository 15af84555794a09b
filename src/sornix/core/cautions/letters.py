"""Letters in a figure that no font has: boxes stand in their place."""

from collections.abc import Iterator
from unicodedata import name

from sornix.core.cautions.caution import Finding
from sornix.core.drawing import Drawing
from sornix.core.text import plural, spoken_list

_MOST_NAMED = 3
# What fonts are called, as packages, that have letters whose Unicode name begins so, and others.
_FONTS = (
    ("fonts-noto-cjk", ("CJK", "HIRAGANA", "KATAKANA", "HANGUL", "IDEOGRAPHIC", "FULLWIDTH")),
    ("fonts-noto-core", ("",)),
)
# Pictures in place of letters begin here.
_PICTURES, _OF_PICTURES = "\U0001f000", "fonts-noto-color-emoji"


def find(drawing: Drawing) -> Iterator[Finding]:
    """What is to be said of the letters of a drawing that cannot be written."""
    letters = drawing.unwritten
    if not letters:
        return
    named = letters if len(letters) <= _MOST_NAMED + 1 else letters[:_MOST_NAMED]
    others = len(letters) - len(named)
    which = spoken_list([f"“{one}”" for one in named] + [plural(others, "other")] * bool(others))
    one = len(letters) == 1
    what, places = ("letter", "a box stands in its place") if one else (
        "letters", "boxes stand in their places"
    )  # fmt: skip
    fonts = list(dict.fromkeys(map(_font_for, letters)))
    of = ("packages " if fonts[1:] else "package ") + spoken_list(fonts)
    yield Finding(
        f"No font on this machine has the {what} {which}: {places}. The {of} may have "
        f"{'it' if one else 'them'}.",
        size=float(len(letters)),
    )


def _font_for(letter: str) -> str:
    if _PICTURES <= letter < "\U00020000":
        return _OF_PICTURES
    return next(font for font, begins in _FONTS if name(letter, "").startswith(begins))
