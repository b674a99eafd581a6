"""Commands that create jobs and files; ``arguments.py`` reads their options."""

from __future__ import annotations

import argparse
import atexit
import hashlib
import json
import os
import re
import shutil
import sys
import tempfile
from collections.abc import Iterable, Iterator
from datetime import datetime, timezone
from pathlib import Path
from typing import Any

from lexigon.copycommands import becomes_as_asked, cleaned_as_asked, keeping
from lexigon.core import lengths
from lexigon.core.check.findings import findings_of
from lexigon.core.colour.palettes import PaletteForm, read_palette, write_palette
from lexigon.core.colour.profiles import COATED
from lexigon.core.errors import LexigonError
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.desk import Desk
from lexigon.core.job import package
from lexigon.core.job.briefs import check_brief
from lexigon.core.job.intents import AddFont, AddPicture, AddSwatches, ChangePicture
from lexigon.core.job.intents.pictures import uses
from lexigon.core.job.model import Brief, Edges, OwnFont
from lexigon.core.job.serial import passed
from lexigon.core.job.starter import new_book
from lexigon.core.job.text import new_id
from lexigon.core.manuscript.pouring import poured
from lexigon.core.manuscript.reading import read as read_manuscript
from lexigon.core.manuscript.remarks import UNEXPECTED, remarks
from lexigon.core.picture.bringing import SUFFIXES, described, is_archive, pictures_in
from lexigon.core.picture.files import PictureError, facts_of
from lexigon.core.press.drawnfiles import normalised
from lexigon.core.press.facts import job_facts, pdf_facts
from lexigon.core.press.inkload import job_ink
from lexigon.core.press.recipes import page_range, recipe
from lexigon.core.type.fonts import FontError, shipped
from lexigon.core.type.vetting import vetted
from lexigon.outfile import OutFile, write_job

_SIZE = re.compile(
    r"\s{0,9}([\d.,]{1,20})\s{0,9}([a-z\"]{0,9})\s{0,9}[x×]\s{0,9}([\d.,]{1,20})\s{0,9}([a-z\"]{1,9})\s{0,9}", re.I
)
_BODY = re.compile(r"\s*(\d+(?:\.\d+)?)\s*/\s*(\d+(?:\.\d+)?)\s+(.+?)\s*")
LOOK = 3
"""The exit code of what was made and should be looked at."""


def counted(number: int, word: str) -> str:
    return f"{number:,} {word}{'s' * (number != 1)}"


def parse_size(text: str) -> tuple[float, float, str]:
    """``6x9in`` or ``148 x 210 mm`` as width, height (points) and the unit."""
    match = _SIZE.fullmatch(text)
    if not match:
        raise LexigonError(f"“{text}” is not a page size such as 6x9in or 148x210mm.", "size")
    unit = match[4].lower()
    width = lengths.parse(match[1] + (match[2] or unit), "mm")
    height = lengths.parse(match[3] + unit, "mm")
    return width, height, lengths.ALIASES.get(unit, unit)


def parse_edges(text: str, unit: str, field: str) -> Edges:
    """One length for all, or top,bottom,inside,outside."""
    values = [lengths.parse(part, unit) for part in text.split(",")]
    if len(values) == 1:
        values *= 4
    if len(values) != 4:
        raise LexigonError(f"Give one length or four for the {field}: top, bottom, inside, outside.", field)
    return Edges(*values)


def parse_body(text: str, own: Iterable[str] = ()) -> tuple[float, float, str]:
    """``11/15 EB Garamond`` as size, leading and family; ``own`` are families the job brings along."""
    match = _BODY.fullmatch(text)
    if not match:
        raise LexigonError(f"“{text}” is not a body setting such as “11/15 EB Garamond”.", "body")
    families = sorted({*own, *shipped().families})
    family = next((name for name in families if name.casefold() == match[3].casefold()), None)
    if family is None:
        raise LexigonError(f"There is no font “{match[3]}”. There are: {', '.join(families)}.", "body")
    size, leading = float(match[1]), float(match[2])
    if not 2 <= size <= 500 or not size * 0.5 <= leading <= 2000:
        raise LexigonError(
            "Body type is between 2 and 500 pt, its leading at least half as much and at most 2,000 pt.", "body"
        )
    return size, leading, family


def new(options: argparse.Namespace) -> int:
    width, height, unit = parse_size(options.page_size)
    brief = Brief(
        width, height, parse_edges(options.margins, unit, "margins"), parse_edges(options.bleed, unit, "bleed"),
        unit, options.facing, language=options.language,
    )  # fmt: skip
    passed(brief)
    check_brief(brief)
    fonts = [_font(Path(path)) for path in options.font]
    size, leading, family = parse_body(options.body, (font.family for font, _ in fonts))
    name = (
        options.name
        or Path(options.manuscript or options.output).stem.replace("_", " ").replace("-", " ").strip().capitalize()
    )
    job = new_book(name, brief, family=family, size=size, leading=leading)
    found = {font.file: path for font, path in fonts}
    desk = Desk(job, found.get)
    desk.do(*(AddFont(font) for font, _ in fonts))
    told: list[str] = []
    held: dict[str, bytes] = {}
    if options.manuscript:
        path = Path(options.manuscript)
        read = read_manuscript(
            path.read_bytes(), path.name, language=options.language, cleaned=cleaned_as_asked(options), mapping=becomes_as_asked(options.map_style, job)
        )  # fmt: skip
        pour, left = poured(desk.job, read, keeping(held))
        desk.do(pour)
        told += left
        words, chapters = counted(read.counts["words"], "word"), counted(read.counts.get("chapter", 0), "chapter")
        print(f"{words} in {read.encoding}, {chapters}")
        for remark in remarks({key: count for key, count in read.counts.items() if key not in UNEXPECTED}):
            print(f"  {remark}")
        told += (f"{remark}." for remark in remarks({key: read.counts.get(key, 0) for key in UNEXPECTED}))
        if read.counts["dropped"]:
            told.append(f"{counted(read.counts['dropped'], 'control character')} of the manuscript left out.")
    code = tell_findings(desk.composition, options.strict, told)
    write_job(Path(options.output), job, held | {name: path.read_bytes() for name, path in found.items()})
    print(
        f"{options.output}: {counted(len(job.pages), 'page')} of {lengths.show(width, unit)} × {lengths.show(height, unit)}"
    )
    return code


def tell_findings(composition: Composition, strict: bool, also: Iterable[str] = ()) -> int:
    """Tell what should be looked at; the exit code that says so. Raises LexigonError for any of it with ``strict``."""
    found = [*also, *(finding.text for finding in findings_of(composition))]
    for line in found:
        print(f"lexigon: {line}", file=sys.stderr)
    if found and strict:
        raise LexigonError("Nothing was exported, because --strict was given and there are findings.")
    return LOOK if found else 0


def _font(path: Path) -> tuple[OwnFont, Path]:
    data = path.read_bytes()  # a file that is not there is said to be so
    (found,) = vetted([path])
    if isinstance(found, str):
        raise FontError(f"{path.name} {found}.")
    kept = hashlib.sha256(data).hexdigest()
    return OwnFont(new_id("t"), path.name, kept, found.family, found.weight, found.italic), path


def open_job(path: str) -> Desk:
    """A job's file, composed. Its fonts and pictures are unpacked for as long as the command runs."""
    data = Path(path).read_bytes()
    job, found = package.read(data), {}
    if files := package.read_files(data):
        folder = tempfile.mkdtemp(prefix="lexigon-")
        atexit.register(shutil.rmtree, folder, ignore_errors=True)
        for name, content in files.items():
            found[name] = Path(folder, name)
            found[name].write_bytes(content)
        own = [font for font in job.fonts.values() if font.file in found]
        for font, verdict in zip(own, vetted([found[font.file] for font in own]), strict=True):
            if isinstance(verdict, str):
                print(f"lexigon: The font “{font.name}” {verdict}. Another font is used instead.", file=sys.stderr)
                found.pop(font.file)
    return Desk(job, found.get, today=moment(Path(path)).date())


def moment(path: Path) -> datetime:
    """The date an output bears: SOURCE_DATE_EPOCH if it is set, else when the job was written, as its file says: a copy says the same."""
    stamp = os.environ.get("SOURCE_DATE_EPOCH")
    if not stamp:
        return package.written_at(path.read_bytes())
    try:
        return datetime.fromtimestamp(int(stamp), timezone.utc)
    except (ValueError, OverflowError, OSError) as error:
        raise LexigonError(f"SOURCE_DATE_EPOCH is a number of seconds since 1970, not “{stamp[:40]}”.") from error


def output(options: argparse.Namespace) -> int:
    from lexigon.core.press.document import write_pdf
    from lexigon.core.press.images import png_pages, write_images

    different = {"landscape": options.landscape} if options.landscape else {}
    desk, chosen = open_job(options.job), recipe(options.recipe, **different)
    pages = page_range(options.pages or "", len(desk.job.pages))
    when, target = moment(Path(options.job)), Path(options.output)
    archived = chosen.kind == "png" and target.suffix.lower() == ".zip"
    if (chosen.kind != "png" or archived) and target.is_dir():
        raise LexigonError(f"“{target}” is a folder: give the name of the file to make.")
    code = tell_findings(desk.composition, options.strict)
    if chosen.kind != "png":
        with OutFile(target) as stream:
            write_pdf(desk.composition, chosen, stream, when, pages)
        print(f"{target}: {counted(len(pages), 'page')}")
        return code
    with tempfile.NamedTemporaryFile(suffix=".pdf") as pdf:
        write_pdf(desk.composition, recipe("screen", links=False), pdf, when, pages)
        pdf.flush()
        images = (
            (f"page-{index + 1:03}.png", data)
            for index, data in zip(pages, png_pages(pdf.name, chosen.ppi), strict=True)
        )
        if archived:
            with OutFile(target) as stream:
                write_images(stream, images, when)
        else:
            target.mkdir(parents=True, exist_ok=True)
            for name, data in images:
                (target / name).write_bytes(data)
    print(f"{target}: {counted(len(pages), 'image')}")
    return code


def swatches(options: argparse.Namespace) -> int:
    path = Path(options.job)
    desk = open_job(options.job)
    if options.import_file:
        before = len(desk.job.swatches)
        desk.do(AddSwatches(tuple(read_palette(Path(options.import_file).read_bytes())), options.group))
        files = package.read_files(path.read_bytes())
        write_job(path, desk.job, files)
        new = len(desk.job.swatches) - before
        print(f"{path}: {new} swatch{'' if new == 1 else 'es'} imported")
    if options.export_file:
        target = Path(options.export_file)
        form: PaletteForm = "gpl" if target.suffix == ".gpl" else "css" if target.suffix == ".css" else "lexigon"
        with OutFile(target) as stream:
            stream.write(write_palette(desk.job.swatches, form, desk.job.name))
        print(f"{target}: {len(desk.job.swatches)} swatches")
    if not options.import_file and not options.export_file:
        for one in desk.job.swatches.values():
            print(f"{one.group + ': ' if one.group else ''}{one.name}")
    return 0


def pictures(options: argparse.Namespace) -> int:
    path = Path(options.job)
    desk = open_job(options.job)
    if not options.paths:
        for one in desk.job.pictures.values():
            print(
                f"{one.name}: {one.width:,} x {one.height:,} pixels, {one.space}, {counted(len(uses(desk.job, one.id)), 'use')}"
            )
        return 0
    files = dict(package.read_files(path.read_bytes()))
    named = {one.name.casefold(): one for one in desk.job.pictures.values()}
    code, new, updated = 0, 0, 0
    for name, data in _picture_files(options.paths):
        try:
            data = normalised(data)
            made = described(new_id("i"), name, hashlib.sha256(data).hexdigest(), facts_of(data))
        except PictureError as error:
            print(f"“{name}”: {error}", file=sys.stderr)
            code = LOOK
            continue
        files[made.file] = data
        known = named.get(made.name.casefold())
        if known is not None and options.replace:
            desk.do(ChangePicture(known.id, file=made))
            updated += 1
        else:
            desk.do(AddPicture(made))
            new += 1
    write_job(path, desk.job, files)
    print(f"{path}: {counted(new, 'picture')} imported" + (f", {updated} updated" if updated else ""))
    return code


def _picture_files(paths: Iterable[str]) -> Iterator[tuple[str, bytes]]:
    """The picture files that paths lead to: files, those of folders, those of archives."""
    for given in map(Path, paths):
        if given.is_dir():
            yield from (
                (one.name, one.read_bytes()) for one in sorted(given.rglob("*")) if one.suffix.lower() in SUFFIXES
            )
        elif not given.is_file():
            raise LexigonError(f"There is no file or folder “{given}”.")
        elif is_archive(data := given.read_bytes()):
            yield from pictures_in(data)
        else:
            yield given.name, data


def _job_facts(path: Path) -> dict[str, Any]:
    composition = open_job(str(path)).composition
    ink = job_ink(composition, range(len(composition.job.pages)), COATED)
    return {"file": path.name, **job_facts(composition), "ink": ink}


def facts(options: argparse.Namespace) -> int:
    path = Path(options.file)
    path.stat()  # a file that is not there is said so, whatever its kind
    found = _job_facts(path) if path.suffix == ".lexigon" else pdf_facts(path)
    if options.json:
        print(json.dumps(found, indent=2, ensure_ascii=False))
        return 0
    for name, value in found.items():
        if isinstance(value, list) and value and isinstance(value[0], dict):
            value = ", ".join(
                item["name"] + ("" if item.get("embedded", True) else " (not embedded)") for item in value
            )
        elif isinstance(value, (list, tuple)):
            value = ", ".join(map(str, value)) or "none"
        elif isinstance(value, dict):
            value = "; ".join(f"{key}: {inner}" for key, inner in value.items()) or "none"
        print(f"{name.replace('_', ' '):12} {value}")
    return 0
