"""SVG as pixels: drawn by resvg in a separate process, for whatever cannot be outlines (words, masks, filters,
patterns, embedded pictures).

Nothing external is read: embedded pictures are data, fonts are those that ship. ``python -m`` this module reads a
drawing from its input and writes a PNG with at most as many pixels on each side as its argument says.
"""

from __future__ import annotations

import io
import sys
from dataclasses import dataclass
from typing import Any

from PIL import Image

from lexigon.core.picture.svgfile import SvgError
from lexigon.core.sandbox import run_apart


@dataclass(slots=True, frozen=True)
class Fonts:
    folder: str
    generic: tuple[str, ...]
    """The families that stand for serif, sans-serif, monospace, cursive, fantasy, and any that is not known."""


SECONDS = 20
"""Of computing, for each drawing."""


def render(svg: bytes, most: int, size: tuple[float, float], fonts: Fonts) -> Image.Image:
    """A drawing as RGBA pixels, ``most`` on its longer side; ``size`` is its own in pixels of CSS; ``fonts`` are its
    words set in. The text is trusted to name nothing outside (``svgfile.safe``). Raises SvgError where it cannot be
    drawn."""
    zoom = most / max(size)
    png = run_apart(__name__, [repr(zoom), *([fonts.folder, *fonts.generic] if b"text" in svg else [])], SECONDS, svg)
    try:
        picture = Image.open(io.BytesIO(png), formats=("PNG",))
        return picture.convert("RGBA")
    except OSError as error:
        raise SvgError("This drawing cannot be shown, because it is damaged or too complex.") from error


def main() -> None:
    import resvg_py

    zoom, *fonts = sys.argv[1:]
    options: dict[str, Any] = {"skip_system_fonts": True, "zoom": float(zoom)}
    if fonts:
        names = (
            "serif_family",
            "sans_serif_family",
            "monospace_family",
            "cursive_family",
            "fantasy_family",
            "font_family",
        )
        options |= {"font_dirs": fonts[:1], **dict(zip(names, fonts[1:], strict=True))}
    sys.stdout.buffer.write(bytes(resvg_py.svg_to_bytes(svg_string=sys.stdin.buffer.read().decode(), **options)))


if __name__ == "__main__":
    main()
