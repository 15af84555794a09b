"""Undo and redo: the list of earlier and of undone documents, one step a gesture."""

from attrs import evolve

from sornix.core.document.value import Document
from sornix.core.frozen import frozen


@frozen
class Step:
    """What a gesture was called, and the document before it (or, undone, after it)."""

    name: str
    document: Document


@frozen
class History:
    """`present` with all that was before and all that was undone, the latest last."""

    present: Document
    past: tuple[Step, ...] = ()
    future: tuple[Step, ...] = ()

    def done(self, name: str, document: Document) -> "History":
        """After a gesture; one that changed nothing leaves no step."""
        if document == self.present:
            return self
        return History(document, (*self.past, Step(name, self.present)))

    @property
    def steps(self) -> list[tuple[str, Document]]:
        """All documents in their order, each with the name of the step that led to it; those that
        were undone behind the present one. It is at place `len(past)`."""
        names = ["", *(step.name for step in self.past)]
        documents = [*(step.document for step in self.past), self.present]
        future = [(step.name, step.document) for step in reversed(self.future)]
        return [*zip(names, documents, strict=True), *future]

    def undone(self) -> "History":
        """One step back; unchanged at the beginning."""
        if not self.past:
            return self
        step = self.past[-1]
        return evolve(
            self,
            present=step.document,
            past=self.past[:-1],
            future=(*self.future, Step(step.name, self.present)),
        )

    def redone(self) -> "History":
        """One step forward; unchanged where nothing was undone."""
        if not self.future:
            return self
        step = self.future[-1]
        return evolve(
            self,
            present=step.document,
            past=(*self.past, Step(step.name, self.present)),
            future=self.future[:-1],
        )
