"""The typeface of a page: of each face just the letters that stand in the figure, so that it looks
everywhere as it was drawn."""

import base64
import io
from collections.abc import Collection, Mapping
from typing import Any

from sornix.paint.fonts import font_file

FAMILY = "Figure"
# Ticks of a closer look are written with these.
_ALWAYS = "0123456789−-.: ×⁻⁰¹²³⁴⁵⁶⁷⁸⁹"
# A face: whether it is italic, and whether it is bold.
Face = tuple[bool, bool]


def faces(letters: Mapping[Face, Collection[str]]) -> str:
    """Style rules that bring the letters of each face along."""
    found = []
    for (italic, bold), text in sorted(letters.items()):
        more = _ALWAYS if not (italic or bold) else ""
        content = base64.b64encode(_subset(italic, bold, "".join(sorted(set(text) | set(more)))))
        found.append(
            f"@font-face{{font-family:{FAMILY};font-style:{'italic' if italic else 'normal'};"
            f"font-weight:{600 if bold else 400};"
            f"src:url(data:font/woff;base64,{content.decode()}) format('woff')}}"
        )
    return "".join(found)


def _subset(italic: bool, bold: bool, text: str) -> bytes:
    """A face with these letters alone, as WOFF."""
    from fontTools import subset

    options: Any = subset.Options()
    options.layout_features = ["tnum", "kern"]
    options.hinting = False
    options.name_IDs = []
    options.notdef_outline = True
    options.flavor = "woff"
    # the same figure makes the same file
    options.recalc_timestamp = False
    stream = io.BytesIO()
    with subset.load_font(str(font_file(italic=italic, bold=bold)), options) as font:
        cutter = subset.Subsetter(options)
        cutter.populate(text=text)
        cutter.subset(font)
        subset.save_font(font, stream, options)
    return stream.getvalue()
