"""The job's JSON form: written from the dataclasses, read through pydantic, published as a JSON Schema."""

from __future__ import annotations

import json
from dataclasses import fields, is_dataclass
from functools import cache
from typing import Any

from pydantic import TypeAdapter, ValidationError

from lexigon.core.errors import LexigonError
from lexigon.core.job.model import FORMAT, Cover, Fold, Job


class FormError(LexigonError):
    """Data that is not a job, or not one this version reads."""


ALWAYS: dict[type, tuple[str, ...]] = {Job: ("format",), Cover: ("kind",), Fold: ("kind",)}
"""Values that are written even at their default, because readers tell by them what they have before them."""


@cache
def adapter(cls: Any) -> TypeAdapter[Any]:
    """The validator of a model class (pydantic builds it once)."""
    return TypeAdapter(cls)


def plain(value: Any) -> Any:
    """Dataclasses as plain JSON values; what is unset or at its default is left out."""
    if is_dataclass(value) and not isinstance(value, type):
        result = {}
        for item in fields(value):
            inner = getattr(value, item.name)
            if inner is not None and (inner != item.default or item.name in ALWAYS.get(type(value), ())):
                result[item.name] = plain(inner)
        return result
    if isinstance(value, dict):
        return {key: plain(inner) for key, inner in value.items()}
    if isinstance(value, (list, tuple)):
        return [plain(inner) for inner in value]
    if isinstance(value, float) and value.is_integer():
        return int(value)  # one way to write a number, so that equal jobs have equal files
    return value


def read(cls: Any, data: Any) -> Any:
    """Validate JSON values as an instance of ``cls``. Raises FormError naming the place and what is wrong."""
    try:
        return adapter(cls).validate_python(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = " > ".join(str(part) for part in first["loc"]) or "the whole"
        raise FormError(f"{first['msg']} (at {place})", field=".".join(map(str, first["loc"]))) from error


def job_to_json(job: Job) -> str:
    return json.dumps(plain(job), ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def job_from_json(text: str | bytes) -> Job:
    """Read a job. Raises FormError for anything that is not one, or is newer than this version."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise FormError("The file's job.json is not valid JSON.") from error
    if not isinstance(data, dict):
        raise FormError("The file's job.json does not hold a job.")
    if isinstance(data.get("format"), int) and data["format"] > FORMAT:
        raise FormError(f"This job was written by a newer Lexigon (format {data['format']}, this one reads {FORMAT}).")
    job: Job = read(Job, data)
    check(job)
    return job


def check(job: Job) -> None:
    """What the schema cannot say: names that must exist, spans that must lie in order."""

    def need(ok: bool, message: str) -> None:
        if not ok:
            raise FormError(message)

    need(job.main_story is None or job.main_story in job.stories, "The main text's story is missing.")
    need(len({page.id for page in job.pages}) == len(job.pages), "Two pages have the same id.")
    for page in job.pages:
        need(page.master is None or page.master in job.masters, f"Page {page.id} uses a master page that is missing.")
        for frame in page.frames:
            need(frame.story is None or frame.story in job.stories, f"Frame {frame.id} shows a story that is missing.")
    for story in job.stories.values():
        seen = set()
        for paragraph in story.paragraphs:
            need(paragraph.id not in seen, f"Two paragraphs of “{story.name}” have the same id.")
            seen.add(paragraph.id)
            at = 0
            for span in paragraph.spans:
                need(
                    at <= span.start < span.end <= len(paragraph.text),
                    f"Paragraph {paragraph.id} has spans that cross.",
                )
                at = span.end


def schema() -> dict[str, Any]:
    """The JSON Schema of job.json (draft 2020-12)."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **adapter(Job).json_schema()}
