"""The commands that deal with copy: surveying manuscripts, and what is chosen about them."""

from __future__ import annotations

import argparse
import hashlib
import json
from collections.abc import Iterable, Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Any

from lexigon.core.errors import LexigonError
from lexigon.core.flow.desk import Desk
from lexigon.core.flow.saying import said, texts_of
from lexigon.core.job import package
from lexigon.core.job.intents import PourText
from lexigon.core.job.model import Job, PictureFile
from lexigon.core.job.text import count_words, new_id
from lexigon.core.lengths import parse
from lexigon.core.manuscript.cleaning import BY_ID, typographic
from lexigon.core.manuscript.finding import Exchange, Query, exchanged, hits
from lexigon.core.manuscript.mapping import LEAVE_OUT
from lexigon.core.manuscript.outgoing import copy_of
from lexigon.core.manuscript.plaintext import Manuscript
from lexigon.core.manuscript.pouring import Keep, poured
from lexigon.core.manuscript.reading import read
from lexigon.core.manuscript.remarks import remarks
from lexigon.core.manuscript.spelling import Speller, checked
from lexigon.core.manuscript.survey import odd_headings, parts_of
from lexigon.core.manuscript.versions import compared, mark, merged, words_between
from lexigon.core.manuscript.wordlists import Dictionaries
from lexigon.core.manuscript.writing import ALIVE, FORMS, written, written_out
from lexigon.core.picture.bringing import described
from lexigon.core.picture.files import facts_of
from lexigon.core.press.drawnfiles import normalised
from lexigon.outfile import write_job


def cleaned_as_asked(options: argparse.Namespace) -> dict[str, bool]:
    """The clean-ups that ``--typographic-quotes``, ``--clean-up`` and ``--no-clean-up`` select. Raises LexigonError for a name that is none."""
    unknown = [name for name in (*options.clean_up, *options.no_clean_up) if name not in BY_ID]
    if unknown:
        raise LexigonError(f"There is no clean-up “{unknown[0]}”; there are {', '.join(BY_ID)}.", "clean")
    chosen = typographic(True) if options.typographic_quotes else {}
    return chosen | dict.fromkeys(options.clean_up, True) | dict.fromkeys(options.no_clean_up, False)


def becomes_as_asked(said: Iterable[str], job: Job) -> dict[str, str]:
    """Return which styles become which, as ``--map-style "Heading 9=section"`` says. Raises LexigonError for what the job has not."""
    pairs = [one.rsplit("=", 1) for one in said]
    if any(len(pair) != 2 or not pair[0].strip() or not pair[1].strip() for pair in pairs):
        raise LexigonError("Type a style mapping as --map-style “Heading 9=section”.", "becomes")
    made = {name.strip(): style.strip() for name, style in pairs}
    for style in made.values():
        if style != LEAVE_OUT and style not in job.paragraph_styles:
            raise LexigonError(
                f"There is no style “{style}”; there are {', '.join(job.paragraph_styles)}, and {LEAVE_OUT} leaves out.",
                "becomes",
            )
    return made


WHOSE = {"theirs": " by the writer", "ours": " here", "both": " by both", "unknown": ""}


def copy(options: argparse.Namespace) -> int:
    """Write the copy of a job; Markdown with pictures becomes an archive of both."""
    target = Path(options.output)
    form = next((one for one in FORMS if target.suffix.lower() == f".{one}"), None)
    if form is None:
        raise LexigonError(f"The ending of the file says the format: {', '.join(f'.{one}' for one in FORMS)}.", "out")
    data = Path(options.job).read_bytes()
    job, files = package.read(data), package.read_files(data)
    composition = Desk(job).composition
    made, suffix = written(
        copy_of(job, texts_of(composition), said(composition), files.get, alive=form in ALIVE), job, form
    )
    target = target.with_suffix(suffix) if suffix != target.suffix.lower() else target
    target.write_bytes(made)
    print(f"{target}: {count_words(p for story in texts_of(composition) for p in story.paragraphs):,} words")
    return 0


def compare(options: argparse.Namespace) -> int:
    """Tell what a new version changes, and take it over where that is asked."""
    place = Path(options.job)
    data = place.read_bytes()
    job, files = package.read(data), package.read_files(data)
    desk = Desk(job)
    story = job.stories.get(job.main_story or "")
    if story is None:
        raise LexigonError("This job has no main story to compare with.")
    held: dict[str, bytes] = {}

    def taken_in(name: str) -> PourText:
        path = Path(name)
        read_ = read(
            path.read_bytes(),
            path.name,
            language=job.brief.language,
            own={one.name: one.id for one in job.paragraph_styles.values()},
        )
        return poured(job, read_, keeping(held))[0]

    new = taken_in(options.manuscript)
    base = {mark(p) for p in taken_in(options.since).paragraphs} if options.since else set()
    own = written_out(story, said(desk.composition))
    hunks = compared(own, new.paragraphs, base)
    for hunk in hunks:
        before = own[hunk.ours].text if hunk.kind != "added" else ""
        after = new.paragraphs[hunk.theirs].text if hunk.kind != "removed" else ""
        words = "".join(
            {"=": text, "-": f"[-{text}-]", "+": f"{{+{text}+}}"}[sign] for sign, text in words_between(before, after)
        )
        print(f"{hunk.kind}{WHOSE[hunk.whose]}: {words}")
    print(f"{len(hunks)} paragraph{'s' * (len(hunks) != 1)} differ{'s' * (len(hunks) == 1)}")
    if options.apply:
        chosen = {number for number, hunk in enumerate(hunks) if options.apply == "all" or hunk.usual}
        if chosen:
            desk.do(merged(job, story, new, hunks, chosen))
        target = Path(options.output or options.job)
        write_job(target, desk.job, files | held)
        print(f"{target}: {len(chosen)} taken over")
    return 0


def keeping(held: dict[str, bytes]) -> Keep:
    """Keeps the pictures of a manuscript by their hash, for the file that is written."""

    def keep(name: str, data: bytes) -> PictureFile:
        data = normalised(data)
        file = hashlib.sha256(data).hexdigest()
        held[file] = data
        return described(new_id("i"), name, file, facts_of(data))

    return keep


def find(options: argparse.Namespace) -> int:
    """Tell every place of some words, or put others there."""
    place = Path(options.job)
    data = place.read_bytes()
    desk = Desk(package.read(data))
    size = parse(options.size, "pt") if options.size else None
    query = Query(
        options.words, options.regex, options.whole_words, options.match_case, size=size, family=options.font, language=options.in_language
    )  # fmt: skip
    if options.replace is None:
        count = 0
        for hit in hits(desk.job, query):
            text = hit.paragraph.text
            count += 1
            print(f"{text[max(hit.start - 40, 0) : hit.start]}[{hit.text}]{text[hit.end : hit.end + 40]}")
        print(f"{count:,} found")
        return 0
    edit, count, held = exchanged(desk.job, query, Exchange(options.replace, options.preserve_case))
    if count:
        desk.do(edit)
    target = Path(options.output or options.job)
    write_job(target, desk.job, package.read_files(data))
    print(f"{target}: {count:,} replaced" + (f", {held} left, with something in the line" if held else ""))
    return 0


def spelling(options: argparse.Namespace) -> int:
    """Tell what is probably a mistake, the likeliest first."""
    report = checked(Speller(package.read(Path(options.job).read_bytes()), Dictionaries()))
    if options.json:
        unknown = [
            {"word": one.word, "language": one.language, "count": one.count, "near": one.near} for one in report.unknown
        ]
        twice = [words for words, _ in report.doubled]
        found = {
            "words": report.words,
            "unknown": unknown,
            "twice": twice,
            "variants": [asdict(one) for one in report.variants],
            "unchecked": report.unchecked,
        }
        print(json.dumps(found, indent=2, ensure_ascii=False))
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


def survey(options: argparse.Namespace) -> int:
    """Tell what a manuscript holds."""
    path = Path(options.manuscript)
    read_ = read(path.read_bytes(), path.name, language=options.language)
    if options.json:
        print(json.dumps(_plain(read_), indent=2, ensure_ascii=False))
        return 0
    for line in _lines(read_):
        print(line)
    return 0


def _plain(read_: Manuscript) -> dict[str, Any]:
    return {
        "format": read_.encoding, "counts": read_.counts, "styles": [asdict(use) for use in read_.uses], "clean_ups": [asdict(one) for one in read_.found],
        "parts": [asdict(part) for part in parts_of(read_.paragraphs)], "odd": [asdict(one) for one in odd_headings(read_.paragraphs)], "doubts": list(read_.doubts),
    }  # fmt: skip


def _lines(read_: Manuscript) -> Iterator[str]:
    yield f"{read_.counts['words']:,} words in {read_.encoding}"
    for remark in remarks(read_.counts):
        yield f"  {remark}"
    if read_.uses:
        yield "\nStyles, and what they become"
    for use in read_.uses:
        yield f"  {use.count:6,}  {use.name} = {use.target}  ({use.why})"
    if read_.found:
        yield "\nClean-ups (* is applied unless --no-clean-up names it)"
    for found in read_.found:
        doubts = f", {found.doubtful:,} doubtful" if found.doubtful else ""
        yield f"  {found.count:6,}  {found.id}{' *' if found.on else ''}  {found.word}: {found.became}{doubts}"
    odd = {one.number: one.why for one in odd_headings(read_.paragraphs)}
    yield "\nParts and their words"
    for part in parts_of(read_.paragraphs):
        why = f"  (odd: {odd[part.number]})" if part.number in odd else ""
        yield f"  {part.words:6,}  {'  ' * part.depth}{part.text}{why}"
