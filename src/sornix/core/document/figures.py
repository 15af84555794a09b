"""Several figures in a document: added, named, put in order, taken out. All are drawn from the same
readings, and one of them is in sight."""

from attrs import evolve

from sornix.core.document.tables import first_like
from sornix.core.document.value import Document
from sornix.core.errors import EditRefused
from sornix.core.figure import Figure, change_panel
from sornix.core.text import plain_text, rich

# More figures than these are several documents.
MOST_FIGURES = 60


def figure_names(document: Document) -> tuple[str, ...]:
    """What each figure is called: its name, else its title, else its number; no two alike."""
    found: list[str] = []
    for number, figure in enumerate(document.figures, 1):
        title = " ".join(plain_text(rich(figure.said(figure.title))).split())
        called = figure.name or title or f"Figure {number}"
        found.append(called if called not in found else f"{called} ({number})")
    return tuple(found)


def place_of(document: Document, called: str) -> int:
    """The place of the figure of that name or number (from 1). Raises EditRefused."""
    names = figure_names(document)
    same = [place for place, name in enumerate(names) if name.casefold() == called.casefold()]
    if same:
        return same[0]
    if called.isascii() and called.isdecimal() and 1 <= int(called) <= len(names):
        return int(called) - 1
    listed = ", ".join(f"“{name}”" for name in names)
    raise EditRefused(f"There is no figure “{called}”.", remedy=f"The figures are {listed}.")


def added(document: Document, figure: Figure) -> Document:
    """With a figure behind the one in sight, which is in sight then."""
    figures = document.figures
    if len(figures) >= MOST_FIGURES:
        raise EditRefused(
            f"A document holds at most {MOST_FIGURES} figures.", remedy="Begin another one."
        )
    place = document.place + 1
    return document.with_figures((*figures[:place], figure, *figures[place:]), place)


def add_copy(document: Document) -> Document:
    """With a copy of the figure in sight, which has no name yet."""
    return added(document, evolve(document.figure, name=""))


def add_first_of(document: Document, table: str) -> Document:
    """With the first figure of a table, of the size and in the style of the one in sight."""
    figure = first_like(document.figure, document.tables, table)
    return added(document, evolve(figure, name="", hand=0))


def add_empty(document: Document) -> Document:
    """With a figure of the table in hand that draws nothing yet."""
    table = document.figure.panel.series[0].table
    figure = evolve(first_like(document.figure, document.tables, table), name="", title="", hand=0)
    one = evolve(figure.panels[0].series[0], hidden=True, name=None)
    empty = change_panel(figure, series=(one,), trends=(), guides=(), curves=(), notes=())
    return added(document, evolve(empty, panels=empty.panels[:1]))


def remove_figure(document: Document, place: int) -> Document:
    """Without a figure; its neighbour comes in sight if it was. Raises EditRefused for the last."""
    figures = document.figures
    if len(figures) == 1:
        raise EditRefused("A document has at least one figure.", remedy="Change this one instead.")
    left = (*figures[:place], *figures[place + 1 :])
    shown = document.place - (place < document.place)
    return document.with_figures(left, min(shown, len(left) - 1))


def move_figure(document: Document, place: int, to: int) -> Document:
    """With a figure at another place in the order; the same one stays in sight."""
    figures = list(document.figures)
    order = list(range(len(figures)))
    order.insert(to, order.pop(place))
    moved = tuple(figures[i] for i in order)
    return document.with_figures(moved, order.index(document.place))


def name_figure(document: Document, place: int, name: str) -> Document:
    """With another name for a figure, or none where that is empty. Raises EditRefused."""
    name = " ".join(name.split())
    others = [figure.name for i, figure in enumerate(document.figures) if i != place]
    if name and name in others:
        raise EditRefused(f"There is a figure “{name}” already.", remedy="Choose another name.")
    figures = list(document.figures)
    figures[place] = evolve(figures[place], name=name)
    return document.with_figures(tuple(figures), document.place)
