"""Spelling on the screen: reporting mistakes in a job, learning, replacing, and personal dictionaries."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Collection, Iterable
from pathlib import Path
from typing import Any

from babel import Locale, UnknownLocaleError
from django.conf import settings

from lexigon.bench.models import LearnedWord, OwnDictionary
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document.model import OBJECT
from lexigon.core.editing.intents import Intent, LearnWord
from lexigon.core.errors import LexigonError
from lexigon.core.manuscript.review.finding import Exchange, Query, exchanged
from lexigon.core.manuscript.review.languages import name_of
from lexigon.core.manuscript.review.spelling import Place, Speller, checked, plain, set_languages
from lexigon.core.manuscript.review.word_lists import Dictionaries, vetted
from lexigon.core.numerals import integer

MOST_SHOWN = 1000
MOST_PLACES = 6
MOST_VARIANTS = 200
MOST_LEARNED = 20_000
MOST_DICTIONARIES = 20
AROUND = 36
LANGUAGE = re.compile(r"[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8}){0,3}")


def dictionaries(owner: Any) -> Dictionaries:
    """Return what ships, with what somebody has brought. Its files are laid out where they can be read from."""
    own: dict[str, Path] = {}
    for row in OwnDictionary.objects.filter(owner=owner):
        mark = hashlib.sha256(bytes(row.aff) + b"\0" + bytes(row.dic)).hexdigest()[:32]
        folder = settings.DATA / "dictionaries" / mark
        if not (folder / "words.dic").exists():
            folder.mkdir(parents=True, exist_ok=True)
            (folder / "words.aff").write_bytes(row.aff)
            (folder / "new").write_bytes(row.dic)
            (folder / "new").replace(folder / "words.dic")
        own[row.language] = folder / "words"
    return Dictionaries(own)


def speller(live: OpenJob, user: Any) -> Speller:
    return Speller(live.job, dictionaries(user), LearnedWord.objects.filter(owner=user).values_list("word", "language"))


def look(live: OpenJob, user: Any) -> dict[str, Any]:
    """Return the facts of a job."""
    report = checked(speller(live, user))
    return {
        "words": report.words,
        "count": len(report.unknown),
        "unchecked": sorted(report.unchecked.items(), key=lambda one: -one[1]),
        "revision": live.revision,
        "unknown": [
            {
                "word": one.word,
                "forms": one.forms,
                "language": one.language,
                "count": one.count,
                "near": one.near,
                "places": [_place(live, at) for at in one.places[:MOST_PLACES]],
            }
            for one in report.unknown[:MOST_SHOWN]
        ],
        "doubled": [{"words": words, **_place(live, at)} for words, at in report.doubled[:MOST_VARIANTS]],
        "variants": [
            {"kind": one.kind, "spellings": list(one.spellings.items())} for one in report.variants[:MOST_VARIANTS]
        ],
        "foreign": [
            {
                "language": one.language,
                "name": name_of(one.language),
                "words": one.words,
                "count": len(one.places),
                "places": [_place(live, at) for at in one.places[:MOST_PLACES]],
            }
            for one in report.foreign
        ],
        "learned": [{"id": one.id, "word": one.word} for one in live.job.lexicon.values()],
        "mine": list(LearnedWord.objects.filter(owner=user).values("word", "language")),
    }


def _place(live: OpenJob, at: Place) -> dict[str, Any]:
    text = _text(live, at).replace(OBJECT, "\u25c7")
    page = live.workspace.composition.page_of(at.where.key, at.p, at.start) if at.where.kind == "story" else None
    return {
        "before": text[max(at.start - AROUND, 0) : at.start],
        "text": text[at.start : at.end],
        "behind": text[at.end : at.end + AROUND],
        "page": page,
        "label": live.workspace.composition.values.labels[page] if page is not None else "",
    }


def _text(live: OpenJob, at: Place) -> str:
    where = at.where
    if where.kind == "story":
        return next((p.text for p in live.job.stories[where.key].paragraphs if p.id == at.p), "")
    if where.kind == "copy":
        return live.job.copies[where.key].text
    row, cell, number = where.cell
    return live.job.tables[where.key].rows[row][cell].paragraphs[number].text


def suggested(live: OpenJob, user: Any, word: str, language: str) -> list[str]:
    """Return what may have been meant by a word, in the marks of the text."""
    book = dictionaries(user).of(language)
    return [one.replace("'", "’") for one in book.suggested(plain(word))] if book and len(word) <= 80 else []


def learn(live: OpenJob, user: Any, words: Collection[str], mine: bool) -> None:
    """Words are no mistakes from now on: in this job, or to somebody in all."""
    bare = [plain(word) for word in words if 0 < len(word) <= 80 and not re.search(r"\s", word)]
    if not mine:
        intents: list[Intent] = [LearnWord(word) for word in bare]
        live.do(intents, user)
        return
    if LearnedWord.objects.filter(owner=user).count() + len(bare) > MOST_LEARNED:
        raise LexigonError(f"Your own list has at most {integer(MOST_LEARNED)} words.")
    LearnedWord.objects.bulk_create(
        (LearnedWord(owner=user, word=word) for word in dict.fromkeys(bare)), ignore_conflicts=True
    )


def forget(user: Any, word: str) -> None:
    """Report a word again that was in a user's own list."""
    LearnedWord.objects.filter(owner=user, word=word).delete()


def exchange(live: OpenJob, user: Any, words: Iterable[str], put: str | None, style: str | None) -> int:
    """Put another word in the place of some everywhere, or set them in a character style, as one change; how many
    places. The new word follows the case of each."""
    alternatives = "|".join(
        re.escape(plain(word)).replace("'", "['’]").replace(r"\-", r"[-\u2010\u2011]") for word in list(words)[:2000]
    )
    if not alternatives:
        return 0
    query = Query(f"(?:{alternatives})", pattern=True, whole=True, case=True)
    edit, count, _ = exchanged(live.job, query, Exchange(put, keep_case=style is None, character=style))
    if count:
        live.do([edit], user)
    return count


def set_language(live: OpenJob, user: Any, language: str) -> int:
    """Set the passages that are in a language as such; how many there are."""
    passages = [one for one in checked(speller(live, user)).foreign if one.language == language]
    if passages:
        live.do([set_languages(live.job, passages)], user)
    return sum(len(one.places) for one in passages)


def listed_dictionaries(user: Any) -> list[dict[str, str]]:
    """The dictionaries that there are: the ``tag`` of each language, its ``name``, and ``whose`` they are (own,
    shipped, installed)."""
    all_ = dictionaries(user)
    own = set(OwnDictionary.objects.filter(owner=user).values_list("language", flat=True))
    return [
        {
            "tag": one,
            "name": language_name(one),
            "whose": "own" if one in own else "shipped" if one in all_.shipped else "installed",
        }
        for one in all_.languages
    ]


def language_name(tag: str) -> str:
    """A language with its country, in English: German (Switzerland)."""
    try:
        return str(Locale.parse(tag.replace("-", "_")).get_display_name("en"))
    except (ValueError, UnknownLocaleError):
        return tag


def add_dictionary(user: Any, language: str, aff: bytes, dic: bytes) -> None:
    """Keep a dictionary that was handed in. Raises LexigonError for what is none."""
    if not LANGUAGE.fullmatch(language):
        raise LexigonError("Type the language of the dictionary, such as de-DE.")
    own = OwnDictionary.objects.filter(owner=user)
    if not own.filter(language=language).exists() and own.count() >= MOST_DICTIONARIES:
        raise LexigonError(f"There are {MOST_DICTIONARIES} dictionaries of yours already. Remove one first.")
    vetted(aff, dic)
    OwnDictionary.objects.update_or_create(owner=user, language=language, defaults={"aff": aff, "dic": dic})


def in_view(live: OpenJob, user: Any, pages: Collection[int]) -> list[dict[str, Any]]:
    """The spelling mistakes in paragraphs on some pages, for the board."""
    speller_, reported = speller(live, user), set[tuple[str, str]]()
    mistakes = []
    for page in list(pages)[:8]:
        for key, column in live.workspace.composition.columns_on(page):
            flow = live.workspace.composition.flows[key]
            for block in column.blocks:
                p = flow.paragraphs[block.paragraph].paragraph
                if (key, p.id) in reported:
                    continue
                reported.add((key, p.id))
                mistakes += [
                    {"story": key, "p": p.id, "start": a, "end": b, "word": word, "language": language}
                    for a, b, word, language in speller_.mistakes(p)
                ]
    return mistakes
