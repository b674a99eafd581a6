"""``lexigon spelling``: check the spelling of a job."""

from __future__ import annotations

import argparse
import json
from dataclasses import asdict
from pathlib import Path

from lexigon.cli.options import add_json
from lexigon.core.fileformat import package
from lexigon.core.manuscript.review.spelling import Speller, checked
from lexigon.core.manuscript.review.word_lists import Dictionaries

DESCRIPTION = "List unknown words, repeated words, inconsistent spelling and passages in other languages."
EXAMPLES = ("lexigon spelling guide.lexigon", "lexigon spelling guide.lexigon --json")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("job", help="the job file")
    add_json(parser)


def run(options: argparse.Namespace) -> int:
    """The likeliest mistakes come first."""
    report = checked(Speller(package.read(Path(options.job).read_bytes()), Dictionaries()))
    if options.json:
        unknown = [
            {"word": one.word, "language": one.language, "count": one.count, "near": one.near} for one in report.unknown
        ]
        result = {
            "words": report.words,
            "unknown": unknown,
            "twice": [words for words, _ in report.doubled],
            "variants": [asdict(one) for one in report.variants],
            "unchecked": report.unchecked,
        }
        print(json.dumps(result, indent=2, ensure_ascii=False))
        return 0
    for one in report.unknown:
        print(f"{one.count:6,}  {one.word}" + (f" = {one.near}?" if one.near else ""))
    for words, _ in report.doubled:
        print(f"        {words}")
    for group in report.variants:
        print(f"        {', '.join(f'{word} {count}' for word, count in group.spellings.items())}  ({group.kind})")
    for language, count in report.unchecked.items():
        print(f"        {count:,} words in {language} not checked: no dictionary")
    return 0
