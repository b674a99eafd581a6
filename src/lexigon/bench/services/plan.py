"""The flatplan as data: every spread, its sections, masters, stories and printer's sheets."""

from __future__ import annotations

from typing import Any

from lexigon.bench.services import miniatures
from lexigon.bench.services.jobs import OpenJob
from lexigon.bench.services.spreads import state
from lexigon.core.brief import binding
from lexigon.core.document.model import Anchor, Job, frames_in
from lexigon.core.document.page_ranges import page_words
from lexigon.core.document.spreads import spreads
from lexigon.core.document.story_text import count_words
from lexigon.core.flow.overset import overset_of
from lexigon.core.lengths import show


def plan(live: OpenJob) -> dict[str, Any]:
    """Everything the flatplan shows. Page numbers are as written, indexes count from 0."""
    job, composition = live.job, live.workspace.composition
    names = miniatures.signatures(composition)
    labels = composition.values.labels
    title = composition.running.title
    pages = [
        {
            "id": page.id,
            "index": index,
            "label": labels[index],
            "picture": names[index],
            "master": page.master or "",
            "chapter": title(Anchor("heading"), index),
            "filler": page.filler,
            "shown": page.number_shown,
            "wide": job.page_size(index)[0] > job.page_size(index)[1],
            "section": _section(page.section) if page.section else None,
        }
        for index, page in enumerate(job.pages)
    ]
    main = job.stories.get(job.main_story or "")
    report = binding.count(job.brief.binding, len(job.pages), coming=main is not None)
    return {
        **state(live),
        "key": live.key,
        "ratio": job.brief.width / job.brief.height,
        "facing": job.brief.facing,
        "pages": pages,
        "spreads": spreads(job),
        "words": count_words(main.paragraphs) if main else 0,
        "masters": [
            {
                "id": m.id,
                "name": m.name,
                "colour": m.colour,
                "based": m.based_on or "",
                "count": sum(p.master == m.id for p in job.pages),
                "shows": [f.name or "a frame" for f in frames_in(m.recto) if not f.main],
                "on": page_words([i for i, p in enumerate(job.pages) if p.master == m.id]),
            }
            for m in job.masters.values()
        ],
        "stories": _stories(live),
        "binding": {"ok": report.ok, "why": report.why},
        "sheets": _sheets(job),
    }


def _section(section: Any) -> dict[str, Any]:
    return {
        "name": section.name,
        "start": section.start,
        "style": section.style,
        "prefix": section.prefix,
        "opens": section.opens,
    }


def _stories(live: OpenJob) -> list[dict[str, Any]]:
    stories = []
    for key, flow in live.workspace.composition.flows.items():
        story = live.job.stories[key]
        pages = [column.slot.page for column in flow.columns if column.blocks]
        if not pages:
            continue
        over = overset_of(flow)
        stories.append(
            {"id": key, "name": story.name, "pages": list(dict.fromkeys(pages)), "overset": over.short if over else ""}
        )
    return stories


def _sheets(job: Job) -> dict[str, Any]:
    """Return for each page, by index: its sheet, the page beside it and its creep; and the signatures."""
    paper = job.papers.get(job.brief.paper or "")
    pairs: dict[int, dict[str, Any]] = {}
    for pair in binding.booklet(len(job.pages), paper):
        for own, mate in ((pair.left, pair.right), (pair.right, pair.left)):
            if own is not None:
                pairs[own - 1] = {
                    "sheet": pair.sheet,
                    "face": pair.face,
                    "mate": mate - 1 if mate else None,
                    "creep": show(pair.creep, "mm"),
                }
    return {"pairs": [pairs[i] for i in range(len(job.pages))], "known": paper is not None}
