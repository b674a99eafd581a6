"""Older formats brought up: one function a step, for files, rows and the log of edits alike.

A step works on JSON values and is kept for ever, with the golden files of its format (tests/golden). It trusts nothing: what
does not look as it should it leaves alone, for the reader behind it to refuse.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

Step = Callable[[dict[str, Any]], dict[str, Any]]

CONTROLS = re.compile("[\x00-\x08\x0a-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]")
LEAST = 4.0
"""Points: a frame's least width and height."""
BODY = {"id": "body", "name": "Body"}
CHAINED = ("paragraph_styles", "character_styles", "frame_styles", "rule_styles", "masters")


def upgraded(data: dict[str, Any], written: int) -> dict[str, Any]:
    """A job's JSON values, written in format ``written``, in the present one."""
    for step, _ in STEPS[written - 1 :]:
        data = step(data)
    return {**data, "format": len(STEPS) + 1}


def upgraded_edits(edits: list[dict[str, Any]], written: int) -> list[dict[str, Any]]:
    """The same for logged edits."""
    for _, step in STEPS[written - 1 :]:
        edits = [step(edit) for edit in edits]
    return edits


# 1 to 2: what nothing could be set in is refused from now on. Frames that a changed set-up had folded over get the least
# size, controls in words become spaces (places in them stay), every job has a style to set text in, what is based on something that is
# gone stands by itself.


def _frame(frame: Any) -> Any:
    rect = frame.get("rect") if isinstance(frame, dict) else None
    if not isinstance(rect, dict):
        return frame
    sizes = {
        side: LEAST for side in ("width", "height") if isinstance(rect.get(side), (int, float)) and rect[side] <= 0
    }
    return {**frame, "rect": {**rect, **sizes}} if sizes else frame


def _frames(holder: Any, *names: str) -> Any:
    if not isinstance(holder, dict):
        return holder
    return {
        **holder,
        **{name: [_frame(f) for f in holder[name]] for name in names if isinstance(holder.get(name), list)},
    }


def _words(entry: Any, *names: str) -> Any:
    if not isinstance(entry, dict):
        return entry
    return {
        **entry, **{name: CONTROLS.sub(" ", entry[name]) for name in names if isinstance(entry.get(name), str)},
    }  # fmt: skip


def _story(story: Any) -> Any:
    story = _words(story, "name")
    if isinstance(story, dict) and isinstance(story.get("paragraphs"), list):
        story = {**story, "paragraphs": [_words(p, "text") for p in story["paragraphs"]]}
    return story


def _entry(table: str, entry: Any) -> Any:
    if table == "stories":
        return _story(entry)
    if table == "masters":
        entry = _frames(entry, "recto", "verso")
    return _words(entry, "name", "text") if table == "copies" else _words(entry, "name")


def _job_2(data: dict[str, Any]) -> dict[str, Any]:
    made: dict[str, Any] = _words(data, "name")
    for name, table in data.items():
        if isinstance(table, dict) and name != "brief":
            made[name] = {key: _entry(name, entry) for key, entry in table.items()}
    for name in CHAINED:
        table = made.get(name)
        if not isinstance(table, dict):
            continue
        for key, entry in list(table.items()):
            links = ("based_on", "next") if name == "paragraph_styles" else ("based_on",)
            gone = [
                link
                for link in links
                if isinstance(entry, dict) and isinstance(entry.get(link), str) and entry[link] not in table
            ]
            if gone:
                made[name][key] = {k: v for k, v in entry.items() if k not in gone}
    if isinstance(made.get("pages"), list):
        made["pages"] = [_frames(page, "frames") for page in made["pages"]]
    styles = made.get("paragraph_styles") or {}
    if isinstance(styles, dict) and not styles:
        made["paragraph_styles"] = {"body": BODY}
    return made


def _edit_2(edit: dict[str, Any]) -> dict[str, Any]:
    op = edit.get("op")
    if op == "splice-pages" and isinstance(edit.get("insert"), list):
        return {**edit, "insert": [_frames(page, "frames") for page in edit["insert"]]}
    if op == "splice-paragraphs" and isinstance(edit.get("insert"), list):
        return {**edit, "insert": [_words(p, "text") for p in edit["insert"]]}
    if op == "put-entry" and isinstance(edit.get("value"), dict):
        return {**edit, "value": _entry(str(edit.get("table")), edit["value"])}
    named: dict[str, Any] = _words(edit, "name") if op == "set-name" else edit
    return named


STEPS: tuple[tuple[Step, Step], ...] = ((_job_2, _edit_2),)
"""For a job and for an edit: the step at index 0 leads from format 1 to 2, and so on."""
