"""Fixtures and settings for all tests; the environment is set in tests/environment.py."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from hypothesis import settings as hypothesis_settings

hypothesis_settings.register_profile("repeatable", derandomize=True)
hypothesis_settings.load_profile("repeatable")


@pytest.fixture(autouse=True)
def closed_jobs() -> Iterator[None]:
    """No job stays open from one test to the next."""
    yield
    from lexigon.bench.services import jobs

    jobs.forget_all()
