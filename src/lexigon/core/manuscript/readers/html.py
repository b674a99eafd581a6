"""HTML as a manuscript: its words and their meaning. Nothing is fetched, nothing is run; pictures are read where they
are embedded."""

from __future__ import annotations

import base64
import binascii
import re
from dataclasses import replace
from itertools import islice
from typing import Any, get_args

from lxml import etree
from lxml import html as markup

from lexigon.core.document.model import TypeSpec, combined
from lexigon.core.document.story_text import cut_spans
from lexigon.core.manuscript.readers.decode import ManuscriptError
from lexigon.core.manuscript.source import (
    PLAIN,
    Align,
    Builder,
    Listed,
    ReferenceForm,
    Source,
    SourceCell,
    SourceNote,
    SourceParagraph,
    SourcePicture,
    SourceTable,
)

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
    "i": TypeSpec(italic=True),
    "em": TypeSpec(italic=True),
    "cite": TypeSpec(italic=True),
    "dfn": TypeSpec(italic=True),
    "b": TypeSpec(weight=700),
    "strong": TypeSpec(weight=700),
    "sup": TypeSpec(position="superior"),
    "sub": TypeSpec(position="inferior"),
    "u": TypeSpec(underline=True),
    "ins": TypeSpec(underline=True),
    "s": TypeSpec(strike=True),
    "del": TypeSpec(strike=True),
    "strike": TypeSpec(strike=True),
}
HEADS = {f"h{n}": n for n in range(1, 7)}
NAMES = {
    "blockquote": "Quote",
    "pre": "Preformatted",
    "figcaption": "Caption",
    "caption": "Caption",
    "dt": "Term",
    "dd": "Definition",
    "address": "Address",
}
BLOCKS = {
    *HEADS,
    *NAMES,
    "p",
    "div",
    "li",
    "section",
    "article",
    "main",
    "aside",
    "header",
    "footer",
    "nav",
    "figure",
    "body",
    "html",
    "dl",
    "ul",
    "ol",
    "center",
    "hgroup",
    "details",
    "summary",
    "table",
    "tr",
    "td",
    "th",
}
ALIGNS: dict[str, Align] = {
    "center": "centre",
    "centre": "centre",
    "right": "right",
    "end": "right",
    "justify": "justify",
}
DATA = re.compile(r"\s*data:image/(png|jpe?g|webp|avif|tiff|svg\+xml)[^,]*;base64,", re.IGNORECASE)
SPACE = re.compile(r"[ \t\r\n\f]+")
PRE = re.compile(r"white-space(-collapse)?:\s*(pre|preserve|break-spaces)", re.IGNORECASE)
LANGUAGE = re.compile(r"[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8}){0,3}")
DEEPEST = 300
RULE = "* * *"
"""What a line across becomes: a scene break."""
REFERENCE_FORMS = get_args(ReferenceForm)
CITED = re.compile(r"\b(doc-noteref|noteref|footnote-ref|footnoteref|fnref|endnote-ref)\b")
BACK = re.compile(r"\b(doc-backlink|footnote-back(ref)?|reversefootnote)\b")
SIGN = re.compile(r"[\[(]?(\d{1,4}|[ivxlc]{1,6}|[a-z]|[*†‡§¶‖]{1,4})[\])]?", re.IGNORECASE)
"""What a note is cited by."""
BOXES = ("p", "li", "div", "aside", "dd")
"""What may hold a note."""
PARTED = re.compile(r"[.):\]]\s+")
"""What parts a note's number from its words."""


def styled(spec: TypeSpec, style: str) -> TypeSpec:
    """Return what a style attribute says of emphasis."""
    style = style.lower()
    if re.search(r"font-style:\s*(italic|oblique)", style):
        spec = combined(spec, TypeSpec(italic=True))
    if re.search(r"font-style:\s*normal", style):
        spec = replace(spec, italic=None)
    weight = re.search(r"font-weight:\s*(bold(?:er)?|normal|\d{3})", style)
    if weight:
        heavy = weight[1].startswith("bold") or (weight[1].isdigit() and int(weight[1]) >= 600)
        spec = replace(spec, weight=700 if heavy else None)
    if re.search(r"font-variant(?:-caps)?:[^;:]{0,100}small-caps", style):
        spec = combined(spec, TypeSpec(caps="small"))
    if re.search(r"text-decoration(?:-line)?:[^;:]{0,100}line-through", style):
        spec = combined(spec, TypeSpec(strike=True))
    if re.search(r"vertical-align:\s*super", style):
        spec = combined(spec, TypeSpec(position="superior"))
    if re.search(r"vertical-align:\s*sub", style):
        spec = combined(spec, TypeSpec(position="inferior"))
    return spec


def read_html(text: str, form: str = "HTML") -> Source:
    """Raises ManuscriptError."""
    try:
        root = markup.fromstring(
            text.encode("utf-8", "replace"), parser=markup.HTMLParser(encoding="utf-8", no_network=True, huge_tree=True)
        )
    except (etree.ParserError, ValueError) as error:
        raise ManuscriptError("This HTML cannot be read.") from error
    source = Source(form)
    reader = _Reader(source, root)
    try:
        reader.walk(root, PLAIN, "", 0)
    except RecursionError as error:
        raise ManuscriptError("This HTML is nested too deeply to be read.") from error
    reader.close()
    source.paragraphs = list(reader.builder.take_paragraphs())
    if source.notes and source.paragraphs and source.paragraphs[-1].text == RULE:
        source.paragraphs.pop()  # it parted the notes from the text
    return source


class _Reader:
    def __init__(self, source: Source, root: Any) -> None:
        self.source = source
        self.builder = Builder(source)
        self.style, self.level, self.align = "", 0, ""
        self.listed: Listed | None = None
        self.kept = False
        self.empty = True
        self.named: dict[str, Any] = {}
        for one in root.iter():
            for name in (
                (one.get("id"), one.get("name") if one.tag == "a" else None) if isinstance(one.tag, str) else ()
            ):
                if name:
                    self.named.setdefault(name, one)
        self.order = {one: at for at, one in enumerate(root.iter("a"))}
        self.backs: set[Any] = set()
        """The links in notes that lead back to where they are cited."""
        self.notes: dict[Any, Any] = {}
        """The element that is the note, by the link that cites it."""
        for one in root.iter("a"):
            if (note := self._note(one)) is not None:
                self.notes[one] = note
        self.cited = {note: f"n{number}" for number, note in enumerate(dict.fromkeys(self.notes.values()), 1)}

    def _note(self, one: Any) -> Any | None:
        """The element that is the note an ``a`` leads to, where it is one that cites a note: it says so (DPUB-ARIA 1.0,
        doc-noteref, and what is written where that is not known), or it is a number whose note leads back to it."""
        href = one.get("href") or ""
        target = self.named.get(href[1:]) if href.startswith("#") else None
        if target is None or target is one:
            return None
        up = one.getparent()
        above = up.get("class") if up is not None and up.tag == "sup" else ""
        if CITED.search(" ".join(filter(None, (one.get("role"), one.get("class"), one.get("epub:type"), above)))):
            return target
        return self._answering(one, target) if SIGN.fullmatch(_words(one)) else None

    def _lost(self, one: Any) -> bool:
        """Return whether an ``a`` says that it cites a note, and there is none where it leads."""
        href = one.get("href") or ""
        attributes = f"{one.get('role')} {one.get('class')} {one.get('epub:type')}"
        return bool(CITED.search(attributes)) and href[:1] == "#" and href[1:] not in self.named

    def _answering(self, one: Any, target: Any) -> Any | None:
        """Return what holds a link back to ``one``: the paragraph or more about it that is the note."""
        own = {one.get("id"), one.get("name"), *(up.get("id") for up in _above(one, 2))} - {None}
        if target.tag in HEADS:
            return None
        box = target if target.tag in BOXES else next((up for up in _above(target, 3) if up.tag in BOXES), None)
        if box is None or one in box.iter("a"):
            return None
        back = next((a for a in box.iter("a") if a.get("href", "").startswith("#") and a.get("href")[1:] in own), None)
        if (
            back is None
            or self.order[back] < self.order[one]
            or not _a_sign(back)
            or any(one.tag in HEADS for one in box.iter())
        ):
            return None
        around = box.getparent()
        if (
            box.tag == "p"
            and around.tag in ("div", "li", "aside", "dd")
            and [a for a in around.iter("a") if _a_sign(a)] == [back]
        ):
            box = around
        self.backs.add(back)
        return box

    # Words

    def words(self, words: str | None, look: TypeSpec) -> None:
        if not words:
            return
        if not self.kept:
            words = SPACE.sub(" ", words)
            if self.empty or self.ends_in_space:
                words = words.lstrip(" ")
        if words:
            self.builder.words(words, look)
            self.empty, self.ends_in_space = False, words[-1] in " \n"

    ends_in_space = False

    def close(self) -> None:
        if self.builder.begun:
            self.builder.end(self.style, self.level, self.align, self.listed)  # type: ignore[arg-type]
            if self.listed is not None:
                self.listed = Listed(self.listed.ordered, self.listed.level)
        self.empty, self.ends_in_space = True, False

    # Elements

    def walk(self, node: Any, look: TypeSpec, backlink: str, depth: int) -> None:
        tag = node.tag if isinstance(node.tag, str) else ""
        if (
            not tag
            or tag in SKIPPED
            or depth > DEEPEST
            or node in self.cited
            or node in self.backs
            or node.get("hidden") is not None
            or BACK.search(f"{node.get('role')} {node.get('class')}")
        ):
            return
        if tag == "a" and (note := self.notes.get(node)) is not None:
            self.note(note)
            return
        self.source.reported["unnoted"] += tag == "a" and self._lost(node)
        if node.get("id") or (tag == "a" and node.get("name")):
            self.builder.names.append((node.get("id") or node.get("name"))[:200])
        link, kept_styles = self.builder.link, self.kept
        self.kept = kept_styles or PRE.search(node.get("style") or "") is not None
        if tag == "a" and node.get("data-reference") in REFERENCE_FORMS and (node.get("href") or "").startswith("#"):
            start = self.builder.at
            self.inner(node, look, depth)
            self.builder.reference(node.get("href")[1:], node.get("data-reference"), start)
            return
        if tag == "a" and node.get("href"):
            self.source.reported["links"] += 1
            self.builder.link = node.get("href").strip()
        self.source.reported["insertions"] += tag == "ins"
        look = styled(combined(look, LOOKS.get(tag) if tag != "ins" else None), node.get("style") or "")
        if (language := node.get("lang")) and tag not in ("html", "body") and LANGUAGE.fullmatch(language):
            look = combined(look, TypeSpec(language=language))
        if tag == "img":
            self.picture(node)
        elif tag == "br":
            self.builder.words("\n", look)
            self.ends_in_space = True
        elif tag == "hr":
            if "footnotes" not in f"{node.get('class')} {node.getparent().get('class')}":
                self.close()
                self.builder.words(RULE)
                self.close()
        elif tag == "table" and _a_table(node):
            self.table(node, depth)
        elif tag in BLOCKS:
            self.block(node, tag, look, depth)
        else:
            self.inner(node, look, depth)
        self.builder.link, self.kept = link, kept_styles

    def inner(self, node: Any, look: TypeSpec, depth: int) -> None:
        self.words(node.text, look)
        for child in node:
            self.walk(child, look, "", depth + 1)
            self.words(child.tail, look)

    def block(self, node: Any, tag: str, look: TypeSpec, depth: int) -> None:
        self.close()
        before = self.style, self.level, self.align, self.listed, self.kept
        own = (node.get("class") or "").split()
        if tag in HEADS:
            self.style, self.level = f"Heading {HEADS[tag]}", HEADS[tag]
            if own and own[0].lower() in ("title", "subtitle", "author"):
                self.style, self.level = own[0].capitalize(), 0
            look = PLAIN
        elif own and tag in ("p", "div", "blockquote", "pre", "li"):
            self.style = own[0][:80]
        elif tag in NAMES:
            self.style = NAMES[tag]
        if node.get("data-style"):
            self.style = node.get("data-style")[:200]  # as it is written by ``to_html``
        alignment = re.search(r"text-align:\s*([a-z]+)", (node.get("style") or "").lower())
        self.align = ALIGNS.get(
            alignment[1] if alignment else (node.get("align") or ("center" if tag == "center" else "")).lower(),
            self.align,
        )
        if tag in ("ul", "ol"):
            self.listed = Listed(tag == "ol", min((before[3].level if before[3] else 0) + 1, 9), True)
        self.kept = self.kept or tag == "pre"
        self.inner(node, look, depth)
        self.close()
        after = self.listed
        self.style, self.level, self.align, self.listed, self.kept = before
        if tag == "li" and after is not None:
            self.listed = after

    def note(self, target: Any) -> None:
        ref = self.cited[target]
        if ref not in self.source.notes:
            first, *more = self.apart(target) or (SourceParagraph(""),)
            number = PARTED.match(first.text)
            if number is not None:  # of the number only what parted it from the words is left
                first = replace(
                    first, text=first.text[number.end() :], spans=cut_spans(first.spans, number.end(), len(first.text))
                )
            self.source.notes[ref] = SourceNote("footnote", (first, *more))
        self.source.noted.setdefault(target.get("id") or "", ref)
        self.builder.object("note", ref)
        self.empty = self.ends_in_space = False

    def apart(self, node: Any) -> tuple[SourceParagraph, ...]:
        """Return the content of an element as a text of its own."""
        outer = self.builder, self.style, self.level, self.align, self.listed, self.kept, self.empty, self.ends_in_space
        self.builder, self.style, self.level, self.align, self.listed, self.kept, self.empty = (
            Builder(self.source),
            "",
            0,
            "",
            None,
            False,
            True,
        )
        self.inner(node, PLAIN, 1)
        self.close()
        paragraphs = self.builder.take_paragraphs()
        self.builder, self.style, self.level, self.align, self.listed, self.kept, self.empty, self.ends_in_space = outer
        return paragraphs

    def picture(self, node: Any) -> None:
        source = node.get("src") or ""
        match = DATA.match(source)
        if match is None or len(source) > 80_000_000:
            self.source.reported["missing"] += 1
            return
        try:
            data = base64.b64decode(source[match.end() :], validate=False)
        except (binascii.Error, ValueError):
            self.source.reported["missing"] += 1
            return
        name = f"picture {len(self.source.pictures) + 1}.{match[1].split('+')[0].lower()}"
        self.source.pictures[name] = SourcePicture(name, data, (node.get("alt") or "")[:500])
        self.builder.object("frame", name)
        self.empty = self.ends_in_space = False

    def table(self, node: Any, depth: int) -> None:
        self.close()
        if depth > 40:
            self.source.reported["left out"] += 1
            return
        rows: list[tuple[SourceCell, ...]] = []
        heads = 0
        for row in node.iter("tr"):
            if next(row.iterancestors("table")) is not node:
                continue
            cells = [one for one in row if one.tag in ("td", "th")]
            table_rows = tuple(
                SourceCell(self.apart(cell), _count(cell.get("colspan")), _count(cell.get("rowspan"))) for cell in cells
            )
            heads += (
                heads == len(rows)
                and bool(cells)
                and (row.getparent().tag == "thead" or all(one.tag == "th" for one in cells))
            )
            rows.append(table_rows)
        caption = node.find("caption")
        if caption is not None:
            self.block(caption, "caption", PLAIN, depth)
        ref = f"t{len(self.source.tables) + 1}"
        self.source.tables[ref] = SourceTable(tuple(rows), heads)
        self.builder.object("table", ref)
        self.builder.end("")
        self.empty = True


def _count(value: str | None) -> int:
    return min(max(int(value), 1), 500) if value and value.isdigit() else 1


def _a_table(node: Any) -> bool:
    """Return whether a table is one, and no means to set a page: that says so (WAI-ARIA 1.2, presentation), or has one
    column."""
    if (node.get("role") or "") in ("presentation", "none"):
        return False
    return any(sum(cell.tag in ("td", "th") for cell in row) > 1 for row in node.iter("tr"))


def _above(one: Any, most: int) -> list[Any]:
    """Return the ancestors of an element, the nearest first."""
    return list(islice(one.iterancestors(), most))


def _words(one: Any) -> str:
    return "".join(one.itertext()).strip()


def _a_sign(one: Any) -> bool:
    """Return whether a link is shown as a number or a single character."""
    words = _words(one)
    return SIGN.fullmatch(words) is not None or 0 < len(words) <= 2
