"""The files of a command: what is read, as tables and documents, and what is going to be written:
each with a name of its own, and none of those that are read."""

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from sornix.cli.answer import Command, note_doubts
from sornix.core.errors import ReadingsError
from sornix.core.files import ENDING, same_file
from sornix.core.letters import printable
from sornix.core.readings import Table, Tables, table_named
from sornix.core.readings.formats.sources import read_file
from sornix.core.readings.tables.dialect import NOTHING_HELD, WORDS, Held, Word, doubts_of

if TYPE_CHECKING:
    from sornix.core.document import Document

_HELD = "sornix.held"
# Words that are said or not; so many values are too many to be listed.
_FLAGS = ("units", "lying")
_MANY_VALUES = 4
# The options that hold a word of the dialect, with what stands before its values in the window.
_WORDS: Mapping[str, tuple[str, str]] = {
    "separator": ("separator", ""),
    "decimal": ("decimal", "decimal "),
    "thousands": ("thousands", "thousands (by )?"),
    "header": ("names-in-line", ""),
    "units": ("units-below", ""),
    "lying": ("lying", ""),
    "order": ("dates", ""),
    "missing": ("missing", ""),
    "encoding": ("encoding", ""),
}


def dialect_options(command: Command) -> Command:
    """An option for each word of the line above the table: how FILE is to be read."""
    for name, word in reversed(list(WORDS.items())):
        command = _dialect_option(name, word)(command)
    return command


def tell_remarks(table: Table) -> None:
    """What is to be said of how readings were read, on standard error; of a doubt also what holds
    it."""
    for remark in remarks_of(table):
        click.echo(f"sornix: {printable(table.name)}: {remark}", err=True)
    note_doubts(table)


def remarks_of(table: Table) -> list[str]:
    """The remarks about a table, each doubt with the option that ends it."""
    holding = {doubt.why: f" Hold it with {option_of(doubt.word)}."
               for doubt in doubts_of(table.read_as)}  # fmt: skip
    return [f"{remark}{holding.get(remark, '')}" for remark in table.remarks]


def option_of(name: str) -> str:
    """The option that holds a word of the dialect, with its values where these are few."""
    flag = f"--{_WORDS[name][0]}"
    if name in _FLAGS:
        return f"{flag} or --no-{_WORDS[name][0]}"
    values = list(_spelt(name))
    return f"{flag} {' or '.join(values)}" if 0 < len(values) < _MANY_VALUES else flag


def _spelt(name: str) -> dict[str, Any]:
    """The values of a word by their spelling on the command line."""
    values = WORDS[name].values
    if name == "encoding":
        return {str(value).replace("_", "-"): value for value in values}
    before = _WORDS[name][1]
    return {re.sub(f"^{before}", "", said).replace(" ", "-"): value
            for value, said in values.items()}  # fmt: skip


def _dialect_option(name: str, word: Word) -> Callable[[Command], Command]:
    spelt, named = _WORDS[name][0], _spelt(name)

    def hold(context: click.Context, _option: click.Parameter, given: Any) -> None:
        if given not in (None, ()):
            value = named[given] if isinstance(given, str) else given
            context.meta.setdefault(_HELD, {})[name] = value

    about = f"{word.about}; else found."
    common: dict[str, Any] = {"expose_value": False, "callback": hold, "help": about}
    if name == "header":
        about = "Line of the names of columns, from 1, or 0 for none; else found."
        return click.option(f"--{spelt}", type=click.IntRange(0), **{**common, "help": about})
    if name == "missing":
        return click.option(f"--{spelt}", multiple=True, metavar="MARK", **common)
    if name in _FLAGS:
        return click.option(f"--{spelt}/--no-{spelt}", default=None, **common)
    return click.option(f"--{spelt}", type=click.Choice(list(named)), **common)


def held_words() -> Held:
    """What the options of the command hold of the dialect."""
    found: Held = click.get_current_context().meta.get(_HELD, NOTHING_HELD)
    return found


def read_tables(path: Path, sheet: str | None = None) -> Tables:
    """The readings in a file of any type: its tables, or the sheet of that name."""
    if path.suffix.lower() != ENDING:
        from sornix.core.readings.changes.together import with_whole_times

        return tuple(map(with_whole_times, read_file(path, sheet, held_words())))
    from sornix.core.document import load_document

    tables = load_document(path).tables
    return tables if sheet is None else (table_named(tables, sheet),)


def read_table(path: Path, sheet: str | None = None) -> Table:
    """The first table in a file, or the sheet of that name."""
    return read_tables(path, sheet)[0]


def open_source(path: Path) -> "Document":
    """A document, or readings with the figure that they begin with."""
    from sornix.core.document import load_document, new_document

    return (
        load_document(path) if path.suffix.lower() == ENDING else new_document(*read_tables(path))
    )


figure_option = click.option(
    "--figure",
    "figures",
    multiple=True,
    metavar="NAME",
    help="A figure of a document that has several, by its name or number; may be repeated. "
    "Without it, all of them.",
)


def chosen_figures(document: "Document", names: Sequence[str]) -> "list[Document]":
    """The document once for each of the figures of these names, or for all, that one in sight.
    Raises EditRefused where there is none of a name."""
    from sornix.core.document import place_of

    places = [place_of(document, name) for name in names] or range(len(document.figures))
    return [document.looking_at(place) for place in dict.fromkeys(places)]


def need_numbers(table: Table, name: str) -> None:
    """Raises UnknownColumn or ReadingsError where a column cannot be plotted or fitted."""
    column = table.column(name)
    if not column.has_places:
        raise ReadingsError(
            f"“{name}” holds text, not numbers.",
            where=table.name,
            remedy="Choose a column of numbers.",
        )


class Targets:
    """The files to be written, gathered and looked at before anything is written."""

    def __init__(self, inputs: Iterable[Path]) -> None:
        self._inputs = list(inputs)
        self._taken: dict[Path, str] = {}

    def add(self, paths: Iterable[Path], what: str = "") -> None:
        """Takes the files that `what` is to be written to. Raises UsageError where one of them is
        read by the command, or is that of something else."""
        for path in paths:
            for read in self._inputs:
                if same_file(path, read):
                    raise click.UsageError(
                        f"{path} is read by this command, so it is not written to. Choose another "
                        "name or folder. Nothing was written."
                    )
            place = path.absolute()
            other = self._taken.get(place)
            if other is None:
                other = next((w for p, w in self._taken.items() if same_file(p, path)), None)
            if other is not None:
                both = f" ({other} and {what})" if other and what else ""
                raise click.UsageError(
                    f"Two results would be written to {path}{both}. Nothing was written."
                )
            self._taken[place] = what


def need_ending(path: Path, endings: Sequence[str], option: str) -> None:
    """Raises BadParameter for a file that a command cannot write."""
    if path.suffix.lower() not in endings:
        known = ", ".join(endings[:-1]) + f" or {endings[-1]}"
        raise click.BadParameter(f"“{path}” does not end in {known}.", param_hint=option)


def own_names(paths: Sequence[Path]) -> dict[Path, str]:
    """A name for what comes of each file: its own without the ending; where several have that, with
    the ending, and with the folder too. Raises UsageError where that leaves two with one name."""
    names = {path: path.stem for path in paths}
    for longer in (_with_ending, _with_folder):
        taken: dict[str, int] = {}
        for name in names.values():
            taken[name] = taken.get(name, 0) + 1
        names = {p: longer(p) if taken[name] > 1 else name for p, name in names.items()}
    if len(set(names.values())) < len(names):
        twice = sorted(n for n in names.values() if list(names.values()).count(n) > 1)
        raise click.UsageError(
            f"Two results would have the name {twice[0]}. Draw them by two commands."
        )
    return names


def _with_ending(path: Path) -> str:
    return path.name.replace(".", "-")


def _with_folder(path: Path) -> str:
    return f"{path.absolute().parent.name}-{_with_ending(path)}"


def each_once(paths: Iterable[Path]) -> list[Path]:
    """The files, none of them twice."""
    found: list[Path] = []
    for path in paths:
        if not any(same_file(path, other) for other in found):
            found.append(path)
    return found
