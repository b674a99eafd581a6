"""Words as lines are made of them: how wide they are, where they may be divided, and how wide the pieces are then.

A divided word is measured as it will be set, ``w[:k] + "-"`` and ``w[k:]``, because kerning and ligatures
make prefix sums wrong.
"""

from __future__ import annotations

import re
from functools import lru_cache
from itertools import accumulate

from icu4py.breakers import LineBreaker

from lexigon.core.document.cascade import Setting
from lexigon.core.type.hyphenation import hyphenator
from lexigon.core.type.linebreak import HYPHEN_PENALTY
from lexigon.core.type.runs import Look

DASH_PENALTY = 20.0
BEFORE_DASH_PENALTY = 300.0
NBSP = "\u00a0"
SOFT_HYPHEN = "\u00ad"
is_whole = re.compile("[\"'“‘(\\[]*[A-Za-zÀ-ÖØ-öø-ɏ]+(?:['’][A-Za-zÀ-ÖØ-öø-ɏ]+)*[,.;:!?)'\"’”\\]]*").fullmatch
"""A word of letters with punctuation before and after it, within which no line may end (UAX 14, LB13 to LB19), so that
no further check is needed."""
_LETTERS = re.compile(r"[^\W\d_]+(?:['’][^\W\d_]+)*")

Inner = tuple[int, float, float, int, bool, float, bool]
"""A break within a word: offset; how far the word reaches there and what of it is left, in points; no-break
spaces before it; hyphen added; penalty; flagged."""
Measured = tuple[float, int, tuple[Inner, ...]]
"""A word's width in points, tracking included, its no-break spaces, and its breaks."""

MOST_TABLES = 128
"""Ways to set words whose measures are remembered, and below it how many words of each. Making text fit tries dozens of
sizes."""
MOST_WORDS = 60_000


@lru_cache(MOST_TABLES)
def _table(*way: object) -> dict[str, Measured]:
    return {}


def word_table(look: Look, setting: Setting) -> dict[str, Measured]:
    """The words measured so far in one cut and size, with one way to divide them; in whatever colour."""
    dividing: tuple[object, ...] = ()
    if setting.hyphenate:
        dividing = (
            setting.hyphen_word,
            setting.hyphen_before,
            setting.hyphen_after,
            setting.hyphen_capitals,
            setting.hyphen_names,
            setting.exceptions,
        )
    table = _table(look.cut, look.scale, look.tracking, look.spec.language, *dividing)
    if len(table) > MOST_WORDS:
        table.clear()
    return table


def forget_tables() -> None:
    """Forget the words measured so far."""
    _table.cache_clear()


def width_of(look: Look, text: str) -> float:
    """Width in points of a word; no-break spaces are as wide as spaces and kern with nothing."""
    if NBSP not in text:
        return look.width(text)
    parts = text.split(NBSP)
    return sum(map(look.width, parts)) + (len(parts) - 1) * look.space


@lru_cache(64)
def exceptions_of(written: tuple[str, ...]) -> dict[str, tuple[int, ...]]:
    """Words written with their points, such as ``ob-ser-va-tory``, by the word: the offsets it may be divided at."""
    exceptions = {}
    for entry in written:
        pieces = entry.casefold().split("-")
        exceptions["".join(pieces)] = tuple(accumulate(map(len, pieces[:-1])))
    return exceptions


def measured(word: str, look: Look, setting: Setting) -> Measured:
    """A word with its breaks, the parts on either side measured as they will be set."""
    widths: dict[int, Inner] = {}

    def add(k: int, hyphen: bool, penalty: float, flagged: bool) -> None:
        before = width_of(look, word[:k] + "-" if hyphen else word[:k])
        widths[k] = (k, before, width_of(look, word[k:]), word.count(NBSP, 0, k), hyphen, penalty, flagged)

    if setting.hyphenate and len(word) >= setting.hyphen_word:
        for match in _LETTERS.finditer(word):
            letters, offset = match.group(), match.start()
            if "-" in word[max(0, offset - 1) : match.end() + 1]:
                continue
            for k in hyphens(letters, look.spec.language, setting):
                add(k + offset, True, HYPHEN_PENALTY, True)
    if not is_whole(word):
        for k in list(accumulate(map(len, LineBreaker(word, look.spec.language or "en"))))[:-1]:
            before_char = word[k - 1]
            if before_char == SOFT_HYPHEN:
                if setting.hyphenate:
                    add(k, True, HYPHEN_PENALTY / 2, True)
                continue
            flagged = before_char in "-‐"
            penalty = HYPHEN_PENALTY if flagged else BEFORE_DASH_PENALTY if word[k] in "—–" else DASH_PENALTY
            add(k, False, penalty, flagged)
    return width_of(look, word), word.count(NBSP), tuple(widths[k] for k in sorted(widths))


def hyphens(letters: str, language: str, setting: Setting) -> list[int]:
    """Return where a word of letters may be divided by its language's patterns, the job's exceptions and the style's
    limits."""
    if len(letters) < setting.hyphen_word:
        return []
    if letters.isupper():
        if not setting.hyphen_capitals:
            return []
    elif letters[0].isupper() and not setting.hyphen_names:
        return []
    exception = exceptions_of(setting.exceptions).get(letters.casefold()) if setting.exceptions else None
    if exception is not None:
        return [k for k in exception if 0 < k < len(letters)]
    patterns = hyphenator(language)
    before = max(setting.hyphen_before, patterns.minimum[0])
    after = max(setting.hyphen_after, patterns.minimum[1])
    return [
        k
        for k in patterns.points(letters)
        if before <= k <= len(letters) - after and letters[k - 1] not in "'’" and letters[k] not in "'’"
    ]
