"""Passages in another language than they are set in: found by words that no dictionary of that language knows, and named by their letters.

What language a passage is in is told by ``py3langid``, a naive Bayes classifier over sequences of letters (after Lui & Baldwin, "langid.py: An
off-the-shelf language identification tool", ACL 2012).
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from babel import Locale

TAGS = {
    "en": "en-GB", "de": "de-DE", "fr": "fr-FR", "es": "es-ES", "it": "it-IT", "nl": "nl-NL", "la": "la", "pt": "pt-PT",
    "sv": "sv-SE", "da": "da-DK", "no": "nb-NO", "pl": "pl-PL", "cs": "cs-CZ", "fi": "fi-FI",
}  # fmt: skip
"""The languages that are told apart, and what text in them is set as."""
LIKELY = 0.9
"""The least probability at which a passage counts as one of a language."""
FEWEST, FEWEST_UNKNOWN = 3, 2
"""Words of a passage, and those of them that the dictionary does not know."""
SHARE = 0.4
"""The least part of its words that are not known."""
GAP = 2
"""Words in a row within a passage that are known all the same: in and die are English words, too."""
CONFIRMED = 0.6
"""The least part of a passage's words that the dictionary of its language knows, where there is one."""
MOST_ADDED = 4
"""Known words that are added at either end of a passage, where no punctuation parts them from it."""
_APART = re.compile(r"[.!?:;…“”„‚‘»«()\[\]]|\u2028")


Knows = Callable[[str], bool]
Dictionary = Callable[[str], Knows | None]


@dataclass(slots=True, frozen=True)
class Word:
    """A word of a paragraph: where it is, what it is, and whether the dictionary of its language knows it."""

    start: int
    end: int
    text: str
    known: bool


@dataclass(slots=True, frozen=True)
class Passage:
    """A stretch of a paragraph that is in a ``language`` (a tag), and how many words it has."""

    start: int
    end: int
    language: str
    words: int


def name_of(tag: str) -> str:
    """A language in English, by its tag; the tag itself where it has no name."""
    return str(Locale("en").languages.get(tag.split("-")[0], tag))


def passages(text: str, words: Sequence[Word], language: str, dictionary: Dictionary) -> list[Passage]:
    """The passages of a paragraph, set in ``language``, that are in another one; ``words`` are those of it that are to be looked at, in order.
    ``dictionary`` finds what knows the words of a language, None where there is nothing; where there is, it has the last word."""
    own, made = language.split("-")[0], list[Passage]()
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
        if made and words[first].start < made[-1].end:
            continue
        made.append(Passage(words[first].start, words[last].end, TAGS[code], last - first + 1))
    return made


def _stretches(words: Sequence[Word]) -> list[tuple[int, int]]:
    """Stretches of words, by the numbers of the first and the last, that begin and end with unknown ones and have few known ones between."""
    unknown = [number for number, word in enumerate(words) if not word.known]
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
    """The end of a passage moved over words that belong to it: no punctuation parts them from it, and its language has them; where no
    dictionary says so, the passage is no less likely in that language with them."""
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

    made = LanguageIdentifier.from_model_file(MODEL_FILE, norm_probs=True)
    made.set_languages(list(TAGS))
    return made


def _likely_language(text: str) -> str | None:
    """The language of a text, where one is likely enough."""
    code, chance = _identifier().rank(text)[0]
    return str(code) if chance >= LIKELY else None


def _chance(text: str, code: str) -> float:
    return float(dict(_identifier().rank(text))[code])
