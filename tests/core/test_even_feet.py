"""Facing pages that end on the same line."""

from __future__ import annotations

import random
from dataclasses import replace
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.brief.kinds import defaults
from lexigon.core.brief.setup import read_setup
from lexigon.core.check.findings import findings_of
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import Paragraph
from lexigon.core.editing import intents as do
from lexigon.core.editing.intents import Place
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.even_feet import faces, uneven
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.flow.workspace import Workspace
from tests.core.helpers import book, examples, words
from tests.core.test_objects_in_texts import flow_of, told


def prose(seed: int, count: int, even: bool = True) -> Workspace:
    """Running text of paragraphs of all lengths, on facing pages."""
    chance = random.Random(seed)
    workspace = Workspace(book())
    style = workspace.job.paragraph_styles["body"]
    workspace.do(do.PutStyle("paragraph", "body", para=replace(style.para, even_feet=even)))
    text = tuple(
        Paragraph(f"p{n}", "body", words(chance.choice([4, 9, 25, 60, 120, 200]), seed + n)) for n in range(count)
    )
    workspace.do(do.PourText("main", text))
    return workspace


def odd(flow: StoryFlow) -> int:
    """Spreads of running text whose feet differ, whatever the style says."""
    wished = [found.setting for found in flow.paragraphs]
    for found in flow.paragraphs:
        found.setting = replace(found.setting, even_feet=True)
    count = sum(faces(a, b) and uneven(flow, a, b) for a, b in pairwise(flow.filled))
    for found, setting in zip(flow.paragraphs, wished, strict=True):
        found.setting = setting
    return count


def spoken(flow: StoryFlow) -> str:
    """All words as they stand in lines, in order."""
    out = []
    for column in flow.columns:
        for block in column.blocks:
            text = flow.paragraphs[block.paragraph].shown.paragraph.text
            lines = flow.lines(block.paragraph, block.measure, block.base)[block.first_line : block.last_line]
            out += [text[line.start : line.end] for line in lines]
    return "".join("".join(out).split())


def test_feet_of_spreads_are_even_where_they_were_not_at_little_cost() -> None:
    before = after = told_ = 0
    for seed in range(4):
        plain, even = prose(seed, 160, even=False), prose(seed, 160)
        before += odd(flow_of(plain))
        left = odd(flow_of(even))
        after += left
        findings = [one for one in findings_of(even.composition) if one.kind == "uneven feet"]
        assert len(findings) == left
        told_ += len(findings)
        assert not [one for one in findings_of(plain.composition) if one.kind == "uneven feet"]
        assert spoken(flow_of(even)) == spoken(flow_of(plain))
        loosest = [
            line.ratio
            for p in flow_of(even).paragraphs
            for lines in (p.lines, *p.varied.values())
            for some in lines.values()
            for line in some
            if p.loose
        ]
        assert all(ratio <= 8.0 for ratio in loosest)
    assert before > 8, "the test is about texts that need it"
    assert after <= 1
    assert told_ == after


def test_what_is_changed_is_a_line_more_or_less_within_a_spread_and_keeps_are_kept() -> None:
    flow = flow_of(prose(1, 160))
    changed = 0
    for first, second in pairwise(flow.filled):
        for found, by in second.loose:
            changed += 1
            assert found.loose == by
            at = flow.paragraphs.index(found)
            pages = {c.slot.page for one in (first, second) for c in one.columns for b in c.blocks if b.paragraph == at}
            every = {c.slot.page for c in flow.columns for b in c.blocks if b.paragraph == at}
            assert pages == every, "it begins and ends there"
            width = flow.columns[0].slot.rect.width
            assert len(flow.lines(at, width)) == len(found.lines[width, 0]) + by
    assert changed
    for column in flow.columns:
        for block in column.blocks:
            count = flow.line_count(block.paragraph, block.measure, block.base)
            standing = block.last_line - block.first_line
            assert standing >= min(2, count), "no line of a paragraph stands alone"


def test_a_spread_is_set_otherwise_for_the_sake_of_the_next_and_as_best_again_once_it_need_not_be() -> None:
    """Texts whose spreads would be left uneven one by one; an edit of the spread behind gives the one before its best
    setting back."""
    helped = eased = 0
    for seed in range(30):
        workspace = prose(seed, 90)
        flow = flow_of(workspace)
        ahead = [number for number, one in enumerate(flow.filled) if one.ahead]
        assert all(not uneven(flow, *flow.filled[number + 1 : number + 3]) for number in ahead)
        helped += len(ahead)
        if not ahead:
            continue
        index = flow.filled[ahead[0]].end.paragraph + 1
        for length in range(3):
            p = flow.paragraphs[index].paragraph
            at = Place(p.id, len(p.text) // 2)
            workspace.do(do.ReplaceText("main", at, at, words(6 + 5 * length, length) + " "))
            flow = flow_of(workspace)
            assert told(workspace.composition) == told(Composition(workspace.job))
            eased += not flow.filled[ahead[0]].ahead
    assert helped > 1
    assert eased


@settings(max_examples=examples(8), deadline=None)
@given(
    st.integers(0, 3),
    st.lists(st.tuples(st.integers(0, 59), st.integers(0, 30), st.booleans()), min_size=1, max_size=4),
)
def test_going_on_from_an_edit_equals_composing_anew(seed: int, edits: list[tuple[int, int, bool]]) -> None:
    workspace = prose(seed, 60)
    start = job_to_json(workspace.job)
    undo = []
    for number, length, take in edits:
        p = workspace.job.stories["main"].paragraphs[number % len(workspace.job.stories["main"].paragraphs)]
        end = min(length * 3, len(p.text)) if take else 0
        undo.append(
            workspace.do(
                do.ReplaceText("main", Place(p.id, 0), Place(p.id, end), "" if take else words(length, number) + " ")
            )
        )
        assert told(workspace.composition) == told(Composition(workspace.job))
    for change in reversed(undo):
        workspace.run(change.inverse)
    assert job_to_json(workspace.job) == start
    assert told(workspace.composition) == told(Composition(workspace.job))


def test_a_new_book_has_even_feet_and_no_three_hyphens_below_each_other() -> None:
    setup, errors = read_setup({**defaults("book"), "name": "Ebb"})
    assert setup is not None
    assert not errors
    job = setup.new_job()
    para = Cascade(job).style(job.body)[1]
    assert (para.even_feet, para.hyphen_run) == (True, 2)
    other, _ = read_setup({**defaults("magazine"), "kind": "magazine", "name": "Slack"})
    assert other is not None
    assert not Cascade(other.new_job()).style(job.body)[1].even_feet
    workspace = Workspace(job)
    workspace.do(do.PourText(job.main_story or "", tuple(Paragraph(f"p{n}", "body", words(90, n)) for n in range(60))))
    assert odd(workspace.composition.flows[job.main_story or ""]) == 0
