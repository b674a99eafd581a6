"""Objects on pages: where they stand, groups within groups, layers; what of them is edited, painted and printed."""

from __future__ import annotations

import io
from dataclasses import replace
from datetime import datetime, timezone

import numpy
import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.check.findings import findings_of
from lexigon.core.document.model import (
    Fill,
    Group,
    Job,
    Layer,
    Object,
    Outline,
    Pose,
    all_in,
    bounds_of,
    exchanged,
    frames_in,
)
from lexigon.core.editing import intents as do
from lexigon.core.editing.edits import SpliceLeaves, SpliceObjects, apply_all, object_edits
from lexigon.core.errors import FormError, LexigonError
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Affine, Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.standing import standing
from lexigon.core.paint.svg import svg_of
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from tests.core.helpers import book, shape

WHEN = datetime(2026, 1, 1, tzinfo=timezone.utc)
BLACK = Fill("black")
number = st.floats(-3, 3).filter(lambda v: abs(v) > 0.05)


@given(number, number, number, number)
def test_any_affine_map_of_a_box_is_a_box_that_is_mirrored_skewed_and_turned(
    a: float, b: float, c: float, d: float
) -> None:
    map_ = Affine(a, b, c, d, 40, -9)
    if abs(a * d - b * c) < 0.05:
        return
    rect = Rect(10, 20, 90, 30)
    pose = Pose.of(rect, map_)
    again = pose.map or Affine()
    for u, v in ((0, 0), (1, 0), (1, 1), (0, 1), (0.3, 0.8)):
        wanted = map_.apply(rect.x + u * rect.width, rect.y + v * rect.height)
        found = again.apply(pose.rect.x + u * pose.rect.width, pose.rect.y + v * pose.rect.height)
        assert found == pytest.approx(wanted, abs=1e-5)


def bare() -> Job:
    """One page with nothing on it, nor on its master."""
    job = book(facing=False)
    job.masters["text"] = replace(job.masters["text"], recto=(), verso=())
    return job


def stacked() -> Job:
    """A page with two shapes, a group in a group, and one shape above them."""
    job = book(facing=False)
    boxes = [shape(name, Rect(20 + n * 30, 20, 25, 25), fill=BLACK) for n, name in enumerate("abcdef")]
    inner = Object("inner", content=Group((boxes[2], boxes[3])))
    outer = Object("outer", content=Group((inner, boxes[4])))
    job.pages[0] = replace(job.pages[0], objects=(boxes[0], boxes[1], outer, boxes[5]))
    return job


def ids(job: Job, page: int = 0) -> list[str]:
    return [one.id for one in all_in(job.pages[page].objects)]


def test_groups_nest_and_are_kept() -> None:
    job = stacked()
    assert [f.id for f in job.pages[0].frames] == list("abcdef")
    assert job_to_json(job_from_json(job_to_json(job))) == job_to_json(job)
    deep = job.pages[0].objects[0]
    for level in range(9):
        deep = Object(f"g{level}", content=Group((deep,)))
    job.pages[0] = replace(job.pages[0], objects=(deep,))
    with pytest.raises(FormError, match="nested"):
        job_from_json(job_to_json(job))


@pytest.mark.parametrize(
    ("objects", "said"),
    [
        ((Object("u", content=Group()),), "is empty"),
        ((Object("n"),), "no position"),
        ((shape("a", Rect(0, 0, 9, 9)), Object("u", content=Group((shape("a", Rect(0, 0, 9, 9)),)))), "same id"),
        ((replace(shape("a", Rect(0, 0, 9, 9)), layer="gone"),), "layer that is missing"),
        ((Object("u", content=Group((shape("a", Rect(0, 0, 9, 9)),), clip=Outline())),), "has no position"),
    ],
)
def test_objects_that_cannot_be_are_refused(objects: tuple[Object, ...], said: str) -> None:
    job = book()
    job.pages[0] = replace(job.pages[0], objects=objects)
    with pytest.raises(FormError, match=said):
        job_from_json(job_to_json(job))


def test_an_edit_within_a_group_is_as_small_as_the_change() -> None:
    workspace = Workspace(stacked())
    page = workspace.job.pages[0].id
    before = job_to_json(workspace.job)
    change = workspace.do(do.ChangeFrame(page, "d", rect=Rect(1, 2, 30, 40)))
    (edit,) = change.edits
    assert isinstance(edit, SpliceObjects)
    assert (edit.within, edit.at, edit.remove, [one.id for one in edit.insert]) == ("inner", 1, 1, ["d"])
    assert workspace.job.pages[0].frames[3].rect == Rect(1, 2, 30, 40)
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    for gone in ("c", "d"):  # a group that is left with nothing goes as well
        change = workspace.do(do.RemoveFrame(page, gone))
    assert ids(workspace.job) == ["a", "b", "outer", "e", "f"]


@given(st.data())
def test_the_edits_between_two_states_lead_from_one_to_the_other_and_back(data: st.DataObject) -> None:
    job = stacked()
    old = job.pages[0].objects
    keys = [one.id for one in all_in(old)]
    new = old
    for _ in range(data.draw(st.integers(1, 4))):
        key = data.draw(st.sampled_from(keys))
        own = shape(f"new{data.draw(st.integers(0, 99))}", Rect(0, 0, 9, 9))
        new = exchanged(new, {key: data.draw(st.sampled_from([(), (own,), (shape(key, Rect(5, 5, 5, 5)),)]))})
    if len({one.id for one in all_in(new)}) < len(list(all_in(new))):
        return
    inverse = apply_all(job, object_edits(job.pages[0].id, old, new))
    assert job.pages[0].objects == new
    apply_all(job, inverse)
    assert job.pages[0].objects == old


@given(st.integers(0, 6), st.integers(0, 3), st.integers(0, 2))
def test_an_edit_that_knew_no_groups_counts_what_is_none(at: int, remove: int, insert: int) -> None:
    job = stacked()
    flat, before = list(job.pages[0].frames), plain(job)
    new = tuple(shape(f"n{i}", Rect(0, 0, 9, 9)) for i in range(insert))
    edit = SpliceLeaves(job.pages[0].id, at, remove, new)
    if at + remove > len(flat):
        with pytest.raises(LexigonError):
            edit.apply(job)
        return
    inverse = edit.apply(job)
    flat[at : at + remove] = new
    assert list(job.pages[0].frames) == flat
    inverse.apply(job)
    assert plain(job) == before


def test_objects_are_grouped_and_stand_by_themselves_again() -> None:
    workspace = Workspace(stacked())
    page = workspace.job.pages[0].id
    workspace.do(do.GroupObjects(page, ("a", "d"), "Sky"))
    sky = workspace.job.pages[0].objects[1]
    assert [one.id for one in workspace.job.pages[0].objects] == ["b", sky.id, "f"]
    assert [one.id for one in all_in((sky,))] == [sky.id, "a", "outer", "inner", "c", "d", "e"]
    workspace.do(do.Ungroup(page, "c"))  # the outermost
    assert [one.id for one in workspace.job.pages[0].objects] == ["b", "a", "outer", "f"]
    workspace.do(do.Ungroup(page, "inner"))
    assert ids(workspace.job) == ["b", "a", "outer", "c", "d", "e", "f"]
    for objects, said in (
        (("a",), "at least two"),
        (("a", "Part of the selection belongs to the master"), "Part of the selection belongs to the master"),
        (("c", "d"), "at least two"),
    ):
        with pytest.raises(LexigonError, match=said):
            workspace.do(do.GroupObjects(page, objects))
    with pytest.raises(LexigonError, match="not in a group"):
        workspace.do(do.Ungroup(page, "a"))


def test_a_group_is_moved_stretched_and_turned_with_all_it_holds() -> None:
    workspace = Workspace(stacked())
    page = workspace.job.pages[0].id
    before = {f.id: f for f in workspace.job.pages[0].frames}
    box = bounds_of((workspace.job.pages[0].objects[2],))
    assert box == Rect(80, 20, 85, 25)
    workspace.do(do.ChangeFrame(page, "outer", rect=Rect(100, 50, 170, 25)))
    now = {f.id: f for f in workspace.job.pages[0].frames}
    assert [now[key].rect for key in "cde"] == [Rect(100, 50, 50, 25), Rect(160, 50, 50, 25), Rect(220, 50, 50, 25)]
    assert all(now[key] == before[key] for key in "abf")
    workspace.do(do.ChangeFrame(page, "outer", rotation=90.0))
    c, e = (next(f for f in workspace.job.pages[0].frames if f.id == key) for key in "ce")
    assert c.place
    assert e.place
    assert (c.place.rotation, e.place.rotation) == (90.0, 90.0)
    turned = bounds_of((c,))
    assert turned
    assert (turned.x, turned.y, turned.width, turned.height) == pytest.approx((172.5, -22.5, 25, 50))
    # Stretched along one side what is turned leans: a skew, which a place can say.
    workspace.do(do.ChangeFrame(page, "c", rotation=30.0), do.ChangeFrame(page, "outer", rect=Rect(100, 50, 200, 40)))
    c = next(f for f in workspace.job.pages[0].frames if f.id == "c")
    assert c.place
    assert abs(c.place.skew) > 1
    found = bounds_of((workspace.job.pages[0].objects[2],))
    assert found
    assert (found.x, found.y, found.width, found.height) == pytest.approx((100, 50, 200, 40))


def test_what_a_group_takes_over_from_a_master_is_the_whole_group() -> None:
    workspace = Workspace(stacked())
    job = workspace.job
    master = job.masters["text"]
    band = Object("band", content=Group((shape("m1", Rect(5, 5, 9, 9)), shape("m2", Rect(25, 5, 9, 9)))))
    job.masters["text"] = replace(master, recto=(*master.recto, band))
    workspace = Workspace(job)
    workspace.do(do.ChangeFrame(job.pages[0].id, "m2", rect=Rect(50, 50, 9, 9)))
    own = job.pages[0].objects[-1]
    assert own.origin == "band"
    assert [one.rect and one.rect.x for one in frames_in((own,))] == [5, 50]
    assert not {"m1", "m2"} & {f.id for f, _ in job.page_frames(0)}


# Layers


def layered() -> Workspace:
    """Two boxes, one on the other; the one that lies lower stands on the higher of two layers."""
    job = bare()
    job.layers["over"] = Layer("over", "Over")
    low = replace(shape("low", Rect(100, 100, 100, 100), fill=Fill("marker")), layer="over")
    job.pages[0] = replace(job.pages[0], objects=(low, shape("high", Rect(150, 150, 100, 100), fill=BLACK)))
    return Workspace(job)


def seen(workspace: Workspace) -> list[str]:
    return [told["id"] for told in standing(Display(workspace.composition).page(0))]


def test_layers_rule_what_lies_above_what() -> None:
    workspace = layered()
    page = workspace.job.pages[0].id
    assert seen(workspace) == ["high", "low"]
    before = job_to_json(workspace.job)
    changes = [workspace.do(do.MoveLayer("over", 0))]
    assert seen(workspace) == ["low", "high"]
    changes.append(workspace.do(do.PutOnLayer("over", (do.Chosen(page, "high"),))))
    assert seen(workspace) == ["low", "high"]
    changes.append(workspace.do(do.ChangeLayer("over", visible=False)))
    assert seen(workspace) == []
    changes.append(workspace.do(do.RemoveLayer("over")))
    assert seen(workspace) == ["low", "high"]
    assert {one.layer for one in workspace.job.pages[0].objects} == {"main"}
    with pytest.raises(LexigonError, match="at least one layer"):
        workspace.do(do.RemoveLayer("main"))
    for change in reversed(changes):
        workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before


def test_a_masters_objects_lie_below_the_pages_own_within_each_layer() -> None:
    workspace = layered()
    job = workspace.job
    master = job.masters["text"]
    standing_on = replace(shape("m", Rect(0, 0, 9, 9)), layer="over")
    job.masters[master.id] = replace(master, recto=(standing_on, shape("n", Rect(0, 0, 9, 9))))
    assert seen(Workspace(job)) == ["n", "high", "m", "low"]


def test_what_is_locked_is_neither_moved_to_a_layer_nor_made_outlines_nor_changed_while_it_is_locked() -> None:
    workspace = layered()
    page = workspace.job.pages[0].id
    workspace.do(do.ChangeFrame(page, "high", locked=True))
    shapes = (do.GlyphShapes(Rect(0, 0, 9, 9), "M0 0L1 0L1 1Z", "black"),)
    workspace.do(do.AddTextFrame(page, Rect(10, 10, 90, 40), text="Low water"))
    text = workspace.job.pages[0].frames[-1].id
    workspace.do(do.ChangeFrame(page, text, locked=True))
    for refused in (
        do.PutOnLayer("over", (do.Chosen(page, "high"),)),
        do.OutlineText(page, text, shapes, "Low water"),
        do.RemoveFrame(page, "high"),
        do.ChangeFrame(page, "high", rect=Rect(0, 0, 50, 50), locked=True),
        do.ChangeFrame(page, "high", rotation=5.0),
    ):
        with pytest.raises(LexigonError, match="locked"):
            workspace.do(refused)
    workspace.do(do.ChangeFrame(page, "high", locked=False))
    workspace.do(do.PutOnLayer("over", (do.Chosen(page, "high"),)))


def test_what_stood_on_a_deleted_layer_is_not_put_out_of_sight() -> None:
    workspace = layered()
    workspace.do(do.AddLayer("Notes", above="main"), do.AddLayer("Top"))
    notes = next(one.id for one in workspace.job.layers.values() if one.name == "Notes")
    workspace.do(do.ChangeLayer(notes, visible=False))
    workspace.do(do.ChangeLayer("over", locked=True))
    with pytest.raises(LexigonError, match="locked"):
        workspace.do(do.RemoveLayer("over"))
    workspace.do(do.ChangeLayer("over", locked=False))
    workspace.do(do.RemoveLayer("over"))
    assert {one.layer for one in workspace.job.pages[0].objects} == {"main"}


def test_a_group_keeps_what_lay_above_what_on_different_layers() -> None:
    workspace = layered()
    assert seen(workspace) == ["high", "low"]
    workspace.do(do.GroupObjects(workspace.job.pages[0].id, ("low", "high")))
    assert seen(workspace) == ["high", "low"]
    assert workspace.job.pages[0].objects[0].layer == "over"


def test_masters_come_into_a_job_that_has_not_their_layers_and_are_made_where_the_main_one_is_locked() -> None:
    other = layered().job
    master = other.masters["text"]
    other.masters["text"] = replace(master, recto=(replace(shape("m", Rect(0, 0, 9, 9)), layer="over"),))
    workspace = Workspace(bare())
    workspace.do(do.ChangeLayer("main", locked=True))
    workspace.do(do.BringMasters((other.masters["text"],), (), (), other.brief))
    assert [one.layer for one in list(workspace.job.masters.values())[-1].recto] == ["main"]
    workspace.do(do.AddMaster("Plates"))
    with pytest.raises(LexigonError, match="Select another layer to draw on"):
        workspace.do(do.AddShape(workspace.job.pages[0].id, Rect(0, 0, 20, 20)))


def test_names_of_layers_are_told_apart_and_locked_ones_take_nothing() -> None:
    workspace = layered()
    page = workspace.job.pages[0].id
    workspace.do(do.AddLayer("Over"), do.AddLayer("", above="main"))
    assert [layer.name for layer in workspace.job.layers.values()] == ["Main layer", "Layer", "Over", "Over 2"]
    workspace.do(do.ChangeLayer("over", locked=True))
    with pytest.raises(LexigonError, match="locked"):
        workspace.do(do.PutOnLayer("over", (do.Chosen(page, "high"),)))
    told = {one["id"]: one.get("held", False) for one in standing(Display(workspace.composition).page(0))}
    assert told == {"high": False, "low": True}


def test_a_hidden_layer_with_something_on_it_is_something_to_look_at() -> None:
    workspace = layered()
    kinds = lambda: [finding.kind for finding in findings_of(workspace.composition)]  # noqa: E731
    assert "hidden layer" not in kinds()
    workspace.do(do.ChangeLayer("over", visible=False))
    (found,) = [finding for finding in findings_of(workspace.composition) if finding.kind == "hidden layer"]
    assert found.text == "The layer “Over” is hidden: 1 object on it is not printed."
    assert found.page == 0
    workspace.do(do.ChangeLayer("over", visible=True, prints=False))
    assert "hidden layer" not in kinds()


def pixels(workspace: Workspace) -> numpy.ndarray:
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe("screen"), target, WHEN)
    page = pypdfium2.PdfDocument(target.getvalue())[0]
    return numpy.asarray(page.render(scale=1).to_numpy())


def test_what_does_not_print_is_seen_on_the_board_alone() -> None:
    workspace = layered()
    shown = pixels(workspace)
    grey = shown[175, 125].mean()  # only the lower box
    assert grey < 200
    for change, undone in (
        (do.ChangeLayer("over", prints=False), do.ChangeLayer("over", prints=True)),
        (do.ChangeLayer("over", visible=False), do.ChangeLayer("over", visible=True)),
    ):
        workspace.do(change)
        assert pixels(workspace)[175, 125].mean() == 255
        assert (pixels(workspace)[210, 210] == shown[210, 210]).all()
        workspace.do(undone)
    workspace.do(do.ChangeLayer("over", opacity=0.5))
    assert grey < pixels(workspace)[175, 125].mean() < 255
    workspace.job.pages[0] = replace(
        workspace.job.pages[0],
        objects=tuple(replace(one, prints=one.id != "low") for one in workspace.job.pages[0].objects),
    )
    workspace = Workspace(workspace.job)
    assert pixels(workspace)[175, 125].mean() == 255
    art = Display(workspace.composition).page(0)
    assert svg_of(art.items()).count("<path") == 2
    assert svg_of(art.items(printed=True)).count("<path") == 1


def test_a_group_is_cut_off_and_mixed_as_one() -> None:
    job = bare()
    boxes = (shape("a", Rect(100, 100, 100, 100), fill=BLACK), shape("b", Rect(150, 150, 100, 100), fill=BLACK))
    group = Object("u", place=Pose(Rect(100, 100, 100, 150), 90.0), content=Group(boxes, 0.5, clip=Outline("box")))
    job.pages[0] = replace(job.pages[0], objects=(group,))
    shown = pixels(Workspace(job))
    once = shown[140, 120].mean()
    assert 60 < once < 200
    assert abs(shown[175, 175].mean() - once) < 2, "where they lie over each other they are no darker"
    # The clip is a box of 100 by 150 turned by a quarter about (150, 175): 75 to 225 across, 125 to 225 down.
    assert shown[110, 150].mean() == 255
    assert shown[230, 200].mean() == 255
    assert shown[215, 215].mean() < 255
    assert 'opacity="0.5"' in svg_of(Display(Workspace(job).composition).page(0).items())


@pytest.mark.parametrize("radii", [(0.0, 20.0, 40.0, 10.0), (200.0, 200.0, 200.0, 200.0)])
def test_a_box_with_round_corners(radii: tuple[float, float, float, float]) -> None:
    """Its area is the box's without what each corner loses: r² (1 - pi/4); rounds that would overlap shrink
    together."""
    job = bare()
    job.pages[0] = replace(
        job.pages[0], objects=(shape("a", Rect(100, 100, 120, 120), Outline("box", radii=radii), fill=BLACK),)
    )
    dark = (255 - pixels(Workspace(job)).astype(float)[..., :3].mean(axis=2)).sum()
    job.pages[0] = replace(job.pages[0], objects=(shape("a", Rect(100, 100, 120, 120), fill=BLACK),))
    whole = (255 - pixels(Workspace(job)).astype(float)[..., :3].mean(axis=2)).sum()
    fit = min(1.0, 120 / max(radii[0] + radii[1], radii[1] + radii[2], radii[2] + radii[3], radii[3] + radii[0]))
    lost = sum((r * fit) ** 2 * (1 - numpy.pi / 4) for r in radii)
    assert dark / whole == pytest.approx(1 - lost / 120**2, abs=0.002)


def test_a_group_is_cut_off_and_mixed_as_one_and_shows_all_of_itself_again() -> None:
    job = bare()
    boxes = [shape(name, Rect(20 + 30 * n, 20, 25, 25), fill=BLACK) for n, name in enumerate("ab")]
    cutter = replace(shape("c", Rect(30, 10, 60, 25)), outline=Outline("ellipse"))
    job.pages[0] = replace(job.pages[0], objects=(*boxes, cutter))
    workspace, page = Workspace(job), job.pages[0].id
    before = job_to_json(workspace.job)
    with pytest.raises(LexigonError, match="Select the objects to clip and"):
        workspace.do(do.CutOff(page, ("c",)))
    first = workspace.do(do.CutOff(page, ("a", "c", "b")))
    (group,) = workspace.job.pages[0].objects
    assert group.group is not None
    assert [one.id for one in group.group.objects] == ["c", "a", "b"], "what cuts off lies below all"
    assert group.group.clip == Outline("ellipse")
    assert bounds_of((group,)) == Rect(30, 10, 60, 25), "its box is that of what is seen"
    workspace.do(do.AlignObjects((do.Chosen(page, "a"),), "left", "page"))
    moved = workspace.job.pages[0].objects[0]
    assert bounds_of((moved,)) == Rect(0, 10, 60, 25)
    assert [found.rect and found.rect.x for found in frames_in((moved,))] == pytest.approx([0, -10, 20]), "all go along"
    for intent, message in (
        (do.Ungroup(page, "a"), "Release the clip and reset opacity and blend"),
        (do.ChangeGroup(page, "gone"), "not in a group"),
        (do.CutOff(page, ("a", "b")), "Select the objects to clip and"),
    ):
        with pytest.raises(LexigonError, match=message):
            workspace.do(intent)
    workspace.do(do.ChangeGroup(page, "a", opacity=0.5, blend="multiply"))
    (told, *_) = standing(Display(workspace.composition).page(0))
    mixed = told["groups"][0][2]
    assert (mixed["opacity"], mixed["blend"], mixed["hollow"]) == (0.5, "multiply", False)
    assert mixed["cut"].startswith("M60 22.5"), "the ellipse where it stands"
    pdf = io.BytesIO()
    write_pdf(workspace.composition, recipe("screen"), pdf, WHEN)
    pixels = numpy.asarray(pypdfium2.PdfDocument(pdf.getvalue())[0].render(scale=1).to_pil().convert("L"))
    assert pixels[22, 12] in range(110, 150), "half of black ink"
    assert pixels[40, 12] == 255, "what lies outside of the ellipse is not seen"
    workspace.do(do.ChangeGroup(page, "b", opacity=1.0, blend="normal", whole=True), do.Ungroup(page, "b"))
    assert [one.id for one in workspace.job.pages[0].objects] == ["c", "a", "b"]
    for change in (first,):
        fresh = Workspace(job_from_json(before))
        fresh.run(change.edits)
        fresh.run(change.inverse)
        assert job_to_json(fresh.job) == before
