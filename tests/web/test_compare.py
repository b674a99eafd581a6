"""Two states of a job beside each other: which pages stand against each other, and which look otherwise."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse

from lexigon.bench import models
from lexigon.bench.services.comparing import pairs
from lexigon.bench.services.jobs import opened
from tests.web.test_edits import typed

Edit = Callable[..., Any]


@pytest.mark.parametrize(
    ("old", "new", "made"),
    [
        ("abc", "abc", [(0, 0), (1, 1), (2, 2)]),
        ("abc", "ac", [(0, 0), (1, None), (2, 1)]),
        ("ab", "xab", [(None, 0), (0, 1), (1, 2)]),
        ("ab", "", [(0, None), (1, None)]),
        ("abc", "cab", [(2, 0), (0, 1), (1, 2)]),
        ("abcd", "ad", [(0, 0), (1, None), (2, None), (3, 1)]),
    ],
)
def test_pages_stand_against_each_other_by_what_they_are(old: str, new: str, made: list[Any]) -> None:
    assert pairs(old, new) == made


def test_a_version_is_compared_with_the_job_as_it_is(client: Client, job: models.Job, edit: Edit) -> None:
    with opened(job.pk) as live:
        story = live.job.stories["main"]
        at = next(
            n
            for n, p in enumerate(story.paragraphs)
            if len(p.text) > 200 and live.workspace.composition.page_of("main", p.id, 30) == 4
        )
        paragraph = story.paragraphs[at]
        first = live.job.pages[0].id
    client.post(reverse("version-keep", args=[job.pk]), '{"name": "Before"}', content_type="application/json")
    page = client.get(reverse("compare", args=[job.pk]), {"from": 0, "page": 5})
    assert page.context["data"]["versions"][0]["name"] == "Before"
    differences = lambda **query: client.get(reverse("compare-differences", args=[job.pk]), query).json()["changed"]  # noqa: E731
    assert differences(**{"from": 0}) == []
    edit(typed(paragraph.id, 30, "qqqq"), base=0)
    edit({"do": "add-shape", "page": first, "rect": {"x": 9, "y": 9, "width": 90, "height": 90}}, base=1)
    found = differences(**{"from": 0})
    assert {one["page"] for one in found} >= {0, 4}
    assert all(one["how"] == "changed" and one["page"] == one["old"] for one in found)
    assert [one["page"] for one in differences(**{"from": 1})] == [0]
    sides = client.get(reverse("compare-sides", args=[job.pk]), {"from": 0, "page": 5}).json()
    before, after = (next(one["svg"] for one in sides[name] if one["index"] == 4) for name in ("before", "after"))
    assert before != after
    assert "qqqq" in after
    assert "qqqq" not in before
    edit({"do": "delete-pages", "pages": [first]}, base=2)
    gone = [one for one in differences(**{"from": 2}) if one["how"] == "gone"]
    assert [one["old"] for one in gone] == [0]
    sides = client.get(reverse("compare-sides", args=[job.pk]), {"from": 2, "page": 1, "gone": 1}).json()
    assert (sides["page"], sides["after"], sides["before"][0]["index"]) == (None, [], 0)
    assert client.get(reverse("compare-differences", args=[job.pk]), {"from": 99}).status_code == 400
    assert client.get(reverse("compare", args=[job.pk]), {"from": -1}).status_code == 422
