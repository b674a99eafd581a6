"""Numbers that count through all texts of a job: figures by the pages they stand on, anew behind each heading they name."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.geometry import Rect
from lexigon.core.job import intents as do
from lexigon.core.job.intents.text import Place
from lexigon.core.job.model import OBJECT, Anchor, ListMark, Paragraph, ParaSpec, Span
from lexigon.core.paint.display import Display
from tests.core.helpers import book, examples, words

CHAPTER = ParaSpec(list=ListMark("number", "#.", series="Chapters", gap="space"))
FIGURE = ParaSpec(list=ListMark("number", "Figure #1.#:", series="Figures", gap="space"))
TABLE = ParaSpec(list=ListMark("number", "Table #", numbers="A", series="Tables", gap="space"))


def shown(desk: Desk) -> dict[str, str]:
    """The mark of every paragraph that has one."""
    return {key: sign.words for marks in desk.composition.counting.marks.values() for key, sign in marks.items()}


def caption(desk: Desk, page: int, y: float = 400.0, key: str = "") -> str:
    """A caption in a frame of its own; its paragraph."""
    desk.do(do.AddTextFrame(desk.job.pages[page].id, Rect(60, y, 200, 60), text="x"))
    story = desk.job.pages[page].frames[-1].story or ""
    name = key or f"cap{story}"
    desk.do(do.PourText(story, (Paragraph(name, "body", "Tracks in the mud", para=FIGURE),)))
    return name


def chapters(desk: Desk) -> None:
    made = []
    for n in range(3):
        made += [
            Paragraph(f"h{n}", "chapter", f"Of {words(2, n)}", para=CHAPTER),
            Paragraph(f"t{n}", "body", words(30, n)),
            Paragraph(f"b{n}", "body", "a list", para=ParaSpec(list=ListMark())),
            Paragraph(f"f{n}", "body", "A dunlin", para=FIGURE),
            Paragraph(f"a{n}", "body", "Tides", para=TABLE),
        ]
    desk.do(do.PourText("main", tuple(made)))


def test_figures_and_tables_are_counted_by_chapter_and_through_the_job() -> None:
    desk = Desk(book())
    chapters(desk)
    found = shown(desk)
    assert [found[f"h{n}"] for n in range(3)] == ["1.", "2.", "3."], "lists between them do not break a series"
    assert [found[f"f{n}"] for n in range(3)] == ["Figure 1.1:", "Figure 2.1:", "Figure 3.1:"]
    assert [found[f"a{n}"] for n in range(3)] == ["Table A", "Table B", "Table C"]
    # A caption in a frame counts where its page comes: behind the main text that stands there.
    where = [desk.composition.page_of("main", f"f{n}", 0) for n in range(3)]
    assert where == sorted(where)
    assert len(set(where)) == 3
    key = caption(desk, where[1] or 0)
    assert shown(desk)[key] == "Figure 2.2:"
    first = caption(desk, where[0] or 0)
    assert shown(desk)[first] == "Figure 1.2:"
    assert shown(desk)[key] == "Figure 2.2:"
    flow = desk.composition.flows[desk.job.find_frame(desk.job.pages[where[1] or 0].frames[-1].id)[1].story or ""]  # type: ignore[index]
    assert flow.paragraphs[0].shown.paragraph.text == "Figure 2.2: Tracks in the mud"
    # A chapter that goes takes its number with it, wherever what follows stands.
    desk.do(do.SetParagraphs("main", "h0", "h0", para=ParaSpec(list=ListMark("none"))))
    assert shown(desk)["h1"] == "1."
    assert shown(desk)["f2"] == "Figure 2.1:"


def test_a_frame_that_is_moved_to_another_page_is_counted_there_and_references_follow() -> None:
    desk = Desk(book())
    desk.do(do.PourText("main", (Paragraph("pa", "body", words(900)),)))
    plain = replace(FIGURE, list=replace(FIGURE.list, form="Figure #"))  # type: ignore[arg-type]
    keys = []
    for page in (0, 1, 2):
        keys.append(caption(desk, page))
        story = desk.job.pages[page].frames[-1].story or ""
        desk.do(do.SetParagraphs(story, keys[-1], keys[-1], para=plain))
    reference = Anchor("reference", keys[0], "number")
    desk.do(do.InsertField("main", Place("pa", 0), Place("pa", 0), reference))
    text = desk.composition.flows["main"].paragraphs[0].shown.paragraph
    assert [shown(desk)[key] for key in keys] == ["Figure 1", "Figure 2", "Figure 3"]
    assert text.text.startswith("Figure 1")
    desk.do(do.MovePages((desk.job.pages[0].id,), 3))
    assert [shown(desk)[key] for key in keys] == ["Figure 3", "Figure 1", "Figure 2"]
    text = desk.composition.flows["main"].paragraphs[0].shown.paragraph
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
    desk = Desk(book())
    desk.do(do.PourText("main", (
        Paragraph("h0", "chapter", "Of mud", para=CHAPTER), Paragraph("pa", "body", words(500)), Paragraph("f0", "body", "A dunlin", para=FIGURE),
        Paragraph("h1", "chapter", "Of tides", para=CHAPTER), Paragraph("pb", "body", words(300)), Paragraph("f1", "body", "A knot", para=FIGURE),
    )))  # fmt: skip
    for page, y in frames:
        caption(desk, min(page, len(desk.job.pages) - 1), float(y))
    place = Place("pa", min(offset, 400))
    desk.do(do.AddInlay("main", place, place, 90.0, 60.0, text="x", where="near"))
    inlay = next(iter(desk.job.inlays.values()))
    key = desk.job.stories[inlay.story or ""].paragraphs[0].id
    desk.do(do.SetParagraphs(inlay.story or "", key, key, para=FIGURE))
    for _ in range(2):
        desk.do(do.ReplaceText("main", Place("pa", 5), Place("pa", 5), words(count, count) + " "))
        assert shown(desk) == shown(Desk(desk.job))
    numbers = [sign for sign in shown(desk).values() if sign.startswith("Figure")]
    assert len(numbers) == len(set(numbers)) == 3 + len(frames)


def test_a_caption_tied_to_the_text_is_painted_with_its_number_wherever_that_changes() -> None:
    desk = Desk(book())
    desk.do(do.PourText("main", tuple(Paragraph(f"p{n}", "body", words(60, n)) for n in range(20))))
    place = Place("p15", 10)
    desk.do(do.AddInlay("main", place, place, 160.0, 60.0, text="Tracks", where="near"))
    inlay = next(iter(desk.job.inlays.values()))
    key = desk.job.stories[inlay.story or ""].paragraphs[0].id
    desk.do(do.SetParagraphs(inlay.story or "", key, key, para=TABLE))
    page = desk.composition.page_of_anchored(inlay.story or "") or 0
    assert page > 0

    def painted() -> str:
        frames = [*Display(desk.composition).page(page).frames]
        return " ".join(run.text for frame in frames for line in frame.lines for run in line.runs)

    assert "Table A" in painted()
    stamp = desk.composition.stamps.of(desk.job.pages[page].id)
    desk.do(do.SetParagraphs("main", "p0", "p0", para=TABLE))
    assert "Table B" in painted()
    assert desk.composition.stamps.of(desk.job.pages[page].id) != stamp


def test_a_name_that_could_not_be_written_is_refused() -> None:
    desk = Desk(book())
    first = desk.job.stories["main"].paragraphs[0].id
    with pytest.raises(LexigonError, match="no quotation marks"):
        desk.do(do.SetParagraphs("main", first, first, para=ParaSpec(list=ListMark("number", series='a "b"'))))


def test_where_it_begins_again_and_a_field_of_objects_is_no_part_of_it() -> None:
    desk = Desk(book())
    begun = ParaSpec(list=ListMark("number", "Figure #", series="Figures", start=7))
    more = ParaSpec(list=ListMark("number", "Figure #", series="Figures"))
    desk.do(do.PourText("main", (
        Paragraph("a", "body", "one", para=more), Paragraph("b", "body", OBJECT, (Span(0, 1, object=Anchor("date", "now")),), begun),
        Paragraph("c", "body", "three", para=more),
    )))  # fmt: skip
    assert shown(desk) == {"a": "Figure 1", "b": "Figure 7", "c": "Figure 8"}
