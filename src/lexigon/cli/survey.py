"""``lexigon survey``: what a manuscript contains."""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Any

from lexigon.cli.options import add_json
from lexigon.core.manuscript.model import Manuscript
from lexigon.core.manuscript.reading import read
from lexigon.core.manuscript.review.remarks import remarks
from lexigon.core.manuscript.review.survey import odd_headings, parts_of

DESCRIPTION = (
    "List the styles, headings, notes, tables and pictures of a manuscript, and formatting made by hand that can be "
    "cleaned up."
)
EXAMPLES = ("lexigon survey novel.docx", "lexigon survey roman.odt --language fr-FR --json")


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("manuscript", help="a DOCX, ODT, RTF, Markdown, HTML or plain text file")
    parser.add_argument("--language", default="en-GB", help="language of the text (default: %(default)s)")
    add_json(parser)


def run(options: argparse.Namespace) -> int:
    path = Path(options.manuscript)
    manuscript = read(path.read_bytes(), path.name, language=options.language)
    if options.json:
        print(json.dumps(_as_json(manuscript), indent=2, ensure_ascii=False))
        return 0
    for line in _lines(manuscript):
        print(line)
    return 0


def _as_json(manuscript: Manuscript) -> dict[str, Any]:
    return {
        "format": manuscript.encoding,
        "counts": manuscript.counts,
        "styles": [asdict(use) for use in manuscript.uses],
        "clean_ups": [asdict(one) for one in manuscript.found],
        "parts": [asdict(part) for part in parts_of(manuscript.paragraphs)],
        "odd": [asdict(one) for one in odd_headings(manuscript.paragraphs)],
        "doubts": list(manuscript.doubts),
    }


def _lines(manuscript: Manuscript) -> Iterator[str]:
    yield f"{manuscript.counts['words']:,} words in {manuscript.encoding}"
    for remark in remarks(manuscript.counts):
        yield f"  {remark}"
    if manuscript.uses:
        yield "\nStyles, and what they become"
    for use in manuscript.uses:
        yield f"  {use.count:6,}  {use.name} = {use.target}  ({use.why})"
    if manuscript.found:
        yield "\nClean-ups (* is applied unless --no-clean-up names it)"
    for one in manuscript.found:
        doubtful = f", {one.doubtful:,} doubtful" if one.doubtful else ""
        yield f"  {one.count:6,}  {one.id}{' *' if one.on else ''}  {one.word}: {one.became}{doubtful}"
    odd = {one.number: one.why for one in odd_headings(manuscript.paragraphs)}
    yield "\nParts and their words"
    for part in parts_of(manuscript.paragraphs):
        why = f"  (odd: {odd[part.number]})" if part.number in odd else ""
        yield f"  {part.words:6,}  {'  ' * part.depth}{part.text}{why}"
