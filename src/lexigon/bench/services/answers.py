"""What the board is answered after a change: the pages that differ, the caret, the ids of new objects, and how places
are to be moved."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from lexigon.bench.forms import ChangeForm
from lexigon.bench.services import changes, showing, spreads
from lexigon.bench.services.jobs import OpenJob, plain_shifts
from lexigon.core.colour.profiles import Profile
from lexigon.core.editing.intents import Intent
from lexigon.core.errors import LexigonError
from lexigon.core.flow.workspace import Change


def answer_intents(
    live: OpenJob, user: Any, form: ChangeForm, intents_of: Callable[[], Sequence[Intent]], proof: Profile | None
) -> dict[str, Any]:
    """Carry out what a request wants as one change, and return what the client's view looks like then.

    A request that was carried out before, whose answer was lost, is only answered. Raises Stale and LexigonError as
    ``OpenJob.do`` does.
    """
    base = live.revision if form.base is None else form.base
    if (done := live.change_named(form.token)) is not None:
        return _answer_again(live, user, form, list(intents_of()), base, done, proof)
    intents = list(intents_of())
    if not intents:
        raise LexigonError("There was nothing to change.")
    others, behind = base < live.revision, 0

    def note_place(intent: Intent) -> None:
        """Count the characters after the caret, in the text just before the intent changes it."""
        nonlocal behind
        behind = showing.text_behind(live.job, intent) if isinstance(intent, showing.TYPED) else 0

    last = intents[-1]
    change = live.do(intents, user, base=base, group=form.group, token=form.token, near=form.view, before=note_place)
    caret = showing.caret_after(live, last, change, behind) if isinstance(last, showing.Moving) else None
    view = showing.view_for(live, list(form.view), caret, spreads=form.spreads)
    return {
        **_view(live, user, form, view, caret, proof),
        "made": _new_objects(change),
        "shifts": live.moves(change, form.painted),
        **_choices(live, change, whole=others),
    }


def _answer_again(
    live: OpenJob, user: Any, form: ChangeForm, intents: list[Intent], base: int, done: Change, proof: Profile | None
) -> dict[str, Any]:
    caret = showing.caret_again(live, intents[-1], done) if intents else None
    view = showing.view_for(live, list(form.view), caret, spreads=form.spreads)
    return {
        **_view(live, user, form, view, caret, proof, whole=True),
        "made": _new_objects(done),
        "shifts": plain_shifts(live.shifts_since(intents, base, form.token)),
    }


def answer_step(
    live: OpenJob, user: Any, form: ChangeForm, change: Change | None, proof: Profile | None
) -> dict[str, Any]:
    """Return what the client's view looks like after an undo or a redo; ``change`` is None where there was nothing to
    undo or redo."""
    caret = showing.caret_at_change(live, change) if change else None
    page = changes.page_of_change(live.workspace.composition, change.edits) if change else None
    view = showing.view_for(live, list(form.view), caret, page, form.spreads)
    return {
        **_view(live, user, form, view, caret, proof),
        "label": change.label if change else "",
        "shifts": live.moves(change, False) if change else [],
        **_choices(live, change),
    }


def _view(
    live: OpenJob,
    user: Any,
    form: ChangeForm,
    view: list[int],
    caret: dict[str, Any] | None,
    proof: Profile | None,
    *,
    whole: bool = False,
) -> dict[str, Any]:
    """Return the state of the job and the pages in view: those that the client does not have yet, all with
    ``whole``."""
    painted = None if whole else {index: version for index, version in form.have.items() if version}
    pages = spreads.painted(live, view, painted, form.master, proof=proof, record=form.record)
    return {**spreads.state(live, user), "view": view, "pages": pages, "caret": caret}


def _new_objects(change: Change) -> list[str]:
    return sorted(changes.object_ids(change.edits) - changes.object_ids(change.inverse))


def _choices(live: OpenJob, change: Change | None, *, whole: bool = False) -> dict[str, Any]:
    """Return the lists of choices and the set-up, as far as a change may have altered them; all with ``whole``."""
    choices: dict[str, Any] = {}
    both = (*change.edits, *change.inverse) if change else ()
    if whole or changes.changes_choices(live.job, both):
        choices["lists"] = spreads.lists(live)
    if whole or changes.changes_sheet(both):
        choices["sheet"] = spreads.sheet(live.job)
    return choices
