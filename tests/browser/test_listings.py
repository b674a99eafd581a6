"""Listings and references as somebody works with them: from the styles to the page, corrected by hand, brought up to
date."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Page, expect

from lexigon.core.document.model import Job, Listing, ListingSource, Paragraph, ParaSpec
from lexigon.core.editing.intents import PutListing
from lexigon.core.flow.workspace import Workspace
from tests.browser.conftest import settled
from tests.browser.helpers import MAIN, command, lines, poured, type_at


def test_contents_are_made_put_in_corrected_and_brought_up_to_date(opened: Callable[[Job], Page]) -> None:
    rows = [Paragraph("slot", "body", "Slot"), *(Paragraph(f"h{n}", "chapter", f"Head {n}") for n in range(4))]
    page = opened(poured(*rows))
    board = page.url
    page.goto(board.split("/board/")[0] + "/manuscript/listings/")
    expect(page.locator(".slip")).to_contain_text("your own changes stay")
    page.get_by_label("Add a listing").select_option(label="Contents")
    expect(page.locator(".entries li")).to_have_count(4)
    page.get_by_label("Separator between text and number").select_option(label="a comma")
    expect(page.locator(".slip [role=status]")).to_have_text("It is not in a story yet.")
    page.get_by_label("Level").select_option(label="level 2")
    expect(page.locator(".entry.deep-2")).to_have_count(4)
    page.get_by_label("Level").select_option(label="level 1")
    expect(page.locator(".entry.deep-1")).to_have_count(4)

    # Put in where the caret stands; its numbers are those of the pages, and lead to them.
    page.goto(board)
    type_at(page, 0, 4)
    page.get_by_role("button", name="Listings", exact=True).click()
    page.get_by_role("button", name="Insert listing…").click()
    page.locator("#ask").get_by_role("button", name="Insert").click()
    expect(page.locator("#drawer [role=status]")).to_contain_text("up to date")
    settled(page)
    assert lines(page) == ["Slot", "Head 0, 2", "Head 1, 3", "Head 2, 4", "Head 3, 5"]
    page.locator("#drawer .entry").nth(1).get_by_role("button").click()
    expect(page.locator(MAIN)).to_have_text(["HEAD 1"])
    page.locator("#drawer").get_by_role("button", name="Go to listing").click()
    expect(page.locator(".content")).to_contain_text("Head 3, 5")

    # An editor's word in an entry, and another in its heading: asked about; what only the heading changed is taken
    # over.
    type_at(page, 2, 0)
    page.keyboard.type("Our ")
    settled(page)
    for head in (1, 2):
        page.locator("#drawer .entry").nth(head).get_by_role("button").click()
        expect(page.locator(MAIN)).to_have_text([f"HEAD {head}"])
        type_at(page, 0, 0)
        page.keyboard.type("New ")
        settled(page)
        page.keyboard.press("Escape")
    expect(page.locator("#drawer [role=status]")).to_contain_text("1 change, 1 to decide on")
    page.get_by_role("button", name="Update").click()
    expect(page.locator("#drawer [role=status]")).to_contain_text("1 to decide on")
    page.locator("#drawer").get_by_role("button", name="Go to listing").click()
    expect(page.locator(".content")).to_contain_text("Our Head 1, 3")
    expect(page.locator(".content")).to_contain_text("New Head 2, 4")
    page.get_by_role("button", name="Use the new text").click()
    expect(page.locator("#drawer [role=status]")).to_contain_text("up to date")
    expect(page.locator(".content")).to_contain_text("New Head 1, 3")
    page.keyboard.press("Control+z")
    expect(page.locator(".content")).to_contain_text("Our Head 1, 3")


def test_words_are_marked_for_the_index_and_listed(opened: Callable[[Job], Page]) -> None:
    page = opened(
        poured(Paragraph("a", "body", "Knots and dunlin, dunlin and knots"), Paragraph("slot", "body", "Index"))
    )
    type_at(page, 0, 10)
    for _ in range(6):
        page.keyboard.press("Shift+ArrowRight")
    page.get_by_role("button", name="Insert…").click()
    expect(page.locator("#ask").get_by_label("Term")).to_have_value("dunlin")
    page.locator("#ask").get_by_label("wherever").check()
    page.locator("#ask").get_by_role("button", name="Insert", exact=True).click()
    expect(page.locator("#toast")).to_contain_text("Index entry added: dunlin")
    settled(page)
    assert lines(page) == ["Knots and dunlin, dunlin and knots", "Index"], "marks take no room"
    type_at(page, 0, 0)
    page.keyboard.press("End")
    page.keyboard.type("!")  # behind the marks the caret stands where it seems to
    for _ in range(7):
        page.keyboard.press("ArrowLeft")
    page.keyboard.type("?")
    settled(page)
    assert lines(page)[0] == "Knots and dunlin, dunlin and? knots!"
    page.locator("#invisibles").click()
    expect(page.locator("#sheet text", has_text="‡")).to_have_count(2)
    page.locator("#invisibles").click()
    board = page.url
    page.goto(board.split("/board/")[0] + "/manuscript/listings/")
    page.get_by_label("Add a listing").select_option(label="Index")
    expect(page.locator(".entries li")).to_have_count(2)
    page.get_by_label("Term", exact=True).last.fill("Sandpiper")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Term", exact=True)).to_have_count(3)
    page.get_by_label("See", exact=True).nth(1).fill("dunlin")
    page.keyboard.press("Enter")
    expect(page.locator(".entries")).to_contain_text("Sandpiper, see dunlin")
    # By a list: what cannot be read is said and kept, then the words are marked.
    page.get_by_role("button", name="Mark from a list of words…").click()
    page.get_by_label("Words to be marked").fill("knots = waders > knots\n= no words")
    page.expected.add(400)  # type: ignore[attr-defined]
    page.get_by_role("button", name="Mark", exact=True).click()
    expect(page.locator("#ask-problem")).to_contain_text("Line 2 cannot be read")
    page.get_by_label("Words to be marked").fill("knots = waders > knots")
    page.get_by_role("button", name="Mark", exact=True).click()
    expect(page.locator("#toast")).to_contain_text("The index has")
    expect(page.locator(".entries li").filter(has_text="knots")).to_have_class("entry deep-2")
    page.get_by_label("Run-in").check()
    expect(page.locator(".entries li").filter(has_text="waders")).to_have_count(1)
    expect(page.locator(".entry.deep-2")).to_have_count(0)
    page.goto(board)
    type_at(page, 1, 5)
    page.get_by_role("button", name="Listings", exact=True).click()
    page.get_by_role("button", name="Insert listing…").click()
    page.locator("#ask").get_by_role("button", name="Insert").click()
    expect(page.locator(".content")).to_contain_text("Sandpiper, see dunlin")
    settled(page)
    assert lines(page)[2:] == ["D", "dunlin, 1", "S", "Sandpiper, see dunlin", "W", "waders: knots, 1"]


def test_a_reference_is_found_by_its_words_and_follows_its_page(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(Paragraph("a", "body", "See page "), Paragraph("h", "chapter", "Of terns")))
    type_at(page, 0, 9)
    page.get_by_role("button", name="Insert…").click()
    page.locator("#ask").get_by_label("Item", exact=True).select_option(label="cross-reference")
    page.locator("#ask").get_by_label("Find").fill("terns")
    expect(page.locator("#ask").get_by_label("Target").locator("option")).to_have_text(["Of terns  ·  2"])
    page.locator("#ask").get_by_role("button", name="Insert", exact=True).click()
    expect(page.locator(".content")).to_contain_text("See page 2")
    settled(page)
    page.keyboard.type(" and on")
    settled(page)
    assert lines(page) == ["See page 2 and on"]


def test_listings_lead_on_beside_every_place(opened: Callable[[Job], Page]) -> None:
    rows = [Paragraph(f"h{n}", "chapter", f"Head {n}", para=ParaSpec(start="page")) for n in range(9)]
    workspace = Workspace(poured(*rows))
    workspace.do(PutListing(Listing("contents", "Contents", (ListingSource("chapter"),))))
    page = opened(workspace.job)
    place = page.url.split("/board/")[0]
    page.goto(f"{place}/flatplan/")
    page.keyboard.press("j")
    entries = page.get_by_role("region", name="Listings").locator(".entry")
    expect(entries).to_have_count(9)
    entries.nth(6).get_by_role("button").click()
    wanted = workspace.composition.page_of("main", "h6", 0)
    assert wanted is not None
    expect(page.locator(f'#spreads .leaf[data-index="{wanted}"]')).to_have_attribute("aria-selected", "true")
    # It stays out from place to place; where there are no pages to go to the board opens at the page.
    page.goto(f"{place}/brief/")
    expect(entries).to_have_count(9)
    page.goto(f"{place}/manuscript/")
    entries.nth(8).get_by_role("button").click()
    expect(page.get_by_text("Head 8").first).to_be_in_viewport()
    page.goto(f"{place}/press/")
    expect(entries).to_have_count(9)
    entries.nth(6).get_by_role("button").click()
    page.wait_for_url(f"**/board/?page={wanted + 1}")
    page.goto(f"{place}/press/")
    page.get_by_role("button", name="Listings", exact=True).click()
    expect(page.locator("#beside")).to_be_hidden()


def test_contents_are_inserted_in_one_step_and_several_listings_stay_in_order(opened: Callable[[Job], Page]) -> None:
    text = [
        p
        for n in range(3)
        for p in (Paragraph(f"h{n}", "chapter", f"Chapter {n}"), Paragraph(f"s{n}", "section", f"Section {n}"))
    ]
    page = opened(poured(Paragraph("t", "title", "Birds of the Flats"), *text))
    command(page, "Insert listing")
    dialog = page.locator("#ask")
    expect(dialog.get_by_label("Position")).to_have_value("front")
    dialog.get_by_role("button", name="Insert").click()
    expect(page.locator("#drawer [role=status]")).to_contain_text("up to date")
    settled(page)
    shown = lines(page)
    assert [line.split()[0].casefold() for line in shown] == ["contents", *["chapter", "section"] * 3]
    page.keyboard.press("Control+z")
    expect(page.locator("#drawer")).to_contain_text("Insert listing…")


def test_listings_inserted_at_the_caret_stay_in_order(opened: Callable[[Job], Page]) -> None:
    """The caret is behind the first one, so that the second comes after it."""
    workspace = Workspace(
        poured(Paragraph("slot", "body", "Slot"), *(Paragraph(f"h{n}", "section", f"Head {n}") for n in range(2)))
    )
    for name in ("First", "Second"):
        workspace.do(PutListing(Listing(name.lower(), name, (ListingSource("section"),), number="none")))
    page = opened(workspace.job)
    type_at(page, 0, 4)
    for name in ("First", "Second"):
        command(page, "Insert listing")
        dialog = page.locator("#ask")
        expect(dialog.get_by_label("Position")).to_have_value("caret")
        dialog.get_by_label("Listing").select_option(label=name)
        dialog.get_by_role("button", name="Insert").click()
        page.wait_for_function("() => !document.querySelector('#ask').open")
        settled(page)
    page.keyboard.type("!")
    settled(page)
    assert lines(page)[:6] == ["Slot", "Head 0", "Head 1", "Head 0", "Head 1!", "Head 0"]


def test_only_listings_with_entries_are_offered_and_one_goes_on_a_new_page(opened: Callable[[Job], Page]) -> None:
    page = opened(poured(*(Paragraph(f"h{n}", "chapter", f"Head {n}") for n in range(2))))
    command(page, "Insert listing")
    dialog = page.locator("#ask")
    offered = dialog.get_by_label("Listing").locator("option")
    expect(offered).to_have_text(["Contents"])
    dialog.get_by_label("Position").select_option("page")
    expect(dialog.get_by_placeholder("the name of the listing")).to_be_visible()
    dialog.get_by_role("button", name="Insert").click()
    expect(page.locator("#drawer [role=status]")).to_contain_text("It is on page 2, up to date")
    settled(page)
    page.locator("#undo").click()  # the page, its frame and the listing are one step
    expect(page.locator("#drawer")).to_contain_text("Insert listing…")
    expect(page.locator("header")).to_contain_text("2 pages")


def test_a_long_listing_on_pages_of_its_own_has_its_heading_and_as_many_pages_as_it_needs(
    opened: Callable[[Job], Page],
) -> None:
    page = opened(poured(*(Paragraph(f"h{n}", "section", f"Head {n}") for n in range(90))))
    expect(page.locator("header")).to_contain_text("6 pages")
    page.get_by_role("button", name="Listings", exact=True).click()
    page.get_by_role("button", name="Insert listing…").click()
    page.locator("#ask").get_by_label("Position").select_option(label="On a new page after this one")
    page.locator("#ask").get_by_role("textbox", name="Heading").fill("What is where")
    page.locator("#ask").get_by_role("button", name="Insert", exact=True).click()
    expect(page.locator("#drawer [role=status]")).to_contain_text("up to date")
    settled(page)
    expect(page.locator(".content")).to_contain_text("Head 89")
    expect(page.locator("[data-overset-of]")).to_have_count(0)
    page.locator("#drawer").get_by_role("button", name="Go to listing").click()
    expect(page.locator(".content")).to_contain_text("What is where", ignore_case=True)
    page.locator("#undo").click()
    settled(page)
    expect(page.locator("#drawer [role=status]")).to_have_count(0)
    expect(page.locator("header")).to_contain_text("6 pages")
