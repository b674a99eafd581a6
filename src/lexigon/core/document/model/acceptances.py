"""Findings of the checks that somebody accepted."""

from __future__ import annotations

from dataclasses import dataclass

from lexigon.core.document.limits import Key, Name, Note


@dataclass(slots=True, frozen=True)
class Acceptance:
    """A finding that is all right as it is, with the reason. It counts as long as neither the finding nor what it is
    about changes."""

    id: Key
    kind: Name
    """The kind of finding (``core.check.kinds``)."""
    mark: Key
    """The digest of the finding and of what it is about (``core.check.acceptance``)."""
    text: Note
    """What the finding said."""
    reason: Note

    @property
    def name(self) -> str:
        """Return what it is listed as: the kind of the finding."""
        return self.kind
