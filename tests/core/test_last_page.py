"""The last page of a chapter holds five lines, where the pages before it can give some."""

from __future__ import annotations

import random
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.brief.kinds import defaults
from lexigon.core.brief.setup import read_setup
from lexigon.core.document.model import Paragraph
from lexigon.core.editing import intents as do
from lexigon.core.editing.intents import Place
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.even_feet import faces, uneven
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.flow.text_area import AreaLayout, must_turn
from lexigon.core.flow.workspace import Workspace
from tests.core.helpers import book, examples, words
from tests.core.test_even_feet import spoken
from tests.core.test_objects_in_texts import flow_of

LEAST = 5


def chapters(seed: int, count: int = 12, even: bool = True, least: int | None = LEAST) -> Workspace:
    """Chapters of running text of all lengths, on facing pages."""
    chance = random.Random(seed)
    workspace = Workspace(book())
    para = replace(workspace.job.paragraph_styles["body"].para, even_feet=even, closing_lines=least)
    workspace.do(do.PutStyle("paragraph", "body", para=para))
    text = []
    for number in range(count):
        text.append(Paragraph(f"h{number}", "chapter", f"Chapter {number + 1}"))
        for n in range(chance.randint(4, 22)):
            text.append(
                Paragraph(f"p{number}-{n}", "body", words(chance.choice([9, 25, 60, 120]), seed + 31 * number + n))
            )
    workspace.do(do.PourText("main", tuple(text)))
    return workspace


def lines_of(one: AreaLayout) -> int:
    return sum(block.last_line - block.first_line for column in one.columns for block in column.blocks)


def short(flow: StoryFlow) -> list[int]:
    """The last pages of chapters, by number, that hold fewer lines than five and go on from the page before."""
    found = []
    filled = [one for one in flow.filled if lines_of(one)]
    for number, (before, one) in enumerate(pairwise(filled), 1):
        ends = one.end.paragraph >= len(flow) or must_turn(flow, one.end)
        if ends and not must_turn(flow, before.end) and lines_of(one) < LEAST:
            found.append(number)
    return found


@pytest.mark.parametrize("even", [True, False])
def test_few_lines_alone_on_a_last_page_get_company_and_no_word_is_lost(even: bool) -> None:
    before = after = shortened = 0
    for seed in range(5):
        plain, helped = chapters(seed, even=even, least=None), chapters(seed, even=even)
        before += len(short(flow_of(plain)))
        flow = flow_of(helped)
        after += len(short(flow))
        shortened += sum(one.shortened > 0 for one in flow.filled)
        assert spoken(flow) == spoken(flow_of(plain))
        assert len(helped.job.pages) == len(plain.job.pages), "no page is added for it"
        if even:
            for first, second in pairwise(flow.filled):
                assert not (faces(first, second) and uneven(flow, first, second)) or not second.shortened
    assert before >= 5, "the test is about texts that need it"
    assert after <= before // 5
    assert shortened >= before - after


def test_pages_before_a_last_page_that_is_long_enough_are_left_as_they_are() -> None:
    plain, helped = chapters(3, least=None), chapters(3)
    for one, other in zip(flow_of(plain).filled, flow_of(helped).filled, strict=True):
        if other.shortened:
            break
        assert (one.begin, lines_of(one)) == (other.begin, lines_of(other)) or any(
            later.shortened for later in flow_of(helped).filled
        )


@settings(max_examples=examples(40), deadline=None)
@given(st.integers(0, 10_000))
def test_going_on_from_an_edit_equals_composing_anew(seed: int) -> None:
    chance = random.Random(seed)
    workspace = chapters(seed % 7, count=4)
    for _ in range(6):
        paragraphs = workspace.job.stories["main"].paragraphs
        p = chance.choice(paragraphs)
        if chance.random() < 0.5 and p.style == "body":
            workspace.do(
                do.ReplaceText("main", Place(p.id, 0), Place(p.id, min(len(p.text), chance.randint(0, 400))), "")
            )
        else:
            workspace.do(
                do.ReplaceText("main", Place(p.id, 0), Place(p.id, 0), words(chance.randint(1, 60), seed) + " ")
            )
        flow, anew = flow_of(workspace), Composition(workspace.job).main
        assert anew is not None
        assert [(one.page, one.begin, one.end) for one in flow.filled] == [
            (one.page, one.begin, one.end) for one in anew.filled
        ]
        assert [one.shortened for one in flow.filled] == [one.shortened for one in anew.filled]


def test_new_books_ask_for_it_and_what_was_saved_before_does_not() -> None:
    setup, errors = read_setup({**defaults("book"), "main": "1"})
    assert setup is not None
    assert not errors
    assert setup.new_job().paragraph_styles["body"].para.closing_lines == LEAST
    assert flow_of(chapters(1, least=None)).paragraphs[1].setting.closing_lines == 1
