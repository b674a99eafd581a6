"""The state of a job as the board receives it: painted pages with their lines, lists of choices, and revision."""

from __future__ import annotations

import zlib
from collections import Counter
from collections.abc import Collection, Iterable
from dataclasses import asdict
from typing import Any

from lexigon.bench.services.adjusting import job_with
from lexigon.bench.services.describing import families_of
from lexigon.bench.services.inks import ink_sets, swatches
from lexigon.bench.services.jobs import OpenJob
from lexigon.bench.services.mixing import region_addresses
from lexigon.bench.services.pictures import addresses, contact_sheet
from lexigon.core import lengths
from lexigon.core.brief.forms import bar_code_area, safe_area
from lexigon.core.check.findings import count_at_once
from lexigon.core.colour.profiles import Profile
from lexigon.core.document.cell_stories import text_of
from lexigon.core.document.default_notes import FOOTNOTES
from lexigon.core.document.forms.sheets import folds_of, panels_of
from lexigon.core.document.model import Guide, Job, Side
from lexigon.core.document.reading_order import reading_order
from lexigon.core.document.story_text import is_table
from lexigon.core.editing.intents.text.note_kinds import END, SIDE, first_kinds
from lexigon.core.editing.intents.text.standing_copy import uses
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.drawing import drawing_of
from lexigon.core.paint.standing import standing

MASTER_SIDES: dict[int, Side] = {-2: "verso", -1: "recto"}
"""The places of a master page's halves where pages are named by their index."""


def painted(
    live: OpenJob,
    indexes: Iterable[int],
    have: dict[str, str] | None = None,
    master: str = "",
    proof: Profile | None = None,
    record: str = "",
) -> dict[str, Any]:
    """Pages as the board shows them, by index; -2 and -1 are the halves of the master page ``master``. As a soft proof
    with ``proof``; with a ``record``, named as ``set:number``, in place of the design.

    A page that the client has as it is is sent without its drawing.
    """
    with job_with(live, record) as (view, present):
        pages = _painted(view, indexes, have, master, proof, present)
    return {index: page | {"record": present} for index, page in pages.items()} if record else pages


def _painted(
    live: OpenJob,
    indexes: Iterable[int],
    have: dict[str, str] | None,
    master: str,
    proof: Profile | None,
    record: str,
) -> dict[str, Any]:
    composition, job = live.workspace.composition, live.job
    display, address = Display(composition), addresses(live.key, proof)
    result: dict[str, Any] = {}
    for index in indexes:
        if index in MASTER_SIDES and master in job.masters:
            side = MASTER_SIDES[index]
            key, label = f"master:{master}:{side}", job.masters[master].name
        elif 0 <= index < len(job.pages):
            side = job.brief.side(index)
            key, label = job.pages[index].id, composition.values.labels[index]
        else:
            continue
        mark = f"{zlib.crc32(key.encode()):08x}-{composition.stamps.of(key)}{proof.id if proof else ''}"
        if record:
            mark += f"-{record}-{live.revision}"
        page: dict[str, Any] = {"index": index, "id": key, "label": label, "side": side, "hash": mark}
        if (have or {}).get(str(index)) != mark:
            art = display.master(master, side) if index in MASTER_SIDES else display.page(index)
            page |= {
                "svg": drawing_of(art, address, proof, None if record else region_addresses(live.key, key, proof)),
                "frames": (frames := standing(art)),
                "words": words_on(job, frames),
                "lines": page_lines(job, index, master, side),
                "reading": [one.id for one in reading_order(job, index)] if index >= 0 else [],
            }
        result[str(index)] = page
    return result


def words_on(job: Job, frames: Iterable[dict[str, Any]]) -> list[dict[str, Any]]:
    """The words of the paragraphs that frames show, as they are typed: stretches of a ``story`` that has so many
    paragraphs (``count``), each from paragraph ``first`` on, with ``[id, text]`` and a third value, true, for one that
    holds a table."""
    words: dict[str, set[str]] = {}
    for frame in frames:
        if (story := frame.get("story")) and not frame.get("field"):
            words.setdefault(story, set()).update(line["p"] for line in frame["lines"])
    return [stretch for key, ids in words.items() for stretch in stretches(job, key, ids)]


def stretches(job: Job, key: str, ids: Collection[str]) -> list[dict[str, Any]]:
    """Those of one story that hold the paragraphs named ``ids``; see ``words_on``."""
    story = text_of(job, key)
    runs: list[dict[str, Any]] = []
    before = -1
    for index, p in enumerate(story.paragraphs if story else ()):
        if p.id not in ids:
            continue
        if index != before + 1 or not runs:
            runs.append(
                {"story": key, "first": index, "count": len(story.paragraphs) if story else 0, "paragraphs": []}
            )
        runs[-1]["paragraphs"].append([p.id, p.text, True] if is_table(p) else [p.id, p.text])
        before = index
    return runs


def _box(rect: Rect) -> dict[str, float]:
    return {"x": round(rect.x, 4), "y": round(rect.y, 4), "w": round(rect.width, 4), "h": round(rect.height, 4)}


def page_lines(job: Job, index: int, master_id: str, side: Side) -> dict[str, Any]:
    """The lines of one page for the board: its size, text area, columns and rows, guides, panels and folds. Points."""
    brief = job.brief
    master = job.masters.get(master_id) if index < 0 else job.master_of(index)
    width, height = brief.page_size(bool(master and master.turned))
    below, above = master.guides if master else (), job.pages[index].guides if index >= 0 else ()
    guides = [*((guide, index < 0) for guide in below), *((guide, True) for guide in above)]
    area = job.master_area(master, side)
    lines: dict[str, Any] = {
        "w": width,
        "h": height,
        "area": _box(area),
        "rows": brief.rows,
        "rowGutter": brief.row_gutter,
        "columns": (master.columns if master else None) or brief.columns,
        "gutter": master.gutter if master and master.gutter is not None else brief.gutter,
        "guides": [_guide(job, g, own) for g, own in guides if g.side in ("both", side)],
    }
    if index >= 0:
        lines["overlays"] = [
            {
                "id": o.id,
                "name": o.name,
                "x": (width - o.width) / 2,
                "y": (height - o.height) / 2,
                "w": o.width,
                "h": o.height,
                "opacity": o.opacity,
            }
            for o in job.overlays.values()
            if o.page in (None, job.pages[index].id)
        ]
    if brief.form is not None and index >= 0:
        along, folds = folds_of(brief, job.papers, index)
        code = bar_code_area(brief, job.papers) if index == 0 else None
        lines |= {
            "fold": along,
            "folds": folds,
            "code": _box(code) if code else None,
            "panels": [
                {
                    **_box(p.rect),
                    "name": p.name,
                    "turn": p.turn,
                    "safe": _box(safe_area(p, brief.safe) or p.rect),
                    "spine": p.is_spine,
                    "bears": safe_area(p, brief.safe) is not None,
                }
                for p in panels_of(brief, job.papers, index)
            ],
        }
    return lines


def _guide(job: Job, guide: Guide, own: bool) -> dict[str, Any]:
    """``own`` can be moved there; ``colour`` is its layer's; ``seen`` and ``held`` say that its layer is shown, and
    locked."""
    row: dict[str, Any] = {"axis": guide.axis, "at": guide.at, "side": guide.side, "own": own}
    layer = job.layers.get(guide.layer or "")
    if layer is not None:
        row |= {"layer": layer.id, "colour": layer.colour, "seen": layer.visible, "held": layer.locked}
    return row


def state(live: OpenJob, user: Any = None) -> dict[str, Any]:
    """Return what changes with every edit, apart from the pages: revision, page count, what undo would undo for
    somebody."""
    back, forward = live.history(user) if live.editable_by(user) else ("", "")
    settling = {"settling": True} if live.workspace.pending else {"waiting": count_at_once(live.workspace.composition)}
    return {"revision": live.revision, "count": len(live.job.pages), "undo": back, "redo": forward, **settling}


def sheet(job: Job) -> dict[str, Any]:
    """Return what all pages of the board share: unit, facing, bleed, baseline grid. Points."""
    b = job.brief
    return {
        "width": b.width,
        "height": b.height,
        "unit": b.unit,
        "size": lengths.size(b.width, b.height, b.unit),
        "facing": b.facing,
        "folded": b.form is not None,
        "bleed": {"head": b.bleed.head, "foot": b.bleed.foot, "inner": b.bleed.inner, "outer": b.bleed.outer},
        "grid": {"start": b.grid_start, "step": b.grid_step},
        "squares": asdict(b.page_grid) if b.page_grid else None,
        "points": lengths.POINTS[b.unit],
        "decimals": lengths.DECIMALS[b.unit],
    }


def note_kinds(live: OpenJob) -> list[dict[str, Any]]:
    """The kinds of notes with the number of notes in each, followed by the ready-made kinds."""
    counted = Counter(
        cited.kind.id for key in live.job.stories for cited in live.workspace.composition.notes.numbers(key).values()
    )
    kinds = list(live.job.note_kinds.values()) or [FOOTNOTES] * bool(counted)
    ready = [kind for kind in first_kinds(live.job, {END, SIDE}) if kind.id in (END, SIDE)]
    rows = [asdict(kind) | {"uses": counted[kind.id], "ready": False} for kind in kinds]
    return rows + [asdict(kind) | {"uses": 0, "ready": True} for kind in ready]


def lists(live: OpenJob) -> dict[str, Any]:
    """Return the choices of the board: master pages, standing copy, styles; and the numbers of all pages."""
    job, values = live.job, live.workspace.composition.values.labels
    return {
        "labels": live.workspace.composition.values.labels,
        "ids": [page.id for page in job.pages],
        "families": families_of(job),
        "fonts": list(job.fonts),
        "masters": [
            {"id": m.id, "name": m.name, "count": sum(p.master == m.id for p in job.pages)}
            for m in job.masters.values()
        ],
        "layers": [asdict(layer) for layer in job.layers.values()],
        "copies": [{"id": c.id, "name": c.name, "text": c.text, "uses": uses(job, c.id)} for c in job.copies.values()],
        "tables": list(job.tables),
        "noteKinds": note_kinds(live),
        "tableStyles": [
            asdict(one) | {"uses": sum(t.style == one.id for t in job.tables.values())}
            for one in job.table_styles.values()
        ],
        "styles": [{"id": s.id, "name": s.name, "level": s.level} for s in job.paragraph_styles.values()],
        "characterStyles": [{"id": s.id, "name": s.name} for s in job.character_styles.values()],
        "frameStyles": [{"id": s.id, "name": s.name} for s in job.frame_styles.values()],
        "ruleStyles": [{"id": s.id, "name": s.name} for s in job.rule_styles.values()],
        "pictures": contact_sheet(job, live.workspace.composition.has_file),
        "swatches": swatches(job),
        "inkSets": ink_sets(job),
        "sectionStarts": [
            [page.id, values[index], page.section.name] for index, page in enumerate(job.pages) if page.section
        ],
    }
