"""The objects that a person has selected, with their holders."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from lexigon.core.job.edits import EditError
from lexigon.core.job.model import Object, found_in


@dataclass(slots=True, frozen=True)
class Chosen:
    """An object on a page, on a master's half by ``master:<id>:recto`` or ``:verso``, or in a text by ``inlays``."""

    page: str
    id: str
    inner: bool = False
    """It itself is meant, where else the group it is in would be."""


def by_holder(objects: Sequence[Chosen]) -> list[tuple[str, list[str]]]:
    """The objects by where they stand, in the order said."""
    found: dict[str, list[str]] = {}
    for one in objects:
        found.setdefault(one.page, []).append(one.id)
    return list(found.items())


def outermost(objects: Iterable[Object], key: str) -> Object:
    """An object, or the outermost group it is in. Raises EditError where it stands on the master page, or is gone."""
    found = next((one for one in objects if found_in((one,), key)), None)
    if found is None:
        raise EditError("Part of the selection belongs to the master page or was deleted. Override it first.")
    return found
