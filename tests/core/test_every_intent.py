"""Every kind of intent, with values at random from a job that has something of everything: what is accepted is undone
exactly, and changes nothing but what its edits declare to touch.

Values are made by the types of an intent's fields, names of things are taken from the job. Nightly (LEXIGON_NIGHTLY)
each kind is accepted twenty times, else twice.
"""

from __future__ import annotations

import dataclasses
import os
import random
import types
import typing
from collections.abc import Callable
from functools import cache
from typing import Any, Literal, Union

import pytest

from lexigon.core.document.model import (
    Casting,
    Fill,
    FrameSpec,
    Gathered,
    Guide,
    Job,
    Listing,
    ListingSource,
    NoteKind,
    Outline,
    Overlay,
    OwnFont,
    Paragraph,
    PictureFile,
    Stroke,
    TableStyle,
    Target,
)
from lexigon.core.document.registry import TABLES
from lexigon.core.editing import intents as do
from lexigon.core.editing.conflicts import parts_touched
from lexigon.core.editing.edits import apply_all
from lexigon.core.editing.intents import Cells, Chosen, Place
from lexigon.core.editing.intents.objects.copying import ObjectClip, clip_of
from lexigon.core.editing.intents.registry import intent_from_plain, known_intents
from lexigon.core.editing.validation import check_edits
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.fileformat.values import passed, plain
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.core.helpers import book

NIGHTLY = bool(os.environ.get("LEXIGON_NIGHTLY"))
WANTED = 20 if NIGHTLY else 2
TRIES = 6000 if NIGHTLY else 500
FILE = "ab" * 32
NUMBERS = (0, 1, 2, 3, 0.5, 0.25, 12, 40, 90, -6, 300)
WORDS = ("Tide", "High water", "Ines", "dunlin", "x", "", "Marsh 2")


def rich_job() -> Job:
    """A job that has something of everything that intents are about."""
    workspace = Workspace(book(facing=False))
    workspace.do(
        do.PourText(
            "main",
            tuple(Paragraph(f"p{n}", "body", f"The tide turned at {n}. The geese came in low.") for n in range(8)),
        )
    )
    workspace.do(do.AddPages(1, 2))
    pages = [page.id for page in workspace.job.pages]
    workspace.do(
        do.PutSwatch(name="Teal", space="cmyk", values=(0.8, 0.1, 0.4, 0.0)),
        do.PutSwatch(name="Green", space="cmyk", values=(0.7, 0, 0.7, 0.1), spot=True),
    )
    workspace.do(do.PutSwatch(name="Main", space="role", base=Fill("black"), group="Marsh"))
    main = next(key for key, one in workspace.job.swatches.items() if one.name == "Main")
    workspace.do(do.PutInkSet(name="Dusk", parts=(Casting(main, "black", 0.5),)))
    workspace.do(do.AddLayer("Lines"), do.PutPaper(do_paper()))
    teal = next(key for key, one in workspace.job.swatches.items() if one.name == "Teal")
    picture = PictureFile("i1", "tern.png", FILE, 400, 300)
    for at, page in enumerate(pages[:2]):
        workspace.do(do.AddShape(page, Rect(60 + at, 60, 80, 60), None, FrameSpec(fill=Fill(teal)), "Buoy"))
        workspace.do(do.AddShape(page, Rect(100, 90, 60, 60), Outline(), FrameSpec(fill=Fill("black")), "Moon"))
        workspace.do(
            do.AddShape(page, Rect(200, 90, 40, 60), None, FrameSpec(fill=Fill(teal))),
            do.AddShape(page, Rect(250, 90, 40, 60), Outline(), FrameSpec()),
        )
        group = tuple(one.id for one in workspace.job.pages[at].objects[-2:])
        workspace.do(do.GroupObjects(page, group, "Pair"))
        workspace.do(do.AddRule(page, (60, 300), (200, 320), Stroke(1.0, "black")))
        workspace.do(
            do.AddPath(
                page,
                "M60 400 C80 380 120 380 140 400 L160 440 Z M200 400 L260 420 L230 440 Z",
                FrameSpec(stroke=Stroke(1.0, teal)),
            )
        )
        workspace.do(
            do.AddTextFrame(page, Rect(60, 460, 140, 60), text="A note by the plank\nand another"),
            do.AddTextFrame(page, Rect(220, 460, 90, 60), text="Aside"),
        )
        workspace.do(do.PlacePicture(page, Rect(300, 60, 80, 60), picture.id, picture if at == 0 else None))
        workspace.do(do.AddCode(page, Rect(300, 200, 60, 60), do_code()))
        workspace.do(do.PutGuides(page, (Guide("x", 90.0), Guide("y", 200.0))))
    workspace.do(
        do.AddNote("main", Place("p1", 4), Place("p1", 4), "As the almanac has it."),
        do.AddTable("main", Place("p3", 0), words="Bird\tJan\nKnot\t59\nDunlin\t41"),
    )
    workspace.do(do.AddInlay("main", Place("p4", 3), Place("p4", 3), 30.0, 20.0, text="In line"))
    workspace.do(
        do.AddMaster("Opening"),
        do.PutCopy(name="Warden", text="Ines Marrow"),
        do.PutTerm(name="Tides"),
        do.LearnWord("dunlin", "en-GB"),
    )
    workspace.do(do.MarkTerm("main", Place("p2", 0), Place("p2", 3), "Geese"))
    workspace.do(do.PutMarking('in Body, from "turned" through "at": Emphasis', "Rotate object"))
    workspace.do(
        do.AddFont(OwnFont("t1", "Wherry.ttf", FILE, "Wherry Sans")),
        do.PutOverlay(Overlay("o1", "Die.pdf", FILE, 100.0, 100.0)),
    )
    workspace.do(
        do.PutStyle("rule", name="Hair"),
        do.PutStyle("frame", name="Boxed"),
        do.PutMarking('in Body, from "geese" through "in": Strong', "Geese"),
    )
    workspace.do(
        do.PutNoteKind(NoteKind("k1", "Sources")),
        do.PutNoteKind(NoteKind("k2", "Margin", "margin")),
        do.PutTableStyle(TableStyle("s1", "Ruled")),
    )
    workspace.do(
        do.PutListing(Listing("g1", "Contents", (ListingSource("body"),))),
        do.PlaceListing("g1", "main", Place("p7", 0), GATHERED),
        do.PutListing(Listing("g2", "Figures", (ListingSource("body"),))),
        do.PutListing(Listing("g3", "Plates", (ListingSource("body"),))),
        do.AddTable("main", Place("p6", 0), words="Bird\tJan\nKnot\t59\nDunlin\t41\nCurlew\t7"),
    )
    one, two = (frame.id for frame in workspace.job.pages[1].objects if frame.text is not None and not frame.text.main)
    workspace.do(
        do.LinkFrames(one, pages[1], two), do.AddPicture(dataclasses.replace(picture, id="i2", file="cd" * 32))
    )
    workspace.do(do.PutRecords("Wardens", ("id", "name"), (FILE,), 3))
    (records,) = workspace.job.record_sets
    workspace.do(do.AdjustRecord(records, "1", workspace.job.pages[0].objects[0].id, move=(2.0, 0.0)))
    workspace.do(do.AcceptFinding("hidden layer", "0a1b2c", "The layer “Notes” is hidden.", "for the editor"))
    table = next(iter(workspace.job.tables))
    workspace.do(do.JoinCells(Cells(table, 1, 0, 2, 1)))
    return workspace.job


GATHERED = tuple(Gathered((Target(f"p{n}"),), f"Entry {n}", level=1, style="body") for n in (1, 2))


def do_paper() -> Any:
    from lexigon.core.document.model import Paper

    return Paper("pp1", "Cream 90", 0.11)


def do_code() -> Any:
    from lexigon.core.document.model import Code

    return Code("qr", "lantern")


class Values:
    """Values for the fields of intents, from a job."""

    def __init__(self, job: Job, dice: random.Random) -> None:
        self.job, self.dice = job, dice
        self.page = dice.choice([page.id for page in job.pages] + [f"master:{key}:recto" for key in job.masters])
        self.held = self._on(self.page)
        self.story = dice.choice([key for key, story in job.stories.items() if story.paragraphs])

    def _on(self, page: str) -> list[Any]:
        found = next((one.objects for one in self.job.pages if one.id == page), None)
        if found is None:
            _, key, side = page.split(":")
            found = getattr(self.job.masters[key], side)
        return list(found)

    def of(self, hint: Any, where: str, owner: str) -> Any:
        """A value of a type, for the field called ``where`` of ``owner``."""
        named = self._named(where, owner)
        if named is not None:
            return named()
        origin = typing.get_origin(hint)
        if origin is typing.Annotated:
            return self.of(hint.__args__[0], where, owner)
        if origin in (Union, types.UnionType):
            return self.of(self.dice.choice(hint.__args__), where, owner)
        if origin is Literal:
            return self.dice.choice(hint.__args__)
        if origin is tuple:
            return self._tuple(hint.__args__, where, owner)
        if origin is dict:
            return {}
        return self._plain(hint, where, owner)

    def _tuple(self, parts: Any, where: str, owner: str) -> list[Any]:
        if parts[-1] is Ellipsis:
            return [
                self.of(parts[0], where[:-1] if where.endswith("s") else where, owner)
                for _ in range(self.dice.randrange(1, 3))
            ]
        return [self.of(part, f"{where}[]", owner) for part in parts]

    def _plain(self, hint: Any, where: str, owner: str) -> Any:
        if hint is type(None):
            return None
        if hint is bool:
            return self.dice.random() < 0.5
        if hint is int:
            return self.dice.choice((0, 1, 2, 3))
        if hint is float:
            return self.dice.choice(NUMBERS)
        if hint is str:
            return self.dice.choice(WORDS)
        if dataclasses.is_dataclass(hint):
            return self.form(hint)
        return None

    def form(self, cls: Any) -> dict[str, Any]:
        """A dataclass with some of its fields: those without a default, and others now and then."""
        hints = typing.get_type_hints(cls, include_extras=True)
        made: dict[str, Any] = {}
        for field in dataclasses.fields(cls):
            needed = field.default is dataclasses.MISSING and field.default_factory is dataclasses.MISSING
            if field.name in ("do", "kind") and not needed:
                made[field.name] = field.default
            elif needed or self.dice.random() < 0.35:
                made[field.name] = self.of(hints[field.name], field.name, cls.__name__)
        return made

    def _pick(self, table: str) -> Callable[[], str]:
        return lambda: self.dice.choice(list(getattr(self.job, table)) or ["none"])

    def _named(self, where: str, owner: str) -> Callable[[], Any] | None:
        """What a field that names something is given."""
        dice, job = self.dice, self.job
        objects = lambda: dice.sample(self.held, min(len(self.held), dice.choice((1, 1, 2, 3))))  # noqa: E731
        tables = {
            "master": "masters",
            "based_on": "masters",
            "replacement": "masters",
            "layer": "layers",
            "into": "layers",
            "above": "layers",
            "other": "layers",
            "swatch": "swatches",
            "instead": "swatches",
            "role": "swatches",
            "second": "swatches",
            "picture": "pictures",
            "inlay": "inlays",
            "table": "tables",
            "listing": "listings",
            "parent": "terms",
            "under": "terms",
        }
        kinds = {
            "RemoveSwatch": "swatches",
            "MoveSwatch": "swatches",
            "PutSwatch": "swatches",
            "RemoveInkSet": "ink_sets",
            "ChooseInkSet": "ink_sets",
            "PutInkSet": "ink_sets",
            "RemoveFont": "fonts",
            "RemoveCopy": "copies",
            "PutCopy": "copies",
            "SwitchMarking": "markings",
            "MoveMarking": "markings",
            "RemoveMarking": "markings",
            "DoMarking": "markings",
            "PutMarking": "markings",
            "ForgetWord": "lexicon",
            "RemoveOverlay": "overlays",
            "RemovePaper": "papers",
            "RemoveTerm": "terms",
            "PutTerm": "terms",
        }
        if where in ("page", "into_page"):
            return lambda: self.page
        if where == "pages" and owner not in ("ApplyMaster", "Cover"):
            return lambda: [page.id for page in dice.sample(job.pages, dice.choice((1, 2)))]
        if where in ("frame", "object", "group", "into", "after") and owner not in (
            "AddSwatches",
            "PutSwatch",
            "NameSwatchGroup",
            "GrowStory",
            "Swatch",
            "RemoveLayer",
            "AddNode",
        ):
            wanted = [
                one for one in self.held if (one.group is not None) == (where == "group" and owner != "PutSwatch")
            ] or self.held
            return lambda: dice.choice(wanted).id if wanted else "none"
        if owner == "Chosen" and where == "id":
            return lambda: dice.choice(self.held).id if self.held else "none"
        if owner == "Chosen" and where == "inner":
            return lambda: ""
        if where in ("frames", "order") or (where == "objects" and owner in ("GroupObjects", "CutOff")):
            return lambda: [one.id for one in objects()]
        if where == "objects" and owner != "ObjectClip":
            return lambda: [{"page": self.page, "id": one.id} for one in objects()]
        if where in ("story", "to_story"):
            return lambda: self.story
        if where in ("paragraph", "first", "last", "before") and owner in ("Place", "SetParagraphs", "MoveParagraphs"):
            return lambda: dice.choice(job.stories[self.story].paragraphs).id
        if where == "offset":
            return lambda: dice.choice((0, 1, 4))
        if owner in kinds and where == "id":
            return self._pick(kinds[owner])
        if where in ("kind",) and owner in ("RemoveNoteKind", "AddNote", "SetNoteKind"):
            return lambda: dice.choice([*job.note_kinds, ""])
        if where == "style" or (where in ("next", "head_style", "body_style")):
            pool = {
                "FormatText": "character_styles",
                "Span": "character_styles",
                "ChangeFrame": "frame_styles",
                "AddTextFrame": "frame_styles",
                "Stroke": "rule_styles",
                "ListMark": "character_styles",
                "RemoveTableStyle": "table_styles",
                "ChangeTable": "table_styles",
            }.get(owner, "paragraph_styles")
            return lambda: dice.choice(
                [*getattr(job, pool), *([None] if owner in ("Stroke", "ListMark", "Span") else [])] or ["none"]
            )
        if where == "file":
            return lambda: (
                FILE
                if owner in ("PictureFile", "OwnFont", "Overlay")
                else dataclasses_plain(next(iter(job.pictures.values())))
            )
        if owner == "Scaled" and where == "width":
            return lambda: dice.choice((20.0, 80.0))
        if where == "data":
            return lambda: "M60 400 L160 440 L90 500 Z"
        if where == "clip" and owner == "PasteObjects":
            return lambda: plain(
                clip_of(job, tuple(Chosen(self.page, one.id) for one in objects())) if self.held else ObjectClip(())
            )
        if where == "brief":
            return lambda: plain(dataclasses.replace(job.brief, width=dice.choice((432.0, 400.0, 500.0))))
        if where == "line":
            return lambda: 'in Body, from "turned" through "at": Emphasis'
        if where == "url" or where == "link":
            return lambda: None
        if where in ("id", "ref"):
            return lambda: f"n{dice.randrange(10**9)}"
        if where in tables and owner not in (
            "Picture",
            "SpreadObjects",
            "AlignObjects",
            "OrderObjects",
            "FillArea",
            "AddTextFrame",
            "LinkFrames",
        ):
            return self._pick(tables[where])
        if where == "spans":
            return list
        return None


def dataclasses_plain(value: Any) -> Any:
    return {**plain(value), "id": "i9"}


def special(kind: str, values: Values) -> dict[str, Any] | None:
    """Values for kinds whose parts must fit together."""
    job, dice = values.job, values.dice
    fresh = f"n{dice.randrange(10**9)}"
    if kind == "PartCells":
        return {
            "cells": {"table": next(iter(job.tables)), "top": dice.choice((0, 1)), "left": 0, "bottom": 2, "right": 1}
        }
    if kind == "PartShapes":
        return {
            "objects": [
                {"page": page.id, "id": one.id}
                for page in job.pages[:2]
                for one in page.objects
                if one.outline and one.outline.data
            ][: dice.choice((1, 2))]
        }
    if kind in ("UnlinkFrame", "CutStory"):
        story, (frame, *_) = next(
            (key, one.frames[1:])
            for key, one in job.stories.items()
            if len(one.frames) > 1 and one.id != job.main_story
        )
        if kind == "UnlinkFrame":
            return {"page": job.pages[1].id, "frame": frame}
        place = dice.choice(job.stories[story].paragraphs)
        return {"story": story, "at": {"paragraph": place.id, "offset": dice.randrange(0, 4)}, "frame": frame}
    if kind == "AddFont":
        return {"font": {"id": fresh, "name": "B.ttf", "file": f"{dice.randrange(16**8):08x}" * 8, "family": "Rook"}}
    if kind == "TakeOver":
        page = dice.choice([page for page in job.pages if job.master_frames(page.master, "recto")])
        return {
            "page": page.id,
            "frame": dice.choice([frame.id for frame, _ in job.master_frames(page.master, "recto")]),
        }
    if kind == "NameSwatchGroup":
        return {"group": "Marsh", "name": dice.choice(("", "Reeds", "Ebb"))}
    if kind == "AddInkSet":
        role = next(key for key, one in job.swatches.items() if one.space == "role")
        swatch = {
            "id": "n1",
            "name": dice.choice(WORDS) or "Ink",
            "space": "cmyk",
            "values": [dice.random() for _ in range(4)],
        }
        return {"name": fresh, "swatches": [swatch], "parts": [{"role": role, "swatch": "n1"}]}
    if kind == "SortTable":
        return {"table": list(job.tables)[-1], "column": dice.choice((0, 1)), "descending": dice.random() < 0.5}
    if kind == "JoinTexts":
        return {
            "objects": [
                {"page": page.id, "id": one.id}
                for page in job.pages
                for one in page.objects
                if one.text is not None and not one.text.main and one.name != "Joined"
            ][: dice.choice((2, 3))]
        }
    if kind == "InsertListing":
        gathered = [{"targets": [{"paragraph": "p5"}], "words": fresh, "level": 1, "style": "body"}]
        where, heading = dice.choice(("front", "end")), dice.choice(("", fresh))
        return {"listing": "g3", "story": "main", "gathered": gathered, "where": where, "heading": heading}
    if kind in ("PlaceListing", "UpdateListing"):
        more = {
            "listing": "g1" if kind == "UpdateListing" else "g2",
            "gathered": [plain(one) for one in GATHERED[: dice.choice((0, 1, 2))]]
            + [{"targets": [{"paragraph": "p5"}], "words": fresh, "level": 1, "style": "body"}],
        }
        return more | (
            {"story": "main", "at": {"paragraph": dice.choice(("p0", "p5")), "offset": 0}}
            if kind == "PlaceListing"
            else {}
        )
    if kind == "PutListing":
        return {
            "listing": {"id": dice.choice((fresh, "g1")), "name": fresh, "sources": [{"style": "body", "level": 1}]}
        }
    if kind == "BringMasters":
        master = plain(dice.choice(list(job.masters.values())))
        return {
            "masters": [{**master, "id": fresh, "recto": [], "verso": []}],
            "stories": [],
            "styles": [],
            "brief": plain(job.brief),
        }
    if kind in ("RemoveNoteKind", "SetNoteKind"):
        note = next(key for key, one in job.stories.items() if one.kind == "note")
        return {"kind": dice.choice(("k1", "k2"))} | ({"notes": [note], "kind": "k2"} if kind == "SetNoteKind" else {})
    if kind == "AddPicture":
        return {
            "picture": {
                **dataclasses_plain(job.pictures["i1"]),
                "id": fresh,
                "file": f"{dice.randrange(16**8):08x}" * 8,
            }
        }
    if kind == "RemovePictures":
        return {"pictures": ["i2"]}
    if kind == "ExchangeSwatches":
        used = [key for key, one in job.swatches.items() if one.name in ("Teal",)]
        return {
            "objects": [{"page": page.id, "id": one.id} for page in job.pages for one in page.objects],
            "pairs": {used[0]: dice.choice(["black", "marker"])},
        }
    if kind == "Rewrite":
        one = dice.choice(job.stories["main"].paragraphs)
        return {"paragraphs": {"main": [{"id": "p0", "style": "body", "text": fresh}]}} if one else None
    if kind == "PutPaper":
        return {"paper": {"id": dice.choice((fresh, "pp1")), "name": fresh, "page": dice.choice((0.1, 0.2))}}
    if kind == "RemoveStyle":
        table = dice.choice(("paragraph", "character", "frame", "rule"))
        return {
            "kind": table,
            "id": dice.choice(list(getattr(job, f"{table}_styles")) or ["none"]),
            "instead": dice.choice(["", *getattr(job, f"{table}_styles")]),
        }
    if kind in ("PutTableStyle", "RemoveTableStyle"):
        return (
            {"style": "s1"}
            if kind == "RemoveTableStyle"
            else {"style": {"id": dice.choice((fresh, "s1")), "name": fresh}}
        )
    if kind in ("PutRecords", "ChangeRecordSet", "RemoveRecordSet", "AdjustRecord", "RemoveRecordAdjustment"):
        return _of_records(kind, job, dice, fresh)
    if kind == "ReopenFinding":
        return {"id": next(iter(job.acceptances))}
    if kind == "MoveMarking":
        return {"id": dice.choice(list(job.markings)), "to": dice.choice((0, 1))}
    return None


def _of_records(kind: str, job: Job, dice: random.Random, fresh: str) -> dict[str, Any]:
    """Values for the intents about record sets."""
    (records,) = job.record_sets
    if kind == "PutRecords":
        return {"name": fresh, "fields": ["id", fresh], "files": [FILE], "count": 2, "id": dice.choice((None, records))}
    if kind == "ChangeRecordSet":
        computed = [{"name": fresh, "expression": "upper(name)"}]
        return {"id": records} | dice.choice(({"name": fresh}, {"key": "name"}, {"computed": computed}))
    if kind == "RemoveRecordSet":
        return {"id": records}
    if kind == "RemoveRecordAdjustment":
        return {"id": next(iter(job.record_adjustments))}
    one = dice.choice([one.id for page in job.pages for one in page.objects])
    return {"set": records, "record": fresh, "object": one, "text": [fresh]}


@cache
def base() -> str:
    return job_to_json(rich_job())


@pytest.mark.parametrize("kind", known_intents(), ids=lambda kind: kind.__name__)
def test_what_is_accepted_is_undone_exactly_and_changes_what_it_declares(kind: Any) -> None:
    assert accepted(kind) >= WANTED


def parts_of(job: Job) -> dict[tuple[str, str], Any]:
    """The parts of a job by the keys under which edits declare them; see ``core.editing.conflicts``."""
    own = plain(job)
    parts = {(name, key): value for name in TABLES for key, value in own.get(name, {}).items()}
    parts |= {("job", name): own.get(name) for name in ("brief", "name", "kind", "main_story")}
    parts["pages", ""] = [page["id"] for page in own["pages"]]
    for page in own["pages"]:
        key = page["id"]
        parts |= {("guides", key): page.pop("guides", None), ("reading", key): page.pop("reading", None)}
        parts["page", key] = page
    return parts


def undeclared(before: dict[tuple[str, str], Any], after: dict[tuple[str, str], Any], declared: set[Any]) -> set[Any]:
    """The parts that differ although no edit has declared to touch them, the order of tables included."""
    differing = {key for key in before | after if before.get(key) != after.get(key)}
    for table in TABLES:
        old, new = ([key for name, key in parts if name == table] for parts in (before, after))
        if [key for key in old if key in new] != [key for key in new if key in old]:
            differing.add(("order", table))
    return differing - declared


def accepted(kind: Any) -> int:
    """How often an intent of a kind was accepted and undone exactly."""
    dice = random.Random(kind.__name__)
    before = base()
    job = job_from_json(before)
    parts = parts_of(job)
    count = 0
    for _ in range(TRIES):
        try:
            values = Values(job, dice)
            made = special(kind.__name__, values)
            said = values.form(kind) if made is None else {**made, "do": kind.__dataclass_fields__["do"].default}
            edits = [passed(edit) for edit in intent_from_plain(said).expand(job)]
            inverse = apply_all(job, edits)
        except LexigonError:
            assert job_to_json(job) == before, f"refused half way: {kind.__name__}"
            continue
        assert not undeclared(parts, parts_of(job), parts_touched([*edits, *inverse])), said
        try:
            check_edits(job, edits)
            job_from_json(job_to_json(job))  # what is saved can be opened
            fine = bool(edits)
        except LexigonError:
            fine = False
        apply_all(job, inverse)
        assert job_to_json(job) == before, said
        count += fine
        if count == WANTED:
            break
    return count
