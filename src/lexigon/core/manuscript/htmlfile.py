"""HTML as a manuscript: its words and what they mean. Nothing is fetched, nothing is run; pictures come where they stand in the file."""

from __future__ import annotations

import base64
import binascii
import re
from typing import Any

from lxml import etree
from lxml import html as markup

from lexigon.core.job.model import TypeSpec, combined
from lexigon.core.manuscript.decode import ManuscriptError
from lexigon.core.manuscript.richtext import LOOKS, SKIPPED, styled
from lexigon.core.manuscript.source import (
    PLAIN,
    Align,
    Builder,
    Listed,
    Source,
    SourceCell,
    SourceNote,
    SourceParagraph,
    SourcePicture,
    SourceTable,
)

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
BLOCKS = {*HEADS, *NAMES, "p", "div", "li", "section", "article", "main", "aside", "header", "footer", "nav", "figure", "body", "html", "dl", "ul", "ol", "center", "hgroup", "details", "summary"}  # fmt: skip
ALIGNS: dict[str, Align] = {
    "center": "centre",
    "centre": "centre",
    "right": "right",
    "end": "right",
    "justify": "justify",
}
DATA = re.compile(r"\s*data:image/(png|jpe?g|webp|avif|tiff|svg\+xml)[^,]*;base64,", re.IGNORECASE)
SPACE = re.compile(r"[ \t\r\n\f]+")
LANGUAGE = re.compile(r"[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8}){0,3}")
DEEPEST = 300


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
    source.paragraphs = list(reader.builder.taken())
    return source


class _Reader:
    def __init__(self, source: Source, root: Any) -> None:
        self.source = source
        self.builder = Builder(source)
        self.style, self.level, self.align = "", 0, ""
        self.listed: Listed | None = None
        self.kept = False
        self.empty = True
        self.named = {one.get("id"): one for one in root.iter() if isinstance(one.tag, str) and one.get("id")}
        self.cited = {self._note(one) for one in root.iter("a")} - {None}

    def _note(self, one: Any) -> Any | None:
        """The element that is the note an ``a`` leads to, where it is one that cites a note (DPUB-ARIA 1.0, doc-noteref; and what programs
        write that do not know it)."""
        href = one.get("href") or ""
        if not href.startswith("#"):
            return None
        up = one.getparent()
        said = " ".join(
            filter(
                None,
                (
                    one.get("role"),
                    one.get("class"),
                    one.get("epub:type"),
                    up.get("class") if up is not None and up.tag == "sup" else "",
                ),
            )
        )
        if not re.search(r"\b(doc-noteref|noteref|footnote-ref|footnoteref|fnref|endnote-ref)\b", said):
            return None
        return self.named.get(href[1:])

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
            or (tag in SKIPPED and tag != "svg")
            or depth > DEEPEST
            or node in self.cited
            or node.get("hidden") is not None
        ):
            return
        if tag == "svg" or re.search(
            r"\b(doc-backlink|footnote-back(ref)?|reversefootnote)\b", f"{node.get('role')} {node.get('class')}"
        ):
            return
        if tag == "a" and (note := self._note(node)) is not None:
            self.note(note)
            return
        if node.get("id") or (tag == "a" and node.get("name")):
            self.builder.names.append((node.get("id") or node.get("name"))[:200])
        before = self.builder.link
        if tag == "a" and node.get("href"):
            self.source.told["links"] += 1
            self.builder.link = node.get("href").strip()
        self.source.told["insertions"] += tag == "ins"
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
                self.builder.words("* * *")
                self.close()
        elif tag == "table":
            self.table(node, depth)
        elif tag in BLOCKS:
            self.block(node, tag, look, depth)
        else:
            self.inner(node, look, depth)
        self.builder.link = before

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
        said = re.search(r"text-align:\s*([a-z]+)", (node.get("style") or "").lower())
        self.align = ALIGNS.get(
            said[1] if said else (node.get("align") or ("center" if tag == "center" else "")).lower(), self.align
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
        ref = target.get("id")[:70]
        if ref not in self.source.notes:
            self.source.notes[ref] = SourceNote("footnote", self.apart(target))
        self.builder.object("note", ref)
        self.empty = self.ends_in_space = False

    def apart(self, node: Any) -> tuple[SourceParagraph, ...]:
        """What an element holds, as a text of its own."""
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
        made = self.builder.taken()
        self.builder, self.style, self.level, self.align, self.listed, self.kept, self.empty, self.ends_in_space = outer
        return made

    def picture(self, node: Any) -> None:
        source = node.get("src") or ""
        found = DATA.match(source)
        if found is None or len(source) > 80_000_000:
            self.source.told["missing"] += 1
            return
        try:
            data = base64.b64decode(source[found.end() :], validate=False)
        except (binascii.Error, ValueError):
            self.source.told["missing"] += 1
            return
        name = f"picture {len(self.source.pictures) + 1}.{found[1].split('+')[0].lower()}"
        self.source.pictures[name] = SourcePicture(name, data, (node.get("alt") or "")[:500])
        self.builder.object("frame", name)
        self.empty = self.ends_in_space = False

    def table(self, node: Any, depth: int) -> None:
        self.close()
        if depth > 40:
            self.source.told["left out"] += 1
            return
        rows: list[tuple[SourceCell, ...]] = []
        heads = 0
        for row in node.iter("tr"):
            if next(row.iterancestors("table")) is not node:
                continue
            cells = [one for one in row if one.tag in ("td", "th")]
            made = tuple(
                SourceCell(self.apart(cell), _count(cell.get("colspan")), _count(cell.get("rowspan"))) for cell in cells
            )
            heads += (
                heads == len(rows)
                and bool(cells)
                and (row.getparent().tag == "thead" or all(one.tag == "th" for one in cells))
            )
            rows.append(made)
        caption = node.find("caption")
        if caption is not None:
            self.block(caption, "caption", PLAIN, depth)
        ref = f"t{len(self.source.tables) + 1}"
        self.source.tables[ref] = SourceTable(tuple(rows), heads)
        self.builder.object("table", ref)
        self.builder.end("")
        self.empty = True


def _count(said: str | None) -> int:
    return min(max(int(said), 1), 500) if said and said.isdigit() else 1
