"""Several records on a page: entries in rows, groups and columns, of different heights, over pages."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest

from demo.pieces import MM
from demo.prices import FIELDS, price_list
from lexigon.core.document.consistency import check
from lexigon.core.document.model import Job, Object, Pose, RecordSet, all_in, bounds_of, exchanged
from lexigon.core.editing.intents import AddShape, ChangeFrame, RepeatObject
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.merge.merger import Merger
from lexigon.core.merge.model import Records
from lexigon.core.merge.repeating import RepeatedPages, repeated_job
from lexigon.core.merge.restacking import restacked
from lexigon.core.merge.storage import record_set

LONG = "It keeps, dries, folds, floats, and is returned without question within a year and a day. " * 2
GAP = 2 * MM


def listed(tmp_path: Path, *rows: tuple[str, str, str, str], pages: str = "") -> Merger:
    """The price list with other articles, whose remarks may be of any length."""
    workspace = Workspace(price_list())
    job = workspace.job
    page = job.pages[0]
    article = next(one for one in all_in(page.objects) if one.name == "Article")
    workspace.do(ChangeFrame(page.id, article.id, fit="height"))
    if pages == "facing":
        job.brief = replace(job.brief, facing=True, margins=replace(job.brief.margins, inner=20.0, outer=10.0))
        workspace = Workspace(job)
    (own,) = job.record_sets
    records, files = record_set(own, "Articles", Records(FIELDS, rows))
    former: RecordSet = job.record_sets[own]
    job.record_sets[own] = replace(former, files=records.files, count=records.count)
    for name, content in files.items():
        (tmp_path / name).write_bytes(content)
    return Merger(job, job.record_sets[own], tmp_path.joinpath)


def entries(job: Job, page: int) -> list[tuple[Object, Rect]]:
    return [
        (one, box)
        for one in job.pages[page].objects
        if one.group is not None and (box := bounds_of((one,))) is not None
    ]


def test_a_row_is_as_high_as_its_highest_entry(tmp_path: Path) -> None:
    rows = [("s", f"A {n}", LONG if n == 1 else "short", "1") for n in range(6)]
    merger = listed(tmp_path, *rows)
    made = repeated_job(merger, merger.numbers(), "x")
    check(made)
    boxes = [box for _, box in entries(made, 0)]
    assert len(boxes) == 6
    assert boxes[1].height > boxes[0].height + 10
    assert boxes[0].y == pytest.approx(boxes[1].y)
    assert boxes[2].y == pytest.approx(boxes[1].foot + GAP, abs=0.02)
    assert boxes[4].y == pytest.approx(boxes[3].foot + GAP, abs=0.02)
    workspace = Workspace(made, tmp_path.joinpath)
    assert not any(flow.overset for flow in workspace.composition.flows.values())
    for one, _ in entries(made, 0):
        objects = {each.name: box for each in all_in((one,)) if (box := bounds_of((each,)))}
        rule = next(box for name, box in objects.items() if name not in ("Entry", "Article", "Price"))
        assert rule.y >= objects["Article"].foot - 0.02, "the rule is below the text"


def headings(job: Job) -> list[list[str]]:
    """The headings on each page, from the top."""
    pages = []
    for page in job.pages:
        own = [one for one in page.objects if one.group is None and one.name == "Shelf" and one.rect]
        own.sort(key=lambda one: one.rect.y if one.rect else 0)
        pages.append([job.stories[one.story or ""].paragraphs[0].text for one in own])
    return pages


def test_the_heading_of_a_group_is_shown_once_or_on_each_of_its_pages(tmp_path: Path) -> None:
    rows = [("one" if n < 70 else "two", f"A {n}", "short", "1") for n in range(90)]
    merger = listed(tmp_path, *rows)
    once = headings(repeated_job(merger, merger.numbers(), "x"))
    assert [name for page in once for name in page] == ["one", "two"]
    merger.reset()
    page = merger.job.pages[0]
    group = next(one for one in page.objects if one.repeat is not None)
    assert group.repeat is not None
    on_each = replace(group.repeat, heading_on_each_page=True)
    workspace = Workspace(merger.job)
    workspace.do(RepeatObject(page.id, group.id, on_each))
    merger = Merger(workspace.job, next(iter(workspace.job.record_sets.values())), tmp_path.joinpath)
    made = repeated_job(merger, merger.numbers(), "x")
    check(made)
    each = headings(made)
    assert len(each) >= 3
    assert [page[0] for page in each] == ["one"] * (len(each) - 1) + [each[-1][0]]
    assert sum(page.count("two") for page in each) >= 1
    for index in range(len(made.pages)):
        area = made.text_area(index)
        boxes = [box for _, box in entries(made, index)]
        (heading, *_) = (one.rect for one in made.pages[index].objects if one.name == "Shelf" and one.rect)
        assert heading.y == pytest.approx(area.y, abs=0.1) or index == 0
        assert all(box.y >= heading.foot and box.foot <= area.foot + 0.02 for box in boxes)


def test_high_entries_take_more_pages_and_none_leaves_the_margins(tmp_path: Path) -> None:
    few, many = (
        listed(tmp_path, *[(f"s{n // 8}", f"A {n}", remark, "1") for n in range(24)]) for remark in ("short", LONG)
    )
    jobs = [repeated_job(one, one.numbers(), "x") for one in (few, many)]
    assert len(jobs[0].pages) < len(jobs[1].pages)
    for job in jobs:
        for index in range(len(job.pages)):
            area = job.text_area(index)
            boxes = [box for one in job.pages[index].objects if (box := bounds_of((one,)))]
            assert all(box.foot <= area.foot + 0.1 and box.right <= area.right + 0.1 for box in boxes)
            assert not any(a.overlaps(b, 0.1) for n, a in enumerate(boxes) for b in boxes[n + 1 :])


def test_entries_on_left_pages_keep_their_distance_from_the_margin(tmp_path: Path) -> None:
    merger = listed(tmp_path, *[("s", f"A {n}", LONG, "1") for n in range(30)], pages="facing")
    made = repeated_job(merger, merger.numbers(), "x")
    indents = {
        round(min(box.x for _, box in entries(made, index)) - made.text_area(index).x, 2)
        for index in range(len(made.pages))
    }
    assert len(made.pages) > 1
    assert len(indents) == 1
    assert made.text_area(0).x != made.text_area(1).x


def test_pages_are_filled_as_far_as_they_are_needed(tmp_path: Path) -> None:
    rows = [(f"s{n % 3}", f"A {n}", LONG if n % 4 else "short", "1") for n in range(40)]
    merger = listed(tmp_path, *rows)
    whole = repeated_job(merger, merger.numbers(), "x")
    pages = RepeatedPages(merger, merger.numbers())
    assert not pages.fill(1)
    assert len(pages.sheets) == 2
    first = [box for _, box in entries(pages.finished("x"), 0)]
    assert first == [box for _, box in entries(whole, 0)]
    assert len(pages.sheets[0].boxes) == len(first)
    assert pages.fill()
    assert [box for _, box in entries(pages.finished("x"), -1)] == [box for _, box in entries(whole, -1)]
    assert sorted(number for sheet in pages.sheets for number in sheet.boxes) == list(range(40))


def test_the_page_of_a_record_is_filled_and_no_more(tmp_path: Path) -> None:
    merger = listed(tmp_path, *[("s", f"A {n}", "short", "1") for n in range(60)])
    pages = RepeatedPages(merger, merger.numbers())
    assert (pages.page_with(0, 9), len(pages.sheets)) == (0, 2)
    per_page = len(pages.sheets[0].boxes)
    assert (pages.page_with(per_page + 1, 9), len(pages.sheets)) == (1, 3)
    assert pages.page_with(1, 9) == 0
    assert pages.page_with(59, 2) is None, "further pages are not filled"
    assert pages.page_with(59, 99) == len(pages.sheets) - 1
    assert pages.page_with(60, 99) is None
    for sheet in pages.sheets:
        for number, box in sheet.boxes.items():
            entry = next(
                b for o in sheet.objects if (b := bounds_of((o,))) and abs(b.x - box.x) + abs(b.y - box.y) < 0.1
            )
            assert entry.foot <= box.foot + 0.1, number


def test_what_is_below_a_frame_moves_and_what_surrounds_it_grows(tmp_path: Path) -> None:
    """The boxes are those of block layout (CSS 2.1, section 9.4.1), calculated by hand."""
    workspace = Workspace(price_list())
    page = workspace.job.pages[0].id
    boxes = {
        "ground": Rect(100, 300, 100, 80),
        "below": Rect(110, 350, 50, 10),
        "beside": Rect(165, 350, 20, 10),
        "last": Rect(110, 365, 50, 10),
    }
    for box in boxes.values():
        workspace.do(AddShape(page, box))
    shapes = dict(zip(boxes, workspace.job.pages[0].objects[-4:], strict=True))
    text = next(one for one in all_in(workspace.job.pages[0].objects) if one.name == "Article")
    assert text.text is not None
    frame = replace(text, place=Pose(Rect(110, 310, 50, 30)), content=replace(text.text, fit="height"))
    group = next(one for one in workspace.job.pages[0].objects if one.group is not None)
    design = group.holding((shapes["ground"], frame, shapes["below"], shapes["beside"], shapes["last"]))
    for growth in (25.0, -12.0):
        (own,) = exchanged((design,), {frame.id: (frame.at(Rect(110, 310, 50, 30 + growth)),)})
        entry = restacked(design, own)
        found = {one.id: bounds_of((one,)) for one in all_in((entry.object,))}
        assert entry.growth == growth
        assert found[shapes["ground"].id] == Rect(100, 300, 100, 80 + growth)
        assert found[shapes["below"].id] == Rect(110, 350 + growth, 50, 10)
        assert found[shapes["beside"].id] == Rect(165, 350, 20, 10)
        assert found[shapes["last"].id] == Rect(110, 365 + growth, 50, 10)


def test_an_entry_without_frames_that_fit_their_text_is_what_the_record_sets() -> None:
    (group,) = (one for one in price_list().pages[0].objects if one.group is not None)
    assert restacked(group, group).object is group
