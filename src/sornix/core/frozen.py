"""Values that never change: what figures, tables, fits and drawings are made of."""

from collections.abc import Callable
from operator import attrgetter
from typing import TYPE_CHECKING, Any

import attrs

if TYPE_CHECKING:
    # the type checker knows classes that attrs makes by the name of what makes them
    from attrs import frozen
else:

    def frozen(made=None, *, eq=True, **options):
        """Makes a frozen class of attrs whose `==`, `hash` and `repr` are closures.

        attrs writes and compiles those anew for each class, half of the time that making one
        takes, and there are a hundred at every start. Comparing tuples also passes over what two
        values share, which is most of a figure and its edited self.
        """

        def make(kind):
            own = set(vars(kind))
            kind = attrs.frozen(eq=False, repr=False, **options)(kind)
            ways = _repr(kind) | (_eq_and_hash(kind) if eq else {})
            for name, way in ways.items():
                if name not in own:
                    setattr(kind, name, way)
            return kind

        return make if made is None else make(made)


def _repr(kind: Any) -> dict[str, Callable[..., object]]:
    names = [each.name for each in attrs.fields(kind) if each.repr]

    def told(self: Any) -> str:
        values = ", ".join(f"{name}={getattr(self, name)!r}" for name in names)
        return f"{type(self).__qualname__}({values})"

    return {"__repr__": told}


def _eq_and_hash(kind: Any) -> dict[str, Callable[..., object]]:
    names = [each.name for each in attrs.fields(kind) if each.eq]
    values: Callable[[Any], object] = attrgetter(*names) if names else lambda _: ()

    def equal(self: Any, other: Any) -> object:
        if other.__class__ is not self.__class__:
            return NotImplemented
        return values(self) == values(other)

    def hashed(self: Any) -> int:
        return hash(values(self))

    return {"__eq__": equal, "__hash__": hashed}


__all__ = ["frozen"]
