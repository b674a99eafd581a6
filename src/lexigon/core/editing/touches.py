"""The parts of a job that edits touch: what each primitive edit declares of itself, and what everything reads that
follows edits.

Rows, checks, composition, versions of pages, conflicts, history and the board ask an edit for its touches and never for
its type. A new kind of part is a class here; mypy then names every place that has to handle it (``assert_never``).
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass
from typing import Any, Literal, Protocol, Union

from lexigon.core.document.cell_stories import table_of
from lexigon.core.document.holder_keys import master_half
from lexigon.core.document.model import Object, Page, Paragraph, Side
from lexigon.core.document.registry import Reach


@dataclass(slots=True, frozen=True)
class ParagraphsTouch:
    """``remove`` paragraphs at ``at`` of a story, or of a cell of a table, became ``insert``."""

    story: str
    at: int
    remove: int
    insert: tuple[Paragraph, ...] = ()

    @property
    def table(self) -> str:
        """Return the id of the table if the text is that of one of its cells, else an empty string."""
        return table_of(self.story)


@dataclass(slots=True, frozen=True)
class StoryFramesTouch:
    """The frames through which a story flows changed, or their order."""

    story: str


@dataclass(slots=True, frozen=True)
class PagesTouch:
    """``remove`` pages at ``at`` became ``insert``, whole with their objects."""

    at: int
    remove: int
    insert: tuple[Page, ...] = ()


@dataclass(slots=True, frozen=True)
class PageTouch:
    """A page's own values changed: all of them but its objects, or only its guides or reading order."""

    page: str
    part: Literal["values", "guides", "reading"] = "values"


@dataclass(slots=True, frozen=True)
class ObjectsTouch:
    """Objects of a page, or of one half of a master page, were replaced by ``insert``. ``in_place`` says that as many
    came as went, ``within`` names the group whose members they are."""

    holder: str
    insert: tuple[Object, ...] = ()
    in_place: bool = False
    within: str | None = None

    @property
    def half(self) -> tuple[str, Side] | None:
        """Return the master page and its side, None for objects of a page."""
        return master_half(self.holder)


@dataclass(slots=True, frozen=True)
class EntryTouch:
    """An entry of a table (style, swatch, master page, story …) was added, changed or, without a ``value``, deleted.

    ``value`` is its JSON form where the edit knows it. ``order`` says that the places of other entries may
    have changed.
    """

    table: str
    key: str
    value: dict[str, Any] | None = None
    order: bool = False
    part: Literal["whole", "guides"] = "whole"


@dataclass(slots=True, frozen=True)
class ValueTouch:
    """A value of the job itself changed; ``field`` is its name in ``Job``, ``part`` the part of it that did."""

    field: Literal["brief", "name", "kind", "main_story"]
    part: Literal["whole", "page_grid"] = "whole"


Touch = Union[ParagraphsTouch, StoryFramesTouch, PagesTouch, PageTouch, ObjectsTouch, EntryTouch, ValueTouch]


class Edit(Protocol):
    """What everything that follows edits may ask of one."""

    @property
    def reach(self) -> Reach: ...
    def touches(self) -> tuple[Touch, ...]: ...


def touches_of(edits: Iterable[Edit]) -> Iterator[Touch]:
    """Iterate over everything that edits touch."""
    for edit in edits:
        yield from edit.touches()


def only_entries(edit: Edit, tables: Collection[str]) -> bool:
    """Return whether an edit touches nothing but entries of some tables."""
    return all(isinstance(touch, EntryTouch) and touch.table in tables for touch in edit.touches())


def paragraph_touches(edits: Iterable[Edit]) -> Iterator[ParagraphsTouch]:
    """Iterate over the changes of paragraphs alone."""
    return (touch for touch in touches_of(edits) if isinstance(touch, ParagraphsTouch))
