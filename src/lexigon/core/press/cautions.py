"""What would pass silently into a file: letters no font has, families that are missing, text without room, languages that
are none. The command line and the Press tell it before a file is made."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.flow.composition import Composition
from lexigon.core.job.model import OBJECT
from lexigon.core.paint.display import overset_of
from lexigon.core.type.runs import runs_of

MOST_SIGNS = 12


@dataclass(slots=True, frozen=True)
class Caution:
    """``kind`` is for scripts, ``text`` one plain line; ``page`` is an index, where it is of one place."""

    kind: str
    text: str
    page: int | None = None


def cautions(composition: Composition) -> list[Caution]:
    """What should be looked at before a file is made of the job, the gravest first."""
    return [*at_a_glance(composition), *_type(composition), *_languages(composition)]


def at_a_glance(composition: Composition) -> list[Caution]:
    """Those that are found without reading the texts."""
    return [*_overset(composition), *_pages(composition)]


def _overset(composition: Composition) -> list[Caution]:
    made = []
    for story_id, flow in composition.flows.items():
        if over := overset_of(flow):
            name = composition.job.stories[story_id].name
            words = f"{over.words:,} word{'s' * (over.words != 1)} ({over.lines:,} line{'s' * (over.lines != 1)})"
            page = flow.filled[-1].columns[-1].slot.page if flow.filled and flow.filled[-1].columns else None
            made.append(Caution("overset", f"{words} of “{name}” do not fit.", page))
    return made


def _type(composition: Composition) -> list[Caution]:
    """Characters that no font has, by where the first one stands; families that are not here, with how much is set in them."""
    library, cascade = composition.library, composition.cascade
    lacking: dict[str, tuple[str, str, int]] = {}
    absent: dict[str, int] = {}
    for story in composition.job.stories.values():
        for paragraph in story.paragraphs:
            text, runs = runs_of(cascade, library, paragraph)
            for run in runs:
                family = run.look.spec.family
                if not library.has(family):
                    absent[family] = absent.get(family, 0) + 1
                face = run.look.cut.face
                piece = text[run.start : run.end]
                if not face.characters.issuperset(piece):
                    for sign in face.lacks(set(piece) - {OBJECT}):
                        lacking.setdefault(sign, (story.id, paragraph.id, run.start + piece.index(sign)))
    made = []
    if lacking:
        shown = ", ".join(f"{sign} (U+{ord(sign):04X})" for sign in list(lacking)[:MOST_SIGNS])
        more = f" and {len(lacking) - MOST_SIGNS} more" if len(lacking) > MOST_SIGNS else ""
        page = composition.page_of(*next(iter(lacking.values())))
        at = f", first on page {composition.values.labels[page] or page + 1}" if page is not None else ""
        made.append(Caution("missing glyphs", f"No font here has {shown}{more}{at}: an empty box is printed.", page))
    for family, count in absent.items():
        stands = library.face(family).family
        places = f"{count} place{'s' * (count != 1)}"
        made.append(Caution("missing family", f"There is no font “{family}” here: {places} set in {stands} instead."))
    return made


def _languages(composition: Composition) -> list[Caution]:
    from babel import UnknownLocaleError
    from babel.core import Locale

    job = composition.job
    used = {job.brief.language, *(style.type.language for style in job.paragraph_styles.values())}
    used |= {style.type.language for style in job.character_styles.values()}
    made = []
    for language in sorted(filter(None, used)):
        try:
            Locale.parse(language.split("-")[0].lower())
        except (UnknownLocaleError, ValueError):
            made.append(
                Caution(
                    "unknown language", f"“{language}” is no language that is known here: its words are not divided."
                )
            )
    return made


def _pages(composition: Composition) -> list[Caution]:
    """Frames off the page, and pages of mixed orientation."""
    job, made = composition.job, list[Caution]()
    off = []
    for index, page in enumerate(job.pages):
        width, height = job.page_size(index)
        for frame in page.frames:
            rect = frame.rect
            if rect is not None and (rect.right <= 0 or rect.foot <= 0 or rect.x >= width or rect.y >= height):
                off.append(index)
    if off:
        label = composition.values.labels[off[0]] or str(off[0] + 1)
        count = f"{len(off)} object{'s' * (len(off) != 1)}"
        made.append(
            Caution(
                "off the page",
                f"{count} lie{'s' * (len(off) == 1)} wholly off the page, first on page {label}.",
                off[0],
            )
        )
    turned = {job.page_size(index) for index in range(len(job.pages))}
    if len(turned) > 1:
        made.append(
            Caution("mixed orientation", "Some pages lie on their side: the file has pages of two orientations.")
        )
    return made
