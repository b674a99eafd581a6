"""Pictures of 24 megapixels: one on its way to the screen, a hundred to a printer's file."""

from __future__ import annotations

import hashlib
import io
import resource
import subprocess
import sys
import tempfile
import time
from datetime import datetime, timezone
from pathlib import Path

import numpy
from PIL import Image

from benchmarks.measure import Row, report
from lexigon.core.document.model import Brief, Edges, Job
from lexigon.core.document.starter import new_book
from lexigon.core.editing import intents as do
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.picture.bringing import described
from lexigon.core.picture.contour import contours_of
from lexigon.core.picture.conversion import on_screen
from lexigon.core.picture.files import facts_of
from lexigon.core.picture.gathering import palette_of
from lexigon.core.picture.looks import Cut, Look
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe

SIZE = (6000, 4000)
COUNT = 100


def photograph() -> bytes:
    """A picture as a camera makes one: gradients, detail, grain. A JPEG of some 8 MB."""
    chance = numpy.random.default_rng(1)
    small = chance.normal(0, 1, (400, 600, 3)).cumsum(axis=0).cumsum(axis=1)
    small = (small - small.min()) / (small.max() - small.min()) * 255
    picture = Image.fromarray(small.astype("uint8")).resize(SIZE, Image.Resampling.BICUBIC)
    grain = Image.fromarray(chance.normal(128, 60, (SIZE[1], SIZE[0])).clip(0, 255).astype("uint8"))
    picture = Image.blend(picture, Image.merge("RGB", [grain] * 3), 0.15)
    target = io.BytesIO()
    picture.save(target, "JPEG", quality=92, dpi=(300, 300))
    return target.getvalue()


def another(data: bytes, number: int) -> bytes:
    """The same picture in a file of its own: a comment makes it another (ISO/IEC 10918-1, B.2.4.5)."""
    words = str(number).encode()
    return data[:2] + b"\xff\xfe" + (len(words) + 2).to_bytes(2, "big") + words + data[2:]


def job_of(folder: Path, data: bytes) -> Job:
    """A page a picture, each printed 8 in wide."""
    job = new_book("Pictures", Brief(9 * 72, 7 * 72, Edges(36, 36, 36, 36), Edges(9, 9, 9, 9), "in", facing=False))
    workspace = Workspace(job)
    workspace.do(do.AddPages(1, COUNT - 1))
    facts = facts_of(data)
    for number in range(COUNT):
        own = another(data, number)
        key = hashlib.sha256(own).hexdigest()
        (folder / key).write_bytes(own)
        file = described(f"i{number}", f"{number}.jpg", key, facts)
        workspace.do(do.PlacePicture(job.pages[number].id, Rect(36, 36, 576, 384), file.id, file))
    return job


def took(action: object) -> float:
    begun = time.perf_counter()
    action()  # type: ignore[operator]
    return time.perf_counter() - begun


def drawn() -> bytes:
    """The picture, drawn in a process of its own: its memory does not count."""
    code = "import sys; from benchmarks.pictures import photograph; sys.stdout.buffer.write(photograph())"
    return subprocess.run([sys.executable, "-c", code], stdout=subprocess.PIPE, check=True).stdout


def main() -> list[Row]:
    data = drawn()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        path = folder / "one.jpg"
        path.write_bytes(data)
        rows = [
            Row("24 MP: what the file says, what matters in it", took(lambda: facts_of(data)), "s"),
            Row("24 MP: on the board", took(lambda: on_screen(path, 1600)), "s", 0.5, f"{len(data) / 1e6:.1f} MB"),
            Row("24 MP: on the contact sheet", took(lambda: on_screen(path, 320)), "s"),
            Row(
                "24 MP: adjusted",
                took(lambda: on_screen(path, 1600, Look(brightness=0.1, contrast=0.2, sharpen=1.0))),
                "s",
            ),
            Row("24 MP: its contour", took(lambda: contours_of(path, Cut((255, 255, 255), 0.2))), "s"),
            Row("24 MP: a palette of 5", took(lambda: palette_of(path, 5)), "s"),
        ]
        job = job_of(folder, data)
        workspace = Workspace(job, lambda key: found if (found := folder / key).exists() else None)
        target = folder / "all.pdf"
        with target.open("wb") as stream:
            all_ = took(
                lambda: write_pdf(
                    workspace.composition, recipe("print"), stream, datetime(2026, 1, 1, tzinfo=timezone.utc)
                )
            )
        rows.append(
            Row("100 pictures of 24 MP to PDF/X-4 at 300 ppi", all_, "s", 60.0, f"{target.stat().st_size / 1e6:.0f} MB")
        )
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return [*rows, Row("peak of the process", peak, "MB", 400.0)]


if __name__ == "__main__":
    report(main())
