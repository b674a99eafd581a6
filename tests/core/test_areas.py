"""Text round obstacles and in outlines, across and balanced over columns, and where it stands: against shapely and
sums."""

from __future__ import annotations

import random
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, Polygon, box

from lexigon.core.document.model import FrameSpec, Job, ListMark, Object, Outline, Paragraph, ParaSpec, Wrap
from lexigon.core.editing.intents import AddShape, AddTextFrame, ChangeFrame, PourText, ReplaceText
from lexigon.core.editing.intents.text.words import Place
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.obstacles import grown
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect, ellipse_in, joined, touched, within
from lexigon.core.paint.display import Display
from lexigon.core.paint.page import FrameArt, LineArt
from tests.core.helpers import book, examples, paragraphs, shape, words

coordinates = st.tuples(st.floats(0, 100), st.floats(0, 100))


@settings(max_examples=200, deadline=None)
@given(st.lists(coordinates, min_size=3, max_size=9), st.floats(-5, 100), st.floats(0.5, 30))
def test_bands_equal_shapelys(points: list[tuple[float, float]], y0: float, height: float) -> None:
    """What a band touches of a polygon, and where all of it lies inside, by another library's geometry."""
    shape = Polygon(points)
    if not shape.is_valid or shape.area < 1:
        return
    y1 = y0 + height
    band = box(-10, y0, 110, y1)
    polygon = tuple(points)
    found = shape.intersection(band)
    projections = joined([(g.bounds[0], g.bounds[2]) for g in getattr(found, "geoms", [found]) if g.area > 0])
    ours = touched(polygon, y0, y1)
    assert sum(b - a for a, b in ours) == pytest.approx(sum(b - a for a, b in projections), abs=0.01)
    for a, b in within(polygon, y0, y1):
        if b - a > 0.02:
            assert shape.buffer(1e-6).contains(box(a + 0.01, y0 + 1e-6, b - 0.01, y1 - 1e-6))
    for x in (10.0, 37.0, 64.0, 91.0):
        line = LineString([(x, y0), (x, y1)])
        if shape.buffer(-0.05).contains(line):
            assert any(a <= x <= b for a, b in within(polygon, y0, y1))


def test_offsets_of_an_outline_are_as_far_off_as_asked() -> None:
    ring = Polygon(grown(ellipse_in(Rect(0, 0, 100, 60)), 9.0))
    inner = Polygon(ellipse_in(Rect(0, 0, 100, 60)))
    for x, y in ring.exterior.coords:
        assert inner.distance(LineString([(x, y), (x, y + 1e-9)])) == pytest.approx(9, abs=0.15)


def main_frame(workspace: Workspace, page: int = 0) -> FrameArt:
    return next(f for f in Display(workspace.composition).page(page).frames if f.frame.main)


def with_frame(job: Job, frame: Object, page: int = 0) -> None:
    job.pages[page] = replace(job.pages[page], objects=(*job.pages[page].objects, frame))


def boxes_of(line: LineArt) -> Polygon:
    return box(
        line.runs[0].x, line.baseline - line.ascent, line.runs[-1].x + line.runs[-1].width, line.baseline + line.descent
    )


@pytest.mark.parametrize("sides", ["both", "left", "right", "largest", "jump"])
@pytest.mark.parametrize("outline", [None, Outline(), Outline("polygon", ((0.5, 0.0), (1.0, 1.0), (0.0, 0.7)))])
def test_no_line_touches_what_it_goes_round(sides: str, outline: Outline | None) -> None:
    job = book(facing=False)
    rect = Rect(150, 200, 120, 130)
    with_frame(job, shape("o", rect, outline, wrap=Wrap(sides, (8.0,) * 4, outline=outline is not None)))  # type: ignore[arg-type]
    workspace = Workspace(job)
    workspace.do(PourText("main", paragraphs(14, 5)))
    ground = (
        box(142, 192, 278, 338)
        if outline is None
        else Polygon(
            grown(
                ellipse_in(rect)
                if outline.kind == "ellipse"
                else tuple((150 + u * 120, 200 + v * 130) for u, v in outline.points),
                8.0,
            )
        )
    )
    lines = [line for line in main_frame(workspace).lines if line.runs]
    assert all(boxes_of(line).intersection(ground).area < 0.5 for line in lines)
    beside = [line for line in lines if line.baseline > 200 and line.baseline - line.ascent < 330]
    assert bool(beside) == (sides != "jump" or outline is not None) or outline is not None
    shared = [1 for a, b in pairwise(lines) if a.baseline == b.baseline]
    assert bool(shared) == (sides == "both")
    heights = {
        round((line.baseline - job.brief.grid_start) / job.brief.grid_step, 3) for line in lines if line.paragraph
    }
    assert any(h == int(h) for h in heights)
    whole = "".join(p.text for p in job.stories["main"].paragraphs)
    shown = "".join(
        run.text[: -1 if run.hyphen else None]
        for page in range(len(job.pages))
        for line in main_frame(workspace, page).lines
        for run in line.runs
    )
    assert shown.replace(" ", "").casefold() == whole.replace(" ", "").casefold()  # headings are set in capitals


def test_text_within_an_outline_stays_in_it() -> None:
    job = book(facing=False)
    rect = Rect(80, 100, 240, 300)
    workspace = Workspace(job)
    from lexigon.core.editing.intents import AddTextFrame

    workspace.do(AddTextFrame(job.pages[0].id, rect, text=words(160)))
    frame = job.pages[0].frames[-1]
    job.pages[0] = replace(job.pages[0], objects=(replace(frame, outline=Outline()),))
    workspace = Workspace(job)
    art = next(f for f in Display(workspace.composition).page(0).frames if f.frame.id == frame.id)
    ground = Polygon(ellipse_in(rect)).buffer(0.01)
    assert len(art.lines) > 10
    assert all(ground.contains(boxes_of(line)) for line in art.lines if line.runs)
    assert len({round(line.width) for line in art.lines}) > 5


@pytest.mark.parametrize("seed", range(6))
def test_no_last_line_stands_alone_behind_an_obstacle(seed: int) -> None:
    job = columned()
    for at in range(6):
        if at:
            job.pages.append(replace(job.pages[0], id=f"g{at}", objects=()))
        with_frame(
            job,
            shape(f"o{at}", Rect(120, 380 + seed * 9, 200, 230), Outline(), wrap=Wrap("largest", (6.0,) * 4, True)),
            at,
        )
    workspace = Workspace(job)
    workspace.do(PourText("main", tuple(Paragraph(f"p{n}", "body", words(90, seed * 50 + n)) for n in range(24))))
    flow = workspace.composition.flows["main"]
    ends = 0
    for column in flow.columns:
        for block in column.blocks[:1]:
            count = len(flow.lines(block.paragraph, block.measure, block.base))
            if block.base and block.last_line == count:
                ends += 1
                assert block.last_line - block.first_line > 1
    assert ends > 2


def test_an_inverted_wrap_lets_text_stand_only_inside() -> None:
    job = book(facing=False)
    rect = Rect(90, 100, 260, 320)
    with_frame(job, shape("o", rect, Outline(), wrap=Wrap("both", (4.0,) * 4, True, True)))
    workspace = Workspace(job)
    workspace.do(PourText("main", paragraphs(4, 5)[1:]))
    ground = Polygon(grown(ellipse_in(rect), -4.0)).buffer(0.01)
    lines = [line for line in main_frame(workspace).lines if line.runs]
    assert len(lines) > 8
    assert all(ground.contains(boxes_of(line)) for line in lines)


def test_a_masters_frame_is_gone_round_on_every_page() -> None:
    job = book(facing=False)
    rect = Rect(170, 250, 100, 80)
    master = job.masters["text"]
    job.masters["text"] = replace(master, recto=(*master.recto, shape("o", rect, wrap=Wrap("both", (5.0,) * 4))))
    workspace = Workspace(job)
    workspace.do(PourText("main", paragraphs(30, 5)))
    assert len(job.pages) > 2
    for page in range(len(job.pages)):
        for line in main_frame(workspace, page).lines:
            assert not line.runs or boxes_of(line).intersection(box(166, 246, 274, 334)).area < 0.5


@pytest.mark.parametrize("wraps", [0, 1])
def test_a_column_without_any_room_passes_the_text_on(wraps: int) -> None:
    job = book(facing=False)
    with_frame(job, shape("o", Rect(0, 0, 432, 648), wrap=Wrap("both", outline=bool(wraps))))
    workspace = Workspace(job)
    workspace.do(PourText("main", paragraphs(6, 2)))
    assert not main_frame(workspace, 0).lines
    assert main_frame(workspace, 1).lines


def test_two_frames_that_keep_clear_of_each_other() -> None:
    from lexigon.core.editing.intents import AddTextFrame

    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    for x in (60, 160):
        workspace.do(AddTextFrame(page, Rect(x, 100, 160, 200), text=words(80, x)))
    frames = tuple(f.with_spec(wrap=Wrap("both")) for f in workspace.job.pages[0].frames)
    workspace.job.pages[0] = replace(workspace.job.pages[0], objects=frames)
    arts = {f.frame.id: f for f in Display(Workspace(workspace.job).composition).page(0).frames if not f.frame.main}
    one, two = (arts[f.id] for f in frames)
    assert all(line.runs[-1].x + line.runs[-1].width <= 160.01 for line in one.lines if line.runs)
    assert all(line.runs[0].x >= 219.9 for line in two.lines if line.runs)


def columned(**more: object) -> Job:
    job = book(facing=False)
    master = job.masters["text"]
    job.masters["text"] = replace(
        master,
        recto=tuple(f.with_spec(columns=3, gutter=12.0, **more) if f.main else f for f in master.recto),
    )
    return job


def test_a_heading_across_the_columns_divides_them() -> None:
    job = columned()
    workspace = Workspace(job)
    texts = [Paragraph(f"p{i}", "body", words(50, i)) for i in range(4)]
    across = Paragraph("h", "body", words(9), para=ParaSpec(span=True, align="left"))
    workspace.do(PourText("main", (*texts[:2], across, *texts[2:])))
    lines = main_frame(workspace).lines
    area = job.text_area(0)
    head = [line for line in lines if line.paragraph == "h"]
    assert head[0].width == pytest.approx(area.width)
    above = [line for line in lines if line.paragraph in ("p0", "p1")]
    below = [line for line in lines if line.paragraph in ("p2", "p3")]
    assert max(line.baseline for line in above) < head[0].baseline < min(line.baseline for line in below)
    columns = {round((line.x - area.x) / ((area.width + 12) / 3)) for line in above}
    assert columns == {0, 1, 2}, "the text above is spread over all columns"


def test_split_paragraphs_stand_side_by_side_and_text_goes_on_below() -> None:
    workspace = Workspace(book(facing=False))
    items = tuple(
        Paragraph(f"s{i}", "body", words(6, i), para=ParaSpec(split=3, align="left", indent_first=0.0))
        for i in range(9)
    )
    workspace.do(PourText("main", (Paragraph("pa", "body", words(60)), *items, Paragraph("pz", "body", words(60, 2)))))
    lines = main_frame(workspace).lines
    split = [line for line in lines if line.paragraph.startswith("s")]
    assert len({round(line.x) for line in split}) == 3
    above = max(line.baseline for line in lines if line.paragraph == "pa")
    below = min(line.baseline for line in lines if line.paragraph == "pz")
    assert all(above < line.baseline < below for line in split)
    whole = workspace.job.text_area(0).width
    assert max(line.width for line in split) == pytest.approx((whole - 24) / 3)
    feet = {round(line.x): line.baseline for line in split}
    assert max(feet.values()) - min(feet.values()) <= 2 * 15 + 0.01


def test_balanced_columns_differ_by_a_line_at_most() -> None:
    workspace = Workspace(columned(balanced=True))
    workspace.do(PourText("main", tuple(Paragraph(f"p{i}", "body", words(40, i)) for i in range(5))))
    area = workspace.job.text_area(0)
    feet: dict[int, float] = {}
    for line in main_frame(workspace).lines:
        column = round((line.x - area.x - 8) / ((area.width + 12) / 3))
        feet[column] = max(feet.get(column, 0.0), line.baseline)
    assert len(feet) == 3
    assert max(feet.values()) - min(feet.values()) <= 2 * 15 + 0.01, "keep rules may hold two lines together"


@pytest.mark.parametrize("vertical", ["centre", "bottom", "justified"])
def test_where_text_stands_in_its_frame(vertical: str) -> None:
    from lexigon.core.editing.intents import AddTextFrame, ChangeFrame

    job = book(facing=False)
    job.brief = replace(job.brief, grid_step=0.0)
    workspace = Workspace(job)
    text = "\n".join(words(30, i) for i in range(5))
    workspace.do(AddTextFrame(job.pages[0].id, Rect(60, 60, 200, 216), text=text))
    frame = job.pages[0].frames[-1]
    workspace.do(ChangeFrame(job.pages[0].id, frame.id, vertical=vertical))  # type: ignore[arg-type]
    art = next(f for f in Display(workspace.composition).page(0).frames if f.frame.id == frame.id)
    top = art.lines[0].baseline - art.lines[0].ascent - 60
    foot = 276 - art.lines[-1].baseline - art.lines[-1].descent
    if vertical == "centre":
        assert top == pytest.approx(foot)
    elif vertical == "bottom":
        assert foot == pytest.approx(0)
    else:
        assert top == pytest.approx(0)
        assert foot == pytest.approx(0) or workspace.composition.flows[frame.story or ""].end[0] == 5


@pytest.mark.parametrize(
    ("rule", "at"), [("ascent", 0.0), ("capital", 0.0), ("x-height", 0.0), ("leading", 0.0), ("fixed", 31.0)]
)
def test_the_first_baseline_follows_its_rule(rule: str, at: float) -> None:
    from lexigon.core.editing.intents import AddTextFrame, ChangeFrame

    job = book(facing=False)
    job.brief = replace(job.brief, grid_step=0.0)
    workspace = Workspace(job)
    workspace.do(AddTextFrame(job.pages[0].id, Rect(60, 60, 200, 200), text=words(30)))
    frame = job.pages[0].frames[-1]
    workspace.do(ChangeFrame(job.pages[0].id, frame.id, spec=FrameSpec(first=rule, first_at=at)))  # type: ignore[arg-type]
    line = next(f for f in Display(workspace.composition).page(0).frames if f.frame.id == frame.id).lines[0]
    face = line.runs[0].look.cut.face
    of = {"ascent": face.ascent, "capital": face.cap_height, "x-height": face.x_height}
    wanted = of[rule] * 11 / face.upem if rule in of else {"leading": 15.0, "fixed": 31.0}[rule]
    assert line.baseline == pytest.approx(60 + wanted)


def random_job(seed: int) -> Workspace:
    """Columns, spans, initials, lists and things in the way, at random."""
    chance = random.Random(seed)
    job = columned(balanced=chance.random() < 0.5)
    rect = Rect(120, chance.uniform(80, 400), 150, 120)
    wrap = Wrap(chance.choice(["both", "left", "largest", "jump"]), (6.0,) * 4, outline=True)  # type: ignore[arg-type]
    master = job.masters["text"]
    if chance.random() < 0.7:
        job.masters["text"] = replace(master, recto=(*master.recto, shape("m", rect, Outline(), wrap=wrap)))
    workspace = Workspace(job)
    made = []
    for paragraph in paragraphs(40, seed):
        para = chance.choice(
            [
                None,
                None,
                None,
                ParaSpec(drop_lines=3),
                ParaSpec(span=True),
                ParaSpec(split=2),
                ParaSpec(list=ListMark("number", "#."), indent_left=18.0, indent_first=-18.0),
            ]
        )
        made.append(replace(paragraph, para=para))
    workspace.do(PourText("main", tuple(made)))
    return workspace


def moved(workspace: Workspace, chance: random.Random) -> None:
    """Some frame somewhere else, or made otherwise."""
    pages = [page for page in workspace.job.pages if any(f.rect for f in page.frames)]
    if pages:
        page = chance.choice(pages)
        frame = chance.choice([f for f in page.frames if f.rect])
        assert frame.rect is not None
        rect = replace(frame.rect, x=frame.rect.x + chance.uniform(-60, 60), y=frame.rect.y + chance.uniform(-60, 60))
        wrap = chance.choice([None, None, Wrap(chance.choice(["none", "both", "left", "jump"]), (4.0,) * 4)])
        spec = FrameSpec(columns=chance.choice([None, 1, 2]), wrap=wrap)
        workspace.do(ChangeFrame(page.id, frame.id, rect=rect, spec=spec, rotation=chance.choice([0.0, 12.0])))


def standing(composition: Composition) -> object:
    """Every line of every text with its place, however the paragraph before it was gone on with."""
    found = []
    for flow in composition.flows.values():
        for column in flow.columns:
            for b in column.blocks:
                lines = flow.lines(b.paragraph, b.measure, b.base)[b.first_line : b.last_line]
                rows = [(b.at(b.first_line + n), line.start, line.end, line.ratio) for n, line in enumerate(lines)]
                found.append((column.slot.page, column.slot.frame, column.slot.rect, b.paragraph, rows))
    return found


@settings(max_examples=examples(7), deadline=None)
@given(st.integers(0, 10**6))
def test_going_on_from_a_change_equals_composing_anew(seed: int) -> None:
    workspace = random_job(seed)
    pages = workspace.job.pages
    workspace.do(
        AddShape(pages[0].id, Rect(80, 120, 90, 70), None, FrameSpec(wrap=Wrap("both", (4.0,) * 4))),
        AddTextFrame(pages[-1].id, Rect(100, 300, 160, 60), text=words(60)),
    )
    chance = random.Random(seed + 1)
    for step in range(6):
        story = workspace.job.stories["main"].paragraphs
        p = chance.choice(story)
        at = chance.randint(0, len(p.text))
        text = chance.choice(["x", "more words here ", "\n", ""])
        end = min(at + chance.choice([0, 0, 5, 60]), len(p.text))
        workspace.do(ReplaceText("main", Place(p.id, at), Place(p.id, end), text))
        moved(workspace, chance)
        if step % 2 == 0:  # what goes wrong stays wrong: looked at after every second change, and at the end
            continue
        fresh = Workspace(workspace.job)
        assert len(fresh.job.pages) == len(workspace.job.pages)
        assert standing(workspace.composition) == standing(fresh.composition)
        for page in range(len(workspace.job.pages)) if step == 5 else ():
            a, b = Display(workspace.composition).page(page), Display(fresh.composition).page(page)
            assert [f.lines for f in a.frames] == [f.lines for f in b.frames]
