"""The version of the engine that sets type, for caches: another version may set other lines."""

from __future__ import annotations

import sys
import unicodedata
from functools import cache
from hashlib import blake2b
from importlib.util import find_spec
from pathlib import Path

import uharfbuzz as hb

from lexigon.core.document import cascade, story_text

LIBRARIES = ("uharfbuzz", "icu4py", "pyphen")


def version(library: str) -> str:
    """Return the name of a library's folder of metadata, in which its version is (PyPA specification “Recording
    installed projects”). Reading the metadata would take longer than everything else here."""
    spec = find_spec(library)
    places = [Path(place).parent for place in (spec.submodule_search_locations or ())] if spec else []
    return " ".join(sorted(path.name for place in places for path in place.glob(f"{library}-*.dist-info")))


@cache
def engine_version() -> str:
    """Return a digest of everything but its input that decides how a paragraph is set: the sources of this package and
    of what resolves styles, and the versions of the libraries."""
    digest = blake2b(digest_size=16)
    sources = [*sorted(Path(__file__).parent.glob("*.py")), Path(cascade.__file__), Path(story_text.__file__)]
    for source in sources:
        digest.update(f"{source.name}\0".encode())
        digest.update(blake2b(source.read_bytes()).digest())
    versions = (*map(version, LIBRARIES), hb.version_string(), unicodedata.unidata_version, sys.version)
    digest.update(repr(versions).encode())
    return digest.hexdigest()
