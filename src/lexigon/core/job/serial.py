"""The job's JSON form: written from the dataclasses, read through pydantic, published as a JSON Schema.

``read`` is the gate that every form passes: bounds are the model's own types (``limits.py``), names that are not known are
refused with the nearest known one. What binds the parts of a job together is checked by ``checks.py``.
"""

from __future__ import annotations

import json
import math
import re
from collections.abc import Hashable
from dataclasses import fields, is_dataclass
from difflib import get_close_matches
from functools import cache
from typing import Any, get_args, get_type_hints

from pydantic import ConfigDict, TypeAdapter, ValidationError

from lexigon.core.errors import LexigonError
from lexigon.core.job.model import FORMAT, Code, Cover, Fold, Group, Job, Object, Picture, Text
from lexigon.core.job.upgrades import upgraded


class FormError(LexigonError):
    """Data that is not a job, or not one this version reads."""


ALWAYS: dict[type, tuple[str, ...]] = {
    Job: ("format",),
    Cover: ("kind",),
    Fold: ("kind",),
    Text: ("kind",),
    Picture: ("kind",),
    Code: ("kind",),
    Group: ("kind",),
}
"""Values that are written even at their default, because readers tell by them what they have before them."""

DEEPEST = 40
"""Levels of lists and objects within each other; no form has half as many."""
_SURROGATES = re.compile("[\ud800-\udfff]")


@cache
def adapter(cls: Any) -> TypeAdapter[Any]:
    """The validator of a model class (pydantic builds it once). What it does not know it refuses, as it does numbers that
    are none."""
    for inner in _parts(cls):
        setattr(inner, "__pydantic_config__", ConfigDict(extra="forbid", allow_inf_nan=False))  # noqa: B010
    return TypeAdapter(cls)


@cache
def _parts(cls: Any) -> frozenset[type]:
    """The dataclasses a type is made of, itself included."""
    found: set[type] = set()
    left = [cls]
    while left:
        at = left.pop()
        if isinstance(at, type) and is_dataclass(at):
            if at not in found:
                found.add(at)
                left += get_type_hints(at, include_extras=True).values()
        else:
            left += get_args(at)
    return frozenset(found)


@cache
def _layout(cls: Hashable) -> tuple[tuple[str, Any, bool], ...] | None:
    """The fields of a dataclass with their defaults, and whether one is written though it is at that; None for other types."""
    if not isinstance(cls, type) or not is_dataclass(cls):
        return None
    always = ALWAYS.get(cls, ())
    return tuple((item.name, item.default, item.name in always) for item in fields(cls))


def plain(value: Any) -> Any:
    """Dataclasses as plain JSON values; what is unset or at its default is left out."""
    return _plain(value, None)


_KNOWN: dict[int, tuple[Object, Any]] = {}
MOST_KNOWN = 5000


def shared(value: Any) -> Any:
    """The same for what is written out at once and changed by nobody. Objects are remembered: what an edit puts in is what the next
    one, or its undo, takes out, and is written three times."""
    if len(_KNOWN) > MOST_KNOWN:
        _KNOWN.clear()
    return _plain(value, _KNOWN)


def _plain(value: Any, known: dict[int, tuple[Object, Any]] | None) -> Any:
    kind: Any = type(value)
    if kind is str or kind is int or kind is bool or value is None:
        return value
    if kind is float:
        return (
            int(value) if value.is_integer() else value
        )  # one way to write a number, so that equal jobs have equal files
    if kind is tuple or kind is list:
        return [_plain(inner, known) for inner in value]
    if kind is dict:
        return {key: _plain(inner, known) for key, inner in value.items()}
    layout = _layout(kind)
    if layout is None:
        return value
    if kind is Object and known is not None and (found := known.get(id(value))) is not None and found[0] is value:
        return found[1]
    result = {}
    for name, default, always in layout:
        inner = getattr(value, name)
        if inner is not None and (always or inner != default):
            result[name] = _plain(inner, known)
    if kind is Object and known is not None:
        known[id(value)] = (value, result)
    return result


def read(cls: Any, data: Any) -> Any:
    """Validate JSON values as an instance of ``cls``. Raises FormError naming the place and what is wrong."""
    try:
        return adapter(cls).validate_python(data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise FormError(_told(cls, first), field=".".join(map(str, first["loc"]))[:200]) from error


def passed(value: Any) -> Any:
    """A model value that was put together here, read once more as one from outside would be. Raises FormError."""
    return read(type(value), plain(value))


def _told(cls: Any, error: Any) -> str:
    """Return what pydantic found, in one plain line."""
    kind, place, context = error["type"], [str(part)[:40] for part in error["loc"]], error.get("ctx", {})
    where = f" (at {' > '.join(place)})" if place else ""
    if kind in ("limit", "value_error"):  # said in words of their own; in a file the place is needed too
        return f"{context['error'] if kind == 'value_error' else error['msg']}{where if cls is Job else ''}"
    if kind == "unexpected_keyword_argument":
        known = {item.name for part in _parts(cls) for item in fields(part)}
        near = get_close_matches(place[-1], known, 1)
        where = f" (at {' > '.join(place[:-1])})" if place[:-1] else ""
        return f"“{place[-1]}” is not a known name{f'; “{near[0]}” is' if near else ''}{where}."
    if kind in ("missing", "missing_argument"):
        return f"“{place[-1] if place else 'A value'}” is missing{where}."
    if kind in ("too_long", "too_short"):
        bound = context.get("max_length", context.get("min_length"))
        return f"There are {'more' if kind == 'too_long' else 'fewer'} than {bound:,} entries{where}."
    if kind in ("literal_error", "union_tag_invalid"):
        said = str(error.get("input"))[:40] if kind == "literal_error" else str(context.get("tag"))[:40]
        return f"“{said}” is none of {context.get('expected', context.get('expected_tags', ''))}{where}."
    for said, words in _KINDS.items():
        if kind.startswith(said):
            return f"There should be {words}{where}."
    return f"{error['msg'].replace('Input should be', 'This should be')}{where}."


_KINDS = {
    "float": "a number", "int": "a whole number", "bool": "true or false", "string": "a text", "tuple": "a list", "list": "a list",
    "dict": "an object with names and values", "dataclass": "an object with names and values", "finite": "a number",
    "none": "nothing",
}  # fmt: skip
"""What pydantic's kinds of error, by how their names begin, found missing."""


def parsed(text: str | bytes, what: str) -> Any:
    """JSON from outside. Raises FormError for what is none, is nested too deep, or holds what no form can."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise FormError(f"{what} is not valid JSON.") from error
    level = [data]
    for _ in range(DEEPEST):
        below: list[Any] = []
        for value in level:
            if isinstance(value, dict):
                below += value.values()
                below += value.keys()
            elif isinstance(value, list):
                below += value
            elif isinstance(value, str):
                if not value.isascii() and _SURROGATES.search(value):
                    raise FormError(f"{what} holds halves of characters (lone surrogates).")
            elif isinstance(value, float) and not math.isfinite(value):
                raise FormError(f"{what} holds a number that is not finite.")
        if not below:
            return data
        level = below
    raise FormError(f"{what} is nested too deeply.")


def job_to_json(job: Job) -> str:
    return json.dumps(plain(job), ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def job_from_json(text: str | bytes) -> Job:
    """Read a job. Raises FormError for anything that is not one, or is newer than this version."""
    return job_from_plain(parsed(text, "The file's job.json"))


def job_from_plain(data: Any) -> Job:
    """Read a job of any format up to this one from JSON values, and check what binds its parts together."""
    from lexigon.core.job.checks import check  # it stands above: it knows edits and holders

    if not isinstance(data, dict):
        raise FormError("The file's job.json does not hold a job.")
    written = data.get("format", 1)
    if isinstance(written, bool) or not isinstance(written, int) or written < 1:
        raise FormError("The file's job.json does not say which format it has.")
    if written > FORMAT:
        raise FormError(f"This job was written by a newer Lexigon (format {written}, this one reads {FORMAT}).")
    job: Job = read(Job, upgraded(data, written))
    check(job)
    return job


def schema() -> dict[str, Any]:
    """The JSON Schema of job.json (draft 2020-12)."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **adapter(Job).json_schema()}
