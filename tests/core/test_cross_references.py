"""Cross-references of a manuscript stay alive: fields of DOCX (ECMA-376-1, 17.16.5) become references to paragraphs."""

from __future__ import annotations

import io
import zipfile
from typing import Literal

import pytest

from lexigon.core.document.model import Anchor, Paragraph
from lexigon.core.editing.intents import Place, ReplaceText
from lexigon.core.flow.plain_text import field_text
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.mapping import converted
from lexigon.core.manuscript.pouring import poured
from lexigon.core.manuscript.reading import read, source_of
from lexigon.core.manuscript.review.cleaning import Cleaner
from lexigon.core.manuscript.review.remarks import remarks
from lexigon.core.manuscript.writers.outgoing import copy_of
from lexigon.core.manuscript.writers.writing import written
from lexigon.core.paint.display import Display
from tests.core.helpers import book
from tests.core.test_manuscript_formats import W, docx, p, r


def field(instruction: str, shown: str) -> str:
    """A field in runs of its own, as word processors write it."""
    kinds = [f'<w:r><w:fldChar w:fldCharType="{kind}"/></w:r>' for kind in ("begin", "separate", "end")]
    return f"{kinds[0]}<w:r><w:instrText> {instruction} </w:instrText></w:r>{kinds[1]}{r(shown)}{kinds[2]}"


def marked(name: str, inside: str) -> str:
    return f'<w:bookmarkStart w:id="1" w:name="{name}"/>{inside}<w:bookmarkEnd w:id="1"/>'


BODY = (
    p(marked("_Ref1", r("The tide tables")), '<w:outlineLvl w:val="0"/>')
    + p(r("First words.") + marked("_Ref3", r("Figure 3")))
    + p(
        r("See “")
        + field(r"REF _Ref1 \h", "The tide tables")
        + r("” on page ")
        + field(r"PAGEREF _Ref1 \h", "12")
        + r(", today.")
    )
    + p(r("And ") + field(r"REF _Ref3 \h", "Figure 3") + r(", or page ") + field(r"PAGEREF _Gone \h", "99") + r("."))
    + p(f'<w:fldSimple w:instr=" PAGEREF _Ref1 ">{r("12")}</w:fldSimple>' + field("DATE", "1 May"))
)


def objects(paragraph: Paragraph) -> list[Anchor]:
    return [span.object for span in paragraph.spans if span.object is not None]


def test_references_to_pages_and_to_whole_paragraphs_are_alive_and_others_keep_their_words() -> None:
    source = source_of(docx(BODY), "copy.docx")
    assert source is not None
    made = converted(source, {}, Cleaner())
    heading, _, see, other, simple = made.paragraphs
    assert objects(see) == [Anchor("reference", heading.id, "words"), Anchor("reference", heading.id)]
    assert see.text == "See “\ufffc” on page \ufffc, today."
    assert (other.text, objects(other)) == ("And Figure 3, or page 99.", [])
    assert objects(simple) == [Anchor("reference", heading.id)]
    assert simple.text == "\ufffc1 May"
    assert (made.counts["references"], made.counts["lost references"], made.counts["fields"]) == (3, 2, 1)


def test_a_poured_reference_shows_what_it_leads_to_as_that_changes() -> None:
    job = book(facing=False)
    workspace = Workspace(job)
    intent, _ = poured(job, read(docx(BODY), "copy.docx"), lambda name, data: None)
    workspace.do(intent)

    def lines() -> list[str]:
        return [
            "".join(run.text for run in line.runs)
            for art in Display(workspace.composition).page(0).frames
            for line in art.lines
        ]

    assert any("See “The tide tables” on page 1, today." in line for line in lines())
    story = job.stories[job.main_story or ""]
    heading = story.paragraphs[0]
    workspace.do(ReplaceText(story.id, Place(heading.id, 0), Place(heading.id, len(heading.text)), "Low water"))
    assert any("See “Low water” on page 1" in line for line in lines())


def test_references_of_an_odt_are_alive_too() -> None:
    urn = "urn:oasis:names:tc:opendocument:xmlns:"
    head = f'xmlns:office="{urn}office:1.0" xmlns:text="{urn}text:1.0"'
    refs = "".join(
        f'<text:bookmark-ref text:ref-name="tides" text:reference-format="{form}">{shown}</text:bookmark-ref>, '
        for form, shown in (("page", "12"), ("text", "The tide tables"), ("chapter", "2"))
    )
    body = (
        '<text:h text:outline-level="1"><text:bookmark-start text:name="tides"/>The tide tables<text:bookmark-end '
        f'text:name="tides"/></text:h><text:p>See {refs}today.</text:p>'
    )
    content = (
        "<office:document-content "
        f"{head}><office:body><office:text>{body}</office:text></office:body></office:document-content>"
    )
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.text")
        archive.writestr("content.xml", content)
    source = source_of(target.getvalue(), "copy.odt")
    assert source is not None
    heading, see = converted(source, {}, Cleaner()).paragraphs
    assert objects(see) == [Anchor("reference", heading.id), Anchor("reference", heading.id, "words")]
    assert see.text == "See \ufffc, \ufffc, 2, today."


NOTE = '<w:r><w:footnoteReference w:id="{}"/></w:r>'
NOTES = (
    '<w:footnote w:type="separator" w:id="0"><w:p/></w:footnote>'
    '<w:footnote w:id="2"><w:p><w:r><w:t>The first note.</w:t></w:r></w:p></w:footnote>'
    '<w:footnote w:id="3"><w:p><w:r><w:t>The second note.</w:t></w:r></w:p></w:footnote>'
)


def noted(body: str) -> bytes:
    return docx(body, footnotes=f'<w:footnotes xmlns:w="{W}">{NOTES}</w:footnotes>')


CITING = (
    p(r("One") + NOTE.format(2) + r(" and two") + marked("_RefNote", NOTE.format(3)) + r("."))
    + p(r("See note ") + field(r"NOTEREF _RefNote \h", "2") + r(" on page ") + field("PAGEREF _RefNote", "1") + r("."))
    + p(r("A third") + NOTE.format(9) + r(", note ") + field(r"NOTEREF _RefNote \p", "above") + r("."))
)


def lines_of(workspace: Workspace) -> list[str]:
    found = (line for art in Display(workspace.composition).page(0).frames for line in art.lines)
    return ["".join(run.text for run in line.runs) for line in found]


@pytest.mark.parametrize("form", ["docx", "html"])
def test_references_to_notes_follow_their_numbers_and_are_exported(form: Literal["docx", "html"]) -> None:
    """NOTEREF (ECMA-376-1, 17.16.5.37; from memory)."""
    workspace = Workspace(book(facing=False))
    manuscript = read(noted(CITING), "copy.docx")
    assert manuscript.counts["unnoted"] == 1
    assert "1 note reference, without a note" in remarks(manuscript.counts)
    intent, _ = poured(workspace.job, manuscript, lambda name, data: None)
    workspace.do(intent)
    story = workspace.job.stories[workspace.job.main_story or ""]
    assert [one.form for one in objects(story.paragraphs[1])] == ["number", ""]
    assert objects(story.paragraphs[2]) == [], "where a note is, above or below, is written as it was"
    assert "See note 2 on page 1." in lines_of(workspace)
    data, _ = written(
        copy_of(workspace.job, [story], field_text(workspace.composition), alive=True), workspace.job, form
    )
    back = read(data, f"back.{form}")
    assert back.paragraphs[1].text == "See note \ufffc on page \ufffc."
    assert [one.form for one in objects(back.paragraphs[1])] == ["number", ""]
    first = story.paragraphs[0]
    workspace.do(ReplaceText(story.id, Place(first.id, 3), Place(first.id, 4), ""))
    assert "See note 1 on page 1." in lines_of(workspace)


def test_links_with_the_words_of_what_they_lead_to_are_references_and_notes_that_are_missing_are_reported() -> None:
    html = (
        "<h1 id='tides'>The tide tables</h1><p>See <a href='#tides'>The tide tables</a>, <a href='#tides'>there</a>, "
        "<a href='#gone'>The tide tables</a>.<a class='footnote-ref' href='#fn7'>7</a></p>"
    )
    made = read(html.encode(), "copy.html")
    heading, see = made.paragraphs
    assert objects(see) == [Anchor("reference", heading.id, "words")]
    assert [span.link for span in see.spans if span.link] == [f"#{heading.id}"], "another link stays one"
    assert made.counts["unnoted"] == 1
    markdown = "# Tides\n\nWords[^a] and more[^b].\n\n[^a]: A note.\n"
    assert read(markdown.encode(), "copy.md").counts["unnoted"] == 1


def test_references_go_out_to_docx_alive_and_come_back_as_they_left() -> None:
    workspace = Workspace(book(facing=False))
    intent, _ = poured(workspace.job, read(docx(BODY), "copy.docx"), lambda name, data: None)
    workspace.do(intent)
    story = workspace.job.stories[workspace.job.main_story or ""]
    data, _ = written(
        copy_of(workspace.job, [story], field_text(workspace.composition), alive=True), workspace.job, "docx"
    )
    source = source_of(data, "back.docx")
    assert source is not None
    back = converted(source, {}, Cleaner())
    assert [p.text for p in back.paragraphs] == [p.text for p in story.paragraphs]
    heading, see = back.paragraphs[0], back.paragraphs[2]
    assert objects(see) == [Anchor("reference", heading.id, "words"), Anchor("reference", heading.id)]
    assert "PAGEREF" in zipfile.ZipFile(io.BytesIO(data)).read("word/document.xml").decode()
    # In formats without such fields they are the words that they show.
    text, _ = written(copy_of(workspace.job, [story], field_text(workspace.composition)), workspace.job, "txt")
    assert "See “The tide tables” on page 1, today." in text.decode()
