"""Adjusting one record by hand: the same gestures as for the design, for one record alone."""

from __future__ import annotations

from dataclasses import replace

import pytest

from demo.cards import PEOPLE
from lexigon.core.document.model import Job, Object, TypeSpec, all_in
from lexigon.core.editing.edits import apply_all
from lexigon.core.editing.intents import (
    AddShape,
    BindPages,
    ChangeFrame,
    Chosen,
    FormatText,
    FramePicture,
    Intent,
    MoveObjects,
    Place,
    RemoveFrame,
    ReplaceText,
    StackObjects,
)
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.merge.adjusting import AdjustmentError, adjusted
from lexigon.core.merge.merger import Merger
from tests.core.merging import Find, cards_file, finder, merger_of, named

RECORD = 3


@pytest.fixture(scope="module")
def find(tmp_path_factory: pytest.TempPathFactory) -> Find:
    return finder(cards_file(), tmp_path_factory.mktemp("files"))


@pytest.fixture
def job() -> Job:
    return package.read(cards_file())


def adjust(job: Job, find: Find, *intents: Intent) -> Merger:
    """Adjust a record, and return what merges the job then."""
    merger = merger_of(job, find)
    merger.show(RECORD)
    shown = plain(merger.job)
    changes = adjusted(merger, RECORD, intents)
    assert plain(merger.job) == shown, "the copy is as it was"
    Workspace(job, find).do(*changes)
    return merger_of(job, find)


def objects(merger: Merger, number: int) -> dict[str, Object]:
    merger.show(number)
    return {one.name: one for page in merger.job.pages for one in all_in(page.objects)}


def test_a_move_is_that_of_one_record_and_adds_to_the_last(job: Job, find: Find) -> None:
    page, portrait = named(job, "Portrait")
    before = {number: objects(merger_of(job, find), number) for number in (0, RECORD)}
    design = plain(job.pages)
    adjust(job, find, MoveObjects((Chosen(page, portrait.id),), 5.0, -2.0))
    merger = adjust(job, find, MoveObjects((Chosen(page, portrait.id),), 1.0, 1.0))
    assert plain(job.pages) == design
    assert len(job.record_adjustments) == 1
    assert objects(merger, 0) == before[0]
    old, new = before[RECORD]["Portrait"].rect, objects(merger, RECORD)["Portrait"].rect
    assert old is not None
    assert new == old.moved(6.0, -1.0)


def test_a_crop_is_that_of_one_record(job: Job, find: Find) -> None:
    page, portrait = named(job, "Portrait")
    merger = adjust(job, find, FramePicture(page, portrait.id, focus=(0.3, 0.7), scale=(0.5, 0.5), fit="free"))
    own, other = (objects(merger, number)["Portrait"].picture for number in (RECORD, 0))
    assert own is not None
    assert other is not None
    assert own.focus != other.focus
    assert own.picture == merger.plan.pictures[merger.record(RECORD)["portrait"].removesuffix(".png")].id, (
        "the picture is the record's"
    )


def test_words_are_those_of_one_record(job: Job, find: Find) -> None:
    _, name = named(job, "Name")
    merger = merger_of(job, find)
    merger.show(RECORD)
    story = merger.job.stories[name.story or ""]
    first = story.paragraphs[0]
    intent = ReplaceText(story.id, Place(first.id, 0), Place(first.id, 0), "Dr ")
    merger = adjust(job, find, intent)
    merger.show(RECORD)
    assert merger.job.stories[story.id].paragraphs[0].text == f"Dr {PEOPLE[RECORD][0]}"
    merger.show(0)
    assert merger.job.stories[story.id].paragraphs[0].text == PEOPLE[0][0]


def _refused(job: Job) -> dict[str, list[Intent]]:
    page, portrait = named(job, "Portrait")
    _, name = named(job, "Name")
    rect, story = portrait.rect or Rect(0, 0, 1, 1), job.stories[name.story or ""]
    p = story.paragraphs[0].id
    return {
        "Size and rotation": [ChangeFrame(page, portrait.id, rect=replace(rect, width=rect.width + 9))],
        "cannot be added": [AddShape(page, Rect(9, 9, 20, 20))],
        "deleted": [MoveObjects((Chosen(page, portrait.id),), 5.0), RemoveFrame(page, name.id)],
        "Edit the design": [FormatText(story.id, Place(p, 0), Place(p, 1), TypeSpec(size=30.0))],
        "only positions": [StackObjects((Chosen(page, portrait.id),), other=name.id)],
        "or bind the property": [BindPages((page,), "used", "{id}")],
    }


@pytest.mark.parametrize("match", list(_refused(package.read(cards_file()))))
def test_anything_else_is_refused_and_nothing_changes(job: Job, find: Find, match: str) -> None:
    before = plain(job)
    with pytest.raises(AdjustmentError, match=match):
        adjust(job, find, *_refused(job)[match])
    assert plain(job) == before


def test_an_intent_that_cannot_be_carried_out_leaves_the_copy_as_it_was(job: Job, find: Find) -> None:
    merger = merger_of(job, find)
    page, portrait = named(job, "Portrait")
    merger.show(RECORD)
    before = plain(merger.job)
    with pytest.raises(LexigonError):
        adjusted(merger, RECORD, [MoveObjects((Chosen(page, portrait.id),), 5.0), RemoveFrame(page, "nothing")])
    assert plain(merger.job) == before


def test_an_adjusted_record_prints_what_was_seen(job: Job, find: Find) -> None:
    """The copy on which the gestures are made and the record with its adjustments are the same."""
    page, portrait = named(job, "Portrait")
    merger = merger_of(job, find)
    merger.show(RECORD)
    gestures = [
        MoveObjects((Chosen(page, portrait.id),), 3.0, 4.0),
        FramePicture(page, portrait.id, focus=(0.1, 0.1), scale=(0.4, 0.4), fit="free"),
    ]
    for intent in gestures:
        apply_all(merger.job, intent.expand(merger.job))
    by_hand = plain(merger.job.pages)
    again = adjust(job, find, *gestures)
    again.show(RECORD)
    assert plain(again.job.pages) == by_hand
