"""The field guide as its author sent it in: the same words with three kinds of heading, straight quotation marks,
indents made of tabs, notes, corrections that are tracked, an editor's comment, a table. As an office document (ISO/IEC
29500, WordprocessingML) and as RTF.

Made anew the same each time, from the guide's own text.
"""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Literal
from xml.sax.saxutils import escape

from demo.guide import SOURCE

Kind = Literal["part", "chapter", "bold", "capitals", "section", "odd", "text", "empty", "query", "table"]
STRAIGHT = str.maketrans({"’": "'", "‘": "'", "“": '"', "”": '"', "–": "-"})
NOTES = {
    "It lies across two oil drums": (
        "The third plank, of larch. The second was borrowed by the sea in the winter gales."
    ),
    "The old pilots called it": "In the harbour books it is spelled 'slackwater', and once 'slack-watter'.",
    "From the west they are": 'The wardens say "the Gut" and mean the older one, whichever that is.',
    "Wardens talk about the weather": "See the log-book in the sluice hide, pp. 12-48.",
}
TABLE = (
    ("Station", "Opens", "Arc"),
    ("The plank", "1.5 m", "60°"),
    ("The sluice", "any", "90°"),
    ("The Comb", "2.2 m", "120°"),
)
W = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
WHEN = "2026-03-02T09:00:00Z"
BY = f'w:author="Wren Dunlin" w:date="{WHEN}"'


@dataclass(slots=True, frozen=True)
class Row:
    kind: Kind
    text: str = ""
    note: str = ""


def rows() -> Iterator[Row]:
    """The paragraphs of the manuscript, as somebody typed them."""
    chapters = sections = texts = 0
    for line in SOURCE.read_text("utf-8").splitlines():
        found = re.match(r"(#{1,3}) (.+)", line)
        words = (found[2] if found else line).translate(STRAIGHT).replace(" - ", " -- ").strip()
        if not words:
            continue
        if found and len(found[1]) == 1:
            yield Row("part", words)
        elif found and len(found[1]) == 2:
            chapters += 1
            yield Row("empty")
            kind: Kind = "bold" if chapters % 5 == 2 else "capitals" if chapters % 7 == 3 else "chapter"
            yield Row(kind, words.upper() if kind == "capitals" else words)
        elif found:
            sections += 1
            yield Row("section", words)
            if sections == 3:
                yield Row("table")
        else:
            texts += 1
            note = next((note for begins, note in NOTES.items() if begins in words), "")
            if texts % 6 == 0:
                words = words.replace(". ", ".  ", 2)
            if texts % 9 == 4:
                words = words.replace("...", ". . .").replace(", and ", " , and ", 1)
            yield Row("text", words, note)
            if texts in (14, 31):
                yield Row("query", "[Editor: is the count for the second week still right? W.D.]")
            if texts == 24:
                yield Row("odd", "* * *")


def _run(text: str, look: str = "", tag: str = "t") -> str:
    said = f"<w:rPr>{look}</w:rPr>" if look else ""
    return f'<w:r>{said}<w:{tag} xml:space="preserve">{escape(text)}</w:{tag}></w:r>' if text else ""


def _runs(text: str, look: str = "") -> str:
    """Words with ``_emphasis_``."""
    return "".join(
        _run(piece, look + ("<w:i/>" if n % 2 else "")) for n, piece in enumerate(re.split(r"_([^_]+)_", text))
    )


def _p(inner: str, style: str = "", more: str = "") -> str:
    said = (f'<w:pStyle w:val="{style}"/>' if style else "") + more
    return f"<w:p>{f'<w:pPr>{said}</w:pPr>' if said else ''}{inner}</w:p>"


def _cell(text: str) -> str:
    return f"<w:tc><w:p>{_run(text)}</w:p></w:tc>"


def docx() -> bytes:
    """The manuscript as an office document."""
    body, notes, comments = (
        [_p(_run("Birds of the Merrow Flats"), "Title"), _p(_run("by Wren Dunlin"), "Byline")],
        [],
        [],
    )
    for number, row in enumerate(rows()):
        words = row.text
        if row.kind == "empty":
            body.append(_p(""))
        elif row.kind in ("part", "chapter", "section"):
            body.append(_p(_run(words), {"part": "Heading1", "chapter": "Heading2", "section": "Heading3"}[row.kind]))
        elif row.kind == "bold":
            body.append(_p(_run(words, "<w:b/>")))
        elif row.kind in ("capitals", "odd"):
            body.append(_p(_run(words), "", '<w:jc w:val="center"/>' if row.kind == "odd" else ""))
        elif row.kind == "query":
            comments.append(f'<w:comment w:id="{len(comments)}" {BY}>{_p(_run("Ask the sluice."))}</w:comment>')
            body.append(_p(_run(words), "EditorQuery"))
        elif row.kind == "table":
            head, *rest = TABLE
            made = [f"<w:tr><w:trPr><w:tblHeader/></w:trPr>{''.join(map(_cell, head))}</w:tr>"]
            made += [f"<w:tr>{''.join(map(_cell, cells))}</w:tr>" for cells in rest]
            body.append(f"<w:tbl>{''.join(made)}</w:tbl>")
        else:
            indent = "<w:r><w:tab/></w:r>" if number % 4 == 1 else ""
            inner = _runs(words)
            if number % 11 == 5:  # a word taken out and another put in, both tracked
                first, rest_ = words.split(" ", 1)
                inner = (
                    f'<w:del w:id="{number}" {BY}>{_run("Now ", tag="delText")}</w:del><w:ins w:id="{900 + number}" '
                    f"{BY}>{_run(f'{first} ')}</w:ins>{_runs(rest_)}"
                )
            if row.note:
                notes.append(f'<w:footnote w:id="{len(notes) + 2}">{_p(_runs(row.note), "FootnoteText")}</w:footnote>')
                inner += f'<w:r><w:footnoteReference w:id="{len(notes) + 1}"/></w:r>'
            if comments and number % 40 == 0:
                inner += '<w:r><w:commentReference w:id="0"/></w:r>'
            body.append(_p(indent + inner, "BodyText" if number % 2 else ""))
    names = {
        "Title": ("Title", None),
        "Byline": ("Byline", None),
        "Heading1": ("heading 1", 0),
        "Heading2": ("heading 2", 1),
        "Heading3": ("heading 3", 2),
        "BodyText": ("Body Text", None),
        "EditorQuery": ("Query to editor", None),
        "FootnoteText": ("footnote text", None),
    }
    styles = "".join(
        f'<w:style w:type="paragraph" w:styleId="{key}"><w:name w:val="{name}"/>'
        + (f'<w:pPr><w:outlineLvl w:val="{level}"/></w:pPr>' if level is not None else "")
        + "</w:style>"
        for key, (name, level) in names.items()
    )
    files = {
        "[Content_Types].xml": (
            '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" '
            'ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" '
            'ContentType="application/xml"/><Override PartName="/word/document.xml" '
            'ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/>'
            + "".join(
                f'<Override PartName="/word/{name}.xml" '
                f'ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.{name}+xml"/>'
                for name in ("styles", "footnotes", "comments")
            )
            + "</Types>"
        ),
        "_rels/.rels": _relations(("officeDocument", "word/document.xml")),
        "word/_rels/document.xml.rels": _relations(
            ("styles", "styles.xml"), ("footnotes", "footnotes.xml"), ("comments", "comments.xml")
        ),
        "word/document.xml": f'<w:document xmlns:w="{W}"><w:body>{"".join(body)}</w:body></w:document>',
        "word/styles.xml": f'<w:styles xmlns:w="{W}">{styles}</w:styles>',
        "word/footnotes.xml": f'<w:footnotes xmlns:w="{W}">{"".join(notes)}</w:footnotes>',
        "word/comments.xml": f'<w:comments xmlns:w="{W}">{"".join(comments)}</w:comments>',
    }
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in files.items():
            entry = zipfile.ZipInfo(name, (2026, 3, 2, 9, 0, 0))
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, f'<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n{text}')
    return target.getvalue()


def _relations(*targets: tuple[str, str]) -> str:
    kind = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
    rows_ = (
        f'<Relationship Id="r{n}" Type="{kind}/{name}" Target="{target}"/>' for n, (name, target) in enumerate(targets)
    )
    return (
        "<Relationships "
        f'xmlns="http://schemas.openxmlformats.org/package/2006/relationships">{"".join(rows_)}</Relationships>'
    )


def _coded(text: str) -> str:
    """Words for RTF: what is no ASCII as ``\\u`` with a question mark for readers that know none."""
    made = re.sub(r"[\\{}]", lambda match: f"\\{match[0]}", text)
    made = re.sub(r"_([^_]+)_", r"{\\i \1}", made)
    return "".join(sign if ord(sign) < 128 else f"\\u{ord(sign)}?" for sign in made)


def rtf() -> bytes:
    """The manuscript as RTF, with the styles' names in its style sheet."""
    sheet = (
        r"{\stylesheet{\s0 Normal;}{\s1\outlinelevel0 heading 1;}{\s2\outlinelevel1 heading 2;}{\s3\outlinelevel2 "
        r"heading 3;}{\s4 Title;}{\s5 Byline;}{\s6 Query to editor;}}"
    )
    styles = {
        "part": r"\s1\outlinelevel0",
        "chapter": r"\s2\outlinelevel1",
        "section": r"\s3\outlinelevel2",
        "query": r"\s6",
    }
    out = [
        r"{\rtf1\ansi\ansicpg1252\uc1" + sheet,
        r"\pard\plain\s4 Birds of the Merrow Flats\par",
        r"\pard\plain\s5 by Wren Dunlin\par",
    ]
    for number, row in enumerate(rows()):
        words = _coded(row.text)
        if row.kind == "bold":
            words = f"{{\\b {words}}}"
        if row.kind == "table":
            for cells in TABLE:
                edges = "".join(f"\\cellx{2000 * (n + 1)}" for n in range(len(cells)))
                out.append(
                    rf"\trowd{edges}\pard\intbl " + "".join(f"{_coded(cell)}\\cell " for cell in cells) + r"\row"
                )
            continue
        if row.note:
            words += rf"{{\super\chftn}}{{\footnote\pard\plain {_coded(row.note)}}}"
        if row.kind == "text" and number % 11 == 5:
            words = rf"{{\deleted Now }}{words}"
        indent = r"\tab " if row.kind == "text" and number % 4 == 1 else ""
        out.append(rf"\pard\plain{styles.get(row.kind, '')} {indent}{words}\par")
    return ("\n".join(out) + "\n}").encode("ascii")


SAMPLES = {"Birds of the Merrow Flats, as it came in.docx": docx, "Birds of the Merrow Flats, as it came in.rtf": rtf}


def write_samples(folder: Path) -> None:
    """Put the sample manuscripts where the app offers them."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, made in SAMPLES.items():
        (folder / name).write_bytes(made())
