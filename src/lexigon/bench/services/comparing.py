"""Comparing a former state of a job with its present one: which pages correspond, and which of them differ."""

from __future__ import annotations

import threading
import weakref
from collections import OrderedDict
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

from django.utils import timezone

from lexigon.bench.services import rows
from lexigon.bench.services.files import Files
from lexigon.bench.services.pictures import addresses
from lexigon.core.document.model import Job
from lexigon.core.document.spreads import spread_of
from lexigon.core.flow.workspace import Workspace
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of
from lexigon.core.type.line_cache import line_cache

MOST_STATES = 3
"""The number of former states that stay composed."""


@dataclass(slots=True, weakref_slot=True)
class State:
    """A job at one revision, composed; its pages are painted when they are asked for."""

    key: str
    workspace: Workspace
    drawings: dict[int, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        weakref.finalize(self, self.workspace.composition.let_go).atexit = False

    @property
    def job(self) -> Job:
        return self.workspace.job

    def drawing(self, index: int) -> str:
        """A page as SVG content."""
        if index not in self.drawings:
            self.drawings[index] = svg_of(Display(self.workspace.composition).page(index).items(), addresses(self.key))
        return self.drawings[index]

    def spread(self, index: int) -> list[dict[str, Any]]:
        """The pages of the spread that a page is on, to be shown side by side. Points."""
        labels = self.workspace.composition.values.labels
        pages = []
        for at in spread_of(self.job, index):
            width, height = self.job.page_size(at)
            pages.append({"index": at, "label": labels[at], "w": width, "h": height, "svg": self.drawing(at)})
        return pages


_states: OrderedDict[tuple[str, int], State] = OrderedDict()
_guard = threading.Lock()


def at_revision(key: str, revision: int) -> State:
    """The job at a former revision. Composing a long job takes a moment; the last few results are cached."""
    with _guard:
        if (key, revision) in _states:
            _states.move_to_end((key, revision))
            return _states[key, revision]
    with line_cache(key):
        state = State(key, Workspace(rows.load_at(key, revision), Files(key).path_of, today=timezone.localdate()))
    with _guard:
        _states[key, revision] = state
        while len(_states) > MOST_STATES:
            _states.popitem(last=False)
    return state


Pair = tuple[int | None, int | None]


def pairs(old: Iterable[str], new: Iterable[str]) -> list[Pair]:
    """Return the pairs of pages to compare, by their ids: the index before and after, None for a deleted or new page.
    They are in the order of the present pages; a deleted page follows the page that it followed before."""
    before, after = {key: at for at, key in enumerate(old)}, {key: at for at, key in enumerate(new)}
    result: list[Pair] = [(before.get(key), at) for key, at in after.items()]
    for key, at in before.items():
        if key not in after:
            place = max((n for n, (was, _) in enumerate(result) if was is not None and was < at), default=-1)
            result.insert(place + 1, (at, None))
    return result


def changed(old: State, new: State) -> list[dict[str, Any]]:
    """The pages that differ: ``how`` is "changed", "new" or "gone"."""
    changes = []
    for was, now in pairs((page.id for page in old.job.pages), (page.id for page in new.job.pages)):
        if was is None and now is not None:
            changes.append(
                {"how": "new", "page": now, "old": None, "label": new.workspace.composition.values.labels[now]}
            )
        elif now is None and was is not None:
            changes.append(
                {"how": "gone", "page": None, "old": was, "label": old.workspace.composition.values.labels[was]}
            )
        elif (
            was is not None
            and now is not None
            and (old.job.page_size(was) != new.job.page_size(now) or old.drawing(was) != new.drawing(now))
        ):
            changes.append(
                {"how": "changed", "page": now, "old": was, "label": new.workspace.composition.values.labels[now]}
            )
    return changes
