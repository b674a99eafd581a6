"""Markdown (CommonMark 0.31, with tables, strikethrough and footnotes), read by markdown-it and taken on as HTML."""

from __future__ import annotations

import re
from html import escape

from lexigon.core.manuscript.readers.html import read_html
from lexigon.core.manuscript.source import Source

HEAD = re.compile(r"\s*---[ \t]*\n(.{0,20000}?)\n(?:---|\.\.\.)[ \t]*\n", re.DOTALL)
HEADING = re.compile(r"(?m)^#{1,6}[ \t].*$")
UNNOTED = re.compile(r"\[\^[^\]\s]{1,60}\]")
"""A reference to a note that is not written anywhere stays in the text as it was typed."""
FIELD = re.compile(r"(?m)^(title|subtitle|author):(.*)$")


def read_markdown(text: str) -> Source:
    """Raises ManuscriptError."""
    from markdown_it import MarkdownIt
    from mdit_py_plugins.footnote import footnote_plugin

    reader = (
        MarkdownIt("commonmark", {"html": False, "typographer": False})
        .enable(["table", "strikethrough"])
        .use(footnote_plugin)
    )
    head, text = _head(text)
    html = reader.render(HEADING.sub(lambda found: _without_attributes(found[0]), text))
    source = read_html(f"<html><body>{head}{html}</body></html>", "Markdown")
    source.reported["unnoted"] += sum(len(UNNOTED.findall(p.text)) for p in source.paragraphs)
    return source


def _without_attributes(line: str) -> str:
    """A heading without the attributes that some programs write after it in braces."""
    bare = line.rstrip("#").rstrip(" \t")
    if not bare.endswith("}"):
        return line
    begin = bare.find("{", bare.rfind("}", 0, -1) + 1)
    return bare[:begin].rstrip(" \t") if begin > 0 else line


def _head(text: str) -> tuple[str, str]:
    """Return the title and author that precede a text between lines of hyphens, as HTML, and the text."""
    match = HEAD.match(text)
    if match is None:
        return "", text
    fields = {name: words.strip(" \t").strip("\"'") for name, words in FIELD.findall(match[1])}
    rows = [
        f"<p class='{name}'>{escape(fields[name])}</p>" for name in ("title", "subtitle", "author") if fields.get(name)
    ]
    return "".join(rows), text[match.end() :]
