"""What was made for a panel, kept for the next drawing: an edit changes few of the panels of a
figure, and a panel in few respects."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Any, Generic, TypeVar

from attrs import field, frozen

from sornix.core.drawing.marks.reduction import Detail
from sornix.core.drawing.parts.items import Measure
from sornix.core.drawing.parts.style import Style
from sornix.core.figure import Panel, fitted_trends
from sornix.core.readings import Tables

Answer = TypeVar("Answer")


@frozen(eq=False)
class Canvas:
    """What all panels of a figure are drawn with, in one drawing."""

    tables: Tables
    style: Style
    measure: Measure
    detail: Detail
    _about: dict[int, tuple[Any, ...]] = field(init=False, factory=dict)

    def about(self, panel: Panel) -> tuple[Any, ...]:
        """A panel, all that it is drawn with but for the detail, and the fits that are known of it
        when it is first asked for."""
        found = self._about.get(id(panel))
        if found is None:
            found = (panel, self.tables, self.style, self.measure, *_fits(panel, self.tables))
            self._about[id(panel)] = found
        return found


class Kept(Generic[Answer]):
    """The last `most` answers about panels."""

    def __init__(self, most: int) -> None:
        self._most = most
        # by the very panel, what it is drawn with, and the fits that are known of it; these are
        # kept besides, so that no others can have their numbers
        self._answers: OrderedDict[tuple[Any, ...], tuple[tuple[Any, ...], Answer]] = OrderedDict()
        self._lock = Lock()

    def answer(
        self,
        panel: Panel,
        canvas: Canvas,
        *given: Hashable,
        make: Callable[[], Answer],
        light: Callable[[Answer], bool] = lambda _: True,
    ) -> Answer:
        """What follows from a panel, a canvas and all else that is `given`; kept if it is
        `light`."""
        about = canvas.about(panel)
        key = (*map(id, about), canvas.detail, *given)
        with self._lock:
            known = self._answers.get(key)
            if known is not None:
                self._answers.move_to_end(key)
                return known[1]
        answer = make()
        if light(answer):
            with self._lock:
                self._answers[key] = about, answer
                while len(self._answers) > self._most:
                    self._answers.popitem(last=False)
        return answer


def _fits(panel: Panel, tables: Tables) -> tuple[Any, ...]:
    """The fits of all trends that bear on a panel, each with its own; those that are not known,
    since they take long or cannot be, draw nothing."""
    company = {id(one): one for axis in "xy" for one in panel.company(axis)}
    found = (pair for one in (panel, *company.values()) for pair in fitted_trends(one, tables))
    return tuple(part for pair in found for part in pair)
