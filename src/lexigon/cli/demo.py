"""``lexigon demo``: start Lexigon on this computer with demo jobs."""

from __future__ import annotations

import argparse

from lexigon.cli.options import require_sources

DESCRIPTION = "Install what is needed, prepare the demo jobs, start Lexigon on this computer and print its address."
EXAMPLES = ("lexigon demo", "lexigon demo --port 8800")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--port", type=_port, default=8700, help="port of the web server (default: %(default)s)")


def run(options: argparse.Namespace) -> int:
    require_sources("demo", "demo")
    from lexigon.site.launch import run_demo

    run_demo(options.port)
    return 0


def _port(text: str) -> int:
    if not text.isdigit() or not 1 <= int(text) <= 65535:
        raise argparse.ArgumentTypeError(f"“{text}” is not a port. Type a number from 1 to 65535.")
    return int(text)
