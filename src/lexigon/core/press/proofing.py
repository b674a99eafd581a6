"""Pages of a finished file for print as they will be printed: its plates, laid over each other.

PDFium paints a page in light: it mixes what is blended as light, and lets nothing overprint. So a page is taken apart
(``placedplates``), each plate is painted by PDFium as a page of greys, and their inks are laid together and shown
through the profile of the paper.
"""

from __future__ import annotations

import io
import sys
from collections.abc import Mapping, Sequence
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from PIL import Image, ImageCms

from lexigon.core.colour.colours import screen_transform
from lexigon.core.colour.profiles import PROFILES, Profile
from lexigon.core.paint.blended import Region
from lexigon.core.pdf.placed.plates import spots_in, write_plate
from lexigon.core.pdf.placed.spaces import PROCESS, Unreadable
from lexigon.core.press.images import page_image
from lexigon.core.press.plates import Find, Plater
from lexigon.core.sandbox import run_apart


def file_plates(pdf: Path, index: int, ppi: float, profile: Profile) -> dict[str, Image.Image]:
    """The plates of a page of a file by the names of their inks: 255 for all of it. Raises Unreadable."""
    plates: dict[str, Image.Image] = {}
    with TemporaryDirectory(prefix="lexigon-") as folder:
        for number, ink in enumerate((*PROCESS, *spots_in(pdf, index + 1))):
            plate = Path(folder) / f"{number}.pdf"
            write_plate(pdf, index + 1, ink, profile, plate)
            plates[ink] = page_image(plate, 0, ppi).convert("L").point(lambda v: 255 - v)
    return plates


def proof_image(pdf: Path, index: int, ppi: float, profile: Profile) -> Image.Image:
    """A page of a file as it looks printed, with what is mixed and what overprints, as RGB; painted in light where it
    is not understood."""
    try:
        plates = file_plates(pdf, index, ppi, profile)
        looks = {name: spot.components for name, spot in spots_in(pdf, index + 1).items()}
    except Unreadable:
        return page_image(pdf, index, ppi)
    return laid_together(plates, looks, profile)


SECONDS = 20
"""Of computing for a proof: a page of A4 with a picture to its edges takes some 3."""


def proof_png(pdf: Path, index: int, ppi: float, profile: Profile) -> bytes:
    """``proof_image`` as a PNG, computed in a separate process with limits of memory and time. A page that needs more
    than those is rendered in RGB by PDFium."""
    png = run_apart(__name__, [str(pdf), str(index), str(ppi), profile.id], SECONDS)
    if png.startswith(b"\x89PNG") and png.endswith(b"IEND\xaeB`\x82"):
        return png
    target = io.BytesIO()
    page_image(pdf, index, ppi).save(target, "PNG")
    return target.getvalue()


def main() -> None:
    """Write the proof of a page: the arguments are the file, the index of the page, the resolution and the profile."""
    pdf, index, ppi, profile = sys.argv[1:]
    proof_image(Path(pdf), int(index), float(ppi), PROFILES[profile]).save(sys.stdout.buffer, "PNG")


SOLID_BLACK = np.array((0, 0, 0, 255), np.uint8)
"""Shown as plain black, as ``Colour.proofed`` does."""


def laid_together(
    plates: Mapping[str, Image.Image], looks: Mapping[str, Sequence[float]], profile: Profile
) -> Image.Image:
    """Plates as their inks look over each other on a paper, as RGB; ``looks`` are of the spot inks, in process inks."""
    inks = np.stack([np.asarray(plates[ink], np.float32) for ink in PROCESS], axis=-1)
    for name, look in looks.items():
        spot = np.asarray(plates[name], np.float32)
        if spot.any():
            inks += spot[..., None] * np.asarray(look, np.float32)
    printed = np.minimum(inks, 255).round().astype(np.uint8)
    image = ImageCms.applyTransform(Image.fromarray(printed, "CMYK"), screen_transform(profile))
    assert image is not None
    black = Image.fromarray((printed == SOLID_BLACK).all(axis=-1))
    image.paste((0, 0, 0), mask=black)
    return image


PER_POINT = 3.0
"""Pixels a point of a region that the board shows: sharp at three times its size."""
MOST_PIXELS = 3_000_000


def region_image(region: Region, profile: Profile, find: Find | None) -> Image.Image:
    """A region of a page as it prints, as RGB."""
    rect = region.rect
    per_point = min(PER_POINT, (MOST_PIXELS / max(rect.width * rect.height, 1.0)) ** 0.5)
    with TemporaryDirectory(prefix="lexigon-") as folder:
        plater = Plater(round(72 * per_point), profile, find, Path(folder))
        plates = plater.plates(region.items, rect, per_point)
        looks = {name: spot.components for name, spot in plater.spots(region.items).items()}
    return laid_together(plates, looks, profile)


if __name__ == "__main__":
    main()
