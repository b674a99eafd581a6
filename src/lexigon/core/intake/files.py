"""Untrusted pictures, imported in a separate process: normalised, described, and prepared for the screen.

The effect of a file on the libraries that decode it cannot be foreseen: a picture of 120 million pixels has 0.5 MB as a
file and takes 500 MB to decode; a drawing can contain what takes minutes. So that happens where it can do no harm, with
limits of memory and time. A picture that is small by its bytes and by its header (``SMALL_BYTES``, ``SMALL_PIXELS``)
cannot take much, and does not need a process.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from lexigon.core.intake.drawings import normalised
from lexigon.core.picture.conversion import on_screen
from lexigon.core.picture.files import MOST_BYTES, Facts, PictureError, facts_of, opened
from lexigon.core.picture.pdfpage import is_pdf
from lexigon.core.picture.svgfile import is_svg
from lexigon.core.sandbox import run_apart

SECONDS = 60
"""Of computing, for each picture: the largest that are allowed take some 15."""
MEMORY = 3_000_000_000
"""Bytes of the process: the largest that are allowed take some 1,500 MB, and libraries reserve more than they use."""
SMALL_BYTES, SMALL_PIXELS = 3_000_000, 4_000_000
GAVE_UP = f"This picture is damaged, or takes more than {MEMORY // 10**9} GB of memory or {SECONDS} seconds to read."


@dataclass(slots=True, frozen=True)
class Intake:
    """A picture that can be used: the file with the content it is stored with, what it is, and files of it as the
    screen shows it (WebP, by the pixels on its longer side)."""

    path: Path
    facts: Facts
    screens: dict[int, Path]


def is_small(path: Path) -> bool:
    """Return whether a picture is pixels, and few of them; or none at all, which is found out as soon."""
    if path.stat().st_size > SMALL_BYTES:
        return False
    data = path.read_bytes()
    if is_pdf(data) or is_svg(data[:4000]) or data.startswith(b"\x1f\x8b"):
        return False
    try:
        width, height = opened(data).size  # reads the header alone
    except PictureError:
        return True
    return width * height <= SMALL_PIXELS


def examine_all(paths: Sequence[Path], sizes: Sequence[int]) -> list[Intake | str]:
    """Take in the pictures of files, with what the screen shows of the large ones in some ``sizes``: for each what it
    is, or in plain words why it cannot be used. Files are written beside ``paths``, in a folder that is the caller's
    to delete."""
    small = {path for path in paths if is_small(path)}
    apart = iter(_examined_apart([path for path in paths if path not in small], sizes))
    return [_intake(path, _examined(path, ()), ()) if path in small else next(apart) for path in paths]


def _examined_apart(paths: Sequence[Path], sizes: Sequence[int]) -> list[Intake | str]:
    """One process imports them in turn; a picture that makes it crash cannot be used, and a new process continues after
    it."""
    results: list[Intake | str] = []
    while len(results) < len(paths):
        left = paths[len(results) :]
        arguments = [",".join(map(str, sizes)), *map(str, left)]
        lines = run_apart(__name__, arguments, SECONDS * len(left), memory=MEMORY).splitlines(keepends=True)
        answers = [json.loads(line) for line in lines if line.endswith(b"\n")]
        results += [_intake(path, answer, sizes) for path, answer in zip(left, answers, strict=False)]
        if len(results) < len(paths):
            results.append(GAVE_UP)
    return results


def _beside(path: Path, what: str) -> Path:
    return path.with_name(f"{path.name}.{what}")


def _intake(path: Path, answer: Any, sizes: Sequence[int]) -> Intake | str:
    if isinstance(answer, str):
        return answer
    facts = Facts(**answer | {"focus": tuple(answer["focus"])})
    return Intake(_beside(path, "normal"), facts, {size: _beside(path, f"{size}.webp") for size in sizes})


def _examined(path: Path, sizes: Sequence[int]) -> Any:
    """Write a picture's content, and what the screen shows of it, beside it: its facts as JSON has them, or why it
    cannot be used."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise PictureError(f"A picture has at most {MOST_BYTES // 10**6} MB.")
        data = normalised(path.read_bytes())
        facts = facts_of(data)
        normal = _beside(path, "normal")
        normal.write_bytes(data)
        for size in sizes:
            _beside(path, f"{size}.webp").write_bytes(on_screen(normal, size))
        return asdict(facts)
    except PictureError as error:
        return str(error)
    except MemoryError:
        return GAVE_UP


def main() -> None:
    """Take in the files that are named, with a line of JSON for each."""
    sizes, *paths = sys.argv[1:]
    for path in paths:
        print(json.dumps(_examined(Path(path), [int(size) for size in sizes.split(",") if size])), flush=True)


if __name__ == "__main__":
    main()
