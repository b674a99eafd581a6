"""Copy on its way out: what pandoc reads in it, and what comes back of it by our own readers."""

from __future__ import annotations

import hashlib
import io
import json
import re
import shutil
import subprocess
import zipfile
from datetime import datetime, timezone
from pathlib import Path
from typing import Any

import pikepdf
import pytest
from PIL import Image

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import (
    OBJECT,
    Anchor,
    Brief,
    Edges,
    Job,
    Paragraph,
    ParaSpec,
    PictureFile,
    Span,
    TextTable,
    TypeSpec,
)
from lexigon.core.document.starter import new_book
from lexigon.core.editing.intents import AddNote, Place, PourText
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.flow.plain_text import field_text, texts_of
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.pouring import poured
from lexigon.core.manuscript.reading import read
from lexigon.core.manuscript.review.cleaning import CLEAN_UPS
from lexigon.core.manuscript.source import Source
from lexigon.core.manuscript.writers.outgoing import Files, copy_of
from lexigon.core.manuscript.writers.writing import CopyForm, written
from lexigon.core.picture.bringing import described
from lexigon.core.picture.files import facts_of
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from tests.core.helpers import book

AS_IT_IS = {one.id: False for one in CLEAN_UPS}
HIDE = "https://saltmarsh.example/hide?a=1&b=2"
SAID = """<h1>Part One</h1><h2 id="plank">The <em>Plank</em></h2>
<p>It lies <em>there</em>, <strong>still</strong>, H<sub>2</sub>O and 1<sup>st</sup>, <u>under</u>, <s>gone</s>, <span style="font-variant: small-caps">small</span>, <span lang="fr">ça va</span>.<a role="doc-noteref" href="#n1">1</a></p>
<blockquote><p>A quotation *with* signs_of_its own &lt;b&gt; # 1.</p></blockquote>
<p>1. begins like a list</p><p>- so does this</p><p>one<br>two</p>
<ul><li>first</li><li>second<ul><li>inner</li></ul></li></ul><ol><li>eins</li><li>zwei</li></ol>
<p>A reed <img alt="A reed, bent" src="data:image/png;base64,REED"> stands.</p>
<table><thead><tr><th>Tide</th><th>Time</th><th>Height</th></tr></thead><tbody><tr><td rowspan="2">Low</td><td>06:12</td><td><em>0.4</em> m</td></tr><tr><td colspan="2">the same | again</td></tr></tbody></table>
<p id="end">* * *</p><p id="after">After <a href="https://saltmarsh.example/hide?a=1&amp;b=2">the <em>hide</em></a>, see <a href="#plank">the plank</a>, <a href="javascript:x()">no</a> and <a href="#nowhere">nothing</a>.<a role="doc-noteref" href="#n2">2</a></p>
<section role="doc-endnotes"><ol><li id="n1"><p>The <em>third</em> plank.</p></li><li id="n2"><p>Two</p><p>paragraphs.</p></li></ol></section>"""  # noqa: E501


def starter() -> Job:
    edges = Edges(54, 54, 54, 54)
    return new_book("Tides", Brief(432, 648, edges, Edges(0, 0, 0, 0), "in", True, language="en-GB"))


@pytest.fixture(scope="module")
def made() -> tuple[Workspace, dict[str, bytes]]:
    """A job with all of that in its main text, and its files."""
    import base64

    target = io.BytesIO()
    Image.new("RGB", (60, 40), (30, 120, 90)).save(target, "PNG")
    held: dict[str, bytes] = {}

    def keep(name: str, data: bytes) -> PictureFile:
        held[key := hashlib.sha256(data).hexdigest()] = data
        return described("reed", "reed", key, facts_of(data))

    workspace = Workspace(starter())
    html = f"<html><body>{SAID.replace('REED', base64.b64encode(target.getvalue()).decode())}</body></html>"
    read_ = read(html.encode(), "copy.html", mapping={"Heading 1": "part", "Heading 2": "chapter"})
    intent, lost = poured(workspace.job, read_, keep)
    assert not lost
    workspace.do(intent)
    return workspace, held


def copied(workspace: Workspace, files: Files) -> Source:
    return copy_of(workspace.job, texts_of(workspace.composition), field_text(workspace.composition), files)


def out(made: tuple[Workspace, dict[str, bytes]], form: CopyForm) -> tuple[bytes, str]:
    workspace, held = made
    return written(copied(workspace, held.get), workspace.job, form)


def looks(job: Job, p: Paragraph) -> list[tuple[str, dict[str, Any]]]:
    """What is set apart in a paragraph, letter by letter joined."""
    cascade = Cascade(job)
    base = cascade.type_of(p)
    found = []
    for span in p.spans:
        if span.object is None:
            own = cascade.type_of(p, span)
            names = ("italic", "weight", "caps", "underline", "strike", "position", "language")
            found.append(
                (
                    p.text[span.start : span.end],
                    {n: getattr(own, n) for n in names if getattr(own, n) != getattr(base, n)},
                )
            )
    return [one for one in found if one[1]]


@pytest.mark.parametrize("form", ["docx", "html", "md", "txt"])
def test_what_goes_out_comes_back(form: CopyForm, made: tuple[Workspace, dict[str, bytes]]) -> None:
    """Words, styles, looks, notes, tables with their spans, pictures and lists, as far as the format has signs for
    them."""
    workspace, _ = made
    data, suffix = out(made, form)
    if form == "md":
        assert suffix == ".zip"
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = archive.namelist()
            assert names[1] == "pictures/reed.png"
            data = archive.read("copy.md")
    if form == "txt":
        assert data.decode().startswith("Part One\n\nThe Plank\n\nIt lies there, still, H2O and 1st")
        assert "gone, small, ça va.[1]" in data.decode()
        assert data.decode().endswith("[1] The third plank.\n\n[2] Two\n\nparagraphs.\n")
        return
    own = {style.name: style.id for style in workspace.job.paragraph_styles.values()} | {"First paragraph": "body"}
    again = Workspace(starter())
    read_ = read(data, f"copy.{form}", cleaned=AS_IT_IS, own=own)
    intent, lost = poured(again.job, read_, lambda name, data: described("reed", "reed", "0" * 64, facts_of(data)))
    assert not lost
    again.do(intent)
    unpictured = form == "md"
    assert told(again.job, unpictured) == told(workspace.job, unpictured)
    assert told(workspace.job)["links"] == [("the ", HIDE), ("hide", HIDE), ("the plank", "The Plank")]
    assert told(workspace.job)["notes"] == [["The third plank."], ["Two", "paragraphs."]]
    (table,), (was,) = again.job.tables.values(), workspace.job.tables.values()
    if form == "md":
        assert [row[0][0] for row in shape(table)] == ["Tide", "Low", "the same | again"]
        return
    before, after = workspace.job.stories["main"].paragraphs, again.job.stories["main"].paragraphs
    assert [p.style for p in after] == [p.style for p in before]
    assert [looks(again.job, p) for p in after] == [looks(workspace.job, p) for p in before]
    assert (shape(table), table.heads) == (shape(was), was.heads)
    (inlay,) = again.job.inlays.values()
    assert inlay.alt == "A reed, bent"


def told(job: Job, unpictured: bool = False) -> dict[str, Any]:
    """The words of a job with what stands in them, its notes and its lists."""
    paragraphs = job.stories["main"].paragraphs
    bare = str.maketrans({"\u200b": None, OBJECT: None if unpictured else OBJECT})
    kinds = [span.object.kind for p in paragraphs for span in p.spans if span.object]
    return {
        "words": [
            " ".join(p.text.translate(bare).split()) if unpictured else p.text.translate(bare) for p in paragraphs
        ],
        "kinds": [kind for kind in kinds if kind != "frame" or not unpictured],
        "notes": [[p.text for p in story.paragraphs] for story in job.stories.values() if story.kind == "note"],
        "links": [
            (p.text[span.start : span.end], _to(job, span.link))
            for p in paragraphs
            for span in p.spans
            if span.link and (not unpictured or span.link[0] != "#")
        ],
        "lists": [(mark.kind, mark.level) for p in paragraphs if (mark := Cascade(job).setting(p).list).kind != "none"],
    }


def _to(job: Job, link: str) -> str:
    """Where a link leads, by the words of the paragraph."""
    return next((p.text for p in job.stories["main"].paragraphs if link == f"#{p.id}"), link)


def shape(table: TextTable) -> list[list[tuple[str, int, int]]]:
    return [[("".join(p.text for p in cell.paragraphs), cell.across, cell.down) for cell in row] for row in table.rows]


def walked(node: Any, kind: str) -> list[Any]:
    """Every element of a kind in pandoc's tree."""
    if isinstance(node, dict):
        own = [node] if node.get("t") == kind else []
        return own + [one for value in node.values() for one in walked(value, kind)]
    return [one for inner in node for one in walked(inner, kind)] if isinstance(node, list) else []


@pytest.mark.skipif(shutil.which("pandoc") is None, reason="pandoc is not installed")
@pytest.mark.parametrize("form", ["docx", "html", "md"])
def test_pandoc_reads_what_we_wrote(form: CopyForm, made: tuple[Workspace, dict[str, bytes]], tmp_path: Any) -> None:
    data, _ = out(made, form)
    if form == "md":
        data = zipfile.ZipFile(io.BytesIO(data)).read("copy.md")
    (tmp_path / f"copy.{form}").write_bytes(data)
    source = "commonmark_x" if form == "md" else form

    def run(to: str) -> str:
        command = ["pandoc", f"copy.{form}", "-f", source, "-t", to, "--wrap=none"]
        return subprocess.run(command, cwd=tmp_path, check=True, capture_output=True, text=True).stdout

    tree = json.loads(run("json"))
    assert len(walked(tree, "Note")) == (0 if form == "html" else 2), "pandoc's HTML reader takes notes for links"
    assert len(walked(tree, "Table")) == 1
    assert len(walked(tree, "Image")) == 1
    assert {one["c"][0] for one in walked(tree, "Header")} == {1, 2}
    emphases = {
        "".join(inner["c"] if inner["t"] == "Str" else " " for inner in one["c"]) for one in walked(tree, "Emph")
    }
    assert {"Plank", "there", "third", "0.4"} <= emphases
    words = re.sub(r"\s+", " ", run("plain"))
    for piece in (
        "It lies there, still, H",
        "A quotation *with* signs_of_its own <b> # 1.",
        "begins like a list",
        "inner",
        "the same | again",
        "After the hide, see the plank, no and nothing.",
    ):
        assert piece in words
    if form == "docx":
        assert len(walked(tree, "Subscript")) == 1
        assert len(walked(tree, "SmallCaps")) == 1
        assert len(walked(tree, "BulletList")) >= 1
        assert len(walked(tree, "OrderedList")) >= 1


def test_fields_say_what_they_say_on_their_page_and_pages_begin_where_they_did() -> None:
    workspace = Workspace(book())
    workspace.do(
        PourText(
            "main",
            (
                Paragraph("a", "body", "One."),
                Paragraph(
                    "b",
                    "body",
                    f"Page {OBJECT} of {OBJECT}.",
                    (Span(5, 6, object=Anchor("page")), Span(10, 11, object=Anchor("pages"))),
                    ParaSpec(start="page"),
                ),
                Paragraph(
                    "c",
                    "body",
                    "Roman in italics",
                    (Span(0, 5, type=TypeSpec(italic=False)),),
                    None,
                    TypeSpec(italic=True),
                ),
            ),
        )
    )
    source = copied(workspace, lambda name: None)
    assert source.paragraphs[1].text == "Page 2 of 2."
    assert source.paragraphs[1].starts_page
    assert source.paragraphs[2].spans == (Span(0, 5, type=TypeSpec(italic=False)),)
    before = job_to_json(workspace.job)
    assert read(written(source, workspace.job, "docx")[0], cleaned=AS_IT_IS).paragraphs[1].text == "Page 2 of 2."
    assert written(source, workspace.job, "docx") == written(source, workspace.job, "docx")
    assert job_to_json(job_from_json(before)) == before


def test_links_of_a_manuscript_lead_on_in_a_screen_pdf_and_nowhere_else(
    made: tuple[Workspace, dict[str, bytes]], tmp_path: Path
) -> None:
    """An address and a page (ISO 32000-2, 12.5.6.5), each over its own words; a printer's file has none."""
    workspace, held = made
    for name, data in held.items():
        (tmp_path / name).write_bytes(data)
    finder = Workspace(workspace.job, lambda name: tmp_path / name if (tmp_path / name).exists() else None)
    counts = {}
    for form in ("screen", "print"):
        target = io.BytesIO()
        write_pdf(finder.composition, recipe(form), target, datetime(2026, 1, 1, tzinfo=timezone.utc))
        with pikepdf.open(io.BytesIO(target.getvalue())) as pdf:
            links = [one for page in pdf.pages for one in page.get("/Annots", []) if one.Subtype == "/Link"]
            counts[form] = len(links)
            if form == "screen":
                assert {str(one.A.URI) for one in links if "/A" in one} == {HIDE}
                (inner,) = [one for one in links if "/Dest" in one]
                assert inner.Dest[0].objgen in {page.objgen for page in pdf.pages}
                assert all(0 < float(one.Rect[2]) - float(one.Rect[0]) < 200 for one in links)
    assert counts == {"screen": 3, "print": 0}


def test_endnotes_go_out_as_endnotes_and_come_back_so() -> None:
    """Those of the kind of endnotes, and those that are gathered elsewhere; each kind is numbered by itself."""
    workspace = Workspace(starter())
    workspace.do(PourText("main", (Paragraph("pa", "body", "one two three"),)))
    for place, words_, kind in ((13, "at the end", "end"), (7, "at the foot", ""), (3, "at the end too", "end")):
        at = Place("pa", place)
        workspace.do(AddNote("main", at, at, words_, kind))
    data, _ = written(copied(workspace, {}.get), workspace.job, "docx")
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.read("word/endnotes.xml").count(b"<w:endnote ") == 4
        assert archive.read("word/footnotes.xml").count(b"<w:footnote ") == 3
    read_ = read(data, "copy.docx", cleaned=AS_IT_IS, own={})
    again = Workspace(starter())
    intent, _ = poured(again.job, read_, lambda name, data: None)
    again.do(intent)
    anchors = [span.object for p in again.job.stories["main"].paragraphs for span in p.spans if span.object]
    assert [(again.job.stories[one.ref].paragraphs[0].text, one.form) for one in anchors] == [
        ("at the end too", "end"),
        ("at the foot", ""),
        ("at the end", "end"),
    ]
