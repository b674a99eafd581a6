"""Spelling: words that no dictionary of their language contains, doubled words, words with more than one spelling.

It covers the stories, notes and cells of a job, each word in the language it is set in. The likeliest mistakes come
first: words that are one letter away from a word that the job itself uses often (Damerau, "A technique for computer
detection and correction of spelling errors", 1964: most mistakes are one letter).
"""

from __future__ import annotations

import re
import unicodedata
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field

from lexigon.core.document import story_text
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.listing_merge import entry_paragraphs
from lexigon.core.document.model import Job, Paragraph, TypeSpec
from lexigon.core.editing.intents.text.rewriting import Rewrite
from lexigon.core.manuscript.review.finding import Where, places, rewrite
from lexigon.core.manuscript.review.languages import FEWEST_UNKNOWN, Passage, Word, passages
from lexigon.core.manuscript.review.word_lists import Dictionaries, WordList

MOST_PLACES = 50
OFTEN = 3
"""Times that a word is used before it counts as one that may have been meant."""
SHORTEST_NEAR = 4
_WORD = re.compile(r"[^\W\d_]+(?:[\u00ad'’\-\u2010\u2011][^\W\d_]+)*", re.UNICODE)
_ROMAN = re.compile(r"(?=[ivxlcdm])m{0,3}(cm|cd|d?c{0,3})(xc|xl|l?x{0,3})(ix|iv|v?i{0,3})", re.IGNORECASE)
_TWICE = re.compile(r"\b([^\W\d_]{2,})[ \u00a0\u2028]+(\1)\b", re.IGNORECASE)
MEANT_TWICE = {
    "had",
    "that",
    "ha",
    "no",
    "so",
    "very",
    "bye",
    "hear",
    "there",
    "well",
    "knock",
    "die",
    "der",
    "das",
    "sie",
    "nous",
    "vous",
}
"""Words that are often doubled on purpose (common practice, no source); they are reported last."""
_SENTENCE_ENDS = re.compile(r"(?:^|[.!?:…][\"”’»)\]]*)\s*[\"“‘«(\[]*$")
_ISE = re.compile(r"(?<=[^\W\d_]{2})(i|y)[sz](?=(?:e[sd]?|ing|ation|ations|er|ers|able)$)")


@dataclass(slots=True, frozen=True)
class Place:
    where: Where
    p: str
    start: int
    end: int


@dataclass(slots=True)
class Unknown:
    word: str
    language: str
    count: int = 0
    places: list[Place] = field(default_factory=list)
    near: str = ""
    """A word that the job uses often and that is one letter away."""
    forms: list[str] = field(default_factory=list)
    """How it is written: in small letters, with a capital, in capitals; the word itself is the first of them."""


@dataclass(slots=True)
class Variants:
    """One word spelled in several ways: how often each, the commonest first."""

    kind: str
    spellings: dict[str, int]


@dataclass(slots=True)
class Foreign:
    """Passages in a language (a tag) that is not set for them: their number of words, and their places."""

    language: str
    words: int = 0
    places: list[Place] = field(default_factory=list)


@dataclass(slots=True)
class Report:
    words: int
    unknown: list[Unknown]
    doubled: list[tuple[str, Place]]
    variants: list[Variants]
    unchecked: dict[str, int]
    """Words of languages that there is no dictionary of."""
    foreign: list[Foreign] = field(default_factory=list)
    """Passages in another language than they are set in, by language."""


def words_in(text: str) -> Iterator[tuple[int, int, str]]:
    """The words of a string, with straight apostrophes and without soft hyphens; those next to figures are excluded."""
    for match in _WORD.finditer(text):
        a, b = match.span()
        if (a and (text[a - 1].isdigit() or text[a - 1] == "_")) or (
            b < len(text) and (text[b].isdigit() or text[b] == "_")
        ):
            continue
        yield a, b, plain(match[0])


def plain(word: str) -> str:
    return word.replace("\u00ad", "").replace("’", "'").replace("\u2010", "-").replace("\u2011", "-")


class Speller:
    """Tells words that are mistakes. ``learned`` are words that are none, with their language or "" for any."""

    def __init__(self, job: Job, dictionaries: Dictionaries, learned: Iterable[tuple[str, str]] = ()) -> None:
        self.job, self.dictionaries, self.cascade = job, dictionaries, Cascade(job)
        learned_words = {*learned, *((one.word, one.language) for one in job.lexicon.values())}
        self.learned = {(plain(word), language) for word, language in learned_words}
        self.folded = {(word.casefold(), language) for word, language in self.learned}
        """The same without regard to case: a learned name is known in capitals, too."""
        self._open: dict[str, WordList | None] = {}

    def of(self, language: str) -> WordList | None:
        if language not in self._open:
            self._open[language] = self.dictionaries.of(language)
        return self._open[language]

    def is_known(self, word: str, language: str) -> bool:
        """Return whether a word is known. Without a dictionary all words are."""
        book = self.of(language)
        if book is None or len(word) < 2:
            return True
        bare = word.removesuffix("'s").removesuffix("'")
        for one in {word, bare}:
            if {(one, ""), (one, language), (one.lower(), ""), (one.lower(), language)} & self.learned:
                return True
            if one.isupper() and {(one.casefold(), ""), (one.casefold(), language)} & self.folded:
                return True
            if language.startswith("en") and not one.isascii() and book.knows(_bare(one)):
                return True  # naïve, café: English keeps accents or drops them
            if book.knows(one) or (one.isupper() and len(one) < 6) or _ROMAN.fullmatch(one):
                return True
        return False

    def knows(self, language: str) -> Callable[[str], bool] | None:
        """Return what knows the words of a language; None where there is no dictionary."""
        book = self.of(language)
        return book.knows if book is not None else None

    def stretches(self, p: Paragraph) -> Iterator[tuple[int, int, str]]:
        """A paragraph in runs of one language; anchored objects are in none."""
        base = self.cascade.type_of(p).language
        at = 0
        for span in p.spans:
            if span.object is None and not span.style and not (span.type and span.type.language):
                continue
            if at < span.start:
                yield at, span.start, base
            if span.object is None:
                yield span.start, span.end, self.cascade.type_of(p, span).language
            at = span.end
        if at < len(p.text):
            yield at, len(p.text), base

    def words(self, p: Paragraph) -> Iterator[tuple[int, int, str, str]]:
        """The words of a paragraph with their languages."""
        runs = list(self.stretches(p))
        if len({language for _, _, language in runs}) == 1 and not any(span.object for span in p.spans):
            yield from ((a, b, word, runs[0][2]) for a, b, word in words_in(p.text))
            return
        for a, b, word in words_in(p.text):  # a word that is partly set apart is one all the same
            language = next((language for start, end, language in runs if start <= a < end), "")
            if language:
                yield a, b, word, language

    def mistakes(self, p: Paragraph) -> Iterator[tuple[int, int, str, str]]:
        """The words of a paragraph that are reported, for marking them on the board."""
        return ((a, b, word, language) for a, b, word, language in self.words(p) if not self.is_known(word, language))


def checked(speller: Speller) -> Report:
    """All of a job but the entries of listings, which say again what is checked elsewhere. Words that differ by case
    are one."""
    counts: Counter[tuple[str, str]] = Counter()
    unknown_words: dict[tuple[str, str], Unknown] = {}
    doubled: list[tuple[str, Place]] = []
    unchecked: Counter[str] = Counter()
    within: Counter[str] = Counter()
    """Words that do not begin a sentence, as they are written."""
    written: dict[tuple[str, str], Counter[str]] = {}
    passed_over: dict[str, Foreign] = {}
    entries = entry_paragraphs(speller.job)
    for where, p in places(speller.job):
        if p.id in entries:
            continue
        for match in _TWICE.finditer(p.text):
            doubled.append((match[0], Place(where, p.id, *match.span())))
        foreign = _foreign_in(speller, where, p, passed_over) if where.kind != "copy" else []
        for a, b, word, language in speller.words(p):
            if any(one.start <= a < one.end for one in foreign):
                continue  # it is offered as a whole
            counts[word, language] += 1
            if a and not _SENTENCE_ENDS.search(p.text[max(a - 6, 0) : a]):
                within[word] += 1
            if speller.of(language) is None:
                unchecked[language] += 1
            elif not speller.is_known(word, language):
                key = word.casefold(), language
                one = unknown_words.setdefault(key, Unknown(word, language))
                written.setdefault(key, Counter())[word] += 1
                one.count += 1
                if len(one.places) < MOST_PLACES:
                    one.places.append(Place(where, p.id, a, b))
    for key, one in unknown_words.items():
        one.forms = sorted(written[key], key=lambda form: (not form.islower(), form.isupper(), -written[key][form]))
        one.word = one.forms[0]
    _near(unknown_words.values(), counts, speller)
    unknown = sorted(
        unknown_words.values(), key=lambda one: (not one.near, one.word[:1].isupper(), one.count, one.word.casefold())
    )
    doubled.sort(key=lambda one: one[0].split()[0].casefold() in MEANT_TWICE)
    return Report(
        sum(counts.values()), unknown, doubled, _variants(counts, within), dict(unchecked), list(passed_over.values())
    )


def _foreign_in(speller: Speller, where: Where, p: Paragraph, foreign: dict[str, Foreign]) -> list[Passage]:
    """The passages of a paragraph that are in another language than they are set in; they are added to
    ``foreign``, by language."""
    by_language: dict[str, list[Word]] = {}
    for a, b, word, language in speller.words(p):
        by_language.setdefault(language, []).append(Word(a, b, word, speller.is_known(word, language)))
    passages_: list[Passage] = []
    for language, words in by_language.items():
        if sum(not word.is_known for word in words) >= FEWEST_UNKNOWN:
            passages_ += passages(p.text, words, language, speller.knows)
    for one in passages_:
        entry = foreign.setdefault(one.language, Foreign(one.language))
        entry.words += one.words
        entry.places.append(Place(where, p.id, one.start, one.end))
    return passages_


def set_languages(job: Job, foreign: Iterable[Foreign]) -> Rewrite:
    """The edit that sets passages in the language that they are in."""
    changes: dict[tuple[Where, str], list[tuple[Place, str]]] = {}
    for one in foreign:
        for place in one.places:
            changes.setdefault((place.where, place.p), []).append((place, one.language))
    changed: dict[tuple[Where, str], Paragraph] = {}
    for where, p in places(job):
        for place, language in changes.get((where, p.id), ()):
            p = story_text.respanned(p, place.start, place.end, TypeSpec(language=language), None)
            changed[where, p.id] = p
    return rewrite(job, changed)


def _near(unknown: Iterable[Unknown], counts: Counter[tuple[str, str]], speller: Speller) -> None:
    """Find what may have been meant among the words that are used often: by leaving one letter out of both (symmetric
    deletion)."""
    often: dict[str, str] = {}
    for (word, language), count in counts.most_common():
        if count >= OFTEN and len(word) >= SHORTEST_NEAR and speller.is_known(word, language):
            for shape in _shapes(word.lower()):
                often.setdefault(shape, word)
    for one in unknown:
        if len(one.word) >= SHORTEST_NEAR:
            candidates = {often[shape] for shape in _shapes(one.word.lower()) if shape in often}
            one.near = next((word for word in sorted(candidates) if one_letter(one.word.lower(), word.lower())), "")


def _shapes(word: str) -> Iterator[str]:
    yield word
    for at in range(len(word)):
        yield word[:at] + word[at + 1 :]


def one_letter(one: str, other: str) -> bool:
    """Return whether one letter more, less, another, or two changed about, make one word the other."""
    if one == other or abs(len(one) - len(other)) > 1:
        return False
    start = 0
    while start < min(len(one), len(other)) and one[start] == other[start]:
        start += 1
    a, b = one[start:], other[start:]
    return (
        a[1:] == b[1:]
        or a[1:] == b
        or a == b[1:]
        or (a[:2] == b[1::-1] and a[2:] == b[2:] and len(a) > 1 and len(b) > 1)
    )


def _variants(counts: Counter[tuple[str, str]], within: Counter[str]) -> list[Variants]:
    """Words of the job that differ only by s or z, hyphens, accents, or a capital within a sentence."""
    total: Counter[str] = Counter()
    for (word, _), count in counts.items():
        total[word] += count
    variants = _grouped(
        total, "-ise and -ize", lambda word: _ISE.sub(r"\1s", word.lower()) if _ISE.search(word.lower()) else ""
    )
    variants += _grouped(
        total, "hyphens", lambda word: word.lower().replace("-", "") if len(word) > 4 else "", fold=True
    )
    variants += _grouped(total, "accents", lambda word: _bare(word.lower()), fold=True)
    capital = Counter(
        {word: count for word, count in within.items() if len(word) > 3 and word[0].isalpha() and not word.isupper()}
    )
    variants += _grouped(capital, "capitals", lambda word: word.lower())
    return variants


def _grouped(words: Counter[str], kind: str, key: Callable[[str], str], fold: bool = False) -> list[Variants]:
    groups: dict[str, Counter[str]] = {}
    for word, count in words.items():
        if shape := key(word):
            groups.setdefault(shape, Counter())[word.lower() if fold or kind.startswith("-ise") else word] += count
    variants = [Variants(kind, dict(group.most_common())) for group in groups.values() if len(group) > 1]
    return sorted(
        variants,
        key=lambda one: (min(one.spellings.values()) / sum(one.spellings.values()), -sum(one.spellings.values())),
    )


def _bare(word: str) -> str:
    return "".join(sign for sign in unicodedata.normalize("NFD", word) if not unicodedata.combining(sign))
