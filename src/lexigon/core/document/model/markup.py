"""Copy of a job besides its words: mark-up rules, and words that count as correct."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from lexigon.core.document.limits import CONTROLS, Key, KeyOrEmpty, Language, Many, Matching, Name, Within

MOST_BESIDE = 50
"""Paragraphs that a rule counts from another."""
Sign = Annotated[
    str, Matching(f"[^{CONTROLS}]*", "A mark or regular expression of a rule has at most 300 characters.", 300)
]
Beside = Annotated[int, Within(1, MOST_BESIDE, "A rule counts 1 to 50 paragraphs.")]
Amount = Annotated[int, Within(1, 1000, "A rule takes 1 to 1,000 words, sentences or characters.")]
Times = Annotated[int, Within(0, 1000, "A rule is applied up to 1,000 times in a paragraph; 0 sets no limit.")]


@dataclass(slots=True, frozen=True)
class Marking:
    """A mark-up rule: which paragraphs, what in them, and how that is set. Words are never changed by it.

    It acts while the text is set, in the order of the job's rules, over what is set by hand; switched off it leaves no
    trace."""

    id: Key
    name: Name
    on: bool = True
    styles: Annotated[tuple[Key, ...], Many(100)] = ()
    """Paragraphs of these styles alone; of all where there are none."""
    place: Literal["every", "after", "before", "first", "last", "nth"] = "every"
    """``after`` and ``before``: the ``count`` paragraphs next to one of the style ``beside``; ``first``, ``last`` and
    the ``count``-th (``nth``) of each run of paragraphs of its styles."""
    beside: KeyOrEmpty = ""
    count: Beside = 1
    stretch: Literal["paragraph", "pattern", "between", "up to", "from", "first", "last"] = "paragraph"
    """What in it: all; what matches ``begin``; from ``begin`` to ``end``; up to ``end``; from ``begin`` on; the first
    or last ``amount``."""
    begin: Sign = ""
    end: Sign = ""
    with_marks: bool = True
    """The marks are part of the stretch."""
    unit: Literal["characters", "words", "sentences", "lines"] = "words"
    """Whether it depends on the lines in which the text is set; only the first line can be determined."""
    amount: Amount = 1
    times: Times = 0
    paragraph_style: KeyOrEmpty = ""
    character_style: KeyOrEmpty = ""
    swatch: KeyOrEmpty = ""
    """A colour, as for conditions."""
    plain: bool = False
    """What is set by hand there is left out."""
    hidden: bool = False
    """Not set at all, as if it were not there."""


@dataclass(slots=True, frozen=True)
class KnownWord:
    """A word that is no mistake in this job. Of no language it is known in all."""

    id: Key
    word: Annotated[str, Matching(f"[^{CONTROLS}\\s]+", "A word has 1 to 80 characters and no spaces.", 80)]
    language: Language | Literal[""] = ""

    @property
    def name(self) -> str:
        """Return what it is called among the entries of a job: the word itself."""
        return self.word
