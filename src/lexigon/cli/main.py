"""Reading the command line and running one command.

Exit codes: 0 when all is well, 2 when something was refused and nothing was written, 3 when it was done but there are
findings (one line each on standard error).
"""

from __future__ import annotations

import argparse
import errno
import os
import sys
from collections.abc import Sequence
from importlib import import_module
from pathlib import Path

from lexigon.cli.options import EXIT_CODES, Formatter
from lexigon.core.cache import configure_cache, use_cache
from lexigon.core.errors import LexigonError

COMMANDS = {
    "new": "Create a job, with a manuscript if you have one",
    "survey": "Show what a manuscript contains",
    "compare": "Compare a job with a new version of its manuscript",
    "copy": "Export the text of a job as DOCX, HTML, Markdown or plain text",
    "find": "Find text in a job, and replace it",
    "spelling": "Check the spelling of a job",
    "listings": "Add, insert and update listings: contents, index, glossary",
    "notes": "Set up the kinds of notes of a job",
    "frames": "List and move the anchored frames of a job",
    "tables": "List the tables of a job, and update them from files",
    "pictures": "List the pictures of a job, and import others",
    "swatches": "List the swatches of a job, and import or export palette files",
    "records": "Show how a file of records is read, and compute values from it",
    "merge": "Export a job with each of its records",
    "export": "Export a job as PDF or page images",
    "publication": "Number, match and export several jobs as one publication",
    "check": "Check a job before it is printed",
    "facts": "Show the facts of a PDF or a job",
    "demo": "Start Lexigon with demo jobs",
    "serve": "Run the web server of an installation",
    "work": "Run a background worker of an installation",
    "bench": "Measure the speed of Lexigon on a long novel",
    "test": "Run all checks and tests",
}
"""The commands in the order of ``--help``, each with one line; the module of a command has its name."""
FORMER_NAMES = {"output": "export"}
"""Names of commands that are still read, but not listed."""
REFUSED = 2


def parser(*names: str) -> argparse.ArgumentParser:
    """The parser of the command line. Only the commands ``names`` (all, if none is given) have their options, because
    each imports what it needs."""
    root = argparse.ArgumentParser(
        prog="lexigon",
        description="Set up, compose and export print-ready publications.",
        epilog="“lexigon COMMAND --help” explains a command and gives examples.",
        formatter_class=Formatter,
    )
    commands = root.add_subparsers(dest="command", required=True, metavar="COMMAND", title="commands")
    for name, summary in COMMANDS.items():
        _complete(commands.add_parser(name, help=summary[0].lower() + summary[1:]), name, names)
    for former, name in FORMER_NAMES.items():
        _complete(commands.add_parser(former), name, names)
    return root


def _complete(command: argparse.ArgumentParser, name: str, names: Sequence[str]) -> None:
    if names and name not in names:
        return
    module = import_module(f"lexigon.cli.{name}")
    command.formatter_class = Formatter
    command.description = getattr(module, "DESCRIPTION", f"{COMMANDS[name]}.")
    command.epilog = "\n".join(["examples:", *(f"  {line}" for line in module.EXAMPLES), "", EXIT_CODES])
    command.set_defaults(run=module.run)
    module.add_arguments(command)


def _use_cache() -> None:
    """Use the cache in the folder that the system has for caches (XDG Base Directory Specification)."""
    caches = Path(os.environ.get("XDG_CACHE_HOME") or os.path.expanduser("~/.cache"))
    configure_cache(caches / "lexigon") if caches.is_absolute() else use_cache(None)


def main(arguments: list[str] | None = None) -> int:
    """Run the command that ``arguments`` (by default those of the process) give. Returns the exit code."""
    argv = sys.argv[1:] if arguments is None else arguments
    name = next((one for one in argv if not one.startswith("-")), "")
    root = parser(FORMER_NAMES.get(name, name))
    options, unknown = root.parse_known_args(argv)
    if options.command == "test":  # further options belong to pytest
        options.pytest = argv[argv.index("test") + 1 :]
    elif unknown:
        root.error(f"unrecognized arguments: {' '.join(unknown)}")
    _use_cache()
    try:
        for option, value in vars(options).items():
            if isinstance(value, str) and any("\ud800" <= character <= "\udfff" for character in value):
                raise LexigonError(f"The {option} contains bytes that are not UTF-8 text.")
        code = options.run(options)
        if sys.stdout is not None:
            sys.stdout.flush()
        return int(code)
    except LexigonError as error:
        print(f"lexigon: {error}", file=sys.stderr)
        return REFUSED
    except BrokenPipeError:  # the reader of the output has closed it
        sys.stdout = open(os.devnull, "w")  # noqa: SIM115  (what is left to write goes there when Python ends)
        return 0
    except OSError as error:
        if error.errno == errno.ENOSPC:  # what is left to write has no room either
            sys.stdout = open(os.devnull, "w")  # noqa: SIM115
        print(f"lexigon: {error.strerror or error}{f': {error.filename}' if error.filename else ''}", file=sys.stderr)
        return REFUSED
