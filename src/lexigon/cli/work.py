"""``lexigon work``: run a background worker of an installation."""

from __future__ import annotations

import argparse

DESCRIPTION = (
    "Run a worker that exports files and reads manuscripts. An installation needs at least one; several share the work."
)
EXAMPLES = ("lexigon work", "LEXIGON_DATA=/srv/lexigon lexigon work")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    """There are no options."""


def run(options: argparse.Namespace) -> int:
    from lexigon.site.launch import run_worker

    run_worker()
    return 0
