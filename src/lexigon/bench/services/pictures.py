"""The pictures of jobs: handed in, and as the screen shows them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import asdict, astuple, replace
from functools import lru_cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from urllib.parse import urlencode

from django.core.files.uploadedfile import UploadedFile
from django.urls import reverse

from lexigon.bench.services import store
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import OpenJob
from lexigon.core import lengths
from lexigon.core.colour.colours import Colour
from lexigon.core.colour.contrast import contrast
from lexigon.core.colour.difference import delta_e
from lexigon.core.colour.palette import Palette
from lexigon.core.colour.profiles import Profile
from lexigon.core.document.cropping import box_of, map_of, resolution, scale_of
from lexigon.core.document.limits import is_file
from lexigon.core.document.model import Job, Object, PictureFile, frames_in
from lexigon.core.document.story_text import clean, new_id
from lexigon.core.editing.holders import holder
from lexigon.core.editing.intents.colour.swatches import mixed_name
from lexigon.core.editing.intents.pictures.placing import uses
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.geometry import Rect
from lexigon.core.intake.files import Intake, examine_all
from lexigon.core.numerals import integer
from lexigon.core.paint.looks import look_of
from lexigon.core.paint.svg import Address
from lexigon.core.picture.bringing import described, is_archive, pictures_in
from lexigon.core.picture.conversion import on_screen
from lexigon.core.picture.files import MOST_BYTES, PictureError, facts_of
from lexigon.core.picture.gathering import palette_of
from lexigon.core.picture.looks import PLAIN, Look, written

SIZES = (320, 1600)
"""Pixels on the longer side in which pictures are shown: on the contact sheet, on the board."""
ON_BOARD = SIZES[-1]
SPACES = {"grey": "grey", "rgb": "RGB", "cmyk": "CMYK"}
MOST_IN_ARCHIVE = 600_000_000
"""Bytes of a zip archive of pictures."""


def take_in(uploads: Sequence[UploadedFile[bytes]], job: str) -> list[PictureFile | str]:
    """Store the pictures that were handed in, single or in zip archives: each as an entry of the job, or in plain words
    why it is not."""
    results: list[PictureFile | str] = []
    names: list[str] = []
    with TemporaryDirectory(prefix="lexigon-") as folder:
        for name, data in _unpacked(uploads):
            if isinstance(data, str):
                results.append(f"“{name}”{data}")
            else:
                (Path(folder) / str(len(names))).write_bytes(data)
                names.append(name)
        paths = [Path(folder) / str(number) for number in range(len(names))]
        for name, picture in zip(names, examine_all(paths, SIZES), strict=True):
            results.append(f"“{name}”: {picture}" if isinstance(picture, str) else keep(name, picture, job))
    return results


def _unpacked(uploads: Sequence[UploadedFile[bytes]]) -> Iterator[tuple[str, bytes | str]]:
    """The pictures of some uploads by their names: their content, or words that continue the name."""
    for upload in uploads:
        name = _clean(str(upload.name or "Picture"))
        if upload.size and upload.size > (MOST_IN_ARCHIVE if name.lower().endswith(".zip") else MOST_BYTES):
            yield name, f" has {upload.size / 1e6:.0f} MB. A picture can have at most {MOST_BYTES // 10**6} MB."
            continue
        data = upload.read()
        if not is_archive(data):
            yield name, data
            continue
        count = 0
        try:
            for inner, picture in pictures_in(data):
                count += 1
                yield _clean(inner), picture
        except PictureError as error:
            yield name, f": {error}"
        else:
            if not count:
                yield name, " contains no pictures."


def keep(name: str, picture: Intake, job: str) -> PictureFile:
    """Store a picture, with what the screen shows of it, among the files of a job."""
    file = Files(job).keep(picture.path)
    for size, path in picture.screens.items():
        if not store.exists(place := _screen_place(file, size)):
            store.put(place, path)
    return described(new_id("i"), name, file, picture.facts)


def keep_one(name: str, data: bytes, job: str) -> PictureFile:
    """Store one picture among the files of a job. Raises PictureError in plain words."""
    with TemporaryDirectory(prefix="lexigon-") as folder:
        path = Path(folder) / "picture"
        path.write_bytes(data)
        (verdict,) = examine_all([path], SIZES)
        if isinstance(verdict, str):
            raise PictureError(verdict)
        return keep(name, verdict, job)


def _screen_place(file: str, size: int) -> str:
    """Return where a picture is stored as the screen shows it."""
    return f"pictures/{file[:2]}/{file}-{size}.webp"


def _clean(name: str) -> str:
    return clean(name).replace("\n", " ")[-120:]


def restore_missing(live: OpenJob, pictures: Iterable[PictureFile]) -> bool:
    """Return whether files that the job missed are here now, by what they are."""
    missing = {one.file for one in live.job.pictures.values() if not live.workspace.composition.saw_file(one.file)}
    return any(one.file in missing for one in pictures)


def gathered(name: str, job: str, count: int, look: Look) -> list[dict[str, Any]] | None:
    """The colours of a picture as swatches could be made of them, the largest first: their light, the inks they print
    in, how far that is, and their contrast against paper and each other; None where the job has no such file."""
    if not is_file(name) or (path := Files(job).path_of(name)) is None:
        return None
    palette = palette_of(path, count, look)
    paper = Colour("rgb", (1.0, 1.0, 1.0))
    rows = []
    for one in palette:
        printed = Colour("cmyk", one.colour.cmyk)
        rows.append(
            {
                "values": [round(value, 6) for value in one.colour.components],
                "css": one.colour.css,
                "share": one.share,
                "printed": printed.css,
                "inks": mixed_name("cmyk", tuple(round(part, 2) for part in printed.components)),
                "cmyk": [round(part, 2) for part in printed.components],
                "apart": round(delta_e(one.colour.lab, printed.lab), 1),
                "paper": round(contrast(printed, paper), 1),
                "others": [round(contrast(printed, Colour("cmyk", other.colour.cmyk)), 1) for other in palette],
            }
        )
    return rows


def screen_picture(name: str, job: str, most: int, look: Look = PLAIN, proof: Profile | None = None) -> bytes | None:
    """A picture for the screen; None if the job has no such file. Unadjusted pictures are made once and stored; of
    adjusted ones the last few are cached."""
    if not is_file(name) or most not in SIZES or (path := Files(job).path_of(name)) is None:
        return None
    if look != PLAIN or proof is not None:
        return _looking(path, most, look, proof)
    place = _screen_place(name, most)
    if (local := store.local(place)) is None:
        store.put(place, on_screen(path, most))
        local = store.local(place)
    return local.read_bytes() if local else None


@lru_cache(48)
def _looking(path: Path, most: int, look: Look, proof: Profile | None) -> bytes:
    return on_screen(path, most, look, proof)


def addresses(key: str, proof: Profile | None = None) -> Address:
    """Return where the board has the pictures of a job."""

    def address(file: str, look: str) -> str:
        query = {"look": look, "proof": proof.id if proof else ""}
        query_string = urlencode({name: value for name, value in query.items() if value})
        return reverse("picture", args=[key, file, ON_BOARD]) + (f"?{query_string}" if query_string else "")

    return address


def contact_sheet(job: Job, has: Any) -> list[dict[str, Any]]:
    """The pictures of a job with the number of times each is shown; ``has`` says whether a file exists."""
    return [
        {
            **plain(one),
            "told": _dimensions(job, one),
            "short": _short(job, one),
            "vector": one.vector,
            "look": written(Look(page=one.page)),
            "ppi": one.ppi,
            "space": one.space,
            "uses": len(used),
            "missing": not has(one.file),
            "coarsest": min((round(resolution(f.picture, one, rect)) for f, rect in used if f.picture), default=0),
            "on": [job.page_index(holder) for holder in holders if job.page_index(holder) is not None],
        }
        for one in job.pictures.values()
        for holders, used in [_places_of(job, one)]
    ]


def _places_of(job: Job, picture: PictureFile) -> tuple[list[str], list[tuple[Object, Rect]]]:
    """The holders of the frames that show a picture, and the frames with their boxes."""
    used = uses(job, picture.id)
    boxed = [(one, one.rect or holder(job, key).rect(one)) for key, one in used]
    return list(dict.fromkeys(key for key, _ in used)), boxed


def framing(live: OpenJob, page: str, key: str) -> dict[str, Any]:
    """The same of an object of a page or a master's half, by what edits call that. Raises LexigonError where it shows
    no picture."""
    place = holder(live.job, page)
    frame = next((one for one in (*place.frames, *frames_in(tuple(place.inherited_objects()))) if one.id == key), None)
    values = framing_of(live.job, frame, place.rect(frame)) if frame else None
    if values is None:
        raise LexigonError("That picture is no longer in the job.")
    return values


def _dimensions(job: Job, file: PictureFile) -> str:
    """Return how large a picture is by itself, in one line."""
    if not file.vector:
        return f"{integer(file.width)} × {integer(file.height)} pixels, {SPACES[file.space]}"
    size = lengths.size(*file.size, job.brief.unit)
    return f"vector drawing, {size}, sharp at any size" + (
        f"; page {file.page} of {file.pages}" if file.pages > 1 else ""
    )


def _short(job: Job, file: PictureFile) -> str:
    """The same for the contact sheet."""
    if not file.vector:
        return f"{integer(file.width)} × {integer(file.height)}, {SPACES[file.space]}"
    return f"drawing, {lengths.size(*file.size, job.brief.unit)}" + (
        f", p. {file.page} of {file.pages}" if file.pages > 1 else ""
    )


def of_page(name: str, job: str, page: int, key: str, title: str) -> PictureFile | None:
    """A PDF stored as the picture of another of its pages; None if the job has no such file. Raises PictureError."""
    if not is_file(name) or (path := Files(job).path_of(name)) is None:
        return None
    return replace(described(key, title, name, facts_of(path.read_bytes(), page)), name=title, page=page)


def framing_of(job: Job, frame: Object, rect: Rect) -> dict[str, Any] | None:
    """Return the position of a picture in its frame, for the slip."""
    if frame.picture is None or frame.picture.picture not in job.pictures:
        return None
    file = job.pictures[frame.picture.picture]
    across, down = scale_of(frame.picture, file, rect)
    return {
        "id": file.id,
        "name": file.name,
        "vector": file.vector,
        "told": _dimensions(job, file),
        "space": file.space,
        "ppi": round(resolution(frame.picture, file, rect)),
        "fit": frame.picture.fit,
        "across": round(across * 100, 2),
        "down": round(down * 100, 2),
        "rotation": f"{frame.picture.rotation:g}",
        "mirrored": frame.picture.mirrored,
        "focus": list(frame.picture.focus),
        "adjust": asdict(frame.picture.adjust),
        "map": [getattr(map_of(frame.picture, file, rect), part) for part in "abcdef"],
        "file": file.file,
        "box": list(astuple(box_of(frame.picture, file, rect))),
        "matters": list(file.focus) if file.focus else None,
        "look": written(look_of(frame.picture.adjust, Palette(job.swatches), file.page)),
        "distorted": abs(across - down) > 1e-4 * max(across, down),
    }
