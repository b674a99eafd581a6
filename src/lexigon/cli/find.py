"""``lexigon find``: find text in a job, and replace it."""

from __future__ import annotations

import argparse

from lexigon.cli.jobs import open_job, save_job
from lexigon.cli.options import add_output
from lexigon.core.lengths import parse
from lexigon.core.manuscript.review.finding import Exchange, Query, exchanged, hits

DESCRIPTION = "List where a text occurs. With --replace the places are changed."
EXAMPLES = (
    "lexigon find guide.lexigon dunlin --whole-words",
    "lexigon find guide.lexigon '(\\d+) km' --regex --replace '<1> kilometres'",
)


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    parser.add_argument("words", metavar="text", help="the text to find")
    parser.add_argument("--replace", "--put", metavar="TEXT", help="replace it with this text")
    parser.add_argument(
        "--regex",
        "--pattern",
        action="store_true",
        help="the text is a regular expression; --replace inserts its groups as <1>, <2>",
    )
    parser.add_argument("--whole-words", "--whole", action="store_true", help="find whole words only")
    parser.add_argument("--match-case", "--case", action="store_true", help="distinguish capital and small letters")
    parser.add_argument("--size", help="only in this type size, such as 9pt")
    parser.add_argument("--font", default="", metavar="FAMILY", help="only in this font family")
    parser.add_argument(
        "--in-language", "--set-in", default="", metavar="LANGUAGE", help="only in text of this language, such as de"
    )
    parser.add_argument(
        "--preserve-case", "--keep-case", action="store_true", help="give the replacement the case of the text found"
    )
    add_output(parser)


def run(options: argparse.Namespace) -> int:
    workspace = open_job(options.job)
    query = Query(
        options.words,
        options.regex,
        options.whole_words,
        options.match_case,
        size=parse(options.size, "pt") if options.size else None,
        family=options.font,
        language=options.in_language,
    )
    if options.replace is None:
        number = 0
        for hit in hits(workspace.job, query):
            text = hit.paragraph.text
            print(f"{text[max(hit.start - 40, 0) : hit.start]}[{hit.text}]{text[hit.end : hit.end + 40]}")
            number += 1
        print(f"{number:,} found")
        return 0
    edit, count, skipped = exchanged(workspace.job, query, Exchange(options.replace, options.preserve_case))
    if count:
        workspace.do(edit)
    note = f", {skipped} skipped because of an anchored object in them" if skipped else ""
    print(f"{save_job(workspace, options)}: {count:,} replaced{note}")
    return 0
