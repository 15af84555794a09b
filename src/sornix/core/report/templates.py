"""In which order a report stands, and under which headings: data, as JSON."""

import json
from collections.abc import Mapping
from functools import cache
from pathlib import Path
from types import MappingProxyType
from typing import Any

from attrs import field

from sornix.core.document.stored.structuring import structured
from sornix.core.errors import DocumentError, refusal
from sornix.core.figure.model.checks import each, one_of
from sornix.core.frozen import frozen
from sornix.data import data_path

# What can be said of each figure, and behind all of them.
OF_FIGURES = ("picture", "methods", "trends", "cautions", "left-out", "statement")
AT_THE_END = ("statements", "readings")


@frozen
class Template:
    """`words` tell people what it is. `figure` is what is said of each figure, in this order;
    `end` what stands behind all of them. `headings` are for these parts, "" for none, and
    `contents` that of a table of contents."""

    words: str
    figure: tuple[str, ...] = field(default=("picture",), validator=each(one_of(OF_FIGURES)))
    end: tuple[str, ...] = field(default=(), validator=each(one_of(AT_THE_END)))
    headings: tuple[tuple[str, str], ...] = ()
    contents: str = "Contents"

    def heading(self, part: str) -> str:
        """The heading of a part, "" where it has none."""
        return dict(self.headings).get(part, "")


def template_from(value: Any, where: str) -> Template:
    """The template in JSON. Raises DocumentError."""
    try:
        headings = value.get("headings", {})
        pairs = [list(pair) for pair in headings.items()]
        return structured({**value, "headings": pairs}, Template, "template")
    except (ValueError, AttributeError, TypeError) as error:
        raise DocumentError(
            f"This is no template of a report: {error}.",
            where=where,
            remedy=f"Parts of a figure are {', '.join(OF_FIGURES)}; behind all stand "
            f"{' and '.join(AT_THE_END)}.",
        ) from error


@cache
def _shipped() -> Mapping[str, Template]:
    told = json.loads(data_path("reports.json").read_text(encoding="utf-8"))
    return MappingProxyType({name: template_from(one, name) for name, one in told.items()})


class _Templates(Mapping[str, Template]):
    """Those that come along, read when they are first asked for."""

    def __getitem__(self, name: str) -> Template:
        return _shipped()[name]

    def __iter__(self) -> Any:
        return iter(_shipped())

    def __len__(self) -> int:
        return len(_shipped())


TEMPLATES: Mapping[str, Template] = _Templates()


def read_template(path: Path) -> Template:
    """The template in a file. Raises DocumentError."""
    try:
        value = json.loads(path.read_text(encoding="utf-8"))
    except OSError as error:
        raise DocumentError(
            f"The template cannot be read ({refusal(error)}).", where=str(path)
        ) from error
    except (ValueError, RecursionError) as error:
        raise DocumentError(
            f"The template cannot be read as JSON ({error}).", where=path.name
        ) from error
    return template_from(value, path.name)
