"""Older formats: the golden files of each open for ever, and nothing in them looks different."""

from __future__ import annotations

import json
import zipfile
from pathlib import Path
from typing import Any

import pytest

from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.job import package
from lexigon.core.job.edits import apply_all, edits_from_plain
from lexigon.core.job.model import FORMAT
from lexigon.core.job.serial import job_from_json, job_from_plain, plain
from lexigon.core.job.upgrades import STEPS, upgraded_edits

GOLDEN = Path(__file__).parents[1] / "golden"
FILES = sorted(GOLDEN.glob("format-*.lexigon"))


def json_of(path: Path) -> dict[str, Any]:
    with zipfile.ZipFile(path) as archive:
        data: dict[str, Any] = json.loads(archive.read("job.json"))
    return data


def without_format(data: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in data.items() if name != "format"}


def test_there_is_a_step_to_each_format_and_a_golden_file_of_each_before() -> None:
    assert len(STEPS) == FORMAT - 1
    assert {int(path.name.split("-")[1]) for path in FILES} == set(range(1, FORMAT))


@pytest.mark.parametrize("path", FILES, ids=lambda path: path.stem)
def test_a_golden_file_opens_with_all_that_is_in_it(path: Path) -> None:
    job = package.read(path.read_bytes())
    assert job.format == FORMAT
    assert without_format(plain(job)) == without_format(json_of(path))
    assert not Desk(job).opening.edits, "its pages still fit its text"


def test_a_log_of_format_1_is_replayed_and_undone() -> None:
    told = json.loads((GOLDEN / "format-1-log.json").read_text())
    job = package.read((GOLDEN / "format-1-magazine.lexigon").read_bytes())
    start = plain(job)
    for change in told["log"]:
        apply_all(job, edits_from_plain(upgraded_edits(change["edits"], 1)))
    assert without_format(plain(job)) == without_format(told["end"])
    for change in reversed(told["log"]):
        apply_all(job, edits_from_plain(upgraded_edits(change["inverse"], 1)))
    assert plain(job) == start


def test_what_format_1_allowed_and_nothing_could_be_set_in_is_mended() -> None:
    data = json_of(GOLDEN / "format-1-magazine.lexigon")
    page = next(page for page in data["pages"] if page.get("frames"))
    page["frames"][0]["rect"]["width"] = -3
    story = next(iter(data["stories"].values()))
    story["paragraphs"][0]["text"] = "Low\0water\x07"
    story["paragraphs"][0].pop("spans", None)
    data["name"] = "Slack\x0bWater"
    data["paragraph_styles"]["lost"] = {"id": "lost", "name": "Lost", "based_on": "gone", "next": "gone too"}
    job = job_from_plain(data)
    assert next(page for page in job.pages if page.frames).frames[0].rect.width == 4
    assert next(iter(job.stories.values())).paragraphs[0].text == "Low water "
    assert job.name == "Slack Water"
    assert job.paragraph_styles["lost"].based_on is None
    with pytest.raises(LexigonError):
        job_from_plain({**data, "format": 2})


@pytest.mark.parametrize("written", [0, -1, 2.5, True, "2", None, FORMAT + 1])
def test_a_format_that_is_none_or_newer_is_said(written: Any) -> None:
    data = json_of(GOLDEN / "format-1-invitation.lexigon")
    with pytest.raises(LexigonError, match=r"format|newer"):
        job_from_json(json.dumps({**data, "format": written}))
