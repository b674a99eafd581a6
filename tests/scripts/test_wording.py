"""The words that people see: the inventory finds them, and habits of speech that are to go become fewer, never more."""

from __future__ import annotations

import json

import pytest

from tools.wording import AREAS, COMPILED, HABITS, STORED, Said, counts, inventory


@pytest.fixture(scope="module")
def strings() -> list[Said]:
    return list(inventory())


def test_habits_of_speech_are_never_more_than_before() -> None:
    stored = json.loads(STORED.read_text())
    found = counts()
    assert set(stored) == set(found) == set(AREAS)
    risen = {
        f"{area}, {name}: {found[area][name]}, {stored[area][name]} before"
        for area in AREAS
        for name in HABITS
        if found[area][name] > stored[area][name]
    }
    assert not risen, "see `python -m tools.wording --habits`, and say it in the words of docs/glossary.md"
    fallen = {f"{area}, {name}" for area in AREAS for name in HABITS if found[area][name] < stored[area][name]}
    assert not fallen, "write the lower counts down: `python -m tools.wording --record`"


def test_the_inventory_finds_what_each_area_shows(strings: list[Said]) -> None:
    words = {area: {one.words for one in strings if one.area == area} for area in AREAS}
    assert {"Find and replace", "Saved searches", "Name for this search"} & words["templates"]
    assert "Move selection to this layer" in words["scripts"]
    assert "That story is no longer in the job." in words["messages"]
    assert any(one.startswith("# Lexigon") for one in words["docs"])
    assert all(len(found) > 300 for found in words.values()), {area: len(found) for area, found in words.items()}
    assert not any(one.place.startswith("/") for one in strings), "places are within the project"


@pytest.mark.parametrize(
    ("words", "habit"),
    [
        ("What stands on the pages", "stands"), ("Put in from a file", "put in"), ("Bring it in again", "bring in"),
        ("The chosen nodes", "chosen"), ("That text is gone", "a text"), ("Sign in again", ""), ("The text tool", ""),
    ],
)  # fmt: skip
def test_a_habit_is_recognised(words: str, habit: str) -> None:
    assert [name for name, pattern in COMPILED.items() if pattern.search(words)] == ([habit] if habit else [])
