"""The keys by which edits name what holds objects: a page's id, one half of a master page, or the stories."""

from __future__ import annotations

from lexigon.core.document.model import Side

INLAYS = "inlays"
"""The key of the holder of anchored frames."""


def master_half(holder: str) -> tuple[str, Side] | None:
    """Return the master page and the side that a holder's key names; None for a page's."""
    kind, _, rest = holder.partition(":")
    master, _, side = rest.rpartition(":")
    return (master, side) if kind == "master" and side in ("recto", "verso") else None  # type: ignore[return-value]
