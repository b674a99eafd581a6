"""Checks of a job that concern several of its parts: ids that must exist, circular references, overlapping spans.

``check`` checks a whole job when it is read. What edits have touched is checked by ``editing/validation.py``. All raise
FormError with a message in plain words.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from typing import Any

from lexigon.core import lengths
from lexigon.core.document.anchors import anchors_in
from lexigon.core.document.article_numbers import normal
from lexigon.core.document.brief_rules import check_brief, check_margins
from lexigon.core.document.limits import (
    DEEPEST,
    MOST_ENTRIES,
    MOST_FRAMES,
    MOST_LAYERS,
    MOST_NESTED,
    MOST_PAGES,
    MOST_PARAGRAPHS,
)
from lexigon.core.document.model import (
    SIDES,
    Code,
    InkSet,
    Job,
    Master,
    Object,
    Paragraph,
    Story,
    StoryKind,
    Swatch,
    all_in,
)
from lexigon.core.document.registry import TABLES
from lexigon.core.errors import FormError
from lexigon.core.numerals import integer


def _need(ok: bool, message: str) -> None:
    if not ok:
        raise FormError(message)


def check(job: Job) -> None:
    """Check a whole job. Raises LexigonError for the first error."""
    check_brief(job.brief)
    for name in TABLES:
        check_table(name, getattr(job, name))
    check_main(job)
    for master in job.masters.values():
        check_master(job, master)
    check_pages(job)
    check_inlays(job)
    for story in job.stories.values():
        check_anchors(job, story, story.paragraphs)
        check_ids(story)
        check_frames_of(story)
        for paragraph in story.paragraphs:
            check_spans(paragraph)


def check_main(job: Job) -> None:
    """Check that the main story exists, and is neither a note nor an anchored frame."""
    if job.main_story is not None:
        _need(job.main_story in job.stories, "The main text's story is missing.")
        _need(job.stories[job.main_story].kind == "text", "The main story cannot be a note or an anchored frame.")


def check_anchors(job: Job, story: Story, paragraphs: Iterable[Paragraph]) -> None:
    """Check that notes are anchored in stories, frames in stories and notes, and that none of them is missing."""
    for anchor in anchors_in(paragraphs):
        if anchor.kind == "note":
            _need(
                story.kind == "text",
                f"A note cannot be inside “{story.name}”, which is a note or an anchored frame. Place it in the main "
                "text.",
            )
            body = job.stories.get(anchor.ref)
            _need(body is not None and body.kind == "note", f"A note in “{story.name}” is missing.")
        else:
            _need(story.kind != "inlay", "An anchored frame cannot contain another anchored frame.")
            _need(anchor.ref in job.inlays, f"An anchored frame of “{story.name}” is missing.")


def check_inlays(job: Job) -> None:
    """Check the anchored frames."""
    objects = tuple(job.inlays.values())
    _check_objects(job, objects, "in texts", "inlay")
    for one in objects:
        _need(one.group is None and not one.main, "Only a frame can be anchored, not a group or the main story.")
        _need(one.place is not None and one.place.map is None, "An anchored frame cannot be rotated.")


def check_table(name: str, table: Mapping[str, Any]) -> None:
    """Check a table of the job by its name: ids, chains, and what its entries need."""
    words = name.replace("_", " ")
    _need(
        len(table) <= MOST_ENTRIES, f"A job has at most {integer(MOST_ENTRIES)} {words}. Delete some that are not used."
    )
    for key, entry in table.items():
        _need(
            entry.id == key, f"The {words} have an entry “{key[:40]}” whose id is “{entry.id}”; the two must be equal."
        )
    if name == "paragraph_styles":
        _need(bool(table), "A job needs at least one paragraph style, so the last one cannot be deleted.")
        for style in table.values():
            _need(
                style.next is None or style.next in table,
                f"The next style of “{style.name}” is missing. Select another one.",
            )
    if name == "layers":
        _need(1 <= len(table) <= MOST_LAYERS, f"A job has 1 to {MOST_LAYERS} layers. The last one cannot be deleted.")
    if name == "swatches":
        for swatch in table.values():
            _check_swatch(swatch, table)
    if TABLES[name].chained:
        check_chains(table)


TAKEN_INKS = ("All", "None", "Cyan", "Magenta", "Yellow", "Black")
"""Names of plates that mean something else (ISO 32000-2, 8.6.6.4 and 8.6.6.5)."""


def _check_swatch(swatch: Swatch, table: Mapping[str, Swatch]) -> None:
    kind = swatch.kind
    _need(len(swatch.values) == kind.values, f"The swatch “{swatch.name}” needs {kind.values} values.")
    _need(
        not swatch.spot or (swatch.name.strip() != "" and swatch.name not in TAKEN_INKS),
        f"“{swatch.name}” is the name of a process ink or of all inks. Type another name for the spot ink.",
    )
    _need(
        not swatch.spot or kind.spot,
        f"The spot ink “{swatch.name}” needs values in process inks, for screens and other presses. Select CMYK.",
    )
    _need(
        (swatch.gradient is not None) == (kind.made_of == "gradient"),
        f"The swatch “{swatch.name}” must have stops if it is a gradient, and none if it is not.",
    )
    stops = swatch.gradient.stops if swatch.gradient else ()
    for stop in stops:
        _need(stop.swatch in table, f"The gradient “{swatch.name}” uses a swatch that is missing. Select another one.")
        _need(
            table[stop.swatch].kind.in_gradients,
            f"The gradient “{swatch.name}” cannot use another gradient or registration. Select a plain colour.",
        )
        through = table[stop.swatch].base
        _need(
            through is None or through.swatch not in table or table[through.swatch].kind.in_gradients,
            f"The gradient “{swatch.name}” cannot use a tint of registration. Select a plain colour.",
        )
    _need(
        (swatch.base is not None) == (kind.made_of == "base"),
        f"Only a tint or a role is based on another swatch, and “{swatch.name}” is neither or lacks it.",
    )
    if swatch.base is not None:
        _need(
            swatch.base.swatch in table, f"The swatch on which “{swatch.name}” is based is missing. Select another one."
        )
        _need(
            not kind.played or table[swatch.base.swatch].kind.values > 0,
            f"The role “{swatch.name}” needs a plain colour, not a gradient, a tint or another role.",
        )
        _need(
            table[swatch.base.swatch].kind.in_tints,
            f"“{swatch.name}” cannot be a tint of a gradient or of another tint. Select the swatch itself.",
        )
    _need(
        [s.at for s in stops] == sorted(s.at for s in stops),
        f"The stops of the gradient “{swatch.name}” must be in order from 0 to 100 %.",
    )


def check_ink_sets(job: Job) -> None:
    """Check that ink sets assign existing swatches to roles."""
    for ink_set in job.ink_sets.values():
        _check_ink_set(ink_set, job.swatches)


def _check_ink_set(ink_set: InkSet, swatches: Mapping[str, Swatch]) -> None:
    for part in ink_set.parts:
        role, plays = swatches.get(part.role), swatches.get(part.swatch)
        _need(role is not None and role.kind.played, f"The ink set “{ink_set.name}” assigns a role that is missing.")
        _need(
            plays is not None and plays.kind.values > 0,
            f"In the ink set “{ink_set.name}”, each role needs a plain colour that exists. Select another swatch.",
        )
    roles = {part.role for part in ink_set.parts}
    _need(len(roles) == len(ink_set.parts), f"The ink set “{ink_set.name}” assigns a role twice.")


def check_chains(table: Mapping[str, Any]) -> None:
    """Check that no entry is based on a missing one or on itself, and that no chain is too long. Raises FormError."""
    depth: dict[str, int] = {}
    for key in table:
        path: list[str] = []
        at: str | None = key
        while at is not None and at not in depth:
            _need(
                at in table,
                f"The style on which “{table[path[-1]].name if path else key}” is based is missing. Select another "
                "one.",
            )
            _need(
                at not in path,
                f"“{table[at].name}” would be based on itself, directly or through others. Select another style.",
            )
            path.append(at)
            _need(
                len(path) <= DEEPEST, f"At most {DEEPEST} styles or master pages can be based on each other in a chain."
            )
            at = table[at].based_on
        below = depth[at] if at is not None else 0
        for up, entry_key in enumerate(reversed(path), 1):
            depth[entry_key] = below + up
            _need(
                depth[entry_key] <= DEEPEST,
                f"At most {DEEPEST} styles or master pages can be based on each other in a chain.",
            )


def _check_objects(job: Job, objects: tuple[Object, ...], where: str, kind: StoryKind = "text") -> set[str]:
    """Check the objects of a page or of one side of a master page. Returns their ids, members of groups included."""
    ids: set[str] = set()
    for one in all_in(objects):
        _need(one.id not in ids, f"Two objects {where} have the same id.")
        ids.add(one.id)
        if one.story is not None:
            _need(one.story in job.stories, f"Frame {one.id} shows a story that is missing.")
            _need(job.stories[one.story].kind == kind, f"Frame {one.id} {where} shows a story of another kind.")
        _need(one.layer in job.layers, f"Object {one.id} {where} is on a layer that is missing.")
        if one.picture is not None:
            _need(
                one.picture.picture in job.pictures,
                f"The picture of frame {one.id} {where} is missing from the job.",
            )
            framing = one.picture
            if framing.box is not None:
                check_rect(framing.box.x, framing.box.y, framing.box.width, framing.box.height, 0.01)
        if one.code is not None:
            check_code(one.code)
        if one.group is not None:
            _need(bool(one.group.objects), f"A group {where} is empty.")
            _need(
                one.group.clip is None or one.place is not None,
                f"The clipping shape of group {one.id} {where} has no position.",
            )
        else:
            _need(one.place is not None or one.main, f"Frame {one.id} {where} has no position.")
        if (rect := one.rect) is not None:
            check_rect(rect.x, rect.y, rect.width, rect.height, 0.01)
        check_frame(one)
    _need(len(ids) <= MOST_FRAMES, f"At most {integer(MOST_FRAMES)} objects can be {where}. Move some to another page.")
    _check_nested(objects, MOST_NESTED)
    return ids


def _check_nested(objects: Iterable[Object], left: int) -> None:
    for one in objects:
        if one.group is not None:
            _need(left > 0, f"Groups can be nested at most {MOST_NESTED} deep. Ungroup some first.")
            _check_nested(one.group.objects, left - 1)


def check_master(job: Job, master: Master) -> None:
    """Check the margins and the objects of a master page."""
    check_margins(job.brief, master)
    for side in SIDES:
        area = job.master_area(master, side)
        _need(
            area.width >= 18 and area.height >= 18,
            f"The margins of “{master.name}” leave no room for text. Reduce them.",
        )
    for half in (master.recto, master.verso):
        _check_objects(job, half, f"on the master page “{master.name}”")


def check_pages(job: Job, only: Collection[str] | None = None) -> None:
    """Check the objects of all pages, or of the pages ``only`` that an edit has touched."""
    _need(1 <= len(job.pages) <= MOST_PAGES, f"A job has 1 to {integer(MOST_PAGES)} pages.")
    _need(len({page.id for page in job.pages}) == len(job.pages), "Two pages have the same id.")
    page_ids = set(job.inlays)
    for page in job.pages:
        _need(page.master is None or page.master in job.masters, f"Page {page.id} uses a master page that is missing.")
        if page.objects:
            new = only is None or page.id in only
            ids = _check_objects(job, page.objects, "on a page") if new else {one.id for one in all_in(page.objects)}
            _need(not ids & page_ids, "Two objects on pages have the same id.")
            page_ids |= ids


def check_ids(story: Story) -> None:
    """Check that a story has paragraphs, not too many, with unique ids."""
    _need(
        len(story.paragraphs) <= MOST_PARAGRAPHS,
        f"A story has at most {integer(MOST_PARAGRAPHS)} paragraphs. Divide it into several stories.",
    )
    _need(bool(story.paragraphs), f"The story “{story.name}” needs at least one paragraph.")
    ids = {paragraph.id for paragraph in story.paragraphs}
    _need(len(ids) == len(story.paragraphs), f"Two paragraphs of “{story.name}” have the same id.")


def check_frames_of(story: Story) -> None:
    """Check that a story flows through each frame once."""
    _need(len(set(story.frames)) == len(story.frames), f"“{story.name}” cannot flow through the same frame twice.")


def check_spans(paragraph: Paragraph) -> None:
    """Check that spans are in order, do not overlap and lie within the text. Raises FormError."""
    at, length = 0, len(paragraph.text)
    for span in paragraph.spans:
        _need(
            at <= span.start < span.end <= length,
            f"Paragraph {paragraph.id} has spans that overlap or lie outside its text.",
        )
        at = span.end


def check_rect(x: float, y: float, width: float, height: float, least: float) -> None:
    """Check the position and size of a frame, in points; ``least`` is the smallest width and height. Raises
    FormError."""
    _need(
        all(abs(value) <= lengths.LIMIT for value in (x, y, width, height)),
        "The position or size is too large. Type a smaller value.",
    )
    _need(width >= least and height >= least, f"A frame must be at least {least:g} pt wide and high.")


def check_code(code: Code) -> None:
    """Check that the content of a code can be written in its symbology. Raises FormError."""
    _need(bool(code.text), "Type the content of the code.")
    kind = code.symbology
    most = kind.holds(code.level)
    correction = " with this error correction" if kind.most_by_level else ""
    _need(
        not most or len(code.text.encode()) <= most,
        f"A {kind.name}{correction} holds at most {integer(most)} bytes. Shorten the content.",
    )
    if kind.digits:
        _need(
            normal(code.form, code.text) == code.text,
            "Type the article number with its check digit and without hyphens.",
        )
    elif not kind.message:
        plain = all(" " <= character <= "~" for character in code.text)
        _need(
            plain and len(code.text) <= 80,
            f"{kind.name} holds at most 80 plain letters, figures and punctuation marks.",
        )
    _need(len(code.addon) in (0, 2, 5), "An add-on has two or five figures. Type those, or leave it empty.")


def check_frame(frame: Object) -> None:
    """Check the sizes to fit and the outline of a frame. Raises FormError."""
    if frame.text is not None:
        least, most = frame.text.fit_sizes
        _need(least <= most, "Type two sizes from 0.1 to 5,000 pt to fit between, the smaller one first.")
    for outline in (frame.outline, frame.group.clip if frame.group else None):
        if outline is not None and outline.kind == "polygon":
            _need(len(outline.points) >= 3, "A polygon needs at least three corners.")
