"""A new version of a manuscript against what a job holds: who changed what, what is taken over, what stays the job's
own."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.model import OBJECT, Anchor, ListMark, Paragraph, ParaSpec, Span, Story, TypeSpec
from lexigon.core.editing.edits import SpliceParagraphs
from lexigon.core.editing.intents import PourText
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.review.versions import compared, mark, merged, words_between
from tests.core.helpers import book


def paragraphs(prefix: str, *texts: str) -> list[Paragraph]:
    return [Paragraph(f"{prefix}{n}", "body", text) for n, text in enumerate(texts)]


BASE = [
    "The tide turned at six.",
    "The hide was full of wardens.",
    "A dunlin stood on the mud.",
    "It rained.",
    "The end.",
]


def holding(texts: list[str]) -> Workspace:
    workspace = Workspace(book())
    workspace.do(PourText("main", tuple(paragraphs("p", *texts))))
    return workspace


def test_who_changed_what_follows_from_what_both_began_with() -> None:
    base = {mark(p) for p in paragraphs("b", *BASE)}
    ours = paragraphs(
        "o", "The tide turned at six o\u2019clock.", BASE[1], BASE[2], "The end.", "Added here by us in the proofs."
    )
    theirs = paragraphs(
        "t",
        BASE[0],
        "The hide was full of the wardens\u2019 coats.",
        "Something quite new, from the writer.",
        BASE[2],
        "The end.",
    )
    found = compared(ours, theirs, base)
    assert [(one.kind, one.ours, one.theirs, one.whose) for one in found] == [
        ("changed", 0, 0, "ours"),
        ("changed", 1, 1, "theirs"),
        ("added", 2, 2, "theirs"),
        ("removed", 4, 5, "ours"),
    ]
    assert [one.usual for one in found] == [False, True, True, False]
    both = compared(
        paragraphs("o", "The tide turned at seven sharp."), paragraphs("t", "The tide turned at eight."), base
    )
    assert [(one.whose, one.usual) for one in both] == [("both", False)]
    out = compared(paragraphs("o", *BASE[:3], BASE[4]), paragraphs("t", *BASE), base)
    assert [(one.kind, one.whose) for one in out] == [("added", "ours")], (
        "taken out in the job, it does not come back by itself"
    )
    assert {one.whose for one in compared(ours, theirs)} == {"unknown"}


def test_what_is_taken_over_keeps_names_settings_and_notes_of_the_job_in_one_step() -> None:
    workspace = holding(BASE)
    story = workspace.job.stories["main"]
    note = Story("n1", "Note", [Paragraph("n1p", "note", "Of larch.")], kind="note")
    cited = Paragraph(
        "p1",
        "body",
        f"The hide was full of wardens{OBJECT}.",
        (Span(28, 29, "note-number", object=Anchor("note", "n1")),),
        ParaSpec(space_before=6.0),
    )
    workspace.do(PourText("main", (story.paragraphs[0], cited, *story.paragraphs[2:]), notes=(note,)))
    before = job_to_json(workspace.job)
    new_note = Story("n9", "Note", [Paragraph("n9p", "note", "Of larch.")], kind="note")
    other = Story("n8", "Note", [Paragraph("n8p", "note", "Another.")], kind="note")
    theirs = (
        Paragraph("t0", "body", BASE[0]),
        Paragraph(
            "t1",
            "body",
            f"The hide was full of old wardens{OBJECT}{OBJECT}.",
            (Span(32, 33, object=Anchor("note", "n9")), Span(33, 34, object=Anchor("note", "n8"))),
        ),
        Paragraph("t3", "body", "It rained.", (Span(3, 9, type=TypeSpec(italic=True)),)),
        Paragraph("t4", "body", "The end."),
    )
    new = PourText("main", theirs, notes=(new_note, other))
    hunks = compared(workspace.job.stories["main"].paragraphs, theirs)
    assert [one.kind for one in hunks] == ["changed", "removed", "changed"]
    edit = merged(workspace.job, workspace.job.stories["main"], new, hunks, {0, 2})
    assert [one.id for one in edit.notes] == ["n8"], "the note that says the same is the job's own"
    change = workspace.do(edit)
    made = workspace.job.stories["main"].paragraphs
    assert [p.id for p in made] == ["p0", "p1", "p2", "p3", "p4"]
    assert made[1].text == f"The hide was full of old wardens{OBJECT}{OBJECT}."
    assert [span.object.ref for span in made[1].spans if span.object] == ["n1", "n8"]
    assert made[1].para == ParaSpec(space_before=6.0)
    assert made[3].spans[0].type == TypeSpec(italic=True)
    splices = [one for one in change.edits if isinstance(one, SpliceParagraphs)]
    assert sorted((one.at, one.remove) for one in splices) == [(1, 1), (3, 1)], "what did not change is left alone"
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before


WORDS = st.lists(st.sampled_from(["tide", "mud", "hide", "plank", "rain", "geese"]), min_size=1, max_size=6).map(
    " ".join
)


@settings(max_examples=150, deadline=None)
@given(st.lists(WORDS, max_size=9), st.lists(WORDS, max_size=9), st.data())
def test_all_taken_is_the_new_version_none_is_the_old_and_some_is_each_by_its_place(
    one: list[str], other: list[str], data: st.DataObject
) -> None:
    ours, theirs = paragraphs("o", *one), paragraphs("t", *other)
    hunks = compared(ours, theirs)
    story, new = Story("main", "Main", ours), PourText("main", tuple(theirs))
    job = book()
    texts = lambda taken: [p.text for p in merged(job, story, new, hunks, taken).paragraphs]  # noqa: E731
    assert texts(set()) == one
    assert texts(set(range(len(hunks)))) == other
    some = data.draw(st.sets(st.sampled_from(range(len(hunks))))) if hunks else set()
    halfway = [replace(p, id=f"h{n}") for n, p in enumerate(merged(job, story, new, hunks, some).paragraphs)]
    assert sorted(p.text for p in halfway) == sorted(
        [
            p.text
            for n, p in enumerate(ours)
            if not any(h.ours == n and h.kind != "added" for k, h in enumerate(hunks) if k in some)
        ]
        + [theirs[h.theirs].text for k, h in enumerate(hunks) if k in some and h.kind != "removed"]
    )


@given(st.text(max_size=40), st.text(max_size=40))
def test_words_between_give_both_texts(before: str, after: str) -> None:
    made = words_between(before, after)
    assert "".join(words for sign, words in made if sign != "+") == before
    assert "".join(words for sign, words in made if sign != "-") == after


def test_items_of_lists_poured_before_lists_had_styles_are_no_changes() -> None:
    local = ParaSpec(list=ListMark("bullet", "•"), indent_left=15.0, indent_first=-15.0)
    assert mark(Paragraph("a", "body", "A knot", para=local)) == mark(Paragraph("b", "bullet-list", "A knot"))
    assert mark(Paragraph("a", "body", "A knot")) != mark(Paragraph("b", "quote", "A knot"))
