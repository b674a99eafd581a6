"""Older formats: the golden files of each open for ever, and nothing in them looks different."""

from __future__ import annotations

import json
import zipfile
from collections import Counter
from pathlib import Path
from typing import Any

import pytest

from lexigon.core.document.consistency import check
from lexigon.core.document.model import FORMAT, SIDES
from lexigon.core.editing.edits import apply_all, edits_from_plain
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.jobs import job_from_json, job_from_plain
from lexigon.core.fileformat.upgrades import STEPS, upgraded_edits
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.workspace import Workspace

GOLDEN = Path(__file__).parents[1] / "golden"
FILES = sorted(GOLDEN.glob("format-*.lexigon"))


def json_of(path: Path) -> dict[str, Any]:
    with zipfile.ZipFile(path) as archive:
        data: dict[str, Any] = json.loads(archive.read("job.json"))
    return data


def flat(objects: list[dict[str, Any]], group: str = "") -> list[dict[str, Any]]:
    """Objects as frames were before format 3, each with the outermost group it is in."""
    made = []
    for one in objects:
        content = one.get("content", {})
        if content.get("kind") == "group":
            made += flat(content["objects"], group or one["id"])
            continue
        frame = {name: value for name, value in one.items() if name not in ("place", "make", "content")}
        frame |= one.get("make", {}) | one.get("place", {}) | {"kind": "text" if content else "shape", "group": group}
        frame |= {name: value for name, value in content.items() if name not in ("kind", "main")}
        made.append(frame | {"role": "main" if content.get("main") else ""})
    return made


def frames_as_told(frames: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Frames of an older format with what they leave to be understood; a group of one is none."""
    groups = Counter(frame.get("group") for frame in frames)
    firsts: dict[str, str] = {}
    made = []
    for frame in frames:
        group = frame.get("group", "")
        named = firsts.setdefault(group, f"u{frame['id']}") if group and groups[group] > 1 else ""
        frame = {"kind": "text", "role": ""} | frame | {"group": named}
        if isinstance(frame.get("insets"), (int, float)):
            frame["insets"] = [frame["insets"]] * 4
        made.append(frame)
    return made


def renamed(paragraph: dict[str, Any]) -> dict[str, Any]:
    """A paragraph with what format 4 calls the object of a span under that name."""
    if "spans" not in paragraph:
        return paragraph
    names = {"field": "object"}
    return paragraph | {"spans": [{names.get(k, k): v for k, v in span.items()} for span in paragraph["spans"]]}


def comparable(data: dict[str, Any]) -> dict[str, Any]:
    """A job of any format without what formats differ in: frames by themselves, no layers, no inlays; objects in texts
    under one name."""
    objects = data.get("format", 1) >= 3
    frames = flat if objects else frames_as_told
    made = {
        name: value
        for name, value in data.items()
        if name not in ("format", "layers", "inlays")
        and (
            value
            or name
            not in (
                "pictures",
                "ink_sets",
                "tables",
                "markings",
                "lexicon",
                "listings",
                "terms",
                "note_kinds",
                "abroad",
                "table_styles",
                "record_sets",
                "record_adjustments",
                "acceptances",
            )
        )
    }
    held = "objects" if objects else "frames"
    made["stories"] = {
        key: story | {"paragraphs": list(map(renamed, story["paragraphs"]))} for key, story in made["stories"].items()
    }
    styles = made["paragraph_styles"].items()
    made["paragraph_styles"] = {
        key: {"level" if name == "outline" else name: value for name, value in style.items()} for key, style in styles
    }
    made["pages"] = [
        {**{name: value for name, value in page.items() if name != held}, "frames": frames(page.get(held, []))}
        for page in data["pages"]
    ]
    made["masters"] = {
        key: {**master, **{side: frames(master.get(side, [])) for side in SIDES}}
        for key, master in data.get("masters", {}).items()
    }
    return made


def test_there_is_a_step_to_each_format_and_a_golden_file_of_each_before() -> None:
    assert len(STEPS) == FORMAT - 1
    assert {int(path.name.split("-")[1]) for path in FILES} == set(range(1, FORMAT))


@pytest.mark.parametrize("path", FILES, ids=lambda path: path.stem)
def test_a_golden_file_opens_with_all_that_is_in_it(path: Path) -> None:
    job = package.read(path.read_bytes())
    assert job.format == FORMAT
    assert comparable(plain(job)) == comparable(json_of(path))
    fits = not Workspace(job).opening.edits
    assert fits or job.tables, (
        "its pages still fit its text; tables, which were told by a line until format 10, are set now"
    )


@pytest.mark.parametrize("written", range(1, FORMAT))
def test_an_older_log_is_replayed_and_undone(written: int) -> None:
    told = json.loads((GOLDEN / f"format-{written}-log.json").read_text())
    job = package.read((GOLDEN / f"format-{written}-magazine.lexigon").read_bytes())
    start = comparable(plain(job))
    for change in told["log"]:
        apply_all(job, edits_from_plain(upgraded_edits(change["edits"], written)))
        check(job)
    assert without_groups(comparable(plain(job))) == without_groups(comparable(told["end"]))
    for change in reversed(told["log"]):
        apply_all(job, edits_from_plain(upgraded_edits(change["inverse"], written)))
        check(job)
    assert without_groups(comparable(plain(job))) == without_groups(start)


def without_groups(data: dict[str, Any]) -> dict[str, Any]:
    """What an older log put apart stays where it stands, in its group or not."""
    for page in data["pages"]:
        for frame in page["frames"]:
            frame.pop("group", None)
    return data


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
    rect = next(page for page in job.pages if page.frames).frames[0].rect
    assert rect
    assert rect.width == 4
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
