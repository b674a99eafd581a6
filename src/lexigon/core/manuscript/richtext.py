"""Text with its emphasis between Lexigon and other programs, as HTML on the clipboard.

What comes in is read as a manuscript is (``htmlfile``, ``mapping``): its words and what they mean. Fonts, sizes, colours and everything that
could run are left behind; no clean-up changes its words.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from html import escape

from lxml import etree
from lxml import html as markup

from lexigon.core.errors import LexigonError
from lexigon.core.job import text as texts
from lexigon.core.job.anchoring import objects_in
from lexigon.core.job.cascade import Cascade
from lexigon.core.job.model import OBJECT, Job, Object, Paragraph, PictureFile, Span, Story, TextTable
from lexigon.core.job.serial import plain, read
from lexigon.core.manuscript.htmlfile import read_html
from lexigon.core.manuscript.mapping import pasted
from lexigon.core.manuscript.pouring import Keep, with_pictures

LARGEST = 30_000_000
OWN = "data-lexigon"
"""The attribute that carries paragraphs as they are from one job to another."""


@dataclass(slots=True, frozen=True)
class Carried:
    """Clipboard contents: paragraphs, the texts of the notes and frames that stand in them, those frames, with the pictures they show,
    and tables."""

    paragraphs: tuple[Paragraph, ...] = ()
    notes: tuple[Story, ...] = ()
    inlays: tuple[Object, ...] = ()
    tables: tuple[TextTable, ...] = ()
    pictures: tuple[PictureFile, ...] = ()


def carried(paragraphs: Iterable[Paragraph], job: Job) -> Carried:
    """Paragraphs of a job with all that stands in them."""
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
    return Carried(
        paragraphs, tuple(notes.values()), tuple(frames.values()), tuple(tables.values()), tuple(pictures.values())
    )


@dataclass(slots=True, frozen=True)
class Pasted:
    """Pasted text, and a report of what could not be pasted or has changed."""

    carried: Carried
    counts: Mapping[str, int]
    told: tuple[str, ...] = ()


def from_html(source: str, job: Job, keep: Keep | None = None) -> Pasted:
    """A piece of HTML as paragraphs, read as a manuscript is: in the job's own styles where it names them, else in none; with its notes, its
    tables and (where ``keep`` says how) its pictures. Raises LexigonError if it is none or too long."""
    if len(source) > LARGEST:
        raise LexigonError("This is more text than can be pasted at once. Import it as a manuscript.")
    source = source.replace("\x00", "")
    if not source.strip():
        return Pasted(Carried(), {})
    if OWN in source and (own := _own(source)) is not None:
        return Pasted(own, {})
    words = pasted(read_html(source), {one.name: one.id for one in job.paragraph_styles.values()}, job.character_styles)
    made = with_pictures(job, words, keep)
    brought = Carried(made.paragraphs, made.notes, made.inlays, words.tables, made.files)
    return Pasted(brought, words.counts, tuple(made.told))


def _own(source: str) -> Carried | None:
    """Paragraphs that Lexigon put on the clipboard."""
    try:
        root = markup.fromstring(
            source.encode("utf-8", "replace"),
            parser=markup.HTMLParser(encoding="utf-8", no_network=True, huge_tree=True),
        )
        found: Carried = read(Carried, json.loads(root.xpath(f"//*[@{OWN}]")[0].get(OWN)))
    except (etree.ParserError, IndexError, ValueError, LexigonError):
        return None  # from another version, or cut: the words are there all the same
    return replace(found, paragraphs=tuple(replace(p, id=texts.new_id("p")) for p in found.paragraphs))


def to_html(words: Carried, cascade: Cascade) -> str:
    """Paragraphs as HTML that other programs understand, with the paragraphs themselves for Lexigon."""
    tables = {table.id: table for table in words.tables}
    rows = []
    for p in words.paragraphs:
        table = tables.get(p.spans[0].object.ref) if texts.is_table(p) and p.spans[0].object else None
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
                (face.italic and not base.italic, "i"), (face.weight >= 600 > base.weight, "b"), (face.position == "superior", "sup"),
                (face.position == "inferior", "sub"), (face.underline, "u"), (face.strike, "s"),
            ):  # fmt: skip
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
    return escape(text.replace(OBJECT, ""), quote=False).replace(texts.LINE_BREAK, "<br>").replace("\t", "&#9;")
