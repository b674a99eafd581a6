"""Shaping words with HarfBuzz, with a cache.

A *cut* is a face with OpenType features switched on or off, in a language: fonts may have other forms and other
ligatures for some. Punctuation and figures have no script; they are shaped like Latin letters, as browsers do. Text is
shaped word by word; a space is a word of its own. Where a font kerns with the space (determined once per face), the
pairs are shaped and cached, too, so that a line made of words is as wide as the line shaped whole.
"""

from __future__ import annotations

from functools import lru_cache
from itertools import islice
from typing import NamedTuple
from weakref import WeakSet

import uharfbuzz as hb

from lexigon.core.cache import current_cache
from lexigon.core.document.cascade import TypeSetting
from lexigon.core.type.fonts import FontFace
from lexigon.core.type.word_cache import SavedWords, entry_of_cut, save_words

CACHE_WORDS = 60_000
FEW_WORDS = 200
"""Words that are shaped sooner than they are read from a cache, or written there."""

PLAIN = "en"
"""The language of text where fonts make no difference."""
NO_SCRIPT = (None, "", "Zyyy", "Zinh", "Zzzz")
"""Scripts of the Unicode standard that are none: common, inherited, unknown."""
LETTERS = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789.,;:!?'\"-–—‘’“”()"


class Word(NamedTuple):
    """A shaped word: advances and offsets in font units, clusters as offsets into its text."""

    width: int
    glyphs: tuple[int, ...]
    advances: tuple[int, ...]
    clusters: tuple[int, ...]
    offsets: tuple[tuple[int, int], ...] | None = None


class Cut:
    """A face with a set of features, in a language (BCP 47); holds the words shaped in it."""

    def __init__(self, face: FontFace, features: tuple[tuple[str, int], ...] = (), language: str = PLAIN) -> None:
        self.face = face
        self.language = language
        self.features = dict(features)
        self._words: dict[str, Word] = {}
        self._widths: dict[str, int] = {}
        self._clusters: dict[str, int] = {}
        self._saved: SavedWords | None = None
        # A font without a space is given one of a quarter em (common practice, no source).
        self.space = self.word(" ").width if face.has_space else face.upem // 4
        self.space_kerns = face.has_space and any(
            self._shape(c + " ").width - self._shape(c).width != self.space
            or self._shape(" " + c).width - self._shape(c).width != self.space
            for c in LETTERS
        )

    def word(self, text: str) -> Word:
        """Return how a word is shaped: as it was before, if that is known."""
        cached = self._words.get(text)
        if cached is None:
            if len(self._words) >= CACHE_WORDS:
                self._words.clear()
            cached = self._words[text] = self._saved_word(text) or self._shape(text)
        return cached

    def _saved_word(self, text: str) -> Word | None:
        if self._saved is None:
            if len(self._words) < FEW_WORDS or current_cache() is None:
                return None
            self._saved = SavedWords(self._entry)
        shape = self._saved.get(text)
        return None if shape is None else Word(*shape)

    @property
    def _entry(self) -> str:
        return entry_of_cut(self.face.sha256, self.features, self.language)

    def save(self) -> None:
        """Write the words to the cache of this process, with those that are there, if many of them are new."""
        if current_cache() is None or len(self._words) < FEW_WORDS:
            return
        saved = SavedWords(self._entry)  # read anew: other processes may have written it since
        before = set(saved.texts())
        if len(self._words.keys() - before) < max(FEW_WORDS, len(before) // 50):
            return
        room = CACHE_WORDS - len(self._words)
        others = (text for text in saved.texts() if text not in self._words)
        more = {text: shape for text in islice(others, max(room, 0)) if (shape := saved.get(text))}
        save_words(self._entry, self._words | more)
        self._saved = None

    def forget(self) -> None:
        """Forget the words: each is shaped again when it is needed."""
        for table in (self._words, self._widths, self._clusters):
            table.clear()

    def width(self, text: str) -> int:
        """Width in font units. Remembered apart from the glyphs: breaking lines needs nothing else."""
        cached = self._widths.get(text)
        if cached is None:
            if len(self._widths) >= CACHE_WORDS:
                self._widths.clear()
            saved = self._saved_word(text)
            if saved is None:
                cached = self._widths[text] = sum(self._positions(text)[1])
            else:  # its glyphs will be asked for as well
                if len(self._words) < CACHE_WORDS:
                    self._words[text] = saved
                cached = self._widths[text] = saved.width
        return cached

    def clusters(self, text: str) -> int:
        """Return how many characters a word is drawn as, a ligature counted once: those that letter spacing parts."""
        count = self._clusters.get(text)
        if count is None:
            if len(self._clusters) >= CACHE_WORDS:
                self._clusters.clear()
            count = self._clusters[text] = len(set(self.word(text).clusters))
        return count

    def space_after(self, before: str, after: str) -> int:
        """The width of a space between two characters, kerning with both included."""
        if not self.space_kerns:
            return self.space
        total = self.space
        if before:
            total += self.width(before + " ") - self.width(before) - self.space
        if after:
            total += self.width(" " + after) - self.width(after) - self.space
        return total

    def _positions(self, text: str) -> tuple[hb.Buffer, list[int]]:
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        if buffer.script in NO_SCRIPT:
            buffer.script = "Latn"
        buffer.language = self.language
        hb.shape(self.face.hb_font, buffer, self.features)
        return buffer, [p.x_advance for p in buffer.glyph_positions or ()]  # of no text there are none

    def _shape(self, text: str) -> Word:
        buffer, advances = self._positions(text)
        infos, positions = buffer.glyph_infos or (), buffer.glyph_positions or ()
        shifted = any(p.x_offset or p.y_offset for p in positions)
        return Word(
            sum(advances),
            tuple([i.codepoint for i in infos]),
            tuple(advances),
            tuple([i.cluster for i in infos]),
            tuple([(p.x_offset, p.y_offset) for p in positions]) if shifted else None,
        )


def cut_for(face: FontFace, features: tuple[tuple[str, int], ...], language: str = PLAIN) -> Cut:
    """The cut of a setting; where a font knows no languages, one serves them all."""
    return _cut(face, features, language if face.knows_languages else PLAIN)


@lru_cache(512)
def _cut(face: FontFace, features: tuple[tuple[str, int], ...], language: str) -> Cut:
    cut = Cut(face, features, language)
    _cuts.add(cut)
    return cut


_cuts: WeakSet[Cut] = WeakSet()


def save_shaped_words() -> None:
    """Write the words of all cuts to the cache of this process, where many are new."""
    for cut in list(_cuts):
        cut.save()


def forget_shaped_words() -> None:
    """Forget the words of all cuts."""
    for cut in list(_cuts):
        cut.forget()


POSITIONS = {"superior": "sups", "inferior": "subs"}
_CAPS = {"small": ("smcp",), "all small": ("smcp", "c2sc")}
_FIGURES = {
    "oldstyle": ("onum",),
    "lining": ("lnum",),
    "tabular": ("tnum",),
    "tabular oldstyle": ("tnum", "onum"),
    "tabular lining": ("tnum", "lnum"),
}


def features_of(spec: TypeSetting, available: frozenset[str] = frozenset()) -> tuple[tuple[str, int], ...]:
    """The OpenType features a setting asks for. Tracked text is set without ligatures, as browsers do."""
    features: dict[str, int] = {}
    if spec.tracking:
        features |= {"liga": 0, "clig": 0, "calt": 0}
    features |= dict.fromkeys((*_CAPS.get(spec.caps, ()), *_FIGURES.get(spec.figures, ())), 1)
    if spec.position != "normal" and POSITIONS[spec.position] in available:
        features[POSITIONS[spec.position]] = 1
    for written in spec.features:
        tag, _, value = written.partition("=")
        features[tag] = int(value or 1)
    return tuple(features.items())
