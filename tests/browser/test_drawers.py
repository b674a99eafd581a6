"""The drawers at the left edge: layers and pages, by pointer and keyboard; groups and locks."""

from __future__ import annotations

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Server, new_book, settled
from tests.browser.test_pages import words


def box_of(found: Locator) -> tuple[float, float, float, float]:
    box = found.bounding_box()
    assert box
    return box["x"], box["y"], box["width"], box["height"]


def drag(page: Page, x0: float, y0: float, x1: float, y1: float) -> None:
    page.mouse.move(x0, y0)
    page.mouse.down()
    for part in range(1, 6):
        page.mouse.move(x0 + (x1 - x0) * part / 5, y0 + (y1 - y0) * part / 5)
    page.mouse.up()


def shape(page: Page, x: float, y: float, width: float = 60, height: float = 50) -> None:
    """Draw a shape with the pointer, from the left and the top of the paper."""
    page.click("[data-tool=shape]")
    left, top, _, _ = box_of(page.locator(".paper").first)
    drag(page, left + x, top + y, left + x + width, top + y + height)
    settled(page)


SHAPES = ".content .frame[data-kind=shape]"


@pytest.fixture
def board(demo: Page, server: Server) -> Page:
    address = new_book(demo, server, "\n\n".join(words(90, n) for n in range(30)))
    demo.goto(f"{address}board/")
    settled(demo)
    return demo


def order(page: Page) -> list[str]:
    return page.locator(SHAPES).evaluate_all("all => all.map((one) => one.dataset.frame)")


def test_layers_are_made_ordered_hidden_locked_and_taken_away(board: Page) -> None:
    page = board
    shape(page, 90, 90)
    shape(page, 120, 110)
    below, above = order(page)
    page.click("[data-drawer=layers]")
    expect(page.locator(".layer")).to_have_count(1)
    page.click("#drawer >> text=New layer")
    expect(page.locator("#layer-name")).to_be_focused()
    page.keyboard.type("Plates")  # its name is chosen
    page.keyboard.press("Enter")
    settled(page)
    expect(page.locator(".layer .name")).to_have_text(["Plates", "Main layer"])
    page.click(f"#drawer [data-key=name-{page.locator('.layer').nth(1).get_attribute('data-layer')}]")
    page.click(f"[data-key=object-{below}]")
    page.click(".layer .name >> text=Plates")
    page.click("text=Move selection to this layer")
    settled(page)
    assert order(page) == [above, below], "what lay below lies on the higher layer now"
    # Another height: by the keys, then by dragging.
    page.locator(".layer .name", has_text="Plates").press("Alt+ArrowDown")
    settled(page)
    assert order(page) == [below, above]
    x, y, width, height = box_of(page.locator(".layer .name", has_text="Plates"))
    drag(page, x + width / 2, y + height / 2, x + width / 2, box_of(page.locator(".layer").first)[1] - 4)
    settled(page)
    assert order(page) == [above, below]
    page.locator(".layer", has_text="Plates").locator("[data-key^=visible]").click()
    settled(page)
    assert order(page) == [above]
    page.reload()
    expect(page.locator(".layer", has_text="Plates").locator(".aside").first).to_have_text("hidden")
    page.locator(".layer", has_text="Plates").locator("[data-key^=visible]").click()
    settled(page)
    page.locator(".layer", has_text="Plates").locator("[data-key^=locked]").click()
    settled(page)
    box = page.locator(f".content [data-frame={below}]")
    x, y, _, _ = was = box_of(box)
    drag(page, x + 4, y + 20, x + 60, y + 60)  # nothing there can be taken hold of
    settled(page)
    assert box_of(box) == pytest.approx(was, abs=0.5)
    page.click(".layer .name >> text=Plates")
    page.fill("#layer-opacity", "40")
    page.keyboard.press("Enter")
    settled(page)
    expect(page.locator(".content > g[opacity='0.4'], .content g[opacity='0.4']")).to_have_count(1)
    expect(page.locator("#drawer [data-key=delete]")).to_be_disabled()  # it is locked
    page.locator(".layer", has_text="Plates").locator("[data-key^=locked]").click()
    settled(page)
    page.click("#drawer >> text=Delete")
    settled(page)
    expect(page.locator(".layer .name")).to_have_text(["Main layer"])
    assert sorted(order(page)) == sorted([below, above])
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    settled(page)
    expect(page.locator(".layer .name")).to_have_text(["Plates", "Main layer"])


def test_what_is_chosen_is_grouped_and_locked_by_the_keyboard(board: Page) -> None:
    page = board
    shape(page, 90, 90)
    shape(page, 180, 110)
    first, second = order(page)
    page.click("[data-drawer=layers]")
    page.click(f"[data-key=object-{first}]")
    x, y, width, height = box_of(page.locator(f".content [data-frame={second}]"))
    page.keyboard.down("Shift")
    page.mouse.click(x + width / 2, y + height / 2)
    page.keyboard.up("Shift")
    page.keyboard.press("g")
    settled(page)
    line = page.locator(".layer-objects .object", has_text="Group, 2")
    expect(line).to_have_count(1)
    before = [box_of(page.locator(f".content [data-frame={one}]"))[0] for one in (first, second)]
    page.mouse.click(x + width / 2, y + height / 2)  # one of them stands for both
    page.keyboard.press("Shift+ArrowRight")
    settled(page)
    moved = [box_of(page.locator(f".content [data-frame={one}]"))[0] for one in (first, second)]
    assert moved[0] - before[0] == pytest.approx(moved[1] - before[1], abs=0.1)
    assert moved[0] > before[0] + 1
    expect(page.locator(".slip .sub").first).to_contain_text("group of 2 objects")
    page.fill("#fx", "20mm")
    page.keyboard.press("Enter")
    settled(page)
    typed = [box_of(page.locator(f".content [data-frame={one}]"))[0] for one in (first, second)]
    assert typed[0] - moved[0] == pytest.approx(typed[1] - moved[1], abs=0.5)
    assert abs(typed[0] - moved[0]) > 2
    moved = typed
    page.keyboard.press("Escape")
    line.click()
    page.locator("#sheet").focus()
    page.keyboard.press("k")
    settled(page)
    page.keyboard.press("ArrowRight")
    expect(page.locator("#toast")).to_contain_text("locked")
    assert box_of(page.locator(f".content [data-frame={first}]"))[0] == pytest.approx(moved[0], abs=0.1)
    page.keyboard.press("k")
    settled(page)
    page.keyboard.press("Shift+G")
    settled(page)
    expect(page.locator(".layer-objects .object", has_text="Group")).to_have_count(0)


def test_objects_are_renamed_put_in_order_and_into_groups_by_their_lines(board: Page) -> None:
    page = board
    for x in (90, 160, 230):
        shape(page, x, 90, 40, 40)
    first, second, third = order(page)
    page.click("[data-drawer=layers]")
    lines = page.locator(".layer-objects .object", has_text="Shape")
    expect(lines).to_have_count(3)
    page.locator(f"[data-key=object-{first}]").dblclick()
    page.locator(".layer-objects input").fill("Ground")
    page.keyboard.press("Enter")
    settled(page)
    ground = page.locator(f"[data-key=object-{first}]")
    expect(ground).to_have_text("Ground")
    ground.focus()
    page.keyboard.press("Alt+ArrowUp")
    settled(page)
    assert order(page) == [second, first, third]
    x, y, width, height = box_of(page.locator(f"[data-key=object-{second}]"))
    top = box_of(page.locator(f"[data-key=object-{third}]"))
    drag(page, x + 30, y + height / 2, top[0] + 30, top[1] + 3)
    settled(page)
    assert order(page) == [first, third, second]
    page.locator(f"[data-key=object-{second}]").click()
    page.locator("#sheet").focus()
    x, y, width, height = box_of(page.locator(f".content [data-frame={third}]"))
    page.keyboard.down("Shift")
    page.mouse.click(x + width / 2, y + height / 2)
    page.keyboard.up("Shift")
    page.keyboard.press("g")
    settled(page)
    group = page.locator(".layer-objects .object", has_text="Group, 2")
    x, y, _, height = box_of(page.locator(f"[data-key=object-{first}]"))
    gx, gy, _, high = box_of(group)
    drag(page, x + 30, y + height / 2, gx + 30, gy + high / 2)
    settled(page)
    expect(page.locator(".layer-objects .object", has_text="Group, 3")).to_have_count(1)
    page.locator(".layer-objects .fold").click()
    expect(page.locator(".layer-objects .depth-1")).to_have_count(3)
    page.click("#drawer >> text=New layer")
    page.keyboard.press("Enter")
    settled(page)
    page.click("#drawer >> text=Work only on this layer")
    expect(page.locator(".content .frame.pale").first).to_be_attached()
    x, y, width, height = box_of(page.locator(f".content [data-frame={first}]"))
    page.mouse.click(x + width / 2, y + height / 2)
    expect(page.locator(".selected-box")).to_have_count(0)
    page.click("#drawer >> text=Work on all layers")
    page.mouse.click(x + width / 2 + 9, y + height / 2 + 9)
    expect(page.locator(".selected-box")).to_have_count(3)


def test_the_drawer_of_pages_leads_to_every_spread(board: Page) -> None:
    page = board
    page.click("[data-drawer=pages]")
    leaves = page.locator(".page-list .leaf")
    expect(leaves.first).to_have_attribute("aria-current", "true")
    count = leaves.count()
    assert count > 2
    leaves.nth(2).click()
    settled(page)
    expect(page.locator("#sheet .frame").first).to_be_attached()
    expect(leaves.nth(2)).to_have_attribute("aria-current", "true")
    expect(leaves.first).not_to_have_attribute("aria-current", "true")
    leaves.last.click()  # in between, the text would take the new pages up and give others back
    expect(leaves.last).to_have_attribute("aria-current", "true")
    page.click("text=Add two pages after")
    settled(page)
    expect(leaves).not_to_have_count(count)
    expect(page.locator("#drawer-tabs [data-drawer=pages]")).to_have_attribute("aria-expanded", "true")
    page.keyboard.press("Escape")
    page.click("[data-drawer=pages]")
    expect(page.locator("#drawer")).to_be_hidden()


def test_the_current_layer_is_shown_remembered_and_never_a_locked_one(board: Page) -> None:
    page = board
    shown = page.locator("#current-layer")
    expect(shown).to_be_hidden()
    page.click("[data-drawer=layers]")
    page.click("#drawer >> text=New layer")
    expect(page.locator("#layer-name")).to_be_focused()
    page.keyboard.type("Plates")
    page.keyboard.press("Enter")
    settled(page)
    expect(shown).to_have_text("Plates")
    page.click(".layer .name >> text=Main layer")
    expect(shown).to_have_text("Main layer")
    page.click(".layer .name >> text=Plates")
    page.reload()
    page.wait_for_selector("html[data-ready]")
    expect(shown).to_have_text("Plates")
    page.locator(".layer", has_text="Plates").locator("[data-key^=locked]").click()
    settled(page)
    expect(shown).to_have_text("Main layer")
    page.click(".layer .name >> text=Plates")
    expect(page.locator("#toast")).to_contain_text("“Plates” is locked: new objects are added to “Main layer”.")
    page.click("#drawer [data-key^=locked][aria-pressed=true]")
    settled(page)
    expect(shown).to_have_text("Plates")
