"""How far a sentence could be read."""

from sornix.core.statement.words.pattern import Literal, Slot


class Furthest:
    """How far a sentence could be read, and what might have stood there."""

    def __init__(self) -> None:
        self.at = -1
        self.elements: list[Literal | Slot] = []

    def with_earlier(self, other: "Furthest | None") -> "Furthest":
        """With what could have gone on in what was read before, where that ended here."""
        if other is not None and other.at >= self.at:
            for element in other.elements:
                self.missed(other.at, element)
        return self

    def missed(self, at: int, element: Literal | Slot) -> None:
        if at > self.at:
            self.at, self.elements = at, []
        if at == self.at and element not in self.elements:
            self.elements.append(element)
