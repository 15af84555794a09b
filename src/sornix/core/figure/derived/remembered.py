"""Answers about a panel that are asked for again and again while it is drawn."""

from collections import OrderedDict
from collections.abc import Callable
from functools import wraps
from threading import Lock
from typing import TypeVar

from sornix.core.figure.model.values import Panel
from sornix.core.readings import Tables

Answer = TypeVar("Answer")
_MOST = 256


def remembered(
    ask: Callable[[Panel, Tables, str], Answer],
) -> Callable[[Panel, Tables, str], Answer]:
    """The function with its last answers kept, by the very panel and tables that it is asked about:
    to compare panels of hundreds of series takes longer than to answer."""
    kept: OrderedDict[tuple[int, int, str], tuple[Panel, Tables, Answer]] = OrderedDict()
    lock = Lock()

    @wraps(ask)
    def answer(panel: Panel, tables: Tables, about: str) -> Answer:
        key = id(panel), id(tables), about
        with lock:
            found = kept.get(key)
        # what is kept keeps its panel too, so that no other one can have its number
        if found is None or found[0] is not panel or found[1] is not tables:
            found = panel, tables, ask(panel, tables, about)
            with lock:
                kept[key] = found
                kept.move_to_end(key)
                while len(kept) > _MOST:
                    kept.popitem(last=False)
        return found[2]

    return answer
