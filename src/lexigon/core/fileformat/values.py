"""Values of the model as JSON: written from the dataclasses, read through pydantic.

``read`` validates everything that comes from outside: bounds are the model's own types (``document/limits.py``),
unknown names are refused with the nearest known one. How the parts of a job depend on each other is checked by
``document/consistency.py``."""

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

from lexigon.core.document.model import Code, Cover, Fold, Group, Job, Object, Picture, Text
from lexigon.core.errors import FormError
from lexigon.core.numerals import integer

ALWAYS: dict[type, tuple[str, ...]] = {
    Job: ("format",),
    Cover: ("kind",),
    Fold: ("kind",),
    Text: ("kind",),
    Picture: ("kind",),
    Code: ("kind",),
    Group: ("kind",),
}
"""Values that are written even at their default, because readers need them to recognise the kind of data."""

DEEPEST = 40
"""Levels of lists and objects within each other; no form has half as many."""
_SURROGATES = re.compile("[\ud800-\udfff]")


@cache
def adapter(cls: Any) -> TypeAdapter[Any]:
    """The validator of a model class (pydantic builds it once). What it does not know it refuses, as it does numbers
    that are none."""
    for inner in _parts(cls):
        setattr(inner, "__pydantic_config__", ConfigDict(extra="forbid", allow_inf_nan=False))  # noqa: B010
    return TypeAdapter(cls)


@cache
def _parts(cls: Any) -> frozenset[type]:
    """The dataclasses a type is made of, itself included."""
    classes: set[type] = set()
    left = [cls]
    while left:
        at = left.pop()
        if isinstance(at, type) and is_dataclass(at):
            if at not in classes:
                classes.add(at)
                left += get_type_hints(at, include_extras=True).values()
        else:
            left += get_args(at)
    return frozenset(classes)


@cache
def _layout(cls: Hashable) -> tuple[tuple[str, Any, bool], ...] | None:
    """The fields of a dataclass with their defaults, and whether one is written though it is at that; None for other
    types."""
    if not isinstance(cls, type) or not is_dataclass(cls):
        return None
    always = ALWAYS.get(cls, ())
    return tuple((item.name, item.default, item.name in always) for item in fields(cls))


def plain(value: Any) -> Any:
    """Dataclasses as plain JSON values; what is unset or at its default is left out."""
    return _plain(value, None)


_WRITTEN: dict[int, tuple[Object, Any]] = {}
MOST_WRITTEN = 5000


def shared(value: Any) -> Any:
    """The same for values that are written at once and not changed by anybody. Results for objects are cached: an edit
    inserts what the next one, or its undo, removes, and it is written three times."""
    if len(_WRITTEN) > MOST_WRITTEN:
        _WRITTEN.clear()
    return _plain(value, _WRITTEN)


def _plain(value: Any, cache: dict[int, tuple[Object, Any]] | None) -> Any:
    kind: Any = type(value)
    if kind is str or kind is int or kind is bool or value is None:
        return value
    if kind is float:
        return (
            int(value) if value.is_integer() else value
        )  # one way to write a number, so that equal jobs have equal files
    if kind is tuple or kind is list:
        return [_plain(inner, cache) for inner in value]
    if kind is dict:
        return {key: _plain(inner, cache) for key, inner in value.items()}
    layout = _layout(kind)
    if layout is None:
        return value
    if kind is Object and cache is not None and (cached := cache.get(id(value))) is not None and cached[0] is value:
        return cached[1]
    result = {}
    for name, default, always in layout:
        inner = getattr(value, name)
        if inner is not None and (always or inner != default):
            result[name] = _plain(inner, cache)
    if kind is Object and cache is not None:
        cache[id(value)] = (value, result)
    return result


def read(cls: Any, data: Any) -> Any:
    """Validate JSON values as an instance of ``cls``. Raises FormError naming the place and what is wrong."""
    try:
        return adapter(cls).validate_python(data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise FormError(_error_message(cls, first), field=".".join(map(str, first["loc"]))[:200]) from error


def passed(value: Any) -> Any:
    """A model value that was put together here, read once more as one from outside would be. Raises FormError."""
    return read(type(value), plain(value))


def _error_message(cls: Any, error: Any) -> str:
    """Return what pydantic found, in one plain line."""
    kind, place, context = error["type"], [str(part)[:40] for part in error["loc"]], error.get("ctx", {})
    where = f" (at {' > '.join(place)})" if place else ""
    if kind in ("limit", "value_error"):  # has words of its own; in a file the place is needed, too
        return f"{context['error'] if kind == 'value_error' else error['msg']}{where if cls is Job else ''}"
    if kind == "unexpected_keyword_argument":
        names = {item.name for part in _parts(cls) for item in fields(part)}
        near = get_close_matches(place[-1], names, 1)
        where = f" (at {' > '.join(place[:-1])})" if place[:-1] else ""
        return f"“{place[-1]}” is not a known name{f'; “{near[0]}” is' if near else ''}{where}."
    if kind in ("missing", "missing_argument"):
        return f"“{place[-1] if place else 'A value'}” is missing{where}."
    if kind in ("too_long", "too_short"):
        bound = context.get("max_length", context.get("min_length"))
        return f"There are {'more' if kind == 'too_long' else 'fewer'} than {integer(bound)} entries{where}."
    if kind in ("literal_error", "union_tag_invalid"):
        given_value = str(error.get("input"))[:40] if kind == "literal_error" else str(context.get("tag"))[:40]
        return f"“{given_value}” is none of {context.get('expected', context.get('expected_tags', ''))}{where}."
    for given_value, words in _KINDS.items():
        if kind.startswith(given_value):
            return f"There should be {words}{where}."
    return f"{error['msg'].replace('Input should be', 'This should be')}{where}."


_KINDS = {
    "float": "a number",
    "int": "a whole number",
    "bool": "true or false",
    "string": "a text",
    "tuple": "a list",
    "list": "a list",
    "dict": "an object with names and values",
    "dataclass": "an object with names and values",
    "finite": "a number",
    "none": "nothing",
}
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


def check_specs(*specs: Any) -> None:
    """Check settings (TypeSpec, ParaSpec, Stroke and others) against their limits; ``None`` is skipped. Raises
    FormError."""
    for spec in specs:
        if spec is not None:
            passed(spec)
