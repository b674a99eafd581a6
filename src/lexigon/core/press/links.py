"""Navigation of a screen PDF: links in its text, bookmarks from the headings (ISO 32000-2, 12.3.3 and 12.5.6.5)."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from lexigon.core.document.model import Paragraph, Span
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.references import Piece
from lexigon.core.paint.page import LineArt, PageArt
from lexigon.core.pdf.boxes import PageBoxes
from lexigon.core.pdf.writer import Name, PdfWriter, Ref
from lexigon.core.type.line import LineRun

_URL = re.compile(r"https?://[^\s<>“”]+[^\s<>“”.,;:!?)]")


def _without_number(entry: str) -> str:
    """An entry of a table of contents without the page number at its end, and the points before that."""
    bare = entry.rstrip()
    words = bare.rstrip("0123456789")
    return (words.rstrip(" \t\u00a0\u2028.·…") if words != bare else bare).strip()


Place = tuple[Ref, float, float]
"""Where a paragraph begins: page, left, head."""


def bookmarks(writer: PdfWriter, items: Sequence[tuple[int, str, Place]]) -> Ref | None:
    """Bookmarks, each with its level, its words and its place, nested by level; a level that is skipped hangs on the
    nearest one above it."""
    if not items:
        return None
    root = writer.reserve()
    refs = [writer.reserve() for _ in items]
    parents: list[Ref] = []
    stack: list[tuple[int, Ref]] = [(0, root)]
    children: dict[Ref, list[int]] = {}
    for index, (level, _, _) in enumerate(items):
        while stack[-1][0] >= level:
            stack.pop()
        parents.append(stack[-1][1])
        children.setdefault(stack[-1][1], []).append(index)
        stack.append((level, refs[index]))

    def count(ref: Ref) -> int:
        return sum(1 + count(refs[child]) for child in children.get(ref, []))

    for index, (_, text, (page, x, y)) in enumerate(items):
        siblings, own = children[parents[index]], children.get(refs[index], [])
        at = siblings.index(index)
        writer.add(
            {
                "Title": text,
                "Parent": parents[index],
                "Dest": [page, Name("XYZ"), x, y, None],
                "Prev": refs[siblings[at - 1]] if at else None,
                "Next": refs[siblings[at + 1]] if at + 1 < len(siblings) else None,
                "First": refs[own[0]] if own else None,
                "Last": refs[own[-1]] if own else None,
                "Count": -count(refs[index]) if own else None,
            },
            refs[index],
        )
    top = children[root]
    return writer.add({"Type": Name("Outlines"), "First": refs[top[0]], "Last": refs[top[-1]], "Count": len(top)}, root)


class Links:
    """Finds the links of pages: web addresses in the text, each piece of one leading to the whole address, and contents
    entries that repeat a heading's words."""

    def __init__(self, composition: Composition, pages: Mapping[int, Ref]) -> None:
        """``pages`` are those of the file, by their index in the job."""
        headings = reversed(composition.running.all)
        self._targets = {one.text.casefold(): pages[one.page] for one in headings if one.page in pages}
        self._composition, self._pages = composition, pages
        self._stories = {p.id: story.id for story in composition.job.stories.values() for p in story.paragraphs}
        self._paragraphs = {p.id: p for story in composition.job.stories.values() for p in story.paragraphs}

    def _led(self, link: str) -> dict[str, Any]:
        """Return where a link leads: to a page of the file, or out of it; nowhere for a page that is not in it."""
        if not link.startswith("#"):
            return {"A": {"S": Name("URI"), "URI": link.encode("ascii", "ignore")}}
        story = self._stories.get(link[1:])
        page = self._composition.page_of(story, link[1:], 0) if story else None
        return {"Dest": [self._pages[page], Name("Fit")]} if page is not None and page in self._pages else {}

    def on(self, art: PageArt, sheet: PageBoxes) -> list[dict[str, Any]]:
        """The annotations of a page."""
        annotations: list[dict[str, Any]] = []
        for line in (line for frame in art.frames for line in frame.lines if line.runs):
            paragraph = self._paragraphs.get(line.paragraph)
            if paragraph is None:
                continue
            entry = any(span.object is not None and span.object.kind == "entry" for span in paragraph.spans)
            if paragraph.style == "contents" and not entry:
                title = _without_number(paragraph.text).casefold()
                if title in self._targets:
                    box = _box(line, line.start, line.end, sheet)
                    annotations.append({**_link(box), "Dest": [self._targets[title], Name("Fit")]})
            for span in paragraph.spans:
                if span.object is not None and span.object.kind in ("entry", "reference"):
                    annotations += self._to_pages(line, paragraph, span, sheet)
                    continue
                start, end = max(span.start, line.start), min(span.end, line.end)
                if span.link and start < end:
                    to = self._led(span.link)
                    annotations += [{**_link(_box(line, start, end, sheet)), **to}] if to else []
            for address in _URL.finditer(paragraph.text) if "://" in paragraph.text else ():
                start, end = max(address.start(), line.start), min(address.end(), line.end)
                if start < end:
                    uri = address.group().encode("ascii", "ignore")
                    annotations.append({**_link(_box(line, start, end, sheet)), "A": {"S": Name("URI"), "URI": uri}})
        return annotations

    def _to_pages(self, line: LineArt, paragraph: Paragraph, span: Span, sheet: PageBoxes) -> Iterator[dict[str, Any]]:
        """The links of a line with what a cross-reference shows, or a listing's entry: an entry that leads to one page
        does so as a whole, else each of its numbers."""
        assert span.object is not None
        composition = self._composition
        if span.object.kind == "reference":
            place = composition.values.references.find(span.object.ref)
            page = composition.page_of(place[0], place[1].id, 0) if place else None
            pieces = [Piece("", page)]
        else:
            pieces = composition.values.references.pieces(span.object, composition.values.labels)
        pages = [piece.page for piece in pieces if piece.page is not None]
        # Numbers in several formats are several runs: those after the first are said to begin where the field ends.
        runs = [run for run in line.runs if run.field and run.start in (span.start, span.end)]
        if len(pages) == 1:
            entries = {one.object for one in paragraph.spans if one.object is not None and one.object.kind == "entry"}
            whole = (
                len(entries) == 1 and span.object in entries
            )  # of several in a paragraph each number leads on by itself
            edges = (line.runs[0], line.runs[-1]) if whole else (runs[0], runs[-1]) if runs else None
            if edges is not None and pages[0] in self._pages:
                box = _boxed(line, edges[0].x, edges[1].x + edges[1].width, sheet)
                yield {**_link(box), "Dest": [self._pages[pages[0]], Name("Fit")]}
            return
        signs = [sign for run in runs for sign in _signs(run)]
        text, at = "".join(sign for sign, _, _ in signs), 0
        for words, page, _ in pieces:
            begin = text.find(words, at)
            if begin < 0:
                continue  # it is on another line
            at = begin + len(words)
            if page is not None and page in self._pages:
                box = _boxed(line, signs[begin][1], signs[at - 1][2], sheet)
                yield {**_link(box), "Dest": [self._pages[page], Name("Fit")]}


def _signs(run: LineRun) -> Iterator[tuple[str, float, float]]:
    """The characters of a run with their left and right edges, those of a word as if they were of one width."""
    x = run.x
    for part in run.parts:
        text = part.text or " "
        step = part.advance / len(text)
        yield from ((sign, x + n * step, x + (n + 1) * step) for n, sign in enumerate(text))
        x += part.advance


def _box(line: LineArt, start: int, end: int, sheet: PageBoxes) -> list[float]:
    """The box of a stretch of a line, in PDF's coordinates."""
    edges = []
    for run in line.runs:
        x, at = run.x, run.start
        for part in run.parts:
            following = at + max(len(part.text), 1)
            if at < end and following > start:
                edges += [x, x + part.advance]
            x, at = x + part.advance, following
    left, right = (min(edges), max(edges)) if edges else (line.runs[0].x, line.runs[-1].x + line.runs[-1].width)
    return _boxed(line, left, right, sheet)


def _boxed(line: LineArt, left: float, right: float, sheet: PageBoxes) -> list[float]:
    foot, head = sheet.y(line.baseline + line.descent), sheet.y(line.baseline - line.ascent)
    return sheet.on_sheet([sheet.x(left), foot, sheet.x(right), head])


def _link(box: list[float]) -> dict[str, Any]:
    return {"Type": Name("Annot"), "Subtype": Name("Link"), "Rect": box, "Border": [0, 0, 0], "F": 4}
