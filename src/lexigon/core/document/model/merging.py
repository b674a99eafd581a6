"""Specs laid over each other."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import fields, replace
from functools import cache
from typing import Any, TypeVar, cast

from lexigon.core.document.model.formatting import ParaSpec, TypeSpec
from lexigon.core.document.model.frames import FrameSpec
from lexigon.core.document.model.surface import Stroke

Spec = TypeVar("Spec", TypeSpec, ParaSpec, FrameSpec, Stroke)


@cache
def _names(kind: Hashable) -> tuple[str, ...]:
    return tuple(one.name for one in fields(cast(Any, kind)))


def combined(below: Spec, above: Spec | None) -> Spec:
    """``below`` with every value that ``above`` sets."""
    if above is None:
        return below
    changes = {
        name: value for name in _names(cast(Hashable, type(above))) if (value := getattr(above, name)) is not None
    }
    return replace(below, **changes) if changes else below


def without(own: Spec, values: Spec | None, below: Spec) -> Spec:
    """``own`` less each value that ``values`` gives and that ``below`` gives as well."""
    if values is None:
        return own
    same = [
        f.name
        for f in fields(values)
        if getattr(values, f.name) is not None and getattr(own, f.name) == getattr(below, f.name)
    ]
    return replace(own, **dict.fromkeys(same)) if same else own
