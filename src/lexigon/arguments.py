"""The commands of ``lexigon`` and their options, with the texts of ``--help``.

Each command is a function that adds its parser. Options have the words that other tools use; where an option was renamed, its former
name is still read but no longer shown (``Formatter``). ``run`` names the function that carries a command out, as ``module:function`` in
``lexigon``: it is imported when it is called, so that ``lexigon --help`` is quick.
"""

from __future__ import annotations

import argparse
from collections.abc import Callable, Sequence
from typing import Any

EXIT_CODES = """\
exit codes:
  0  done
  2  refused: nothing was written
  3  done, but there are findings (one line each on standard error)"""


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
        shown = ", ".join(names)
        return (
            shown
            if action.nargs == 0
            else f"{shown} {self._format_args(action, self._get_default_metavar_for_optional(action))}"
        )


class Commands:
    """The sub-commands of the root parser, added one by one."""

    def __init__(self, root: argparse.ArgumentParser) -> None:
        self.parsers = root.add_subparsers(dest="command", required=True, metavar="COMMAND", title="commands")

    def add(
        self,
        name: str,
        run: str,
        summary: str,
        *,
        description: str = "",
        examples: Sequence[str] = (),
        former: str = "",
    ) -> Callable[..., None]:
        """Add a command; returns what adds its options. A ``former`` name of the command is read, too, and not listed."""
        epilog = "examples:\n" + "\n".join(f"  {line}" for line in examples) + f"\n\n{EXIT_CODES}" if examples else None
        more: dict[str, Any] = {
            "description": description or f"{summary}.",
            "epilog": epilog,
            "formatter_class": Formatter,
        }
        parsers = [self.parsers.add_parser(name, help=summary[0].lower() + summary[1:], **more)]
        if former:
            parsers.append(self.parsers.add_parser(former, **more))
        for parser in parsers:
            parser.set_defaults(run=run)

        def option(*names: str, **settings: Any) -> None:
            for parser in parsers:
                parser.add_argument(*names, **settings)

        return option


def parser() -> argparse.ArgumentParser:
    """The parser of the whole command line."""
    root = argparse.ArgumentParser(
        prog="lexigon",
        description="Set up, compose and export print-ready publications.",
        epilog="“lexigon COMMAND --help” explains a command and gives examples.",
        formatter_class=Formatter,
    )
    commands = Commands(root)
    for add in (
        _new, _survey, _compare, _copy, _find, _spelling, _listings, _notes, _frames, _tables, _pictures, _swatches, _export, _publication,
        _facts, _demo, _serve, _work, _bench, _test,
    ):  # fmt: skip
        add(commands)
    return root


REPEATABLE = "can be given several times"
OTHER_FILE = "write the job to this file instead of changing it in place"


def _strict(option: Callable[..., None]) -> None:
    option("--strict", action="store_true", help="write nothing if there are findings")


def _json(option: Callable[..., None]) -> None:
    option("--json", action="store_true", help="print the result as JSON")


def _saved_as(option: Callable[..., None]) -> None:
    option("-o", "--output", "--out", metavar="FILE", help=OTHER_FILE)


def _new(commands: Commands) -> None:
    option = commands.add(
        "new", "commands:new", "Create a job, with a manuscript if you have one",
        description="Create a job file. With --manuscript the text is poured into it, and pages are added as it needs them.",
        examples=(
            "lexigon new --manuscript novel.docx --page-size 6x9in --output novel.lexigon",
            "lexigon new --page-size 148x210mm --margins 15mm,20mm,18mm,12mm --bleed 3mm --output flyer.lexigon",
        ),
    )  # fmt: skip
    option("--manuscript", metavar="FILE", help="a DOCX, ODT, RTF, Markdown, HTML or plain text file")
    option("--name", help="name of the job (default: that of the output file)")
    option(
        "--page-size",
        "--size",
        metavar="SIZE",
        default="6x9in",
        help="width x height with a unit (default: %(default)s)",
    )
    option(
        "--margins", default="0.75in,0.75in,0.875in,0.625in", help="top,bottom,inside,outside (default: %(default)s)"
    )
    option("--bleed", default="0", help="one length, or top,bottom,inside,outside (default: none)")
    option(
        "--facing", action=argparse.BooleanOptionalAction, default=True, help="facing or single pages (default: facing)"
    )
    option(
        "--body",
        metavar="SETTING",
        default="11/15 EB Garamond",
        help="size/leading and family of the body text (default: %(default)s)",
    )
    option(
        "--font",
        metavar="FILE",
        action="append",
        default=[],
        help=f"an .otf or .ttf file to include in the job; {REPEATABLE}",
    )
    option("--language", default="en-GB", help="language of the text, such as de-DE (default: %(default)s)")
    option(
        "--typographic-quotes",
        "--quotes",
        action="store_true",
        help="convert straight quotation marks and hyphens used as dashes",
    )
    option(
        "--clean-up",
        "--clean",
        action="append",
        default=[],
        metavar="NAME",
        help=f"apply a clean-up that “lexigon survey” lists; {REPEATABLE}",
    )
    option(
        "--no-clean-up",
        "--leave",
        action="append",
        default=[],
        metavar="NAME",
        help=f"skip a clean-up that is applied by default; {REPEATABLE}",
    )
    option(
        "--map-style", "--becomes", action="append", default=[], metavar="STYLE=ID",
        help=f"the style of the job that a style of the manuscript becomes, such as “Heading 9=section”; {REPEATABLE}",
    )  # fmt: skip
    _strict(option)
    option("-o", "--output", "--out", required=True, metavar="FILE", help="the job file to write")


def _survey(commands: Commands) -> None:
    option = commands.add(
        "survey", "copycommands:survey", "Show what a manuscript contains",
        description="List the styles, headings, notes, tables and pictures of a manuscript, and formatting made by hand that can be cleaned up.",
        examples=("lexigon survey novel.docx", "lexigon survey roman.odt --language fr-FR --json"),
    )  # fmt: skip
    option("manuscript", help="a DOCX, ODT, RTF, Markdown, HTML or plain text file")
    option("--language", default="en-GB", help="language of the text (default: %(default)s)")
    _json(option)


def _compare(commands: Commands) -> None:
    option = commands.add(
        "compare", "copycommands:compare", "Compare a job with a new version of its manuscript",
        description="List what a new version of a manuscript changes, and apply the changes if you ask for it.",
        examples=(
            "lexigon compare novel.lexigon novel-2.docx --since novel-1.docx",
            "lexigon compare novel.lexigon novel-2.docx --since novel-1.docx --apply usual",
        ),
    )  # fmt: skip
    option("job", help="the job file")
    option("manuscript", help="the new version of the manuscript")
    option(
        "--since",
        metavar="FILE",
        help="the version that was imported before: your corrections since then are recognised",
    )
    option(
        "--apply",
        "--take",
        choices=["usual", "all"],
        help="apply the changes: usual (all but where you corrected the job) or all",
    )
    _saved_as(option)


def _copy(commands: Commands) -> None:
    option = commands.add(
        "copy", "copycommands:copy", "Export the text of a job as DOCX, HTML, Markdown or plain text",
        examples=("lexigon copy novel.lexigon --output for-the-author.docx", "lexigon copy novel.lexigon --output novel.md"),
    )  # fmt: skip
    option("job", help="the job file")
    option(
        "-o", "--output", "--out", required=True, metavar="FILE", help="the file to write: .docx, .html, .md or .txt"
    )


def _find(commands: Commands) -> None:
    option = commands.add(
        "find", "copycommands:find", "Find text in a job, and replace it",
        description="List where a text occurs. With --replace the places are changed.",
        examples=(
            "lexigon find guide.lexigon dunlin --whole-words",
            "lexigon find guide.lexigon '(\\d+) km' --regex --replace '<1> kilometres'",
        ),
    )  # fmt: skip
    option("job", help="the job file")
    option("words", metavar="text", help="the text to find")
    option("--replace", "--put", metavar="TEXT", help="replace it with this text")
    option(
        "--regex",
        "--pattern",
        action="store_true",
        help="the text is a regular expression; --replace inserts its groups as <1>, <2>",
    )
    option("--whole-words", "--whole", action="store_true", help="find whole words only")
    option("--match-case", "--case", action="store_true", help="distinguish capital and small letters")
    option("--size", help="only in this type size, such as 9pt")
    option("--font", default="", metavar="FAMILY", help="only in this font family")
    option(
        "--in-language", "--set-in", default="", metavar="LANGUAGE", help="only in text of this language, such as de"
    )
    option(
        "--preserve-case", "--keep-case", action="store_true", help="give the replacement the case of the text found"
    )
    _saved_as(option)


def _spelling(commands: Commands) -> None:
    option = commands.add(
        "spelling", "copycommands:spelling", "Check the spelling of a job",
        description="List unknown words, repeated words, inconsistent spelling and passages in other languages.",
        examples=("lexigon spelling guide.lexigon", "lexigon spelling guide.lexigon --json"),
    )  # fmt: skip
    option("job", help="the job file")
    _json(option)


def _listings(commands: Commands) -> None:
    option = commands.add(
        "listings", "listingcommands:listings", "Add, insert and update listings: contents, index, glossary",
        description="List the entries of a job’s listings and whether they are up to date; add, insert or update listings.",
        examples=(
            "lexigon listings novel.lexigon --add Contents --insert front",
            "lexigon listings novel.lexigon --update",
        ),
    )  # fmt: skip
    option("job", help="the job file")
    option("--name", help="only this listing")
    option("--add", metavar="NAME", help="add a ready-made listing, such as Contents")
    option(
        "--insert",
        choices=("front", "end"),
        help="insert into the main story: before the first heading listed, or at the end",
    )
    option("--heading", metavar="TEXT", help="with --insert: the heading above it (default: the name of the listing)")
    option("--update", action="store_true", help="update the listings in stories; entries that you edited stay")
    option(
        "--replace-edits", "--take-all", action="store_true", help="with --update: replace entries that you edited, too"
    )
    option(
        "--mark-from",
        "--mark",
        metavar="FILE",
        help="add index entries from a list, one on each line, such as dunlins = dunlin",
    )
    _json(option)
    _saved_as(option)


def _notes(commands: Commands) -> None:
    option = commands.add(
        "notes", "notecommands:notes", "Set up the kinds of notes of a job",
        description="List the kinds of notes with their position and numbering, or change one.",
        examples=("lexigon notes guide.lexigon", "lexigon notes guide.lexigon --kind foot --set counted=page --set signs=*"),
    )  # fmt: skip
    option("job", help="the job file")
    option("--kind", default="foot", help="the kind to change: foot, side, end, or one of yours (default: %(default)s)")
    option(
        "--set", action="append", default=[], metavar="NAME=VALUE",
        help=f"such as signs=*, counted=page, place=margin, divided=yes; {REPEATABLE}",
    )  # fmt: skip
    _json(option)
    _saved_as(option)


def _frames(commands: Commands) -> None:
    option = commands.add(
        "frames", "framecommands:frames", "List and move the anchored frames of a job",
        examples=("lexigon frames guide.lexigon", "lexigon frames guide.lexigon --place 'Tide curve=margin'"),
    )  # fmt: skip
    option("job", help="the job file")
    option(
        "--place", "--stand", action="append", default=[], metavar="FRAME=POSITION",
        help=f"line, above, near or margin, for a frame by its name or id; {REPEATABLE}",
    )  # fmt: skip
    _json(option)
    _saved_as(option)


def _tables(commands: Commands) -> None:
    option = commands.add(
        "tables", "tablecommands:tables", "List the tables of a job, and update them from files",
        examples=("lexigon tables guide.lexigon", "lexigon tables guide.lexigon --update counts.xlsx --sheet 2026"),
    )  # fmt: skip
    option("job", help="the job file")
    option(
        "--update", "--refresh", action="append", default=[], metavar="FILE",
        help=f"a CSV file or a workbook (XLSX); cells that you edited stay; {REPEATABLE}",
    )  # fmt: skip
    option("--table", metavar="NAME", help="the table to update, where it came from no file before")
    option("--sheet", metavar="NAME", help="the sheet of the workbook")
    _json(option)
    _saved_as(option)


def _pictures(commands: Commands) -> None:
    option = commands.add(
        "pictures", "commands:pictures", "List the pictures of a job, and import others",
        examples=("lexigon pictures guide.lexigon", "lexigon pictures guide.lexigon photos/ plates.zip --replace"),
    )  # fmt: skip
    option("job", help="the job file")
    option("paths", nargs="*", metavar="file", help="picture files, folders or zip archives to import")
    option(
        "--replace",
        "--update",
        action="store_true",
        help="replace pictures of the same file name wherever they are used",
    )


def _swatches(commands: Commands) -> None:
    option = commands.add(
        "swatches", "commands:swatches", "List the swatches of a job, and import or export palette files",
        examples=(
            "lexigon swatches guide.lexigon --import marsh.gpl --group Marsh",
            "lexigon swatches guide.lexigon --export marsh.swatches.json",
        ),
    )  # fmt: skip
    option("job", help="the job file")
    option(
        "--import",
        "--add",
        dest="import_file",
        metavar="FILE",
        help="a palette: .swatches.json, .gpl, or a CSS file with colours",
    )
    option("--group", help="the group of the imported swatches")
    option(
        "--export",
        "--save",
        dest="export_file",
        metavar="FILE",
        help="write the swatches: .gpl, .css, or .swatches.json with all details",
    )


def _export(commands: Commands) -> None:
    option = commands.add(
        "export", "commands:output", "Export a job as PDF or page images", former="output",
        description=(
            "Export a job. Recipes: print (PDF/X-4 with bleed and marks, coated paper), uncoated (the same for uncoated paper), trim\n"
            "(without marks), older (PDF/X-1a, no transparency), archive (PDF/A-1b), screen (single pages with links), png (page images)."
        ),
        examples=(
            "lexigon export flyer.lexigon --output flyer.pdf",
            "lexigon export novel.lexigon --recipe png --pages 1-8,12 --output pages.zip",
        ),
    )  # fmt: skip
    option("job", help="the job file")
    option(
        "--recipe", default="print", help="print, uncoated, trim, older, archive, screen or png (default: %(default)s)"
    )
    option(
        "-o",
        "--output",
        "--out",
        required=True,
        metavar="FILE",
        help="the file to write; for page images a folder or a .zip",
    )
    option("--pages", help="pages to export, such as 1-8,12 (default: all)")
    option(
        "--landscape",
        choices=("rotated", "upright"),
        help="landscape pages: rotated to fit the sheet of the others, or upright",
    )
    _strict(option)


def _publication(commands: Commands) -> None:
    option = commands.add(
        "publication", "publicationcommands:publication", "Number, match and export several jobs as one publication",
        examples=(
            "lexigon publication front.lexigon part-1.lexigon part-2.lexigon --write-numbers",
            "lexigon publication cover.lexigon book.lexigon --match-styles --output book.pdf",
        ),
    )  # fmt: skip
    option("jobs", nargs="+", metavar="job", help="the job files, in order")
    option(
        "--own-numbering",
        "--own",
        action="append",
        default=[],
        metavar="FILE",
        help=f"this job starts its own numbering, which the next ones continue; {REPEATABLE}",
    )
    option(
        "--not-numbered",
        "--apart",
        action="append",
        default=[],
        metavar="FILE",
        help=f"this job is not numbered (covers never are); {REPEATABLE}",
    )
    option(
        "--write-numbers", "--number", action="store_true", help="write the first page number of each job into its file"
    )
    option(
        "--lead",
        metavar="FILE",
        help="the job whose styles, inks and kinds of notes the others use (default: the first)",
    )
    option(
        "--match-styles", "--align", action="store_true", help="make styles, inks and kinds of notes match the lead job"
    )
    option(
        "--update-listings",
        "--gather",
        action="store_true",
        help="update listings that gather from all jobs, in their files",
    )
    option("-o", "--output", "--out", metavar="FILE", help="export all jobs as this file")
    option("--recipe", default="print", help="as for “lexigon export” (default: %(default)s)")
    option("--name", help="title of the exported file (default: the name of the first job)")
    _strict(option)
    _json(option)


def _facts(commands: Commands) -> None:
    option = commands.add(
        "facts", "commands:facts", "Show the facts of a PDF or a job",
        description="Show boxes, fonts, inks and resolution of a PDF, or set-up, text and findings of a job.",
        examples=("lexigon facts flyer.pdf", "lexigon facts novel.lexigon --json"),
    )  # fmt: skip
    option("file", help="a PDF or a job file")
    _json(option)


def _demo(commands: Commands) -> None:
    option = commands.add(
        "demo", "", "Start Lexigon with demo jobs",
        description="Install what is needed, prepare the demo jobs, start Lexigon on this computer and print its address.",
        examples=("lexigon demo", "lexigon demo --port 8800"),
    )  # fmt: skip
    option("--port", type=_port, default=8700, help="port of the web server (default: %(default)s)")


def _serve(commands: Commands) -> None:
    option = commands.add(
        "serve", "", "Run the web server of an installation",
        examples=("lexigon serve --bind 127.0.0.1:8700", "lexigon serve --bind unix:/run/lexigon.sock --workers 4"),
    )  # fmt: skip
    option(
        "--bind", default="127.0.0.1:8700", metavar="ADDRESS", help="address:port, or unix:/path (default: %(default)s)"
    )
    option("--workers", type=int, default=2, metavar="N", help="number of processes (default: %(default)s)")


def _work(commands: Commands) -> None:
    commands.add(
        "work", "", "Run a background worker of an installation",
        description="Run a worker that exports files and reads manuscripts. An installation needs at least one; several share the work.",
        examples=("lexigon work", "LEXIGON_DATA=/srv/lexigon lexigon work"),
    )  # fmt: skip


def _bench(commands: Commands) -> None:
    option = commands.add(
        "bench", "", "Measure the speed of Lexigon on a long novel",
        examples=("lexigon bench", "lexigon bench --quick --json"),
    )  # fmt: skip
    _json(option)
    option("--quick", action="store_true", help="skip the comparisons")


def _test(commands: Commands) -> None:
    option = commands.add(
        "test", "", "Run all checks and tests",
        description="Install what the tests need and run them. Further arguments are passed to pytest.",
        examples=("lexigon test", "lexigon test tests/core -k spec"),
    )  # fmt: skip
    option("pytest", nargs="*", metavar="argument", help="arguments for pytest")


def _port(text: str) -> int:
    if not text.isdigit() or not 1 <= int(text) <= 65535:
        raise argparse.ArgumentTypeError(f"“{text}” is not a port. Type a number from 1 to 65535.")
    return int(text)
