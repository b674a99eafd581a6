"""The ``lexigon`` command: jobs from the command line, on the same core as the application.

It ends with 0 when all is well, with 2 when something could not be done and nothing was made, and with 3 when something was
made that should be looked at (each thing is told in one line on standard error).
"""

from __future__ import annotations

import argparse
import os
import sys

from lexigon.core.errors import LexigonError

REFUSED = 2


def parser() -> argparse.ArgumentParser:
    # As long as there are commands: a table of their arguments.
    root = argparse.ArgumentParser(prog="lexigon", description="Lay out books and press them into print-ready files.")
    commands = root.add_subparsers(dest="command", required=True)

    make = commands.add_parser("new", help="make a job, with a manuscript poured in")
    make.add_argument("--manuscript", help="a text: DOCX, ODT, RTF, Markdown, HTML or plain")
    make.add_argument("--name")
    make.add_argument("--size", default="6x9in")
    make.add_argument("--margins", default="0.75in,0.75in,0.875in,0.625in", help="head,foot,inner,outer")
    make.add_argument("--bleed", default="0", help="one length or head,foot,inner,outer")
    make.add_argument("--facing", action=argparse.BooleanOptionalAction, default=True)
    make.add_argument("--body", default="11/15 EB Garamond", help="size/leading family")
    make.add_argument("--font", action="append", default=[], help="a font file that the job brings along; any number")
    make.add_argument("--language", default="en-GB")
    make.add_argument("--quotes", action="store_true", help="set typographic quotes and dashes")
    make.add_argument(
        "--clean",
        action="append",
        default=[],
        metavar="NAME",
        help="do a clean-up as `lexigon survey` calls it; any number",
    )
    make.add_argument(
        "--leave",
        action="append",
        default=[],
        metavar="NAME",
        help="leave out a clean-up that is usually done; any number",
    )
    make.add_argument(
        "--becomes",
        action="append",
        default=[],
        metavar="STYLE=ID",
        help="which style of the manuscript becomes which; any number",
    )
    make.add_argument("--strict", action="store_true", help="make no job if there is anything to look at first")
    make.add_argument("--out", required=True)
    make.set_defaults(run=_new)

    survey = commands.add_parser(
        "survey", help="what a manuscript holds: its styles, parts, and what was made by hand in it"
    )
    survey.add_argument("manuscript")
    survey.add_argument("--language", default="en-GB")
    survey.add_argument("--json", action="store_true")
    survey.set_defaults(run=_survey)

    copy = commands.add_parser("copy", help="write a job's copy for its writers: DOCX, HTML, Markdown or plain text")
    copy.add_argument("job")
    copy.add_argument("--out", required=True, help="the file; its ending says the format (.docx, .html, .md, .txt)")
    copy.set_defaults(run=_copy)

    compare = commands.add_parser(
        "compare", help="what a new version of a manuscript changes in a job, and taking it over"
    )
    compare.add_argument("job")
    compare.add_argument("manuscript")
    compare.add_argument(
        "--since",
        metavar="FILE",
        help="the version that was taken in before: what was corrected in the job since then stays",
    )
    compare.add_argument(
        "--take", choices=["usual", "all"], help="take changes over: all, or all but what was corrected in the job"
    )
    compare.add_argument("--out", help="write the job to another file")
    compare.set_defaults(run=_compare)

    find = commands.add_parser("find", help="find words in a job, and put others in their place")
    find.add_argument("job")
    find.add_argument("words")
    find.add_argument("--put", metavar="WORDS", help="put these in their place; without it places are only told")
    find.add_argument(
        "--pattern", action="store_true", help="the words are a regular expression; --put takes its groups as <1>, <2>"
    )
    find.add_argument("--whole", action="store_true", help="whole words alone")
    find.add_argument("--case", action="store_true", help="match case")
    find.add_argument("--size", help="only in type of this size, such as 9 pt")
    find.add_argument("--font", default="", help="only in this family of type")
    find.add_argument("--set-in", default="", metavar="LANGUAGE", help="only in this language, such as de")
    find.add_argument("--keep-case", action="store_true", help="preserve the case of what was found")
    find.add_argument("--out", help="write the job to another file")
    find.set_defaults(run=_find)

    spelling = commands.add_parser(
        "spelling", help="words of a job that no dictionary knows, words twice, words in two ways"
    )
    spelling.add_argument("job")
    spelling.add_argument("--json", action="store_true")
    spelling.set_defaults(run=_spelling)

    listings = commands.add_parser(
        "listings", help="what a job's listings gather, which are out of date; bring them up to date"
    )
    listings.add_argument("job")
    listings.add_argument("--name", help="this listing alone")
    listings.add_argument("--add", metavar="NAME", help="add a ready one, such as Contents")
    listings.add_argument(
        "--insert",
        choices=("front", "end"),
        help="insert into the main text: in front of the first heading listed, or at the end",
    )
    listings.add_argument("--heading", metavar="WORDS", help="with --insert: the heading above it, else its name")
    listings.add_argument(
        "--update",
        action="store_true",
        help="bring those that stand in a text up to date; what was changed by hand stays",
    )
    listings.add_argument(
        "--take-all", action="store_true", help="with --update: new words also where they were changed by hand"
    )
    listings.add_argument(
        "--mark", metavar="FILE", help="mark words for the index: a line each, such as dunlins = dunlin"
    )
    listings.add_argument("--json", action="store_true")
    listings.add_argument("--out", help="write the job to another file")
    listings.set_defaults(run=_listings)

    notes = commands.add_parser("notes", help="the kinds of notes of a job: where they stand, how they are numbered")
    notes.add_argument("job")
    notes.add_argument("--kind", default="foot", help="the kind that is changed: foot, side, end, or one of your own")
    notes.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="NAME=VALUE",
        help="such as signs=*, counted=page, place=margin, divided=yes",
    )
    notes.add_argument("--json", action="store_true")
    notes.add_argument("--out", help="write the job to another file")
    notes.set_defaults(run=_notes)

    tied = commands.add_parser("frames", help="the frames tied to a job's texts: where they stand")
    tied.add_argument("job")
    tied.add_argument(
        "--stand", action="append", default=[], metavar="NAME=PLACE", help="line, above, near or margin; the frame by its name or its id"
    )  # fmt: skip
    tied.add_argument("--json", action="store_true")
    tied.add_argument("--out", help="write the job to another file")
    tied.set_defaults(run=_frames)

    whole = commands.add_parser(
        "publication", help="several jobs as one: page numbers that go on, shared styles, one file"
    )
    whole.add_argument("jobs", nargs="+", help="their files, in order")
    whole.add_argument(
        "--own", action="append", default=[], metavar="FILE", help="this job has numbers of its own; those behind go on"
    )
    whole.add_argument(
        "--apart", action="append", default=[], metavar="FILE", help="this job is not counted (covers are not, anyway)"
    )
    whole.add_argument("--number", action="store_true", help="write the numbers they are to begin with into the files")
    whole.add_argument(
        "--lead", metavar="FILE", help="the job whose styles, inks and kinds of notes the others share; the first"
    )
    whole.add_argument("--align", action="store_true", help="take over from it what differs")
    whole.add_argument(
        "--gather", action="store_true", help="bring listings that gather from all jobs up to date, in their files"
    )
    whole.add_argument("--out", help="press them as one file")
    whole.add_argument("--recipe", default="print")
    whole.add_argument("--name", help="what the file says it is; the first job's name")
    whole.add_argument("--strict", action="store_true", help="make no file if there is anything to look at first")
    whole.add_argument("--json", action="store_true")
    whole.set_defaults(run=_publication)

    tables = commands.add_parser(
        "tables", help="the tables of a job; take over what the files hold that they come from"
    )
    tables.add_argument("job")
    tables.add_argument(
        "--refresh",
        action="append",
        default=[],
        metavar="FILE",
        help="a CSV file or a workbook (XLSX); what was changed by hand stays",
    )
    tables.add_argument("--table", metavar="NAME", help="the table that takes it, where it came from no file before")
    tables.add_argument("--sheet", metavar="NAME", help="which sheet of a workbook is meant")
    tables.add_argument("--json", action="store_true")
    tables.add_argument("--out", help="write the job to another file")
    tables.set_defaults(run=_tables)

    out = commands.add_parser("output", help="write a PDF or page images of a job")
    out.add_argument("job")
    out.add_argument(
        "--recipe",
        default="print",
        help="print, uncoated, trim or older (to a printer); archive; screen; png (an image a page)",
    )
    out.add_argument("--out", required=True, help="the file to make; of page images a folder, or a .zip")
    out.add_argument("--pages", help="such as 1-8,12")
    out.add_argument(
        "--landscape",
        choices=("rotated", "upright"),
        help="pages on their side: rotated on the sheet of the others, with their head to the left, or upright",
    )
    out.add_argument("--strict", action="store_true", help="make no file if there is anything to look at first")
    out.set_defaults(run=_output)

    about = commands.add_parser("facts", help="what a PDF or a job holds")
    about.add_argument("file")
    about.add_argument("--json", action="store_true")
    about.set_defaults(run=_facts)

    palette = commands.add_parser("swatches", help="bring a palette file's swatches into a job, or write the job's")
    palette.add_argument("job")
    palette.add_argument(
        "--add", metavar="FILE", help="a palette file: Lexigon's own, a GIMP palette, or a style sheet with colours"
    )
    palette.add_argument("--group", help="the group that they come into")
    palette.add_argument(
        "--save", metavar="FILE", help="write the job's swatches: *.gpl, *.css, or *.swatches.json with all they say"
    )
    palette.set_defaults(run=_swatches)

    pictures = commands.add_parser(
        "pictures", help="bring picture files or folders of them into a job, or list the job's"
    )
    pictures.add_argument("job")
    pictures.add_argument("paths", nargs="*", help="picture files, folders, zip archives")
    pictures.add_argument(
        "--update", action="store_true", help="a file of the name of a picture takes its place, everywhere"
    )
    pictures.set_defaults(run=_pictures)

    bench = commands.add_parser("bench", help="measure speed on a long novel")
    bench.add_argument("--json", action="store_true")
    bench.add_argument("--quick", action="store_true", help="leave out the comparisons")
    bench.set_defaults(run=_bench)

    demo = commands.add_parser("demo", help="start the application with the demo's jobs")
    demo.add_argument("--port", type=_port, default=8700)
    demo.set_defaults(run=_demo)

    serve = commands.add_parser("serve", help="run the web server of an installation")
    serve.add_argument("--bind", default="127.0.0.1:8700", help="address:port, or unix:/path")
    serve.add_argument("--workers", type=int, default=2, help="processes")
    serve.set_defaults(run=_serve)

    work = commands.add_parser("work", help="run a background worker of an installation")
    work.set_defaults(run=_work)

    test = commands.add_parser("test", help="run all checks and tests")
    test.add_argument("pytest", nargs="*")
    test.set_defaults(run=_test)
    return root


def _new(options: argparse.Namespace) -> int:
    from lexigon.commands import new

    return new(options)


def _output(options: argparse.Namespace) -> int:
    from lexigon.commands import output

    return output(options)


def _tables(options: argparse.Namespace) -> int:
    from lexigon.tablecommands import tables

    return tables(options)


def _publication(options: argparse.Namespace) -> int:
    from lexigon.publicationcommands import publication

    return publication(options)


def _swatches(options: argparse.Namespace) -> int:
    from lexigon.commands import swatches

    return swatches(options)


def _pictures(options: argparse.Namespace) -> int:
    from lexigon.commands import pictures

    return pictures(options)


def _survey(options: argparse.Namespace) -> int:
    from lexigon.copycommands import survey

    return survey(options)


def _copy(options: argparse.Namespace) -> int:
    from lexigon.copycommands import copy

    return copy(options)


def _compare(options: argparse.Namespace) -> int:
    from lexigon.copycommands import compare

    return compare(options)


def _find(options: argparse.Namespace) -> int:
    from lexigon.copycommands import find

    return find(options)


def _notes(options: argparse.Namespace) -> int:
    from lexigon.notecommands import notes

    return notes(options)


def _frames(options: argparse.Namespace) -> int:
    from lexigon.framecommands import frames

    return frames(options)


def _listings(options: argparse.Namespace) -> int:
    from lexigon.listingcommands import listings

    return listings(options)


def _spelling(options: argparse.Namespace) -> int:
    from lexigon.copycommands import spelling

    return spelling(options)


def _facts(options: argparse.Namespace) -> int:
    from lexigon.commands import facts

    return facts(options)


def _port(text: str) -> int:
    if not text.isdigit() or not 1 <= int(text) <= 65535:
        raise argparse.ArgumentTypeError(f"“{text}” is not a port: a number from 1 to 65535")
    return int(text)


def _bench(options: argparse.Namespace) -> None:
    from benchmarks.run import main as run

    raise SystemExit(run(as_json=options.json, quick=options.quick))


def _demo(options: argparse.Namespace) -> None:
    from lexigon.serve import demo

    demo(options.port)


def _serve(options: argparse.Namespace) -> None:
    from lexigon.serve import serve

    serve(options.bind, options.workers)


def _work(options: argparse.Namespace) -> None:
    from lexigon.serve import work

    work()


def _test(options: argparse.Namespace) -> None:
    from lexigon.checks import run_all

    raise SystemExit(run_all(options.pytest))


def main(arguments: list[str] | None = None) -> int:
    options, more = parser().parse_known_args(arguments)
    if more and options.run is not _test:
        parser().error(f"unrecognized arguments: {' '.join(more)}")
    if options.run is _test:  # pytest's own options, with a path or without
        given = sys.argv[1:] if arguments is None else arguments
        options.pytest = given[given.index("test") + 1 :]
    try:
        for name, value in vars(options).items():
            if isinstance(value, str) and any("\ud800" <= sign <= "\udfff" for sign in value):
                raise LexigonError(f"The {name} holds bytes that are no text in UTF-8.")
        code = options.run(options) or 0
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
