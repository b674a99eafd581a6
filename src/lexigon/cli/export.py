"""``lexigon export``: a job as PDF or page images."""

from __future__ import annotations

import argparse
import tempfile
from pathlib import Path

from lexigon.cli.files import OutFile
from lexigon.cli.jobs import cache_name, date_of, open_job, report_findings
from lexigon.cli.options import add_strict
from lexigon.core.errors import LexigonError
from lexigon.core.flow.composition import Composition
from lexigon.core.forks import processes_available
from lexigon.core.plural import counted
from lexigon.core.press.document import Part, write_pdf
from lexigon.core.press.recipes import RECIPES, Recipe, page_range, pdf_recipe, recipe
from lexigon.core.type.line_cache import line_cache
from lexigon.core.type.shaping import save_shaped_words

DESCRIPTION = (
    "Export a job. Recipes: print (PDF/X-4 with bleed and marks, coated paper), uncoated (the same for uncoated paper),"
    " trim\n(without marks), older (PDF/X-1a, no transparency), archive (PDF/A-1b), screen (single pages with links), "
    "png (page images)."
)
EXAMPLES = (
    "lexigon export flyer.lexigon --output flyer.pdf",
    "lexigon export novel.lexigon --recipe png --pages 1-8,12 --output pages.zip",
)


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument("--recipe", default="print", help=f"one of {', '.join(RECIPES)} (default: %(default)s)")
    parser.add_argument(
        "-o",
        "--output",
        "--out",
        required=True,
        metavar="FILE",
        help="the file to write; for page images a folder or a .zip",
    )
    parser.add_argument("--pages", help="pages to export, such as 1-8,12 (default: all)")
    parser.add_argument(
        "--landscape",
        choices=("rotated", "upright"),
        help="landscape pages: rotated to fit the sheet of the others, or upright",
    )
    add_strict(parser)


def run(options: argparse.Namespace) -> int:
    with line_cache(cache_name(Path(options.job))):
        code = _export(options)
    save_shaped_words()
    return code


def _export(options: argparse.Namespace) -> int:
    changes = {"landscape": options.landscape} if options.landscape else {}
    workspace, chosen = open_job(options.job), recipe(options.recipe, **changes)
    pages = page_range(options.pages or "", len(workspace.job.pages))
    target = Path(options.output)
    to_folder = chosen.paged and target.suffix.lower() != ".zip"
    if not to_folder and target.is_dir():
        raise LexigonError(f"“{target}” is a folder: type the name of a file.")
    code = report_findings(workspace.composition, options.strict)
    if chosen.paged:
        _write_images(workspace.composition, pages, chosen, options.job, target)
        print(f"{target}: {counted(len(pages), 'image')}")
        return code
    with OutFile(target) as stream:
        write_pdf(
            workspace.composition, chosen, stream, date_of(Path(options.job)), pages, processes=processes_available()
        )
    print(f"{target}: {counted(len(pages), 'page')}")
    return code


def _write_images(composition: Composition, pages: list[int], chosen: Recipe, job: str, target: Path) -> None:
    """Write page images to a folder, or to a zip archive if the name says so."""
    from lexigon.core.press.images import write_images
    from lexigon.core.press.page_files import page_files

    date = date_of(Path(job))
    with tempfile.NamedTemporaryFile(suffix=".pdf") as pdf:
        write_pdf(composition, pdf_recipe(chosen), pdf, date, pages)
        pdf.flush()
        names = (f"page-{index + 1:03}{chosen.suffix}" for index in pages)
        images = zip(names, page_files([Part(composition, pages)], Path(pdf.name), chosen), strict=True)
        if target.suffix.lower() == ".zip":
            with OutFile(target) as stream:
                write_images(stream, images, date)
            return
        target.mkdir(parents=True, exist_ok=True)
        for name, data in images:
            (target / name).write_bytes(data)
