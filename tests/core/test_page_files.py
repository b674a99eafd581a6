"""Pages as images and as SVG: what other programs see in them is what the PDF has."""

from __future__ import annotations

import io
from datetime import datetime, timezone
from pathlib import Path
from xml.etree import ElementTree

import pytest
import resvg_py
import zxingcpp
from PIL import Image, ImageChops, ImageStat

from lexigon.core.document.model import Job
from lexigon.core.merge.output import names_of_pages, record_files
from lexigon.core.press.images import page_image, srgb_profile
from lexigon.core.press.recipes import RECIPES, recipe
from tests.core.test_merge import Find, cards, find, job, merger_of  # noqa: F401

WHEN = datetime(2026, 5, 4, tzinfo=timezone.utc)


def seen(name: str, content: bytes) -> Image.Image:
    """A page as a reader of its format sees it, on white."""
    if name == "svg":
        content = bytes(resvg_py.svg_to_bytes(svg_string=content.decode(), background="#ffffff", dpi=72, zoom=3))
    return Image.open(io.BytesIO(content)).convert("RGB")


@pytest.mark.parametrize("name", [one.id for one in RECIPES.values() if one.paged])
def test_files_of_pages_show_what_the_pdf_shows(
    name: str,
    job: Job,  # noqa: F811
    find: Find,  # noqa: F811
    tmp_path: Path,
) -> None:
    merger = merger_of(job, find)
    pdf = tmp_path / "record.pdf"
    pdf.write_bytes(record_files(merger, 3, recipe("screen", links=False), WHEN)[0])
    files = record_files(merger, 3, recipe(name), WHEN)
    assert names_of_pages("card", len(files), recipe(name).suffix) == [f"card-{n}{recipe(name).suffix}" for n in (1, 2)]
    codes = []
    for index, content in enumerate(files):
        page = seen(name, content)
        expected = page_image(pdf, index, 216).resize(page.size)
        difference = ImageStat.Stat(ImageChops.difference(page, expected).convert("L")).mean[0]
        assert difference < 2.5, "but for how edges are smoothed"
        codes += [one.text for one in zxingcpp.read_barcodes(page.resize((page.width * 2, page.height * 2)))]
    assert len(codes) == 1
    assert merger.record(3)["phone"] in codes[0]


def test_a_jpeg_has_its_resolution_and_its_profile(job: Job, find: Find) -> None:  # noqa: F811
    content = record_files(merger_of(job, find), 0, recipe("jpeg"), WHEN)[0]
    picture = Image.open(io.BytesIO(content))
    assert picture.format == "JPEG"
    assert picture.info["dpi"] == (150, 150)
    assert picture.info["icc_profile"] == srgb_profile()


def test_an_svg_needs_no_other_file(job: Job, find: Find) -> None:  # noqa: F811
    roots = [ElementTree.fromstring(one) for one in record_files(merger_of(job, find), 3, recipe("svg"), WHEN)]
    assert [one.attrib["width"] for one in roots] == ["240.9449pt"] * 2
    assert not any(list(one.iter("{http://www.w3.org/2000/svg}text")) for one in roots)
    pictures = [one.attrib["href"] for root in roots for one in root.iter("{http://www.w3.org/2000/svg}image")]
    assert pictures, "the portrait"
    assert all(one.startswith(("data:image/jpeg;base64,", "data:image/png;base64,")) for one in pictures)
