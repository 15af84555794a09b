"""What went wrong, where, and what to do about it, as a value for the reader of the message."""

from sornix.core.letters import printable

# A message is read, not searched: whatever it speaks of, it is no longer than this.
_LONGEST = 500


def _sentence(text: str) -> str:
    text = printable(text)
    return text if len(text) <= _LONGEST else f"{text[: _LONGEST - 60]} … {text[-50:]}"


def refusal(error: BaseException) -> str:
    """Why the machine refused something, in its own words."""
    return str(getattr(error, "strerror", None) or error)


class SornixError(Exception):
    """A problem that a person can act on.

    `what` says it in one sentence, `where` names the file, row or column (may be empty), and
    `remedy` says what to do (may be empty). `str()` joins the three.
    """

    # with which a command ends: the input cannot be used
    status = 3

    def __init__(self, what: str, *, where: str = "", remedy: str = "") -> None:
        super().__init__(what, where, remedy)
        self.what, self.where, self.remedy = map(_sentence, (what, where, remedy))

    def __str__(self) -> str:
        place = f"{self.where}: " if self.where else ""
        return f"{place}{self.what}" + (f" {self.remedy}" if self.remedy else "")


class ReadingsError(SornixError):
    """A file or text that cannot be read as a table of readings."""


class UnknownColumn(SornixError):
    """A column name that the table does not have."""


class EditRefused(SornixError):
    """A change to the figure that would make no sense; the figure stays as it was."""


class NotThere(EditRefused, KeyError):
    """A part of the figure that is not there, or no longer."""

    def __init__(self, what: str = "What this was about is no longer in the figure.") -> None:
        super().__init__(what)


class Unfit(EditRefused, ValueError):
    """A value that a part of the figure cannot have."""


class TrendImpossible(SornixError):
    """Readings through which the chosen trend cannot be put."""


class DocumentError(SornixError):
    """A document that cannot be opened or written."""


class FormulaError(SornixError):
    """A formula that cannot be read or evaluated; `at` is the character, from 0, that it is at."""

    def __init__(self, what: str, text: str, at: int) -> None:
        # the part of a long formula that it is about
        begin, end = max(at - 60, 0), at + 60
        shown = ("…" if begin else "") + text[begin:end] + ("…" if end < len(text) else "")
        super().__init__(what, where=f"“{shown}”, character {at + 1}")
        self.at = at
