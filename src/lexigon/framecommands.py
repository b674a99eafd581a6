"""The command about frames that are tied to texts: where they stand, and that they stand elsewhere."""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.job import package
from lexigon.core.job.anchoring import anchored
from lexigon.core.job.celltexts import text_of
from lexigon.core.job.intents import SetInlayPlace
from lexigon.outfile import write_job

PLACES = {"line": "", "above": "above", "near": "near", "margin": "margin"}
"""Words for where a frame stands, and what an anchor's form says of it."""
TOLD = {"": "in its line", "above": "right above its line", "near": "near its line", "margin": "in the margin"}


def frames(options: argparse.Namespace) -> int:
    """List the anchored frames of a job; ``--place`` moves those that it names."""
    place = Path(options.job)
    data = place.read_bytes()
    desk = Desk(package.read(data))
    known = list(_told(desk))
    wanted = [_said(one, known) for one in options.place]
    for key, form in wanted:
        desk.do(SetInlayPlace(key, form))  # type: ignore[arg-type]
    if wanted:
        target = Path(options.output or options.job)
        write_job(target, desk.job, package.read_files(data))
        print(f"{target}: written")
        return 0
    if options.json:
        print(json.dumps(known, indent=2, ensure_ascii=False))
    for one in known if not options.json else ():
        page = f"page {one['page']}" if one["page"] else "no page yet"
        print(f"{one['name']} ({one['id']}): {TOLD[one['stands']]}, {page}, at “{one['words']}”")
    return 0


def _told(desk: Desk) -> Iterator[dict[str, Any]]:
    """Each frame that stands in a text, as it is read: its id, name, where it stands, on which page, and the words before it."""
    composition = desk.composition
    hosts = anchored(desk.job)
    for key, inlay in desk.job.inlays.items():
        if key not in hosts:
            continue  # its place in the text was deleted: nothing shows it
        story, paragraph = hosts[key]
        text = text_of(desk.job, story)
        assert text is not None
        p = next(one for one in text.paragraphs if one.id == paragraph)
        span = next(one for one in p.spans if one.object is not None and one.object.ref == key)
        assert span.object is not None
        page = composition.where.page_of_afloat(key)
        page = composition.page_of(story, paragraph, span.start) if page is None else page
        label = "" if page is None else composition.values.labels[page]
        words = " ".join(p.text[: span.start].replace("\ufffc", "").split()[-6:])
        yield {"id": key, "name": inlay.name, "stands": span.object.form, "page": label, "words": words}


def _said(one: str, known: list[dict[str, Any]]) -> tuple[str, str]:
    """A frame by its id or its name, and where it is to stand, from ``NAME=PLACE``."""
    name, sign, place = one.rpartition("=")
    if not sign or place not in PLACES:
        raise LexigonError(f"“{one}” is not of the form NAME=PLACE, the place one of {', '.join(PLACES)}.")
    found = [frame["id"] for frame in known if name in (frame["id"], frame["name"])]
    if not found:
        raise LexigonError(f"There is no frame “{name}” in a story of the job.")
    if len(found) > 1:
        raise LexigonError(f"{len(found)} frames are called “{name}”: name the one that is meant by its id.")
    return found[0], PLACES[place]
