"""Completing a phrase: names of families and styles, and other phrases of the spec line."""

from __future__ import annotations

import re
from dataclasses import dataclass

from lexigon.core.spec.grammar import RULES, Names

MOST = 8


@dataclass(slots=True, frozen=True)
class Offer:
    """``text`` in place of the line from ``start`` on up to the caret; ``about`` says what it is."""

    start: int
    text: str
    about: str


def complete(line: str, caret: int, names: Names) -> list[Offer]:
    """Return what the words before the caret may be meant to become, the likeliest first."""
    begun = line[:caret]
    comma = max(begun.rfind(","), begun.rfind(";")) + 1
    starts = [comma + m.start() for m in re.finditer(r"(?<!\S)\S", begun[comma:])]
    offers: dict[str, Offer] = {}
    for start in starts:
        typed = begun[start:].casefold()
        if not typed.strip():
            continue
        all_offers = [*_behind(begun[comma:start], names), *_candidates(names)]
        for text, about in all_offers:
            if text.casefold().startswith(typed) and text.casefold() != typed:
                offers.setdefault(text, Offer(start, text, about))
    return list(offers.values())[:MOST]


def _behind(head: str, names: Names) -> list[tuple[str, str]]:
    """The names that may follow the words of a phrase: swatches, rule styles, character styles."""
    candidates: list[tuple[str, str]] = []
    if re.match(r"\s*(colour|color|fill|shade|border|edge|stroke|column rule|rule above|rule below)\s", head, re.I):
        candidates += [(name, "swatch") for name, _ in names.swatches]
    if re.match(r"\s*(border|edge|stroke|column rule|rule above|rule below)\s", head, re.I):
        candidates += [(name, "rule style") for name, _ in names.rule_styles]
    if re.match(r"\s*(initial in|list mark in)\s", head, re.I):
        candidates += [(name, "character style") for name, _ in names.character_styles]
    return candidates


def _candidates(names: Names) -> list[tuple[str, str]]:
    candidates = [(name, "font family") for name in names.families]
    candidates += [(name, "paragraph style") for name, _ in names.paragraph_styles]
    candidates += [(name, "character style") for name, _ in names.character_styles]
    candidates += [(name, "frame style") for name, _ in names.frame_styles]
    candidates += [(name, "swatch") for name, _ in names.swatches if names.bare]
    candidates += [(text, rule.about) for rule in RULES if not rule.named for text in (rule.example, *rule.also)]
    return candidates
