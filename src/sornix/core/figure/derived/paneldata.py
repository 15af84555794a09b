"""What follows from a panel and its tables, or from a table: each answer is made once, and kept
with all others about the same values."""

from collections import OrderedDict
from collections.abc import Callable
from functools import wraps
from threading import Lock
from typing import Any, TypeVar, TypeVarTuple

Asked = TypeVarTuple("Asked")
Answer = TypeVar("Answer")
# Of so many panels and tables the answers are kept: those of the last scenes, so that undo and redo
# ask nothing anew.
_MOST = 256
_SUBJECTS = ("panel", "tables", "table")


class PanelData:
    """Answers about a panel with its tables (`subject`), however many series it has: if only some
    were kept, those of a panel of hundreds would push each other out at each drawing."""

    __slots__ = ("answers", "subject")

    def __init__(self, subject: tuple[Any, ...]) -> None:
        self.subject = subject
        # by who answered and the very values that were asked about; these are kept besides, so that
        # no others can have their numbers
        self.answers: dict[tuple[Any, ...], tuple[tuple[Any, ...], Any]] = {}


_kept: OrderedDict[tuple[int, ...], PanelData] = OrderedDict()
_lock = Lock()


def _begun(key: tuple[int, ...], subject: tuple[Any, ...]) -> PanelData:
    """The data of a subject that was not asked about before, in place of the oldest."""
    with _lock:
        data = _kept.setdefault(key, PanelData(subject))
        while len(_kept) > _MOST:
            _kept.popitem(last=False)
    return data


def remembered(ask: Callable[[*Asked], Answer]) -> Callable[[*Asked], Answer]:
    """A function about a `panel`, with its `tables` or without, or about a `table`, whose answers
    are kept in the data of these, by the very values that it is asked about: to compare panels of
    hundreds of series takes longer than to answer."""
    code = ask.__code__
    at = [i for i, n in enumerate(code.co_varnames[: code.co_argcount]) if n in _SUBJECTS]
    subject = slice(at[0], at[-1] + 1)

    @wraps(ask)
    def answer(*given: *Asked) -> Answer:
        about: tuple[Any, ...] = given
        ids = tuple(map(id, about))
        data = _kept.get(ids[subject]) or _begun(ids[subject], about[subject])
        found = data.answers.get((ask, *ids))
        if found is None:
            data.answers[ask, *ids] = found = about, ask(*given)
        answered: Answer = found[1]
        return answered

    return answer
