"""``lexigon new``: create a job, with a manuscript if there is one."""

from __future__ import annotations

import argparse
import hashlib
import re
from collections.abc import Iterable
from pathlib import Path
from typing import cast

from lexigon.cli.jobs import cache_name, report_findings, write_job
from lexigon.cli.manuscripts import cleanup_choices, picture_store, style_mapping
from lexigon.cli.options import REPEATABLE, add_strict
from lexigon.core import lengths
from lexigon.core.document.brief_rules import check_brief
from lexigon.core.document.model import Brief, Edges, OwnFont, Unit
from lexigon.core.document.starter import new_book
from lexigon.core.document.story_text import new_id
from lexigon.core.editing.intents import AddFont
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import passed
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.pouring import poured
from lexigon.core.manuscript.reading import read
from lexigon.core.manuscript.review.remarks import UNEXPECTED, remarks
from lexigon.core.plural import counted
from lexigon.core.type.fonts import FontError, shipped
from lexigon.core.type.line_cache import line_cache
from lexigon.core.type.vetting import vetted

SIZE = re.compile(
    r"\s{0,9}([\d.,]{1,20})\s{0,9}([a-z\"]{0,9})\s{0,9}[x×]\s{0,9}([\d.,]{1,20})\s{0,9}([a-z\"]{1,9})\s{0,9}", re.I
)
BODY = re.compile(r"\s*(\d+(?:\.\d+)?)\s*/\s*(\d+(?:\.\d+)?)\s+(.+?)\s*")

DESCRIPTION = "Create a job file. With --manuscript the text is poured into it, and pages are added as it needs them."
EXAMPLES = (
    "lexigon new --manuscript novel.docx --page-size 6x9in --output novel.lexigon",
    "lexigon new --page-size 148x210mm --margins 15mm,20mm,18mm,12mm --bleed 3mm --output flyer.lexigon",
)


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--manuscript", metavar="FILE", help="a DOCX, ODT, RTF, Markdown, HTML or plain text file")
    parser.add_argument("--name", help="name of the job (default: that of the output file)")
    parser.add_argument(
        "--page-size",
        "--size",
        metavar="SIZE",
        default="6x9in",
        help="width x height with a unit (default: %(default)s)",
    )
    parser.add_argument(
        "--margins", default="0.75in,0.75in,0.875in,0.625in", help="top,bottom,inside,outside (default: %(default)s)"
    )
    parser.add_argument("--bleed", default="0", help="one length, or top,bottom,inside,outside (default: none)")
    parser.add_argument(
        "--facing", action=argparse.BooleanOptionalAction, default=True, help="facing or single pages (default: facing)"
    )
    parser.add_argument(
        "--body",
        metavar="SETTING",
        default="11/15 EB Garamond",
        help="size/leading and family of the body text (default: %(default)s)",
    )
    parser.add_argument(
        "--font",
        metavar="FILE",
        action="append",
        default=[],
        help=f"an .otf or .ttf file to include in the job; {REPEATABLE}",
    )
    parser.add_argument(
        "--language", default="en-GB", help="language of the text, such as de-DE (default: %(default)s)"
    )
    parser.add_argument(
        "--typographic-quotes",
        "--quotes",
        action="store_true",
        help="convert straight quotation marks and hyphens used as dashes",
    )
    parser.add_argument(
        "--clean-up",
        "--clean",
        action="append",
        default=[],
        metavar="NAME",
        help=f"apply a clean-up that “lexigon survey” lists; {REPEATABLE}",
    )
    parser.add_argument(
        "--no-clean-up",
        "--leave",
        action="append",
        default=[],
        metavar="NAME",
        help=f"skip a clean-up that is applied by default; {REPEATABLE}",
    )
    parser.add_argument(
        "--map-style",
        "--becomes",
        action="append",
        default=[],
        metavar="STYLE=ID",
        help=f"the style of the job that a style of the manuscript becomes, such as “Heading 9=section”; {REPEATABLE}",
    )
    add_strict(parser)
    parser.add_argument("-o", "--output", "--out", required=True, metavar="FILE", help="the job file to write")


def run(options: argparse.Namespace) -> int:
    width, height, unit = parse_size(options.page_size)
    brief = Brief(
        width,
        height,
        parse_edges(options.margins, unit, "margins"),
        parse_edges(options.bleed, unit, "bleed"),
        cast("Unit", unit),  # checked by passed()
        options.facing,
        language=options.language,
    )
    passed(brief)
    check_brief(brief)
    fonts = [_font(Path(path)) for path in options.font]
    size, leading, family = parse_body(options.body, (font.family for font, _ in fonts))
    source = Path(options.manuscript or options.output)
    name = options.name or source.stem.replace("_", " ").replace("-", " ").strip().capitalize()
    job = new_book(name, brief, family=family, size=size, leading=leading)
    paths = {font.file: path for font, path in fonts}
    pictures: dict[str, bytes] = {}
    with line_cache(cache_name(Path(options.output))):
        workspace = Workspace(job, paths.get)
        workspace.do(*(AddFont(font) for font, _ in fonts))
        others = _pour(workspace, options, pictures) if options.manuscript else []
    code = report_findings(workspace.composition, options.strict, others)
    write_job(Path(options.output), job, pictures | {name: path.read_bytes() for name, path in paths.items()})
    dimensions = f"{lengths.show(width, unit)} × {lengths.show(height, unit)}"
    print(f"{options.output}: {counted(len(job.pages), 'page')} of {dimensions}")
    return code


def _pour(workspace: Workspace, options: argparse.Namespace, pictures: dict[str, bytes]) -> list[str]:
    """Pour the manuscript into the job, and print what it contains. Returns findings; its pictures go to
    ``pictures``."""
    path = Path(options.manuscript)
    manuscript = read(
        path.read_bytes(),
        path.name,
        language=options.language,
        cleaned=cleanup_choices(options),
        mapping=style_mapping(options.map_style, workspace.job),
    )
    pour, findings = poured(workspace.job, manuscript, picture_store(pictures))
    workspace.do(pour)
    counts = manuscript.counts
    chapters = counted(counts.get("chapter", 0), "chapter")
    print(f"{counted(counts['words'], 'word')} in {manuscript.encoding}, {chapters}")
    for remark in remarks({key: count for key, count in counts.items() if key not in UNEXPECTED}):
        print(f"  {remark}")
    unexpected = [f"{remark}." for remark in remarks({key: counts.get(key, 0) for key in UNEXPECTED})]
    if counts["dropped"]:
        unexpected.append(f"{counted(counts['dropped'], 'control character')} of the manuscript left out.")
    return [*findings, *unexpected]


def _font(path: Path) -> tuple[OwnFont, Path]:
    data = path.read_bytes()  # raises OSError for a missing file, which main() reports
    (verdict,) = vetted([path])
    if isinstance(verdict, str):
        raise FontError(f"{path.name} {verdict}.")
    file = hashlib.sha256(data).hexdigest()
    return OwnFont(new_id("t"), path.name, file, verdict.family, verdict.weight, verdict.italic), path


def parse_size(text: str) -> tuple[float, float, str]:
    """``6x9in`` or ``148 x 210 mm`` as width, height (points) and the unit. Raises LexigonError."""
    match = SIZE.fullmatch(text)
    if not match:
        raise LexigonError(f"“{text}” is not a page size such as 6x9in or 148x210mm.", "size")
    unit = match[4].lower()
    width = lengths.parse(match[1] + (match[2] or unit), "mm")
    height = lengths.parse(match[3] + unit, "mm")
    return width, height, lengths.ALIASES.get(unit, unit)


def parse_edges(text: str, unit: str, field: str) -> Edges:
    """One length for all, or top,bottom,inside,outside. Raises LexigonError."""
    values = [lengths.parse(part, unit) for part in text.split(",")]
    if len(values) == 1:
        values *= 4
    if len(values) != 4:
        raise LexigonError(f"Type one length or four for the {field}: top, bottom, inside, outside.", field)
    return Edges(*values)


def parse_body(text: str, own: Iterable[str] = ()) -> tuple[float, float, str]:
    """``11/15 EB Garamond`` as size, leading and family; ``own`` are families of fonts in the job. Raises
    LexigonError."""
    match = BODY.fullmatch(text)
    if not match:
        raise LexigonError(f"“{text}” is not a body setting such as “11/15 EB Garamond”.", "body")
    families = sorted({*own, *shipped().families})
    family = next((name for name in families if name.casefold() == match[3].casefold()), None)
    if family is None:
        raise LexigonError(f"There is no font “{match[3]}”. Available are {', '.join(families)}.", "body")
    size, leading = float(match[1]), float(match[2])
    if not 2 <= size <= 500 or not size * 0.5 <= leading <= 2000:
        raise LexigonError(
            "Body type is between 2 and 500 pt, its leading at least half as much and at most 2,000 pt.", "body"
        )
    return size, leading, family
