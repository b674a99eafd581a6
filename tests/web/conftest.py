from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator
from functools import cache
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.db import connection
from django.test import Client
from django.urls import URLResolver, get_resolver

from lexigon.bench.models import Job
from lexigon.bench.services import rows
from lexigon.bench.services.jobs import create_job
from lexigon.bench.services.reading import is_reading
from lexigon.core.document.story_text import new_id
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from tests.core.helpers import poured

WRITES = re.compile(r"\s*(INSERT|UPDATE|DELETE|REPLACE)\b", re.IGNORECASE)


@pytest.fixture(autouse=True)
def quick_passwords(settings: Any) -> None:
    """Nobody's password has to be kept safe here; hashing one as Django does takes a second."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture(autouse=True)
def reads_write_nothing(db: None) -> Iterator[None]:
    """No request that only reads may write, whatever test makes it."""

    def refuse(execute: Any, sql: str, params: Any, many: bool, context: dict[str, Any]) -> Any:
        assert not (is_reading() and WRITES.match(sql)), f"written while reading: {sql}"
        return execute(sql, params, many, context)

    with connection.execute_wrapper(refuse):
        yield


def addresses(resolver: Any = None, before: str = "") -> Iterator[tuple[str, str]]:
    """The route and the name of every address of the application."""
    for pattern in (resolver or get_resolver()).url_patterns:
        route = before + str(pattern.pattern)
        if isinstance(pattern, URLResolver):
            yield from addresses(pattern, route)
        else:
            yield route, str(pattern.name)


def page_text(answer: Any) -> str:
    """Return the text of an answer with every run of white space as one space, as a browser shows it."""
    return " ".join(answer.content.decode().split())


@cache
def some_book() -> str:
    return job_to_json(poured(40).job)


@pytest.fixture
def user(db: None) -> User:
    return User.objects.create_user("wren", password="tides and birds")


@pytest.fixture
def client(user: User) -> Client:
    client = Client()
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return client


@pytest.fixture
def job(user: User) -> Job:
    book = job_from_json(some_book())
    book.id = new_id("j")
    return create_job(user, book)


@pytest.fixture
def edit(client: Client, job: Job) -> Callable[..., Any]:
    """Send intents; the answer, with its status, as a dict."""

    def send(*intents: dict[str, Any], base: int | None = None, status: int = 200, **more: Any) -> Any:
        data = {"intents": intents, "view": [1, 2], **more}
        if base is not None:
            data["base"] = base
        response = client.post(f"/job/{job.pk}/edits/", json.dumps(data), content_type="application/json")
        assert response.status_code == status, response.content
        return response.json()

    return send


def from_rows(job: Job) -> str:
    """The job as its rows have it, whatever is held open."""
    return job_to_json(rows.load(job.pk)[1])
