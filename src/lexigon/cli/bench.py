"""``lexigon bench``: measure the speed of Lexigon. Works in a source folder only."""

from __future__ import annotations

import argparse

from lexigon.cli.options import add_json, require_sources

EXAMPLES = ("lexigon bench", "lexigon bench --quick --json")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    add_json(parser)
    parser.add_argument("--quick", action="store_true", help="skip the comparisons")


def run(options: argparse.Namespace) -> int:
    require_sources("bench", "benchmarks")
    from benchmarks.run import main

    return main(as_json=options.json, quick=options.quick)
