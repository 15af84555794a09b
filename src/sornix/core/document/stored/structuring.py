"""Values of our classes from JSON, taken on no trust: nothing is made of something else."""

from functools import cache
from typing import Any, TypeVar

from sornix.core.text import short

Kind = TypeVar("Kind")
_MOST_SAID = 400
_MOST_WHOLE = 1 << 53


@cache
def converter() -> Any:
    """What makes values of our classes from JSON, of exactly the options that these have."""
    import cattrs

    found = cattrs.Converter(forbid_extra_keys=True)
    for kind in (bool, int, float, str):
        found.register_structure_hook(kind, _strictly)
    return found


def structured(value: Any, kind: type[Kind], path: str = "trend") -> Kind:
    """A value of a class. Raises ValueError with what is wrong, and where under a `path`."""
    import cattrs

    try:
        found: Kind = converter().structure(value, kind)
    except (
        cattrs.BaseValidationError, TypeError, ValueError, OverflowError, AttributeError, KeyError
    ) as error:  # fmt: skip
        parts = isinstance(error, BaseExceptionGroup)
        told = cattrs.transform_error(error, path=path) if parts else [str(error)]
        raise ValueError(short("; ".join(told), _MOST_SAID)) from error
    return found


def _strictly(value: Any, kind: type) -> Any:
    """A value of the very kind that JSON has for it."""
    if type(value) is kind and not (isinstance(value, int) and abs(value) > _MOST_WHOLE):
        return value
    if kind is float and type(value) is int:
        return float(value)
    raise TypeError(f"{short(repr(value), 40)} is no {kind.__name__}")
