"""Text with its emphasis between Lexigon and other programs, as HTML on the clipboard.

What comes in is taken for its words and their meaning only: paragraphs and headings, italics, weight, raised and
lowered characters, lines under and through. Fonts, sizes, colours and everything that could run are left behind.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from html import escape
from typing import Any

from lxml import etree
from lxml import html as markup

from lexigon.core.errors import LexigonError
from lexigon.core.job import text as texts
from lexigon.core.job.anchoring import anchors_in
from lexigon.core.job.cascade import Cascade
from lexigon.core.job.model import OBJECT, Object, Paragraph, Span, Story, TypeSpec, combined
from lexigon.core.job.serial import plain, read

LARGEST = 30_000_000
OWN = "data-lexigon"
"""The attribute that carries paragraphs as they are from one job to another."""

_BLOCKS = {
    "p",
    "div",
    "li",
    "h1",
    "h2",
    "h3",
    "h4",
    "h5",
    "h6",
    "blockquote",
    "pre",
    "tr",
    "dt",
    "dd",
    "section",
    "article",
    "ul",
    "ol",
    "table",
}
SKIPPED = {
    "script",
    "style",
    "head",
    "title",
    "meta",
    "link",
    "noscript",
    "template",
    "svg",
    "math",
    "object",
    "iframe",
}
LOOKS: dict[str, TypeSpec] = {
    "i": TypeSpec(italic=True), "em": TypeSpec(italic=True), "cite": TypeSpec(italic=True), "dfn": TypeSpec(italic=True),
    "b": TypeSpec(weight=700), "strong": TypeSpec(weight=700), "sup": TypeSpec(position="superior"), "sub": TypeSpec(position="inferior"),
    "u": TypeSpec(underline=True), "ins": TypeSpec(underline=True), "s": TypeSpec(strike=True), "del": TypeSpec(strike=True),
    "strike": TypeSpec(strike=True),
}  # fmt: skip
_SPACE = re.compile(r"[ \t\r\n\f]+")


def styled(spec: TypeSpec, style: str) -> TypeSpec:
    """What a style attribute says of emphasis."""
    style = style.lower()
    if re.search(r"font-style:\s*(italic|oblique)", style):
        spec = combined(spec, TypeSpec(italic=True))
    if re.search(r"font-style:\s*normal", style):
        spec = replace(spec, italic=None)
    weight = re.search(r"font-weight:\s*(bold(?:er)?|normal|\d{3})", style)
    if weight:
        heavy = weight[1].startswith("bold") or (weight[1].isdigit() and int(weight[1]) >= 600)
        spec = replace(spec, weight=700 if heavy else None)
    if re.search(r"font-variant(?:-caps)?:[^;]*small-caps", style):
        spec = combined(spec, TypeSpec(caps="small"))
    if re.search(r"text-decoration(?:-line)?:[^;]*line-through", style):
        spec = combined(spec, TypeSpec(strike=True))
    if re.search(r"vertical-align:\s*super", style):
        spec = combined(spec, TypeSpec(position="superior"))
    if re.search(r"vertical-align:\s*sub", style):
        spec = combined(spec, TypeSpec(position="inferior"))
    return spec


class _Reader:
    def __init__(self) -> None:
        self.made: list[Paragraph] = []
        self.text = ""
        self.spans: list[Span] = []

    def words(self, words: str | None, spec: TypeSpec, kept: bool) -> None:
        if not words:
            return
        words = texts.clean(words.replace(OBJECT, ""))
        if not kept:
            words = _SPACE.sub(" ", words)
            if not self.text or self.text[-1] in " \u2028":
                words = words.lstrip(" ")
        else:
            words = words.replace("\n", texts.LINE_BREAK)
        if not words:
            return
        start = len(self.text)
        self.text += words
        if spec != TypeSpec():
            self.spans.append(Span(start, len(self.text), type=spec))

    def end(self) -> None:
        text = self.text.rstrip(" \u2028")
        if text.strip():
            spans = texts.tidy(texts.cut_spans(self.spans, 0, len(text)))
            self.made.append(Paragraph(texts.new_id("p"), "", text, spans))
        self.text, self.spans = "", []

    def walk(self, node: Any, spec: TypeSpec, kept: bool) -> None:
        tag = node.tag if isinstance(node.tag, str) else ""
        if tag in SKIPPED or not tag:
            return
        spec = styled(combined(spec, LOOKS.get(tag)), node.get("style") or "")
        kept = kept or tag == "pre" or "white-space: pre" in (node.get("style") or "")
        block = tag in _BLOCKS
        if block:
            self.end()
        if tag == "br":
            self.text += texts.LINE_BREAK
        self.words(node.text, spec, kept)
        for child in node:
            self.walk(child, spec, kept)
            self.words(child.tail, spec, kept)
        if tag in ("td", "th"):
            self.text += "\t"
        if block:
            self.end()


@dataclass(slots=True, frozen=True)
class Carried:
    """What is on the clipboard: paragraphs, the texts of the notes and frames that stand in them, and those frames."""

    paragraphs: tuple[Paragraph, ...] = ()
    notes: tuple[Story, ...] = ()
    inlays: tuple[Object, ...] = ()


def carried(paragraphs: Iterable[Paragraph], stories: Mapping[str, Story], inlays: Mapping[str, Object]) -> Carried:
    """Paragraphs with all that stands in them."""
    paragraphs = tuple(paragraphs)
    notes, frames = dict[str, Story](), dict[str, Object]()
    left = list(anchors_in(paragraphs))
    while left:
        anchor = left.pop()
        story = stories.get(anchor.ref)
        if anchor.kind == "frame" and (inlay := inlays.get(anchor.ref)) is not None:
            frames[inlay.id] = inlay
            story = stories.get(inlay.story or "")
        if story is not None and story.id not in notes:
            notes[story.id] = story
            left += anchors_in(story.paragraphs)
    return Carried(paragraphs, tuple(notes.values()), tuple(frames.values()))


def from_html(source: str) -> Carried:
    """A piece of HTML as paragraphs in no style. Raises LexigonError if it is none or too long."""
    if len(source) > LARGEST:
        raise LexigonError("That is more text than can be put in at once; bring it in as a manuscript.")
    source = source.replace("\x00", "")
    if not source.strip():
        return Carried()
    try:
        root = markup.fromstring(
            source.encode("utf-8", "replace"), parser=markup.HTMLParser(encoding="utf-8", no_network=True)
        )
    except (etree.ParserError, ValueError) as error:
        raise LexigonError("What is on the clipboard cannot be read as text.") from error
    own = root.xpath(f"//*[@{OWN}]")
    if own:
        try:
            found: Carried = read(Carried, json.loads(own[0].get(OWN)))
            return replace(found, paragraphs=tuple(replace(p, id=texts.new_id("p")) for p in found.paragraphs))
        except (ValueError, LexigonError):
            pass  # from another version: the words are there all the same
    reader = _Reader()
    reader.walk(root, TypeSpec(), False)
    reader.end()
    return Carried(tuple(reader.made))


def to_html(words: Carried, cascade: Cascade) -> str:
    """Paragraphs as HTML that other programs understand, with the paragraphs themselves for Lexigon."""
    rows = []
    for p in words.paragraphs:
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
        rows.append(f"<p>{inner}</p>")
    own = escape(json.dumps(plain(words), ensure_ascii=False), quote=True)
    return f'<div {OWN}="{own}">{"".join(rows)}</div>'


def _escaped(text: str) -> str:
    return escape(text.replace(OBJECT, ""), quote=False).replace(texts.LINE_BREAK, "<br>").replace("\t", "&#9;")
