"""What stands in a layout, kept from one scene to the next: making widgets takes far longer than
changing what they say."""

from collections.abc import Callable, Hashable, Iterator

from PyQt6.QtWidgets import QBoxLayout, QLayout, QWidget

Item = QWidget | QLayout


def _nothing(*_: object) -> None:
    """What is done where nothing was asked for yet."""


class Part:
    """Something in a layout: what `kind` of thing it is, its widgets in their order, what they
    do now (`act`), and the parts that stand within it."""

    def __init__(
        self, kind: Hashable, item: Item, *widgets: QWidget, inner: "Kept | None" = None
    ) -> None:
        self.kind, self.item = kind, item
        self.widgets, self.inner = widgets, inner
        self.act: Callable[..., object] = _nothing

    def press(self) -> None:
        self.act()

    def choose(self, value: object) -> None:
        self.act(value)

    def in_order(self) -> Iterator[QWidget]:
        """Its widgets and those within it."""
        yield from self.widgets
        if self.inner is not None:
            yield from self.inner.in_order()


class Kept:
    """The parts of a layout, behind so many items that are `fixed`. They are told anew from the
    first on, and those that are of the same kind stay."""

    def __init__(self, layout: QBoxLayout, fixed: int = 0) -> None:
        self._layout, self._fixed = layout, fixed
        self._parts: list[Part] = []
        self._at = 0
        self._made = False

    def begin(self) -> None:
        self._at = 0

    def next(self, kind: Hashable, make: Callable[[], Part]) -> Part:
        """The part that comes next: the one of that kind, or a new one in its place."""
        kinds = [part.kind for part in self._parts[self._at :]]
        if kind in kinds:
            self._drop(self._at, self._at + kinds.index(kind))
        else:
            part = make()
            if isinstance(part.item, QWidget):
                self._layout.insertWidget(self._fixed + self._at, part.item)
            else:
                self._layout.insertLayout(self._fixed + self._at, part.item)
            for widget in part.widgets:
                # else it would be shown when the hand rests, and takes no focus until then
                widget.show()
            self._parts.insert(self._at, part)
            self._made = True
        self._at += 1
        return self._parts[self._at - 1]

    def end(self) -> None:
        """Lets go of what was not told of."""
        self._drop(self._at, len(self._parts))

    def has_new(self) -> bool:
        """Whether a part was made in it since this was last asked."""
        inside = [part.inner.has_new() for part in self._parts if part.inner is not None]
        made, self._made = self._made, False
        return made or any(inside)

    def in_order(self) -> Iterator[QWidget]:
        for part in self._parts:
            yield from part.in_order()

    def _drop(self, begin: int, end: int) -> None:
        for part in self._parts[begin:end]:
            self._layout.takeAt(self._fixed + begin)
            for widget in part.in_order():
                widget.hide()
                widget.setParent(None)
                widget.deleteLater()
            if isinstance(part.item, QLayout):
                part.item.setParent(None)
        del self._parts[begin:end]
