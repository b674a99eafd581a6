"""Accounts: nobody tries passwords or makes accounts without end, or passes for somebody else."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest
from django.contrib.auth.models import User
from django.test import Client

from lexigon.bench import models
from lexigon.bench.services import attempts, store
from lexigon.bench.services.jobs import opened
from tests.web.conftest import page_text

pytestmark = pytest.mark.django_db


def sign_up(name: str, password: str = "low water at noon", **headers: str) -> int:
    answer = Client().post("/sign-up/", {"username": name, "password1": password, "password2": password}, **headers)
    return answer.status_code


@pytest.mark.parametrize("other", ["WREN.marsh", "wrеn.marsh", "wren.mаrsh", "wren.rnarsh", "ｗren.marsh"])
def test_a_name_that_looks_like_another_is_refused(other: str) -> None:
    assert sign_up("wren.marsh") == 302
    assert sign_up(other) == 200
    assert User.objects.count() == 1
    assert sign_up("ines.tarn") == 302


def test_a_password_that_is_the_name_is_refused() -> None:
    assert sign_up("lanternmaker", "lanternmaker") == 200
    assert sign_up("lanternmaker", "lanternmaker1") == 200
    assert not User.objects.exists()


def test_accounts_from_one_address_are_limited() -> None:
    most = attempts.LIMITS[models.Attempt.SIGN_UP][0]
    for n in range(most):
        assert sign_up(f"warden-{chr(97 + n)}") == 302
    assert sign_up("one-more") == 429
    assert sign_up("from-elsewhere", REMOTE_ADDR="10.0.0.9") == 302


def test_one_password_over_many_names_is_limited() -> None:
    for n in range(attempts.LIMITS[models.Attempt.SIGN_IN][0]):
        assert Client().post("/sign-in/", {"username": f"warden-{n}", "password": "tides"}).status_code == 200
    User.objects.create_user("wren", password="low water at noon")
    assert Client().post("/sign-in/", {"username": "wren", "password": "low water at noon"}).status_code == 429
    right = Client().post("/sign-in/", {"username": "wren", "password": "low water at noon"}, REMOTE_ADDR="10.0.0.9")
    assert right.status_code == 302


@pytest.mark.parametrize(
    ("origins", "secure"), [("https://layout.example", True), ("http://layout.example", False), ("", False)]
)
def test_cookies_are_for_secure_addresses_alone_where_there_are_no_others(
    origins: str, secure: bool, tmp_path: Path
) -> None:
    show = (
        "from lexigon.site import settings as s; print(s.SESSION_COOKIE_SECURE, s.CSRF_COOKIE_SECURE, "
        "s.SECURE_HSTS_SECONDS > 0)"
    )
    environment = {**os.environ, "LEXIGON_ORIGINS": origins, "LEXIGON_DATA": str(tmp_path), "PYTHONPATH": "src:."}
    done = subprocess.run([sys.executable, "-c", show], capture_output=True, text=True, check=True, env=environment)
    assert done.stdout.split() == [str(secure)] * 3


def test_what_somebody_may_do_in_a_shared_job_ends_with_its_sharing(
    client: Client, job: models.Job, user: User
) -> None:
    other = User.objects.create_user("ines", password="low water at noon")
    job.people.add(other)
    theirs = Client()
    theirs.force_login(other, backend="django.contrib.auth.backends.ModelBackend")
    with opened(job.pk) as live:
        version = job.versions.create(name="First", revision=live.revision, by=user)
    refused = theirs.post(f"/job/{job.pk}/versions/{version.pk}/drop/", HTTP_ACCEPT="application/json")
    assert refused.status_code == 400
    assert "Only the person who saved a version" in refused.json()["error"]
    running = models.Output.objects.create(job=job, recipe="print", revision=0, total=1, by=other)
    client.post(f"/job/{job.pk}/unshare/", {"user": other.pk})
    running.refresh_from_db()
    assert running.state == models.Output.STOPPED


@pytest.mark.django_db(transaction=True)
def test_the_files_of_an_output_go_with_its_job(job: models.Job, user: User) -> None:
    done = models.Output.objects.create(job=job, recipe="print", revision=0, total=1, by=user)
    place = done.proof
    store.put(place, b"%PDF-1.7")
    assert store.exists(place)
    job.delete()
    assert not store.exists(place)


def test_numbers_and_dates_are_those_of_the_country_that_somebody_prefers(client: Client) -> None:
    page = client.get("/preferences/?next=/new/")
    assert b"Germany: 1.234,5, 30. Nov., 14:05" in page.content
    assert client.post("/preferences/", {"region": "xx-YY", "unit": "mm", "next": "/"}).status_code == 200, (
        "said at its field"
    )
    answer = client.post("/preferences/", {"region": "de-DE", "unit": "cm", "next": "https://elsewhere.example/"})
    assert (answer.status_code, answer["Location"]) == (302, "/"), "an address of another site is not followed"
    page = page_text(client.get("/new/?kind=book"))
    assert 'data-decimal="," data-group="."' in page
    assert 'value="14,8 cm"' in page, "a book is A5 where people measure in centimetres"
    values = {"kind": "flyer", "name": "Flut", "width": "1.234,5 mm", "height": "148,5 mm"}
    answer = client.post("/brief/reading/", {"values": values}, content_type="application/json").json()
    assert not answer["errors"]
    client.post("/preferences/", {"region": "en-US", "unit": "", "next": "/"})
    assert 'value="6 in"' in client.get("/new/?kind=book").content.decode()
    assert 'data-region="en-US"' in client.get("/").content.decode()
