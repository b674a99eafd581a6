"""Merge in the browser: from dropping the records to the ganged PDF, with the mistakes that people make put right."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Callable
from hashlib import sha256
from pathlib import Path

import pypdfium2 as pdfium
import pytest
import zxingcpp
from playwright.sync_api import Page, expect

from demo.cards import portraits, record_files, warden_cards
from demo.pieces import MM, new_job, words_in
from demo.prices import price_files, price_list
from lexigon.core.document.model import Code, Fill, FrameSpec, Job, RecordSet
from lexigon.core.editing.intents import AddCode, AddShape, ChangeFrame
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.browser.conftest import settled
from tests.browser.helpers import spec

GUESTS = (
    "name;portrait;id\n"
    "Merrow Finch;merrow-01.png;001\n"
    "Ansa Tolley;ansa_02;002\n"
    "Wilhelmina Featherstonehaugh-Saltonstall of the Outer Bank;wilhelmina-08.png;003\n"
)


def design() -> Job:
    """A card on which nothing is bound: a frame for a picture, a name, and a dark code on a dark ground."""
    workspace = Workspace(new_job("card", name="Guest cards"))
    page = workspace.job.pages[0].id
    workspace.do(
        AddShape(page, Rect(5 * MM, 5 * MM, 20 * MM, 26 * MM), spec=FrameSpec(fill=Fill("black", 0.1)), name="Face")
    )
    words_in(workspace, 0, Rect(28 * MM, 5 * MM, 30 * MM, 10 * MM), "Dear", 12, 14, name="Name")
    workspace.do(AddCode(page, Rect(60 * MM, 5 * MM, 20 * MM, 20 * MM), Code("qr", "later")))
    code = workspace.job.pages[0].objects[-1].id
    workspace.do(ChangeFrame(page, code, spec=FrameSpec(fill=Fill("black", 0.9))))
    return workspace.job


def merge_ready(page: Page) -> None:
    page.wait_for_function("() => document.documentElement.dataset.merge === 'ready'")


def checked(page: Page, errors: int) -> None:
    """Wait until all records have a verdict, and so many have errors."""
    expect(page.locator("#shows")).to_contain_text(f"Errors {errors}")
    expect(page.locator("#progress")).to_have_text("")


def go_to(page: Page, place: str) -> None:
    page.click(f".strip-places >> text={place}")
    if place == "Merge":
        merge_ready(page)
    else:
        page.wait_for_selector(".content .frame", state="attached")


def object_named(page: Page, name: str) -> None:
    """Click an object on the board."""
    box = page.evaluate(
        """(name) => { const group = [...document.querySelectorAll('.frame-box')].find((one) =>
            document.getElementById(`o0-${one.dataset.id}`)?.getAttribute('aria-label')?.includes(name));
          const r = group.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]; }""",
        name,
    )
    page.mouse.click(*box)


def test_from_a_file_of_records_to_the_ganged_file(opened: Callable[[Job], Page], tmp_path: Path) -> None:
    page = opened(design())
    go_to(page, "Merge")
    expect(page.locator("#empty")).to_contain_text("Drop a file of records here")
    page.set_input_files("#file", {"name": "guests.csv", "mimeType": "text/csv", "buffer": GUESTS.encode()})
    view = page.locator(".merge-look th")
    expect(view).to_have_count(3)
    page.get_by_label("Separator").select_option(label="comma")  # a semicolon file read as comma
    expect(view).to_have_count(1)
    page.get_by_label("Separator").select_option(label="recognised: comma")
    page.get_by_label("Separator").select_option(index=0)
    expect(view).to_have_count(3)
    page.click("#ask-yes")
    expect(page.locator(".merge-row")).to_have_count(3)
    expect(page.locator(".merge-row").first).to_contain_text("Merrow Finch")
    names = ("merrow-01.png", "ansa-02.png", "wilhelmina-08.png")
    files = [{"name": name, "mimeType": "image/png", "buffer": portraits()[name]} for name in names]
    page.set_input_files("#file", files)  # type: ignore[arg-type]
    expect(page.locator("#toast")).to_contain_text("3 pictures imported")

    page.click("#unbound >> text=Bind objects on the board")
    page.wait_for_selector(".field-row")
    expect(page.locator(".field-row")).to_have_count(3)
    object_named(page, "Face")
    page.click(".field-row[data-field=portrait]")
    expect(page.locator("[data-bound-of]")).to_have_count(1)
    expect(page.locator("[data-bound-of] text")).to_have_text("{ portrait }")
    object_named(page, "Code")
    page.click(".field-row[data-field=id]")
    expect(page.locator("[data-bound-of]")).to_have_count(2)
    page.get_by_label("Code: text with fields in braces").fill("https://saltmarsh.example/{id}")
    page.get_by_label("Code: text with fields in braces").press("Enter")
    settled(page)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Text", exact=True).click()
    object_named(page, "Name")
    page.keyboard.press("Control+a")
    page.click(".field-row[data-field=name]")
    expect(page.locator(".content")).to_contain_text("{name}")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Select", exact=True).click()
    page.get_by_label("Show this record on the board").check()
    expect(page.locator(".record-drawing")).to_contain_text("Merrow Finch")
    page.get_by_label("Next record").click()
    expect(page.locator(".record-drawing")).to_contain_text("Ansa Tolley")
    page.get_by_label("Show this record on the board").uncheck()
    expect(page.locator(".record-drawing")).to_have_count(0)

    go_to(page, "Merge")
    checked(page, 3)
    expect(page.locator("#problems")).to_contain_text("too little contrast")
    go_to(page, "Board")
    object_named(page, "Code")
    spec(page, "fill Paper")
    settled(page)
    go_to(page, "Merge")
    checked(page, 2)
    page.click(".merge-row[data-number='1'] [data-column='0']")
    page.click("#problems >> text=Use “ansa-02”")
    checked(page, 1)
    expect(page.locator(".merge-row[data-number='1']")).to_contain_text("ansa-02")
    page.select_option("#jump", "finding")
    expect(page.locator("#problems")).to_contain_text("do not fit")
    page.click("#problems >> text=/Set all records in/")
    checked(page, 0)
    page.click("#undo")
    merge_ready(page)
    checked(page, 1)
    page.click("#redo")
    merge_ready(page)
    checked(page, 0)

    page.click("#export-tab")
    page.select_option("#form", "sheets")
    page.click("#export")
    with page.expect_download() as download:
        page.click(".merge-output >> text=Download", timeout=40_000)
    download.value.save_as(tmp_path / "sheets.pdf")
    document = pdfium.PdfDocument(tmp_path / "sheets.pdf")
    codes = sorted(one.text for one in zxingcpp.read_barcodes(document[0].render(scale=3).to_pil()))
    assert codes == [f"https://saltmarsh.example/00{n}" for n in (1, 2, 3)]
    text = document[0].get_textpage().get_text_range()
    assert "Merrow Finch" in text
    assert "Ansa Tolley" in text


def test_records_are_typed_edited_and_switched_off_by_keyboard(opened: Callable[[Job], Page]) -> None:
    job = warden_cards()
    job.record_sets: dict[str, RecordSet] = {}  # type: ignore[misc]
    page = opened(job)
    go_to(page, "Merge")
    page.click("#new")
    page.get_by_label("Fields").fill("name, post")
    page.click("#ask-yes")
    expect(page.locator(".merge-row")).to_have_count(1)
    page.focus("#table")
    page.keyboard.type("Una Brine")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    page.keyboard.type("The salt pans")
    page.keyboard.press("Enter")
    settled(page)
    expect(page.locator(".merge-row").first).to_contain_text("Una Brine")
    expect(page.locator(".merge-row").first).to_contain_text("The salt pans")
    page.click("#add-row")
    expect(page.locator(".merge-row")).to_have_count(2)
    page.click("#computed")
    page.expected.add(400)  # type: ignore[attr-defined]
    page.get_by_role("textbox", name="Computed fields").fill("label = upper(nam)")
    page.click("#ask-yes")
    expect(page.locator("#ask-problem")).to_contain_text("There is no field “nam”")
    page.get_by_role("textbox", name="Computed fields").fill("label = upper(name)")
    page.click("#ask-yes")
    expect(page.locator(".merge-row").first).to_contain_text("UNA BRINE")
    page.get_by_label("Merge record 2").uncheck()
    expect(page.locator("#shows")).to_contain_text("Off 1")
    page.reload()
    merge_ready(page)
    expect(page.locator(".merge-row").first).to_contain_text("UNA BRINE")
    expect(page.locator(".merge-row.off")).to_have_count(1)
    page.fill("#search", "nobody")
    expect(page.locator(".merge-row")).to_have_count(0)
    page.fill("#search", "salt")
    expect(page.locator(".merge-row")).to_have_count(1)
    expect(page.locator("#record-name")).to_have_text(re.compile("Record 1 of 1"))


def test_a_zip_file_of_many_records_and_their_pictures(opened: Callable[[Job], Page]) -> None:
    """Only the rows in view are there, and the last is reached at once."""
    rows = [f"{number:04};Guest {number};merrow-01.png" for number in range(3000)]
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w") as archive:
        archive.writestr("list/guests.csv", "\n".join(("id;name;portrait", *rows)))
        archive.writestr("list/merrow-01.png", portraits()["merrow-01.png"])
    page = opened(design())
    go_to(page, "Merge")
    page.set_input_files("#file", {"name": "guests.zip", "mimeType": "application/zip", "buffer": stream.getvalue()})
    expect(page.locator("#toast")).to_contain_text("1 picture imported")
    expect(page.locator("#ask-body")).to_contain_text("3,000 records, 3 fields. Read from “list/guests.csv”.")
    page.click("#ask-yes")
    table = page.locator("#table")
    expect(table).to_have_attribute("aria-rowcount", "3000")
    page.get_by_role("tab", name="Export").click()
    page.get_by_label("Recipe").select_option(label="Page drawings, SVG")
    expect(page.locator("#form")).to_have_value("each")
    expect(page.locator("#form option[value=one]")).to_be_disabled()
    page.get_by_label("Recipe").select_option(label="Screen")
    expect(page.locator("#form option[value=one]")).to_be_enabled()
    table.evaluate("(one) => { one.scrollTop = 45_000; }")
    expect(page.locator(".merge-row[data-row='1510']")).to_contain_text("Guest 1510")
    table.evaluate("(one) => { one.scrollTop = one.scrollHeight; }")
    expect(page.locator(".merge-row").last).to_contain_text("Guest 2999")
    assert page.locator(".merge-row").count() < 60
    order = page.locator(".merge-row").evaluate_all("(all) => all.map((one) => Number(one.dataset.row))")
    assert order == sorted(order)


def portrait_at(page: Page) -> tuple[float, float]:
    """The middle of the portrait on the board, in pixels."""
    middle = page.wait_for_function(
        """() => { const r = document.querySelector('.content image')?.getBoundingClientRect();
          return r?.width && [r.x + r.width / 2, r.y + r.height / 2]; }"""
    )
    x, y = middle.json_value()
    return x, y


def test_a_record_is_adjusted_on_the_board(opened: Callable[..., Page]) -> None:
    """Moved by keys and by hand, for this record alone; undone, and removed."""
    page = opened(warden_cards(), record_files() | {sha256(data).hexdigest(): data for data in portraits().values()})
    go_to(page, "Merge")
    page.locator(".merge-row").nth(3).click()
    expect(page.locator("#record-name")).to_have_text("Record 4 of 24")
    page.click("text=Adjust on the board")
    band = page.locator("#record-band")
    expect(band).to_contain_text("Record 4: edits change this record only")
    page.keyboard.press("PageDown")
    expect(page.locator(".content").first).to_contain_text("Odile Marsh")
    settled(page)
    page.click("[data-drawer=fields]")
    before = portrait_at(page)
    page.mouse.move(*before)
    page.mouse.down()
    page.mouse.move(before[0] + 30, before[1] + 60, steps=4)
    page.mouse.up()
    settled(page)
    moved = page.locator("#drawer").get_by_text(re.compile("Portrait: moved by"))
    expect(moved).to_have_count(1)
    after = portrait_at(page)
    assert after[1] > before[1] + 40
    page.keyboard.press("Control+z")
    expect(moved).to_have_count(0)
    settled(page)
    assert portrait_at(page) == pytest.approx(before, abs=1)
    page.keyboard.press("Control+Shift+z")
    expect(moved).to_have_count(1)
    page.expected.add(400)  # type: ignore[attr-defined]
    page.mouse.click(*after)
    page.keyboard.press("Delete")
    expect(page.locator("#toast")).to_contain_text("Objects cannot be added, deleted or grouped for one record")
    settled_again = portrait_at(page)
    assert settled_again == pytest.approx(after, abs=1)
    box = page.locator(".content").first.get_by_text("Odile Marsh").bounding_box()
    assert box is not None
    page.mouse.dblclick(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    words = page.get_by_role("textbox", name="Words")
    expect(words).to_have_value(re.compile("^Odile Marsh"))
    words.fill("Odile\nvon Marsh")
    page.get_by_role("button", name="Apply").click()
    expect(page.locator(".content").first).to_contain_text("von Marsh")
    expect(page.locator("#drawer").get_by_text("Name: other words")).to_have_count(1)
    settled(page)
    page.get_by_label("Next record").click()
    expect(band).to_contain_text("Record 5")
    expect(page.locator(".content").first).to_contain_text("Hob Wherry")
    expect(moved).to_have_count(0)
    band.get_by_role("button", name="Done").click()
    expect(band).to_be_hidden()
    expect(page.locator(".content").first).to_contain_text("{name}")
    assert portrait_at(page) == pytest.approx(before, abs=1), "the design is as it was"
    go_to(page, "Merge")
    page.locator(".merge-row").nth(3).click()
    remove = page.get_by_role("button", name=re.compile("Remove adjustment: Portrait"))
    remove.click()
    expect(remove).to_have_count(0)


def test_a_field_is_dropped_on_an_object(opened: Callable[..., Page]) -> None:
    job = warden_cards()
    page = opened(job, record_files() | {sha256(data).hexdigest(): data for data in portraits().values()})
    page.keyboard.press("PageDown")
    page.click("[data-drawer=fields]")
    page.wait_for_selector(".field-row")
    page.wait_for_selector("[data-bound-of]")
    bound = page.locator("[data-bound-of] text")
    expect(bound.first).to_have_text("{ portrait }")
    at = portrait_at(page)
    board = page.locator("#board")
    box = board.bounding_box()
    assert box is not None
    target = {"x": at[0] - box["x"], "y": at[1] - box["y"]}
    page.locator(".field-row[data-field=motto]").drag_to(board, target_position=target)  # type: ignore[arg-type]
    expect(bound.first).to_have_text("{ motto }")


def test_entries_of_a_price_list_are_seen_on_their_pages(opened: Callable[..., Page]) -> None:
    page = opened(price_list(), price_files())
    go_to(page, "Merge")
    entries = page.locator(".merge-pages .entry")
    expect(entries.first).to_have_class("entry current")
    expect(page.locator(".merge-pages")).to_contain_text("This page has 17 of 24 records.")
    entries.nth(5).click()
    expect(page.locator("#record-name")).to_have_text("Record 6 of 24")
    page.locator(".merge-row").nth(20).scroll_into_view_if_needed()
    page.locator(".merge-row[data-row='20']").click()
    expect(page.locator(".merge-pages")).to_contain_text("This page has 7 of 24 records.")
    expect(page.locator(".merge-pages svg text").first).to_be_attached()


def test_a_folder_of_pictures_is_dropped(opened: Callable[..., Page], tmp_path: Path) -> None:
    folder = tmp_path / "faces" / "inner"
    folder.mkdir(parents=True)
    for name in ("merrow-01.png", "ansa-02.png"):
        (folder / name).write_bytes(portraits()[name])
    page = opened(design())
    go_to(page, "Merge")
    session = page.context.new_cdp_session(page)
    data = {"items": [], "files": [str(tmp_path / "faces")], "dragOperationsMask": 1}
    for kind in ("dragEnter", "dragOver", "drop"):
        session.send("Input.dispatchDragEvent", {"type": kind, "x": 400, "y": 400, "data": data})
    expect(page.locator("#toast")).to_contain_text("2 pictures imported")
