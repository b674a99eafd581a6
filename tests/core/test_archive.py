"""PDF/A-1b (ISO 19005-1): files to keep, held against PDFBox's preflight (Debian's libpdfbox2-java)."""

from __future__ import annotations

import io
import shutil
import subprocess
from pathlib import Path

import pikepdf
import pytest

from lexigon.core.document.model import Paragraph, Span
from lexigon.core.editing import intents as do
from lexigon.core.flow.workspace import Workspace
from lexigon.core.press.facts import pdf_facts
from tests.core.helpers import book
from tests.core.test_flattening import mixed_page
from tests.core.test_pictures import pdf

JARS = [
    Path("/usr/share/java") / f"{name}.jar"
    for name in (
        "preflight",
        "pdfbox2",
        "fontbox2",
        "xmpbox",
        "commons-logging",
        "commons-io",
        "javax.activation",
        "jaxb-api",
    )
]
pytestmark = pytest.mark.skipif(
    not (shutil.which("java") and all(jar.exists() for jar in JARS)), reason="Debian's libpdfbox2-java is not installed"
)


def preflight(*files: Path) -> str:
    """What the validator says of each: that it is valid, or what is against it."""
    path = ":".join(map(str, JARS))
    return "".join(
        subprocess.run(
            ["java", "-XX:TieredStopAtLevel=1", "-cp", path, "org.apache.pdfbox.preflight.Validator_A1b", file],
            check=False,
            capture_output=True,
            text=True,
        ).stdout
        for file in files
    )


def test_what_is_kept_is_valid_by_a_validator(tmp_path: Path) -> None:
    """A page of everything that is mixed, spot inks and a cut-out picture; a poured text in two cuts with a
    bookmark."""
    kept, text = tmp_path / "mixed.pdf", tmp_path / "text.pdf"
    kept.write_bytes(pdf(mixed_page(tmp_path), "archive"))
    workspace = Workspace(book())
    words = (
        Paragraph("pa", "chapter", "Ebb"),
        Paragraph("pb", "body", "Of flats nobody was told.", (Span(3, 8, style="emphasis"),)),
    )
    workspace.do(do.PourText(workspace.job.main_story, words))
    text.write_bytes(pdf(workspace, "archive"))
    assert pdf_facts(text)["bookmarks"] == [(1, "Ebb")]
    said = preflight(kept, text)
    assert "mixed.pdf is a valid PDF/A-1b file" in said, said
    assert "text.pdf is a valid PDF/A-1b file" in said, said
    facts = pdf_facts(kept)
    assert (facts["conforms"], facts["findings"]) == ("PDF/A-1b", [])


def test_what_is_against_it_is_found_by_both(tmp_path: Path) -> None:
    older, faint = tmp_path / "older.pdf", tmp_path / "faint.pdf"
    workspace = mixed_page(tmp_path)
    older.write_bytes(pdf(workspace, "older"))
    with pikepdf.open(io.BytesIO(pdf(workspace, "archive"))) as made:
        made.pages[0].Resources.ExtGState["/GK"]["/ca"] = 0.5
        del made.Root["/OutputIntents"]
        made.save(faint)
    said = preflight(older, faint)
    assert "older.pdf is not a valid PDF" in said, said
    assert "faint.pdf is not a valid PDF" in said, said
    findings = pdf_facts(faint)["findings"]
    assert "Something in it is transparent." in findings
    assert "There must be one output intent with its profile." in findings
