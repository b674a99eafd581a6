"""How even justified lines are: ours against first fit and against what others make of the same text, size and measure.

All are measured alike, from their PDFs: a line's words and where they stand come from poppler's ``pdftotext -bbox``.
The ratio r is Knuth & Plass's: gaps opened by half a space are 1, closed by a third are -1. Lines that do not
reach the right edge are last lines and are left out.
"""

from __future__ import annotations

import html
import io
import re
import subprocess
import tempfile
from dataclasses import replace
from datetime import datetime, timezone
from itertools import pairwise
from pathlib import Path

from benchmarks.measure import Row, book, paragraphs, report
from lexigon.core.document.model import Job
from lexigon.core.flow.workspace import Workspace
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from lexigon.core.type.fonts import shipped

WORD = re.compile(r'<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">([^<]*)</word>')
TEXTS = 700
"""Paragraphs compared: enough for a figure, few enough for the slowest."""
MEASURE = 5.5 * 72 - 0.8 * 72 - 0.6 * 72
SIZE = 11.0


def css() -> str:
    font = shipped().face("EB Garamond").path.as_uri()
    return (
        f"@page{{size:5.5in 8.5in;margin:.7in .6in .75in .8in}}@font-face{{font-family:B;src:url({font})}}"
        f"body{{margin:0}}p{{margin:0;font:{SIZE}pt/15pt B;text-align:justify;text-indent:15pt;hyphens:auto}}"
    )


def document(texts: list[str]) -> str:
    body = "".join(f"<p>{html.escape(text)}</p>" for text in texts)
    return f"<html lang=en-GB><meta charset=utf-8><style>{css()}</style>{body}</html>"


def by_chromium(texts: list[str], folder: Path) -> Path:
    (folder / "book.html").write_text(document(texts), "utf-8")
    subprocess.run(
        [
            "chromium",
            "--headless",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-background-networking",
            "--no-first-run",
            f"--user-data-dir={folder}/profile",
            "--no-pdf-header-footer",
            f"--print-to-pdf={folder}/chromium.pdf",
            (folder / "book.html").as_uri(),
        ],
        check=True,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    return folder / "chromium.pdf"


def by_weasyprint(texts: list[str], folder: Path) -> Path:
    from weasyprint import HTML

    HTML(string=document(texts)).write_pdf(folder / "weasyprint.pdf")
    return folder / "weasyprint.pdf"


def ours(texts: list[str], folder: Path, breaking: str) -> Path:
    job = plain_job(texts)
    body = job.paragraph_styles["body"]
    job.paragraph_styles["body"] = replace(body, para=replace(body.para, breaking=breaking, grid=False))  # type: ignore[arg-type]
    target = io.BytesIO()
    write_pdf(Workspace(job).composition, recipe("screen"), target, datetime(2026, 1, 1, tzinfo=timezone.utc))
    path = folder / f"{breaking}.pdf"
    path.write_bytes(target.getvalue())
    return path


def plain_job(texts: list[str]) -> Job:
    """The paragraphs alone, all in the body style, without heads and folios."""
    job = book()
    story = job.stories["main"]
    story.paragraphs = [
        replace(story.paragraphs[0], id=f"p{n}", style="body", text=text, spans=()) for n, text in enumerate(texts)
    ]
    master = job.masters["text"]
    job.masters["text"] = replace(
        master, recto=tuple(f for f in master.recto if f.role), verso=tuple(f for f in master.verso if f.role)
    )
    return job


def quality(path: Path) -> tuple[float, float, float, int]:
    """Mean |r|, the shares of lines with r > 1 and of those that end in a hyphen in per cent, and how many lines."""
    found = subprocess.run(["pdftotext", "-bbox", path, "-"], capture_output=True, text=True, check=True).stdout
    look = shipped().face("EB Garamond")
    space = look.advances[_glyph(look, " ")] * SIZE / look.upem
    ratios, hyphens, lines = [], 0, 0
    for page in found.split("<page ")[1:]:
        rows: dict[int, list[tuple[float, float, str]]] = {}
        for x0, y0, x1, _y1, word in WORD.findall(page):
            rows.setdefault(round(float(y0)), []).append((float(x0), float(x1), html.unescape(word)))
        right = max((max(x for _, x, _ in row) for row in rows.values()), default=0.0)
        for row in rows.values():
            row.sort()
            if len(row) < 3 or abs(row[-1][1] - right) > 1.5:
                continue
            gaps = [b[0] - a[1] for a, b in pairwise(row)]
            slack = sum(gaps) / len(gaps) - space
            ratios.append(slack / (space / 2) if slack > 0 else slack / (space / 3))
            lines += 1
            hyphens += row[-1][2].endswith(("-", "\u00ad", "‐"))
    loose = 100 * sum(r > 1 for r in ratios) / lines
    return sum(map(abs, ratios)) / lines, loose, 100 * hyphens / lines, lines


def _glyph(face: object, character: str) -> int:
    from fontTools.ttLib import TTFont

    with TTFont(face.path, lazy=True) as font:  # type: ignore[attr-defined]
        return int(font.getGlyphID(font.getBestCmap()[ord(character)]))


def main() -> list[Row]:
    texts = [text for text in paragraphs() if len(text) > 60][:TEXTS]
    rows = []
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        made = (
            ("Lexigon", ours(texts, folder, "optimum")),
            ("Lexigon, first fit", ours(texts, folder, "first fit")),
            ("Chromium", by_chromium(texts, folder)),
            ("WeasyPrint", by_weasyprint(texts, folder)),
        )
        for who, path in made:
            mean, loose, hyphens, lines = quality(path)
            note = f"{loose:.1f} % of lines r > 1, {hyphens:.1f} % hyphens, {lines:,} lines"
            rows.append(Row(f"mean |r|, {who}", mean, "", None, note))
    return rows


if __name__ == "__main__":
    report(main())
