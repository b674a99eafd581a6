"""``lexigon frames``: list and move anchored frames."""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterator
from typing import Any

from lexigon.cli.jobs import open_job, save_job
from lexigon.cli.options import REPEATABLE, add_json, add_output
from lexigon.core.document.anchors import anchored
from lexigon.core.document.cell_stories import text_of
from lexigon.core.editing.intents import SetInlayPlace
from lexigon.core.errors import LexigonError
from lexigon.core.flow.workspace import Workspace

POSITIONS = {"line": "", "above": "above", "near": "near", "margin": "margin"}
"""The words for positions, and the form of the anchor for each."""
DESCRIPTIONS = {"": "in its line", "above": "above its line", "near": "near its line", "margin": "in the margin"}

EXAMPLES = ("lexigon frames guide.lexigon", "lexigon frames guide.lexigon --place 'Tide curve=margin'")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument(
        "--place",
        "--stand",
        action="append",
        default=[],
        metavar="FRAME=POSITION",
        help=f"line, above, near or margin, for a frame by its name or id; {REPEATABLE}",
    )
    add_json(parser)
    add_output(parser)


def run(options: argparse.Namespace) -> int:
    """List the anchored frames of a job; ``--place`` moves those that it names."""
    workspace = open_job(options.job)
    frames = list(_anchored_frames(workspace))
    moves = [_parse_move(one, frames) for one in options.place]
    for key, form in moves:
        workspace.do(SetInlayPlace(key, form))  # type: ignore[arg-type]
    if moves:
        print(f"{save_job(workspace, options)}: written")
    elif options.json:
        print(json.dumps(frames, indent=2, ensure_ascii=False))
    else:
        for one in frames:
            page = f"page {one['page']}" if one["page"] else "no page yet"
            print(f"{one['name']} ({one['id']}): {DESCRIPTIONS[one['stands']]}, {page}, at “{one['words']}”")
    return 0


def _anchored_frames(workspace: Workspace) -> Iterator[dict[str, Any]]:
    """Anchored frames in reading order: id, name, position, page, and the words before the anchor."""
    composition = workspace.composition
    hosts = anchored(workspace.job)
    for key, inlay in workspace.job.inlays.items():
        if key not in hosts:
            continue  # its anchor was deleted: nothing shows it
        story, paragraph = hosts[key]
        text = text_of(workspace.job, story)
        assert text is not None
        p = next(one for one in text.paragraphs if one.id == paragraph)
        span = next(one for one in p.spans if one.object is not None and one.object.ref == key)
        assert span.object is not None
        page = composition.where.page_of_afloat(key)
        page = composition.page_of(story, paragraph, span.start) if page is None else page
        label = "" if page is None else composition.values.labels[page]
        words = " ".join(p.text[: span.start].replace("\ufffc", "").split()[-6:])
        yield {"id": key, "name": inlay.name, "stands": span.object.form, "page": label, "words": words}


def _parse_move(text: str, frames: list[dict[str, Any]]) -> tuple[str, str]:
    """``NAME=POSITION`` as the id of a frame and the form of its anchor. Raises LexigonError."""
    name, separator, position = text.rpartition("=")
    if not separator or position not in POSITIONS:
        raise LexigonError(f"“{text}” is not of the form NAME=POSITION, with one of {', '.join(POSITIONS)}.")
    ids = [frame["id"] for frame in frames if name in (frame["id"], frame["name"])]
    if not ids:
        raise LexigonError(f"There is no anchored frame “{name}” in the job.")
    if len(ids) > 1:
        raise LexigonError(f"{len(ids)} frames are called “{name}”. Use the id of one of them instead.")
    return ids[0], POSITIONS[position]
