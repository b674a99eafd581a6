"""Untrusted fonts, tested before they are used: shaped, outlined and subset in a separate process.

The effect of a font file on the libraries that read it cannot be foreseen, so it is found out where it can do no harm:
with limits of memory and time, and only the answer at risk.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from lexigon.core.sandbox import run_apart

SECONDS = 20
"""Of computing, for each font."""
BROKEN = "is broken, or no font"
SAMPLE = "Hamburgefonstiv fi ffl 1234567890 (AVTo) “Ärger” œuvre — &c."


@dataclass(slots=True, frozen=True)
class FontDescription:
    """The facts of a usable font."""

    family: str
    weight: int
    italic: bool


def vetted(paths: Sequence[Path]) -> list[FontDescription | str]:
    """Return the description of each file, or why it cannot be used, in words that follow its name.

    One process tests them in turn; a font that makes it crash is broken, and a new process continues with the next one.
    """
    results: list[FontDescription | str] = []
    while len(results) < len(paths):
        answers = _ask(paths[len(results) :])
        results += [answer if isinstance(answer, str) else FontDescription(**answer) for answer in answers]
        if len(results) < len(paths):
            results.append(BROKEN)
    return results


def _ask(paths: Sequence[Path]) -> list[Any]:
    """The answers of a process up to where it was done, or died."""
    answer = run_apart(__name__, [*map(str, paths)], SECONDS * len(paths))
    return [json.loads(line) for line in answer.splitlines(keepends=True) if line.endswith(b"\n")]


def exercise(path: Path) -> FontDescription:
    """Do with a font all that setting and printing will do. Raises FontError, or whatever a broken one makes the
    libraries raise."""
    import uharfbuzz as hb

    from lexigon.core.type.fonts import FontError, examined
    from lexigon.core.type.glyphs import glyph_path
    from lexigon.core.type.shaping import cut_for
    from lexigon.core.type.subsetting import subset

    face = examined(path)
    if not face.family.strip() or len(face.family) > 120:
        raise FontError("has no family name it could be called by")
    characters = sorted(face.characters)
    used = {0}
    for text in (SAMPLE, "".join(characters[:3000])):
        used |= set(cut_for(face, ()).word(text).glyphs)
    if max(used) >= len(face.advances):
        raise FontError(BROKEN)
    nothing = hb.DrawFuncs()
    for glyph in range(len(face.advances)):
        face.hb_font.draw_glyph(glyph, nothing)
    for glyph in sorted(used)[:200]:
        glyph_path(face, glyph)
    subset(face, used)
    return FontDescription(face.family, min(max(face.weight, 1), 1000), face.italic)


def main() -> None:
    from lexigon.core.type.fonts import FontError

    for path in sys.argv[1:]:
        try:
            answer: object = asdict(exercise(Path(path)))
        except FontError as error:
            answer = str(error)
        except Exception:
            answer = BROKEN
        print(json.dumps(answer), flush=True)


if __name__ == "__main__":
    main()
