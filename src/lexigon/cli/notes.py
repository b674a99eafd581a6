"""``lexigon notes``: the kinds of notes of a job, their positions and numbering."""

from __future__ import annotations

import argparse
import json
from collections import Counter
from collections.abc import Iterable
from dataclasses import asdict

from lexigon.cli.jobs import open_job, save_job
from lexigon.cli.options import REPEATABLE, add_json, add_output
from lexigon.core.document.default_notes import FOOTNOTES
from lexigon.core.document.model import Job, NoteKind
from lexigon.core.editing.intents import PutNoteKind
from lexigon.core.editing.intents.text.note_kinds import END, SIDE, first_kinds
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain, read

PLACES = {"foot": "at the foot of the column", "margin": "in the margin", "gathered": "gathered by a listing"}

DESCRIPTION = "List the kinds of notes with their position and numbering, or change one."
EXAMPLES = ("lexigon notes guide.lexigon", "lexigon notes guide.lexigon --kind foot --set counted=page --set signs=*")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument(
        "--kind", default="foot", help="the kind to change: foot, side, end, or one of yours (default: %(default)s)"
    )
    parser.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="NAME=VALUE",
        help=f"such as signs=*, counted=page, place=margin, divided=yes; {REPEATABLE}",
    )
    add_json(parser)
    add_output(parser)


def run(options: argparse.Namespace) -> int:
    """List the kinds of notes with the number of notes in each; change one, or add a ready-made one."""
    workspace = open_job(options.job)
    if options.set:
        workspace.do(PutNoteKind(_with_values(workspace.job, options.kind, options.set)))
    counts = Counter(
        cited.kind.id for key in workspace.job.stories for cited in workspace.composition.notes.numbers(key).values()
    )
    kinds = list(workspace.job.note_kinds.values()) or [FOOTNOTES] * bool(counts)
    if options.json:
        print(json.dumps([asdict(kind) | {"notes": counts[kind.id]} for kind in kinds], indent=2, ensure_ascii=False))
    else:
        for kind in kinds:
            print(f"{kind.name} ({kind.id}): {counts[kind.id]} notes, {PLACES[kind.place]}, {_numbering(kind)}")
    if options.set:
        print(f"{save_job(workspace, options)}: written")
    return 0


def _numbering(kind: NoteKind) -> str:
    if kind.signs == "none":
        return "without numbers"
    restart = {"text": "throughout", "page": "from 1 on each page", "heading": f"from 1 after each {kind.heading}"}
    return f"{kind.signs}, numbered {restart[kind.counted]}"


def _with_values(job: Job, key: str, assignments: Iterable[str]) -> NoteKind:
    """A kind of note with other values, each given as ``name=value``. Raises LexigonError."""
    kinds = {one.id: one for one in (*first_kinds(job, {END, SIDE}), *job.note_kinds.values())}
    kind = kinds.get(key) or NoteKind(key, key)
    values = plain(kind)
    for assignment in assignments:
        name, separator, value = assignment.partition("=")
        if not separator:
            raise LexigonError(f"“{assignment}” is not of the form name=value, such as signs=*.", "set")
        present = getattr(kind, name, None)
        if isinstance(present, bool):
            values[name] = value in ("yes", "true", "1")
        elif isinstance(present, (int, float)):
            try:
                values[name] = type(present)(float(value))
            except ValueError:
                raise LexigonError(f"“{value}” is not a number.", "set") from None
        else:
            values[name] = value
    changed: NoteKind = read(NoteKind, values)
    return changed
