"""The words that people see: the inventory finds them, and habits of speech that are to go become fewer, never more."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest

from lexigon.core.brief.kinds import KINDS
from lexigon.core.press.recipes import RECIPES
from tools.wording import (
    AREAS,
    COMPILED,
    HABITS,
    STORED,
    SourceString,
    commands,
    counts,
    history_labels,
    inventory,
    without_verb,
)

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def strings() -> list[SourceString]:
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


def test_the_inventory_finds_what_each_area_shows(strings: list[SourceString]) -> None:
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
        ("What stands on the pages", "stands"),
        ("Put in from a file", "put in"),
        ("Bring it in again", "bring in"),
        ("The chosen nodes", "chosen"),
        ("Another text is gone", "a text"),
        ("Sign in again", ""),
        ("The text tool", ""),
        ("The text of a story", ""),
    ],
)
def test_a_habit_is_recognised(words: str, habit: str) -> None:
    assert [name for name, pattern in COMPILED.items() if pattern.search(words)] == ([habit] if habit else [])


BOLD = re.compile(r"\*\*(.+?)\*\*")
KEYS = {"Delete", "Enter", "D", "S", "J", "C", "W", "L", "Q", "O", "X", "T", "K", "R", "V", "G", "?", "Ctrl K"}
"""Keys, which guides set in bold, too."""
HEADINGS = {"The slip", "The spec line", "The ruler origin", "Views", ".lexigon files", "If", "Drawers"}
"""What begins a paragraph of a guide in bold."""


def test_guides_name_what_is_on_the_screen() -> None:
    """The words in bold in the guides are those of a label, a command or a message."""
    seen = [one.words for one in inventory() if one.area not in ("docs", "docstrings")]
    seen += [kind.word for kind in KINDS.values()] + [recipe.name for recipe in RECIPES.values()] + ["Fill the bleed"]
    unknown = [
        f"{page.name}: {label}"
        for page in sorted((ROOT / "docs/guide").glob("*.md"))
        for label in BOLD.findall(page.read_text())
        if label.rstrip(":") not in KEYS | HEADINGS
        and not label.startswith(("To ", "If ", "For "))
        and not any(label in words for words in seen)
    ]
    assert not unknown


def test_links_of_the_documentation_lead_somewhere() -> None:
    pages = [ROOT / "README.md", *(ROOT / "docs").rglob("*.md")]
    broken = [
        f"{page.relative_to(ROOT)}: {target}"
        for page in pages
        for target in re.findall(r"\]\(([^)#:]+)(?:#[^)]*)?\)", page.read_text())
        if not (page.parent / target).exists()
    ]
    assert not broken


def test_commands_begin_with_a_verb() -> None:
    """Commands of the finder, and lines of the history, say what is done: "Group", "Add page after", "Move object"."""
    found = commands()
    assert len(found) > 100
    assert "Group" in {word for _, word in found}
    assert not without_verb(word for _, word in found)
    assert not without_verb(history_labels())


def test_a_command_has_one_label_and_a_label_one_command() -> None:
    """No label stands for two commands of the finder in one place, and none differs from another by its case or
    ellipsis alone."""
    said: dict[str, set[str]] = {}
    for _, word in commands():
        said.setdefault(word.rstrip("…").strip().casefold(), set()).add(word)
    assert {key: words for key, words in said.items() if len(words) > 1} == {}
