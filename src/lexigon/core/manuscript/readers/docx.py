"""Word processing documents of Office Open XML (ISO/IEC 29500-1, WordprocessingML): ``.docx`` and what is like it."""

from __future__ import annotations

import posixpath
import re
from dataclasses import dataclass, replace
from typing import Any

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

W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
STRICT = "{http://purl.oclc.org/ooxml/wordprocessingml/main}"
R = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}"
A = "{http://schemas.openxmlformats.org/drawingml/2006/main}"
WP = "{http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing}"
V = "{urn:schemas-microsoft-com:vml}"
OFFICE = "{urn:schemas-microsoft-com:office:office}"
EMU = 12_700
"""English metric units to a point (ISO/IEC 29500-1, 20.1.2.1)."""
DEEPEST = 12
ALIGNS: dict[str, Align] = {
    "center": "centre",
    "right": "right",
    "end": "right",
    "both": "justify",
    "distribute": "justify",
    "left": "left",
    "start": "left",
}
REFERENCE = re.compile(
    r"\s*(?:(?P<kind>PAGEREF|REF)\s+(?P<name>[^\s\\]+)(?!.*\\[nrwfp]\b)|NOTEREF\s+(?P<note>[^\s\\]+)(?!.*\\p\b))",
    re.IGNORECASE | re.DOTALL,
)
"""A field that shows the page or the words of a bookmark, or the number of the note in it (ECMA-376-1, 17.16.5; from
memory); not the number of a paragraph, nor whether a place is above or below."""
TRANSPARENT = ("ins", "moveTo", "hyperlink", "smartTag", "fldSimple", "customXml", "dir", "bdo")
"""What holds runs, which are words all the same."""


@dataclass(slots=True)
class _Style:
    name: str
    base: str = ""
    level: int = 0
    align: Align = ""
    look: TypeSpec = PLAIN
    size: float = 0.0
    num: tuple[str, int] | None = None


def read_docx(archive: Archive) -> Source:
    """Raises ManuscriptError."""
    root = archive.xml("word/document.xml")
    root = _main(archive) if root is None else root
    if root is None:
        raise ManuscriptError("This is a zip file, not a text document.")
    source = Source("DOCX")
    reader = _Reader(archive, source)
    body = root.find(f"{W}body")
    if body is None:
        raise ManuscriptError(
            "No text could be read from this document. Save it again as a regular DOCX file and import that."
        )
    if "word/vbaProject.bin" in archive.names:
        source.reported["macros"] += 1
    builder = Builder(source)
    reader.blocks(body, builder, 0)
    source.paragraphs = list(builder.take_paragraphs())
    return source


def _main(archive: Archive) -> Any | None:
    """The document where it has another name."""
    rels = archive.xml("_rels/.rels")
    for one in rels if rels is not None else ():
        if str(one.get("Type", "")).endswith("/officeDocument"):
            return archive.xml(str(one.get("Target", "")).lstrip("/"))
    return None


def _on(one: Any | None) -> bool | None:
    """A property that is on or off; None where it is not said (17.3.2.1)."""
    if one is None:
        return None
    return one.get(f"{W}val", "true").lower() not in ("0", "false", "off", "none")


def _val(parent: Any | None, name: str) -> str:
    element = parent.find(f"{W}{name}") if parent is not None else None
    return element.get(f"{W}val", "") if element is not None else ""


def _look(props: Any | None) -> TypeSpec:
    """Return what run properties say (17.3.2)."""
    if props is None:
        return TypeSpec()
    values: dict[str, Any] = {}
    if (italic := _on(props.find(f"{W}i"))) is not None:
        values["italic"] = italic
    if (bold := _on(props.find(f"{W}b"))) is not None:
        values["weight"] = 700 if bold else 400
    if _on(props.find(f"{W}smallCaps")):
        values["caps"] = "small"
    elif _on(props.find(f"{W}caps")):
        values["caps"] = "upper"
    if (under := props.find(f"{W}u")) is not None:
        values["underline"] = under.get(f"{W}val", "single") != "none"
    if (strike := _on(props.find(f"{W}strike"))) is not None:
        values["strike"] = strike
    place = {"superscript": "superior", "subscript": "inferior", "baseline": "normal"}.get(_val(props, "vertAlign"))
    if place:
        values["position"] = place
    if (language := props.find(f"{W}lang")) is not None and language.get(f"{W}val"):
        values["language"] = language.get(f"{W}val")[:40]
    return TypeSpec(**values)


def _half_points(props: Any | None) -> float:
    try:
        return float(_val(props, "sz") or 0) / 2
    except ValueError:
        return 0.0


class _Reader:
    def __init__(self, archive: Archive, source: Source) -> None:
        self.archive, self.source = archive, source
        self.language = ""
        self.styles = self._styles()
        self.formats = self._numbering()
        self.rels: dict[str, dict[str, str]] = {}
        self.part = "word/document.xml"
        self.field = 0
        self.instruction = ""
        self.shown_from: int | None = None
        self.open: dict[str, str] = {}
        """The bookmarks that have begun and not ended, by their ids."""
        self.breaks = self.breaks_behind = False
        """Begin a page with the paragraph that is read; with the one after it, where words precede the break."""
        self._notes: dict[str, Any] = {}

    # Tables of the document

    def _styles(self) -> dict[str, _Style]:
        root = self.archive.xml("word/styles.xml")
        styles: dict[str, _Style] = {}
        if root is None:
            return styles
        defaults = root.find(f"{W}docDefaults/{W}rPrDefault/{W}rPr")
        self.language = (_look(defaults).language or "") if defaults is not None else ""
        base_size = _half_points(defaults)
        for one in root.iter(f"{W}style"):
            para, run = one.find(f"{W}pPr"), one.find(f"{W}rPr")
            level = _val(para, "outlineLvl")
            num = para.find(f"{W}numPr") if para is not None else None
            styles[one.get(f"{W}styleId", "")] = _Style(
                _val(one, "name") or one.get(f"{W}styleId", ""),
                _val(one, "basedOn"),
                int(level) + 1 if level.isdigit() and int(level) < 9 else 0,
                ALIGNS.get(_val(para, "jc"), ""),
                _look(run),
                _half_points(run),
                (_val(num, "numId"), _level(num)) if num is not None else None,
            )
            if one.get(f"{W}default") in ("1", "true") and one.get(f"{W}type") == "paragraph":
                styles.setdefault("", styles[one.get(f"{W}styleId", "")])
        settled: dict[str, _Style] = {}
        for key, style in styles.items():
            chain, at = [style], style.base
            while at in styles and len(chain) < 20:
                chain.append(styles[at])
                at = styles[at].base
            look = TypeSpec()
            for one_ in reversed(chain):
                look = over(look, one_.look)
            settled[key] = replace(
                style,
                look=look,
                level=next((one_.level for one_ in chain if one_.level), 0),
                align=next((one_.align for one_ in chain if one_.align), ""),
                size=next((one_.size for one_ in chain if one_.size), base_size),
                num=next((one_.num for one_ in chain if one_.num), None),
            )
        return settled

    def _numbering(self) -> dict[tuple[str, int], str]:
        """Return how each level of each numbering is written (17.9)."""
        root = self.archive.xml("word/numbering.xml")
        formats: dict[tuple[str, int], str] = {}
        if root is None:
            return formats
        abstract = {
            one.get(f"{W}abstractNumId", ""): {
                int(lvl.get(f"{W}ilvl", "0")): _val(lvl, "numFmt") for lvl in one.iter(f"{W}lvl")
            }
            for one in root.iter(f"{W}abstractNum")
        }
        for num in root.iter(f"{W}num"):
            for level, form in abstract.get(_val(num, "abstractNumId"), {}).items():
                formats[num.get(f"{W}numId", ""), level] = form
        return formats

    def _outside(self, key: str) -> str:
        """The address that a relationship of this part leads to outside of the document."""
        folder, name = posixpath.split(self.part)
        root = self.archive.xml(f"{folder}/_rels/{name}.rels")
        relationship = (
            one
            for one in (root if root is not None else ())
            if one.get("Id") == key and one.get("TargetMode") == "External"
        )
        return next((one.get("Target", "") for one in relationship), "")

    def _target(self, key: str) -> str:
        """The part that a relationship of this part leads to; "" for none, or one outside."""
        if self.part not in self.rels:
            folder, name = posixpath.split(self.part)
            root = self.archive.xml(f"{folder}/_rels/{name}.rels")
            self.rels[self.part] = {
                one.get("Id", ""): posixpath.normpath(posixpath.join(folder, one.get("Target", "")))
                if not one.get("Target", "").startswith("/")
                else one.get("Target", "").lstrip("/")
                for one in (root if root is not None else ())
                if one.get("TargetMode") != "External"
            }
        return self.rels[self.part].get(key, "")

    # its contents

    def blocks(self, parent: Any, builder: Builder, depth: int) -> None:
        for one in parent:
            name = _name(one)
            if name == "p":
                self.paragraph(one, builder)
            elif name == "tbl":
                self.table(one, builder, depth)
            elif name == "sdt" and (content := one.find(f"{W}sdtContent")) is not None:
                self.blocks(content, builder, depth)
            elif name in ("ins", "moveTo", "customXml"):
                self.blocks(one, builder, depth)
            elif name == "altChunk":
                self.source.reported["left out"] += 1

    def paragraph(self, one: Any, builder: Builder) -> None:
        props = one.find(f"{W}pPr")
        style = self.styles.get(_val(props, "pStyle")) or self.styles.get("") or _Style("")
        self.breaks, self.breaks_behind = self.breaks_behind, False
        self.runs(one, builder, style)
        level = _val(props, "outlineLvl")
        num = props.find(f"{W}numPr") if props is not None else None
        where = (_val(num, "numId"), _level(num)) if num is not None else style.num
        listed = None
        if where is not None and where[0] not in ("", "0") and not style.level:
            form = self.formats.get(where, "bullet")
            listed = None if form == "none" else Listed(form != "bullet", min(where[1] + 1, 9))
        starts = self.breaks or bool(_on(props.find(f"{W}pageBreakBefore")) if props is not None else False)
        builder.end(
            style.name,
            int(level) + 1 if level.isdigit() and int(level) < 9 else style.level,
            ALIGNS.get(_val(props, "jc"), style.align),
            listed,
            starts,
            style.size,
        )

    def runs(self, parent: Any, builder: Builder, style: _Style, look: TypeSpec | None = None) -> None:
        for one in parent:
            name = _name(one)
            if name == "r":
                self.run(one, builder, style)
            elif name in TRANSPARENT:
                self.source.reported["insertions"] += name in ("ins", "moveTo")
                self.source.reported["links"] += name == "hyperlink"
                led = _reference(one.get(f"{W}instr", "")) if name == "fldSimple" else None
                self.source.reported["fields"] += name == "fldSimple" and led is None
                before, start = builder.link, builder.at
                if name == "hyperlink":
                    named = one.get(f"{W}anchor")
                    builder.link = f"#{named}" if named else self._outside(one.get(f"{R}id", ""))
                self.runs(one, builder, style)
                builder.link = before
                if led is not None:
                    builder.reference(*led, start)
            elif name == "sdt" and (content := one.find(f"{W}sdtContent")) is not None:
                self.runs(content, builder, style)
            elif name in ("del", "moveFrom"):
                self.source.reported["deletions"] += 1
            elif name == "bookmarkStart":
                builder.names.append(str(one.get(f"{W}name", "")))
                self.source.reported["bookmarks"] += not str(one.get(f"{W}name", "")).startswith("_")
                self.open[one.get(f"{W}id", "")] = str(one.get(f"{W}name", ""))
            elif name == "bookmarkEnd":
                self.open.pop(one.get(f"{W}id", ""), None)

    def run(self, one: Any, builder: Builder, style: _Style) -> None:
        props = one.find(f"{W}rPr")
        if props is not None and _on(props.find(f"{W}vanish")):
            self.source.reported["hidden"] += 1
            return
        named = self.styles.get(_val(props, "rStyle"))
        look = _apart(
            over(over(style.look, named.look if named else TypeSpec()), _look(props)), style.look, self.language
        )
        for part in one:
            name = _name(part)
            if name == "fldChar":
                self._field(part.get(f"{W}fldCharType") or "", builder)
            elif name == "instrText":
                self.instruction += part.text or ""
            elif self.field > 0:
                continue  # the instruction of a field, not its result
            elif name == "t":
                builder.words(part.text or "", look)
            elif name in ("tab", "ptab"):
                builder.words("\t", look)
            elif name in ("br", "cr"):
                if part.get(f"{W}type") in ("page", "column"):
                    if builder.begun:
                        self.breaks_behind = True
                    else:
                        self.breaks = True
                else:
                    builder.words("\n", look)
            elif name == "noBreakHyphen":
                builder.words("\u2011", look)
            elif name == "softHyphen":
                builder.words("\u00ad", look)
            elif name == "sym":
                self._sign(part, builder, look)
            elif name in ("footnoteReference", "endnoteReference"):
                self.note(name.removesuffix("Reference"), part.get(f"{W}id", ""), builder)
            elif name == "commentReference":
                self.source.reported["comments"] += 1
            elif name in ("drawing", "pict", "object"):
                self.picture(part, builder)
            elif name == "AlternateContent":
                choice = next((inner for inner in part.iter() if _name(inner) in ("drawing", "pict")), None)
                if choice is not None:
                    self.picture(choice, builder)

    def _field(self, kind: str, builder: Builder) -> None:
        """A field begins, shows its result from here on, or ends; a cross-reference takes the place of its result."""
        if kind == "begin":
            self.field, self.instruction, self.shown_from = self.field + 1, "", None
        elif kind == "separate":
            self.field -= 1
            self.shown_from = builder.at
        elif kind == "end":
            self.field = 0
            led = _reference(self.instruction)
            self.source.reported["fields"] += led is None
            if led is not None and self.shown_from is not None:
                builder.reference(*led, self.shown_from)
            self.instruction, self.shown_from = "", None

    def _sign(self, part: Any, builder: Builder, look: TypeSpec) -> None:
        try:
            code = int(part.get(f"{W}char", "0"), 16)
        except ValueError:
            return
        if 0xF000 <= code <= 0xF0FF:  # a place in a symbol font, which says nothing without it
            self.source.reported["symbols"] += 1
            builder.words("\ufffd", look)
        elif code > 31:
            builder.words(chr(code), look)

    def note(self, kind: str, key: str, builder: Builder) -> None:
        name = f"word/{kind}s.xml"
        if name not in self._notes:
            self._notes[name] = self.archive.xml(name)
        root = self._notes[name]
        element = next((one for one in root if one.get(f"{W}id") == key), None) if root is not None else None
        if element is not None and element.get(f"{W}type") in ("separator", "continuationSeparator"):
            return
        if element is None:
            self.source.reported["unnoted"] += 1
            return
        ref = f"{kind[0]}{key}"
        for place in self.open.values():
            self.source.noted.setdefault(place, ref)
        if ref not in self.source.notes:
            inner, outer, field, self.field = Builder(self.source), self.part, self.field, 0
            self.part = name
            self.source.notes[ref] = SourceNote("endnote" if kind == "endnote" else "footnote", ())
            self.blocks(element, inner, 1)
            self.source.notes[ref] = SourceNote("endnote" if kind == "endnote" else "footnote", inner.take_paragraphs())
            self.part, self.field = outer, field
        builder.object("note", ref)

    def picture(self, part: Any, builder: Builder) -> None:
        blip = next(part.iter(f"{A}blip"), None)
        old = next(part.iter(f"{V}imagedata"), None)
        key = blip.get(f"{R}embed", "") if blip is not None else old.get(f"{R}id", "") if old is not None else ""
        if any(inner.get(f"{OFFICE}hr") in ("t", "true") for inner in part.iter(f"{V}rect")):
            builder.words("* * *")  # a line across is a break in the text
            return
        boxed = next((inner for inner in part.iter(f"{W}txbxContent")), None)
        if boxed is not None and not key:
            self.source.reported["text boxes"] += 1
            for inner in boxed.iter(f"{W}t"):
                builder.words(inner.text or "")
            return
        target = self._target(key) if key else ""
        data = self.archive.data(target) if target else None
        if not data:
            self.source.reported["missing"] += bool(key or blip is not None)
            return
        properties = next(part.iter(f"{WP}docPr"), None)
        extent = next(part.iter(f"{WP}extent"), None)
        try:
            width = float(extent.get("cx", 0)) / EMU if extent is not None else 0.0
        except ValueError:
            width = 0.0
        alt = (properties.get("descr") or "") if properties is not None else ""
        self.source.pictures.setdefault(target, SourcePicture(posixpath.basename(target), data, alt[:500], width))
        builder.object("frame", target)

    def table(self, one: Any, builder: Builder, depth: int) -> None:
        """Rows and cells, merged across (gridSpan) and down (vMerge) (17.4)."""
        if depth > DEEPEST:
            self.source.reported["left out"] += 1
            return
        rows: list[list[SourceCell]] = []
        open_: dict[int, tuple[int, int]] = {}
        heads = 0
        for row in one.iter(f"{W}tr"):
            if next(row.iterancestors(f"{W}tbl")) is not one:
                continue
            cells: list[SourceCell] = []
            column = 0
            for cell in row.iter(f"{W}tc"):
                if next(cell.iterancestors(f"{W}tr")) is not row:
                    continue
                props = cell.find(f"{W}tcPr")
                span = _val(props, "gridSpan")
                across = min(max(int(span), 1), 200) if span.isdigit() else 1
                merge = props.find(f"{W}vMerge") if props is not None else None
                if merge is not None and merge.get(f"{W}val") != "restart" and column in open_:
                    at, number = open_[column]
                    rows[at][number] = replace(rows[at][number], down=rows[at][number].down + 1)
                else:
                    inner = Builder(self.source)
                    self.blocks(cell, inner, depth + 1)
                    cells.append(SourceCell(inner.take_paragraphs(), across))
                    open_.pop(column, None)
                    if merge is not None:
                        open_[column] = (len(rows), len(cells) - 1)
                column += across
            head = row.find(f"{W}trPr/{W}tblHeader")
            heads += bool(_on(head)) and heads == len(rows)
            rows.append(cells)
        ref = f"t{len(self.source.tables) + 1}"
        self.source.tables[ref] = SourceTable(tuple(map(tuple, rows)), heads)
        builder.object("table", ref)
        builder.end("")


def _reference(instruction: str) -> tuple[str, ReferenceForm] | None:
    """The place and the form of a cross-reference, by the instruction of its field; None for another field."""
    match = REFERENCE.match(instruction)
    if match is None:
        return None
    if match["note"]:
        return match["note"], "number"
    return match["name"], "page" if match["kind"].upper() == "PAGEREF" else "words"


def _name(one: Any) -> str:
    tag = one.tag
    return tag.rsplit("}", 1)[-1] if isinstance(tag, str) else ""


def _level(num: Any | None) -> int:
    level = _val(num, "ilvl")
    return int(level) if level.isdigit() else 0


def _apart(look: TypeSpec, style: TypeSpec, language: str) -> TypeSpec:
    """Return what a run says beyond its paragraph's style."""
    values = {
        name: getattr(look, name)
        for name in ("italic", "weight", "caps", "underline", "strike", "position", "language")
    }
    usual = {
        "italic": False,
        "weight": 400,
        "caps": "none",
        "underline": False,
        "strike": False,
        "position": "normal",
        "language": language,
    }
    return TypeSpec(
        **{
            name: value
            for name, value in values.items()
            if value is not None
            and value != (getattr(style, name) if getattr(style, name) is not None else usual[name])
        }
    )
