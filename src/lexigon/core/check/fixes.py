"""The fixes that findings offer, by name, as intents for the job in its present state."""

from __future__ import annotations

from collections.abc import Callable

from lexigon.core.brief import binding
from lexigon.core.check.edges import IN_SAFE_ZONE, ON_PAGE, moved_within
from lexigon.core.editing.intents import AddPages, Intent
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.wide_frames import scaled_to_columns, too_wide


def intents_for(fix: str, composition: Composition) -> list[Intent]:
    """The intents that carry out a fix; an empty list if nothing is left to correct, or if there is no such fix."""
    build = _FIXES.get(fix)
    return build(composition) if build else []


def _scale(composition: Composition) -> list[Intent]:
    return [scaled_to_columns(composition)] if too_wide(composition) else []


def _fill_up(composition: Composition) -> list[Intent]:
    """Blank pages at the end, up to a count that the binding can make."""
    pages = len(composition.job.pages)
    missing = binding.count(composition.job.brief.binding, pages).next - pages
    return [AddPages(pages, missing)] if missing > 0 else []


_FIXES: dict[str, Callable[[Composition], list[Intent]]] = {
    "scale to column": _scale,
    "add blank pages": _fill_up,
    ON_PAGE: lambda composition: list(moved_within(composition, safe=False)),
    IN_SAFE_ZONE: lambda composition: list(moved_within(composition, safe=True)),
}
