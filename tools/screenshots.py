"""Takes the pictures in docs/screenshots from the demo: ``PYTHONPATH=src:. python -m tools.screenshots``."""

from __future__ import annotations

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.browser.conftest import CHROMIUM, Server

TARGET = Path("docs/screenshots")


def main() -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder)).start()
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=["--no-sandbox", "--disable-gpu"])
        try:
            page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
            page.goto(server.url)
            page.click("text=Try the demo")
            shoot(page, server.url)
        finally:
            browser.close()
            server.stop()


def keep(page: Page, name: str, wait: int = 1500) -> None:
    page.wait_for_timeout(wait)
    page.screenshot(path=TARGET / f"{name}.png")


def shoot(page: Page, url: str) -> None:
    keep(page, "shelf", 3000)
    addresses = {
        str(link.locator("b").text_content()): str(link.get_attribute("href")).removesuffix("board/")
        for link in page.locator("main li.card > a").all()
    }
    guide = url + addresses["Birds of the Merrow Flats"]
    cover = url + addresses["Birds of the Merrow Flats, cover"]
    page.goto(f"{cover}brief/")
    keep(page, "brief-cover")
    page.goto(f"{guide}flatplan/")
    page.wait_for_timeout(3000)
    page.click("#stories button")
    page.click("#page-14")
    page.locator("#page-15").click(modifiers=["Shift"])
    keep(page, "flatplan")
    page.goto(f"{guide}board/?page=20")
    page.wait_for_selector(".content .ln")
    page.mouse.click(300, 300)
    keep(page, "board")
    page.goto(f"{cover}board/")
    page.wait_for_selector(".content .ln")
    picture = page.locator(".content image").first.bounding_box()
    assert picture
    page.mouse.dblclick(picture["x"] + picture["width"] * 0.75, picture["y"] + picture["height"] * 0.6)
    page.locator(".framing-handle").first.wait_for()
    keep(page, "board-cover")
    page.keyboard.press("Escape")
    page.goto(url + addresses["Invitation, the plank’s birthday"] + "board/")
    page.wait_for_selector(".content .ln")
    page.click("[data-drawer=inks]")
    keep(page, "board-inks")
    page.click("[data-drawer=inks]")
    page.goto(f"{url}{addresses['An evening in the open hide']}board/")
    page.wait_for_selector(".content image")
    page.click("[data-drawer=pictures]")
    page.mouse.click(690, 590)
    keep(page, "board-flyer")
    page.click("[data-drawer=pictures]")
    magazine = url + addresses["Slack Water, the spring number"]
    page.goto(f"{magazine}board/?page=4")
    page.wait_for_selector(".content image")
    keep(page, "board-magazine")
    page.goto(f"{magazine}board/?page=1")
    page.wait_for_selector(".content .ln")
    page.click("[data-drawer=layers]")
    page.click(".layer .name >> text=Ground")
    page.click(".layer-objects button:has-text('Sun')")
    keep(page, "board-layers")
    page.click("[data-drawer=layers]")
    page.goto(f"{magazine}board/?page=2")
    page.wait_for_selector(".content .ln")
    page.locator(".content .ln").nth(8).dblclick(force=True)
    for title in ("Hyphenation and line breaks", "Drop cap"):
        page.click(f".slip .section-head:has-text('{title}')")
    page.evaluate("() => { document.querySelector('.slip').scrollTop = 500; }")
    page.click("[data-drawer=inks]")
    page.click("[data-drawer=inks]")
    page.goto(f"{guide}board/?page=15")
    page.wait_for_selector(".content .ln")
    page.click("#texture")
    page.wait_for_timeout(800)
    page.click("#texture-bar .next")
    keep(page, "board-texture")
    page.goto(f"{guide}board/?page=48")
    page.wait_for_selector(".content .ln")
    page.click("[data-drawer=listings]")
    page.locator("#drawer .entry").first.wait_for()
    keep(page, "board-listings")
    page.click("[data-drawer=listings]")
    page.goto(f"{guide}manuscript/")
    page.locator(".heading-row .go", has_text="Two clocks over the mud").click()
    keep(page, "manuscript")
    page.goto(f"{guide}manuscript/rules/")
    page.fill("#rule", "in Body, first sentence: Small capitals")
    page.wait_for_selector(".hit")
    keep(page, "copy-rules")
    page.goto(f"{guide}manuscript/find/?words=tide")
    page.wait_for_selector(".hit")
    page.fill("#put", "flood")
    keep(page, "copy-find")
    page.goto(f"{url}/new/")
    page.fill("[name='name']", "The guide as it came in")
    page.click("text=Create book")
    page.click("text=as it came in.docx")
    page.wait_for_selector(".cleaned")
    page.locator(".cleaned summary").nth(1).click()
    page.locator(".uses .use").last.scroll_into_view_if_needed()
    page.mouse.wheel(0, 420)
    keep(page, "survey")
    cards = url + addresses["Wardens’ cards"]
    page.goto(f"{cards}merge/")
    page.wait_for_selector(".merge-row .ready")
    page.click(".merge-row[data-number='7'] [data-column='1']")
    keep(page, "merge", 2500)
    page.goto(f"{cards}board/?page=2&drawer=fields")
    page.wait_for_selector(".field-row")
    picture = page.locator(".content image").first.bounding_box()
    assert picture
    page.mouse.click(picture["x"] + 20, picture["y"] + 20)
    page.get_by_label("Show this record on the board").check()
    page.click("[aria-label='Next record']")
    keep(page, "board-fields", 2500)
    page.click("[data-drawer=fields]")
    page.goto(f"{guide}press/")
    page.get_by_role("button", name="Export", exact=True).click()
    page.wait_for_selector("text=Download", timeout=60_000)
    page.fill("#proofpage", "15")
    page.press("#proofpage", "Enter")
    keep(page, "press", 2500)
    page.goto(url)
    page.click("text=Birds of the Merrow Flats, cover and inside")
    page.locator("#recipe").select_option("screen")
    page.click("text=Export all as one PDF")
    page.wait_for_selector("text=Download", timeout=60_000)
    keep(page, "publication", 2500)


if __name__ == "__main__":
    main()
