"""The pictures of jobs: handed in, and as the screen shows them."""

from __future__ import annotations

from typing import Any

from django.core.files.uploadedfile import UploadedFile

from lexigon.bench.services import store
from lexigon.bench.services.files import Files
from lexigon.core.geometry import Rect
from lexigon.core.job.framing import resolution, scale_of
from lexigon.core.job.intents.pictures import uses
from lexigon.core.job.limits import is_file
from lexigon.core.job.model import Job, Object, PictureFile
from lexigon.core.job.serial import plain
from lexigon.core.job.text import clean, new_id
from lexigon.core.picture.conversion import on_screen
from lexigon.core.picture.files import MOST_BYTES, PictureError, facts_of

SIZES = (320, 1600)
"""Pixels on the longer side in which pictures are shown: on the contact sheet, on the board."""


def handed_in(upload: UploadedFile, owner: int) -> PictureFile:
    """Keep a picture that was handed in. Raises PictureError in plain words; nothing is kept then."""
    name = clean(str(upload.name or "Picture")).replace("\n", " ")[-120:]
    if upload.size and upload.size > MOST_BYTES:
        raise PictureError(f"“{name}” has {upload.size / 1e6:.0f} MB; a picture has at most {MOST_BYTES // 10**6} MB.")
    data = upload.read()
    try:
        facts = facts_of(data)
    except PictureError as error:
        raise PictureError(f"“{name}”: {error}") from error
    kept = Files(owner).keep(data)
    return PictureFile(
        new_id("i"),
        name.rsplit(".", 1)[0] or name,
        kept,
        facts.width,
        facts.height,
        facts.ppi,
        facts.space,
        facts.alpha,
    )


def shown(name: str, owner: int, most: int) -> bytes | None:
    """A picture as the screen shows it, made once; None where the owner has no such file."""
    if not is_file(name) or most not in SIZES or (path := Files(owner).path_of(name)) is None:
        return None
    place = f"pictures/{name[:2]}/{name}-{most}.webp"
    if (made := store.local(place)) is None:
        store.put(place, on_screen(path, most))
        made = store.local(place)
    return made.read_bytes() if made else None


def contact_sheet(job: Job, has: Any) -> list[dict[str, Any]]:
    """The job's pictures with how often each is shown; ``has`` tells whether a file is there."""
    return [
        {**plain(one), "ppi": one.ppi, "space": one.space, "uses": len(uses(job, one.id)), "missing": not has(one.file)}
        for one in job.pictures.values()
    ]


def framing_of(job: Job, frame: Object, rect: Rect) -> dict[str, Any] | None:
    """How a picture stands in its frame, for the slip."""
    if frame.picture is None or frame.picture.picture not in job.pictures:
        return None
    file = job.pictures[frame.picture.picture]
    across, down = scale_of(frame.picture, file, rect)
    return {
        "id": file.id, "name": file.name, "pixels": f"{file.width:,} × {file.height:,} pixels", "space": file.space,
        "ppi": round(resolution(frame.picture, file, rect)), "fit": frame.picture.fit, "across": round(across * 100, 2),
        "down": round(down * 100, 2), "rotation": f"{frame.picture.rotation:g}", "mirrored": frame.picture.mirrored,
        "focus": list(frame.picture.focus), "distorted": abs(across - down) > 1e-4 * max(across, down),
    }  # fmt: skip
