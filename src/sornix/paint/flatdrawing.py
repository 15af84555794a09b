"""A figure as an OpenDocument drawing in one stream (OpenDocument 1.3, part 3, 3.1.2): what word
processors take from the clipboard with the alternative text of what they paste."""

import base64
from xml.sax.saxutils import escape

from sornix.core.document import Export
from sornix.core.drawing import Drawing
from sornix.paint.export import Told, svg

# It names no master page: a presentation program ended where one was pasted into it.
_FLAT = """\
<?xml version="1.0" encoding="UTF-8"?>
<office:document xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"
 xmlns:draw="urn:oasis:names:tc:opendocument:xmlns:drawing:1.0"
 xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0"
 xmlns:svg="urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0"
 office:version="1.3" office:mimetype="application/vnd.oasis.opendocument.graphics">
<office:automatic-styles><style:style style:name="picture" style:family="graphic">
<style:graphic-properties draw:stroke="none" draw:fill="none"/></style:style>
</office:automatic-styles>
<office:body><office:drawing><draw:page draw:name="figure">
<draw:frame draw:style-name="picture" svg:x="0mm" svg:y="0mm" svg:width="{wide}mm"
 svg:height="{high}mm"><draw:image><office:binary-data>{picture}</office:binary-data></draw:image>
<svg:title>{title}</svg:title><svg:desc>{text}</svg:desc></draw:frame>
</draw:page></office:drawing></office:body></office:document>
"""


def flat_drawing(drawing: Drawing, told: Told) -> bytes:
    """The figure as a vector picture in its size, its texts as outlines, with its title and its
    alternative text."""
    picture = base64.b64encode(svg(drawing, Export(outlines=True), told)).decode()
    title, text = (escape(words) for words in (told.title, told.text))
    wide, high = (f"{size:.3f}" for size in (drawing.width_mm, drawing.height_mm))
    return _FLAT.format(wide=wide, high=high, picture=picture, title=title, text=text).encode()
