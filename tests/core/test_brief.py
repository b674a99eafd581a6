"""The calculators of the Brief against the trade's check values and published sizes."""

from __future__ import annotations

import pytest

from lexigon.core.brief import binding, envelopes, forms
from lexigon.core.brief.kinds import defaults
from lexigon.core.brief.paper import PAPERS, by_caliper, by_page, caliper
from lexigon.core.brief.setup import read_setup
from lexigon.core.document import brief_rules
from lexigon.core.document.forms import covers, folds, sheets
from lexigon.core.document.model import Brief, Cover, Edges, Fold
from lexigon.core.errors import LexigonError
from lexigon.core.lengths import POINTS, parse, show

INCH, MM = POINTS["in"], POINTS["mm"]
WHITE = PAPERS["white"]
BOOK = Cover(6 * INCH, 9 * INCH, pages=150)


def cover_brief(cover: Cover = BOOK, **more: object) -> Brief:
    edges = Edges(*[36.0] * 4)
    brief = Brief(100, 100, edges, Edges(*[9.0] * 4), "in", False, paper="white", safe=36.0, form=cover)
    return forms.sized(brief, PAPERS)


def test_the_spine_of_150_white_pages() -> None:
    """Check values of the trade (common practice, no source): 0.338 in, 0.34 as rounded; cover 12.34 x 9 in."""
    spine = covers.spine_width(150, WHITE)
    assert spine / INCH == pytest.approx(0.3378)
    assert (round(spine / INCH, 3), round(spine / INCH, 2)) == (0.338, 0.34)
    assert covers.spine_width(150, PAPERS["cream"]) / INCH == pytest.approx(0.375)
    brief = cover_brief()
    assert (round(brief.width / INCH, 2), brief.height / INCH) == (12.34, 9.0)
    with_bleed = (brief.width + 18) / INCH, (brief.height + 18) / INCH
    assert (round(with_bleed[0], 2), with_bleed[1]) == (12.59, 9.25)
    assert parse("6in + 6in + 0.338in") == pytest.approx(brief.width, abs=0.02)


def test_two_ways_to_give_the_thickness_of_paper() -> None:
    """A page of 0.0025 in is a leaf of 127 microns (1 in = 25.4 mm)."""
    papers = by_page("a", "A", 0.0025), by_caliper("c", "C", 127)
    assert {round(paper.page, 9) for paper in papers} == {0.18}
    assert caliper(papers[0]) == pytest.approx(127 * MM / 1000)


def test_panels_of_a_cover_add_up_and_move_with_the_spine() -> None:
    brief = cover_brief()
    panels = sheets.panels_of(brief, PAPERS)
    assert [p.name for p in panels] == ["back", "spine", "front"]
    assert panels[-1].rect.right == pytest.approx(brief.width)
    inside = sheets.panels_of(brief, PAPERS, 1)
    assert [p.name for p in inside] == ["inside front", "inside spine", "inside back"]
    jacket = cover_brief(Cover(6 * INCH, 9 * INCH, 150, flap=3 * INCH))
    assert [p.name for p in sheets.panels_of(jacket, PAPERS)] == ["back flap", "back", "spine", "front", "front flap"]
    assert jacket.width == pytest.approx(brief.width + 6 * INCH)
    moves = {m.old.x: m.new.x for m in forms.panel_moves(brief, cover_brief(Cover(6 * INCH, 9 * INCH, 300)), PAPERS, 1)}
    front = panels[2].rect.x
    assert moves[front] - front == pytest.approx(150 * WHITE.page)
    code = forms.bar_code_area(brief, PAPERS)
    assert code is not None
    assert panels[0].safe(36).contains(code.x + 1, code.y + 1)
    assert panels[0].safe(36.001).right - code.right == pytest.approx(0, abs=0.01)


@pytest.mark.parametrize(
    ("pages", "allowed", "largest"), [(150, True, 13), (100, False, 0), (111, False, 0), (112, True, 8)]
)
def test_type_stands_only_on_a_spine_thick_enough(pages: int, allowed: bool, largest: float) -> None:
    """From 0.25 in on, a sixteenth kept clear on either side (common practice, no source); sizes by hand."""
    panel = sheets.panels_of(cover_brief(Cover(6 * INCH, 9 * INCH, pages)), PAPERS)[1]
    found = covers.spine_type(panel)
    assert (found.allowed, found.largest) == (allowed, largest)


def test_a_typed_spine_that_contradicts_the_pages_is_pointed_out_with_both_numbers() -> None:
    typed = Cover(6 * INCH, 9 * INCH, 150, spine=0.5 * INCH)
    (remark,) = forms.remarks(cover_brief(typed), PAPERS)
    assert "0.5 in" in remark
    assert "0.3378 in" in remark
    assert "222 pages" in remark
    assert not forms.remarks(cover_brief(Cover(6 * INCH, 9 * INCH, 150, spine=0.34 * INCH)), PAPERS)


@pytest.mark.parametrize(
    ("cover", "paper", "field"),
    [
        (Cover(432, 648, 150), None, "paper"),
        (Cover(432, 648, 0), "white", "pages"),
        (Cover(432, 648, 6000), "white", "pages"),
    ],
)
def test_spines_that_cannot_be_computed(cover: Cover, paper: str | None, field: str) -> None:
    with pytest.raises(LexigonError) as caught:
        forms.sized(Brief(1, 1, Edges(), paper=paper, form=cover), PAPERS)
    assert caught.value.field == field


def test_letter_fold_rolls_in_a_narrower_panel() -> None:
    fold = Fold(99 * MM, 210 * MM, "letter", 3, allowance=2 * MM)
    outside, inside = (folds.fold_panels(fold, face) for face in ("outside", "inside"))
    assert [p.facing for p in outside] == ["roll-in flap", "back", "front"]
    assert [round(p.rect.width / MM) for p in outside] == [97, 99, 99]
    assert [round(p.rect.width / MM) for p in inside] == [99, 99, 97]
    assert folds.sheet_size(fold)[0] == pytest.approx(295 * MM)


@pytest.mark.parametrize("fold", [f for f, counts in brief_rules.PANELS.items() for _ in counts])
@pytest.mark.parametrize("direction", ["side", "top"])
def test_outside_and_inside_of_every_fold_lie_back_to_back(fold: str, direction: str) -> None:
    for count in brief_rules.PANELS[fold]:
        piece = Fold(200.0, 300.0, fold, count, direction, 6.0)  # type: ignore[arg-type]
        outside, inside = folds.fold_panels(piece, "outside"), folds.fold_panels(piece, "inside")
        total = folds.sheet_size(piece)[0 if direction == "side" else 1]
        for front, back in zip(outside, reversed(inside), strict=True):
            a, b = (front.rect.x, back.rect.right) if direction == "side" else (front.rect.y, back.rect.foot)
            assert a == pytest.approx(total - b)
        names = [p.facing for p in (*outside, *inside)]
        assert len(set(names)) == len(names)
        assert sum("front" in name for name in names) == (2 if (fold, count) == ("gate", 3) else 1)
        assert names.count("back") == 1
        turned = {p.facing for p in outside if p.turn}
        assert turned == ({"back"} if direction == "top" and fold != "accordion" else set())


@pytest.mark.parametrize(
    ("fold", "field"),
    [
        (Fold(100, 200, "letter", 2), "panels"),
        (Fold(0, 200), "width"),
        (Fold(100, 200, "letter", 3, allowance=60), "allowance"),
    ],
)
def test_folds_that_do_not_add_up(fold: Fold, field: str) -> None:
    with pytest.raises(LexigonError) as caught:
        folds.sheet_size(fold)
    assert caught.value.field == field


ISO_269 = {
    "c6": (114, 162),
    "dl": (110, 220),
    "c5": (162, 229),
    "c4": (229, 324),
    "c6/c5": (114, 229),
    "c7/6": (81, 162),
}
"""ISO 269:1985, from memory."""


def test_envelopes() -> None:
    """A 5 x 7 in card goes in a 5 1/4 x 7 1/4 in envelope (common practice, no source)."""
    for name, size in ISO_269.items():
        envelope = envelopes.ENVELOPES[name]
        assert (round(envelope.width / MM), round(envelope.height / MM)) == size
    card = envelopes.fit(envelopes.ENVELOPES["5 1/4 × 7 1/4"], 5 * INCH, 7 * INCH)
    assert card.fits
    assert (card.across / INCH, card.along / INCH) == (pytest.approx(0.25), pytest.approx(0.25))
    assert envelopes.fit(envelopes.ENVELOPES["c6"], 148 * MM, 105 * MM).fits, "A6, turned"
    assert envelopes.fit(envelopes.ENVELOPES["dl"], 99 * MM, 210 * MM).fits, "A4 in letter fold"
    assert not envelopes.fit(envelopes.ENVELOPES["c6"], 114 * MM, 162 * MM).fits, "its own size leaves no clearance"
    assert envelopes.fitting(148 * MM, 210 * MM)[0].envelope.id == "c5"
    assert envelopes.fitting(2000.0, 3000.0) == []


@pytest.mark.parametrize(
    ("kind", "pages", "ok", "following"),
    [
        ("stitched", 36, True, 36),
        ("stitched", 3, False, 8),
        ("stitched", 38, False, 40),
        ("perfect", 55, False, 56),
        ("wire", 7, False, 8),
        ("none", 7, True, 7),
        ("stitched", 200, False, 200),
    ],
)
def test_page_counts_a_binding_can_make(kind: binding.Binding, pages: int, ok: bool, following: int) -> None:
    """A stitched booklet needs a multiple of four (common practice, no source)."""
    found = binding.count(kind, pages)
    assert (found.ok, found.next) == (ok, following)
    assert ok or str(pages) in found.why or "at least" in found.why


def test_printers_pairs_of_a_stitched_booklet() -> None:
    """The pairs of an 8-page booklet, folded by hand: 8-1, 2-7, 6-3, 4-5; facing pages always add up to 9."""
    rows = [(p.left, p.right) for p in binding.booklet(8)]
    assert rows == [(8, 1), (2, 7), (6, 3), (4, 5)]
    ten = binding.booklet(10, WHITE)
    assert [(p.left, p.right) for p in ten][:2] == [(None, 1), (2, None)]
    assert [p.creep for p in ten] == pytest.approx([n * caliper(WHITE) for n in (0, 0, 1, 1, 2, 2)])
    assert binding.signatures(40, 16) == [(1, 16), (17, 32), (33, 40)]
    for bad in (0, 6):
        with pytest.raises(LexigonError):
            binding.signatures(10, bad)


def test_what_is_shown_is_rounded_and_nothing_else() -> None:
    assert show(cover_brief().width, "in") == "12.3378 in"


def test_exceptions_to_hyphenation_are_typed_with_their_points() -> None:
    setup, errors = read_setup({**defaults("book"), "name": "x", "exceptions": "ob-ser-va-tory, Merrowick"})
    assert not errors
    assert setup is not None
    assert setup.brief.exceptions == ("ob-ser-va-tory", "Merrowick")
    _, errors = read_setup({**defaults("book"), "name": "x", "exceptions": "ob-ser-va-tory 12!"})
    assert "12!" in errors["exceptions"]
