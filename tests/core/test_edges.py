"""Words that would not be read: off the page, across folds, near edges, under the bar code; pictures wider than their
column."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lexigon.core.brief.forms import bar_code_area, safe_area
from lexigon.core.brief.kinds import defaults
from lexigon.core.brief.setup import read_setup
from lexigon.core.check.findings import count_at_once, findings_of
from lexigon.core.check.fixes import intents_for
from lexigon.core.document.forms.sheets import panels_of
from lexigon.core.editing.intents import AddInlay, AddTextFrame, ChangeBrief, ChangeFrame, Place
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.wide_frames import scaled_to_columns, too_wide
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.core.helpers import book


def kinds(workspace: Workspace) -> list[str]:
    wanted = {
        "words off the page",
        "words cut off",
        "words across a fold",
        "words near an edge",
        "words under the bar code",
    }
    return [one.kind for one in findings_of(workspace.composition) if one.kind in wanted]


def sheet(kind: str) -> Workspace:
    setup, problems = read_setup({**defaults(kind), "name": "Sheet"})
    assert setup is not None, problems
    return Workspace(setup.new_job())


@pytest.mark.parametrize(
    ("rect", "rotation", "kind"),
    [
        (Rect(50, -40, 200, 60), 0.0, ["words off the page"]),  # two lines above the trim, their frame half on the page
        (Rect(50, 60, 200, 60), 0.0, []),
        (Rect(-20, 60, 200, 60), 0.0, ["words cut off"]),
        (Rect(-60, 60, 200, 60), 180.0, []),  # rotated, its words are on the page
    ],
)
def test_lines_off_the_page_are_found_though_their_frame_is_on_it(rect: Rect, rotation: float, kind: list[str]) -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    before = count_at_once(workspace.composition)
    workspace.do(AddTextFrame(page, rect, text="Low water\\u2028at noon".replace("\\\\u2028", "\\u2028")))
    frame = workspace.job.pages[0].objects[-1].id
    workspace.do(ChangeFrame(page, frame, rotation=rotation))
    assert kinds(workspace) == kind
    assert count_at_once(workspace.composition) == before + len(kind), "and at once, on the strip"


def test_words_on_a_cover_that_a_fold_an_edge_or_the_bar_code_endangers() -> None:
    workspace = sheet("cover")
    page, width = workspace.job.pages[0].id, workspace.job.page_size(0)[0]
    assert kinds(workspace) == []
    workspace.do(
        AddTextFrame(
            page, Rect(width / 2 - 150, 100, 300, 40), text="Birds of the Merrow Flats, a field guide to the coast"
        )
    )
    assert kinds(workspace) == ["words across a fold"]
    workspace.do(AddTextFrame(page, Rect(4, 200, 100, 40), text="Near"))
    assert kinds(workspace) == ["words across a fold", "words near an edge"]
    area = bar_code_area(workspace.job.brief, workspace.job.papers)
    assert area is not None
    workspace.do(AddTextFrame(page, Rect(area.x + 4, area.y + 4, 80, 30), text="Under"))
    assert kinds(workspace) == ["words across a fold", "words near an edge", "words under the bar code"]


def test_pictures_that_a_smaller_trim_makes_wider_than_the_column_are_scaled_to_it_in_one_step() -> None:
    """6 x 9 in becomes 5 x 8 in: pictures of 4 in stay in a column of 3.5 in."""
    workspace = Workspace(book(facing=False, width=432.0))
    story = workspace.job.main_story or ""
    column = workspace.job.text_area(0).width
    for n in range(6):
        workspace.do(AddInlay(story, Place("^", 0), Place("^", 0), column - 2, 40.0 + n, f"Plate {n}"))
    assert not too_wide(workspace.composition)
    brief = workspace.job.brief
    workspace.do(ChangeBrief(replace(brief, width=brief.width - 72), (), workspace.job.name))
    narrow = workspace.job.text_area(0).width
    (finding,) = [one for one in findings_of(workspace.composition) if one.kind == "wider than the column"]
    assert (finding.text, finding.fix) == (
        "6 objects in the text are wider than the column: scale them to it.",
        "scale to column",
    )
    before = job_to_json(workspace.job)
    change = workspace.do(scaled_to_columns(workspace.composition))
    assert {one.rect.width for one in workspace.job.inlays.values() if one.rect} == {narrow}
    heights = sorted(one.rect.height for one in workspace.job.inlays.values() if one.rect)
    assert heights == pytest.approx([(40.0 + n) * narrow / (column - 2) for n in range(6)])
    assert not too_wide(workspace.composition)
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before


def fixed(workspace: Workspace, fix: str) -> None:
    workspace.do(*intents_for(fix, workspace.composition))
    assert not any(one.fix == fix for one in findings_of(workspace.composition))
    assert intents_for(fix, workspace.composition) == []


def test_frames_are_moved_onto_the_page_and_into_the_safe_zone_in_one_step() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    width, height = workspace.job.page_size(0)
    for rect in (Rect(50, -40, 200, 60), Rect(width - 50, height - 20, 200, 60), Rect(-50, 300, width + 90, 40)):
        workspace.do(AddTextFrame(page, rect, text="Low water at noon, and again at midnight, over all the flats"))
    workspace.do(AddTextFrame(page, Rect(60, 150, 200, 60), text="This one is on the page"))
    still = workspace.job.pages[0].objects[-1]
    before = job_to_json(workspace.job)
    (fix,) = {
        one.fix for one in findings_of(workspace.composition) if one.kind in ("words off the page", "words cut off")
    }
    fixed(workspace, fix)
    rects = [one.rect for one in workspace.job.pages[0].objects]
    assert rects[0] == Rect(50, 0, 200, 60)
    assert rects[1] == Rect(width - 200, height - 60, 200, 60)
    assert rects[2] == Rect(0, 300, width, 40), "one that is too wide is made narrower"
    assert workspace.job.pages[0].objects[-1] == still
    assert job_to_json(workspace.job) != before
    cover = sheet("cover")
    panel = next(one for one in panels_of(cover.job.brief, cover.job.papers, 0) if one.name == "front")
    safe = safe_area(panel, cover.job.brief.safe)
    assert safe is not None
    cover.do(
        AddTextFrame(cover.job.pages[0].id, Rect(safe.right - 100, 80, 130, 60), text="A title by the very edge of it")
    )
    (found,) = [one for one in findings_of(cover.composition) if one.kind == "words near an edge"]
    fixed(cover, found.fix)
    assert cover.job.pages[0].objects[-1].rect == Rect(safe.right - 130, 80, 130, 60)
