"""The page of a figure: HTML with everything in it, that no text of a column can break out of."""

import json
import re
from typing import Any

import numpy as np

from sornix.core.document import Document
from sornix.core.drawing import Crowd, Drawing, Lines, Markers, Path
from sornix.core.drawing.parts.items import Item
from sornix.core.text import plural
from sornix.data import data_path
from sornix.paint.export import Told
from sornix.paint.page.colours import for_dark
from sornix.paint.page.numbers import page_numbers
from sornix.paint.page.opening import opening
from sornix.paint.page.svgtext import SvgText, escaped, head
from sornix.paint.page.typeface import faces

_KEYS = "Arrow keys go from reading to reading, plus and minus look closer."
_HINT = (
    "Point at a reading, or go from one to the next by the arrow keys. The wheel, a box or two "
    "fingers look closer."
)
_NO_SCRIPT = (
    "Scripts are off: nothing can be pointed at, and the points of large series are missing."
)
# Markers of so many readings stand in the page; of more they are made from its numbers.
_MOST_WRITTEN = 400


def page(document: Document, drawing: Drawing, told: Told) -> bytes:
    """The figure in sight as one HTML file without any outside part."""
    writer = SvgText()
    paper = writer.colour(drawing.background)
    numbers = page_numbers(document.figure, document.tables, drawing)
    drawn = _drawn(drawing, writer, numbers)
    _dress(numbers, drawing, writer)
    figure = (
        f"{head(drawing)}<defs>{writer.defs()}</defs>"
        f'<rect class="f{paper}" width="100%" height="100%"/>{drawn}</svg>'
    )
    script = _tight("page.js")
    sheet = _sheet(drawing, writer) + _tight("page.css")
    title = told.called
    caption = f"<figcaption>{escaped(told.text)}</figcaption>" if told.text else ""
    few = "".join(
        f"<p class=hint>{escaped(one['name'])}: {len(one['x']['values']):,} of "
        f"{escaped(plural(one['of'], 'reading'))} can be pointed at, the lowest and the highest at "
        "each place.</p>"
        for one in numbers["series"] if "of" in one
    )  # fmt: skip
    text = f"""{opening(title, sheet, script)}
<figure tabindex="0" aria-label="{escaped(title)}. {_KEYS}">
<div class="paper">{figure}<div id="flag" hidden></div></div>
<div id="said" hidden>{escaped(told.title)} {escaped(told.text)}</div>
{caption}
</figure>
<p id="reading" role="status" aria-live="polite"></p>
<div class="tools"><div id="series" role="group" aria-label="Series" hidden></div>
<button id="back" type="button" hidden>back</button>
<button id="copy" type="button">copy the numbers</button></div>
<p class="hint">{_HINT}</p>
{few}
<details id="numbers"><summary>The numbers</summary></details>
<noscript><p class="hint">{_NO_SCRIPT}</p></noscript>
</main>
<script type="application/json" id="data">{_as_data(numbers)}</script>
<script>{script}</script>
</body>
</html>
"""
    return text.encode("utf-8", "replace")


def _drawn(drawing: Drawing, writer: SvgText, numbers: dict[str, Any]) -> str:
    """All items, those of a panel in a group of its own."""
    found, at = [], 0
    series = {one["id"]: one for one in numbers["series"]}
    for index, count in enumerate(drawing.of_panels):
        inside = "".join(_written(item, writer, series) for item in drawing.items[at : at + count])
        found.append(f'<g data-panel="{index}">{inside}</g>')
        at += count
    return "".join([*found, *map(writer.group, drawing.items[at:])])


def _written(item: Item, writer: SvgText, series: dict[str, Any]) -> str:
    """An item; markers of many readings as their look alone, and which readings have it, and a line
    through many as the series that it goes through."""
    if isinstance(item, Path) and _goes_through(item, series.get(item.of.split("/")[1])):
        return f'<g data-of="{escaped(item.of)}" data-through="">{writer.line(item, "")}</g>'
    if not isinstance(item, Markers) or len(item.points) <= _MOST_WRITTEN:
        return writer.group(item)
    one = series.get(item.of.removeprefix("series/"))
    if one is None:
        return writer.group(item)
    count = len(one["x"]["values"])
    rows = one.get("rows") or range(1, count + 1)
    left = set(one.get("left", ()))
    drawn = set((item.rows + 1).tolist())
    which = {"in": {row for i, row in enumerate(rows) if i not in left},
             "left": {rows[i] for i in left}}  # fmt: skip
    for name, these in which.items():
        if drawn == these:
            look = f'<g {writer.look(item)} data-shape="{writer.shape(item)}"></g>'
            return f'<g data-of="{escaped(item.of)}" data-which="{name}">{look}</g>'
    return writer.group(item)


def _goes_through(item: Path, one: dict[str, Any] | None) -> bool:
    """Whether a line of many places goes straight through the readings of a series, in their
    order, and nowhere else."""
    if one is None or "of" in one or len(item.points) <= _MOST_WRITTEN or item.stroke.dashes:
        return False
    return one["straight"] and not np.isnan(item.points).any()


def _dress(numbers: dict[str, Any], drawing: Drawing, writer: SvgText) -> None:
    """Gives series the colours of their swatches, and panels the look of their grid."""
    for one in numbers["series"]:
        of = f"series/{one['id']}"
        drawn = (item for item in drawing.items if item.of.split("/name")[0].startswith(of))
        one["colour"] = next((writer.colour(c) for c in map(_colour, drawn) if c), 0)
    at = 0
    for index, count in enumerate(drawing.of_panels):
        for item in drawing.items[at : at + count]:
            if item.of == "y-grid" and isinstance(item, Lines):
                numbers["panels"][index]["grid"] = f"s{writer.colour(item.stroke.colour)}"
        at += count


def _colour(item: Any) -> str:
    """The colour that tells an item from others."""
    if isinstance(item, Crowd):
        return item.parts[0].colour
    for name in ("fill", "colour"):
        if hasattr(item, name) and item.of.count("/") < 2:
            return str(getattr(item, name))
    return str(item.stroke.colour) if hasattr(item, "stroke") else ""


def _sheet(drawing: Drawing, writer: SvgText) -> str:
    """The colours as variables, in both lights, and the classes that use them."""
    numbered = writer.colours.items()
    light = "".join(f"--c{n}:{colour};" for colour, n in numbered)
    # a shade is made for the paper that it lies on
    shaded = any(isinstance(item, Crowd) for item in drawing.items)
    dark = light if shaded else "".join(f"--c{n}:{for_dark(c)};" for c, n in numbered)
    used = "".join(
        f".f{n}{{fill:var(--c{n})}}.s{n}{{stroke:var(--c{n})}}span.f{n}{{background:var(--c{n})}}"
        for n in writer.colours.values()
    )
    paper = writer.colour(drawing.background)
    own = f"--paper:var(--c{paper});--wide:{drawing.width_mm:g}mm;"
    return (
        f":root{{{light}{own}}}@media (prefers-color-scheme:dark){{:root{{{dark}}}}}"
        f"@media print{{:root{{{light}}}}}{used}{faces(writer.letters)}"
    )


def _tight(name: str) -> str:
    """A file of the page without its remarks and the blanks that lines begin with."""
    text = re.sub(r"/\*.*?\*/", "", data_path(name).read_text(encoding="utf-8"), flags=re.DOTALL)
    return "\n".join(line.strip() for line in text.splitlines() if line.strip())


def _as_data(numbers: dict[str, Any]) -> str:
    """JSON that ends no element, whatever stands in it."""
    told = json.dumps(numbers, separators=(",", ":"), allow_nan=False)
    return told.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026")
