"""Swatches: made, mixed otherwise, found wherever they are used, and taken away with another in their place."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.colour.palette import Palette
from lexigon.core.colour.palettes import PaletteError, read_palette, write_palette
from lexigon.core.document.model import (
    Box,
    CharacterStyle,
    Fill,
    FrameSpec,
    Gradient,
    Paragraph,
    ParaSpec,
    RuleStyle,
    Shadow,
    Span,
    Stop,
    Stroke,
    Swatch,
    TypeSpec,
)
from lexigon.core.editing import intents as do
from lexigon.core.editing.intents.colour.recolouring import swatches_of
from lexigon.core.editing.swatch_uses import swatch_uses
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.coverage import coverage
from lexigon.core.paint.display import Display
from tests.core.helpers import book

SEA = Swatch("sea", "Sea", "cmyk", (0.9, 0.4, 0.1, 0.1))


def everywhere_in_sea() -> Workspace:
    """A swatch in a gradient, each kind of style, a frame in a group, an edge, a shadow, a paragraph and three
    words."""
    job = book()
    job.stories[job.main_story or ""].paragraphs[:] = [
        Paragraph("p1", "body", "One line of text."),
        Paragraph("p2", "body", "Another line."),
    ]
    job.swatches |= {
        "sea": SEA,
        "fade": Swatch("fade", "Fade", "gradient", gradient=Gradient((Stop(0, "sea"), Stop(1, "paper")))),
    }
    job.character_styles["c"] = CharacterStyle("c", "Name", type=TypeSpec(swatch="sea"))
    job.rule_styles["r"] = RuleStyle("r", "Rule", stroke=Stroke(1.0, "sea"))
    workspace = Workspace(job)
    page, story = job.pages[0].id, job.main_story or ""
    for n, spec in enumerate(
        (FrameSpec(fill=Fill("sea", 0.5)), FrameSpec(stroke=Stroke(2.0, "sea")), FrameSpec(shadow=Shadow(swatch="sea")))
    ):
        workspace.do(do.AddShape(page, Rect(50 + 60 * n, 50, 40, 40), spec=spec))
    ids = [one.id for one in workspace.job.pages[0].objects[-3:]]
    workspace.do(do.GroupObjects(page, (ids[0], ids[1])))
    first, second = job.stories[story].paragraphs[:2]
    workspace.do(do.SetParagraphs(story, first.id, first.id, para=ParaSpec(box=Box(fill=Fill("sea")))))
    workspace.do(do.FormatText(story, do.Place(second.id, 0), do.Place(second.id, 7), type=TypeSpec(swatch="sea")))
    return workspace


def test_where_a_swatch_is_used_and_another_in_its_place() -> None:
    workspace = everywhere_in_sea()
    before = job_to_json(workspace.job)
    used = list(swatch_uses(workspace.job, "sea"))
    page, story = workspace.job.pages[0].id, workspace.job.main_story or ""
    assert [holder for holder, _, _ in used] == ["swatch", "style:character", "style:rule", *[page] * 3, story, story]
    with pytest.raises(LexigonError, match="“Sea” is used"):
        workspace.do(do.RemoveSwatch("sea"))
    with pytest.raises(LexigonError, match="cannot use another gradient"):
        workspace.do(do.RemoveSwatch("sea", "fade"))
    assert job_to_json(workspace.job) == before
    change = workspace.do(do.RemoveSwatch("sea", "marker"))
    assert [(h, k) for h, k, _ in swatch_uses(workspace.job, "marker")] == [(h, k) for h, k, _ in used]
    assert '"sea"' not in job_to_json(workspace.job)
    assert workspace.job.stories[story].paragraphs[1].spans == (Span(0, 7, type=TypeSpec(swatch="marker")),)
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before


def test_one_that_is_not_used_goes_by_itself_and_black_stays() -> None:
    workspace = Workspace(book())
    workspace.do(do.PutSwatch(name="Spare", values=(0, 0.2, 0.4, 0)))
    (key,) = [one.id for one in workspace.job.swatches.values() if one.name == "Spare"]
    workspace.do(do.MoveSwatch(key, 0))
    assert next(iter(workspace.job.swatches)) == key
    workspace.do(do.RemoveSwatch(key))
    assert key not in workspace.job.swatches
    for refused in (
        do.RemoveSwatch("black", "paper"),
        do.PutSwatch("black", values=(0.6, 0.4, 0.4, 1)),
        do.PutSwatch("black", spot=True),
    ):
        with pytest.raises(LexigonError, match="because everything without a colour prints in"):
            workspace.do(refused)
    workspace.do(do.PutSwatch("black", name="Ink"))
    assert workspace.job.swatches["black"].name == "Ink"


def test_names_of_swatches() -> None:
    workspace = Workspace(book())
    for _ in range(2):
        workspace.do(do.PutSwatch(values=(0, 0.6, 1, 0.025)))
    workspace.do(do.PutSwatch(space="rgb", values=(1, 0.5, 0)))
    assert [one.name for one in list(workspace.job.swatches.values())[-3:]] == [
        "C0 M60 Y100 K2.5",
        "C0 M60 Y100 K2.5 (2)",
        "R255 G128 B0",
    ]
    for bad, told in (
        (do.PutSwatch(name="paper"), "already"),
        (do.PutSwatch(name="None"), "Choose another name"),
        (do.PutSwatch(spot=True), "1 to 80"),
        (do.PutSwatch(name="Cyan", spot=True), "process ink"),
        (do.PutSwatch("marker", name="x" * 81), "1 to 80"),
        (do.PutSwatch("marker", values=(0.1, 0.2)), "needs 4 values"),
        (do.PutSwatch("marker", space="gradient"), "must have stops"),
        (do.PutSwatch("gone", name="Gone"), "no longer"),
    ):
        with pytest.raises(LexigonError, match=told):
            workspace.do(bad)
    workspace.do(do.PutSwatch("marker", space="gradient", gradient=Gradient((Stop(0, "black"), Stop(1, "paper")))))
    assert workspace.job.swatches["marker"].values == ()
    workspace.do(do.PutSwatch("marker", space="rgb", values=(1, 0, 0)))
    assert workspace.job.swatches["marker"].gradient is None


@given(st.sampled_from(("sea", "fade", "black", "paper", "marker")), st.sampled_from(("black", "paper", "marker")))
def test_any_swatch_taken_away_leaves_a_whole_job_and_comes_back(gone: str, instead: str) -> None:
    workspace = everywhere_in_sea()
    before = job_to_json(workspace.job)
    try:
        change = workspace.do(do.RemoveSwatch(gone, instead))
    except LexigonError:
        assert gone == "black" or gone == instead
        assert job_to_json(workspace.job) == before
        return
    assert gone not in workspace.job.swatches
    assert not list(swatch_uses(workspace.job, gone))
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before


def test_a_tint_follows_its_swatch_and_a_tint_of_a_tint_the_swatch_behind_it() -> None:
    workspace = everywhere_in_sea()
    workspace.do(do.PutSwatch(space="tint", base=Fill("sea", 0.5)))
    half = list(workspace.job.swatches.values())[-1]
    assert half.name == "Sea 50 %"
    workspace.do(do.PutSwatch(name="Spray", space="tint", base=Fill(half.id, 0.4)))
    spray = list(workspace.job.swatches.values())[-1]
    assert spray.base == Fill("sea", 0.2)
    palette = Palette(workspace.job.swatches)
    assert palette.colour(spray.id, 0.5).components == pytest.approx([part * 0.1 for part in SEA.values])
    assert [key for holder, key, _ in swatch_uses(workspace.job, "sea") if holder == "swatch"] == [
        "fade",
        half.id,
        spray.id,
    ]
    workspace.do(do.PutSwatch("sea", values=(0.0, 0.0, 1.0, 0.0)))
    assert Palette(workspace.job.swatches).colour(half.id).components == (0.0, 0.0, 0.5, 0.0)
    for bad in (
        do.PutSwatch(space="tint"),
        do.PutSwatch(space="tint", base=Fill("fade")),
        do.PutSwatch("sea", space="tint", base=Fill("sea")),
        do.PutSwatch("sea", space="gradient", gradient=Gradient((Stop(0, "black"), Stop(1, "paper")))),
    ):
        with pytest.raises(LexigonError):
            workspace.do(bad)
    workspace.do(do.RemoveSwatch("sea", "marker"))
    assert workspace.job.swatches[half.id].base == Fill("marker", 0.5)


def test_registration_is_printed_on_every_plate() -> None:
    workspace = everywhere_in_sea()
    workspace.do(do.PutSwatch(space="registration"))
    key = list(workspace.job.swatches)[-1]
    page = workspace.job.pages[0].id
    workspace.do(do.AddShape(page, Rect(300, 300, 20, 20), spec=FrameSpec(fill=Fill(key, 0.5))))
    own = workspace.job.pages[0].objects[-1].id
    (mark,) = [mark for mark in coverage(Display(workspace.composition).page(0).items()) if mark.owner == own]
    assert mark.inks == dict.fromkeys(("Cyan", "Magenta", "Yellow", "Black"), 0.5)
    with pytest.raises(LexigonError, match="registration"):
        workspace.do(do.PutSwatch(space="gradient", gradient=Gradient((Stop(0, key), Stop(1, "black")))))


def test_swatches_are_put_in_groups_and_a_group_gets_another_name() -> None:
    workspace = everywhere_in_sea()
    workspace.do(
        do.PutSwatch("sea", group="  Flood "), do.PutSwatch(name="Mud", values=(0.3, 0.4, 0.6, 0.2), group="Flood")
    )
    assert [one.name for one in workspace.job.swatches.values() if one.group == "Flood"] == ["Sea", "Mud"]
    change = workspace.do(do.NameSwatchGroup("Flood", "Ebb"))
    assert len(change.edits) == 2
    workspace.do(do.NameSwatchGroup("Ebb"))
    assert not any(one.group for one in workspace.job.swatches.values())
    with pytest.raises(LexigonError, match="That group of swatches does not exist"):
        workspace.do(do.NameSwatchGroup("Ebb", "Flood"))


def test_a_palette_file_brings_all_swatches_into_another_job_and_nothing_twice() -> None:
    workspace = everywhere_in_sea()
    workspace.do(
        do.PutSwatch("sea", spot=True, group="Inks"),
        do.PutSwatch(space="tint", base=Fill("sea", 0.3)),
        do.PutSwatch(space="registration"),
    )
    written = write_palette(workspace.job.swatches, "lexigon", "Tides")
    other = Workspace(book())
    had = set(other.job.swatches)
    other.do(do.AddSwatches(tuple(read_palette(written))))
    new = {one.name: one for key, one in other.job.swatches.items() if key not in had}
    assert set(new) == {"Sea", "Fade", "Sea 30 %", "Registration"}, "black, paper and the marker were there"
    assert (new["Sea"].spot, new["Sea"].group) == (True, "Inks")
    assert new["Sea 30 %"].base == Fill(new["Sea"].id, 0.3)
    gradient = new["Fade"].gradient
    assert gradient is not None
    assert [stop.swatch for stop in gradient.stops] == [new["Sea"].id, "paper"]
    before = job_to_json(other.job)
    other.do(do.AddSwatches((Swatch("a", "Sea", "cmyk", (0.1, 0.0, 0.0, 0.0)),), group="Others"))
    assert list(other.job.swatches.values())[-1].name == "Sea (2)"
    assert before != job_to_json(other.job)


def test_a_palette_file_of_a_like_job_keeps_each_swatch_with_its_own_ids_exchanged() -> None:
    """One id of the file is that of another swatch in the job: what is made of either follows the right one."""
    workspace = Workspace(book())
    red, blue = Swatch("b", "Red", "cmyk", (0.0, 1.0, 1.0, 0.0)), Swatch("x", "Blue", "cmyk", (1.0, 0.5, 0.0, 0.0))
    workspace.do(do.PutSwatch(name="Red", values=red.values))
    here = list(workspace.job.swatches)[-1]
    file = (replace(red, id="a"), replace(blue, id=here), Swatch("t", "Light red", "tint", base=Fill("a", 0.3)))
    workspace.do(do.AddSwatches(file))
    new = {one.name: one for one in workspace.job.swatches.values()}
    assert new["Light red"].base == Fill(here, 0.3)
    assert new["Blue"].id != here


GIMP = (
    b"GIMP Palette\nName: Low water\nColumns: 3\n#\n# the flats\n 30  91  79\tBottle green\n255 255 255 Paper white\n0"
    b" 0 0\n"
)


def test_a_gimp_palette_is_read_and_written_as_a_screen_shows_the_inks() -> None:
    found = read_palette(GIMP)
    assert [(one.name, one.group) for one in found] == [
        ("Bottle green", "Low water"),
        ("Paper white", "Low water"),
        ("", "Low water"),
    ]
    assert found[0].values == pytest.approx((30 / 255, 91 / 255, 79 / 255))
    workspace = Workspace(book())
    workspace.do(do.AddSwatches(tuple(found)))
    assert [one.name for one in list(workspace.job.swatches.values())[-3:]] == [
        "Bottle green",
        "Paper white",
        "R0 G0 B0",
    ]
    again = read_palette(write_palette(workspace.job.swatches, "gpl", "Low\nwater"))
    assert {one.name: one.values for one in again} | {"Bottle green": found[0].values} == {
        one.name: one.values for one in again
    }
    assert len(again) == sum(one.gradient is None for one in workspace.job.swatches.values())


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"GIMP Palette\n",
        b"GIMP Palette\n1 2\n",
        b"GIMP Palette\n1 2 256 x\n",
        b"{",
        b"[" * 100_000,
        b"{}",
        b"\x00\xff",
        b"x" * 4_000_001,
        b'{"kind": "lexigon swatches", "format": 99, "swatches": []}',
        (
            b'{"kind": "lexigon swatches", "format": 6, "swatches": [{"id": "a", "name": "A", "space": "cmyk",'
            b' "values": [9]}]}'
        ),
    ],
)
def test_what_is_no_palette_is_said(data: bytes) -> None:
    with pytest.raises(LexigonError) as caught:
        read_palette(data)
    assert isinstance(caught.value, PaletteError) or "values" in str(caught.value) or "0" in str(caught.value)


def test_a_style_sheet_gives_its_colours_and_takes_ours() -> None:
    """Custom properties (CSS Custom Properties 1): written, and read back; what is no colour is passed over."""
    swatches = {
        "a": Swatch("a", "Bottle green", "rgb", (30 / 255, 91 / 255, 79 / 255)),
        "b": Swatch("b", "Ebb", "cmyk", (0.0, 0.0, 0.0, 1.0)),
    }
    made = write_palette(swatches, "css").decode()
    assert "--bottle-green: #1e5b4f; /* Bottle green */" in made
    found = read_palette(made.encode())
    assert [(one.name, one.space) for one in found] == [("Bottle green", "rgb"), ("Ebb", "rgb")]
    assert found[0].values == pytest.approx(swatches["a"].values, abs=1e-5)
    house = b":root {\n --sea-water: rgb(30, 91, 79);\n --gap: 4px;\n --mud : #8a7; }\n.x{color:red}"
    assert [one.name for one in read_palette(house)] == ["Sea water", "Mud"]
    with pytest.raises(PaletteError):
        read_palette(b".x { color: red }")


def test_what_is_chosen_changes_its_swatches_all_at_once() -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    keys = []
    for name in ("Teal", "Rust", "Sand"):
        workspace.do(do.PutSwatch(name=name, space="cmyk", values=(0.1, 0.2, 0.3, 0.4)))
        keys.append(list(workspace.job.swatches)[-1])
    teal, rust, sand = keys
    for n, swatch in enumerate((teal, rust, teal)):
        workspace.do(
            do.AddShape(
                page, Rect(60 + 90 * n, 60, 80, 80), None, FrameSpec(fill=Fill(swatch), stroke=Stroke(1.0, rust))
            )
        )
    workspace.do(do.AddTextFrame(page, Rect(60, 200, 200, 60), text="Teal words"))
    frame = workspace.job.pages[0].objects[-1]
    story = workspace.job.stories[frame.story or ""]
    p = story.paragraphs[0].id
    workspace.do(do.FormatText(story.id, do.Place(p, 0), do.Place(p, 4), TypeSpec(swatch=teal)))
    first, second, third, words = (one.id for one in workspace.job.pages[0].objects[-4:])
    workspace.do(do.GroupObjects(page, (first, second), "Two"))
    group = next(one.id for one in workspace.job.pages[0].objects if one.group)
    chosen = (do.Chosen(page, group), do.Chosen(page, words))
    assert swatches_of(workspace.job, chosen) == {rust: 3, teal: 2}
    before = job_to_json(workspace.job)
    change = workspace.do(do.ExchangeSwatches(chosen, {teal: rust, rust: teal}))
    assert swatches_of(workspace.job, chosen) == {teal: 3, rust: 2}, "they change places"
    assert swatches_of(workspace.job, (do.Chosen(page, third),)) == {teal: 1, rust: 1}, "what is not chosen stays"
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    with pytest.raises(LexigonError, match="no longer"):
        workspace.do(do.ExchangeSwatches(chosen, {teal: "gone"}))
    workspace.do(do.ExchangeSwatches(chosen, {teal: sand}))
    assert swatches_of(workspace.job, chosen) == {rust: 3, sand: 2}
