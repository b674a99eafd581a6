"""Regular expressions meet whatever people hand in: none takes more than in proportion to what it reads."""

from __future__ import annotations

import re

import pytest

from lexigon.core.brief import setup
from lexigon.core.manuscript import front, mapping
from lexigon.core.manuscript.review import cleaning
from tests.core.expressions import Expression, expressions, hard_strings, slow_at

BOUNDED = {
    "lexigon.core.manuscript.review.spelling": "the six characters before a word",
}
"""Modules with an expression that only ever meets so much text."""


def tables() -> list[Expression]:
    """Expressions that are kept as strings in tables, and used by a loop over them."""
    found: list[tuple[str, str, int]] = [("mapping", pattern, re.I) for pattern, *_ in mapping.NAMED]
    found += [("front", pattern, re.I) for pattern in front._HEADED.values()]
    return [
        Expression(f"{where} {pattern[:30]}", re.compile(pattern, flags), frozenset({"search", "fullmatch"}))
        for where, pattern, flags in found
    ]


ALL = [one for one in expressions() if one.where.split(":")[0] not in BOUNDED]


def test_there_are_expressions_to_look_at() -> None:
    assert len(ALL) > 120
    assert setup.EXCEPTION in [one.pattern for one in ALL]


@pytest.mark.parametrize("part", range(8))
def test_an_expression_takes_time_in_proportion_to_its_text(part: int) -> None:
    slow = {}
    for one in [*ALL, *tables()][part::8]:
        for hard in hard_strings(one.pattern):
            size = slow_at(one, hard, 16_000)
            if size is not None:
                slow[one.where] = (one.pattern.pattern, size, hard)
                break
    assert not slow


@pytest.mark.parametrize(
    ("words", "slow"),
    [(r"(<!--.*?-->\s*)*<svg", True), (r"url\([^)]*\)", True), (r"\s*-", True), (r"--[^;]{1,50}+;", False)],
)
def test_an_expression_that_is_slow_is_found_out(words: str, slow: bool) -> None:
    one = Expression("here", re.compile(words, re.DOTALL), frozenset({"search"}))
    assert any(slow_at(one, hard, 32_000) for hard in hard_strings(one.pattern)) is slow


UNITS = ("a ", " -", "- ", "'", '"', " .", ". . .", "  ", "\u00a0", "1-", "1'", "«", "x\u2028 ", "''", "'s ", "1' 1")


@pytest.mark.parametrize("clean_up", [one for one in cleaning.CLEAN_UPS if one.find], ids=lambda one: one.id)
def test_what_cleans_a_manuscript_takes_time_in_proportion_to_it(clean_up: cleaning.CleanUp) -> None:
    for unit in UNITS:
        size = slow_at(_Finding(clean_up), ("", unit, "x"), 16_000)  # type: ignore[arg-type]
        assert size is None, unit


class _Finding:
    """A clean-up, timed as an expression is."""

    pattern = re.compile("")

    def __init__(self, clean_up: cleaning.CleanUp) -> None:
        self.find = clean_up.find

    def run(self, text: str) -> None:
        assert self.find is not None
        for language in ("en-GB", "fr", "de"):
            list(self.find(text, language))
