"""Ink sets: roles that swatches play, chosen for the job or a section; swatches in grey and Lab."""

from __future__ import annotations

import colorsys
from math import atan2, degrees, hypot

import numpy as np
import pytest
from coloraide import Color as Outside
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.colour.colours import Colour
from lexigon.core.colour.palette import Palette
from lexigon.core.colour.printable import picked, printable_map
from lexigon.core.colour.variants import ground_of, varied
from lexigon.core.document.consistency import check
from lexigon.core.document.ink_sets import chosen
from lexigon.core.document.model import Casting, Fill, FrameSpec, Section, Swatch
from lexigon.core.editing import intents as do
from lexigon.core.editing.swatch_uses import swatch_uses
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_plain, job_to_json
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Path
from lexigon.core.paint.page import painted
from tests.core.helpers import book


def made(workspace: Workspace, **swatch: object) -> str:
    workspace.do(do.PutSwatch(**swatch))  # type: ignore[arg-type]
    return list(workspace.job.swatches)[-1]


def cast() -> tuple[Workspace, str, str, str]:
    """A job of four pages with a shape in a role on the first and the third; the role, and two swatches that can play
    it."""
    workspace = Workspace(book(facing=False))
    workspace.do(do.AddPages(1, 3))
    teal, rust = (
        made(workspace, name="Teal", space="cmyk", values=(0.8, 0.2, 0.4, 0.1)),
        made(workspace, name="Rust", space="rgb", values=(0.7, 0.3, 0.1)),
    )
    role = made(workspace, name="Main", space="role", base=Fill(teal))
    for page in (0, 2):
        workspace.do(do.AddShape(workspace.job.pages[page].id, Rect(60, 60, 90, 90)))
        one = workspace.job.pages[page].objects[-1]
        workspace.do(do.ChangeFrame(workspace.job.pages[page].id, one.id, spec=FrameSpec(fill=Fill(role, 0.5))))
    return workspace, role, teal, rust


def fill_on(workspace: Workspace, page: int) -> object:
    art = Display(workspace.composition).page(page)

    def paths(items):  # type: ignore[no-untyped-def]
        for item in items:
            yield from [item] if isinstance(item, Path) else paths(getattr(item, "items", ()))

    groups = [group for layer in art.layers for group in painted(layer.parts, art.palette, False)]
    return next(path.fill for path in paths(groups) if path.fill)


def test_choosing_a_set_repaints_what_stands_in_its_roles_and_recomposes_nothing() -> None:
    workspace, role, _, rust = cast()
    workspace.do(do.PutInkSet(name="Ebb"))
    workspace.do(do.PutInkSet(name="Flood", parts=(Casting(role, rust, 0.8),)))
    ebb, flood = workspace.job.ink_sets
    assert chosen(workspace.job) == workspace.job.ink_sets[ebb]
    assert fill_on(workspace, 0) == Colour("cmyk", (0.8, 0.2, 0.4, 0.1)).at(0.5)
    flows = dict(workspace.composition.flows)
    before = job_to_json(workspace.job)
    change = workspace.do(do.ChooseInkSet(flood))
    assert workspace.composition.flows == flows
    assert fill_on(workspace, 0) == fill_on(workspace, 2) == Colour("rgb", (0.7, 0.3, 0.1)).at(0.8).at(0.5)
    assert chosen(workspace.job) == workspace.job.ink_sets[flood]
    check(job_from_plain(plain(workspace.job)))
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before


def test_a_section_is_painted_with_a_set_of_its_own() -> None:
    workspace, role, _, rust = cast()
    workspace.do(do.PutInkSet(name="Flood", parts=(Casting(role, rust),)))
    (flood,) = workspace.job.ink_sets
    workspace.do(do.PutSection(workspace.job.pages[2].id, Section("Plates")))
    workspace.do(do.ChooseInkSet(flood, workspace.job.pages[2].id))
    assert workspace.job.pages[2].section == Section("Plates", ink_set=flood)
    assert fill_on(workspace, 0) == Colour("cmyk", (0.8, 0.2, 0.4, 0.1)).at(0.5)
    assert fill_on(workspace, 2) == Colour("rgb", (0.7, 0.3, 0.1)).at(0.5)
    workspace.do(do.RemoveInkSet(flood))
    assert workspace.job.pages[2].section == Section("Plates")
    assert fill_on(workspace, 2) == fill_on(workspace, 0)


def test_what_plays_a_role_is_not_lost_when_swatches_go() -> None:
    workspace, role, teal, rust = cast()
    workspace.do(do.PutInkSet(name="Flood", parts=(Casting(role, rust),)))
    assert ("ink set", next(iter(workspace.job.ink_sets)), 0) in set(swatch_uses(workspace.job, rust))
    with pytest.raises(LexigonError, match="used"):
        workspace.do(do.RemoveSwatch(rust))
    workspace.do(do.RemoveSwatch(rust, teal))
    assert [one.parts for one in workspace.job.ink_sets.values()] == [(Casting(role, teal),)]
    workspace.do(do.RemoveSwatch(role, "black"))
    assert [one.parts for one in workspace.job.ink_sets.values()] == [()]
    check(job_from_plain(plain(workspace.job)))
    for wrong in (
        do.PutSwatch(name="Twice", space="role", base=Fill("gone")),
        do.PutInkSet(name="None", parts=()),
        do.PutInkSet(name="Flood"),
        do.PutInkSet(name="Other", parts=(Casting("black", teal),)),
        do.ChooseInkSet("gone"),
    ):
        with pytest.raises(LexigonError):
            workspace.do(wrong)


def test_a_role_of_a_role_is_played_by_what_plays_it_and_a_tint_of_one_follows() -> None:
    workspace, role, teal, rust = cast()
    other = made(workspace, name="Ground", space="role", base=Fill(role, 0.5))
    assert workspace.job.swatches[other].base == Fill(teal, 0.5)
    tint = made(workspace, space="tint", base=Fill(role, 0.2))
    assert workspace.job.swatches[tint].name == "Main 20 %"
    workspace.do(do.PutSwatch(role, base=Fill(rust)))
    assert Palette(workspace.job.swatches).colour(tint) == Colour("rgb", (0.7, 0.3, 0.1)).at(0.2)


# Grey and Lab


@given(st.floats(0, 1), st.floats(0, 1), st.floats(0.05, 1))
def test_light_as_lab_is_what_coloraide_says(hue: float, much: float, light: float) -> None:
    rgb = colorsys.hsv_to_rgb(hue, much, light)
    told = Colour("rgb", tuple(round(v * 255) / 255 for v in rgb)).lab
    wanted = Outside("srgb", [round(v * 255) / 255 for v in rgb]).convert("lab")
    assert Outside("lab", list(told)).delta_e(wanted, method="2000", space="lab") < 1.2, "8 bits a channel"


def test_a_lab_swatch_prints_as_near_as_the_press_can() -> None:
    """In range: what is printed measures what was asked for, through the profile both ways. Out of range it is less
    strong."""
    for lab in ((55.0, 20.0, 10.0), (40.0, -20.0, 10.0), (75.0, 0.0, 20.0)):
        printed = Colour("cmyk", Colour("lab", lab).cmyk).lab
        assert Outside("lab", list(lab)).delta_e(Outside("lab", list(printed)), method="2000", space="lab") < 2.5, lab
    strong = Colour("cmyk", Colour("lab", (60.0, -80.0, 60.0)).cmyk).lab
    assert Outside("lab", [60.0, -80.0, 60.0]).delta_e(Outside("lab", list(strong)), method="2000", space="lab") > 5


def test_swatches_in_grey_and_lab_are_named_mixed_and_kept() -> None:
    workspace = Workspace(book())
    grey = made(workspace, space="grey", values=(0.35,))
    lab = made(workspace, space="lab", values=(0.4, (128 - 20) / 255, (128 + 10) / 255))
    assert [workspace.job.swatches[key].name for key in (grey, lab)] == ["Grey 35", "Lab 40 -20 10"]
    palette = Palette(workspace.job.swatches)
    assert palette.colour(grey, 0.5) == Colour("cmyk", (0.0, 0.0, 0.0, 0.175))
    assert palette.colour(lab).components == pytest.approx((40, -20, 10))
    assert palette.colour(lab, 0.0).components == (100.0, 0.0, 0.0)
    check(job_from_plain(plain(workspace.job)))
    with pytest.raises(LexigonError, match="needs 3 values"):
        workspace.do(do.PutSwatch(space="lab", values=(0.5,)))


@pytest.mark.parametrize("dark", [True, False])
def test_a_counterpart_is_as_readable_as_what_it_was_made_of(dark: bool) -> None:
    """Contrasts by coloraide's reckoning of WCAG 2.1; hues in CIE LCh; the ground lies at its end, and dries."""
    ground = Colour("cmyk", (0.0, 0.05, 0.2, 0.0)) if dark else Colour("cmyk", (0.9, 0.7, 0.4, 0.4))
    words = Colour("cmyk", (0.95, 0.72, 0.38, 0.4)) if dark else Colour("cmyk", (0.05, 0.0, 0.2, 0.0))
    leaves, rust = Colour("cmyk", (0.35, 0.12, 0.55, 0.12)), Colour("rgb", (0.7, 0.3, 0.1))
    colours = [leaves, ground, words, rust]
    assert ground_of(["Leaves", "The ground", "Words", "Rust"], colours) == 1
    assert ground_of(["A", "B", "C", "D"], [leaves, ground, rust, leaves]) == 1
    made = varied(colours, 1, dark)
    assert (made[1].colour.lab[0] < 25) == dark
    assert sum(made[1].colour.components) < 3.0
    base = Outside(made[1].colour.css)
    for one, was in zip(made, colours, strict=True):
        if one is made[1]:
            continue
        assert Outside(one.colour.css).contrast(base) == pytest.approx(one.contrast, abs=0.1)
        assert one.contrast >= (4.5 if one.was >= 4.5 else 3.0) - 0.05
        _, a, b = was.lab
        _, x, y = one.colour.lab
        if hypot(x, y) > 12:
            assert abs((degrees(atan2(b, a) - atan2(y, x)) + 180) % 360 - 180) < 30, "the hue stays"
    assert made[2].was > 7


def test_an_ink_set_comes_with_swatches_of_its_own() -> None:
    workspace, role, teal, _ = cast()
    workspace.do(do.PutInkSet(name="Ebb"))
    before = job_to_json(workspace.job)
    new = (Swatch("n0", "Teal", "cmyk", (0.2, 0.0, 0.1, 0.0)),)
    change = workspace.do(do.AddInkSet("ebb", new, (Casting(role, "n0"),)))
    added = list(workspace.job.ink_sets.values())[-1]
    assert added.name == "ebb (2)"
    swatch = workspace.job.swatches[added.parts[0].swatch]
    assert (swatch.name, swatch.group) == ("Teal (2)", "ebb (2)")
    chosen_ = workspace.do(do.ChooseInkSet(added.id))
    assert Palette(workspace.job.swatches).colour(role).components == (0.2, 0.0, 0.1, 0.0)
    workspace.run(chosen_.inverse)
    workspace.run(change.inverse)
    assert job_to_json(workspace.job) == before
    with pytest.raises(LexigonError):
        workspace.do(do.AddInkSet("Lost", new, (Casting(role, "nowhere"),)))
    assert teal in workspace.job.swatches


def test_the_map_shows_what_comes_back_from_the_inks() -> None:
    """Its middle is grey, its edge is out of reach; what is seen there comes out of LittleCMS as asked, pixel by pixel
    as by single colours."""
    shown = np.asarray(printable_map(60))
    assert shown.shape == (171, 171, 4)
    assert shown[85, 85, 3] == 255
    assert np.ptp(shown[85, 85, :3].astype(int)) < 6
    assert not shown[0, 0, 3]
    assert not shown[170, 170, 3]
    for a, b in ((30, 30), (-30, 10), (0, -30), (20, -20)):
        assert shown[85 - b, 85 + a, 3] == 255
        there = picked((60.0, a, b))
        far = np.array(there["seen"]) - (60, a, b)
        assert np.abs(far).max() <= 4
        single = np.array(Colour("lab", (60.0, a, b)).cmyk)
        assert np.abs(np.array(there["cmyk"]) - single).max() <= 0.006
        assert np.abs(shown[85 - b, 85 + a, :3] - 255 * np.array(Colour("cmyk", tuple(single)).rgb)).max() < 8
