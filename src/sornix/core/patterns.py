"""Patterns that are compiled when they are first asked: a hundred and more are known at the start
of the program, and few of them are needed to show a window."""

import re
from typing import Any, AnyStr, cast

_ASKED = ("match", "fullmatch", "search", "sub", "subn", "split", "findall", "finditer", "pattern")


class _Later:
    """Stands for a pattern until something is asked of it, and then holds its answers."""

    def __init__(self, text: Any, flags: int) -> None:
        self._made_of = (text, flags)

    def __getattr__(self, name: str) -> Any:
        # not found yet: from here on these are plain attributes, as quick as those of the pattern
        if name not in _ASKED:
            raise AttributeError(name)
        made = re.compile(*self._made_of)
        self.__dict__.update({asked: getattr(made, asked) for asked in _ASKED})
        return self.__dict__[name]


def pattern(text: AnyStr, flags: int = 0) -> re.Pattern[AnyStr]:
    """A pattern with all that can be asked of one; the functions of `re` do not take it."""
    return cast("re.Pattern[AnyStr]", _Later(text, flags))
