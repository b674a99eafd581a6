"""``lexigon test``: run all checks and tests. Works in a source folder only."""

from __future__ import annotations

import argparse

from lexigon.cli.options import require_sources

DESCRIPTION = "Install what the tests need and run them. Further arguments are passed to pytest."
EXAMPLES = ("lexigon test", "lexigon test tests/core -k spec")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("pytest", nargs="*", metavar="argument", help="arguments for pytest")


def run(options: argparse.Namespace) -> int:
    require_sources("test", "tools")
    from tools.checks import run_all

    return run_all(options.pytest)
