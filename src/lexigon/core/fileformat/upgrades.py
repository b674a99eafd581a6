"""Upgrading older formats: one function a step, for files, rows and the log of edits alike.

A step works on JSON values and stays for ever, with the golden files of its format (tests/golden). It trusts nothing:
it leaves alone what does not have the expected form, and the reader refuses it afterwards.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from itertools import groupby
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


# 1 to 2: what nothing could be set in is refused from now on. Frames that a changed set-up had folded over get the
# least
# size, controls in words become spaces (places in them stay), every job has a style to set text in, what is based on
# something that is
# gone is removed.


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
        **entry,
        **{name: CONTROLS.sub(" ", entry[name]) for name in names if isinstance(entry.get(name), str)},
    }


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
    result: dict[str, Any] = _words(data, "name")
    for name, table in data.items():
        if isinstance(table, dict) and name != "brief":
            result[name] = {key: _entry(name, entry) for key, entry in table.items()}
    for name in CHAINED:
        table = result.get(name)
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
                result[name][key] = {k: v for k, v in entry.items() if k not in gone}
    if isinstance(result.get("pages"), list):
        result["pages"] = [_frames(page, "frames") for page in result["pages"]]
    styles = result.get("paragraph_styles") or {}
    if isinstance(styles, dict) and not styles:
        result["paragraph_styles"] = {"body": BODY}
    return result


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


# 2 to 3: frames are objects with a place and a content. Consecutive frames of the same ``group`` become a group;
# splices of frames in logs continue to count what is not a group (edits.SpliceLeaves), as they were written.

_MAKE = (
    "columns",
    "gutter",
    "column_rule",
    "balanced",
    "insets",
    "vertical",
    "stretch",
    "first",
    "first_at",
    "fill",
    "stroke",
    "wrap",
    "passes",
)


def _object(frame: Any) -> Any:
    if not isinstance(frame, dict):
        return frame
    own = dict(frame)
    result: dict[str, Any] = {}
    for name in ("id", "name", "outline", "style", "hide_on", "origin", "alt"):
        if name in own:
            result[name] = own.pop(name)
    rect, rotation = own.pop("rect", None), own.pop("rotation", 0)
    if rect is not None:
        result["place"] = {"rect": rect, **({"rotation": rotation} if rotation else {})}
    elif rotation:
        result["place"] = {"rotation": rotation}  # nothing says where: refused by the reader
    values = {name: own.pop(name) for name in _MAKE if name in own}
    if isinstance(insets := values.get("insets"), (int, float)) and not isinstance(insets, bool):
        values["insets"] = [insets] * 4
    if values := {name: value for name, value in values.items() if value is not None}:
        result["make"] = values
    kind, role, story = own.pop("kind", "text"), own.pop("role", ""), own.pop("story", None)
    text = {name: own.pop(name) for name in ("turn", "fit", "fit_sizes") if name in own}
    own.pop("group", None)
    if kind not in ("text", "shape") or role not in ("", "main"):
        own |= {"kind": kind, "role": role}  # unknown names: refused by the reader
    if kind == "text" or story is not None or role == "main":
        content = {"story": story} if story is not None else {}
        result["content"] = {"kind": "text", **content, **({"main": True} if role == "main" else {}), **text}
    return result | own


def _objects(frames: Any) -> Any:
    """Convert frames to objects; consecutive ones of one group become a group."""
    if not isinstance(frames, list):
        return frames
    result: list[Any] = []
    for name, row in groupby(frames, key=lambda frame: frame.get("group") if isinstance(frame, dict) else None):
        own = [_object(frame) for frame in row]
        if isinstance(name, str) and len(own) > 1 and all(isinstance(one.get("id"), str) for one in own):
            key = f"u{own[0]['id']}"[:24]
            result.append({"id": key, "name": "Group", "content": {"kind": "group", "objects": own}})
        else:
            result += own
    return result


def _objects_of(holder: Any, *names: tuple[str, str]) -> Any:
    """A page or a master with its lists of frames, by their old and new names, as lists of objects."""
    if not isinstance(holder, dict):
        return holder
    result = dict(holder)
    for old, new in names:
        if old in result:
            result[new] = _objects(result.pop(old))
    return result


def _job_3(data: dict[str, Any]) -> dict[str, Any]:
    result = {**data, "layers": {"main": {"id": "main", "name": "Main layer"}}}
    if isinstance(result.get("pages"), list):
        result["pages"] = [_objects_of(page, ("frames", "objects")) for page in result["pages"]]
    if isinstance(result.get("masters"), dict):
        result["masters"] = {
            key: _objects_of(master, ("recto", "recto"), ("verso", "verso"))
            for key, master in result["masters"].items()
        }
    return result


def _edit_3(edit: dict[str, Any]) -> dict[str, Any]:
    op = edit.get("op")
    if op == "splice-frames":
        return {**edit, "op": "splice-leaves", "insert": _objects(edit.get("insert", []))}
    if op == "splice-pages" and isinstance(edit.get("insert"), list):
        return {**edit, "insert": [_objects_of(page, ("frames", "objects")) for page in edit["insert"]]}
    if op == "put-entry" and edit.get("table") == "masters":
        return {**edit, "value": _objects_of(edit.get("value"), ("recto", "recto"), ("verso", "verso"))}
    return edit


# 3 to 4: objects in a story have one form, be it written out or a note or a frame: the ``field`` of a span is its
# ``object``. A paragraph style's place in the structure is its ``level``.


def _spans(paragraphs: Any) -> Any:
    if not isinstance(paragraphs, list):
        return paragraphs
    return [
        {**p, "spans": [_renamed(span, "field", "object") for span in p["spans"]]}
        if isinstance(p, dict) and isinstance(p.get("spans"), list)
        else p
        for p in paragraphs
    ]


def _renamed(values: Any, old: str, new: str) -> Any:
    if not isinstance(values, dict) or old not in values:
        return values
    return {new if name == old else name: value for name, value in values.items()}


def _story_4(story: Any) -> Any:
    if not isinstance(story, dict) or "paragraphs" not in story:
        return story
    return {**story, "paragraphs": _spans(story["paragraphs"])}


def _style_4(style: Any) -> Any:
    return _renamed(style, "outline", "level")


def _job_4(data: dict[str, Any]) -> dict[str, Any]:
    result = dict(data)
    for name, step in (("stories", _story_4), ("paragraph_styles", _style_4)):
        if isinstance(table := data.get(name), dict):
            result[name] = {key: step(entry) for key, entry in table.items()}
    return result


def _edit_4(edit: dict[str, Any]) -> dict[str, Any]:
    op = edit.get("op")
    if op == "splice-paragraphs" and "insert" in edit:
        return {**edit, "insert": _spans(edit["insert"])}
    if op == "put-entry" and edit.get("table") == "stories" and "value" in edit:
        return {**edit, "value": _story_4(edit["value"])}
    if op == "put-entry" and edit.get("table") == "paragraph_styles" and "value" in edit:
        return {**edit, "value": _style_4(edit["value"])}
    return edit


# 4 to 5: lines have ends, corners and a side; objects an opacity and a way of mixing; corners of boxes a kind. Nothing
# has another
# name; what format 4 wrote says none of it.


def _unchanged(data: dict[str, Any]) -> dict[str, Any]:
    return data


# 5 to 6: swatches have groups, and are tints or for all plates; guides a layer, pages an order of reading, the job a
# page grid. Nothing has
# another name; what format 5 wrote says none of it.


# 6 to 7: pictures are adjusted and say more of themselves; more kinds of codes; text keeps clear of a picture's
# contour; ink sets and their
# roles, swatches in grey and Lab. Nothing has another name; what format 6 wrote says none of it.

# 7 to 8: gradients have midpoints, and a direction set by hand on what they fill; tables in stories. No key is renamed;
# format 7 has none of these.

# 8 to 9: rules that mark text up, and words that a job knows. Nothing has another name; what format 8 wrote says none
# of it.


# 9 to 10: listings, references and entries in stories. No key is renamed; format 9 has none of these.


# 10 to 11: kinds of notes, styles of tables. Nothing has another name; what format 10 wrote says none of it.


# 11 to 12: groups have a rotation, jobs may be posters. Nothing has another name; what format 11 wrote says none of it.

# 12 to 13: entries of a glossary have explanations, figures float, captions are kept with what is above them. No key is
# renamed; format 12 has none of these.

# 13 to 14: record sets, fields that objects, pages and stories show of them, adjustments for single records. No key is
# renamed; format 13 has none of these.

# 14 to 15: the heading of a group may be shown again on each page; findings of the checks are accepted with reasons. No
# key is renamed; format 14 has neither.


STEPS: tuple[tuple[Step, Step], ...] = (
    (_job_2, _edit_2),
    (_job_3, _edit_3),
    (_job_4, _edit_4),
    (_unchanged, _unchanged),
    (_unchanged, _unchanged),
    (_unchanged, _unchanged),
    (_unchanged, _unchanged),
    (_unchanged, _unchanged),
    (_unchanged, _unchanged),
    (_unchanged, _unchanged),
    (_unchanged, _unchanged),
    (_unchanged, _unchanged),
    (_unchanged, _unchanged),
    (_unchanged, _unchanged),
)
"""For a job and for an edit: the step at index 0 leads from format 1 to 2, and so on."""
