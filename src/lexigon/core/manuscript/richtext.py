"""Text with emphasis between Lexigon and other programs, as HTML on the clipboard.

Pasted text is read like a manuscript (``htmlfile``, ``mapping``): its words and their meaning. Fonts, sizes, colours
and everything that could run are dropped; no clean-up changes its words.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from html import escape

from lxml import etree
from lxml import html as markup

from lexigon.core.document import story_text
from lexigon.core.document.anchors import objects_in
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import OBJECT, Job, Object, Paragraph, PictureFile, Span, Story, TextTable
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain, read
from lexigon.core.manuscript.mapping import pasted
from lexigon.core.manuscript.pouring import Keep, with_pictures
from lexigon.core.manuscript.readers.html import read_html

LARGEST = 30_000_000
OWN = "data-lexigon"
"""The attribute that carries paragraphs as they are from one job to another."""


@dataclass(slots=True, frozen=True)
class ClipboardText:
    """Clipboard contents: paragraphs, the stories of the notes and anchored frames in them, those frames with the
    pictures they show, and tables."""

    paragraphs: tuple[Paragraph, ...] = ()
    notes: tuple[Story, ...] = ()
    inlays: tuple[Object, ...] = ()
    tables: tuple[TextTable, ...] = ()
    pictures: tuple[PictureFile, ...] = ()


def carried(paragraphs: Iterable[Paragraph], job: Job) -> ClipboardText:
    """Paragraphs of a job with their anchored objects."""
    paragraphs = tuple(paragraphs)
    notes, frames = dict[str, Story](), dict[str, Object]()
    tables, pictures = dict[str, TextTable](), dict[str, PictureFile]()
    left = list(objects_in(paragraphs))
    while left:
        anchor = left.pop()
        if anchor.kind == "table":
            table = job.tables.get(anchor.ref)
            if table is not None and table.id not in tables:
                tables[table.id] = table
                left += [one for row in table.rows for cell in row for one in objects_in(cell.paragraphs)]
            continue
        story = job.stories.get(anchor.ref)
        if anchor.kind == "frame" and (inlay := job.inlays.get(anchor.ref)) is not None:
            frames[inlay.id] = inlay
            story = job.stories.get(inlay.story or "")
            if (picture := inlay.picture) is not None and (file := job.pictures.get(picture.picture)) is not None:
                pictures[file.id] = file
        if story is not None and story.id not in notes:
            notes[story.id] = story
            left += objects_in(story.paragraphs)
    return ClipboardText(
        paragraphs, tuple(notes.values()), tuple(frames.values()), tuple(tables.values()), tuple(pictures.values())
    )


@dataclass(slots=True, frozen=True)
class PastedText:
    """Pasted text, and a report of what could not be pasted or has changed."""

    carried: ClipboardText
    counts: Mapping[str, int]
    findings: tuple[str, ...] = ()


def from_html(source: str, job: Job, keep: Keep | None = None) -> PastedText:
    """A piece of HTML as paragraphs, read as a manuscript is: in the job's own styles where it names them, else in
    none; with its notes, its tables and (where ``keep`` says how) its pictures. Raises LexigonError if it is none or
    too long."""
    if len(source) > LARGEST:
        raise LexigonError("This is more text than can be pasted at once. Import it as a manuscript.")
    source = source.replace("\x00", "")
    if not source.strip():
        return PastedText(ClipboardText(), {})
    if OWN in source and (own := _own(source)) is not None:
        return PastedText(own, {})
    words = pasted(read_html(source), {one.name: one.id for one in job.paragraph_styles.values()}, job.character_styles)
    pictured = with_pictures(job, words, keep)
    carried = ClipboardText(pictured.paragraphs, pictured.notes, pictured.inlays, words.tables, pictured.files)
    return PastedText(carried, words.counts, tuple(pictured.findings))


def _own(source: str) -> ClipboardText | None:
    """Paragraphs that Lexigon put on the clipboard."""
    try:
        root = markup.fromstring(
            source.encode("utf-8", "replace"),
            parser=markup.HTMLParser(encoding="utf-8", no_network=True, huge_tree=True),
        )
        carried: ClipboardText = read(ClipboardText, json.loads(root.xpath(f"//*[@{OWN}]")[0].get(OWN)))
    except (etree.ParserError, IndexError, ValueError, LexigonError):
        return None  # from another version, or cut: the words are there all the same
    return replace(carried, paragraphs=tuple(replace(p, id=story_text.new_id("p")) for p in carried.paragraphs))


def to_html(words: ClipboardText, cascade: Cascade) -> str:
    """Paragraphs as HTML that other programs understand, with the paragraphs themselves for Lexigon."""
    tables = {table.id: table for table in words.tables}
    rows = []
    for p in words.paragraphs:
        table = tables.get(p.spans[0].object.ref) if story_text.is_table(p) and p.spans[0].object else None
        rows.append(f"<p>{_inner(p, cascade)}</p>" if table is None else _table(table, cascade))
    own = escape(json.dumps(plain(words), ensure_ascii=False), quote=True)
    return f'<div {OWN}="{own}">{"".join(rows)}</div>'


def _inner(p: Paragraph, cascade: Cascade) -> str:
    """A paragraph's words with what sets some of them off from the others."""
    base = cascade.type_of(p)
    inner, at = "", 0
    for span in (*p.spans, Span(len(p.text), len(p.text))):
        inner += _escaped(p.text[at : span.start])
        if span.start < span.end:
            face = cascade.type_of(p, span)
            piece = _escaped(p.text[span.start : span.end])
            for on, tag in (
                (face.italic and not base.italic, "i"),
                (face.weight >= 600 > base.weight, "b"),
                (face.position == "superior", "sup"),
                (face.position == "inferior", "sub"),
                (face.underline, "u"),
                (face.strike, "s"),
            ):
                piece = f"<{tag}>{piece}</{tag}>" if on else piece
            inner += piece
        at = span.end
    return inner


def _table(table: TextTable, cascade: Cascade) -> str:
    """A table with its spans, a line for each paragraph of a cell."""
    rows = []
    for number, row in enumerate(table.rows):
        tag = "th" if number < table.heads else "td"
        cells = ""
        for cell in row:
            spans = f' colspan="{cell.across}"' * (cell.across > 1) + f' rowspan="{cell.down}"' * (cell.down > 1)
            cells += f"<{tag}{spans}>{'<br>'.join(_inner(p, cascade) for p in cell.paragraphs)}</{tag}>"
        rows.append(f"<tr>{cells}</tr>")
    return f"<table>{''.join(rows)}</table>"


def _escaped(text: str) -> str:
    return escape(text.replace(OBJECT, ""), quote=False).replace(story_text.LINE_BREAK, "<br>").replace("\t", "&#9;")
