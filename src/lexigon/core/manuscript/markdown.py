"""Markdown (CommonMark 0.31, with tables, strikethrough and footnotes), read by markdown-it and taken on as HTML."""

from __future__ import annotations

import re
from html import escape

from lexigon.core.manuscript.htmlfile import read_html
from lexigon.core.manuscript.source import Source

HEAD = re.compile(r"\s*---[ \t]*\n(.{0,20000}?)\n(?:---|\.\.\.)[ \t]*\n", re.DOTALL)
ATTRIBUTES = re.compile(r"(?m)^(#{1,6}[ \t].*?)[ \t]*\{[^}\n]*\}[ \t]*#*$")
"""What some programs write behind a heading, which is no part of its words."""


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
    html = reader.render(ATTRIBUTES.sub(r"\1", text))
    return read_html(f"<html><body>{head}{html}</body></html>", "Markdown")


def _head(text: str) -> tuple[str, str]:
    """What stands before a text between lines of hyphens: its title and who wrote it, as HTML; and the text."""
    found = HEAD.match(text)
    if found is None:
        return "", text
    said = dict(re.findall(r"(?m)^(title|subtitle|author):[ \t]*[\"']?(.+?)[\"']?[ \t]*$", found[1]))
    rows = [f"<p class='{name}'>{escape(said[name])}</p>" for name in ("title", "subtitle", "author") if name in said]
    return "".join(rows), text[found.end() :]
