"""Swatches as the board shows them: their appearance, their definition in words, and where they are used."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import asdict, astuple
from typing import Any, Literal, get_args

from lexigon.bench.services.jobs import OpenJob
from lexigon.core.colour.colours import Colour, css_of
from lexigon.core.colour.difference import delta_e
from lexigon.core.colour.palette import Palette
from lexigon.core.colour.profiles import COATED, Profile
from lexigon.core.colour.variants import ground_of, varied
from lexigon.core.document.cascade import frame_setting
from lexigon.core.document.ink_sets import chosen
from lexigon.core.document.model import Casting, Job, Swatch, all_in
from lexigon.core.document.registry import TABLES
from lexigon.core.editing.holders import everywhere
from lexigon.core.editing.holders import holder as place_of
from lexigon.core.editing.intents.colour.ink_sets import AddInkSet
from lexigon.core.editing.intents.colour.swatches import PutSwatch, mixed_name
from lexigon.core.editing.intents.styles.changing import styles_of
from lexigon.core.editing.swatch_uses import swatch_uses
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain, read
from lexigon.core.geometry import Rect

MOST_USES = 500
DULLER = 3.0
"""From this CIEDE2000 on a colour is said to print otherwise: less is hardly seen, and what 8 bits a channel round away
(common practice, no source)."""


def swatches(job: Job) -> list[dict[str, Any]]:
    """The job's swatches in order, as lists and the drawer show them."""
    palette = Palette(job.swatches)
    return [_swatch_row(swatch, palette) for swatch in job.swatches.values()]


def ink_sets(job: Job) -> list[dict[str, Any]]:
    """The job's ink sets with the colours of their roles, whether each is the one the job has now, and how many
    sections have it."""
    now = chosen(job)
    return [
        {
            "id": one.id,
            "name": one.name,
            "chosen": one is now,
            "sections": [
                index for index, page in enumerate(job.pages) if page.section and page.section.ink_set == one.id
            ],
            "parts": [
                asdict(part)
                | {
                    "css": Palette(job.swatches).colour(part.swatch, part.tint).css,
                    "name": job.swatches[part.role].name,
                }
                for part in one.parts
            ],
        }
        for one in job.ink_sets.values()
    ]


def _swatch_row(swatch: Swatch, palette: Palette) -> dict[str, Any]:
    return {
        "id": swatch.id,
        "name": swatch.name,
        "css": palette.colour(swatch.id).css,
        "way": way(swatch, palette),
        "told": describe(swatch, palette.name),
        "space": swatch.space,
        "values": swatch.values,
        "spot": swatch.spot,
        "gradient": asdict(swatch.gradient) if swatch.gradient else None,
        "base": asdict(swatch.base) if swatch.base else None,
        "group": swatch.group,
        "mixed": swatch.kind.values > 0,
        "in_gradients": swatch.kind.in_gradients,
        "in_tints": swatch.kind.in_tints,
    }


def way(swatch: Swatch, palette: Palette) -> list[tuple[float, str]]:
    """Return the colours of a gradient as a screen shows them, each with its position as a fraction of the way."""
    if swatch.gradient is None:
        return []
    colours = palette.blended(swatch.gradient, Rect(0.0, 0.0, 1.0, 1.0))
    if not colours.mids:
        return [(at, colour.css) for at, colour in colours.stops]
    return [(round(at, 4), css_of(rgb)) for at, rgb in colours.steps(4)]


def describe(swatch: Swatch, name_of: Callable[[str], str]) -> str:
    """Return what it is mixed of."""
    if swatch.space == "registration":
        return "on every plate"
    if swatch.base is not None and swatch.kind.played:
        strength = "" if swatch.base.tint == 1 else f", {100 * swatch.base.tint:.4g} %"
        return f"a role, played by {name_of(swatch.base.swatch)}{strength}"
    if swatch.base is not None:
        return f"{100 * swatch.base.tint:.4g} % of {name_of(swatch.base.swatch)}"
    if swatch.gradient is not None:
        return f"{swatch.gradient.kind}, {len(swatch.gradient.stops)} colours"
    return ("spot, looks like " if swatch.spot else "") + mixed_name(swatch.space, swatch.values)


def mixed(live: OpenJob, form: PutSwatch, proof: Profile | None = None) -> dict[str, Any]:
    """Return what a swatch would look like, without making it: on the screen, and printed where that is another colour;
    on the paper of a soft ``proof``, or on coated paper."""
    (edit,) = form.expand(live.job)
    swatch: Swatch = read(TABLES["swatches"].type, edit.value)  # type: ignore[union-attr]
    palette = Palette({**live.job.swatches, swatch.id: swatch})
    row = _swatch_row(swatch, palette)
    colour = palette.colour(swatch.id)
    paper = proof or COATED
    printed = Colour("cmyk", colour.inks(paper))
    light = swatch.space in ("rgb", "lab")
    apart = delta_e(colour.lab, printed.measured(paper)) if light else 0.0
    inks = mixed_name("cmyk", tuple(round(part, 2) for part in printed.components)) if light else ""
    return row | {
        "printed": css_of(printed.proofed(proof)) if apart > DULLER else "",
        "paper": paper.id,
        "inks": inks,
        "apart": round(apart, 1),
        "lab": [round(part, 1) for part in colour.lab],
    }


Tone = Literal["light", "dark"]
TONES: tuple[Tone, ...] = get_args(Tone)


def counterpart(live: OpenJob, key: str, tone: Tone) -> dict[str, Any]:
    """The light or dark counterpart of an ink set: the edit that adds it, and each role with its colours and how they
    stand off the ground, before and after. Raises LexigonError."""
    job = live.job
    ink_set = job.ink_sets.get(key)
    if ink_set is None:
        raise LexigonError("That ink set is no longer in the job.")
    if len(ink_set.parts) < 2:
        raise LexigonError("A counterpart needs at least two roles: a background, and a colour on it.")
    palette = Palette(job.swatches)
    colours = [palette.colour(part.swatch, part.tint) for part in ink_set.parts]
    names = [job.swatches[part.role].name for part in ink_set.parts]
    ground = ground_of(names, colours)
    variants = varied(colours, ground, tone == "dark")
    swatches = tuple(
        Swatch(f"n{at}", f"{name}, {tone}"[:80], "cmyk", one.colour.components)
        for at, (name, one) in enumerate(zip(names, variants, strict=True))
    )
    parts = tuple(Casting(part.role, swatch.id) for part, swatch in zip(ink_set.parts, swatches, strict=True))
    rows = [
        {
            "name": name,
            "was": colour.css,
            "css": one.colour.css,
            "ground": at == ground,
            "told": mixed_name("cmyk", one.colour.components),
            "before": round(one.was, 1),
            "after": round(one.contrast, 1),
        }
        for at, (name, colour, one) in enumerate(zip(names, colours, variants, strict=True))
    ]
    return {
        "rows": rows,
        "edit": {"do": "add-ink-set", **plain(AddInkSet(f"{ink_set.name}, {tone}"[:80], swatches, parts))},
    }


def laid(live: OpenJob, page: str, key: str) -> dict[str, Any]:
    """Return where the gradient that fills an object begins and ends, in points of its page before the object is
    turned, and its colours. ``page`` is what edits call a page or a master's half. Raises LexigonError where no
    gradient fills it."""
    place = place_of(live.job, page)
    frame = next((one for one in place.frames if one.id == key), None)
    setting = frame_setting(live.job, frame) if frame else None
    swatch = live.job.swatches.get(setting.fill.swatch) if setting else None
    if frame is None or setting is None or swatch is None or swatch.gradient is None:
        raise LexigonError("The object is not filled with a gradient.")
    palette, rect = Palette(live.job.swatches), place.rect(frame)
    return {
        "way": palette.way(swatch.gradient, rect, setting.way),
        "by_hand": bool(setting.way),
        "rect": astuple(rect),
        "swatch": swatch.id,
        "name": swatch.name,
        "kind": swatch.gradient.kind,
        "gradient": asdict(swatch.gradient),
        "css": [palette.colour(stop.swatch, stop.tint).css for stop in swatch.gradient.stops],
        "uses": sum(1 for _ in swatch_uses(live.job, swatch.id)),
    }


def use_rows(live: OpenJob, uses: Iterable[tuple[str, str, int]]) -> dict[str, Any]:
    """Describe places in a job as people look for them: by page and words, or by the name of the object."""
    job, composition = live.job, live.workspace.composition
    every = list(uses)
    pages = {page.id: index for index, page in enumerate(job.pages)}
    objects = {(holder, one.id): one.name for holder, members in everywhere(job) for one in all_in(members)}
    rows = []
    for holder, key, offset in every[:MOST_USES]:
        page, words, name = pages.get(holder), "", ""
        if holder == "swatch":
            swatch = job.swatches[key]
            name = f"the {swatch.space if swatch.base else 'gradient'} “{swatch.name}”"
        elif holder == "ink set":
            name = f"the ink set “{job.ink_sets[key].name}”"
        elif holder in ("table", "table style"):
            made_in = job.tables if holder == "table" else job.table_styles
            name = f"the {holder} “{made_in[key].name}”"
        elif holder.startswith("style:"):
            words = styles_of(job, holder.removeprefix("style:"))[key].name
        elif holder in job.stories:
            page = composition.page_of(holder, key, offset)
            text = next((p.text for p in job.stories[holder].paragraphs if p.id == key), "")
            words = text[offset : offset + 60]
        else:
            name = objects.get((holder, key)) or "a frame"
            if holder.startswith("master:"):
                name = f"{name}, on the master “{job.masters[holder.split(':')[1]].name}”"
            elif page is None:
                name = f"{name}, in a story"
        label = composition.values.labels[page] if page is not None else ""
        rows.append(
            {"holder": holder, "key": key, "offset": offset, "page": page, "label": label, "words": words, "name": name}
        )
    return {"rows": rows, "count": len(every)}
