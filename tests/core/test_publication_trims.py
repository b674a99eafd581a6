"""Jobs of a publication that could not be bound together."""

from __future__ import annotations

from dataclasses import replace

from lexigon.core.document.model import Job
from lexigon.core.publication.trims import odd_trims
from tests.core.helpers import book


def sized(name: str, width: float, height: float) -> Job:
    made = book(width, height)
    made.id, made.brief = name, replace(made.brief, unit="in")
    return made


def test_the_job_of_another_trim_is_reported_with_both_sizes() -> None:
    jobs = [sized("a", 432, 648), sized("b", 360, 576), sized("c", 432, 648)]
    assert odd_trims(jobs) == {"b": "Its trim is 5 × 8 in; the others’ is 6 × 9 in."}


def test_what_differs_by_rounding_alone_is_the_same() -> None:
    assert not odd_trims([sized("a", 432, 648), sized("b", 432.02, 647.99)])
    assert not odd_trims([])
