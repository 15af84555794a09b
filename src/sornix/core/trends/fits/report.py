"""Sections of rows as text to hand over: plain, Markdown, HTML or CSV."""

import csv
import html
import io
from collections.abc import Callable, Mapping, Sequence
from types import MappingProxyType

from sornix.core.patterns import pattern
from sornix.core.trends.fits.account import Section


def _text(title: str, sections: Sequence[Section]) -> str:
    lines = [title, "=" * len(title)]
    for section in sections:
        lines += ["", section.heading, "-" * len(section.heading)]
        width = max((len(row.name) for row in section.rows), default=0)
        lines += [f"{row.name:<{width}}  {row.value}" for row in section.rows]
        lines += section.sentences
    return "\n".join(lines) + "\n"


# What Markdown would take for its own, HTML among it.
_MARKS = pattern(r"([\\`*_\[\]|]|<(?=[A-Za-z/!?]))")


def _markdown(title: str, sections: Sequence[Section]) -> str:
    def cell(text: str) -> str:
        return _MARKS.sub(r"\\\1", " ".join(text.split()))

    lines = [f"# {cell(title)}"]
    for section in sections:
        lines += ["", f"## {cell(section.heading)}", ""]
        if section.rows:
            lines += ["| | | |", "|---|---|---|"]
            lines += [
                f"| {cell(r.name)} | {cell(r.value)} | {cell(r.about)} |" for r in section.rows
            ]
        lines += [("\n" if i == 0 and section.rows else "") + cell(sentence) + "\n"
                  for i, sentence in enumerate(section.sentences)]  # fmt: skip
    return "\n".join(lines).rstrip() + "\n"


_LOOK = (
    "body{font-family:sans-serif;max-width:46em}td{padding:.15em 1em .15em 0}"
    "td+td{font-variant-numeric:tabular-nums}small{color:#555}"
)


def _html(title: str, sections: Sequence[Section]) -> str:
    parts = [
        "<!DOCTYPE html>", '<html lang="en"><head><meta charset="utf-8">',
        f"<title>{html.escape(title)}</title>",
        f"<style>{_LOOK}</style></head><body>",
        f"<h1>{html.escape(title)}</h1>",
    ]  # fmt: skip
    for section in sections:
        parts.append(f"<h2>{html.escape(section.heading)}</h2>")
        if section.rows:
            rows = (
                f"<tr><td>{html.escape(r.name)}</td><td>{html.escape(r.value)}</td>"
                f"<td><small>{html.escape(r.about)}</small></td></tr>"
                for r in section.rows
            )
            parts.append(f"<table>{''.join(rows)}</table>")
        parts += [f"<p>{html.escape(sentence)}</p>" for sentence in section.sentences]
    return "\n".join([*parts, "</body></html>", ""])


def _csv(title: str, sections: Sequence[Section]) -> str:
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\n")
    writer.writerow(["part", "name", "value", "number", "about"])
    writer.writerow(["", "title", title, "", ""])
    for section in sections:
        for row in section.rows:
            number = "" if row.exact is None else repr(float(row.exact))
            writer.writerow([section.heading, row.name, row.value, number, row.about])
        for sentence in section.sentences:
            writer.writerow([section.heading, "", sentence, "", ""])
    return stream.getvalue()


# How a report can be written, by the ending of its file.
FORMS: Mapping[str, Callable[[str, Sequence[Section]], str]] = MappingProxyType(
    {"txt": _text, "md": _markdown, "html": _html, "csv": _csv}
)
FORM_WORDS: Mapping[str, str] = MappingProxyType(
    {"txt": "Plain text", "md": "Markdown", "html": "HTML", "csv": "CSV"}
)
