"""Numbers that count through all texts of a job: figures by the pages they stand on, anew behind each heading they
name."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.model import OBJECT, Anchor, ListMark, Paragraph, ParaSpec, Span
from lexigon.core.editing import intents as do
from lexigon.core.editing.intents.text.words import Place
from lexigon.core.errors import LexigonError
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from tests.core.helpers import book, examples, words

CHAPTER = ParaSpec(list=ListMark("number", "#.", series="Chapters", gap="space"))
FIGURE = ParaSpec(list=ListMark("number", "Figure #1.#:", series="Figures", gap="space"))
TABLE = ParaSpec(list=ListMark("number", "Table #", numbers="A", series="Tables", gap="space"))


def shown(workspace: Workspace) -> dict[str, str]:
    """The mark of every paragraph that has one."""
    return {key: sign.words for marks in workspace.composition.counting.marks.values() for key, sign in marks.items()}


def caption(workspace: Workspace, page: int, y: float = 400.0, key: str = "") -> str:
    """A caption in a frame of its own; its paragraph."""
    workspace.do(do.AddTextFrame(workspace.job.pages[page].id, Rect(60, y, 200, 60), text="x"))
    story = workspace.job.pages[page].frames[-1].story or ""
    name = key or f"cap{story}"
    workspace.do(do.PourText(story, (Paragraph(name, "body", "Tracks in the mud", para=FIGURE),)))
    return name


def chapters(workspace: Workspace) -> None:
    made = []
    for n in range(3):
        made += [
            Paragraph(f"h{n}", "chapter", f"Of {words(2, n)}", para=CHAPTER),
            Paragraph(f"t{n}", "body", words(30, n)),
            Paragraph(f"b{n}", "body", "a list", para=ParaSpec(list=ListMark())),
            Paragraph(f"f{n}", "body", "A dunlin", para=FIGURE),
            Paragraph(f"a{n}", "body", "Tides", para=TABLE),
        ]
    workspace.do(do.PourText("main", tuple(made)))


def test_figures_and_tables_are_counted_by_chapter_and_through_the_job() -> None:
    workspace = Workspace(book())
    chapters(workspace)
    found = shown(workspace)
    assert [found[f"h{n}"] for n in range(3)] == ["1.", "2.", "3."], "lists between them do not break a series"
    assert [found[f"f{n}"] for n in range(3)] == ["Figure 1.1:", "Figure 2.1:", "Figure 3.1:"]
    assert [found[f"a{n}"] for n in range(3)] == ["Table A", "Table B", "Table C"]
    # A caption in a frame counts where its page comes: behind the main text that stands there.
    where = [workspace.composition.page_of("main", f"f{n}", 0) for n in range(3)]
    assert where == sorted(where)
    assert len(set(where)) == 3
    key = caption(workspace, where[1] or 0)
    assert shown(workspace)[key] == "Figure 2.2:"
    first = caption(workspace, where[0] or 0)
    assert shown(workspace)[first] == "Figure 1.2:"
    assert shown(workspace)[key] == "Figure 2.2:"
    flow = workspace.composition.flows[
        workspace.job.find_frame(workspace.job.pages[where[1] or 0].frames[-1].id)[1].story or ""
    ]  # type: ignore[index]
    assert flow.paragraphs[0].shown.paragraph.text == "Figure 2.2: Tracks in the mud"
    # A chapter that goes takes its number with it, wherever what follows stands.
    workspace.do(do.SetParagraphs("main", "h0", "h0", para=ParaSpec(list=ListMark("none"))))
    assert shown(workspace)["h1"] == "1."
    assert shown(workspace)["f2"] == "Figure 2.1:"


def test_a_frame_that_is_moved_to_another_page_is_counted_there_and_references_follow() -> None:
    workspace = Workspace(book())
    workspace.do(do.PourText("main", (Paragraph("pa", "body", words(900)),)))
    plain = replace(FIGURE, list=replace(FIGURE.list, form="Figure #"))  # type: ignore[arg-type]
    keys = []
    for page in (0, 1, 2):
        keys.append(caption(workspace, page))
        story = workspace.job.pages[page].frames[-1].story or ""
        workspace.do(do.SetParagraphs(story, keys[-1], keys[-1], para=plain))
    reference = Anchor("reference", keys[0], "number")
    workspace.do(do.InsertField("main", Place("pa", 0), Place("pa", 0), reference))
    text = workspace.composition.flows["main"].paragraphs[0].shown.paragraph
    assert [shown(workspace)[key] for key in keys] == ["Figure 1", "Figure 2", "Figure 3"]
    assert text.text.startswith("Figure 1")
    workspace.do(do.MovePages((workspace.job.pages[0].id,), 3))
    assert [shown(workspace)[key] for key in keys] == ["Figure 3", "Figure 1", "Figure 2"]
    text = workspace.composition.flows["main"].paragraphs[0].shown.paragraph
    assert text.text.startswith("Figure 3")


@settings(max_examples=examples(10), deadline=None)
@given(
    st.lists(st.tuples(st.integers(0, 3), st.integers(80, 500)), min_size=1, max_size=4),
    st.integers(0, 800),
    st.integers(1, 300),
)
def test_what_is_counted_edit_by_edit_is_what_is_counted_anew(
    frames: list[tuple[int, int]], offset: int, count: int
) -> None:
    workspace = Workspace(book())
    workspace.do(
        do.PourText(
            "main",
            (
                Paragraph("h0", "chapter", "Of mud", para=CHAPTER),
                Paragraph("pa", "body", words(500)),
                Paragraph("f0", "body", "A dunlin", para=FIGURE),
                Paragraph("h1", "chapter", "Of tides", para=CHAPTER),
                Paragraph("pb", "body", words(300)),
                Paragraph("f1", "body", "A knot", para=FIGURE),
            ),
        )
    )
    for page, y in frames:
        caption(workspace, min(page, len(workspace.job.pages) - 1), float(y))
    place = Place("pa", min(offset, 400))
    workspace.do(do.AddInlay("main", place, place, 90.0, 60.0, text="x", where="near"))
    inlay = next(iter(workspace.job.inlays.values()))
    key = workspace.job.stories[inlay.story or ""].paragraphs[0].id
    workspace.do(do.SetParagraphs(inlay.story or "", key, key, para=FIGURE))
    for _ in range(2):
        workspace.do(do.ReplaceText("main", Place("pa", 5), Place("pa", 5), words(count, count) + " "))
        assert shown(workspace) == shown(Workspace(workspace.job))
    numbers = [sign for sign in shown(workspace).values() if sign.startswith("Figure")]
    assert len(numbers) == len(set(numbers)) == 3 + len(frames)


def test_a_caption_tied_to_the_text_is_painted_with_its_number_wherever_that_changes() -> None:
    workspace = Workspace(book())
    workspace.do(do.PourText("main", tuple(Paragraph(f"p{n}", "body", words(60, n)) for n in range(20))))
    place = Place("p15", 10)
    workspace.do(do.AddInlay("main", place, place, 160.0, 60.0, text="Tracks", where="near"))
    inlay = next(iter(workspace.job.inlays.values()))
    key = workspace.job.stories[inlay.story or ""].paragraphs[0].id
    workspace.do(do.SetParagraphs(inlay.story or "", key, key, para=TABLE))
    page = workspace.composition.page_of_anchored(inlay.story or "") or 0
    assert page > 0

    def painted() -> str:
        frames = [*Display(workspace.composition).page(page).frames]
        return " ".join(run.text for frame in frames for line in frame.lines for run in line.runs)

    assert "Table A" in painted()
    stamp = workspace.composition.stamps.of(workspace.job.pages[page].id)
    workspace.do(do.SetParagraphs("main", "p0", "p0", para=TABLE))
    assert "Table B" in painted()
    assert workspace.composition.stamps.of(workspace.job.pages[page].id) != stamp


def test_a_name_that_could_not_be_written_is_refused() -> None:
    workspace = Workspace(book())
    first = workspace.job.stories["main"].paragraphs[0].id
    with pytest.raises(LexigonError, match="no quotation marks"):
        workspace.do(do.SetParagraphs("main", first, first, para=ParaSpec(list=ListMark("number", series='a "b"'))))


def test_where_it_begins_again_and_a_field_of_objects_is_no_part_of_it() -> None:
    workspace = Workspace(book())
    begun = ParaSpec(list=ListMark("number", "Figure #", series="Figures", start=7))
    more = ParaSpec(list=ListMark("number", "Figure #", series="Figures"))
    workspace.do(
        do.PourText(
            "main",
            (
                Paragraph("a", "body", "one", para=more),
                Paragraph("b", "body", OBJECT, (Span(0, 1, object=Anchor("date", "now")),), begun),
                Paragraph("c", "body", "three", para=more),
            ),
        )
    )
    assert shown(workspace) == {"a": "Figure 1", "b": "Figure 7", "c": "Figure 8"}
