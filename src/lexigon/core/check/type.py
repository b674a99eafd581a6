"""Letters that no font has, families that are missing, languages that are none."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, rule
from lexigon.core.document.anchors import anchored
from lexigon.core.document.model import OBJECT
from lexigon.core.flow.composition import Composition
from lexigon.core.plural import counted
from lexigon.core.type.runs import runs_of

MOST_SIGNS = 12
"""Characters that are named singly."""


@rule()
def fonts(composition: Composition) -> Iterator[Finding]:
    """Characters that no font has, by where the first one stands; families that are not here, with how much is set in
    them."""
    library, cascade = composition.library, composition.cascade
    lacking: dict[str, tuple[str, str, int]] = {}
    absent: dict[str, int] = {}
    hosts = anchored(composition.job)
    for story in composition.job.stories.values():
        if story.kind == "note" and story.id not in hosts:
            continue  # its number was deleted: nothing shows it
        for paragraph in story.paragraphs:
            text, runs = runs_of(cascade, library, paragraph)
            for run in runs:
                family = run.look.spec.family
                if not library.has(family):
                    absent[family] = absent.get(family, 0) + 1
                face, piece = run.look.cut.face, text[run.start : run.end]
                if not face.has_all(piece):
                    for sign in face.lacks(set(piece) - {OBJECT}):
                        lacking.setdefault(sign, (story.id, paragraph.id, run.start + piece.index(sign)))
    if lacking:
        characters = ", ".join(f"{sign} (U+{ord(sign):04X})" for sign in list(lacking)[:MOST_SIGNS])
        more = f" and {len(lacking) - MOST_SIGNS} more" if len(lacking) > MOST_SIGNS else ""
        page = composition.page_of(*next(iter(lacking.values())))
        at = f", first on page {composition.values.labels[page] or page + 1}" if page is not None else ""
        yield Finding("missing glyphs", f"No font has {characters}{more}{at}. An empty box is printed instead.", page)
    for family, count in absent.items():
        places = f"{counted(count, 'place')} set in {library.face(family).family} instead."
        yield Finding("missing family", f"There is no font “{family}”. {places}")


@rule()
def languages(composition: Composition) -> Iterator[Finding]:
    from babel import UnknownLocaleError
    from babel.core import Locale

    job = composition.job
    used = {job.brief.language, *(style.type.language for style in job.paragraph_styles.values())}
    used |= {style.type.language for style in job.character_styles.values()}
    for language in sorted(filter(None, used)):
        try:
            Locale.parse(language.split("-")[0].lower())
        except (UnknownLocaleError, ValueError):
            words = (
                f"“{language}” is not a known language, so its words are not hyphenated. Check the language in the "
                "slip."
            )
            yield Finding("unknown language", words)
