"""Fonts handed in, listed, served to the job's owner alone, refused in words."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from lexigon.bench import models
from lexigon.bench.services import files
from lexigon.bench.services.jobs import forget, opened
from lexigon.core.brief.setup import field_values
from lexigon.core.fileformat.jobs import job_to_json
from tests.core.helpers import odd_font
from tests.web.conftest import from_rows, page_text

Edit = Callable[..., Any]


def hand_in(client: Client, job: models.Job, *files: tuple[str, bytes], status: int = 200) -> Any:
    uploads = [SimpleUploadedFile(name, data) for name, data in files]
    response = client.post(f"/job/{job.pk}/fonts/add/", {"file": uploads})
    assert response.status_code == status, response.content
    return response.json()


@pytest.fixture
def font(tmp_path: Path) -> bytes:
    return odd_font(tmp_path / "Wherry Sans.ttf").read_bytes()


def test_a_font_is_handed_in_used_and_taken_out(client: Client, job: models.Job, edit: Edit, font: bytes) -> None:
    answer = hand_in(client, job, ("Wherry.ttf", font))
    assert answer["brought"] == ["Wherry Sans"]
    assert "Wherry Sans" in answer["lists"]["families"]
    assert hand_in(client, job, ("Wherry.ttf", font))["new"] is False
    edit({"do": "put-style", "kind": "paragraph", "id": "body", "type": {"family": "Wherry Sans"}})
    listed = {row["family"]: row for row in client.get(f"/job/{job.pk}/fonts/").json()["families"]}
    row = listed["Wherry Sans"]
    assert row["own"]
    assert row["uses"] > 10
    (cut,) = row["cuts"]
    assert cut["cautions"] == []
    css = client.get(f"/job/{job.pk}/fonts/own.css").content.decode()
    assert cut["key"] in css
    address = css.split("url(")[1].split(")")[0]
    assert b"".join(client.get(address).streaming_content) == font  # type: ignore[arg-type]
    stranger = Client()
    stranger.force_login(
        User.objects.create_user("rook", password="a sea of mud"), backend="django.contrib.auth.backends.ModelBackend"
    )
    assert stranger.get(address).status_code == 404
    assert client.get(address[:-4] + "0000").status_code == 404
    with opened(job.pk) as live:
        assert from_rows(job) == job_to_json(live.job)
        page = live.workspace.composition.library.face("Wherry Sans")
        assert page.family == "Wherry Sans"
    forget(job.pk)  # another process, or a restart
    with opened(job.pk) as live:
        assert live.workspace.composition.library.has("Wherry Sans")
    edit({"do": "remove-font", "id": cut["id"]})
    with opened(job.pk) as live:
        assert not live.workspace.composition.library.has("Wherry Sans")
        assert live.job.paragraph_styles["body"].type.family == "Wherry Sans"
    with opened(job.pk) as live:
        first = live.job.stories["main"].paragraphs[1].id
    told = client.get(f"/job/{job.pk}/board/context/", {"page": 0, "story": "main", "p": first, "offset": 2}).json()
    assert "because Wherry Sans is missing" in told["text"]["fallbacks"]


def test_one_bad_file_among_good_ones_changes_nothing(client: Client, job: models.Job, font: bytes) -> None:
    before = from_rows(job)
    error = hand_in(client, job, ("Wherry.ttf", font), ("letter.ttf", b"Dear Sir"), status=400)["error"]
    assert error == "“letter.ttf” is broken, or no font. Nothing was changed."
    assert from_rows(job) == before
    own = files.Files(job.pk)
    assert own.path_of(files.name_of(b"Dear Sir")) is None
    own.keep(b"Dear Sir")  # in use as something else
    hand_in(client, job, ("letter.ttf", b"Dear Sir"), status=400)
    assert own.read(files.name_of(b"Dear Sir")) == b"Dear Sir"
    assert "Select one" in hand_in(client, job, status=400)["error"]


def test_the_package_carries_the_font(client: Client, job: models.Job, font: bytes) -> None:
    hand_in(client, job, ("Wherry.ttf", font))
    data = client.get(f"/job/{job.pk}/file/")
    content = data.content
    upload = SimpleUploadedFile("again.lexigon", content)
    client.post("/open/", {"file": upload})
    again = models.Job.objects.exclude(pk=job.pk).get()
    with opened(again.pk) as live:
        assert live.workspace.composition.library.has("Wherry Sans")


def test_the_brief_knows_the_jobs_own_fonts_and_keeps_a_missing_one(
    client: Client, job: models.Job, edit: Edit, font: bytes
) -> None:
    hand_in(client, job, ("Wherry.ttf", font))
    edit(
        {
            "do": "put-style",
            "kind": "paragraph",
            "id": "body",
            "type": {"family": "Wherry Sans"},
            "para": {"leading": 0, "leading_times": 1.4},
        }
    )
    with opened(job.pk) as live:
        (own,) = live.job.fonts
    edit({"do": "remove-font", "id": own})
    page = client.get(f"/job/{job.pk}/brief/")
    assert re.search(r"<option\s+selected>Wherry Sans</option>", page_text(page))
    with opened(job.pk) as live:
        values = field_values(live.job)
    assert values["leading"] == "15.4 pt"
    assert client.post(f"/job/{job.pk}/brief/", {**values, "name": "Renamed", "anchor": "margins"}).status_code == 302
    with opened(job.pk) as live:
        body = live.job.paragraph_styles["body"]
        assert (live.job.name, body.type.family, body.para.leading, body.para.leading_times) == (
            "Renamed",
            "Wherry Sans",
            0.0,
            1.4,
        )
