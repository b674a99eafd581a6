"""Novels in plain text, from Debian's package r-cran-janeaustenr; “Pride and Prejudice” has some 120,000 words.

The package is fetched on first use and unpacked into the cache; nothing of it is shipped. The text stands in
an R data base: an index (a gzip'ed RDS stream) of offset and length pairs into a file of zlib streams, each
behind its length in four bytes (R Internals, "Lazy loading").
"""

from __future__ import annotations

import gzip
import os
import subprocess
import warnings
import zlib
from pathlib import Path

CACHE = Path(os.environ.get("LEXIGON_BENCH", Path(__file__).parents[1] / "var" / "bench"))
PACKAGE = "r-cran-janeaustenr"
NAMES = ("prideprejudice", "emma", "mansfieldpark", "northangerabbey", "persuasion", "sensesensibility")


def novel(name: str = NAMES[0]) -> str:
    """A novel as it was typed: hard-wrapped lines, _emphasis_, chapters."""
    text = CACHE / f"{name}.txt"
    if not text.exists():
        CACHE.mkdir(parents=True, exist_ok=True)
        text.write_text("\n".join(_lines(_unpacked(), name)), "utf-8")
    return text.read_text("utf-8")


def _unpacked() -> Path:
    data = CACHE / "usr/lib/R/site-library/janeaustenr/data"
    if not data.exists():
        subprocess.run(["apt-get", "update", "-qq"], check=False, stdout=subprocess.DEVNULL)
        subprocess.run(["apt-get", "download", "-qq", PACKAGE], cwd=CACHE, check=True, stderr=subprocess.DEVNULL)
        package = next(CACHE.glob(f"{PACKAGE}*.deb"))
        subprocess.run(["dpkg-deb", "-x", package, CACHE], check=True)
    return data


def _lines(data: Path, name: str) -> list[str]:
    from rdata import conversion, parser

    def read(stream: bytes) -> object:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            return conversion.convert(parser.parse_data(stream))

    index = read(gzip.decompress((data / "Rdata.rdx").read_bytes()))
    offset, length = (int(n) for n in index["variables"][name])  # type: ignore[index]
    chunk = (data / "Rdata.rdb").read_bytes()[offset : offset + length]
    return [str(line) for line in read(zlib.decompress(chunk[4:]))]  # type: ignore[attr-defined]
