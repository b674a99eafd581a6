"""Copy as one HTML file that needs nothing beside it: styles as ``data-style``, notes after DPUB-ARIA 1.0, pictures
within."""

from __future__ import annotations

from base64 import b64encode
from html import escape

from lexigon.core.document.model import OBJECT, Anchor, TypeSpec
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.manuscript.source import Source, SourceParagraph, SourceTable
from lexigon.core.manuscript.writers.outgoing import numbered, pieces

KINDS = {".png": "png", ".jpg": "jpeg", ".webp": "webp", ".tif": "tiff"}
STYLE = (
    "body{max-width:38em;margin:3em auto;padding:0 1em;font:1.05em/1.5 "
    "serif}table{border-collapse:collapse}td,th{border:1px solid #999;padding:.2em "
    ".6em;text-align:left}img{max-width:100%}"
)


def write_html(source: Source, title: str = "", language: str = "en") -> str:
    return _Html(source).written(title, language)


class _Html:
    def __init__(self, source: Source) -> None:
        self.source = source
        self.numbers = numbered(source, source.paragraphs)

    def written(self, title: str, language: str) -> str:
        notes = "".join(
            f'<li id="note-{number}" '
            f'role="doc-footnote">{"".join(map(self._block, self.source.notes[key].paragraphs))}</li>'
            for key, number in self.numbers.items()
        )
        foot = f'<section role="doc-endnotes"><ol>{notes}</ol></section>' if notes else ""
        return (
            f'<!DOCTYPE html>\n<html lang="{escape(language)}"><head><meta '
            f'charset="utf-8"><title>{escape(title)}</title><style>{STYLE}</style></head>\n'
            f"<body>\n{self._blocks(self.source.paragraphs)}\n{foot}\n</body></html>\n"
        )

    def _blocks(self, paragraphs: list[SourceParagraph]) -> str:
        """Paragraphs with the lists that they make: one opened for each level, closed where it ends."""
        out: list[str] = []
        open_: list[str] = []

        def down_to(level: int) -> None:
            while len(open_) > level:
                out.append(f"</li></{open_.pop()}>")

        for p in paragraphs:
            if p.listed is None:
                down_to(0)
                out.append(self._block(p))
                continue
            tag = "ol" if p.listed.ordered else "ul"
            down_to(p.listed.level)
            if len(open_) == p.listed.level and (open_[-1] != tag or p.listed.first):
                down_to(p.listed.level - 1)
            if len(open_) == p.listed.level:
                out.append("</li>")
            while len(open_) < p.listed.level:
                if open_ and len(open_) + 1 <= p.listed.level and out[-1].startswith(("<ul", "<ol")):
                    out.append("<li>")
                open_.append(tag)
                out.append(f"<{tag}>")
            out.append(f'<li data-style="{escape(p.style)}">{self._inline(p)}')
        down_to(0)
        return "\n".join(out)

    def _block(self, p: SourceParagraph) -> str:
        objects = [span.object for span in p.spans if span.object]
        if len(p.text) == 1 and objects and objects[0].kind == "table":
            return self._table(self.source.tables[objects[0].ref])
        tag = f"h{min(p.level, 6)}" if p.level else "p"
        align = {"centre": "center", "right": "right"}.get(p.align, "")
        attributes = f' style="text-align: {align}"' if align else ""
        named = f' id="{escape(p.names[0])}"' if p.names else ""
        return f'<{tag}{named} data-style="{escape(p.style)}"{attributes}>{self._inline(p)}</{tag}>'

    def _inline(self, p: SourceParagraph) -> str:
        return "".join(
            self._object(anchor) if anchor else _led(_looked(text, look), link)
            for text, look, anchor, link in pieces(p)
        )

    def _object(self, anchor: Anchor) -> str:
        if anchor.kind == "note":
            number = self.numbers[anchor.ref]
            return f'<a role="doc-noteref" href="#note-{number}"><sup>{number}</sup></a>'
        if anchor.kind == "frame":
            picture = self.source.pictures[anchor.ref]
            kind = next((kind for suffix, kind in KINDS.items() if picture.name.endswith(suffix)), "")
            if not kind:
                return f"[{escape(picture.alt or picture.name)}]"
            width = f' width="{picture.width * 4 / 3:.0f}"' if picture.width else ""
            return (
                f'<img alt="{escape(picture.alt)}"{width} '
                f'src="data:image/{kind};base64,{b64encode(picture.data).decode()}">'
            )
        if anchor.kind == "reference":
            led = self.source.references[f"{anchor.ref} {anchor.form}"]
            place = f"note-{self.numbers[led.name]}" if led.name in self.numbers else led.name
            return f'<a href="#{escape(place)}" data-reference="{led.form}">{escape(led.shown)}</a>'
        return self._table(self.source.tables[anchor.ref])

    def _table(self, table: SourceTable) -> str:
        rows = []
        for number, row in enumerate(table.rows):
            tag = "th" if number < table.heads else "td"
            cells = "".join(
                f"<{tag}{_count('colspan', cell.across)}{_count('rowspan', cell.down)}>"
                f"{''.join(map(self._block, cell.paragraphs))}</{tag}>"
                for cell in row
            )
            rows.append(f"<tr>{cells}</tr>")
        head = f"<thead>{''.join(rows[: table.heads])}</thead>" if table.heads else ""
        return f"<table>{head}<tbody>{''.join(rows[table.heads :])}</tbody></table>"


def _led(html: str, link: str) -> str:
    return f'<a href="{escape(link)}">{html}</a>' if link else html


def _count(name: str, value: int) -> str:
    return f' {name}="{value}"' if value > 1 else ""


def _looked(text: str, look: TypeSpec) -> str:
    html = escape(text.replace(OBJECT, ""), quote=False).replace(LINE_BREAK, "<br>").replace("\t", "&#9;")
    tags = [
        ("em", look.italic is True),
        ("strong", (look.weight or 0) >= 600),
        ("sup", look.position == "superior"),
        ("sub", look.position == "inferior"),
        ("u", look.underline is True),
        ("s", look.strike is True),
    ]
    for tag, on in tags:
        html = f"<{tag}>{html}</{tag}>" if on else html
    styles = [
        "font-style: normal" if look.italic is False else "",
        "font-weight: normal" if look.weight is not None and look.weight < 600 else "",
        "font-variant: small-caps" if look.caps == "small" else "",
    ]
    style = "; ".join(filter(None, styles))
    attributes = (f' style="{style}"' if style else "") + (f' lang="{escape(look.language)}"' if look.language else "")
    return f"<span{attributes}>{html}</span>" if attributes else html
