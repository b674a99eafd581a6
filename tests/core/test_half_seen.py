"""What is half seen on the board as it prints: opacity, shadows and soft edges over paper and over other inks.

Colours are compared by CIEDE2000 (ISO/CIE 11664-6); ``test_colours.py`` checks that formula against published pairs.
"""

from __future__ import annotations

import random

import pytest

from lexigon.core.colour.colours import BLACK, Colour, light_lab
from lexigon.core.colour.difference import delta_e
from lexigon.core.colour.profiles import COATED
from lexigon.core.geometry import Affine, Rect
from lexigon.core.paint.blended import MOST, Region, difference, regions
from lexigon.core.paint.items import Fade, Group, Item, Path, Picture, Shadow
from lexigon.core.path.steps import steps_of
from lexigon.core.press.proofing import region_image

PAGE = Rect(0.0, 0.0, 100.0, 100.0)
WHITE = Colour("cmyk", (0.0, 0.0, 0.0, 0.0))
MAGENTA, CYAN, GREY = (
    Colour("cmyk", inks) for inks in ((0.0, 1.0, 0.0, 0.0), (1.0, 0.0, 0.0, 0.0), (0.0, 0.0, 0.0, 0.5))
)


def box(colour: Colour, x: float = 10.0, side: float = 60.0) -> Path:
    return Path(steps_of(f"M {x} {x} L {x + side} {x} L {x + side} {x + side} L {x} {x + side} Z"), colour)


def pixel(region: Region, x: float, y: float) -> tuple[float, ...]:
    picture = region_image(region, COATED, None)
    scale = picture.width / region.rect.width
    found = picture.getpixel((round((x - region.rect.x) * scale), round((y - region.rect.y) * scale)))
    assert isinstance(found, tuple)
    return tuple(value / 255 for value in found)


@pytest.mark.parametrize("seed", range(40))
def test_the_board_shows_what_is_half_seen_as_it_prints(seed: int) -> None:
    dice = random.Random(seed)
    above, below = (Colour("cmyk", tuple(round(dice.random(), 2) for _ in range(4))) for _ in range(2))
    opacity = dice.choice((0.1, 0.3, 0.5, 0.7, 0.9))
    found = regions([box(below), Group((box(above, 20.0, 30.0),), opacity=opacity)], PAGE)
    inks = tuple(b + (a - b) * opacity for a, b in zip(above.components, below.components, strict=True))
    printed = light_lab(Colour("cmyk", inks).rgb)
    if found:
        shown = pixel(found[0], 35.0, 35.0)
    else:  # by the browser, as light
        shown = tuple(b + (a - b) * opacity for a, b in zip(above.rgb, below.rgb, strict=True))
    assert delta_e(light_lab(shown), printed) <= MOST + 0.5
    for colour in (above, below):
        assert difference(colour.cmyk, colour.cmyk, opacity) < 1.0


def test_only_what_looks_different_becomes_a_region() -> None:
    def count(*items: Item) -> int:
        return len(regions(items, PAGE))

    def veil(colour: Colour, opacity: float, **more: float) -> Group:
        return Group((box(colour, **more),), opacity=opacity)

    assert not count(box(MAGENTA), box(BLACK))
    assert not count(veil(CYAN, 0.5)), "over paper cyan looks nearly the same mixed either way"
    assert count(veil(MAGENTA, 0.5)) == 1
    assert count(box(BLACK), veil(CYAN, 0.5)) == 1
    assert not count(box(BLACK, 75.0, 20.0), veil(CYAN, 0.5)), "it does not lie over the black"
    assert not count(veil(CYAN, 0.5), box(BLACK)), "nor below it"
    assert count(Group((veil(MAGENTA, 0.5),))) == 1, "within a group"
    assert not count(veil(MAGENTA, 0.99))
    assert count(Group((Picture("a", Affine(60.0, 0.0, 0.0, 60.0, 10.0, 10.0)),), opacity=0.5)) == 1, (
        "a picture is of any colour"
    )


def test_shadows_and_soft_edges_count_by_how_strong_they_get() -> None:
    def shadowed(colour: Colour, opacity: float) -> Group:
        return Group((box(WHITE),), shadow=Shadow(3.0, 3.0, 6.0, colour, opacity, Rect(10.0, 10.0, 60.0, 60.0)))

    assert not regions([shadowed(BLACK, 0.2)], PAGE)
    assert regions([shadowed(BLACK, 0.5)], PAGE)
    assert regions([box(CYAN), shadowed(BLACK, 0.2)], PAGE)
    steps = box(BLACK).steps
    assert regions([Group((box(BLACK),), fade=Fade(steps, False, 8.0, Rect(10.0, 10.0, 60.0, 60.0)))], PAGE)
    assert not regions([Group((box(GREY),), fade=Fade(steps, False, 8.0, Rect(10.0, 10.0, 60.0, 60.0)))], PAGE)


def test_what_lies_over_a_region_stays_drawn() -> None:
    items = [box(CYAN), Group((box(MAGENTA),), opacity=0.5), box(BLACK), Group((box(BLACK, 80.0, 10.0),), opacity=0.5)]
    first, second = sorted(regions(items, PAGE), key=lambda one: one.last)
    assert (first.last, len(first.items)) == (1, 2)
    assert (second.last, len(second.items)) == (3, 1)
    assert first.key != second.key


def test_solid_black_in_a_region_is_as_black_as_beside_it() -> None:
    (region,) = regions([box(BLACK), Group((box(MAGENTA, 40.0, 20.0),), opacity=0.5)], PAGE)
    assert region.rect.x < 40.0
    assert pixel(region, 39.7, 50.0) == BLACK.rgb == (0.0, 0.0, 0.0)
