"""From the styles of whoever wrote it to those of a job: which becomes which, why, and the paragraphs that come of it.

A guess goes by what a style is called, by its level among the headings, by how its paragraphs look, and by their words
(common practice, no source). Every guess can be overruled, style by style."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field, replace
from types import MappingProxyType
from typing import Literal

from lexigon.core.document import story_text
from lexigon.core.document.limits import MOST_COLUMNS
from lexigon.core.document.model import (
    OBJECT,
    Anchor,
    Cell,
    ListMark,
    Paragraph,
    ParaSpec,
    Span,
    Story,
    TextTable,
    TypeSpec,
)
from lexigon.core.document.starter import LIST_INDENT, LIST_LEVELS, MARKS, list_style
from lexigon.core.editing.intents.text.note_kinds import END
from lexigon.core.manuscript.model import HEADINGS, Heading, Manuscript, StyleUse
from lexigon.core.manuscript.readers.plain_text import PART, SCENE
from lexigon.core.manuscript.review.cleaning import CLEAN_UPS, Cleaner
from lexigon.core.manuscript.review.fixes import Fix
from lexigon.core.manuscript.source import Listed, Source, SourceParagraph, SourcePicture

LEAVE_OUT = "-"
"""The target of what is not taken."""
NAMED: tuple[tuple[str, str, str], ...] = (
    (
        (
            r"^(caption|figure|illustration|bildunterschrift|beschriftung|légende).*, of "
            r"tables$|\b(table|tabellen|tableau).*(caption|title|über|légende)"
        ),
        "tablecaption",
        "a table’s caption, by its name and words",
    ),
    (
        r"^(caption|figure|illustration|bildunterschrift|abbildung|beschriftung|légende)\b",
        "caption",
        "a caption, by its name",
    ),
    (r"\b(sub ?title|untertitel|sous-titre)\b", "subtitle", "a subtitle, by its name"),
    (r"\b(author|by ?line|verfasser|auteur)\b", "author", "an author’s name, by its style name"),
    (r"^(book |document )?(title|titel|titre)$", "title", "the title, by its name"),
    (r"\b(dedication|widmung)\b", "dedication", "a dedication, by its name"),
    (
        r"\b(quot(e|es|ations?)|block ?text|zitat|citation|extract|letter|epigraph|motto)\b",
        "quote",
        "a quotation, by its name",
    ),
    (r"\b(verse|poem|poetry|lyric|stanza|gedicht|song)\b", "verse", "verse, by its name"),
    (r"\b(scene|break|ornament|separator|asterism)\b", "scene", "a scene break, by its name"),
    (r"\b(imprint|copyright|colophon|impressum)\b", "imprint", "an imprint, by its name"),
    (
        r"^(toc|contents|table of contents|inhaltsverzeichnis)\b",
        LEAVE_OUT,
        "a table of contents, which is generated again",
    ),
    (r"^(part|teil|partie)\b.*", "part", "a part’s heading, by its name"),
    (r"^chapter\b.*(number|title|head)", "chapter", "a chapter’s heading, by its name"),
)
BODY = re.compile(
    r"^(normal|standard|body|text|default|first|textkörper|corps|fließtext|plain|paragraph|no "
    r"?spacing|list|aufzählung|msonormal)",
    re.IGNORECASE,
)
CAPTION = re.compile(r"(caption|bildunterschrift|beschriftung|légende)\b", re.IGNORECASE)
OF_TABLE = re.compile(r"(table|tabelle|tableau|tab\.)\s", re.IGNORECASE)
BOLD_LINES = "lines formatted as bold"
"""What paragraphs are gathered under that are in no heading's style, and look like headings all the same."""
CAPITAL_LINES = "lines typed in capitals"
PICTURES = "pictures in separate paragraphs"
"""What paragraphs are gathered under that hold a picture and nothing else, and are in the style of running text."""
FIGURE = "figure"
NAMED_LOOKS = ("emphasis", "strong", "smallcaps")
"""The character styles for local formatting, which are in every manuscript."""
SHORT = 80
"""Characters of a line that may be a heading."""


@dataclass(slots=True)
class _Use:
    count: int = 0
    sample: str = ""
    level: int = 0
    short: int = 0
    bold: int = 0
    italic: int = 0
    parts: int = 0
    centred: int = 0
    words: int = 0
    sizes: Counter[float] = field(default_factory=Counter)
    """Words by the size they are set in."""

    @property
    def are_parts(self) -> bool:
        return self.parts * 2 > self.count and self.short == self.count


def style_of(p: SourceParagraph) -> str:
    """Return what a paragraph is gathered under: its style's name, or what it looks like by hand."""
    if (
        p.level == 0
        and _all_bold(p)
        and 2 < len(p.text.strip()) <= SHORT
        and not p.listed
        and not p.text.rstrip().endswith((".", ",", ";", ":"))
    ):
        return BOLD_LINES
    if (
        p.level == 0
        and len(p.text) <= SHORT
        and p.text.isupper()
        and sum(map(str.isalpha, p.text)) > 3
        and not p.listed
    ):
        return CAPITAL_LINES
    if CAPTION.match(p.style) and OF_TABLE.match(p.text.lstrip()):
        return f"{p.style}, of tables"
    if p.text.strip() == OBJECT and _is_picture(p) and (not p.style or BODY.match(p.style)):
        return PICTURES
    return p.style or (f"level {p.level}, no style" if p.level else "no style")


def survey(source: Source, own: Mapping[str, str] = MappingProxyType({})) -> tuple[StyleUse, ...]:
    """Every style that is used, the commonest first, with what it probably becomes and why. ``own`` are the job's
    styles: their ids by name."""
    own = {name.casefold(): key for name, key in own.items()}
    uses: dict[str, _Use] = {}
    for p in source.paragraphs:
        text = _plain_words(p.text)
        name = style_of(p)
        if not text and name != PICTURES:
            continue
        use = uses.setdefault(name, _Use())
        use.count += 1
        use.sample = use.sample or text[:90]
        use.level = use.level or p.level
        use.short += len(text) <= SHORT
        use.bold += _all_bold(p)
        use.italic += bool(p.spans) and _covered(p, lambda look: look.italic is True)
        use.centred += p.align == "centre"
        use.parts += PART.fullmatch(text) is not None
        use.words += len(text.split())
        use.sizes[p.size] += len(text.split())
    levels = sorted({use.level for use in uses.values() if use.level and not use.are_parts})
    body = _body_size(uses)
    top_alone = len(levels) > 1 and sum(use.count for use in uses.values() if use.level == levels[0]) == 1
    style_uses = []
    for name, use in sorted(uses.items(), key=lambda one: -one[1].count):
        target, why = (
            (own[name.casefold()], "the job’s style of that name")
            if name.casefold() in own
            else (
                (FIGURE if FIGURE in own.values() else "body", "a picture in a separate paragraph")
                if name == PICTURES
                else _guess(name, use, levels, body, top_alone)
            )
        )
        style_uses.append(StyleUse(name, use.count, use.words, use.sample, target, why, _look(use, body)))
    return tuple(style_uses)


def _look(use: _Use, body: float) -> str:
    """Return how most paragraphs of a style look, for a specimen."""
    size = use.sizes.most_common(1)[0][0] if use.sizes else 0.0
    words = [
        "bold" if use.bold * 2 > use.count or (use.level and not use.bold) else "",
        "italic" if use.italic * 2 > use.count else "",
        "centred" if use.centred * 2 > use.count else "",
        "large" if body and size > body * 1.15 else "small" if body and 0 < size < body * 0.9 else "",
    ]
    return " ".join(filter(None, words))


def _body_size(uses: Mapping[str, _Use]) -> float:
    """The size most words are set in."""
    words: Counter[float] = Counter()
    for use in uses.values():
        if not use.level:
            for size, count in use.sizes.items():
                words[size] += count
    return words.most_common(1)[0][0] if words else 0.0


def _guess(name: str, use: _Use, levels: list[int], body: float, top_alone: bool) -> tuple[str, str]:
    if name in (BOLD_LINES, CAPITAL_LINES):
        return "section", f"short lines, {'bold' if name == BOLD_LINES else 'in capitals'} by hand: headings, probably"
    if use.are_parts:
        return "part", "its words: Part, Book, Volume"
    for pattern, target, why in NAMED:
        if re.search(pattern, name, re.IGNORECASE):
            return target, why
    if use.level:
        if use.level == levels[0] and top_alone:
            return "title", "the only heading of the highest level"
        deep = levels.index(use.level)
        if deep and top_alone:
            deep -= 1  # the highest is the title
        return HEADINGS[min(deep + 1, len(HEADINGS) - 1)], f"level {use.level} of the headings"
    if BODY.match(name) or name == "no style":
        return "body", "running text"
    if (
        use.short == use.count
        and use.count > 1
        and (use.bold * 2 > use.count or (body and max(use.sizes) > body * 1.15))
    ):
        return "section", "short lines, larger or bolder than the text"
    if use.italic * 2 > use.count and use.count > 1 and use.short < use.count:
        return "quote", "whole paragraphs in italics"
    return "body", "no other clue"


def converted(
    source: Source,
    mapping: Mapping[str, str],
    cleaner: Cleaner,
    own: Mapping[str, str] = MappingProxyType({}),
    headed: Collection[str] = (),
) -> Manuscript:
    """The paragraphs of a job that a source becomes; ``mapping`` overrules guesses, by the names of styles. ``own`` as
    for ``survey``; ``headed`` are the job's own styles of headings, besides the usual ones: what follows one is a first
    paragraph."""
    uses = survey(source, own)
    targets = {use.name: mapping.get(use.name, use.target) for use in uses}
    return _manuscript(_Converter(source, targets, cleaner, headed=headed), uses)


def pasted(source: Source, own: Mapping[str, str], named: Collection[str]) -> Manuscript:
    """Return the content of the clipboard as paragraphs of a job, its words unchanged. Headings, and paragraphs in a
    style with the same name, get that style if the job has it (``own``: ids by name); all others have none (""), to be
    set like their surroundings. ``named`` are the job's character styles."""
    names = {name.casefold(): key for name, key in own.items()}
    targets = {style_of(p): _pasted_style(p, names) for p in source.paragraphs}
    cleaner = Cleaner(chosen={one.id: one.id == "empty" for one in CLEAN_UPS})
    return _manuscript(_Converter(source, targets, cleaner, "", named), ())


def _pasted_style(p: SourceParagraph, own: Mapping[str, str]) -> str:
    if p.style.casefold() in own:
        return own[p.style.casefold()]
    target = ("", *HEADINGS[1:])[min(p.level, len(HEADINGS) - 1)]
    if not target and p.style:
        target = next((to for pattern, to, _ in NAMED if re.search(pattern, p.style, re.IGNORECASE)), "")
    return target if target in own.values() else ""


def _manuscript(converter: _Converter, uses: tuple[StyleUse, ...]) -> Manuscript:
    source, cleaner = converter.source, converter.cleaner
    converter.run()
    counts = Counter({"joined": 0, "dropped": 0, "words": 0, "emphasis": 0})
    counts.update({key: value for key, value in source.reported.items() if value})
    counts.update(converter.counts)
    counts["footnotes"] = sum(note.kind == "footnote" for note in source.notes.values())
    counts["endnotes"] = len(source.notes) - counts["footnotes"]
    counts["tables"], counts["pictures"] = len(source.tables), len(converter.pictures)
    return Manuscript(
        tuple(converter.paragraphs),
        source.format,
        dict(counts),
        tuple(converter.headings),
        tuple(cleaner.doubts),
        tuple(replace(use, target=converter.targets[use.name]) for use in uses),
        tuple(converter.notes),
        tuple(converter.pictures),
        tuple(converter.tables),
        cleaner.findings,
    )


class _Converter:
    def __init__(
        self,
        source: Source,
        targets: Mapping[str, str],
        cleaner: Cleaner,
        usual: str = "body",
        named: Collection[str] = NAMED_LOOKS,
        headed: Collection[str] = (),
    ) -> None:
        self.headed = {*HEADINGS, *headed}
        self.source, self.targets, self.cleaner, self.usual, self.named = source, targets, cleaner, usual, named
        self.paragraphs: list[Paragraph] = []
        self.headings: list[Heading] = []
        self.places: dict[str, str] = {}
        """The paragraphs that the places of the source are in."""
        self.waiting: list[str] = []
        self.counts: Counter[str] = Counter()
        self.notes: list[Story] = []
        self.noted: dict[str, str] = {}
        """The first paragraphs of notes, by the names of the notes in the source."""
        self.tables: list[TextTable] = []
        self.pictures: list[tuple[str, SourcePicture]] = []

    def run(self) -> None:
        follows = "first"
        starts = False
        for p in self.source.paragraphs:
            style = self.targets.get(style_of(p), self.usual)
            text, spans = self._tidied(p, style in ("", "body", "first", "quote"))
            starts = starts or p.starts_page
            if not text:
                self.waiting += p.names
                last = self.paragraphs[-1].text if self.paragraphs else ""
                if not self.cleaner.is_enabled("empty", f"{last}\n\n", Fix(len(last), len(last) + 2, "\n")):
                    self.paragraphs.append(Paragraph(story_text.new_id("p"), "body"))
                continue
            if style == LEAVE_OUT:
                self.counts["left out"] += 1
                continue
            if SCENE.fullmatch(text) and len(text) <= 20:
                style, text, spans = "scene" if self.usual else style, "* * *", ()
            alone = text == OBJECT
            if style in ("", "body", "first"):
                p, text, spans = _listed(p, text, spans)
            if style in ("body", "first") and p.listed is not None:
                style = list_style("number" if p.listed.ordered else "bullet", p.listed.level)
                follows = "body"
            if style == "body":
                style = "body" if alone else follows
            para = self._para(p, style, starts)
            paragraph = self._paragraph(text, spans, style, para)
            self.waiting += p.names
            self.places |= dict.fromkeys(self.waiting, paragraph.id)
            self.waiting = []
            if self._goes_on(paragraph):
                continue
            if style in (*self.headed, "title"):
                self.headings.append(Heading(len(self.paragraphs), style, paragraph.text.replace(OBJECT, "")))
            self.counts[style] += 1
            self.counts["words"] += len(paragraph.text.split())
            self.counts["emphasis"] += sum(span.style == "emphasis" for span in paragraph.spans)
            self.paragraphs.append(paragraph)
            starts = False
            if not alone:
                follows = "first" if style in (*self.headed, "title", "subtitle", "author", "scene") else "body"
        texts = {p.id: p.text for p in self.paragraphs}
        self.paragraphs = [self._linked(p, texts) for p in self.paragraphs]
        for note in self.notes:
            note.paragraphs = [self._linked(p, texts) for p in note.paragraphs]
        self.tables = [
            replace(table, rows=tuple(tuple(self._linked_cell(cell, texts) for cell in row) for row in table.rows))
            for table in self.tables
        ]

    def _linked_cell(self, cell: Cell, texts: Mapping[str, str]) -> Cell:
        return replace(cell, paragraphs=tuple(self._linked(p, texts) for p in cell.paragraphs))

    def _linked(self, p: Paragraph, texts: Mapping[str, str]) -> Paragraph:
        """With links and references to places of the source as such to their paragraphs; links that lead nowhere are
        none, references that do, or that show something else than a page or a whole paragraph (``texts``, by its id),
        are the words that they showed last."""
        for span in reversed(p.spans):
            if span.object is None or span.object.kind != "reference" or span.object.ref not in self.source.references:
                continue
            reference = self.source.references[span.object.ref]
            note = self.noted.get(self.source.noted.get(reference.name, ""), "")
            key = note if reference.form == "number" else self.places.get(reference.name, note)
            alive = bool(key) and (reference.form != "words" or _same(reference.shown, texts.get(key, "")))
            self.counts["references" if alive else "lost references"] += 1
            if alive:
                anchor = Anchor("reference", key, "" if reference.form == "page" else reference.form)
                p = replace(p, spans=tuple(replace(one, object=anchor) if one is span else one for one in p.spans))
            else:
                p = _as_words(p, span, reference.shown)
        if not any(span.link.startswith("#") for span in p.spans):
            return p
        p = self._led(p, texts)
        spans = (
            (
                replace(span, link=f"#{self.places[span.link[1:]]}" if span.link[1:] in self.places else "")
                if span.link.startswith("#")
                else span
            )
            for span in p.spans
        )
        return replace(p, spans=story_text.tidy(spans))

    def _led(self, p: Paragraph, texts: Mapping[str, str]) -> Paragraph:
        """With links whose words are those of the whole paragraph that they lead to as references to it, so that they
        follow its words."""
        for link, start, end in reversed(_links(p)):
            key = self.places.get(link[1:], "") if link.startswith("#") else ""
            if key and key != p.id and _same(p.text[start:end], texts.get(key, "")):
                anchor = Span(0, 1, object=Anchor("reference", key, "words"))
                before = story_text.joined(story_text.piece(p, 0, start), Paragraph("", "", OBJECT, (anchor,)))
                p = story_text.joined(before, story_text.piece(p, end, len(p.text)))
                self.counts["references"] += 1
        return p

    def _goes_on(self, previous: Paragraph) -> bool:
        """Return whether a paragraph is joined to the one before, because it continues its sentence."""
        last = self.paragraphs[-1] if self.paragraphs else None
        if (
            last is None
            or previous.para
            or last.para
            or previous.style != "body"
            or last.style not in ("body", "first")
        ):
            return False
        if (
            not re.search(r"[^\W\d_],?$", last.text)
            or not re.match(r"[^\W\d_]", previous.text)
            or not previous.text[0].islower()
        ):
            return False
        end = len(last.text)
        if not self.cleaner.is_enabled(
            "parted", f"{last.text}\n{previous.text}", Fix(end, end + 1, " ", doubtful=True)
        ):
            return False
        self.counts["words"] += len(previous.text.split())
        self.paragraphs[-1] = story_text.joined(story_text.inserted(last, end, " "), previous)
        self.places |= {name: last.id for name, key in self.places.items() if key == previous.id}
        return True

    def _tidied(self, p: SourceParagraph, prose: bool = False) -> tuple[str, tuple[Span, ...]]:
        """Remove spaces at both ends, which are not part of the words; of prose with indents made by hand, where those
        stay."""
        left = len(p.text) - len(p.text.lstrip(" \t\u00a0\u2028"))
        right = len(p.text.rstrip(" \t\u2028"))
        if prose and left and right > left and p.text[0] in " \t\u00a0":
            left = left if self.cleaner.is_enabled("indents", p.text, Fix(0, left, "")) else 0
        if right <= left:
            return "", ()
        return p.text[left:right], story_text.cut_spans(p.spans, left, right)

    def _para(self, p: SourceParagraph, style: str, starts: bool) -> ParaSpec | None:
        values: dict[str, object] = {}
        if p.listed is not None and style == list_style("number" if p.listed.ordered else "bullet", p.listed.level):
            values |= _beyond_style(p.listed)
            self.counts["list items"] += 1
        elif style in ("", "body", "first", "quote"):
            if p.align in ("centre", "right"):
                values["align"] = p.align
                values["indent_first"] = 0.0
            if p.listed is not None:
                values |= {
                    "indent_left": LIST_INDENT * p.listed.level,
                    "indent_first": -LIST_INDENT,
                    "list": _mark(p.listed),
                }
                self.counts["list items"] += 1
        if starts and self.paragraphs and style in ("body", "first", "quote", "section", "verse"):
            values["start"] = "page"
            self.counts["page breaks"] += 1
        return ParaSpec(**values) if values else None  # type: ignore[arg-type]

    def _paragraph(
        self, text: str, spans: tuple[Span, ...], style: str, para: ParaSpec | None = None, noted: bool = True
    ) -> Paragraph:
        heading = style in (*self.headed, "title")
        spans_ = []
        for span in spans:
            if span.object is not None:
                anchor = self._anchor(span.object, noted)
                if anchor is None:
                    text = text[: span.start] + "\u200b" + text[span.end :]  # a place that stays, with nothing in it
                else:
                    spans_.append(replace(span, style="note-number" if anchor.kind == "note" else None, object=anchor))
                continue
            look = replace(span.type or TypeSpec(), weight=None) if heading else span.type
            if look is not None and look != TypeSpec():
                name = _named(look)
                spans_.append(
                    replace(span, style=name, type=_rest(look))
                    if name in self.named
                    else replace(span, style=None, type=look)
                )
            elif span.link:
                spans_.append(replace(span, style=None, type=None))
        words, moved = text, story_text.tidy(tuple(spans_))
        words, moved = self.cleaner.clean(words, moved, style == "verse")
        return Paragraph(story_text.new_id("p"), style, words, moved, para)

    def _anchor(self, anchor: Anchor, noted: bool) -> Anchor | None:
        """Return what represents a note, a picture or a table of the source in the text of a job."""
        if anchor.kind == "note":
            note = self.source.notes.get(anchor.ref)
            if note is None or not noted:
                self.counts["notes in notes"] += note is not None
                return None
            paragraphs = [self._inner(p, "note", noted=False) for p in note.paragraphs if _plain_words(p.text)] or [
                Paragraph(story_text.new_id("p"), "note")
            ]
            story = Story(story_text.new_id("s"), "Note", paragraphs, kind="note")
            self.notes.append(story)
            self.noted.setdefault(anchor.ref, paragraphs[0].id)
            return replace(anchor, ref=story.id, form=END if note.kind == "endnote" else "")
        if anchor.kind == "frame":
            picture = self.source.pictures.get(anchor.ref)
            if picture is None:
                return None
            key = story_text.new_id("f")
            self.pictures.append((key, picture))
            return replace(anchor, ref=key)
        if anchor.kind == "reference":
            return anchor
        table = self.source.tables.get(anchor.ref)
        if table is None:
            return None
        rows = tuple(
            tuple(
                Cell(tuple(self._inner(p, "body") for p in cell.paragraphs), cell.across, cell.down)
                for cell in row[:MOST_COLUMNS]
            )
            for row in table.rows
        )
        text_table = TextTable(story_text.new_id("t"), f"Table {len(self.tables) + 1}", rows, min(table.heads, 1000))
        self.tables.append(text_table)
        return replace(anchor, ref=text_table.id)

    def _inner(self, p: SourceParagraph, style: str, noted: bool = True) -> Paragraph:
        """A paragraph of a note or a cell. Notes in cells are kept; a note within a note is not possible and is
        reported."""
        text, spans = self._tidied(p)
        para = ParaSpec(align=p.align) if style != "note" and p.align in ("centre", "right") else None
        return self._paragraph(text, spans, style, para, noted)


def _same(first: str, second: str) -> bool:
    """Return whether two texts have the same words."""
    return " ".join(first.split()) == " ".join(second.split())


def _links(p: Paragraph) -> list[tuple[str, int, int]]:
    """The links of a paragraph with the stretches of words that they are on; spans of one that touch are one
    stretch."""
    links: list[tuple[str, int, int]] = []
    for span in p.spans:
        if not span.link:
            continue
        if links and (links[-1][0], links[-1][2]) == (span.link, span.start):
            links[-1] = span.link, links[-1][1], span.end
        else:
            links.append((span.link, span.start, span.end))
    return links


def _as_words(p: Paragraph, span: Span, words: str) -> Paragraph:
    """A paragraph with words in the place of the object that a span holds."""
    gone = (one for one in p.spans if one is not span)
    before = story_text.piece(replace(p, spans=tuple(gone)), 0, span.start)
    behind = story_text.piece(p, span.end, len(p.text))
    return story_text.joined(story_text.inserted(before, span.start, words) if words else before, behind)


BULLET, NUMBER = re.compile(r"[•–·▪◦‣*-]\t\s*"), re.compile(r"(\d{1,3})[.)]\t\s*")


def _mark(listed: Listed) -> ListMark:
    kind: Literal["number", "bullet"] = "number" if listed.ordered else "bullet"
    return ListMark(kind, MARKS[kind], level=listed.level, start=1 if listed.first and listed.ordered else None)


def _beyond_style(listed: Listed) -> dict[str, object]:
    """The local formatting of a list item: the start of its numbers, and the indent of levels below those with a
    style."""
    values: dict[str, object] = {}
    if listed.level > LIST_LEVELS:
        values["indent_left"] = LIST_INDENT * listed.level
    if listed.level > LIST_LEVELS or (listed.first and listed.ordered):
        values["list"] = _mark(listed)
    return values


def _listed(p: SourceParagraph, text: str, spans: tuple[Span, ...]) -> tuple[SourceParagraph, str, tuple[Span, ...]]:
    """Convert a list made by hand, a bullet or a number and a tab, to a list."""
    match = BULLET.match(text) or NUMBER.match(text) if p.listed is None else None
    if match is None or match.end() == len(text):
        return p, text, spans
    number = match[1] if match.re is NUMBER else ""
    listed = Listed(bool(number), 1, number == "1")
    return replace(p, listed=listed), text[match.end() :], story_text.cut_spans(spans, match.end(), len(text))


def _named(look: TypeSpec) -> str | None:
    """The character style for some formatting, if there is one."""
    if look.italic:
        return "emphasis"
    if look.weight == 700:
        return "strong"
    return "smallcaps" if look.caps == "small" else None


def _rest(look: TypeSpec) -> TypeSpec | None:
    """Return the formatting that its character style does not cover."""
    if look.italic:
        look = replace(look, italic=None)
    elif look.weight == 700:
        look = replace(look, weight=None)
    elif look.caps == "small":
        look = replace(look, caps=None)
    return look if look != TypeSpec() else None


def _plain_words(text: str) -> str:
    return " ".join(text.replace(OBJECT, "").split())


def _is_picture(p: SourceParagraph) -> bool:
    return any(span.object is not None and span.object.kind == "frame" for span in p.spans)


def _all_bold(p: SourceParagraph) -> bool:
    return _covered(p, lambda look: look.weight == 700)


def _covered(p: SourceParagraph, says: Callable[[TypeSpec], bool]) -> bool:
    """Return whether all letters of a paragraph look so by hand."""
    bare = [at for at, sign in enumerate(p.text) if not sign.isspace() and sign != OBJECT]
    if not bare:
        return False
    looked = [span for span in p.spans if span.type is not None and says(span.type)]
    return (
        sum(span.end - span.start for span in looked) >= len(bare)
        and looked[0].start <= bare[0]
        and looked[-1].end > bare[-1]
    )


__all__ = ["BOLD_LINES", "LEAVE_OUT", "converted", "pasted", "survey"]
