"""Pages, masters, sections, standing copy and set-ups changed later: each an edit that can be taken back."""

from __future__ import annotations

import datetime
import random
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.brief import forms
from lexigon.core.brief.paper import PAPERS
from lexigon.core.document import numbering
from lexigon.core.document.consistency import check
from lexigon.core.document.forms import sheets
from lexigon.core.document.model import Anchor, Cover, Edges, Guide, Section, TableStyle, all_in
from lexigon.core.editing import intents as do
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.fields import written_date
from lexigon.core.flow.headings import headings
from lexigon.core.flow.story_growth import paged
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from tests.core.helpers import book, examples, poured, words
from tests.core.test_flow import shape


def text_of(workspace: Workspace, page: int, name: str = "") -> str:
    art = Display(workspace.composition).page(page)
    frames = [f for f in art.frames if not name or f.frame.name == name]
    return " ".join("".join(run.text for run in line.runs) for f in frames for line in f.lines).strip()


def any_intent(workspace: Workspace, chance: random.Random) -> object:
    """Some operation on pages, masters or the set-up; it may well be one that cannot be done."""
    job = workspace.job
    ids = tuple(chance.sample([page.id for page in job.pages], min(chance.choice([1, 1, 2, 3]), len(job.pages))))
    masters = [*job.masters, None]
    at = chance.randint(0, len(job.pages))
    master = chance.choice(masters)
    copies = [*job.copies, "gone"]
    frames = [f.id for f, _ in job.page_frames(job.page_index(ids[0]))] or ["gone"]
    some = chance.choice([*job.masters, "gone"])
    holder = chance.choice([ids[0], f"master:{some}:{chance.choice(['recto', 'verso'])}"])
    rect = Rect(chance.uniform(0, 200), chance.uniform(0, 300), chance.uniform(3, 200), chance.uniform(3, 200))
    own = [f.id for f in all_in(job.pages[job.page_index(ids[0]) or 0].objects)] or ["gone"]
    layer = chance.choice([*job.layers, "gone"])
    return chance.choice(
        [
            lambda: do.AddPages(at, chance.choice([1, 2, 0]), master),
            lambda: do.DuplicatePages(ids, chance.choice([None, at])),
            lambda: do.MovePages(ids, at),
            lambda: do.DeletePages(ids),
            lambda: do.ApplyMaster(
                master, ids, chance.choice(["these", "all", "odd", "even", "range"]), chance.choice(["1-2", "9-3"])
            ),
            lambda: do.NumberPages(ids, chance.random() < 0.5),
            lambda: do.PutSection(
                ids[0],
                chance.choice([None, Section("Front", 1, "i", "", "recto"), Section("Back", None, "A", "B-", "verso")]),
            ),
            lambda: do.AddMaster("Bare", chance.choice(masters), chance.random() < 0.5),
            lambda: do.DuplicateMaster(some),
            lambda: do.MasterFromPage(ids[0], "From a page", chance.random() < 0.5, chance.random() < 0.5),
            lambda: do.ChangeMaster(some, rebase=True, based_on=master),
            lambda: do.ChangeMaster(
                some,
                margins=Edges(*(chance.uniform(10, 60) for _ in range(4))),
                columns=chance.choice([1, 2, 0]),
                turned=chance.random() < 0.5,
            ),
            lambda: do.RemoveMaster(some, master, chance.random() < 0.8),
            lambda: do.AddTextFrame(holder, rect, text="Standing"),
            lambda: do.TakeOver(ids[0], chance.choice(frames)),
            lambda: do.RemoveFrame(ids[0], chance.choice(frames)),
            lambda: do.ChangeBrief(replace(job.brief, facing=not job.brief.facing)),
            lambda: do.ChangeBrief(
                replace(job.brief, width=chance.uniform(250, 500), height=chance.uniform(300, 700)),
                anchor=chance.choice(["margins", "scale", "centre", "foot right"]),
            ),
            lambda: do.PutCopy(
                chance.choice(["House", "Date line", ""]),
                "The Saltmarsh Observatory",
                chance.choice([None, *job.copies]),
            ),
            lambda: do.InsertField("main", do.Place("^", 0), do.Place("^", 0), Anchor("copy", chance.choice(copies))),
            lambda: do.GroupObjects(ids[0], tuple(chance.sample(own, min(len(own), 3)))),
            lambda: do.Ungroup(ids[0], chance.choice(own)),
            lambda: do.AddLayer(chance.choice(["", "Pictures"]), layer),
            lambda: do.ChangeLayer(
                layer, visible=chance.choice([None, True, False]), opacity=chance.choice([None, 0.5])
            ),
            lambda: do.MoveLayer(layer, chance.randint(0, len(job.layers))),
            lambda: do.RemoveLayer(layer),
            lambda: do.PutOnLayer(layer, (do.Chosen(ids[0], chance.choice(own)),)),
            lambda: do.RemoveCopy(chance.choice(copies), chance.choice(["ask", "keep words", "leave out"])),
        ]
    )()


@settings(max_examples=examples(40), deadline=None)
@given(st.integers(0, 10**6))
def test_random_sequences_keep_the_job_whole_and_undo_restores_it_byte_for_byte(seed: int) -> None:
    chance = random.Random(seed)
    workspace = poured(14, seed=seed % 5 + 1, width=300.0, height=400.0)
    before, undo = job_to_json(workspace.job), []
    for step in range(14):
        was = job_to_json(workspace.job)
        try:
            undo.append(workspace.do(any_intent(workspace, chance)))  # type: ignore[arg-type]
        except LexigonError:
            assert job_to_json(workspace.job) == was, "a refused operation changes nothing"
            continue
        check(workspace.job)
        assert job_to_json(job_from_json(job_to_json(workspace.job))) == job_to_json(workspace.job)
        assert shape(workspace.composition) == shape(Composition(workspace.job))
        assert not paged(workspace.composition)
        standing = {frame.id: frame.story for page in workspace.job.pages for frame in page.frames}
        for story in workspace.job.stories.values():
            assert all(standing.get(frame) == story.id for frame in story.frames), (
                "flows lead only to frames that are there"
            )
        for index, page in enumerate(workspace.job.pages):
            if workspace.job.brief.facing and page.section and page.section.opens != "anywhere":
                assert workspace.job.brief.side(index) == page.section.opens
        display = Display(workspace.composition)
        for index in range(len(workspace.job.pages)) if step % 3 == 1 else ():
            display.page(index)
    for change in reversed(undo):
        workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    assert shape(workspace.composition) == shape(Composition(workspace.job))


def test_page_labels() -> None:
    """Roman numerals by the usual table; letters as ISO 32000-2, table 161: a to z, then aa, bb."""
    assert [numbering.roman(n) for n in (1, 4, 9, 14, 40, 90, 400, 1994, 3999)] == [
        "i",
        "iv",
        "ix",
        "xiv",
        "xl",
        "xc",
        "cd",
        "mcmxciv",
        "mmmcmxcix",
    ]
    assert [numbering.letters(n) for n in (1, 26, 27, 28, 52, 53)] == ["a", "z", "aa", "bb", "zz", "aaa"]
    workspace = Workspace(book())
    workspace.do(do.AddPages(1, 9, "text"))
    ids = [page.id for page in workspace.job.pages]
    workspace.do(do.PutSection(ids[0], Section("Front matter", 1, "i")))
    workspace.do(do.PutSection(ids[4], Section("The birds", 1, "1")))
    workspace.do(do.PutSection(ids[8], Section("Notes", None, "1", "N-")))
    assert numbering.labels(workspace.job) == ["i", "ii", "iii", "iv", "1", "2", "3", "4", "N-5", "N-6"]
    assert numbering.section_length(workspace.job, 5) == 4
    workspace.do(do.DeletePages((ids[4],)))
    assert numbering.labels(workspace.job)[3:6] == ["iv", "1", "2"], "the section begins on the next page"
    workspace.do(do.NumberPages((ids[1],), False))
    shown = [workspace.composition.values.value(Anchor("page"), index, lambda *_: "") for index in (1, 2)]
    assert shown == ["", "iii"]


def test_a_section_that_opens_on_a_recto_gets_its_blank_and_loses_it_again() -> None:
    workspace = Workspace(book())
    workspace.do(do.AddPages(1, 3, "text"))
    ids = [page.id for page in workspace.job.pages]
    workspace.do(do.PutSection(ids[3], Section("Part", opens="recto")))
    assert [page.filler for page in workspace.job.pages] == [False, False, False, True, False]
    workspace.do(do.MovePages((ids[0],), len(workspace.job.pages)))
    assert [page.id for page in workspace.job.pages] == [ids[1], ids[2], ids[3], ids[0]], "no blank is needed any more"
    workspace.do(do.ChangeBrief(replace(workspace.job.brief, facing=False)))
    assert not any(page.filler for page in workspace.job.pages)


def test_frames_keep_their_distance_from_the_spine_when_their_page_changes_sides() -> None:
    workspace = Workspace(book())
    workspace.do(do.AddPages(1, 2, "text"))
    page = workspace.job.pages[1]
    workspace.do(do.AddTextFrame(page.id, Rect(45, 100, 200, 100), text="At the outer margin"))
    workspace.do(do.MovePages((page.id,), 0))
    (frame,) = workspace.job.pages[0].frames
    assert frame.rect == Rect(63, 100, 200, 100), "verso margins are 45 outer, 63 inner; recto the other way round"


def test_masters_based_on_each_other_show_and_take_over() -> None:
    workspace = Workspace(book())
    job = workspace.job
    workspace.do(do.AddMaster("Opening", "text"))
    opening = next(m for m in job.masters.values() if m.name == "Opening")
    workspace.do(do.ApplyMaster(opening.id, which="all"))
    assert text_of(workspace, 0, "Folio") == "1"
    folio = next(f for f, _ in job.master_frames(opening.id, "recto") if f.name == "Folio")
    workspace.do(do.ChangeFrame(f"master:{opening.id}:recto", folio.id, rect=Rect(10, 10, 50, 20)))
    rects = [f.rect for f in Display(workspace.composition).page(0).frames if f.frame.name == "Folio"]
    assert rects == [Rect(10, 10, 50, 20)], "taken over by the derived master, the base's is not shown beside it"
    with pytest.raises(LexigonError, match="based on itself"):
        workspace.do(do.ChangeMaster("text", rebase=True, based_on=opening.id))
    with pytest.raises(LexigonError, match="is used by 1 page"):
        workspace.do(do.RemoveMaster(opening.id))
    workspace.do(do.RemoveMaster(opening.id, "text", sure=True))
    assert job.pages[0].master == "text"


def test_a_change_to_a_master_shows_on_all_its_pages_and_a_page_can_take_an_element_over() -> None:
    workspace = poured(40)
    half = workspace.job.masters["text"].verso
    head = next(f for f in half if f.name == "Running head")
    story = workspace.job.stories[head.story or ""]
    workspace.do(do.ReplaceText(story.id, do.Place("^", 0), do.Place("^", 0), "Draft of "))
    shown = [i for i in range(len(workspace.job.pages)) if text_of(workspace, i, "Running head")]
    assert shown
    assert all(text_of(workspace, i, "Running head").startswith("Draft of") == bool(i % 2) for i in shown)
    first, second = [i for i in shown if i % 2][:2]
    workspace.do(do.TakeOver(workspace.job.pages[first].id, head.id))
    own = workspace.job.pages[first].frames[0]
    workspace.do(
        do.ReplaceText(
            own.story or "",
            do.Place("^", 0),
            do.Place(workspace.job.stories[own.story or ""].paragraphs[0].id, 8),
            "Proof",
        )
    )
    assert text_of(workspace, first, "Running head").startswith("Proof")
    assert text_of(workspace, second, "Running head").startswith("Draft of")
    workspace.do(do.RemoveFrame(workspace.job.pages[first].id, own.id))
    assert text_of(workspace, first, "Running head").startswith("Draft of"), "given back"


def test_a_master_made_from_a_page() -> None:
    workspace = Workspace(book())
    page = workspace.job.pages[0].id
    workspace.do(do.AddTextFrame(page, Rect(63, 100, 200, 40), text="Notice"))
    before = text_of(workspace, 0)
    whole = plain(workspace.job.pages)
    workspace.do(do.MasterFromPage(page, "A copy"))
    assert plain(workspace.job.pages) == whole, "the page keeps what stands on it"
    copied = next(m for m in workspace.job.masters.values() if m.name == "A copy")
    workspace.do(do.RemoveMaster(copied.id))
    assert plain(workspace.job.pages) == whole
    workspace.do(do.MasterFromPage(page, "Notice", inherited=True, use=True))
    made = next(m for m in workspace.job.masters.values() if m.name == "Notice")
    assert workspace.job.pages[0].master == made.id
    assert workspace.job.pages[0].frames == ()
    assert sorted(text_of(workspace, 0).split()) == sorted(before.split())
    assert {f.name for f in made.recto} >= {"Folio", "Running head"}
    mirrored = next(f for f in made.verso if f.rect and f.rect.y == 100)
    assert mirrored.rect == Rect(45, 100, 200, 40)


def test_bringing_in_masters_of_a_job_with_other_pages() -> None:
    from_, workspace = book(), Workspace(book(width=500.0, height=700.0))
    masters = (replace(from_.masters["text"], name="House"),)
    workspace.do(
        do.BringMasters(masters, tuple(from_.stories.values()), tuple(from_.paragraph_styles.values()), from_.brief)
    )
    brought = next(m for m in workspace.job.masters.values() if m.name == "House")
    assert brought.margins is None, "the margins are the same"
    workspace.do(do.ApplyMaster(brought.id, which="all"))
    assert text_of(workspace, 0, "Folio") == "1"
    # A table that stands on one comes with its style.
    source = Workspace(from_)
    folio = source.job.masters["text"].recto[2].story or ""
    source.do(do.AddTable(folio, do.Place("$", 0), words="a\tb"))
    (table,) = source.job.tables.values()
    source.job.table_styles["counts"] = TableStyle("counts", "Counts")
    source.job.tables[table.id] = replace(table, style="counts")
    stories, styles = tuple(source.job.stories.values()), tuple(source.job.table_styles.values())
    workspace.do(do.BringMasters(masters, stories, (), from_.brief, (), (), tuple(source.job.tables.values()), styles))
    (brought_table,) = workspace.job.tables.values()
    assert brought_table.id != table.id
    assert brought_table.style in workspace.job.table_styles
    check(workspace.job)
    small = Workspace(book())
    small.job.brief = replace(small.job.brief, width=110.0, height=120.0, margins=Edges(10, 10, 10, 10))
    with pytest.raises(LexigonError, match="leave no room on a page of"):
        small.do(do.BringMasters(masters, tuple(from_.stories.values()), (), from_.brief))


def test_standing_copy_is_changed_once_and_shown_everywhere() -> None:
    workspace = Workspace(book())
    workspace.do(do.PutCopy("House", "The Observatory"))
    (copy,) = workspace.job.copies.values()
    workspace.do(do.ReplaceText("main", do.Place("^", 0), do.Place("^", 0), "Published by , Merrowick."))
    workspace.do(
        do.InsertField(
            "main", *[do.Place(workspace.job.stories["main"].paragraphs[0].id, 13)] * 2, Anchor("copy", copy.id)
        )
    )
    folio = workspace.job.masters["text"].recto[2].story or ""
    workspace.do(do.InsertField(folio, do.Place("^", 0), do.Place("^", 0), Anchor("copy", copy.id)))
    assert text_of(workspace, 0, "Main text") == "Published by The Observatory, Merrowick."
    workspace.do(do.PutCopy("House", "The Saltmarsh Observatory", copy.id))
    assert text_of(workspace, 0, "Main text") == "Published by The Saltmarsh Observatory, Merrowick."
    assert text_of(workspace, 0, "Folio") == "The Saltmarsh Observatory1"
    with pytest.raises(LexigonError, match="used in 2 places"):
        workspace.do(do.RemoveCopy(copy.id))
    change = workspace.do(do.RemoveCopy(copy.id, "keep words"))
    assert workspace.job.stories["main"].paragraphs[0].text == "Published by The Saltmarsh Observatory, Merrowick."
    assert shape(workspace.composition) == shape(Composition(workspace.job))
    workspace.run(change.inverse)
    assert workspace.job.copies


def test_places_in_a_text_with_standing_copy_are_counted_in_its_own_characters() -> None:
    workspace = Workspace(book())
    workspace.do(do.PutCopy("Long", words(60)))
    (copy,) = workspace.job.copies.values()
    workspace.do(do.ReplaceText("main", do.Place("^", 0), do.Place("^", 0), "ab"))
    workspace.do(
        do.InsertField(
            "main", *[do.Place(workspace.job.stories["main"].paragraphs[0].id, 1)] * 2, Anchor("copy", copy.id)
        )
    )
    frame = next(f for f in Display(workspace.composition).page(0).frames if f.frame.main)
    assert len(frame.lines) > 3
    runs = [run for line in frame.lines for run in line.runs]
    assert [(run.start, run.end, run.field) for run in runs if not run.field] == [(0, 1, False), (2, 3, False)]
    assert runs[1].start == 1
    assert all((run.start, run.end) == (2, 2) for run in runs[2:-1]), "the copy goes on behind its one character"
    assert frame.lines[-1].end == 3


@pytest.mark.parametrize(
    ("form", "language", "text"),
    [
        ("d MMMM yyyy", "en-GB", "5 March 2027"),
        ("EEEE, d MMMM yyyy", "de-DE", "Freitag, 5. März 2027".replace("5.", "5")),
        ("d.M.yyyy", "de-DE", "5.3.2027"),
        ("MMMM yyyy", "fr", "mars 2027"),
        ("yyyy-MM-dd", "xx-nowhere", "2027-03-05"),
    ],
)
def test_dates_by_the_patterns_of_ldml(form: str, language: str, text: str) -> None:
    """Unicode Technical Standard 35, part 4; the weekday by any calendar of 2027."""
    assert written_date(datetime.date(2027, 3, 5), form, language) == text


def test_running_heads_from_the_first_or_last_paragraph_of_a_style() -> None:
    workspace = poured(60)
    running = workspace.composition.running
    rows = headings(workspace.job, workspace.composition.main, "body")
    page = next(row.page for row in rows if sum(other.page == row.page for other in rows) > 1)
    here = [row.text for row in rows if row.page == page]
    assert running.title(Anchor("heading", "body", "first"), page) == here[0]
    assert running.title(Anchor("heading", "body", "last"), page) == here[-1] != here[0]
    chapter = next(row for row in running.all if row.style == "chapter")
    assert running.title(Anchor("heading", "chapter"), chapter.page + 1) == chapter.text, "in force from before"
    assert running.title(Anchor("heading", "part"), 0) == ""


def test_a_cover_that_grows_with_its_pages_moves_what_stands_on_its_panels() -> None:
    cover = Cover(432, 648, 150)
    brief = forms.sized(
        replace(book().brief, paper="white", form=cover, safe=36.0, margins=Edges(36, 36, 36, 36)), PAPERS
    )
    job = book()
    job.brief, job.papers, job.main_story = brief, dict(PAPERS), None
    workspace = Workspace(job)
    spine, front = (p.rect for p in sheets.panels_of(brief, PAPERS)[1:])
    page = job.pages[0].id
    workspace.do(do.AddTextFrame(page, Rect(100, 100, 200, 50), text="back"))
    workspace.do(do.AddTextFrame(page, spine, text="spine"))
    workspace.do(do.AddTextFrame(page, Rect(front.x + 50, 100, 300, 80), text="front"))
    workspace.do(do.AddTextFrame(page, Rect(front.x, -9, front.width + 9, 666), text="front, full bleed"))
    grown = forms.sized(replace(brief, form=replace(cover, pages=300)), PAPERS)
    moves = forms.panel_moves(brief, grown, PAPERS, 1)
    workspace.do(do.ChangeBrief(grown, anchor="panels", panels=moves))
    more = 150 * PAPERS["white"].page
    back, on_spine, on_front, full = [f.rect for f in job.pages[0].frames]
    assert back == Rect(100, 100, 200, 50)
    assert (on_spine.x, on_spine.width) == (pytest.approx(spine.x), pytest.approx(spine.width + more))  # type: ignore[union-attr]
    assert on_front.x == pytest.approx(front.x + 50 + more)  # type: ignore[union-attr]
    assert (full.x, full.right) == (pytest.approx(front.x + more), pytest.approx(grown.width + 9))  # type: ignore[union-attr]


def test_guides_follow_the_page() -> None:
    workspace = Workspace(book())
    page = workspace.job.pages[0]
    workspace.job.pages[0] = replace(page, guides=(Guide("x", 100.0), Guide("y", 200.0)))
    workspace.do(do.ChangeMaster("text", guides=(Guide("x", 90.0),)))
    workspace.do(do.ChangeBrief(replace(workspace.job.brief, width=864.0, height=1296.0), anchor="scale"))
    assert workspace.job.masters["text"].guides == (Guide("x", 180.0),)
    assert [g.at for g in workspace.job.pages[0].guides] == [200.0, 400.0]


@pytest.mark.parametrize(
    ("intent", "says"),
    [
        (do.DeletePages(("all",)), "no longer in the job"),
        (do.ApplyMaster("text", which="range", range="9-3"), "backwards"),
        (do.ApplyMaster("nothing", which="all"), "no longer in the job"),
        (do.AddPages(0, 2001), "2,000 pages at a time"),
        (do.ChangeMaster("text", margins=Edges(400, 400, 10, 10)), "leave no room"),
        (do.MovePages((), 0), "no longer in the job"),
        (do.RemoveMaster("text", "text", True), "another master page"),
        (do.PutCopy("", "x"), "Type a name for the standing copy"),
    ],
)
def test_what_cannot_be_done_is_said_in_plain_words(intent: do.Intent, says: str) -> None:
    workspace = Workspace(book())
    before = job_to_json(workspace.job)
    with pytest.raises(LexigonError, match=says):
        workspace.do(intent)
    assert job_to_json(workspace.job) == before


def test_the_last_page_cannot_be_deleted_and_two_thousand_can_be_added() -> None:
    workspace = Workspace(book())
    with pytest.raises(LexigonError, match="at least one page"):
        workspace.do(do.DeletePages((workspace.job.pages[0].id,)))
    workspace.do(do.AddPages(1, 2000, "text"))
    assert len(workspace.job.pages) == 2001
