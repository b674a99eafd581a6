"""OpenDocument text (OASIS Open Document Format for Office Applications 1.3, part 3): ``.odt``."""

from __future__ import annotations

import posixpath
import re
from dataclasses import dataclass, replace
from typing import Any, Literal

from lexigon.core.document.model import TypeSpec
from lexigon.core.manuscript.readers.archive import Archive
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
    SourcePicture,
    SourceTable,
    over,
)

OFFICE, TEXT, STYLE, FO, TABLE, DRAW, SVG, XLINK = (
    f"{{urn:oasis:names:tc:opendocument:xmlns:{name}:1.0}}" if name != "xlink" else "{http://www.w3.org/1999/xlink}"
    for name in ("office", "text", "style", "xsl-fo-compatible", "table", "drawing", "svg-compatible", "xlink")
)
ALIGNS: dict[str, Align] = {
    "center": "centre",
    "end": "right",
    "right": "right",
    "justify": "justify",
    "start": "left",
    "left": "left",
}
REFERRED: dict[str, Literal["page", "words"]] = {"page": "page", "text": "words"}
"""The kinds of cross-reference that are imported as such, by ``text:reference-format`` (OpenDocument 1.3, part 3; from
memory)."""
FIELDS = frozenset(
    {
        "page-number",
        "page-count",
        "date",
        "time",
        "title",
        "subject",
        "author-name",
        "chapter",
        "file-name",
        "bookmark-ref",
        "reference-ref",
        "note-ref",
        "sequence",
        "sequence-ref",
        "user-defined",
        "text-input",
        "placeholder",
        "variable-get",
        "variable-set",
        "expression",
        "database-display",
    }
)
MOST_REPEATED = 1000
DEEPEST = 12


@dataclass(slots=True)
class _Style:
    name: str
    parent: str = ""
    look: TypeSpec = PLAIN
    align: Align = ""
    size: float = 0.0
    starts_page: bool = False
    level: int = 0
    automatic: bool = False


def read_odt(archive: Archive) -> Source:
    """Raises ManuscriptError."""
    manifest = archive.data("META-INF/manifest.xml", 2_000_000) or b""
    if b"encryption-data" in manifest:
        raise ManuscriptError("This document is locked with a password. Save it without one and import it again.")
    root = archive.xml("content.xml")
    body = root.find(f"{OFFICE}body/{OFFICE}text") if root is not None else None
    if root is None or body is None:
        raise ManuscriptError("This is a zip file, not a text document.")
    source = Source("ODT")
    reader = _Reader(archive, source, [part for part in (archive.xml("styles.xml"), root) if part is not None])
    builder = Builder(source)
    reader.blocks(body, builder, None, 0)
    source.paragraphs = list(builder.take_paragraphs())
    return source


class _Reader:
    def __init__(self, archive: Archive, source: Source, parts: list[Any]) -> None:
        self.archive, self.source = archive, source
        self.language = ""
        self.styles: dict[tuple[str, str], _Style] = {}
        self.lists: dict[str, dict[int, bool]] = {}
        for part in parts:
            self._styles(part)
        self._settled: dict[tuple[str, str], _Style] = {}
        self._list = ""
        """The style of the list that is read."""

    def _styles(self, root: Any) -> None:
        for one in root.iter(f"{STYLE}default-style"):
            if one.get(f"{STYLE}family") == "paragraph":
                self.language = _look(one.find(f"{STYLE}text-properties")).language or self.language
        for one in root.iter(f"{STYLE}style"):
            words, para = one.find(f"{STYLE}text-properties"), one.find(f"{STYLE}paragraph-properties")
            level = one.get(f"{STYLE}default-outline-level", "")
            name = one.get(f"{STYLE}name", "")
            up = one.getparent()
            self.styles[one.get(f"{STYLE}family", ""), name] = _Style(
                one.get(f"{STYLE}display-name") or name,
                one.get(f"{STYLE}parent-style-name", ""),
                _look(words),
                ALIGNS.get(para.get(f"{FO}text-align", ""), "") if para is not None else "",
                _points(words.get(f"{FO}font-size")) if words is not None else 0.0,
                para is not None and para.get(f"{FO}break-before") == "page",
                int(level) if level.isdigit() else 0,
                up is not None and up.tag == f"{OFFICE}automatic-styles",
            )
        for one in root.iter(f"{TEXT}list-style"):
            self.lists[one.get(f"{STYLE}name", "")] = {
                int(level.get(f"{TEXT}level", "1")): level.tag == f"{TEXT}list-level-style-number"
                for level in one
                if level.get(f"{TEXT}level", "").isdigit()
            }

    def style(self, family: str, name: str) -> _Style:
        """A style with what it is based on; one made by the program for a single place goes by the name of the style it
        changes."""
        cached = self._settled.get((family, name))
        if cached is not None:
            return cached
        chain: list[_Style] = []
        at = name
        while at and (family, at) in self.styles and len(chain) < 30:
            chain.append(self.styles[family, at])
            at = chain[-1].parent
        look = PLAIN
        for one in reversed(chain):
            look = over(look, one.look)
        style = _Style(
            next((one.name for one in chain if not one.automatic), at or "") if chain else name.replace("_20_", " "),
            look=look,
            align=next((one.align for one in chain if one.align), ""),
            size=next((one.size for one in chain if one.size), 0.0),
            starts_page=any(one.starts_page for one in chain[:1]),
            level=next((one.level for one in chain if one.level), 0),
        )
        self._settled[family, name] = style
        return style

    def named_look(self, name: str) -> TypeSpec:
        """The formatting of the named style on which an automatic paragraph style is based: local formatting is what
        differs from it."""
        look, at, depth = PLAIN, name, 0
        chain: list[_Style] = []
        while at and ("paragraph", at) in self.styles and depth < 30:
            chain.append(self.styles["paragraph", at])
            at, depth = chain[-1].parent, depth + 1
        for one in reversed(chain):
            look = look if one.automatic else over(look, one.look)
        return look

    # its contents

    def blocks(self, parent: Any, builder: Builder, listed: Listed | None, depth: int) -> None:
        for one in parent:
            name = _name(one)
            if name in ("p", "h"):
                self.paragraph(one, builder, listed)
                if listed is not None:
                    listed = replace(listed, first=False)
            elif name == "list":
                self.items(one, builder, listed, depth)
            elif name == "table":
                self.table(one, builder, depth)
            elif name in (
                "section",
                "index-body",
                "table-of-content",
                "alphabetical-index",
                "illustration-index",
                "numbered-paragraph",
            ):
                self.source.reported["gathered"] += name not in ("section", "index-body", "numbered-paragraph")
                self.blocks(one, builder, listed, depth)
            elif name == "tracked-changes":
                self.source.reported["deletions"] += sum(1 for _ in one.iter(f"{TEXT}deletion"))
                self.source.reported["insertions"] += sum(1 for _ in one.iter(f"{TEXT}insertion"))
            elif name == "frame":
                self.frame(one, builder)
                if builder.begun:
                    builder.end("")

    def items(self, one: Any, builder: Builder, outer: Listed | None, depth: int) -> None:
        if depth > DEEPEST:
            self.source.reported["left out"] += 1
            return
        level = min((outer.level if outer else 0) + 1, 9)
        self._list = one.get(f"{TEXT}style-name") or self._list
        ordered = self.lists.get(self._list, {}).get(level, False)
        first = True
        for item in one:
            if _name(item) in ("list-item", "list-header"):
                self.blocks(item, builder, Listed(ordered, level, first), depth + 1)
                first = False

    def paragraph(self, one: Any, builder: Builder, listed: Listed | None) -> None:
        key = one.get(f"{TEXT}style-name", "")
        style = self.style("paragraph", key)
        base = self.named_look(key)
        level = one.get(f"{TEXT}outline-level", "") if _name(one) == "h" else ""
        self.runs(one, builder, style.look, base)
        if not builder.begun and style.name == "Horizontal Line":
            builder.words("* * *")
        builder.end(
            style.name,
            int(level) if level.isdigit() else style.level,
            style.align,
            listed,
            style.starts_page,
            style.size,
        )

    def runs(self, one: Any, builder: Builder, look: TypeSpec, base: TypeSpec) -> None:
        builder.words(_plain(one.text), self._apart(look, base))
        for part in one:
            name = _name(part)
            if name in ("span", "a", "meta", "ruby", "ruby-base") or name in FIELDS:
                inner = (
                    over(look, self.style("text", part.get(f"{TEXT}style-name", "")).look) if name == "span" else look
                )
                self.source.reported["links"] += name == "a"
                form = part.get(f"{TEXT}reference-format", "page" if name != "note-ref" else "text")
                led: ReferenceForm | None = None
                if name in ("bookmark-ref", "reference-ref"):
                    led = REFERRED.get(form)
                elif name == "note-ref":
                    led = {"page": "page", "text": "number"}.get(form)  # type: ignore[assignment]
                self.source.reported["fields"] += name in FIELDS and led is None
                before, start = builder.link, builder.at
                if name == "a":
                    builder.link = part.get("{http://www.w3.org/1999/xlink}href", "")
                self.runs(part, builder, inner, base)
                builder.link = before
                if led is not None:
                    builder.reference(part.get(f"{TEXT}ref-name", ""), led, start)
            elif name == "s":
                count = part.get(f"{TEXT}c", "1")
                builder.words(" " * min(int(count) if count.isdigit() else 1, 200), self._apart(look, base))
            elif name == "tab":
                builder.words("\t", self._apart(look, base))
            elif name == "line-break":
                builder.words("\n", self._apart(look, base))
            elif name == "note":
                self.note(part, builder)
            elif name == "frame":
                self.frame(part, builder)
            elif name == "annotation":
                self.source.reported["comments"] += 1
            elif name in ("bookmark", "bookmark-start", "reference-mark", "reference-mark-start"):
                self.source.reported["bookmarks"] += 1
                builder.names.append(part.get(f"{TEXT}name", ""))
            builder.words(_plain(part.tail), self._apart(look, base))

    def _apart(self, look: TypeSpec, base: TypeSpec) -> TypeSpec:
        usual: dict[str, Any] = {
            "italic": False,
            "weight": 400,
            "caps": "none",
            "underline": False,
            "strike": False,
            "position": "normal",
            "language": self.language,
        }
        values = {}
        for name, plain in usual.items():
            value, before = getattr(look, name), getattr(base, name)
            if value is not None and value != (before if before is not None else plain):
                values[name] = value
        return TypeSpec(**values)

    def note(self, part: Any, builder: Builder) -> None:
        ref = f"n{len(self.source.notes) + 1}"
        self.source.notes[ref] = SourceNote("footnote", ())
        self.source.noted.setdefault(part.get(f"{TEXT}id", ""), ref)
        body, inner = part.find(f"{TEXT}note-body"), Builder(self.source)
        if body is not None:
            self.blocks(body, inner, None, 1)
        kind = "endnote" if part.get(f"{TEXT}note-class") == "endnote" else "footnote"
        self.source.notes[ref] = SourceNote(kind, inner.take_paragraphs())  # type: ignore[arg-type]
        builder.object("note", ref)

    def frame(self, part: Any, builder: Builder) -> None:
        image = part.find(f"{DRAW}image")
        if image is None:
            box = part.find(f"{DRAW}text-box")
            if box is not None:
                self.source.reported["text boxes"] += 1
                for one in box.iter(f"{TEXT}p"):
                    self.runs(one, builder, PLAIN, PLAIN)
            return
        target = posixpath.normpath(image.get(f"{XLINK}href", ""))
        data = self.archive.data(target) if not target.startswith("..") else None
        if not data:
            self.source.reported["missing"] += 1
            return
        alt = next((one.text or "" for name in ("desc", "title") for one in part.iter(f"{SVG}{name}")), "")
        self.source.pictures.setdefault(
            target, SourcePicture(posixpath.basename(target), data, alt[:500], _points(part.get(f"{SVG}width")))
        )
        builder.object("frame", target)

    def table(self, one: Any, builder: Builder, depth: int) -> None:
        if depth > DEEPEST:
            self.source.reported["left out"] += 1
            return
        rows: list[tuple[SourceCell, ...]] = []
        heads = 0
        for row in one.iter(f"{TABLE}table-row"):
            if next(row.iterancestors(f"{TABLE}table")) is not one:
                continue
            cells: list[SourceCell] = []
            for cell in row:
                if _name(cell) != "table-cell":
                    continue
                inner = Builder(self.source)
                self.blocks(cell, inner, None, depth + 1)
                table_cell = SourceCell(
                    inner.take_paragraphs(), _count(cell, "number-columns-spanned"), _count(cell, "number-rows-spanned")
                )
                cells += [table_cell] * (
                    min(_count(cell, "number-columns-repeated"), 200)
                    if table_cell.paragraphs or len(cells) < 200
                    else 1
                )
            up = row.getparent()
            heads += up is not None and _name(up) == "table-header-rows" and heads == len(rows)
            rows += [tuple(cells)] * min(_count(row, "number-rows-repeated"), MOST_REPEATED)
        ref = f"t{len(self.source.tables) + 1}"
        self.source.tables[ref] = SourceTable(tuple(rows), heads)
        builder.object("table", ref)
        builder.end("")


def _look(props: Any | None) -> TypeSpec:
    """Return what text properties say (16.29)."""
    if props is None:
        return PLAIN
    values: dict[str, Any] = {}
    if slant := props.get(f"{FO}font-style"):
        values["italic"] = slant in ("italic", "oblique")
    if weight := props.get(f"{FO}font-weight"):
        values["weight"] = 700 if weight == "bold" or (weight.isdigit() and int(weight) >= 600) else 400
    if props.get(f"{FO}font-variant") == "small-caps":
        values["caps"] = "small"
    elif props.get(f"{FO}text-transform") == "uppercase":
        values["caps"] = "upper"
    if under := props.get(f"{STYLE}text-underline-style"):
        values["underline"] = under != "none"
    if strike := props.get(f"{STYLE}text-line-through-style") or props.get(f"{STYLE}text-line-through-type"):
        values["strike"] = strike != "none"
    if place := props.get(f"{STYLE}text-position"):
        first = place.split()[0]
        up = first == "super" or (first.endswith("%") and not first.startswith("-") and first not in ("0%",))
        down = first == "sub" or first.startswith("-")
        values["position"] = "superior" if up else "inferior" if down else "normal"
    language, country = props.get(f"{FO}language", ""), props.get(f"{FO}country", "")
    if re.fullmatch("[a-zA-Z]{2,8}", language) and language not in ("none", "zxx"):
        values["language"] = (
            f"{language}-{country}" if re.fullmatch("[A-Za-z0-9]{2,8}", country) and country != "none" else language
        )
    return TypeSpec(**values)


def _points(value: str | None) -> float:
    match = re.fullmatch(r"([\d.]+)(pt|cm|mm|in)", value or "")
    return float(match[1]) * {"pt": 1.0, "cm": 72 / 2.54, "mm": 72 / 25.4, "in": 72.0}[match[2]] if match else 0.0


def _count(one: Any, name: str) -> int:
    value = one.get(f"{TABLE}{name}", "1")
    return max(int(value), 1) if value.isdigit() else 1


def _plain(words: str | None) -> str:
    """White space as a text document means it: runs of it are one space (6.1.2)."""
    return re.sub(r"[ \t\r\n]+", " ", words or "")


def _name(one: Any) -> str:
    tag = one.tag
    return tag.rsplit("}", 1)[-1] if isinstance(tag, str) else ""
