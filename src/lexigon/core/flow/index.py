"""The index: its terms with the places that are marked in the text, in the order of the language, each level for
itself."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable, Iterator
from dataclasses import replace

from lexigon.core.document.listing_merge import INDEX, LETTER
from lexigon.core.document.model import Gathered, IndexTerm, Inner, Listing, ListingSource, Span, Target, TypeSpec
from lexigon.core.flow.composition import Composition

DEEPEST = 6
SEE, ALSO = "see", "see also"
Marked = dict[str, list[tuple[tuple[int, int, int, int], Target]]]


def marked(composition: Composition) -> Marked:
    """Return the index entries of the stories on pages, in order."""
    marks: Marked = {}
    for rank, (key, flow) in enumerate(composition.flows.items()):
        for at, set_ in enumerate(flow.paragraphs):
            counts: dict[str, int] = {}
            for span in set_.paragraph.spans:
                if span.object is None or span.object.kind != "index":
                    continue
                term = span.object.ref
                page = composition.where.page(key, set_.paragraph.id, span.start)
                order = (1 << 30 if page is None else page, rank, at, span.start)
                marks.setdefault(term, []).append(
                    (order, Target(set_.paragraph.id, term, counts.get(term, 0), "marks"))
                )
                counts[term] = counts.get(term, 0) + 1
    for places in marks.values():
        places.sort(key=lambda one: one[0])
    return marks


def with_abroad(
    composition: Composition, terms: dict[str, IndexTerm], places: Marked
) -> tuple[dict[str, IndexTerm], Marked]:
    """The terms with those of the other jobs of the publication, and where all are marked; terms of the same words
    under the same words are one."""
    beyond = composition.values.references.beyond
    terms, places = dict(terms), {key: list(list_) for key, list_ in places.items()}
    here = {_path(terms, key): key for key in terms}
    for part in composition.job.abroad.values():
        theirs = {one.term.id: one.term for one in part.terms}
        ids = {key: here.get(_path(theirs, key), f"{part.id}.{key}") for key in theirs}
        for one in part.terms:
            term, key = one.term, ids[one.term.id]
            here.setdefault(_path(theirs, term.id), key)
            if key not in terms:
                see, also = (tuple(ids[other] for other in some if other in ids) for some in (term.see, term.also))
                terms[key] = replace(term, id=key, parent=ids.get(term.parent, ""), see=see, also=also)
            for nth, (page, _) in enumerate(beyond.marks(part.id, term.id)):
                target = Target("p", term.id, nth, "marks", part.id)
                places.setdefault(key, []).append(((page, 0, nth, 0), target))
    for list_ in places.values():
        list_.sort(key=lambda one: one[0])
    return terms, places


def _path(terms: dict[str, IndexTerm], key: str) -> tuple[str, ...]:
    """The words of a term and of those it stands under, as they are compared."""
    names: list[str] = []
    while key in terms and len(names) <= DEEPEST:
        names.append(terms[key].name.casefold())
        key = terms[key].parent
    return tuple(names)


def terms_gathered(
    composition: Composition, listing: Listing, source: ListingSource
) -> Iterator[tuple[Gathered, int | None]]:
    """The entries of an index with the page of the first place of each; terms that are neither marked nor lead anywhere
    are left out."""
    from lexigon.core.collation import collation

    terms, places = composition.job.terms, marked(composition)
    if listing.over == "publication":
        terms, places = with_abroad(composition, terms, places)
    key = collation(composition.job.brief.language)
    under: dict[str, list[IndexTerm]] = {}
    for term in terms.values():
        under.setdefault(term.parent if term.parent in terms else "", []).append(term)

    def entries(parent: str, level: int, visited: frozenset[str]) -> Iterator[tuple[IndexTerm, Gathered, int | None]]:
        for term in sorted(under.get(parent, ()), key=lambda one: key(one.sort or one.name)):
            if term.id in visited or level > DEEPEST:
                continue
            inner = list(entries(term.id, level + 1, visited | {term.id}))
            own = places.get(term.id, [])
            see = [_named(terms, one) for one in term.see if one in terms]
            also = [_named(terms, one) for one in term.also if one in terms]
            if own or see or inner or also:
                words = term.name
                spans: tuple[Span, ...] = ()
                if see and not own:
                    begin = len(words) + 2
                    words, spans = (
                        f"{words}, {SEE} {'; '.join(see)}",
                        (Span(begin, begin + len(SEE), type=TypeSpec(italic=True)),),
                    )
                elif see:
                    also = [*see, *also]
                behind = f". {ALSO[:1].upper()}{ALSO[1:]} {'; '.join(also)}" if also else ""
                style = source.entry or (INDEX if level == 1 else f"{INDEX}-{level}")
                targets = tuple(target for _, target in own)
                page = own[0][0][0] if own and own[0][0][0] < 1 << 30 else None
                entry = Gathered(targets, words, spans, level, style, behind)
                if listing.run_in and level == 1:
                    entry = replace(entry, inner=tuple(_run_in(inner)))
                yield term, entry, page
            if not listing.run_in or level > 1:
                yield from inner

    letter = ""
    for term, entry, page in entries("", 1, frozenset()):
        if listing.letters and entry.level == 1:
            begin = _letter(term.sort or term.name)
            if begin != letter:
                letter = begin
                yield Gathered((), letter, (), 1, LETTER), page
        yield entry, page


def _run_in(inner: Iterable[tuple[IndexTerm, Gathered, int | None]]) -> Iterator[Inner]:
    """Entries under one of the first level, as they follow it; what stands under them has their words before it."""
    above: dict[int, str] = {}
    for term, entry, _ in inner:
        above[entry.level] = term.name
        words, spans = entry.words, entry.spans
        if entry.level > 2:
            before = ", ".join(above[level] for level in range(2, entry.level)) + ", "
            words = before + words
            spans = tuple(replace(one, start=one.start + len(before), end=one.end + len(before)) for one in spans)
        yield Inner(entry.targets, words, spans, entry.behind)


def _named(terms: dict[str, IndexTerm], key: str) -> str:
    """A term with those it stands under before it."""
    names, visited = [], set()
    while key in terms and key not in visited:
        visited.add(key)
        names.append(terms[key].name)
        key = terms[key].parent
    return ", ".join(reversed(names))


def _letter(words: str) -> str:
    """Return the letter under which an entry is listed: its first letter without accents; a special character for
    numbers and everything else."""
    for sign in unicodedata.normalize("NFD", words):
        if sign.isalpha():
            return sign.upper()
        if sign.isdigit():
            break
    return "0–9" if words[:1].isdigit() else "*"
