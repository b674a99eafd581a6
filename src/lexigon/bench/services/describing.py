"""Settings in words: what a paragraph or a frame is set in, what of it was set by hand, which fonts stepped in."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document.cascade import Cascade, FrameSetting, Setting, TypeSetting
from lexigon.core.document.model import OBJECT, Job, Object, Paragraph, Span
from lexigon.core.spec.grammar import Names
from lexigon.core.spec.sharing import shared_frames
from lexigon.core.spec.writing import (
    character_sections,
    characters,
    leading,
    paragraph,
    sections,
    write_type,
)
from lexigon.core.type.features import offered
from lexigon.core.type.fonts import shipped
from lexigon.core.type.runs import runs_of

NO_TYPE = "Public Sans"
"""The interface's own family, which is not offered for pages."""


def spec_of_text(live: OpenJob, paragraph: Paragraph, span: Span | None) -> str:
    """A paragraph's setting, or that of a stretch of it, as a spec line."""
    cascade = live.workspace.composition.cascade
    return write_type(cascade.type_of(paragraph, span), cascade.setting(paragraph), names_of(live.job))


def spec_of_frame(live: OpenJob, frame: Object, setting: FrameSetting) -> str:
    """Without what is plain: one column is not worth a word."""
    return shared_frames([(frame, setting)], names_of(live.job)).line


def names_of(job: Job) -> Names:
    """The names a spec line of this job may use."""
    return Names.of(job, families_of(job))


def families_of(job: Job) -> list[str]:
    """The font families that are offered for a job's pages: those that ship and its own, even if a file is missing."""
    own = {font.family for font in job.fonts.values()}
    return sorted({*shipped().families, *own} - {NO_TYPE}, key=str.casefold)


# The full groups of the slip


def sections_of(live: OpenJob, face: TypeSetting, setting: Setting) -> dict[str, str]:
    """Return what is other than plain, in the spec line's words, by section."""
    names = names_of(live.job)
    texts = {key: ", ".join(parts) for key, parts in sections(setting, names).items()}
    return texts | {key: ", ".join(parts) for key, parts in character_sections(face, names).items()}


def features_offered(live: OpenJob, face: TypeSetting) -> list[dict[str, object]]:
    """The OpenType features of a setting's font: ``value`` is what they are set to."""
    values = {tag: int(value or 1) for tag, _, value in (one.partition("=") for one in face.features)}
    cut = live.workspace.composition.library.face(face.family, face.weight, face.italic)
    return [
        {"tag": f.tag, "name": f.name, "usual": f.usual, "value": values.get(f.tag, int(f.usual))} for f in offered(cut)
    ]


# Local settings


def local_words(job: Job, cascade: Cascade, p: Paragraph, show: Callable[[Paragraph], Paragraph]) -> str:
    """Return what is set by hand in a paragraph, in the spec line's words; ``show`` says how its text is set."""
    bare = replace(p, type=None, para=None)
    own, style = (_phrases(cascade, show(paragraph), job) for paragraph in (p, bare))
    return ", ".join(part for part in own if part not in set(style))


def _phrases(cascade: Cascade, p: Paragraph, job: Job) -> list[str]:
    face, setting = cascade.type_of(p), cascade.setting(p)
    cut = [f"{face.size:g} pt", f"leading {leading(setting)}", face.family, f"weight {face.weight}"]
    names = names_of(job)
    return [*cut, *(["italic"] if face.italic else []), *characters(face, names), *paragraph(setting, names)]


def fallbacks(live: OpenJob, paragraphs: Iterable[Paragraph]) -> str:
    """Return which characters their font does not have, and what sets them instead; "" where all are there."""
    composition = live.workspace.composition
    missing_by_face: dict[str, set[str]] = {}
    for p in paragraphs:
        text, runs = runs_of(composition.cascade, composition.library, p)
        for run in runs:
            wanted_face = composition.library.face(run.look.spec.family, run.look.spec.weight, run.look.spec.italic)
            used = run.look.cut.face
            own = text[run.start : run.end].replace(OBJECT, "")
            missing = used.lacks(set(own))
            if missing:
                missing_by_face.setdefault("no font here", set()).update(missing)
            if used is not wanted_face:
                missing_by_face.setdefault(used.family, set()).update(own.strip())
            if not composition.library.has(run.look.spec.family):
                missing_by_face.setdefault(f"{wanted_face.family}, because {run.look.spec.family} is missing,", set())
    parts = []
    for family, signs in missing_by_face.items():
        characters = " ".join(sorted(signs)[:6]) + (" …" if len(signs) > 6 else "")
        if family == "no font here":
            parts.append(f"{characters}: no font has {'it' if len(signs) == 1 else 'them'}")
        else:
            parts.append(f"{characters or 'all of it'} set in {family}".replace(",,", ","))
    return "; ".join(parts)
