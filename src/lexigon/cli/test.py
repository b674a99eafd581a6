"""``lexigon test``: run all checks and tests. Works in a source folder only."""

from __future__ import annotations

import argparse

from lexigon.cli.options import require_sources

DESCRIPTION = "Install what the tests need and run them. Further arguments are passed to pytest."
EXAMPLES = ("lexigon test", "lexigon test --changed", "lexigon test tests/core -k spec")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--changed", action="store_true", help="run only the tests of code that changed since they last ran"
    )
    parser.add_argument("pytest", nargs="*", metavar="argument", help="arguments for pytest")


def run(options: argparse.Namespace) -> int:
    require_sources("test", "tools")
    from tools.checks import run_all, run_changed

    arguments = [argument for argument in options.pytest if argument != "--changed"]
    return run_changed(arguments) if options.changed else run_all(arguments)
