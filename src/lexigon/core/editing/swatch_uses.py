"""Uses of swatches, and their replacement: in every part of a job that has a field called ``swatch``."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import fields, is_dataclass, replace
from typing import Any, TypeVar

from lexigon.core.document.model import Job, all_in
from lexigon.core.editing.holders import everywhere

Value = TypeVar("Value")
STYLES = {
    "paragraph_styles": "paragraph",
    "character_styles": "character",
    "frame_styles": "frame",
    "rule_styles": "rule",
}


def recoloured(value: Value, old: str, new: str) -> Value:
    """The value with one swatch in the place of another, however deep; the value itself where it is in none of it."""
    replaced: Any = value
    if is_dataclass(value) and not isinstance(value, type):
        changes = {}
        for name in (field.name for field in fields(value)):
            was = getattr(value, name)
            now = (new if was == old else was) if name == "swatch" else recoloured(was, old, new)
            if now is not was:
                changes[name] = now
        replaced = replace(value, **changes) if changes else value
    elif isinstance(value, tuple) and value and not isinstance(value[0], (int, float, str)):
        items = tuple(recoloured(item, old, new) for item in value)
        replaced = items if any(now is not was for now, was in zip(items, value, strict=True)) else value
    result: Value = replaced
    return result


def exchanged(value: Value, pairs: Mapping[str, str]) -> Value:
    """The value with some swatches in the place of others, all at once: two may change places."""
    for number, old in enumerate(pairs):
        value = recoloured(value, old, f"new {number}")
    for number, new in enumerate(pairs.values()):
        value = recoloured(value, f"new {number}", new)
    return value


def swatches_in(value: Any) -> Iterator[str]:
    """The swatches that a value names, as often as it does."""
    if is_dataclass(value) and not isinstance(value, type):
        for name in (field.name for field in fields(value)):
            inner = getattr(value, name)
            if name == "swatch":
                if inner:
                    yield inner
            else:
                yield from swatches_in(inner)
    elif isinstance(value, tuple) and value and not isinstance(value[0], (int, float, str)):
        for item in value:
            yield from swatches_in(item)


def swatch_uses(job: Job, swatch: str) -> Iterator[tuple[str, str, int]]:
    """Return where a swatch is used: (``swatch``, ``ink set``, ``style:<kind>``, page or story; swatch, style,
    object or paragraph; text offset).
    First in other swatches, ink sets and in styles, then on pages, then in stories."""
    for other in job.swatches.values():
        if _has((other.gradient, other.base), swatch):
            yield "swatch", other.id, 0
    for ink_set in job.ink_sets.values():
        if _has(ink_set, swatch):
            yield "ink set", ink_set.id, 0
    yield from (("table style", key, 0) for key, table_style in job.table_styles.items() if _has(table_style, swatch))
    yield from (("table", key, 0) for key, table in job.tables.items() if _has(table, swatch))
    for name, kind in STYLES.items():
        for style in getattr(job, name).values():
            if _has(style, swatch):
                yield f"style:{kind}", style.id, 0
    for holder, objects in everywhere(job):
        for one in all_in(objects):
            own = replace(one, content=None) if one.group is not None else one
            if _has(own, swatch):
                yield holder, one.id, 0
    for story in job.stories.values():
        for paragraph in story.paragraphs:
            if _has((paragraph.type, paragraph.para), swatch):
                yield story.id, paragraph.id, 0
            for span in paragraph.spans:
                if _has(span.type, swatch):
                    yield story.id, paragraph.id, span.start


def _has(value: Any, swatch: str) -> bool:
    return recoloured(value, swatch, f"not {swatch}") is not value
