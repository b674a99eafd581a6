"""What commands share in their options: names, help texts and exit codes.

Options have the words that other tools use. Where an option was renamed, its former name is still read, but not shown.
"""

from __future__ import annotations

import argparse
from importlib.util import find_spec

from lexigon.core.errors import LexigonError

EXIT_CODES = """\
exit codes:
  0  done
  2  refused: nothing was written
  3  done, but there are findings (one line each on standard error)"""
FINDINGS = 3
"""The exit code of a command that did its work, but has findings to report."""
REPEATABLE = "can be given several times"


class Formatter(argparse.RawDescriptionHelpFormatter):
    """Help with one name for each option: former names are read, not shown."""

    def _format_action_invocation(self, action: argparse.Action) -> str:
        if not action.option_strings:
            return super()._format_action_invocation(action)
        if isinstance(action, argparse.BooleanOptionalAction):
            return ", ".join(action.option_strings)
        names = [name for name in action.option_strings if len(name) == 2] + [
            name for name in action.option_strings if len(name) > 2
        ][:1]
        invocation = ", ".join(names)
        return (
            invocation
            if action.nargs == 0
            else f"{invocation} {self._format_args(action, self._get_default_metavar_for_optional(action))}"
        )


def add_strict(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--strict", action="store_true", help="write nothing if there are findings")


def add_json(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--json", action="store_true", help="print the result as JSON")


def add_output(parser: argparse.ArgumentParser) -> None:
    """The option of commands that change a job."""
    help_text = "write the job to this file instead of changing it in place"
    parser.add_argument("-o", "--output", "--out", metavar="FILE", help=help_text)


def require_sources(command: str, package: str) -> None:
    """Raises LexigonError where a package of the source folder is missing, because Lexigon was installed without it."""
    if find_spec(package) is None:
        raise LexigonError(f"“lexigon {command}” needs the source folder of Lexigon. Run ./lexigon {command} there.")
