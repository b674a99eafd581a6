"""The files of a merge: one PDF of all records, or files for each, with safe names from their fields."""

from __future__ import annotations

import re
import tempfile
import unicodedata
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import nullcontext
from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import IO

from lexigon.core.flow.workspace import Workspace
from lexigon.core.merge.merger import Merger
from lexigon.core.merge.repeating import repeated_job, repeated_object
from lexigon.core.merge.templates import Template
from lexigon.core.press.document import Part, write_parts, write_pdf
from lexigon.core.press.joining import Source, join
from lexigon.core.press.page_files import page_files, svg_pages
from lexigon.core.press.recipes import Recipe, pdf_recipe
from lexigon.core.press.sheets import SheetLayout, gang, grid_of
from lexigon.core.reclaim import reclaim
from lexigon.core.type.word_memory import forget_words

LONGEST_NAME = 120
"""Characters of a file's name without its extension; with it, in UTF-8, it is below the 255 bytes of file systems."""
RECORDS_PER_CHUNK = 1000
"""Records that are written together: they share fonts, and are what is repeated after a kill."""
_UNSAFE = re.compile(r'[\x00-\x1f\x7f-\x9f<>:"/\\|?*\u200e\u200f\u202a-\u202e\u2066-\u2069]+')
"""Characters that file systems refuse or that show a name in another order (those of Windows, and marks of direction
in Unicode, UAX 9)."""
_RESERVED = re.compile(r"(con|prn|aux|nul|com\d|lpt\d)(\..*)?", re.I)
"""Names of devices on Windows."""
Progress = Callable[[int, int], bool]


def write_merged(
    merger: Merger,
    numbers: Sequence[int],
    recipe: Recipe,
    target: IO[bytes],
    when: datetime,
    progress: Progress | None = None,
    processes: int = 1,
    per_chunk: int = RECORDS_PER_CHUNK,
) -> list[int]:
    """Write records as one PDF, each as a part with a bookmark. Where an object is repeated for all records, each page
    has several. Returns the number of pages of each part.

    ``progress`` is called after each page with the number of finished records and of all; when it returns False,
    OutputStopped is raised. More records than ``per_chunk`` are written in chunks that are joined, in memory that does
    not grow with them.
    """
    if repeated_object(merger.job) is not None:
        job = repeated_job(merger, numbers, merger.job.name)
        composition = Workspace(job, merger.composition.find, merger.composition.today).composition
        write_pdf(composition, recipe, target, when, progress=progress, processes=processes)
        return [len(job.pages)]
    counts: list[int] = []
    with tempfile.TemporaryDirectory(prefix="lexigon-") as folder:
        written = []
        chunks = chunks_of(len(numbers), per_chunk)
        for chunk in chunks:
            path = Path(folder, f"{chunk.start}.pdf")
            with path.open("wb") if len(chunks) > 1 else nullcontext(target) as stream:
                parts = list(merger.parts(numbers[chunk.start : chunk.stop]))
                counted = _counted(progress, chunk, len(numbers))
                write_parts(parts, merger.job.name, recipe, stream, when, counted, processes)
            counts += [len(part.pages) for part in parts]
            written.append(path)
            if len(chunks) > 1:
                forget_words()
                reclaim()
        if len(chunks) > 1:
            join_chunks(written, chunks, merger.job.name, recipe, target, when)
    return counts


def chunks_of(count: int, size: int = RECORDS_PER_CHUNK) -> list[range]:
    """Return the places of records that are written together, in order."""
    return [range(first, min(first + size, count)) for first in range(0, count, size)]


def join_chunks(
    paths: Sequence[Path], chunks: Sequence[range], name: str, recipe: Recipe, target: IO[bytes], when: datetime
) -> int:
    """Write chunks of records as one file. Returns the number of its pages."""
    titles = [f"{chunk.start + 1}–{chunk.stop}" for chunk in chunks]
    return join([Source(*one) for one in zip(paths, titles, strict=True)], name, recipe, target, when)


def _counted(progress: Progress | None, chunk: range, total: int) -> Progress | None:
    """Return what reports the records of a chunk that are finished, given its pages."""
    if progress is None:
        return None
    return lambda done, pages: progress(chunk.start + len(chunk) * done // pages, total)


def pieces_recipe(recipe: Recipe) -> Recipe:
    """Return the recipe for the pieces of sheets: with bleed, and without marks, since sheets have their own."""
    return replace(recipe, bleed=True, marks=False, information=False, links=False, landscape="upright")


def write_sheets(
    merger: Merger,
    numbers: Sequence[int],
    recipe: Recipe,
    layout: SheetLayout,
    target: Path,
    when: datetime,
    progress: Progress | None = None,
    processes: int = 1,
    per_chunk: int = RECORDS_PER_CHUNK,
) -> int:
    """Write records ganged on sheets as a PDF, with the ``pieces_recipe``. Returns the number of pages. Raises
    LexigonError if a piece does not fit on a sheet."""
    first = merger.show(numbers[0])
    grid_of(layout, *merger.job.page_size(first.pages[0] if first.pages else 0))
    with tempfile.NamedTemporaryFile(suffix=".pdf") as pieces:
        own = pieces_recipe(recipe)
        counts = write_merged(merger, numbers, own, pieces, when, progress, processes, per_chunk)
        pieces.flush()
        return gang(Path(pieces.name), target, layout, counts)


def write_record(merger: Merger, number: int, recipe: Recipe, target: IO[bytes], when: datetime) -> None:
    """Write one record as a PDF, with the bytes of the same piece typed by hand."""
    pages = merger.show(number).pages
    write_parts([Part(merger.composition, pages)], merger.job.name, recipe, target, when)


def record_files(merger: Merger, number: int, recipe: Recipe, when: datetime) -> list[bytes]:
    """Return the files of one record: a PDF, or an image or a drawing of each of its pages."""
    if recipe.kind == "svg":
        return list(svg_pages([Part(merger.composition, merger.show(number).pages)]))
    with tempfile.TemporaryDirectory(prefix="lexigon-") as folder:
        path = Path(folder, "record.pdf")
        with path.open("wb") as stream:
            write_record(merger, number, pdf_recipe(recipe), stream, when)
        if not recipe.paged:
            return [path.read_bytes()]
        return list(page_files([Part(merger.composition, merger.show(number).pages)], path, recipe))


def names_of_pages(name: str, count: int, suffix: str) -> list[str]:
    """Return the names of the files of a record called ``name``: numbered where there are several."""
    return [name + suffix] if count == 1 else [f"{name}-{page}{suffix}" for page in range(1, count + 1)]


def file_names(merger: Merger, numbers: Iterable[int], template: Template) -> Iterator[tuple[int, str]]:
    """Iterate over the numbers of records with the names of their files, without extensions: safe everywhere, and each
    different, in any case of letters."""
    used: set[str] = set()
    for number in numbers:
        record = {"record": str(number + 1)} | merger.record(number)
        bare = safe_name(template.of(record)) or f"record {number + 1}"
        name, count = bare, 2
        while unicodedata.normalize("NFKC", name).casefold() in used:
            name, count = f"{bare}-{count}", count + 1
        used.add(unicodedata.normalize("NFKC", name).casefold())
        yield number, name


def safe_name(text: str) -> str:
    """Return text as the name of a file without an extension; "" if nothing of it can be one."""
    bare = _UNSAFE.sub("-", unicodedata.normalize("NFC", text)).strip(" .-")
    bare = re.sub(r"\s+", " ", bare)[:LONGEST_NAME].rstrip(" .-")
    while len(bare.encode()) > 2 * LONGEST_NAME:
        bare = bare[:-1]
    return f"{bare}-" if _RESERVED.fullmatch(bare) else bare
