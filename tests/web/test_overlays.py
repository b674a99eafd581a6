"""Printer's templates: laid over the board, kept with the job, and never in any output."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

import pikepdf
import pypdfium2 as pdfium
import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from PIL import Image

from lexigon.bench import models
from lexigon.bench.services.jobs import opened
from lexigon.core.press.recipes import RECIPES


def red_pdf(width: float = 432.0, height: float = 648.0) -> bytes:
    """A page that is red all over."""
    pdf = pikepdf.new()
    page = pdf.add_blank_page(page_size=(width, height))
    page.Contents = pdf.make_stream(f"1 0 0 rg 0 0 {width} {height} re f".encode())
    target = io.BytesIO()
    pdf.save(target)
    return target.getvalue()


def png(dpi: int = 300) -> bytes:
    target = io.BytesIO()
    Image.new("RGB", (600, 300), (255, 0, 0)).save(target, "PNG", dpi=(dpi, dpi))
    return target.getvalue()


def lay(client: Client, job: models.Job, name: str, data: bytes) -> Any:
    return client.post(f"/job/{job.pk}/overlay/", {"file": SimpleUploadedFile(name, data)})


def test_a_template_lies_centred_over_the_page_and_is_kept_in_the_file(client: Client, job: models.Job) -> None:
    overlay = lay(client, job, "template.pdf", red_pdf(500, 700)).json()["id"]
    answer = client.get(f"/job/{job.pk}/board/pages/?page=1").json()
    (line,) = answer["pages"]["1"]["lines"]["overlays"]
    assert (line["w"], line["h"], line["x"], line["y"], line["opacity"]) == (500, 700, -34, -26, 0.5)
    shown = Image.open(io.BytesIO(client.get(f"/job/{job.pk}/overlay/{overlay}.png").content))
    assert shown.convert("RGB").getpixel((5, 5)) == (255, 0, 0)
    packed = client.get(f"/job/{job.pk}/file/").content
    copy = client.post("/open/", {"file": SimpleUploadedFile("a.lexigon", packed)}).url.split("/")[2]
    assert client.get(f"/job/{copy}/overlay/{overlay}.png").status_code == 200
    with opened(job.pk) as live:
        live.undo(None)
        assert not live.job.overlays
    picture = lay(client, job, "template.png", png(150)).json()["id"]
    with opened(job.pk) as live:
        assert (live.job.overlays[picture].width, live.job.overlays[picture].height) == (
            pytest.approx(288, abs=0.1),
            pytest.approx(144, abs=0.1),
        )


@pytest.mark.parametrize("name", list(RECIPES))
def test_no_recipe_prints_a_template(client: Client, job: models.Job, name: str) -> None:
    lay(client, job, "template.pdf", red_pdf())
    data = {"recipe": name, "pages": "1-2"}
    answer = client.post(f"/job/{job.pk}/press/start/", json.dumps(data), content_type="application/json").json()
    response = client.get(answer["proof"] + "0.png")
    colours = Image.open(io.BytesIO(response.content)).convert("RGB").getcolors(1 << 24)
    assert not any(r > 200 and g < 60 and b < 60 for _, (r, g, b) in colours or [])
    content = b"".join(client.get(answer["file"]).streaming_content)
    if name == "svg":
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            assert not any(b"<image" in archive.read(page) for page in archive.namelist())
    elif not RECIPES[name].paged:
        document = pdfium.PdfDocument(content)
        assert all(item.type != pdfium.raw.FPDF_PAGEOBJ_IMAGE for item in document[0].get_objects())


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty|Choose"),
        (b"hello", "nor an SVG or PDF"),
        (b"%PDF-1.7 broken", "damaged"),
        (png()[:200], "damaged|not a PNG"),
    ],
)
def test_what_is_no_template_is_refused(client: Client, job: models.Job, data: bytes, says: str) -> None:
    response = lay(client, job, "x.pdf", data)
    assert response.status_code == 400
    assert any(part in response.json()["error"] for part in says.split("|"))
    with opened(job.pk) as live:
        assert not live.job.overlays


def test_a_template_is_its_owners(client: Client, job: models.Job) -> None:
    overlay = lay(client, job, "template.png", png()).json()["id"]
    other = Client()
    other.force_login(User.objects.create_user("ruff"), backend="django.contrib.auth.backends.ModelBackend")
    assert other.get(f"/job/{job.pk}/overlay/{overlay}.png").status_code == 404
    assert lay(other, job, "template.png", png()).status_code == 404
