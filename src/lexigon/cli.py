"""The ``lexigon`` command: jobs from the command line, on the same core as the application."""

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
from collections.abc import Iterable
from datetime import datetime, timezone
from pathlib import Path
from typing import Any

from lexigon.core import lengths
from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.job import package
from lexigon.core.job.intents import AddFont, PourText, check_brief
from lexigon.core.job.model import Brief, Edges, OwnFont
from lexigon.core.job.starter import new_book
from lexigon.core.job.text import new_id
from lexigon.core.manuscript.decode import decode
from lexigon.core.manuscript.plaintext import read_plain
from lexigon.core.press.document import write_pdf
from lexigon.core.press.facts import job_facts, pdf_facts
from lexigon.core.press.images import png_pages
from lexigon.core.press.recipes import page_range, recipe
from lexigon.core.type.fonts import FontError, examined, shipped

_SIZE = re.compile(r"\s*([\d.,]+)\s*([a-z\"]*)\s*[x×]\s*([\d.,]+)\s*([a-z\"]+)\s*", re.I)
_BODY = re.compile(r"\s*([\d.]+)\s*/\s*([\d.]+)\s+(.+?)\s*")


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
    """One length for all, or head,foot,inner,outer."""
    values = [lengths.parse(part, unit) for part in text.split(",")]
    if len(values) == 1:
        values *= 4
    if len(values) != 4:
        raise LexigonError(f"Give one length or four for the {field}: head, foot, inner, outer.", field)
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
    return float(match[1]), float(match[2]), family


def new(options: argparse.Namespace) -> None:
    width, height, unit = parse_size(options.size)
    brief = Brief(
        width, height, parse_edges(options.margins, unit, "margins"), parse_edges(options.bleed, unit, "bleed"),
        unit, options.facing, language=options.language,
    )  # fmt: skip
    check_brief(brief)
    fonts = [_font(Path(path)) for path in options.font]
    size, leading, family = parse_body(options.body, (font.family for font, _ in fonts))
    name = (
        options.name
        or Path(options.manuscript or options.out).stem.replace("_", " ").replace("-", " ").strip().capitalize()
    )
    job = new_book(name, brief, family=family, size=size, leading=leading)
    found = {font.file: path for font, path in fonts}
    desk = Desk(job, found.get)
    desk.do(*(AddFont(font) for font, _ in fonts))
    if options.manuscript:
        read = read_plain(
            decode(Path(options.manuscript).read_bytes()), language=options.language, quotes=options.quotes
        )
        desk.do(PourText("main", read.paragraphs))
        print(f"{read.counts['words']} words in {read.encoding}, {read.counts.get('chapter', 0)} chapters")
    Path(options.out).write_bytes(package.write(job, {name: path.read_bytes() for name, path in found.items()}))
    print(f"{options.out}: {len(job.pages)} pages of {lengths.show(width, unit)} × {lengths.show(height, unit)}")


def _font(path: Path) -> tuple[OwnFont, Path]:
    try:
        face = examined(path)
    except FontError as error:
        raise FontError(f"{path.name} {error}.") from error
    kept = hashlib.sha256(path.read_bytes()).hexdigest()
    return OwnFont(new_id("t"), path.name, kept, face.family, face.weight, face.italic), path


def open_job(path: str) -> Desk:
    """A job's file, composed. Its own fonts are unpacked for as long as the command runs."""
    data = Path(path).read_bytes()
    job, found = package.read(data), {}
    if job.fonts:
        folder = tempfile.mkdtemp(prefix="lexigon-")
        atexit.register(shutil.rmtree, folder, ignore_errors=True)
        for name, content in package.read_files(data).items():
            found[name] = Path(folder, name)
            found[name].write_bytes(content)
    return Desk(job, found.get, today=moment(Path(path)).date())


def moment(path: Path) -> datetime:
    """The date an output bears: SOURCE_DATE_EPOCH if it is set, else when the job's file was last changed."""
    stamp = os.environ.get("SOURCE_DATE_EPOCH")
    return datetime.fromtimestamp(float(stamp) if stamp else path.stat().st_mtime, timezone.utc)


def output(options: argparse.Namespace) -> None:
    desk, chosen = open_job(options.job), recipe(options.recipe)
    pages = page_range(options.pages or "", len(desk.job.pages))
    when, target = moment(Path(options.job)), Path(options.out)
    if chosen.kind != "png":
        with _replacing(target) as stream:
            write_pdf(desk.composition, chosen, stream, when, pages)
        print(f"{target}: {len(pages)} pages")
        return
    target.mkdir(parents=True, exist_ok=True)
    with tempfile.NamedTemporaryFile(suffix=".pdf") as pdf:
        write_pdf(desk.composition, recipe("screen", links=False), pdf, when, pages)
        pdf.flush()
        for index, data in zip(pages, png_pages(pdf.name, chosen.ppi), strict=True):
            (target / f"page-{index + 1:03}.png").write_bytes(data)
    print(f"{target}: {len(pages)} images")


class _replacing:
    """A file written beside its name and moved there when it is whole."""

    def __init__(self, target: Path) -> None:
        self.target, self.part = target, target.with_name(target.name + ".part")

    def __enter__(self) -> Any:
        self.stream = self.part.open("wb")
        return self.stream

    def __exit__(self, kind: object, *_: object) -> None:
        self.stream.close()
        if kind is None:
            self.part.replace(self.target)
        else:
            self.part.unlink()


def facts(options: argparse.Namespace) -> None:
    path = Path(options.file)
    path.stat()  # a file that is not there is said so, whatever its kind
    found = (
        {"file": path.name, **job_facts(open_job(str(path)).composition)}
        if path.suffix == ".lexigon"
        else pdf_facts(path)
    )
    if options.json:
        print(json.dumps(found, indent=2, ensure_ascii=False))
        return
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


def parser() -> argparse.ArgumentParser:
    root = argparse.ArgumentParser(prog="lexigon", description="Lay out books and press them into print-ready files.")
    commands = root.add_subparsers(dest="command", required=True)

    make = commands.add_parser("new", help="make a job, with a manuscript poured in")
    make.add_argument("--manuscript", help="a plain text file")
    make.add_argument("--name")
    make.add_argument("--size", default="6x9in")
    make.add_argument("--margins", default="0.75in,0.75in,0.875in,0.625in", help="head,foot,inner,outer")
    make.add_argument("--bleed", default="0", help="one length or head,foot,inner,outer")
    make.add_argument("--facing", action=argparse.BooleanOptionalAction, default=True)
    make.add_argument("--body", default="11/15 EB Garamond", help="size/leading family")
    make.add_argument("--font", action="append", default=[], help="a font file that the job brings along; any number")
    make.add_argument("--language", default="en-GB")
    make.add_argument("--quotes", action="store_true", help="set typographic quotes and dashes")
    make.add_argument("--out", required=True)
    make.set_defaults(run=new)

    out = commands.add_parser("output", help="write a PDF or page images of a job")
    out.add_argument("job")
    out.add_argument("--recipe", default="print")
    out.add_argument("--out", required=True)
    out.add_argument("--pages", help="such as 1-8,12")
    out.set_defaults(run=output)

    about = commands.add_parser("facts", help="what a PDF or a job holds")
    about.add_argument("file")
    about.add_argument("--json", action="store_true")
    about.set_defaults(run=facts)

    bench = commands.add_parser("bench", help="measure speed on a long novel")
    bench.add_argument("--json", action="store_true")
    bench.add_argument("--quick", action="store_true", help="leave out the comparisons")
    bench.set_defaults(run=_bench)

    demo = commands.add_parser("demo", help="start the application with the demo's jobs")
    demo.add_argument("--port", type=int, default=8700)
    demo.set_defaults(run=_demo)

    test = commands.add_parser("test", help="run all checks and tests")
    test.add_argument("pytest", nargs=argparse.REMAINDER)
    test.set_defaults(run=_test)
    return root


def _bench(options: argparse.Namespace) -> None:
    from benchmarks.run import main as run

    raise SystemExit(run(as_json=options.json, quick=options.quick))


def _demo(options: argparse.Namespace) -> None:
    from lexigon.serve import demo

    demo(options.port)


def _test(options: argparse.Namespace) -> None:
    from lexigon.checks import run_all

    raise SystemExit(run_all(options.pytest))


def main(arguments: list[str] | None = None) -> int:
    options = parser().parse_args(arguments)
    try:
        options.run(options)
    except LexigonError as error:
        print(f"lexigon: {error}", file=sys.stderr)
        return 2
    except OSError as error:
        print(f"lexigon: {error.strerror or error}: {error.filename}", file=sys.stderr)
        return 2
    return 0
