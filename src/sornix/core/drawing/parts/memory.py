"""The last answers about readings, which they do not keep alive."""

import weakref
from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Any, Generic, TypeVar

Answer = TypeVar("Answer")


class Memory(Generic[Answer]):
    """Remembers what was found of things and keys, `most` of them; whichever thread asked."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._known: OrderedDict[tuple[int, Hashable], tuple[weakref.ref[Any], Answer]] = (
            OrderedDict()
        )
        self._lock = Lock()

    def of(self, thing: Any, key: Hashable, make: Callable[[], Answer]) -> Answer:
        """What is known of the very thing, made where it is not."""
        at = id(thing), key
        with self._lock:
            known = self._known.get(at)
        if known is not None and known[0]() is thing:
            return known[1]
        found = make()
        with self._lock:
            self._known[at] = weakref.ref(thing), found
            while len(self._known) > self._most:
                self._known.popitem(last=False)
        return found
