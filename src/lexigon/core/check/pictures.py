"""Pictures: files that are missing, and those too coarse for print."""

from __future__ import annotations

from collections.abc import Iterator

from lexigon.core.check.findings import Finding, rule
from lexigon.core.document.cropping import resolution
from lexigon.core.document.model import Object
from lexigon.core.flow.composition import Composition
from lexigon.core.picture.placedfaults import Fault, faults_of

LEAST_PPI = 200.0
"""Pixels an inch below which a picture looks soft in print; 300 is what is wanted (common practice, no source)."""


def frames_with_pictures(composition: Composition) -> Iterator[tuple[int, Object]]:
    """The frames with pictures that pages show, each with its page; those of masters with the first page that shows
    them."""
    job = composition.job
    if not job.pictures:
        return
    reported: set[tuple[str, str]] = set()
    for index, page in enumerate(job.pages):
        below = (page.master or "", job.brief.side(index))
        frames = page.frames if below in reported else tuple(frame for frame, _ in job.page_frames(index))
        reported.add(below)
        for frame in frames:
            if frame.picture is not None and frame.picture.picture in job.pictures:
                yield index, frame


@rule(at_once=True)
def missing(composition: Composition) -> Iterator[Finding]:
    reported: set[str] = set()
    for index, frame in frames_with_pictures(composition):
        file = composition.job.pictures[frame.picture.picture]  # type: ignore[union-attr]
        if file.id not in reported and not composition.has_file(file.file):
            reported.add(file.id)
            yield Finding(
                "missing picture",
                f"The file of “{file.name}” is missing, and a crossed box is printed. Import the file again or replace "
                "the picture.",
                index,
                subject=frame.id,
            )


@rule(at_once=True)
def coarse(composition: Composition) -> Iterator[Finding]:
    reported: set[str] = set()
    for index, frame in frames_with_pictures(composition):
        assert frame.picture is not None
        file = composition.job.pictures[frame.picture.picture]
        if file.vector:
            continue
        ppi = resolution(frame.picture, file, composition.job.frame_rect(frame, index))
        if ppi < LEAST_PPI and frame.id not in reported:
            reported.add(frame.id)
            words = (
                f"“{file.name}” has {ppi:.0f} ppi at its present size. Below {LEAST_PPI:.0f} ppi pictures look soft in "
                "print. Reduce its frame or use a larger picture."
            )
            yield Finding("coarse picture", words, index, subject=frame.id)


FAULTS = {
    "font": (
        "font not embedded",
        (
            "the font “{name}” is not embedded, so the printer would substitute another. Ask for the PDF with its fonts"
            " embedded."
        ),
    ),
    "transfer": (
        "transfer function",
        (
            "it contains a transfer function, which is not allowed in print files. The function is left out, so tones "
            "may look different. Ask for the PDF without it."
        ),
    ),
    "postscript": (
        "PostScript",
        "it contains PostScript, which is not allowed in print files. Ask for the PDF without it.",
    ),
}
"""Each kind of fault of a placed page, for scripts and for people."""


@rule()
def placed_faults(composition: Composition) -> Iterator[Finding]:
    """Return what pages of PDFs bring along that makes a file which printers reject."""
    reported: set[tuple[str, Fault]] = set()
    for index, frame in frames_with_pictures(composition):
        assert frame.picture is not None
        file = composition.job.pictures[frame.picture.picture]
        path = composition.find(file.file) if file.vector and composition.find is not None else None
        for fault in faults_of(path, file.page) if path is not None else ():
            if (file.id, fault) in reported:
                continue
            reported.add((file.id, fault))
            kind, words = FAULTS[fault.kind]
            text = f"“{file.name}”, page {file.page}: {words.format(name=fault.name)}"
            yield Finding(kind, text, index, subject=frame.id)
