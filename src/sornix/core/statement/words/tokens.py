"""A statement divided into words, texts in quotation marks, and signs, sentence by sentence."""

import unicodedata
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.statement.words.misread import StatementError

WORD, TEXT, SIGN = "word", "text", "sign"
# What divides sentences, apart from the ends of lines.
_BREAK = ";"
_SIGNS = ",():=±"
_QUOTE = '"'
# Signs that people and their programs write in place of ours.
_PLAIN = str.maketrans({"−": "-", "–": "-", "“": '"', "”": '"', "„": '"', "«": '"', "»": '"'})
_TOKEN = pattern(r'[^\s,();="±]+')
MOST_LETTERS = 1_000_000


class Token(NamedTuple):
    """A word (`text` as it stands, `plain` for comparing), a text without its quotation marks, or
    a sign; where it begins and ends in the whole, and its line and column from 1."""

    kind: str
    text: str
    plain: str
    at: int
    end: int
    line: int
    column: int


def plain(word: str) -> str:
    """A word for comparing: without regard to large letters, or to how a sign is written."""
    return unicodedata.normalize("NFKC", word.translate(_PLAIN)).casefold()


def sentences(text: str) -> list[list[Token]]:
    """The tokens of each sentence that says anything. Raises StatementError where a text has no
    end, or where there is too much of it."""
    if len(text) > MOST_LETTERS:
        raise StatementError(
            f"This is longer than a statement can be ({MOST_LETTERS} letters).",
            line=1, column=1, at=0, end=len(text),
        )  # fmt: skip
    found: list[list[Token]] = [[]]
    at, line, begin = 0, 1, 0
    while at < len(text):
        letter = text[at]
        if letter == "\n":
            found.append([])
            at, line, begin = at + 1, line + 1, at + 1
        elif letter == _BREAK:
            found.append([])
            at += 1
        elif letter.isspace():
            at += 1
        elif letter.translate(_PLAIN) == _QUOTE:
            token = _quoted(text, at, line, at - begin + 1)
            found[-1].append(token)
            line += text.count("\n", at, token.end)
            begin = max(begin, text.rfind("\n", 0, token.end) + 1)
            at = token.end
        elif letter in _SIGNS and not (letter == ":" and _within_word(text, at)):
            found[-1].append(Token(SIGN, letter, letter, at, at + 1, line, at - begin + 1))
            at += 1
        else:
            word = _word(text, at)
            found[-1].append(
                Token(WORD, word, plain(word), at, at + len(word), line, at - begin + 1)
            )
            at += len(word)
    return [sentence for sentence in found if sentence]


def words_of(text: str) -> list[tuple[str, str]]:
    """The words and signs of one sentence of ours, each as it stands and for comparing."""
    if text.isascii() and not any(sign in text for sign in _DIVIDING):
        # a thousand of them say what a statement can hold: most are but words
        return [(word, word.casefold()) for word in text.split(" ")]
    (sentence,) = sentences(text)
    return [(token.text, token.plain) for token in sentence]


_DIVIDING = (*_SIGNS, _QUOTE, _BREAK, "\n", "  ")


def divided(text: str) -> list[str]:
    """The sentences of a text, each as it stands."""
    return [text[tokens[0].at : tokens[-1].end] for tokens in sentences(text)]


def _word(text: str, at: int) -> str:
    match = _TOKEN.match(text, at)
    assert match is not None
    word = match[0]
    # a colon or a quotation mark of another kind ends a word at its end
    for i, letter in enumerate(word):
        if i and letter.translate(_PLAIN) == _QUOTE:
            word = word[:i]
            break
    return word.rstrip(":") or word


def _within_word(text: str, at: int) -> bool:
    """Whether a colon stands between digits, as in 14:30 and 16:9."""
    return 0 < at < len(text) - 1 and text[at - 1].isalnum() and text[at + 1].isalnum()


def _quoted(text: str, at: int, line: int, column: int) -> Token:
    """A text in quotation marks, in which two of them stand for one."""
    parts, i = [], at + 1
    while i < len(text):
        if text[i].translate(_PLAIN) == _QUOTE:
            if text[at] == _QUOTE and text[i : i + 2] == _QUOTE * 2:
                parts.append(_QUOTE)
                i += 2
                continue
            if text[at] != _QUOTE or text[i] == _QUOTE:
                said = "".join(parts)
                return Token(TEXT, said, said, at, i + 1, line, column)
        parts.append(text[i])
        i += 1
    raise StatementError(
        "this text has no quotation mark at its end.",
        line=line, column=column, at=at, end=len(text), read=text[at : at + 20],
    )  # fmt: skip


def quoted(text: str) -> str:
    """A text in quotation marks, as `sentences` reads it."""
    return _QUOTE + text.replace(_QUOTE, _QUOTE * 2) + _QUOTE
