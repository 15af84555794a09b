"""Answers about values that are asked for again and again while they are drawn."""

from collections import OrderedDict
from collections.abc import Callable
from functools import wraps
from threading import Lock
from typing import Any, TypeVar, TypeVarTuple

Asked = TypeVarTuple("Asked")
Answer = TypeVar("Answer")
_MOST = 256


def remembered(ask: Callable[[*Asked], Answer]) -> Callable[[*Asked], Answer]:
    """The function with its last answers kept, by the very values that it is asked about:
    to compare panels of hundreds of series takes longer than to answer."""
    kept: OrderedDict[tuple[Any, ...], tuple[tuple[Any, ...], Answer]] = OrderedDict()
    lock = Lock()

    @wraps(ask)
    def answer(*about: *Asked) -> Answer:
        # texts are few and kept; what is kept keeps its values too, so that no others can have
        # their numbers
        key = tuple(map(id, about))
        found = kept.get(key)
        if found is None:
            found = about, ask(*about)
            with lock:
                kept[key] = found
                while len(kept) > _MOST:
                    kept.popitem(last=False)
        return found[1]

    return answer
