"""The whole of what is saved, as one value."""

from collections.abc import Callable

from attrs import evolve, field

from sornix.core.figure import Figure, new_figure
from sornix.core.figure.model.checks import between, each, one_of
from sornix.core.frozen import frozen
from sornix.core.readings import Table, Tables

# Files that a figure can be exported to, in words: pictures (sornix.paint.export.FORMATS makes
# them), and what is drawn as numbers.
EXPORT_ENDINGS: dict[str, str] = {
    ".png": "PNG, a picture",
    ".svg": "SVG, a drawing that can be edited",
    ".pdf": "PDF, for print",
    ".html": "HTML, a page that can be pointed at",
    ".csv": "CSV, the numbers that are drawn",
}


@frozen
class Export:
    """How a figure is exported: in which formats, how finely, and how text stands in SVG.

    A picture has `dots_per_inch`, or is `width_px` wide where that is given; `outlines` draws the
    text of SVG as outlines, for programs that do not have the typeface.
    """

    endings: tuple[str, ...] = field(
        default=(".png",),
        validator=each(one_of(EXPORT_ENDINGS), least=1),
    )
    dots_per_inch: float = field(default=300.0, validator=between(20, 2400))
    width_px: int | None = field(default=None, validator=between(16, 30_000))
    transparent: bool = False
    outlines: bool = False

    def dots_per_mm(self, width_mm: float) -> float:
        """Dots to the millimetre of a picture of a figure of that width."""
        return self.width_px / width_mm if self.width_px else self.dots_per_inch / 25.4


@frozen
class Document:
    """Tables of readings and the figures that are drawn from them: one in sight, those `before` it
    and those `after` it; how they were exported last; and whether it is a `pattern`, which waits
    for other readings."""

    tables: Tables
    figure: Figure
    export: Export = Export()
    pattern: bool = False
    before: tuple[Figure, ...] = ()
    after: tuple[Figure, ...] = ()

    @property
    def figures(self) -> tuple[Figure, ...]:
        """All figures, in their order."""
        return (*self.before, self.figure, *self.after)

    @property
    def place(self) -> int:
        """Which of the figures is in sight, from 0."""
        return len(self.before)

    def with_figures(self, figures: tuple[Figure, ...], place: int) -> "Document":
        """The document with these figures, of which that at a place is in sight."""
        return evolve(
            self, figure=figures[place], before=figures[:place], after=figures[place + 1 :]
        )

    def looking_at(self, place: int) -> "Document":
        """The document with another figure in sight: a matter of looking."""
        return self if place == self.place else self.with_figures(self.figures, place)

    def each(self, change: Callable[[Figure], Figure]) -> "Document":
        """The document with every figure changed; itself where none is."""
        figures = tuple(map(change, self.figures))
        if all(new is old for new, old in zip(figures, self.figures, strict=True)):
            return self
        return self.with_figures(figures, self.place)


def new_document(*tables: Table) -> Document:
    """A document that begins with some tables, times whose parts stand in several columns put
    together, and the first figure of the first one."""
    from sornix.core.readings.changes.together import with_whole_times

    whole = tuple(map(with_whole_times, tables))
    return Document(whole, new_figure(whole[0]))
