"""The command about notes: the kinds a job keeps them in, where these stand, how they are counted."""

from __future__ import annotations

import argparse
import json
from collections import Counter
from dataclasses import asdict
from pathlib import Path

from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.job import package
from lexigon.core.job.intents import PutNoteKind
from lexigon.core.job.intents.notekinds import END, SIDE, first_kinds
from lexigon.core.job.keptnotes import FOOTNOTES
from lexigon.core.job.model import NoteKind
from lexigon.core.job.serial import plain, read
from lexigon.outfile import write_job

PLACES = {"foot": "at the foot of the column", "margin": "in the margin", "gathered": "gathered by a listing"}


def notes(options: argparse.Namespace) -> int:
    """Tell the kinds of notes with how many there are; change one, or take one that is ready."""
    place = Path(options.job)
    data = place.read_bytes()
    desk = Desk(package.read(data))
    if options.set:
        desk.do(PutNoteKind(_changed(desk, options.kind, options.set)))
    counts = Counter(
        cited.kind.id for key in desk.job.stories for cited in desk.composition.notes.numbers(key).values()
    )
    kinds = list(desk.job.note_kinds.values()) or [FOOTNOTES] * bool(counts)
    if options.json:
        print(json.dumps([asdict(kind) | {"notes": counts[kind.id]} for kind in kinds], indent=2, ensure_ascii=False))
    for kind in kinds if not options.json else ():
        print(f"{kind.name} ({kind.id}): {counts[kind.id]} notes, {PLACES[kind.place]}, {_numbers(kind)}")
    if options.set:
        target = Path(options.output or options.job)
        write_job(target, desk.job, package.read_files(data))
        print(f"{target}: written")
    return 0


def _numbers(kind: NoteKind) -> str:
    if kind.signs == "none":
        return "without numbers"
    counted = {"text": "through the text", "page": "anew on each page", "heading": f"anew behind each {kind.heading}"}
    return f"{kind.signs}, counted {counted[kind.counted]}"


def _changed(desk: Desk, key: str, said: list[str]) -> NoteKind:
    """A kind with the values that were said, each as ``name=value``. Raises LexigonError."""
    ready = {one.id: one for one in (*first_kinds(desk.job, {END, SIDE}), *desk.job.note_kinds.values())}
    kind = ready.get(key) or NoteKind(key, key)
    values = plain(kind)
    for one in said:
        name, sign, value = one.partition("=")
        if not sign:
            raise LexigonError(f"“{one}” is not of the form name=value, such as signs=*.", "set")
        known = getattr(kind, name, None)
        if isinstance(known, bool):
            values[name] = value in ("yes", "true", "1")
        elif isinstance(known, (int, float)):
            try:
                values[name] = type(known)(float(value))
            except ValueError:
                raise LexigonError(f"“{value}” is no number.", "set") from None
        else:
            values[name] = value
    return read(NoteKind, values)
