"""Pictures over the web: handed in single, in archives and as PDF pages, shown with a look, told by their colours;
nobody else's."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Callable
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from PIL import Image, ImageDraw

from lexigon.bench import models
from lexigon.bench.services import store
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import opened
from lexigon.core.colour.colours import Colour
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.picture.looks import Look, written
from tests.core.test_pictures import flat, saved
from tests.core.test_placed_pdf import advertisement
from tests.web.conftest import from_rows

Edit = Callable[..., Any]


def hand_in(client: Client, job: models.Job, *files: tuple[str, bytes], status: int = 200) -> Any:
    uploads = [SimpleUploadedFile(name, data) for name, data in files]
    response = client.post(f"/job/{job.pk}/pictures/", {"file": uploads})
    assert response.status_code == status, response.content
    return response.json()


def archive(*entries: tuple[str, bytes]) -> bytes:
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as made:
        for name, data in entries:
            made.writestr(name, data)
    return target.getvalue()


def test_an_archive_gives_its_pictures_and_says_what_it_left(client: Client, job: models.Job, edit: Edit) -> None:
    exif = Image.Exif()
    exif[0x0132], exif[0x013B] = "2026:05:04 06:12:00", "Wren of the Observatory"
    light = saved(flat(colour=(200, 180, 90)), "JPEG", exif=exif)
    packed = archive(
        ("flats/first light.jpg", light),
        ("../../etc/ebb.png", saved(flat())),
        ("flats/notes.txt", b"words"),
        ("__MACOSX/._ebb.png", b"x"),
        ("flats/broken.png", b"not a picture"),
        ("flats/.hidden.png", saved(flat())),
    )
    answer = hand_in(client, job, ("flats.zip", packed))
    made = {row["file"]["name"]: row["file"] for row in answer["pictures"]}
    assert set(made) == {"first light", "ebb"}
    assert made["first light"]["taken"] == "2026-05-04"
    assert made["first light"]["credit"] == "Wren of the Observatory"
    (refused,) = answer["refused"]
    assert "broken.png" in refused
    told = edit({"do": "add-picture", "picture": made["first light"]}, {"do": "add-picture", "picture": made["ebb"]})
    assert told["lists"]["pictures"][0]["short"] == "600 × 400, RGB"
    with opened(job.pk) as live:
        assert from_rows(job) == job_to_json(live.job)
    for data, words in (
        (archive(("a.txt", b"no")), "contains no pictures"),
        (packed[:200], "damaged"),
        (archive(("bomb.png", b"\0" * 70_000_000)), "at most 60 MB"),
    ):
        assert words in hand_in(client, job, ("more.zip", data), status=400)["error"]


def test_a_look_is_shown_and_what_is_none_is_not(client: Client, job: models.Job) -> None:
    picture = flat(colour=(10, 200, 30))
    (row,) = hand_in(client, job, ("ebb.png", saved(picture)))["pictures"]
    address = f"/job/{job.pk}/picture/{row['file']['file']}-320.webp"

    def seen(look: str) -> tuple[int, ...]:
        response = client.get(address, {"look": look})
        assert response.status_code == 200
        return Image.open(io.BytesIO(response.content)).convert("RGB").getpixel((100, 100))  # type: ignore[return-value]

    assert seen("") == pytest.approx((10, 200, 30), abs=6)
    assert seen(written(Look(inverted=True))) == pytest.approx((245, 55, 225), abs=6)
    rust = Look(inks="one", colours=(Colour("rgb", (0.8, 0.3, 0.1)),))
    dark = 1 - picture.convert("L").getpixel((0, 0)) / 255  # type: ignore[operator]
    assert seen(written(rust)) == pytest.approx([255 * (1 - (1 - v) * dark) for v in (0.8, 0.3, 0.1)], abs=6)
    for wrong in ("nonsense", "e30x", "A" * 4000):
        assert client.get(address, {"look": wrong}).status_code in (200, 404)
    assert client.get(address, {"look": "nonsense"}).status_code == 404
    stranger = Client()
    stranger.force_login(
        User.objects.create_user("rook", password="a sea of mud"), backend="django.contrib.auth.backends.ModelBackend"
    )
    assert stranger.get(address).status_code == 404
    assert stranger.get(f"/job/{job.pk}/picture/{row['file']['file']}/palette/").status_code == 404


def test_its_colours_stand_for_it(client: Client, job: models.Job) -> None:
    """Three even fields, three quarters, a fifth and a twentieth of it, and what reads on what (WCAG by hand: white on
    black is 21 : 1)."""
    picture = Image.new("RGB", (800, 500), (255, 255, 255))
    ImageDraw.Draw(picture).rectangle((0, 0, 799, 99), fill=(0, 0, 0))
    ImageDraw.Draw(picture).rectangle((0, 400, 199, 499), fill=(200, 30, 30))
    (row,) = hand_in(client, job, ("field.png", saved(picture)))["pictures"]
    answer = client.get(f"/job/{job.pk}/picture/{row['file']['file']}/palette/", {"count": "3"}).json()["colours"]
    assert [one["css"] for one in answer] == ["#ffffff", "#000000", "#c81e1e"]
    assert [one["share"] for one in answer] == pytest.approx([0.75, 0.2, 0.05], abs=0.01)
    assert answer[0]["others"][1] == pytest.approx(21, abs=0.1)
    assert answer[1]["inks"] == "C0 M0 Y0 K100", "black is black ink alone"


def test_a_pdf_is_a_picture_of_one_of_its_pages(client: Client, job: models.Job, edit: Edit) -> None:
    (row,) = hand_in(client, job, ("soup.pdf", advertisement()))["pictures"]
    file = row["file"]
    told = edit({"do": "add-picture", "picture": file})
    assert told["lists"]["pictures"][0]["short"].startswith("drawing, ")
    shown = client.get(f"/job/{job.pk}/picture/{file['file']}-1600.webp")
    assert max(Image.open(io.BytesIO(shown.content)).size) == 1600
    again = client.get(
        f"/job/{job.pk}/picture/{file['file']}/page/", {"page": "1", "key": file["id"], "name": "Soup"}
    ).json()["file"]
    assert again == file | {"name": "Soup"}
    wrong = client.get(f"/job/{job.pk}/picture/{file['file']}/page/", {"page": "9", "key": file["id"], "name": "Soup"})
    assert wrong.status_code == 400
    assert "no page 9" in wrong.json()["error"]


def test_a_file_that_was_missing_is_found_again(client: Client, job: models.Job, edit: Edit, user: User) -> None:
    data = saved(flat())
    (row,) = hand_in(client, job, ("ebb.png", data))["pictures"]
    edit({"do": "add-picture", "picture": row["file"]})
    name = row["file"]["file"]
    models.JobFile.objects.filter(name=name).delete()
    if path := store.local(f"files/{name[:2]}/{name}"):
        path.unlink()
    with opened(job.pk) as live:
        live.workspace.composition._files.clear()
        assert not live.workspace.composition.has_file(name)
    assert hand_in(client, job, ("again.png", data))["found"]
    assert Files(job.pk).path_of(name)
    with opened(job.pk) as live:
        assert live.workspace.composition.has_file(name)


def test_a_proof_is_of_the_job_and_of_whoever_asks_for_it(client: Client, job: models.Job, edit: Edit) -> None:
    """By a cookie: colours and pictures of the pages that come with every answer, the swatch that is being mixed; other
    cookies are none."""
    answer = hand_in(client, job, ("dusk.png", saved(flat(colour=(20, 30, 60)))))
    picture = answer["pictures"][0]["file"]
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    edit({"do": "add-picture", "picture": picture})
    edit(
        {
            "do": "place-picture",
            "page": page,
            "picture": picture["id"],
            "rect": {"x": 60, "y": 60, "width": 90, "height": 90},
        }
    )
    plain_ = client.get(f"/job/{job.pk}/board/pages/?page=0").json()["pages"]["0"]
    client.cookies["lexigon-proof"] = "uncoated"
    proof = client.get(f"/job/{job.pk}/board/pages/?page=0").json()["pages"]["0"]
    assert proof["hash"] != plain_["hash"]
    address = re.search(r'href="([^"]+proof=uncoated)"', proof["svg"])
    assert address
    pale, dark = (
        Image.open(io.BytesIO(client.get(one).content)).convert("L").getpixel((9, 9))
        for one in (address[1], address[1].split("?")[0])
    )
    assert pale > dark + 10
    rose = {"id": None, "name": "Rose", "space": "rgb", "values": [0.9, 0.1, 0.4]}
    on_uncoated = client.post(f"/job/{job.pk}/swatches/mix/", rose, content_type="application/json").json()
    client.cookies["lexigon-proof"] = "neon"
    on_coated = client.post(f"/job/{job.pk}/swatches/mix/", rose, content_type="application/json").json()
    assert (on_uncoated["paper"], on_coated["paper"]) == ("uncoated", "coated")
    assert on_uncoated["apart"] > on_coated["apart"] + 3
    assert client.get(f"/job/{job.pk}/board/pages/?page=0").json()["pages"]["0"]["hash"] == plain_["hash"]
