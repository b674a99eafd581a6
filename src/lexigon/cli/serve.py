"""``lexigon serve``: run the web server of an installation."""

from __future__ import annotations

import argparse

EXAMPLES = ("lexigon serve --bind 127.0.0.1:8700", "lexigon serve --bind unix:/run/lexigon.sock --workers 4")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--bind", default="127.0.0.1:8700", metavar="ADDRESS", help="address:port, or unix:/path (default: %(default)s)"
    )
    parser.add_argument(
        "--workers", type=int, default=2, metavar="N", help="number of processes (default: %(default)s)"
    )


def run(options: argparse.Namespace) -> int:
    from lexigon.site.launch import run_server

    run_server(options.bind, options.workers)
    return 0
