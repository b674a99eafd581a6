"""Typing of two people in one story: what one types is moved past what the other did, and so is what is typed after
it."""

from __future__ import annotations

import copy
import random

import pytest

from lexigon.core.document.model import Job, Paragraph, Story
from lexigon.core.editing.edits import Primitive, apply_all
from lexigon.core.editing.intents import Place, ReplaceText
from lexigon.core.editing.rebasing import Shift, Stale, rebased, shifts_of
from tests.core.helpers import book


def story(*texts: str) -> Job:
    job = book()
    job.stories["main"] = Story("main", "Main", [Paragraph(f"p{n}", "body", text) for n, text in enumerate(texts)])
    return job


def words(job: Job) -> dict[str, str]:
    return {p.id: p.text for p in job.stories["main"].paragraphs}


def do(job: Job, *intents: ReplaceText) -> tuple[list[Primitive], list[Primitive]]:
    """Carry out intents one after another; the edits they came to, and those that undo them."""
    done: list[Primitive] = []
    undone: list[Primitive] = []
    for intent in intents:
        edits = intent.expand(job)
        undone = apply_all(job, edits) + undone
        done += edits
    return done, undone


class Hand:
    """Somebody typing here and there, as a client does: each edit is about the text with the edits before it."""

    def __init__(self, job: Job, dice: random.Random, letters: str) -> None:
        self.job, self.dice, self.letters, self.count = copy.deepcopy(job), dice, letters, 0
        self.typed: list[ReplaceText] = []

    def type(self, times: int) -> None:
        for _ in range(times):
            paragraphs = self.job.stories["main"].paragraphs
            index = self.dice.randrange(len(paragraphs))
            p = paragraphs[index]
            at = self.dice.randint(0, len(p.text))
            start, end, text = (
                Place(p.id, at),
                Place(p.id, at),
                self.dice.choice(self.letters) * self.dice.randint(1, 3),
            )
            what = self.dice.random()
            ids: tuple[str, ...] = ()
            if what < 0.25:
                text, end = "", Place(p.id, min(at + self.dice.randint(1, 3), len(p.text)))
            elif what < 0.4:
                self.count += 1
                text, ids = "\n", (f"{self.letters[0]}{self.count}",)
            elif what < 0.5 and index:
                before = paragraphs[index - 1]
                start, end, text = Place(before.id, len(before.text)), Place(p.id, 0), ""
            intent = ReplaceText("main", start, end, text, ids=ids)
            do(self.job, intent)
            self.typed.append(intent)


def test_what_two_people_type_is_all_there_and_places_go_with_their_letters() -> None:
    refused = 0
    for seed in range(1000):
        dice = random.Random(seed)
        base = story("abcdefghij", "klmnopqrst", "uvw")
        mine, theirs = Hand(base, dice, "XY"), Hand(base, dice, "89")
        theirs.type(dice.randint(1, 2))
        mine.type(dice.randint(1, 5))
        server = copy.deepcopy(base)
        shifts = shifts_of(*do(server, *theirs.typed))
        try:
            moved, left = rebased(mine.typed, shifts)
            do(server, *(one for one in moved if isinstance(one, ReplaceText)))
        except Stale:
            refused += 1
            continue
        final, own = words(server), words(mine.job)
        for letter in "XY":
            assert sum(text.count(letter) for text in final.values()) == sum(
                text.count(letter) for text in own.values()
            ), (seed, mine.typed, theirs.typed, own, final)
        # Behind each of one's own letters, the caret stays behind that letter.
        for key, text in own.items():
            for at, letter in enumerate(text, 1):
                if letter not in "XY":
                    continue
                place = Place(key, at)
                try:
                    for shift in left:
                        place = shift.moved(place)
                except Stale:
                    continue
                there = final.get(place.paragraph)
                assert there is not None, (seed, place, final)
                assert there[place.offset - 1 : place.offset] == letter, (seed, place, own, final, left)
    assert refused < 120, "most of what two people do at once can be done"


@pytest.mark.parametrize(
    ("others", "at", "there"),
    [
        (ReplaceText("main", Place("p0", 2), Place("p0", 4), "xyz"), Place("p0", 6), Place("p0", 7)),
        (ReplaceText("main", Place("p0", 2), Place("p0", 4), "xyz"), Place("p0", 2), Place("p0", 2)),
        (ReplaceText("main", Place("p0", 3), Place("p0", 3), "xyz"), Place("p0", 3), Place("p0", 3)),
        (ReplaceText("main", Place("p0", 3), Place("p0", 3), "\n", ids=("new",)), Place("p0", 5), Place("new", 2)),
        (ReplaceText("main", Place("p0", 6), Place("p1", 0)), Place("p1", 2), Place("p0", 8)),
    ],
)
def test_a_place_goes_past_what_others_typed(others: ReplaceText, at: Place, there: Place) -> None:
    shifts = shifts_of(*do(story("abcdef", "ghi"), others))
    place = at
    for shift in shifts:
        place = shift.moved(place)
    assert place == there


def test_words_that_were_changed_and_paragraphs_that_are_gone_are_refused() -> None:
    with pytest.raises(Stale, match="changed in another window"):
        Shift("main", "p0", 2, 5, 1).moved(Place("p0", 4))
    gone = shifts_of(*do(story("abc", "def", "ghi"), ReplaceText("main", Place("p0", 1), Place("p2", 1), "")))
    with pytest.raises(Stale, match="deleted in another window"):
        rebased([ReplaceText("main", Place("p1", 1), Place("p1", 1), "x")], gone)
