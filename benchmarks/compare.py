"""The same text, size and measure through general libraries, for the ratio: ReportLab, and Chromium's print.

Each makes a whole PDF of the whole text with the same font; ours composes from cold and presses.
"""

from __future__ import annotations

import html
import io
import resource
import subprocess
import tempfile
from datetime import datetime, timezone
from pathlib import Path

from benchmarks.measure import Row, book, cpu, paragraphs, report
from lexigon.core.flow.workspace import Workspace
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from lexigon.core.type.fonts import shipped
from tests.browser.conftest import CHROMIUM


def ours() -> None:
    write_pdf(Workspace(book()).composition, recipe("print"), io.BytesIO(), datetime(2026, 1, 1, tzinfo=timezone.utc))


def reportlab() -> None:
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont
    from reportlab.platypus import Paragraph, SimpleDocTemplate

    pdfmetrics.registerFont(TTFont("Body", str(shipped().face("EB Garamond").path)))
    style = ParagraphStyle("body", fontName="Body", fontSize=11, leading=15, firstLineIndent=15, alignment=4)
    document = SimpleDocTemplate(
        io.BytesIO(), pagesize=(396, 612), leftMargin=57.6, rightMargin=43.2, topMargin=50.4, bottomMargin=54
    )
    document.build([Paragraph(html.escape(text), style) for text in paragraphs()])


def chromium_print() -> float:
    """Processor time of Chromium and its children, hyphenation and justification on."""
    font = shipped().face("EB Garamond").path.as_uri()
    body = "".join(f"<p>{html.escape(text)}</p>" for text in paragraphs())
    page = (
        f"<html lang=en-GB><meta charset=utf-8><style>@page{{size:5.5in 8.5in;margin:.7in .6in .75in .8in}}"
        f"@font-face{{font-family:B;src:url({font})}}p{{margin:0;font:11pt/15pt B;text-align:justify;"
        f"text-indent:15pt;hyphens:auto}}</style>{body}"
    )
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "book.html"
        source.write_text(page, "utf-8")
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        subprocess.run(
            [
                CHROMIUM or "",
                "--headless",
                "--no-sandbox",
                "--disable-gpu",
                "--disable-background-networking",
                "--no-first-run",
                f"--user-data-dir={folder}/profile",
                "--no-pdf-header-footer",
                f"--print-to-pdf={folder}/book.pdf",
                source.as_uri(),
            ],
            check=True,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def main() -> list[Row]:
    own = cpu(ours)
    other = cpu(reportlab)
    rows = [
        Row("whole document, Lexigon", own, "s CPU", None, "cold compose and PDF/X-4"),
        Row(
            "whole document, ReportLab",
            other,
            "s CPU",
            None,
            f"{other / own:.1f} x ours; first fit, no hyphens, no keeps",
        ),
    ]
    if CHROMIUM:
        printed = chromium_print()
        rows.append(Row("whole document, Chromium print", printed, "s CPU", None, f"{printed / own:.1f} x ours"))
    return rows


if __name__ == "__main__":
    report(main())
