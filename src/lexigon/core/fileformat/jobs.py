"""A whole job as JSON, in any format up to the present one, and its published schema."""

from __future__ import annotations

import json
from typing import Any

from lexigon.core.document.consistency import check
from lexigon.core.document.model import FORMAT, Job
from lexigon.core.errors import FormError
from lexigon.core.fileformat.upgrades import upgraded
from lexigon.core.fileformat.values import adapter, parsed, plain, read


def job_to_json(job: Job) -> str:
    return json.dumps(plain(job), ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def job_from_json(text: str | bytes) -> Job:
    """Read a job. Raises FormError for anything that is not one, or is newer than this version."""
    return job_from_plain(parsed(text, "The file's job.json"))


def job_from_plain(data: Any) -> Job:
    """Read a job of any format up to this one from JSON values, and check what binds its parts together."""
    if not isinstance(data, dict):
        raise FormError("The file's job.json does not hold a job.")
    written = data.get("format", 1)
    if isinstance(written, bool) or not isinstance(written, int) or written < 1:
        raise FormError("The file's job.json does not say which format it has.")
    if written > FORMAT:
        raise FormError(f"This job was written by a newer Lexigon (format {written}, this one reads {FORMAT}).")
    job: Job = read(Job, upgraded(data, written))
    check(job)
    return job


def schema() -> dict[str, Any]:
    """The JSON Schema of job.json (draft 2020-12)."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **adapter(Job).json_schema()}
