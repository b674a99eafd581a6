"""The press profiles that ship with Lexigon (how they were built: build-profiles.sh beside this file)."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path


@dataclass(slots=True, frozen=True)
class Profile:
    """A printing condition: its ICC profile and the identifier printers know it by."""

    id: str
    name: str
    condition: str
    """Output condition identifier of the characterisation registry."""
    file: str
    most_ink: float
    """All inks together that this paper takes and dries, 1 for one full ink, as printers ask for (common practice, no
    source)."""

    @property
    def path(self) -> Path:
        return Path(__file__).with_name(self.file)

    def data(self) -> bytes:
        return _read(self.path)


@cache
def _read(path: Path) -> bytes:
    return path.read_bytes()


COATED = Profile("coated", "Coated offset", "FOGRA39", "lexigon-coated-offset.icc", 3.3)
UNCOATED = Profile("uncoated", "Uncoated offset", "FOGRA29", "lexigon-uncoated-offset.icc", 3.0)
PROFILES = {profile.id: profile for profile in (COATED, UNCOATED)}
"""Identifiers as in the registry at www.color.org (from memory)."""
