"""Passages whose language differs from the one they are set in. Candidates are runs of words that the dictionary does
not know.

Their language is identified by ``py3langid``, a naive Bayes classifier over sequences of letters (after Lui & Baldwin,
"langid.py: An off-the-shelf language identification tool", ACL 2012)."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from babel import Locale

TAGS = {
    "en": "en-GB",
    "de": "de-DE",
    "fr": "fr-FR",
    "es": "es-ES",
    "it": "it-IT",
    "nl": "nl-NL",
    "la": "la",
    "pt": "pt-PT",
    "sv": "sv-SE",
    "da": "da-DK",
    "no": "nb-NO",
    "pl": "pl-PL",
    "cs": "cs-CZ",
    "fi": "fi-FI",
}
"""The languages that can be identified, with the language tag that passages are set in."""
LIKELY = 0.9
"""The lowest probability at which a language is accepted."""
FEWEST, FEWEST_UNKNOWN = 3, 2
"""The fewest words in a passage, and the fewest unknown words among them."""
SHARE = 0.4
"""The smallest share of unknown words in a passage."""
GAP = 2
"""The most known words in a row within a passage: “in” and “die” are English words, too."""
CONFIRMED = 0.6
"""The smallest share of words that a dictionary of the passage's language must know, if there is one."""
MOST_ADDED = 4
"""The most known words added at either end of a passage, up to the next punctuation."""
_APART = re.compile(r"[.!?:;…“”„‚‘»«()\[\]]|\u2028")


Knows = Callable[[str], bool]
Dictionary = Callable[[str], Knows | None]


@dataclass(slots=True, frozen=True)
class Word:
    """A word of a paragraph, and whether the dictionary knows it."""

    start: int
    end: int
    text: str
    is_known: bool


@dataclass(slots=True, frozen=True)
class Passage:
    """A stretch of a paragraph in a ``language`` (a tag), with its number of ``words``."""

    start: int
    end: int
    language: str
    words: int


def name_of(tag: str) -> str:
    """Return the English name of a language, or its tag if it has no name."""
    return str(Locale("en").languages.get(tag.split("-")[0], tag))


def passages(text: str, words: Sequence[Word], language: str, dictionary: Dictionary) -> list[Passage]:
    """Return the passages of a paragraph in another language than ``language``, which it is set in. ``words`` are the
    words to examine, in order. ``dictionary`` returns a function that knows the words of a language, or None; where
    there is one, it must confirm the passage."""
    own, passages = language.split("-")[0], list[Passage]()
    for first, last in _stretches(words):
        code = _likely_language(text[words[first].start : words[last].end])
        if code is None or code in (own, "no" if own in ("nb", "nn") else own):
            continue
        knows = dictionary(TAGS[code])
        if knows is not None and sum(knows(word.text) for word in words[first : last + 1]) < CONFIRMED * (
            last - first + 1
        ):
            continue
        first = _longer(text, words, first, -1, code, last, knows)
        last = _longer(text, words, last, 1, code, first, knows)
        if passages and words[first].start < passages[-1].end:
            continue
        passages.append(Passage(words[first].start, words[last].end, TAGS[code], last - first + 1))
    return passages


def _stretches(words: Sequence[Word]) -> list[tuple[int, int]]:
    """Return stretches of words that begin and end with unknown words, as numbers of the first and the last word."""
    unknown = [number for number, word in enumerate(words) if not word.is_known]
    runs: list[list[int]] = []
    for number in unknown:
        if runs and number - runs[-1][-1] <= GAP + 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    return [
        (run[0], run[-1])
        for run in runs
        if len(run) >= FEWEST_UNKNOWN and run[-1] - run[0] + 1 >= FEWEST and len(run) >= SHARE * (run[-1] - run[0] + 1)
    ]


def _longer(text: str, words: Sequence[Word], end: int, step: int, code: str, other: int, knows: Knows | None) -> int:
    """Return the end of a passage, extended over neighbouring words up to the next punctuation. Each word must be in
    the dictionary of the language; without a dictionary, the passage must be at least as likely with it."""
    before, best = _chance(_between(text, words, end, other), code), end
    for number in range(end + step, end + step * (MOST_ADDED + 1), step):
        if not 0 <= number < len(words):
            break
        left, right = sorted((number, number - step))
        if _APART.search(text[words[left].end : words[right].start]):
            break
        if knows is not None:
            if not knows(words[number].text):
                break
            best = number
        elif (chance := _chance(_between(text, words, number, other), code)) >= before:
            before, best = chance, number
    return best


def _between(text: str, words: Sequence[Word], one: int, other: int) -> str:
    return text[words[min(one, other)].start : words[max(one, other)].end]


@lru_cache(1)
def _identifier() -> Any:
    from py3langid.langid import MODEL_FILE, LanguageIdentifier  # slow to load, and seldom needed

    identifier = LanguageIdentifier.from_model_file(MODEL_FILE, norm_probs=True)
    identifier.set_languages(list(TAGS))
    return identifier


def _likely_language(text: str) -> str | None:
    """Return the language code of a text, or None if no language is likely enough."""
    code, chance = _identifier().rank(text)[0]
    return str(code) if chance >= LIKELY else None


def _chance(text: str, code: str) -> float:
    return float(dict(_identifier().rank(text))[code])
