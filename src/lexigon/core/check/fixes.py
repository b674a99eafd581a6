"""What a finding's fix does: the fixes that take one step, by their names, as intents for the job as it is now."""

from __future__ import annotations

from collections.abc import Callable

from lexigon.core.brief import binding
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.widths import scaled_to_columns, too_wide
from lexigon.core.job.intents import AddPages, Intent


def intents_for(fix: str, composition: Composition) -> list[Intent]:
    """The intents of a fix; none where nothing is left to be put right, or for a name that is none."""
    build = _FIXES.get(fix)
    return build(composition) if build else []


def _scale(composition: Composition) -> list[Intent]:
    return [scaled_to_columns(composition)] if too_wide(composition) else []


def _fill_up(composition: Composition) -> list[Intent]:
    """Blank pages at the end, up to a count that the binding can make."""
    pages = len(composition.job.pages)
    missing = binding.count(composition.job.brief.binding, pages).next - pages
    return [AddPages(pages, missing)] if missing > 0 else []


_FIXES: dict[str, Callable[[Composition], list[Intent]]] = {"scale to column": _scale, "add blank pages": _fill_up}
