"""The fonts of a job: those to choose from, and imported files."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from contextlib import ExitStack
from typing import Any

from lexigon.bench.services import files
from lexigon.bench.services.describing import families_of
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document.model import OwnFont
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.intents import AddFont
from lexigon.core.type.fonts import FontError, FontFace
from lexigon.core.type.ownfonts import cautions
from lexigon.core.type.vetting import vetted

CUTS = {
    100: "Thin",
    200: "Extra light",
    300: "Light",
    400: "Regular",
    500: "Medium",
    600: "Semibold",
    700: "Bold",
    800: "Extra bold",
    900: "Black",
}


def cut_name(weight: int, italic: bool) -> str:
    word = CUTS.get(weight, f"Weight {weight}")
    return ("Italic" if word == "Regular" else f"{word} italic") if italic else word


def import_intents(uploads: Sequence[tuple[str, bytes]], job: str) -> list[AddFont]:
    """Return the intents that import font files, given by name and content. Raises FontError if one of them cannot be
    used; then none is stored."""
    with ExitStack() as stack:
        verdicts = vetted([stack.enter_context(files.written(data)) for _, data in uploads])
    for (name, _), font in zip(uploads, verdicts, strict=True):
        if isinstance(font, str):
            raise FontError(f"“{name}” {font}. Nothing was changed.")
    own = files.Files(job)
    return [
        AddFont(OwnFont(new_id("t"), name, own.keep(data), font.family, font.weight, font.italic))
        for (name, data), font in zip(uploads, verdicts, strict=True)
        if not isinstance(font, str)
    ]


def described(live: OpenJob) -> list[dict[str, Any]]:
    """The families by name, each with its cuts; the job's own with their files, cautions and how much is set in
    them."""
    job, library = live.job, live.workspace.composition.library
    own = {face.path: face for face in library.own}
    uses = Counter(_families_used(live))
    rows = []
    for family in families_of(job):
        cuts = [_cut(face) for face in library.families.get(family, ()) if face.path not in own]
        for font in (font for font in job.fonts.values() if font.family == family):
            path = live.files.path_of(font.file)
            face = own.get(path) if path else None
            font_facts = (
                _cut(face)
                if face
                else {
                    "key": "",
                    "name": cut_name(font.weight, font.italic),
                    "weight": font.weight,
                    "italic": font.italic,
                }
            )
            warnings = cautions(face) if face else ["its file is missing or broken: another font stands in"]
            cuts.append({**font_facts, "id": font.id, "file": font.name, "cautions": warnings})
        cuts.sort(key=lambda cut: (cut["weight"], cut["italic"]))
        rows.append({"family": family, "uses": uses[family], "own": any("id" in cut for cut in cuts), "cuts": cuts})
    return rows


def _cut(face: FontFace) -> dict[str, Any]:
    return {"key": face.key, "name": cut_name(face.weight, face.italic), "weight": face.weight, "italic": face.italic}


def _families_used(live: OpenJob) -> Iterable[str]:
    """The family of every paragraph, and of each stretch set in another."""
    cascade = live.workspace.composition.cascade
    for story in live.job.stories.values():
        for p in story.paragraphs:
            family = cascade.type_of(p).family
            yield family
            yield from {other for span in p.spans if (other := cascade.type_of(p, span).family) != family}
