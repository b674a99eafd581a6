"""Files joined to one, as other programs read it: qpdf's library, poppler and pdfium."""

from __future__ import annotations

import io
import subprocess
from datetime import datetime, timezone
from pathlib import Path

import pikepdf
import pypdfium2 as pdfium
import pytest

from lexigon.core.document.model import Job
from lexigon.core.flow.workspace import Workspace
from lexigon.core.merge.merger import Merger
from lexigon.core.merge.output import chunks_of, write_merged
from lexigon.core.press.document import OutputStopped, write_pdf
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.joining import Source, join
from lexigon.core.press.recipes import recipe
from tests.core.helpers import poured
from tests.core.test_merge import Find, cards, find, job, merger_of  # noqa: F401

WHEN = datetime(2026, 5, 4, tzinfo=timezone.utc)
RECORDS = range(24)


def merged(merger: Merger, name: str, path: Path, per_chunk: int) -> Path:
    with path.open("wb") as stream:
        write_merged(merger, RECORDS, recipe(name), stream, WHEN, per_chunk=per_chunk)
    return path


def text_of(path: Path) -> str:
    return subprocess.run(["pdftotext", "-layout", path, "-"], check=True, capture_output=True, text=True).stdout


@pytest.mark.parametrize("name", ["print", "older", "archive", "screen"])
def test_chunks_give_the_pages_of_one_file(name: str, job: Job, find: Find, tmp_path: Path) -> None:  # noqa: F811
    merger = merger_of(job, find)
    whole = merged(merger, name, tmp_path / "whole.pdf", 1000)
    joined = merged(merger, name, tmp_path / "joined.pdf", 10)
    assert text_of(joined) == text_of(whole)
    with pikepdf.open(joined) as one, pikepdf.open(whole) as other:
        assert not one.check_pdf_syntax()
        assert [page.label for page in one.pages] == [page.label for page in other.pages]
        assert one.Root.keys() == other.Root.keys()
        boxes = [[[float(n) for n in page.trimbox] for page in pdf.pages] for pdf in (one, other)]
        assert boxes[0] == boxes[1]
    facts, expected = pdf_facts(joined), pdf_facts(whole)
    for own in (facts, expected):
        own["bookmarks"] = [title for _, title in own["bookmarks"] if "–" not in title]
    assert {key for key in facts if facts[key] != expected[key]} <= {"file", "bytes"}
    for index in (0, 21, 47):  # of the first chunk, of the second, and the last page
        images = [pdfium.PdfDocument(path)[index].render().to_pil().tobytes() for path in (joined, whole)]
        assert images[0] == images[1]


def test_what_chunks_share_is_in_the_file_once(job: Job, find: Find, tmp_path: Path) -> None:  # noqa: F811
    merger = merger_of(job, find)
    sizes = [merged(merger, "print", tmp_path / f"{size}.pdf", size).stat().st_size for size in (1000, 10)]
    assert sizes[1] < sizes[0] * 1.2, "pictures and the profile are not repeated; subsets of fonts are"
    with pikepdf.open(tmp_path / "10.pdf") as pdf:
        images = [one.read_raw_bytes() for one in pdf.objects if isinstance(one, pikepdf.Stream) and "/Width" in one]
        profiles = [one for one in pdf.objects if isinstance(one, pikepdf.Stream) and one.get("/N") == 4]
    assert len(images) == len(set(images))
    assert len(profiles) == 1


def test_bookmarks_of_a_chunk_are_under_its_records(job: Job, find: Find, tmp_path: Path) -> None:  # noqa: F811
    joined = merged(merger_of(job, find), "screen", tmp_path / "joined.pdf", 10)
    with pikepdf.open(joined) as pdf, pdf.open_outline() as outline:
        assert [(one.title, len(one.children)) for one in outline.root] == [("1–10", 10), ("11–20", 10), ("21–24", 4)]
        pages = [pdf.pages[index].obj.objgen for index in range(0, 48, 2)]
        assert [one.destination[0].objgen for mark in outline.root for one in mark.children] == pages


def test_links_of_joined_files_stay_in_their_part(tmp_path: Path) -> None:
    """Any files of one recipe are joined: here a book with a contents list, twice."""
    composition = Workspace(poured(12).job).composition
    path, target = tmp_path / "book.pdf", io.BytesIO()
    with path.open("wb") as stream:
        write_pdf(composition, recipe("screen"), stream, WHEN)
    count = join([Source(path, "Volume 1"), Source(path, "Volume 2")], "Both", recipe("screen"), target, WHEN)
    with pikepdf.open(target) as pdf, pikepdf.open(path) as single:
        assert len(pdf.pages) == count == 2 * len(single.pages)
        assert str(pdf.docinfo.Title) == "Both"
        places = {page.obj.objgen: number for number, page in enumerate(pdf.pages)}
        for number, page in enumerate(pdf.pages):
            for link in page.get("/Annots", []):
                if "/Dest" in link:
                    assert (places[link.Dest[0].objgen] < count // 2) == (number < count // 2)


def test_progress_counts_records_and_stops(job: Job, find: Find) -> None:  # noqa: F811
    merger, said = merger_of(job, find), list[tuple[int, int]]()

    def progress(done: int, total: int) -> bool:
        said.append((done, total))
        return done < 15

    with pytest.raises(OutputStopped):
        write_merged(merger, RECORDS, recipe("print"), io.BytesIO(), WHEN, progress, per_chunk=10)
    assert said[-1] == (15, 24)
    assert [done for done, _ in said] == sorted(done for done, _ in said)
    assert chunks_of(24, 10) == [range(10), range(10, 20), range(20, 24)]
