"""A text to PDF with ReportLab, as a process that imports nothing else.

``python -m benchmarks.reportlab_book TEXT FONT OUTPUT``; TEXT is a JSON list of paragraphs.
"""

import html
import json
import sys

from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Paragraph, SimpleDocTemplate

if __name__ == "__main__":
    text, font, output = sys.argv[1:]
    pdfmetrics.registerFont(TTFont("Body", font))
    style = ParagraphStyle("body", fontName="Body", fontSize=11, leading=15, firstLineIndent=15, alignment=4)
    document = SimpleDocTemplate(
        output, pagesize=(396, 612), leftMargin=57.6, rightMargin=43.2, topMargin=50.4, bottomMargin=54
    )
    with open(text, encoding="utf-8") as stream:
        document.build([Paragraph(html.escape(paragraph), style) for paragraph in json.load(stream)])
