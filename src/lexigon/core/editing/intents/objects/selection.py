"""The objects that a person has selected, with their holders."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from lexigon.core.document.model import Object, find_object
from lexigon.core.editing.edits import EditError


@dataclass(slots=True, frozen=True)
class Chosen:
    """An object of a page, of a side of a master page by ``master:<id>:recto`` or ``:verso``, or an anchored one by
    ``inlays``."""

    page: str
    id: str
    inner: bool = False
    """It itself is meant, where else the group it is in would be."""


def by_holder(objects: Sequence[Chosen]) -> list[tuple[str, list[str]]]:
    """The objects by where they stand, in the order said."""
    by_key: dict[str, list[str]] = {}
    for one in objects:
        by_key.setdefault(one.page, []).append(one.id)
    return list(by_key.items())


def outermost(objects: Iterable[Object], key: str) -> Object:
    """An object, or the outermost group that contains it. Raises EditError if it belongs to the master page, or is
    missing."""
    found_object = next((one for one in objects if find_object((one,), key)), None)
    if found_object is None:
        raise EditError("Part of the selection belongs to the master page or was deleted. Override it first.")
    return found_object
