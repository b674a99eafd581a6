"""Several people at one job: they see each other and each other's changes; what was is compared with what is."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Browser, Page, expect

from lexigon.core.document.model import Job
from lexigon.core.editing.intents import AddPages, AddShape
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import Server, settled
from tests.browser.helpers import command
from tests.browser.test_arranging import SHAPES, on_sheet, places
from tests.core.helpers import book


def shapes() -> Job:
    workspace = Workspace(book(facing=False))
    page = workspace.job.pages[0].id
    workspace.do(AddShape(page, Rect(80, 90, 60, 40), name="Buoy"), AddShape(page, Rect(200, 150, 60, 40), name="Post"))
    return workspace.job


def test_two_people_see_each_other_and_what_the_other_does(
    opened: Callable[[Job], Page], server: Server, chromium: Browser
) -> None:
    page = opened(shapes())
    board = page.url
    context = chromium.new_context(viewport={"width": 1280, "height": 800})
    other = context.new_page()
    other.goto(f"{server.url}/sign-up/")
    for field, value in (
        ("username", "tern.merrow"),
        ("password1", "brackish-9-tides"),
        ("password2", "brackish-9-tides"),
    ):
        other.fill(f"[name={field}]", value)
    other.keyboard.press("Enter")
    other.wait_for_selector("h1:text('Shelf')")
    # Shared on the shelf, by the name somebody signs in with.
    page.goto(server.url)
    card = page.locator("li.card").filter(has=page.locator(f"a[href='{board.removeprefix(server.url)}']")).first
    card.get_by_text("Share", exact=True).click()
    card.get_by_label("User name").fill("Tern.Merrow")
    card.get_by_label("Role", exact=True).select_option("view")
    card.get_by_role("button", name="Share job").click()
    expect(page.get_by_text("on the shelf of tern.merrow, who can view and comment")).to_be_visible()
    other.reload()
    expect(other.locator("li.card")).to_contain_text("shared by wren.demo: you can view and comment")
    other.goto(board)
    other.wait_for_selector(SHAPES)
    # Who may only view moves nothing, and says so in a comment.
    other.mouse.click(*on_sheet(other, 110, 110))
    expect(other.locator(".slip h1")).to_have_text("Buoy")
    before = places(other)
    other.keyboard.press("ArrowDown")
    expect(other.locator("#toast")).to_contain_text("not edit it")
    settled(other)
    assert places(other) == before
    other.get_by_role("button", name="Comments").click()
    other.get_by_label("Comment on page 1").fill("The buoy is too high.")
    other.get_by_role("button", name="Add comment").click()
    expect(other.locator(".comment-list")).to_contain_text("The buoy is too high.")
    other.get_by_role("button", name="Comments").click()
    card.get_by_text("Share", exact=True).click()
    card.get_by_label("Role of tern.merrow").select_option("edit")
    expect(page.get_by_text("tern.merrow can edit")).to_be_visible()
    other.reload()
    other.wait_for_selector(SHAPES)
    page.goto(board)
    page.wait_for_selector(SHAPES)
    page.click("[data-drawer=comments]")
    expect(page.locator(".comment-list")).to_contain_text("tern.merrow")
    page.get_by_role("button", name="Resolve").click()
    expect(page.locator("#drawer")).to_contain_text("All comments are resolved.")
    page.click("[data-drawer=comments]")
    # The other's choice shows, and what they do without a reload.
    other.mouse.click(*on_sheet(other, 110, 110))
    expect(other.locator(".slip h1")).to_have_text("Buoy")
    expect(page.locator("#others .other > span").first).to_have_text("TM", timeout=20_000)
    expect(page.locator(".other-name")).to_have_text("tern.merrow", timeout=20_000)
    other.keyboard.press("Shift+ArrowDown")
    settled(other)
    page.wait_for_function(
        "() => document.querySelector('.content .frame[data-kind=shape] path').getBBox().y === 100", timeout=20_000
    )
    expect(page.locator("#undo")).to_have_attribute("title", "Undo: move object (tern.merrow)")
    other.close()
    expect(page.locator("#others .other")).to_have_count(0, timeout=20_000)
    context.close()


def test_a_version_is_laid_beside_and_over_the_job_as_it_is(opened: Callable[[Job], Page]) -> None:
    job = shapes()
    Workspace(job).do(AddPages(1, 2))
    page = opened(job)
    page.get_by_role("button", name="Save version…").click()
    page.locator("dialog[open] input").fill("Before the gale")
    page.keyboard.press("Enter")
    settled(page)
    page.mouse.click(*on_sheet(page, 110, 110))
    page.keyboard.press("Shift+ArrowDown")
    settled(page)
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Compare").click()
    rows = page.locator(".compare-row")
    expect(rows).to_have_text(["Page 1"])
    expect(page.locator("#looking")).to_contain_text("1 page")
    assert page.eval_on_selector_all(".compare-side svg .frame path", "(all) => all.map((one) => one.getBBox().y)") == [
        90,
        150,
        100,
        150,
    ]
    page.get_by_role("button", name="Overlay").click()
    page.locator("#share").fill("100")
    assert page.locator(".after").evaluate("(side) => [side.style.opacity, getComputedStyle(side).gridRow]")[0] == "1"
    page.get_by_role("button", name="Differences").click()
    assert page.locator(".after").evaluate("(side) => getComputedStyle(side).mixBlendMode") == "difference"
    page.locator("#after").select_option(label="Before the gale")
    expect(page.locator("#looking")).to_have_text("No page differs.")


def test_two_spreads_stand_side_by_side_and_what_is_done_on_either_stays_in_view(opened: Callable[[Job], Page]) -> None:
    workspace = Workspace(book())
    workspace.do(AddPages(1, 6))
    workspace.do(AddShape(workspace.job.pages[4].id, Rect(80, 90, 60, 40), name="Post"))
    page = opened(workspace.job)
    leaves = "() => [...document.querySelectorAll('.leaf')].map((leaf) => Number(leaf.dataset.page))"
    command(page, "two spreads side by side")
    page.wait_for_function(f"() => ({leaves})().length === 3")
    page.keyboard.press("PageDown")
    page.wait_for_function(f"() => ({leaves})().join() === '3,4,5,6'")
    page.reload()
    page.wait_for_selector(SHAPES)
    assert page.evaluate(leaves) == [3, 4, 5, 6], "kept for this job"
    page.locator(SHAPES).click(force=True)
    expect(page.locator(".slip h1")).to_have_text("Post")
    page.keyboard.press("Shift+ArrowRight")
    settled(page)
    assert places(page) == [(90, 90)]
    assert page.evaluate(leaves) == [3, 4, 5, 6]
    # A guide pulled onto the last page is that page's, in its own measures.
    ruler = page.locator(".ruler-y").bounding_box()
    paper = page.locator(".paper").nth(3).bounding_box()
    assert ruler
    assert paper
    page.keyboard.down("Alt")
    page.mouse.move(ruler["x"] + 9, 400)
    page.mouse.down()
    page.mouse.move(paper["x"] + paper["width"] / 2, 420)
    page.mouse.move(paper["x"] + paper["width"] / 2 + 1, 421)
    page.mouse.up()
    page.keyboard.up("Alt")
    settled(page)
    at = float(page.locator(".leaf[data-page='6'] .guide-line").get_attribute("x1") or 0)
    assert abs(at - 216) < 4, "the middle of a page of 432 pt"
    # With Ctrl it is both pages'; in the list each has its place.
    ruler = page.locator(".ruler-x").bounding_box()
    assert ruler
    page.keyboard.down("Control")
    page.mouse.move(paper["x"] + 20, ruler["y"] + 9)
    page.mouse.down()
    page.mouse.move(paper["x"] + 20, paper["y"] + 30)
    page.mouse.move(paper["x"] + 21, paper["y"] + 31)
    page.mouse.up()
    page.keyboard.up("Control")
    settled(page)
    expect(page.locator(".leaf[data-page='5'] .guide-line")).to_have_count(1)
    expect(page.locator(".leaf[data-page='6'] .guide-line")).to_have_count(2)
    page.keyboard.press("Control+k")
    page.keyboard.type("edit guides by")
    page.keyboard.press("Enter")
    expect(page.locator(".guide-row")).to_have_count(3)
    page.get_by_role("button", name="Delete guide 1").click()
    page.locator("#ask-yes").click()
    settled(page)
    expect(page.locator(".leaf[data-page='5'] .guide-line")).to_have_count(0)
    page.locator("#sheet").focus()
    command(page, "two spreads side by side")
    page.wait_for_function(f"() => ({leaves})().length === 2")
