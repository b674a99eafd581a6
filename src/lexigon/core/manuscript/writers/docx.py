"""Copy as an office document (ISO/IEC 29500-1, WordprocessingML): the job's styles by name, notes, tables, pictures,
lists."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable
from xml.sax.saxutils import escape, quoteattr

from PIL import Image

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import OBJECT, Anchor, Job, Paragraph, TypeSpec
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.manuscript.readers.docx import EMU
from lexigon.core.manuscript.source import Source, SourceParagraph, SourceTable
from lexigon.core.manuscript.writers.outgoing import BOLD, pieces

W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
R = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
A = "http://schemas.openxmlformats.org/drawingml/2006/main"
PIC = "http://schemas.openxmlformats.org/drawingml/2006/picture"
WP = "http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing"
PACKAGE = "http://schemas.openxmlformats.org/package/2006"
KIND = "application/vnd.openxmlformats-officedocument.wordprocessingml"
NAMES = f'xmlns:w="{W}" xmlns:r="{R}" xmlns:a="{A}" xmlns:pic="{PIC}" xmlns:wp="{WP}"'
ALIGN = {"centre": "center", "right": "right", "justify": "both"}
LEVELS = 9
WHEN = (1980, 1, 1, 0, 0, 0)
"""Of every part, so that the same copy makes the same bytes."""
PICTURES = {".png": "image/png", ".jpg": "image/jpeg", ".tif": "image/tiff"}
NOTE_STYLE = "lexigonnotenumber"
NOTES = ("footnote", "endnote")
FIELDS = {"page": "PAGEREF", "words": "REF", "number": "NOTEREF"}


def write_docx(source: Source, job: Job) -> bytes:
    """``source`` is a copy of the job's stories (``outgoing``); its styles have roughly the same formatting there."""
    return _Docx(source, job).written()


class _Docx:
    def __init__(self, source: Source, job: Job) -> None:
        self.source, self.job = source, job
        self.ids = {style.name: f"s{number}" for number, style in enumerate(job.paragraph_styles.values())}
        self.notes: dict[str, dict[str, int]] = {kind: {} for kind in NOTES}
        """Of each kind the numbers of those that are cited."""
        self.media: dict[str, bytes] = {}
        self.links: dict[str, int] = {}
        self.places = 0
        self.lists: list[bool] = []
        """Of each list whether it counts."""
        self._list: tuple[bool, int] | None = None

    def written(self) -> bytes:
        body = "".join(self._paragraph(p) for p in self.source.paragraphs)
        notes = self._notes()
        led = [(f"a{number}", "hyperlink", link) for link, number in self.links.items()]
        relationships = [*((f"m{number}", "image", f"media/{name}") for number, name in enumerate(self.media, 1)), *led]
        files: dict[str, bytes] = {
            "[Content_Types].xml": _xml(self._types()),
            "_rels/.rels": _xml(_relations([("r1", "officeDocument", "word/document.xml")])),
            "word/_rels/document.xml.rels": _xml(
                _relations(
                    [
                        ("r1", "styles", "styles.xml"),
                        ("r2", "footnotes", "footnotes.xml"),
                        ("r3", "numbering", "numbering.xml"),
                        ("r4", "endnotes", "endnotes.xml"),
                        *relationships,
                    ]
                )
            ),
            "word/_rels/footnotes.xml.rels": _xml(_relations(relationships)),
            "word/_rels/endnotes.xml.rels": _xml(_relations(relationships)),
            "word/document.xml": _xml(f"<w:document {NAMES}><w:body>{body}<w:sectPr/></w:body></w:document>"),
            "word/styles.xml": _xml(self._styles()),
            **{
                f"word/{kind}s.xml": _xml(f"<w:{kind}s {NAMES}>{content}</w:{kind}s>")
                for kind, content in notes.items()
            },
            "word/numbering.xml": _xml(self._numbering()),
            **{f"word/media/{name}": data for name, data in self.media.items()},
        }
        target = io.BytesIO()
        with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
            for name, data in files.items():
                entry = zipfile.ZipInfo(name, WHEN)
                entry.compress_type = zipfile.ZIP_DEFLATED
                archive.writestr(entry, data)
        return target.getvalue()

    # Paragraphs

    def _paragraph(self, p: SourceParagraph) -> str:
        objects = [span.object for span in p.spans if span.object]
        if len(p.text) == 1 and objects and objects[0].kind == "table":
            return self._table(self.source.tables[objects[0].ref])
        properties = f'<w:pStyle w:val="{self.ids[p.style]}"/>' if p.style in self.ids else ""
        properties += "<w:pageBreakBefore/>" if p.starts_page else ""
        properties += self._listed(p)
        properties += f'<w:jc w:val="{ALIGN[p.align]}"/>' if p.align in ALIGN else ""
        runs = "".join(
            self._object(anchor) if anchor else self._led(_run(text, look), link)
            for text, look, anchor, link in pieces(p)
        )
        for name in p.names:
            runs = self._marked(name, runs)
        return f"<w:p>{f'<w:pPr>{properties}</w:pPr>' if properties else ''}{runs}</w:p>"

    def _marked(self, name: str, runs: str) -> str:
        """Runs within a bookmark."""
        self.places += 1
        return (
            f'<w:bookmarkStart w:id="{self.places}" w:name={quoteattr(name)}/>{runs}<w:bookmarkEnd '
            f'w:id="{self.places}"/>'
        )

    def _led(self, run: str, link: str) -> str:
        """A run that leads to an address, by a relationship of the part it is in, or to a place of the text."""
        if not link or not run:
            return run
        if link.startswith("#"):
            return f"<w:hyperlink w:anchor={quoteattr(link[1:])}>{run}</w:hyperlink>"
        number = self.links.setdefault(link, len(self.links) + 1)
        return f'<w:hyperlink r:id="a{number}">{run}</w:hyperlink>'

    def _listed(self, p: SourceParagraph) -> str:
        if p.listed is None:
            self._list = None
            return ""
        if (
            self._list is None
            or (p.listed.first and p.listed.level == 1)
            or (self._list[0] != p.listed.ordered and p.listed.level == 1)
        ):
            self.lists.append(p.listed.ordered)
            self._list = p.listed.ordered, len(self.lists)
        return (
            f'<w:numPr><w:ilvl w:val="{min(p.listed.level, LEVELS) - 1}"/><w:numId w:val="{self._list[1]}"/></w:numPr>'
        )

    def _object(self, anchor: Anchor) -> str:
        if anchor.kind == "note":
            kind = self.source.notes[anchor.ref].kind
            number = self.notes[kind].setdefault(anchor.ref, len(self.notes[kind]) + 1)
            mark = f'<w:r><w:rPr><w:rStyle w:val="{NOTE_STYLE}"/></w:rPr><w:{kind}Reference w:id="{number}"/></w:r>'
            return self._marked(f"_{anchor.ref}", mark) if anchor.ref in self.source.noted else mark
        if anchor.kind == "frame":
            return self._picture(anchor.ref)
        reference = self.source.references.get(f"{anchor.ref} {anchor.form}") if anchor.kind == "reference" else None
        if reference is not None:
            name = f"_{reference.name}" if reference.name in self.source.noted else reference.name
            instruction = quoteattr(f" {FIELDS[reference.form]} {name} \\h ")
            return f"<w:fldSimple w:instr={instruction}>{_run(reference.shown, TypeSpec())}</w:fldSimple>"
        return ""

    def _notes(self) -> dict[str, str]:
        """Notes of each kind in the order of their numbers; a note that cites another adds to them."""
        xml_parts = {
            kind: [
                f'<w:{kind} w:type="separator" w:id="-1"><w:p><w:r><w:separator/></w:r></w:p></w:{kind}><w:{kind} '
                f'w:type="continuationSeparator" w:id="0"><w:p><w:r><w:continuationSeparator/></w:r></w:p></w:{kind}>'
            ]
            for kind in NOTES
        }
        while left := [kind for kind in NOTES if len(xml_parts[kind]) <= len(self.notes[kind])]:
            kind = left[0]
            done = len(xml_parts[kind])
            key = list(self.notes[kind])[done - 1]
            sign = (
                f'<w:r><w:rPr><w:rStyle w:val="{NOTE_STYLE}"/></w:rPr><w:{kind}Ref/></w:r><w:r><w:t '
                'xml:space="preserve"> </w:t></w:r>'
            )
            inner = "".join(self._paragraph(p) for p in self.source.notes[key].paragraphs) or "<w:p></w:p>"
            at = inner.index("</w:pPr>") + 8 if inner.startswith("<w:p><w:pPr>") else 5
            xml_parts[kind].append(f'<w:{kind} w:id="{done}">{inner[:at]}{sign}{inner[at:]}</w:{kind}>')
        return {kind: "".join(parts) for kind, parts in xml_parts.items()}

    def _picture(self, ref: str) -> str:
        picture = self.source.pictures[ref]
        data, name = picture.data, picture.name
        suffix = next((one for one in PICTURES if name.endswith(one)), "")
        try:
            with Image.open(io.BytesIO(data)) as opened:
                size = opened.size
                if not suffix:  # a form that office documents do not know
                    target = io.BytesIO()
                    opened.convert("RGBA").save(target, "PNG")
                    data, suffix = target.getvalue(), ".png"
        except (OSError, ValueError):
            return _run(f"[{picture.alt or name}]", TypeSpec())
        key = next(
            (one for one, stored in self.media.items() if stored == data), f"picture{len(self.media) + 1}{suffix}"
        )
        self.media[key] = data
        wide = (picture.width or 300.0) * EMU
        high = wide * size[1] / max(size[0], 1)
        number = list(self.media).index(key) + 1
        box = f'cx="{wide:.0f}" cy="{high:.0f}"'
        return (
            f'<w:r><w:drawing><wp:inline><wp:extent {box}/><wp:docPr id="{number}" name={quoteattr(name)} '
            f"descr={quoteattr(picture.alt)}/>"
            f'<a:graphic><a:graphicData uri="{PIC}"><pic:pic><pic:nvPicPr><pic:cNvPr id="{number}" '
            f"name={quoteattr(name)}/><pic:cNvPicPr/></pic:nvPicPr>"
            f'<pic:blipFill><a:blip r:embed="m{number}"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill>'
            f'<pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext {box}/></a:xfrm><a:prstGeom '
            'prst="rect"><a:avLst/></a:prstGeom></pic:spPr>'
            "</pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing></w:r>"
        )

    def _table(self, table: SourceTable) -> str:
        """Cells over several columns are ``gridSpan``, over several rows ``vMerge`` (17.4)."""
        width = max((sum(cell.across for cell in row) for row in table.rows), default=0)
        rows: list[str] = []
        below: dict[int, tuple[int, int]] = {}
        for number, row in enumerate(table.rows):
            cells, column, waiting = [], 0, list(row)
            while column < width:
                if column in below:
                    left, across = below.pop(column)
                    if left > 1:
                        below[column] = (left - 1, across)
                    cells.append(_cell("<w:p/>", across, "<w:vMerge/>"))
                    column += across
                    continue
                if not waiting:
                    break
                cell = waiting.pop(0)
                if cell.down > 1:
                    below[column] = (cell.down - 1, cell.across)
                inner = "".join(self._paragraph(p) for p in cell.paragraphs) or "<w:p/>"
                cells.append(
                    _cell(
                        inner + ("<w:p/>" if inner.endswith("</w:tbl>") else ""),
                        cell.across,
                        '<w:vMerge w:val="restart"/>' if cell.down > 1 else "",
                    )
                )
                column += cell.across
            head = "<w:trPr><w:tblHeader/></w:trPr>" if number < table.heads else ""
            rows.append(f"<w:tr>{head}{''.join(cells)}</w:tr>")
        edges = "".join(
            f'<w:{side} w:val="single" w:sz="4" w:space="0" w:color="auto"/>'
            for side in ("top", "left", "bottom", "right", "insideH", "insideV")
        )
        grid = f'<w:gridCol w:w="{9000 // max(width, 1)}"/>' * width
        return (
            f'<w:tbl><w:tblPr><w:tblW w:w="0" w:type="auto"/><w:tblBorders>{edges}</w:tblBorders></w:tblPr>'
            f"<w:tblGrid>{grid}</w:tblGrid>{''.join(rows)}</w:tbl>"
        )

    # Parts beside the text

    def _styles(self) -> str:
        cascade = Cascade(self.job)
        xml = []
        for style in {style.name: style for style in self.job.paragraph_styles.values()}.values():
            probe = Paragraph("", style.id)
            look, setting = cascade.type_of(probe), cascade.setting(probe)
            level = f'<w:outlineLvl w:val="{style.level - 1}"/>' if style.level else ""
            based = f'<w:basedOn w:val="Heading{style.level}"/>' if style.level else ""
            align = f'<w:jc w:val="{ALIGN[setting.align]}"/>' if setting.align in ALIGN else ""
            properties = (
                ("<w:b/>" if look.weight >= BOLD else "")
                + ("<w:i/>" if look.italic else "")
                + ("<w:smallCaps/>" if look.caps == "small" else "")
            )
            default = ' w:default="1"' if style.id == self.job.body else ""
            family = quoteattr(look.family)
            xml.append(
                f'<w:style w:type="paragraph" w:styleId="{self.ids[style.name]}"{default}>'
                f"<w:name w:val={quoteattr(style.name)}/>{based}<w:pPr>{align}{level}</w:pPr>"
                f"<w:rPr><w:rFonts w:ascii={family} w:hAnsi={family}/>{properties}"
                f'<w:sz w:val="{round(2 * look.size)}"/></w:rPr></w:style>'
            )
        note = (
            f'<w:style w:type="character" w:styleId="{NOTE_STYLE}"><w:name w:val="footnote '
            'reference"/><w:rPr><w:vertAlign w:val="superscript"/></w:rPr></w:style>'
        )
        language = (
            "<w:docDefaults><w:rPrDefault><w:rPr><w:lang "
            f"w:val={quoteattr(self.job.brief.language)}/></w:rPr></w:rPrDefault></w:docDefaults>"
        )
        heads = "".join(  # those of every word processor, by which other programs know a heading
            f'<w:style w:type="paragraph" w:styleId="Heading{level}"><w:name w:val="heading '
            f'{level}"/><w:pPr><w:outlineLvl w:val="{level - 1}"/></w:pPr></w:style>'
            for level in sorted(
                {style.level for style in self.job.paragraph_styles.values() if 0 < style.level <= LEVELS}
            )
        )
        return f"<w:styles {NAMES}>{language}{heads}{''.join(xml)}{note}</w:styles>"

    def _numbering(self) -> str:
        abstract, nums = [], []
        for ordered in (False, True):
            form, sign = ("decimal", "%{n}.") if ordered else ("bullet", "•")
            levels = "".join(
                f'<w:lvl w:ilvl="{n}"><w:start w:val="1"/><w:numFmt w:val="{form}"/><w:lvlText '
                f'w:val="{sign.replace("{n}", str(n + 1))}"/><w:pPr><w:ind w:left="{360 * (n + 1)}" '
                'w:hanging="360"/></w:pPr></w:lvl>'
                for n in range(LEVELS)
            )
            abstract.append(f'<w:abstractNum w:abstractNumId="{int(ordered)}">{levels}</w:abstractNum>')
        for number, ordered in enumerate(self.lists, 1):
            again = '<w:lvlOverride w:ilvl="0"><w:startOverride w:val="1"/></w:lvlOverride>' if ordered else ""
            nums.append(f'<w:num w:numId="{number}"><w:abstractNumId w:val="{int(ordered)}"/>{again}</w:num>')
        return f"<w:numbering {NAMES}>{''.join(abstract)}{''.join(nums)}</w:numbering>"

    def _types(self) -> str:
        parts = (
            ("document", "document.main"),
            ("styles", "styles"),
            ("footnotes", "footnotes"),
            ("endnotes", "endnotes"),
            ("numbering", "numbering"),
        )
        xml = "".join(
            f'<Override PartName="/word/{name}.xml" ContentType="{KIND}.{kind}+xml"/>' for name, kind in parts
        )
        pictures = "".join(
            f'<Default Extension="{suffix[1:]}" ContentType="{kind}"/>' for suffix, kind in PICTURES.items()
        )
        return (
            f'<Types xmlns="{PACKAGE}/content-types"><Default Extension="rels" '
            'ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" '
            f'ContentType="application/xml"/>{pictures}{xml}</Types>'
        )


def _xml(text: str) -> bytes:
    return f'<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n{text}'.encode()


OUTSIDE = ' TargetMode="External"'


def _relations(targets: Iterable[tuple[str, str, str]]) -> str:
    xml = "".join(
        f'<Relationship Id="{key}" Type="{R}/{kind}" '
        f"Target={quoteattr(target)}{OUTSIDE if kind == 'hyperlink' else ''}/>"
        for key, kind, target in targets
    )
    return f'<Relationships xmlns="{PACKAGE}/relationships">{xml}</Relationships>'


def _cell(inner: str, across: int, merge: str) -> str:
    span = f'<w:gridSpan w:val="{across}"/>' if across > 1 else ""
    return f"<w:tc><w:tcPr>{span}{merge}</w:tcPr>{inner}</w:tc>"


BREAKS = {LINE_BREAK: "<w:br/>", "\t": "<w:tab/>", "\u00ad": "<w:softHyphen/>", "\u2011": "<w:noBreakHyphen/>"}


def _run(text: str, look: TypeSpec) -> str:
    properties = ""
    if look.italic is not None:
        properties += "<w:i/>" if look.italic else '<w:i w:val="0"/>'
    if look.weight is not None:
        properties = ("<w:b/>" if look.weight >= BOLD else '<w:b w:val="0"/>') + properties
    if look.caps in ("small", "upper"):
        properties += "<w:smallCaps/>" if look.caps == "small" else "<w:caps/>"
    if look.strike is not None:
        properties += "<w:strike/>" if look.strike else '<w:strike w:val="0"/>'
    if look.underline is not None:
        properties += f'<w:u w:val="{"single" if look.underline else "none"}"/>'
    if look.position in ("superior", "inferior"):
        properties += f'<w:vertAlign w:val="{"superscript" if look.position == "superior" else "subscript"}"/>'
    if look.language:
        properties += f"<w:lang w:val={quoteattr(look.language)}/>"
    inner, piece = "", ""
    for sign in text.replace(OBJECT, ""):
        if sign in BREAKS:
            inner += _words(piece) + BREAKS[sign]
            piece = ""
        else:
            piece += sign
    inner += _words(piece)
    return f"<w:r>{f'<w:rPr>{properties}</w:rPr>' if properties else ''}{inner}</w:r>" if inner else ""


def _words(text: str) -> str:
    return f'<w:t xml:space="preserve">{escape(text)}</w:t>' if text else ""
