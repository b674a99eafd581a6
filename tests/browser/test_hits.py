"""A click on the board selects the object painted under the pointer, not the one whose box is there."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Page, expect

from lexigon.core.document.model import Fill, FrameSpec, Job, Outline, Stroke
from lexigon.core.editing.intents import AddShape
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.test_arranging import on_sheet
from tests.core.helpers import book

NOTHING = "Main text"
"""The frame of the main text lies below all."""


def shapes() -> Job:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    black = FrameSpec(fill=Fill("black", 0.3))
    edge = FrameSpec(fill=Fill(""), stroke=Stroke(weight=1.0, swatch="black"))
    triangle = Outline("polygon", ((0.5, 0.0), (1.0, 1.0), (0.0, 1.0)))
    workspace.do(
        AddShape(page, Rect(60, 60, 120, 120), None, black, name="Square"),
        AddShape(page, Rect(120, 60, 200, 200), triangle, black, name="Triangle"),
        AddShape(page, Rect(60, 300, 120, 120), Outline("ellipse"), black, name="Disc"),
        AddShape(page, Rect(2, 2, 32, 32), Outline("ellipse"), edge, name="Ring"),
        AddShape(page, Rect(60, 450, 300, 60), None, black, name="Bar"),
        AddShape(page, Rect(50, 440, 320, 80), None, edge, name="Frame"),
        AddShape(page, Rect(198, 452, 4, 56), Outline("path", data="M 0.5 0 L 0.5 1"), edge, name="Thin line"),
    )
    return workspace.job


def test_a_click_hits_what_is_painted_there(opened: Callable[[Job], Page]) -> None:
    page = opened(shapes())
    title = page.locator(".slip h1")

    def hit(x: float, y: float, dx: float = 0.0, **more: object) -> None:
        px, py = on_sheet(page, x, y)
        page.keyboard.press("Escape")
        page.mouse.click(px + dx, py, **more)  # type: ignore[arg-type]

    for x, y, name in (
        (130, 70, "Square"),  # in the empty corner of the triangle's box
        (220, 200, "Triangle"),
        (310, 70, NOTHING),
        (120, 360, "Disc"),
        (64, 304, NOTHING),
        (2, 18, "Ring"),  # on its stroke
        (18, 18, "Ring"),  # within it, where nothing else is
        (100, 480, "Bar"),  # through the frame round it, which has no fill
        (50, 480, "Frame"),
        (200, 480, "Thin line"),
    ):
        hit(x, y)
        expect(title, f"{x}, {y}").to_have_text(name)
    # Presses one after another at nearly one place are no double click where Esc came between.
    for aside in (-3, 3):
        hit(200, 480, aside)
        expect(title).to_have_text("Thin line")
    hit(200, 480, 8)
    expect(title).to_have_text("Bar")
    # Shift adds what is painted there, and leaves it when clicked again; a click beside it changes nothing.
    hit(120, 360)
    page.keyboard.down("Shift")
    page.mouse.click(*on_sheet(page, 64, 304))
    expect(title).to_have_text("Disc")
    page.mouse.click(*on_sheet(page, 220, 200))
    expect(page.locator(".slip .sub").first).to_contain_text("and 1 other")
    page.keyboard.up("Shift")
