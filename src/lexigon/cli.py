"""The ``lexigon`` command: jobs from the command line, on the same core as the application.

It ends with 0 when all is well, with 2 when something was refused and nothing was written, and with 3 when it was done but there are
findings (one line each on standard error). ``arguments`` has the commands and their options.
"""

from __future__ import annotations

import argparse
import os
import sys
from importlib import import_module

from lexigon.arguments import parser
from lexigon.core.errors import LexigonError

REFUSED = 2


def _bench(options: argparse.Namespace) -> int:
    from benchmarks.run import main as run

    return run(as_json=options.json, quick=options.quick)


def _test(options: argparse.Namespace) -> int:
    from lexigon.checks import run_all

    return run_all(options.pytest)


def _serve(options: argparse.Namespace) -> None:
    from lexigon import serve

    {
        "demo": lambda: serve.demo(options.port),
        "serve": lambda: serve.serve(options.bind, options.workers),
        "work": serve.work,
    }[options.command]()


OWN = {"bench": _bench, "test": _test, "demo": _serve, "serve": _serve, "work": _serve}
"""Commands whose functions do not take the options as they are."""


def _run(options: argparse.Namespace) -> int:
    """Carry out a command; only its own module is imported."""
    if options.command in OWN:
        return OWN[options.command](options) or 0
    module, function = options.run.split(":")
    return getattr(import_module(f"lexigon.{module}"), function)(options) or 0


def main(arguments: list[str] | None = None) -> int:
    options, more = parser().parse_known_args(arguments)
    if more and options.command != "test":
        parser().error(f"unrecognized arguments: {' '.join(more)}")
    if options.command == "test":  # pytest's own options, with a path or without
        given = sys.argv[1:] if arguments is None else arguments
        options.pytest = given[given.index("test") + 1 :]
    try:
        for name, value in vars(options).items():
            if isinstance(value, str) and any("\ud800" <= sign <= "\udfff" for sign in value):
                raise LexigonError(f"The {name} contains bytes that are not UTF-8 text.")
        code = _run(options)
        if sys.stdout is not None:
            sys.stdout.flush()
        return int(code)
    except LexigonError as error:
        print(f"lexigon: {error}", file=sys.stderr)
        return REFUSED
    except BrokenPipeError:  # whoever read the output has enough of it
        sys.stdout = open(os.devnull, "w")  # noqa: SIM115  (what is left to write goes there when Python ends)
        return 0
    except OSError as error:
        print(f"lexigon: {error.strerror or error}{f': {error.filename}' if error.filename else ''}", file=sys.stderr)
        return REFUSED
