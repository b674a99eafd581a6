"""Checks of a job that concern several of its parts: ids that must exist, rings of references, spans that cross.

``check`` looks a whole job through, when it is read; ``check_edits`` what edits touched, before they are kept.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from typing import Any

from lexigon.core import lengths
from lexigon.core.job.anchoring import anchors_in
from lexigon.core.job.articles import normal
from lexigon.core.job.briefs import check_brief, check_margins
from lexigon.core.job.celltexts import text_of
from lexigon.core.job.edits import (
    OBJECT_SPLICES,
    Primitive,
    PutEntry,
    SetBrief,
    SetFrames,
    SetMainStory,
    SetPage,
    SplicePages,
    SpliceParagraphs,
    master_half,
)
from lexigon.core.job.limits import (
    DEEPEST,
    MOST_ENTRIES,
    MOST_FRAMES,
    MOST_LAYERS,
    MOST_NESTED,
    MOST_PAGES,
    MOST_PARAGRAPHS,
)
from lexigon.core.job.model import SIDES, Code, InkSet, Job, Master, Object, Paragraph, Story, StoryKind, Swatch, all_in
from lexigon.core.job.serial import FormError, passed
from lexigon.core.job.tables import TABLES


def _need(ok: bool, message: str) -> None:
    if not ok:
        raise FormError(message)


def check(job: Job) -> None:
    """Look a whole job through. Raises LexigonError for the first thing that cannot be."""
    check_brief(job.brief)
    for name in TABLES:
        _check_table(name, getattr(job, name))
    _check_main(job)
    for master in job.masters.values():
        _check_master(job, master)
    _check_pages(job)
    _check_inlays(job)
    for story in job.stories.values():
        _check_anchors(job, story, story.paragraphs)
        _check_ids(story)
        _check_frames_of(story)
        for paragraph in story.paragraphs:
            check_spans(paragraph)


def check_edits(job: Job, edits: Iterable[Primitive]) -> None:
    """Look through what edits, already applied to ``job``, have touched. The work is of the size of the change."""
    pages = tables = False
    touched: set[str] = set()
    for edit in edits:
        if isinstance(edit, SpliceParagraphs):
            for paragraph in edit.insert:
                check_spans(paragraph)
            if (story := text_of(job, edit.story)) is not None:
                _check_anchors(job, story, edit.insert)
                if edit.remove != 1 or len(edit.insert) != 1:
                    _check_ids(story)
        elif isinstance(edit, OBJECT_SPLICES) and (half := master_half(edit.holder)):
            if (master := job.masters.get(half[0])) is not None:
                _check_master(job, master)
        elif isinstance(edit, OBJECT_SPLICES):
            touched.add(edit.holder)
        elif isinstance(edit, (SplicePages, SetPage)):
            pages = True
        elif isinstance(edit, PutEntry):
            tables = True
            table = getattr(job, edit.table)
            _check_table(edit.table, table)
            entry = table.get(edit.key)
            if edit.table == "masters" and entry is not None:
                _check_master(job, entry)
            if edit.table == "stories" and entry is not None:
                _check_ids(entry)
                for paragraph in entry.paragraphs:
                    check_spans(paragraph)
            if edit.table in ("swatches", "ink_sets"):
                _check_ink_sets(job)
            if edit.table in ("layers", "pictures"):
                for master in job.masters.values():
                    _check_master(job, master)
            if edit.table in ("stories", "inlays", "pictures"):
                _check_inlays(job)
                for story in job.stories.values():
                    _check_anchors(job, story, story.paragraphs)
            pages = pages or edit.table in ("masters", "stories", "layers", "inlays", "pictures")
        elif isinstance(edit, SetFrames) and edit.story in job.stories:
            _check_frames_of(job.stories[edit.story])
        elif isinstance(edit, SetBrief):
            check_brief(job.brief)
            for master in job.masters.values():
                check_margins(job.brief, master)
    if tables or any(isinstance(edit, SetMainStory) for edit in edits):
        _check_main(job)
    if pages:
        _check_pages(job)
    elif touched:
        _check_pages(job, touched)


def _check_main(job: Job) -> None:
    if job.main_story is not None:
        _need(job.main_story in job.stories, "The main text's story is missing.")
        _need(job.stories[job.main_story].kind == "text", "The main story cannot be a note or an anchored frame.")


def _check_anchors(job: Job, story: Story, paragraphs: Iterable[Paragraph]) -> None:
    """Notes are in texts, frames in texts and notes; both are there."""
    for anchor in anchors_in(paragraphs):
        if anchor.kind == "note":
            _need(
                story.kind == "text",
                f"A note stands in “{story.name}”, which is in a note or a frame in a line itself.",
            )
            body = job.stories.get(anchor.ref)
            _need(body is not None and body.kind == "note", f"A note in “{story.name}” is missing.")
        else:
            _need(story.kind != "inlay", "A frame in a line holds text, and no frames in its lines.")
            _need(anchor.ref in job.inlays, f"A frame in a line of “{story.name}” is missing.")


def _check_inlays(job: Job) -> None:
    objects = tuple(job.inlays.values())
    _check_objects(job, objects, "in texts", "inlay")
    for one in objects:
        _need(one.group is None and not one.main, "Only a frame can be anchored, not a group or the main story.")
        _need(one.place is not None and one.place.map is None, "An anchored frame cannot be rotated.")


def _check_table(name: str, table: Mapping[str, Any]) -> None:
    words = name.replace("_", " ")
    _need(len(table) <= MOST_ENTRIES, f"A job has at most {MOST_ENTRIES:,} {words}.")
    for key, entry in table.items():
        _need(entry.id == key, f"An entry of the {words} is called “{key[:40]}” in one place, “{entry.id}” in another.")
    if name == "paragraph_styles":
        _need(bool(table), "A job has at least one paragraph style: text is always in one.")
        for style in table.values():
            _need(style.next is None or style.next in table, f"“{style.name}” is followed by a style that is missing.")
    if name == "layers":
        _need(1 <= len(table) <= MOST_LAYERS, f"A job has 1 to {MOST_LAYERS} layers.")
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
        f"A spot ink cannot have the name of a process ink: “{swatch.name}”.",
    )
    _need(not swatch.spot or kind.spot, f"The spot ink “{swatch.name}” is defined in process inks.")
    _need((swatch.gradient is not None) == (kind.made_of == "gradient"), f"“{swatch.name}” is a gradient or none.")
    stops = swatch.gradient.stops if swatch.gradient else ()
    for stop in stops:
        _need(stop.swatch in table, f"The gradient “{swatch.name}” has a colour that is missing.")
        _need(
            table[stop.swatch].kind.in_gradients,
            f"The gradient “{swatch.name}” has a gradient, or what prints on all plates, among its colours.",
        )
        through = table[stop.swatch].base
        _need(
            through is None or through.swatch not in table or table[through.swatch].kind.in_gradients,
            f"The gradient “{swatch.name}” has a tint of what prints on all plates among its colours.",
        )
    _need(
        (swatch.base is not None) == (kind.made_of == "base"),
        f"“{swatch.name}” is a tint of something or a role that something plays, or none.",
    )
    if swatch.base is not None:
        _need(swatch.base.swatch in table, f"“{swatch.name}” is a tint of a swatch that is missing.")
        _need(
            not kind.played or table[swatch.base.swatch].kind.values > 0,
            f"“{swatch.name}” is a role: a swatch plays it that is mixed itself.",
        )
        _need(
            table[swatch.base.swatch].kind.in_tints,
            f"“{swatch.name}” is a tint of a gradient or of another tint: choose the swatch itself.",
        )
    _need([s.at for s in stops] == sorted(s.at for s in stops), f"The colours of “{swatch.name}” are out of order.")


def _check_ink_sets(job: Job) -> None:
    for ink_set in job.ink_sets.values():
        _check_ink_set(ink_set, job.swatches)


def _check_ink_set(ink_set: InkSet, swatches: Mapping[str, Swatch]) -> None:
    for part in ink_set.parts:
        role, plays = swatches.get(part.role), swatches.get(part.swatch)
        _need(role is not None and role.kind.played, f"The ink set “{ink_set.name}” assigns a role that is missing.")
        _need(
            plays is not None and plays.kind.values > 0,
            f"In the ink set “{ink_set.name}” a role is played by what is missing, or not mixed itself.",
        )
    _need(
        len({part.role for part in ink_set.parts}) == len(ink_set.parts), f"“{ink_set.name}” assigns a role twice.",
    )  # fmt: skip


def check_chains(table: Mapping[str, Any]) -> None:
    """Raises FormError where entries are based on something missing, on themselves, or on a chain that is too long."""
    depth: dict[str, int] = {}
    for key in table:
        path: list[str] = []
        at: str | None = key
        while at is not None and at not in depth:
            _need(at in table, f"“{table[path[-1]].name if path else key}” is based on something that is missing.")
            _need(at not in path, f"“{table[at].name}” is based on itself, by way of others.")
            path.append(at)
            _need(len(path) <= DEEPEST, f"More than {DEEPEST} styles or master pages are based one on the next.")
            at = table[at].based_on
        below = depth[at] if at is not None else 0
        for up, found in enumerate(reversed(path), 1):
            depth[found] = below + up
            _need(depth[found] <= DEEPEST, f"More than {DEEPEST} styles or master pages are based one on the next.")


def _check_objects(job: Job, objects: tuple[Object, ...], where: str, kind: StoryKind = "text") -> set[str]:
    """Look through what stands on a page or a master's half; the ids of all of it, groups included."""
    seen: set[str] = set()
    for one in all_in(objects):
        _need(one.id not in seen, f"Two objects {where} have the same id.")
        seen.add(one.id)
        if one.story is not None:
            _need(one.story in job.stories, f"Frame {one.id} shows a story that is missing.")
            _need(job.stories[one.story].kind == kind, f"Frame {one.id} {where} shows a story that is elsewhere.")
        _need(one.layer in job.layers, f"Object {one.id} {where} is on a layer that is missing.")
        if one.picture is not None:
            _need(
                one.picture.picture in job.pictures,
                f"Frame {one.id} {where} shows a picture that is missing in the job.",
            )
            framing = one.picture
            if framing.box is not None:
                check_rect(framing.box.x, framing.box.y, framing.box.width, framing.box.height, 0.01)
        if one.code is not None:
            check_code(one.code)
        if one.group is not None:
            _need(bool(one.group.objects), f"A group {where} holds nothing.")
            _need(one.group.clip is None or one.place is not None, f"Group {one.id} {where} is cut off at no place.")
        else:
            _need(one.place is not None or one.main, f"Frame {one.id} {where} has no place.")
        if (rect := one.rect) is not None:
            check_rect(rect.x, rect.y, rect.width, rect.height, 0.01)
        check_frame(one)
    _need(len(seen) <= MOST_FRAMES, f"At most {MOST_FRAMES:,} objects can be {where}.")
    _check_nested(objects, MOST_NESTED)
    return seen


def _check_nested(objects: Iterable[Object], left: int) -> None:
    for one in objects:
        if one.group is not None:
            _need(left > 0, f"Groups are nested at most {MOST_NESTED} deep.")
            _check_nested(one.group.objects, left - 1)


def _check_master(job: Job, master: Master) -> None:
    check_margins(job.brief, master)
    for side in SIDES:
        area = job.master_area(master, side)
        _need(area.width >= 18 and area.height >= 18, f"The margins of “{master.name}” leave no room on the page.")
    for half in (master.recto, master.verso):
        _check_objects(job, half, f"on the master page “{master.name}”")


def _check_pages(job: Job, only: Collection[str] | None = None) -> None:
    """Look through what stands on pages: on all of them, or what is new on ``only`` some."""
    _need(1 <= len(job.pages) <= MOST_PAGES, f"A job has 1 to {MOST_PAGES:,} pages.")
    _need(len({page.id for page in job.pages}) == len(job.pages), "Two pages have the same id.")
    seen = set(job.inlays)
    for page in job.pages:
        _need(page.master is None or page.master in job.masters, f"Page {page.id} uses a master page that is missing.")
        if page.objects:
            new = only is None or page.id in only
            ids = _check_objects(job, page.objects, "on a page") if new else {one.id for one in all_in(page.objects)}
            _need(not ids & seen, "Two objects on pages have the same id.")
            seen |= ids


def _check_ids(story: Story) -> None:
    _need(len(story.paragraphs) <= MOST_PARAGRAPHS, f"A story has at most {MOST_PARAGRAPHS:,} paragraphs.")
    _need(bool(story.paragraphs), f"“{story.name}” has no paragraph: a story has at least one.")
    ids = {paragraph.id for paragraph in story.paragraphs}
    _need(len(ids) == len(story.paragraphs), f"Two paragraphs of “{story.name}” have the same id.")


def _check_frames_of(story: Story) -> None:
    _need(len(set(story.frames)) == len(story.frames), f"“{story.name}” flows through one frame twice.")


def check_spans(paragraph: Paragraph) -> None:
    """Spans lie in order, within the text; a field's covers one object."""
    at, length = 0, len(paragraph.text)
    for span in paragraph.spans:
        _need(at <= span.start < span.end <= length, f"Paragraph {paragraph.id} has spans that cross.")
        at = span.end


def check_rect(x: float, y: float, width: float, height: float, least: float) -> None:
    """Raises FormError for a place or a size that no frame has; ``least`` is the smallest width and height, in points."""
    _need(
        all(abs(value) <= lengths.LIMIT for value in (x, y, width, height)),
        "This is larger than anything that can be printed.",
    )
    _need(width >= least and height >= least, "A frame is at least 4 pt wide and high.")


def check_code(code: Code) -> None:
    """Raises FormError for what cannot be written as a code."""
    _need(bool(code.text), "Type the content of the code.")
    kind = code.symbology
    most = kind.holds(code.level)
    correction = " with this much correction" if kind.most_by_level else ""
    _need(not most or len(code.text.encode()) <= most, f"A {kind.name}{correction} holds at most {most:,} bytes.")
    if kind.digits:
        _need(
            normal(code.form, code.text) == code.text,
            "An article number is written with its check digit and without hyphens.",
        )
    elif not kind.message:
        plain = all(" " <= sign <= "~" for sign in code.text)
        _need(
            plain and len(code.text) <= 80,
            f"{kind.name} holds at most 80 plain letters, figures and punctuation marks.",
        )
    _need(len(code.addon) in (0, 2, 5), "An add-on has two or five figures.")


def check_frame(frame: Object) -> None:
    """Raises FormError for a make that nothing can be set in."""
    if frame.text is not None:
        least, most = frame.text.fit_sizes
        _need(least <= most, "Type is fitted between two sizes of 0.1 to 5,000 pt, the smaller one first.")
    for outline in (frame.outline, frame.group.clip if frame.group else None):
        if outline is not None and outline.kind == "polygon":
            _need(len(outline.points) >= 3, "A polygon has at least three corners.")


def check_specs(*specs: Any) -> None:
    """Raises FormError for settings (TypeSpec, ParaSpec, Stroke, ...) that nothing can be set in. ``None`` is passed over."""
    for spec in specs:
        if spec is not None:
            passed(spec)
