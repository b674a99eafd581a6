"""A spec line edited in place: which parts were changed, and which were deleted and return to their default."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Any

from lexigon.core.document.cascade import ROOT_FRAME, ROOT_PARA, ROOT_TYPE
from lexigon.core.spec.rules import Names, SpecReading

STAY = frozenset({"family", "size", "leading", "leading_times"})
"""Values that every text has: they stay unchanged if their phrase is deleted."""
PLAIN_CHANGES: dict[str, Any] = {
    "outline": "box",
    "rotation": 0.0,
    "skew": 0.0,
    "along": "",
    "along_from": 0.0,
    "mirrored": False,
    "fit": "none",
    "fit_sizes": (4.0, 400.0),
}


def revised(before: SpecReading, after: SpecReading, names: Names) -> SpecReading:
    """Return what turns the setting that one line writes into that of another.

    Phrases in both do nothing; the values of deleted phrases return to their defaults and are named in ``reset``.
    """
    roots = {"type": replace(ROOT_TYPE, language=names.language or None), "para": ROOT_PARA, "frame": ROOT_FRAME}
    out = replace(after, changes={}, patches={}, descriptions=[], touched=[])
    changed: set[str] = set()
    reset: set[str] = set()
    for spec, root in roots.items():
        old, new = getattr(before, spec), getattr(after, spec)
        values: dict[str, Any] = {}
        for name in (f.name for f in fields(new)):
            was, is_ = getattr(old, name), getattr(new, name)
            values[name] = None if is_ == was else is_
            if is_ is None and was is not None and name not in STAY:
                values[name] = getattr(root, name)
                reset.add(name)
        changed |= {name for name, value in values.items() if value is not None}
        setattr(out, spec, type(new)(**values))
    for name in {*before.changes, *after.changes}:
        if name not in after.changes and name in PLAIN_CHANGES:
            out.changes[name] = PLAIN_CHANGES[name]
            reset.add(name)
        elif before.changes.get(name) != after.changes.get(name):
            out.changes[name] = after.changes[name]
    changed |= set(out.changes)
    out.reset = frozenset(reset)
    for description, touched in zip(after.descriptions, after.touched, strict=True):
        if not touched or touched & changed:
            _say(out, description, touched)
    for description, touched in zip(before.descriptions, before.touched, strict=True):
        if touched & reset and description not in after.descriptions:
            _say(out, f"no longer {description}", touched)
    return out


def _say(out: SpecReading, description: str, touched: frozenset[str]) -> None:
    out.descriptions.append(description)
    out.touched.append(touched)
