"""A job as it was beside the job as it is: which pages stand against each other, and which of them look otherwise."""

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
from lexigon.core.flow.desk import Desk
from lexigon.core.job.model import Job
from lexigon.core.job.spreads import spread_of
from lexigon.core.paint.display import Display
from lexigon.core.paint.svg import svg_of

KEPT = 3
"""Past states that are kept composed."""


@dataclass(slots=True, weakref_slot=True)
class State:
    """A job at one revision, composed; its pages are painted when they are asked for."""

    key: str
    desk: Desk
    drawings: dict[int, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        weakref.finalize(self, self.desk.composition.let_go).atexit = False

    @property
    def job(self) -> Job:
        return self.desk.job

    def drawing(self, index: int) -> str:
        """A page as SVG content."""
        if index not in self.drawings:
            self.drawings[index] = svg_of(Display(self.desk.composition).page(index).items(), addresses(self.key))
        return self.drawings[index]

    def spread(self, index: int) -> list[dict[str, Any]]:
        """The pages of the spread that a page is on, to be shown side by side. Points."""
        labels = self.desk.composition.values.labels
        pages = []
        for at in spread_of(self.job, index):
            width, height = self.job.page_size(at)
            pages.append({"index": at, "label": labels[at], "w": width, "h": height, "svg": self.drawing(at)})
        return pages


_states: OrderedDict[tuple[str, int], State] = OrderedDict()
_guard = threading.Lock()


def at_revision(key: str, revision: int) -> State:
    """The job as it was at a revision. Composing a long one takes a moment; the last few are kept."""
    with _guard:
        if (key, revision) in _states:
            _states.move_to_end((key, revision))
            return _states[key, revision]
    made = State(key, Desk(rows.load_at(key, revision), Files(key).path_of, today=timezone.localdate()))
    with _guard:
        _states[key, revision] = made
        while len(_states) > KEPT:
            _states.popitem(last=False)
    return made


Pair = tuple[int | None, int | None]


def pairs(old: Iterable[str], new: Iterable[str]) -> list[Pair]:
    """Return the pairs of pages to compare, by their ids: the index before and after, None where there was or is none. In the order of
    the new pages; one that went stands behind the page that it stood behind."""
    before, after = {key: at for at, key in enumerate(old)}, {key: at for at, key in enumerate(new)}
    made: list[Pair] = [(before.get(key), at) for key, at in after.items()]
    for key, at in before.items():
        if key not in after:
            place = max((n for n, (was, _) in enumerate(made) if was is not None and was < at), default=-1)
            made.insert(place + 1, (at, None))
    return made


def changed(old: State, new: State) -> list[dict[str, Any]]:
    """The pages that look otherwise: ``how`` is "changed", "new" or "gone"."""
    found = []
    for was, now in pairs((page.id for page in old.job.pages), (page.id for page in new.job.pages)):
        if was is None and now is not None:
            found.append({"how": "new", "page": now, "old": None, "label": new.desk.composition.values.labels[now]})
        elif now is None and was is not None:
            found.append({"how": "gone", "page": None, "old": was, "label": old.desk.composition.values.labels[was]})
        elif (
            was is not None
            and now is not None
            and (old.job.page_size(was) != new.job.page_size(now) or old.drawing(was) != new.drawing(now))
        ):
            found.append({"how": "changed", "page": now, "old": was, "label": new.desk.composition.values.labels[now]})
    return found
