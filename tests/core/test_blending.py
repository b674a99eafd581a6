"""Blend modes in print: what each does to each ink, over paper, process and spot inks, in groups; the same in every
kind of file.

The formulas are those of ISO 32000-2, 11.3.5.2 (the same as in Compositing and Blending Level 1, W3C, 9), for the
complements of inks (ISO 32000-2, 11.3.4). Ghostscript separates the files.
"""

from __future__ import annotations

import io
import subprocess
from collections.abc import Callable
from math import sqrt
from pathlib import Path

import numpy
import pikepdf
import pytest
from PIL import Image

from lexigon.core.blending import BLENDS
from lexigon.core.colour.colours import Colour
from lexigon.core.colour.profiles import COATED
from lexigon.core.document.model import Fill, FrameSpec
from lexigon.core.editing import intents as do
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.blended import regions
from lexigon.core.paint.display import Display
from lexigon.core.paint.drawing import drawing_of
from lexigon.core.paint.svg import svg_of
from lexigon.core.press import proofing
from lexigon.core.press.inkload import job_ink
from lexigon.core.press.proofing import proof_image, proof_png, region_image
from tests.core.helpers import book
from tests.core.test_flattening import swatch
from tests.core.test_pictures import pdf, plates

MODES = [mode for mode in BLENDS if mode != "normal"]


def _soft(b: float, s: float) -> float:
    if s <= 0.5:
        return b - (1 - 2 * s) * b * (1 - b)
    d = ((16 * b - 12) * b + 4) * b if b <= 0.25 else sqrt(b)
    return b + (2 * s - 1) * (d - b)


def _hard(b: float, s: float) -> float:
    return 2 * b * s if s <= 0.5 else b + (2 * s - 1) - b * (2 * s - 1)


FORMULAS: dict[str, Callable[[float, float], float]] = {
    "multiply": lambda b, s: b * s,
    "screen": lambda b, s: b + s - b * s,
    "overlay": lambda b, s: _hard(s, b),
    "darken": min,
    "lighten": max,
    "color-dodge": lambda b, s: 0.0 if b == 0 else 1.0 if s == 1 else min(1.0, b / (1 - s)),
    "color-burn": lambda b, s: 1.0 if b == 1 else 0.0 if s == 0 else 1 - min(1.0, (1 - b) / s),
    "hard-light": _hard,
    "soft-light": _soft,
    "difference": lambda b, s: abs(b - s),
    "exclusion": lambda b, s: b + s - 2 * b * s,
}
"""By the backdrop's and the source's light, of one component."""
NOT_ON_SPOTS = ("difference", "exclusion")
"""Modes that do not leave white white: spot inks are laid over normally (ISO 32000-2, 11.7.4.2)."""
INKS = ("Cyan", "Magenta", "Yellow", "Black", "Ebb Green")
GROUND, TOP, SPOT = (0.5, 0.2, 0.0, 0.1), (0.3, 0.6, 0.8, 0.0), (0.7, 0.0, 0.7, 0.1)
SIDE = 24.0


def blended(ink: str, mode: str, ground: float, top: float) -> float:
    """How much of an ink is printed where ``top`` is blended over ``ground``."""
    if ink == "Ebb Green" and mode in NOT_ON_SPOTS:
        return top
    return 1 - FORMULAS[mode](1 - ground, 1 - top)


def desk_of_blends() -> tuple[Workspace, list[tuple[str, str, float, float]]]:
    """A column for each mode: over paper, over process inks, over a spot ink, and within a group over process inks;
    with the places."""
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    ground = Fill(swatch(workspace, name="Ground", space="cmyk", values=GROUND))
    top = Fill(swatch(workspace, name="Top", space="cmyk", values=TOP))
    spot = Fill(swatch(workspace, name="Ebb Green", space="cmyk", values=SPOT, spot=True))
    for y, fill in ((80, ground), (120, spot), (160, ground)):
        workspace.do(do.AddShape(page, Rect(20, y, 340, 34), None, FrameSpec(fill=fill)))
    places = []
    for at, mode in enumerate(MODES):
        x = 24 + 30 * at
        for y, what in ((40.0, "paper"), (85.0, "process"), (125.0, "spot"), (165.0, "group")):
            workspace.do(do.AddShape(page, Rect(x, y, SIDE, SIDE), None, FrameSpec(fill=top, blend=mode)))
            if what == "group":
                inner = workspace.job.pages[0].objects[-1].id
                workspace.do(do.AddShape(page, Rect(x, y, 4, 4), None, FrameSpec(fill=top)))
                other = workspace.job.pages[0].objects[-1].id
                workspace.do(do.GroupObjects(page, (inner, other)))
            places.append((mode, what, x + SIDE / 2, y + SIDE / 2))
    return workspace, places


@pytest.mark.parametrize("kind", ["print", "older"])
def test_each_mode_prints_what_its_formula_says(kind: str, tmp_path: Path) -> None:
    workspace, places = desk_of_blends()
    found = plates(pdf(workspace, kind), tmp_path)
    height, width = found["Cyan"].shape
    left, head = (width - workspace.job.brief.width) / 2, (height - workspace.job.brief.height) / 2
    off = []
    for mode, what, x, y in places:
        for number, ink in enumerate(INKS):
            below = {"paper": 0.0, "spot": float(number == 4)}.get(what, (*GROUND, 0.0)[number])
            wanted = blended(ink, mode, below, (*TOP, 0.0)[number])
            value = float(found[ink][round(head + y), round(left + x)])
            if abs(value - wanted) > 0.02:
                off.append(f"{mode} over {what}, {ink}: {value:.2f} for {wanted:.2f}")
    assert not off, "\n".join(off)


@pytest.mark.parametrize("kind", ["print", "older"])
def test_poppler_mixes_process_inks_as_the_formulas_say(kind: str, tmp_path: Path) -> None:
    """A second renderer, whose process plates are those of a CMYK picture (``pdftoppm -jpegcmyk -overprint``)."""
    workspace, places = desk_of_blends()
    (tmp_path / "file.pdf").write_bytes(pdf(workspace, kind))
    command = ["pdftoppm", "-jpegcmyk", "-overprint", "-r", "72", tmp_path / "file.pdf", tmp_path / "page"]
    subprocess.run(command, check=True, capture_output=True)
    inks = numpy.asarray(Image.open(next(tmp_path.glob("page*.jpg"))), dtype=float) / 255
    left, head = (inks.shape[1] - workspace.job.brief.width) / 2, (inks.shape[0] - workspace.job.brief.height) / 2
    off = []
    for mode, what, x, y in places:
        below = (0.0,) * 4 if what == "paper" else GROUND
        wanted = [blended(ink, mode, *pair) for ink, *pair in zip(INKS[:4], below, TOP, strict=True)]
        found = inks[round(head + y), round(left + x)]
        if (
            what != "spot" and max(abs(a - b) for a, b in zip(found, wanted, strict=True)) > 0.06
        ):  # a JPEG of small fields
            off.append(f"{mode} over {what}: {found} for {wanted}")
    assert not off, "\n".join(off)


def test_a_page_with_something_mixed_says_in_which_space_and_others_say_nothing(tmp_path: Path) -> None:
    workspace, _ = desk_of_blends()
    workspace.do(do.AddPages(1, 1))
    for kind, space in (("print", "/DeviceCMYK"), ("screen", "/DeviceRGB")):
        with pikepdf.open(io.BytesIO(pdf(workspace, kind, [0, 1]))) as file:
            first, *others = file.pages
            assert str(first.Group.CS) == space
            assert not any("/Group" in page for page in others)
    assert numpy.all([0.0 <= FORMULAS[mode](b / 8, s / 8) <= 1.0 for mode in MODES for b in range(9) for s in range(9)])


def near(one: tuple[float, ...], other: tuple[float, ...]) -> float:
    return max(abs(a - b) for a, b in zip(one, other, strict=True))


def test_the_board_and_the_proof_show_what_prints(tmp_path: Path) -> None:
    """The colour of each place as its inks look over each other: of the board's regions, and of the pages of the
    file."""
    workspace, places = desk_of_blends()
    art = Display(workspace.composition).page(0)
    found = regions(art.items(), Rect(0.0, 0.0, art.width, art.height))
    drawing = drawing_of(art, region_address=lambda region: f"{region.key}.webp")
    assert all(f'href="{one.key}.webp"' in drawing for one in found)
    assert drawing_of(art).replace("as-printed", "") == svg_of(art.items())
    file = tmp_path / "file.pdf"
    file.write_bytes(pdf(workspace, "print"))
    proof = proof_image(file, 0, 72.0, COATED)
    left, head = (proof.width - art.width) / 2, (proof.height - art.height) / 2
    shown = {one: region_image(one, COATED, None) for one in found}
    off = []
    for mode, what, x, y in places:
        below = {"paper": (0.0,) * 5, "spot": (0.0, 0.0, 0.0, 0.0, 1.0)}.get(what, (*GROUND, 0.0))
        inks = [blended(ink, mode, *pair) for ink, *pair in zip(INKS, below, (*TOP, 0.0), strict=True)]
        together = tuple(min(1.0, ink + inks[4] * part) for ink, part in zip(inks[:4], SPOT, strict=True))
        wanted = tuple(round(255 * v) for v in Colour("cmyk", together).rgb)
        (region,) = [one for one in found if one.rect.x < x < one.rect.right and one.rect.y < y < one.rect.foot]
        scale = shown[region].width / region.rect.width
        board = shown[region].getpixel((round((x - region.rect.x) * scale), round((y - region.rect.y) * scale)))
        printed = proof.getpixel((round(left + x), round(head + y)))
        for where, colour in (("board", board), ("proof", printed)):
            assert isinstance(colour, tuple)
            if near(colour, wanted) > 8 and together[:3] != (0.0, 0.0, 0.0):
                off.append(f"{mode} over {what} on the {where}: {colour} for {wanted}")
    assert not off, "\n".join(off)


@pytest.mark.parametrize("overprints", [True, False])
def test_the_proof_shows_what_overprints(overprints: bool, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    teal, rust = (
        Fill(swatch(workspace, name=name, space="cmyk", values=values))
        for name, values in (("Teal", (0.8, 0.0, 0.2, 0.0)), ("Rust", (0.0, 0.7, 0.0, 0.0)))
    )
    workspace.do(do.AddShape(page, Rect(60, 60, 200, 200), None, FrameSpec(fill=teal)))
    workspace.do(do.AddShape(page, Rect(100, 100, 60, 60), None, FrameSpec(fill=rust, overprint=overprints)))
    file = tmp_path / "file.pdf"
    file.write_bytes(pdf(workspace, "print"))
    proof = proof_image(file, 0, 72.0, COATED)
    seen = proof.getpixel((round((proof.width - 432) / 2 + 130), round((proof.height - 648) / 2 + 130)))
    wanted = Colour("cmyk", (0.8, 0.7, 0.2, 0.0) if overprints else (0.0, 0.7, 0.0, 0.0)).rgb
    assert isinstance(seen, tuple)
    assert near(seen, tuple(255 * v for v in wanted)) < 6
    assert job_ink(workspace.composition, [0], COATED)["simulated"] is overprints
    with Image.open(io.BytesIO(proof_png(file, 0, 72.0, COATED))) as apart:
        assert apart.tobytes() == proof.tobytes(), "the same by a process of its own"
    monkeypatch.setattr(proofing, "SECONDS", 0)
    with Image.open(io.BytesIO(proof_png(file, 0, 72.0, COATED))) as plain:
        assert plain.size == proof.size, "what takes too long is shown in light"
    art = Display(workspace.composition).page(0)
    assert ("as-printed" in drawing_of(art, region_address=lambda region: region.key)) is overprints
    for region in regions(art.items(), Rect(0.0, 0.0, 432, 648)) if overprints else ():
        board = region_image(region, COATED, None).getpixel(
            (round((130 - region.rect.x) * 3), round((130 - region.rect.y) * 3))
        )
        assert isinstance(board, tuple)
        assert near(board, tuple(255 * v for v in wanted)) < 6
