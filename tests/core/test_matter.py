"""A manuscript poured over a text: front matter that it does not bring, contents and an index stay, and sections follow
their text."""

from __future__ import annotations

from lexigon.core.document.model import Listing, ListingSource, Paragraph, Section
from lexigon.core.document.numbering import sections
from lexigon.core.editing.intents import InsertListing, PourText, PutListing, PutSection
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.section_places import section_places, sections_moved
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.matter import around
from tests.core.helpers import book, words

FRONT = (
    Paragraph("t", "title", "Birds of the Flats"),
    Paragraph("a", "author", "by the Observatory"),
    Paragraph("i", "imprint", "© The Saltmarsh Observatory"),
    Paragraph("d", "dedication", "For the wardens"),
)


def chapters(count: int, length: int, prefix: str = "c") -> list[Paragraph]:
    made: list[Paragraph] = []
    for n in range(count):
        made += [
            Paragraph(f"{prefix}{n}", "chapter", f"Chapter {n}"),
            Paragraph(f"{prefix}{n}t", "first", words(length, n)),
        ]
    return made


def listed() -> Workspace:
    """A book with front matter, contents before its chapters, and a listing of chapters again at its end."""
    workspace = Workspace(book())
    workspace.do(PourText("main", (*FRONT, *chapters(3, 400))))
    for key, name, where in (("contents", "Contents", "front"), ("again", "Chapters again", "end")):
        workspace.do(PutListing(Listing(key, name, (ListingSource("chapter"),))))
        now = tuple(one.entry for one in gathered(workspace.composition, workspace.job.listings[key]))
        workspace.do(InsertListing(key, "main", now, where, name))  # type: ignore[arg-type]
    return workspace


def ids(paragraphs: tuple[Paragraph, ...]) -> list[str]:
    return [p.id for p in paragraphs]


def test_front_matter_contents_and_an_index_stay_around_a_new_text() -> None:
    workspace = listed()
    story = workspace.job.stories["main"]
    new = chapters(2, 50, "n")
    made = around(workspace.job, story, new)
    assert made.names == ("title page", "imprint", "dedication", "Contents", "Chapters again")
    texts = [p.text.split("\t")[0] for p in made.paragraphs]
    assert texts[:9] == [
        "Birds of the Flats",
        "by the Observatory",
        "© The Saltmarsh Observatory",
        "For the wardens",
        "Contents",
        "Chapter 0",
        "Chapter 1",
        "Chapter 2",
        "Chapter 0",
    ]
    assert texts[-4:] == ["Chapters again", "Chapter 0", "Chapter 1", "Chapter 2"]
    assert ids(made.paragraphs)[8:12] == ["n0", "n0t", "n1", "n1t"]
    # What the manuscript brings itself takes the place of what there was; the rest stays, in the order of the trade.
    own = [Paragraph("t2", "title", "Another title"), Paragraph("a2", "author", "by somebody else")]
    brought = around(workspace.job, story, [*own, *new])
    assert ids(brought.paragraphs)[:4] == ["t2", "a2", "i", "d"]
    assert brought.names[0] == "imprint"
    # A text without any of it is replaced as a whole.
    plain = Workspace(book())
    plain.do(PourText("main", tuple(chapters(2, 50))))
    assert around(plain.job, plain.job.stories["main"], new).paragraphs == tuple(new)


def test_sections_begin_where_their_text_does_after_another_was_poured() -> None:
    workspace = listed()

    def page_of(paragraph: str) -> int:
        page = workspace.composition.where.page("main", paragraph)
        assert page is not None
        return page

    text = Section("Text", start=1)
    last = Section("Last", prefix="Z-")
    workspace.do(
        PutSection(workspace.job.pages[page_of("c0")].id, text), PutSection(workspace.job.pages[page_of("c2")].id, last)
    )
    places = section_places(workspace.composition)
    assert [(one.section.name, one.level, one.nth) for one in places] == [("Text", 2, 0), ("Last", 2, 2)]
    new = [*FRONT, Paragraph("p", "dedication", "And for the gulls"), *chapters(4, 900, "n")]
    new = [p if p.id != "n3" else Paragraph("n3", "chapter", "Chapter 2") for p in new if p.id not in ("n2", "n2t")]
    workspace.do(PourText("main", tuple(new)))
    assert [index for index, _ in sections(workspace.job)] != [page_of("n0"), page_of("n3")]
    change = workspace.do(*sections_moved(workspace.composition, places))
    assert dict(sections(workspace.job)) == {page_of("n0"): text, page_of("n3"): last}, "by the words of their headings"
    assert not sections_moved(workspace.composition, section_places(workspace.composition))
    workspace.run(change.inverse)
    # Where no heading has the same words it goes by which of its level it is; what has no counterpart stays.
    workspace.do(PourText("main", (*FRONT, *(Paragraph(f"x{n}", "chapter", f"Other {n}") for n in range(2)))))
    before = dict(sections(workspace.job))
    workspace.do(*sections_moved(workspace.composition, places))
    assert dict(sections(workspace.job))[page_of("x0")] == text
    assert last in dict(sections(workspace.job)).values() or last not in before.values()
