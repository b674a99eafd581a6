"""Specs laid over each other."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import fields, replace
from functools import cache
from typing import Any, TypeVar, cast

from lexigon.core.job.model.frames import FrameSpec
from lexigon.core.job.model.setting import ParaSpec, TypeSpec
from lexigon.core.job.model.surface import Stroke

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


def without(own: Spec, said: Spec | None, below: Spec) -> Spec:
    """``own`` less each value that ``said`` gives and that ``below`` gives as well."""
    if said is None:
        return own
    same = [
        f.name
        for f in fields(said)
        if getattr(said, f.name) is not None and getattr(own, f.name) == getattr(below, f.name)
    ]
    return replace(own, **dict.fromkeys(same)) if same else own
