"""Fixtures and settings for all tests; the environment is set in tests/environment.py."""

from __future__ import annotations

import os
from collections.abc import Iterator

import pytest
from hypothesis import settings as hypothesis_settings

# No deadlines: how long an example takes says more about the machine than about the code.
hypothesis_settings.register_profile("repeatable", derandomize=True, deadline=None)
hypothesis_settings.register_profile("exploring", derandomize=False, print_blob=True, deadline=None)
hypothesis_settings.load_profile("exploring" if os.environ.get("LEXIGON_NIGHTLY") else "repeatable")


@pytest.fixture(autouse=True)
def closed_jobs() -> Iterator[None]:
    """No job stays open from one test to the next."""
    yield
    from lexigon.bench.services import jobs

    jobs.forget_all()
