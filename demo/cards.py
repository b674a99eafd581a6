"""The wardens' cards: one design, merged with the records of twenty-four volunteers.

Three records are wrong on purpose, as records are: a name too long for its line, a portrait under nearly the right
name, and one that is not there.
"""

from __future__ import annotations

import csv
import io

from demo.art import DUSK, LAMP, MIST, NIGHT, REED, bird, bleeding, inked, shape
from demo.pictures import file_of, warden
from demo.pieces import MM, new_job, words_in
from lexigon.core.document.model import Anchor, Casting, Code, Fill, Job, Outline, Swatch, TypeSpec
from lexigon.core.editing.intents import (
    AddCode,
    AddPicture,
    BindField,
    BindPages,
    ChangeFrame,
    ChangeRecordSet,
    InsertField,
    Place,
    PlacePicture,
    PutInkSet,
    PutRecords,
    SetParagraphs,
)
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.merge.reading import read_records
from lexigon.core.merge.storage import record_set

FIELDS = ("id", "name", "post", "motto", "phone", "portrait", "watch")
PEOPLE = (
    ("Merrow Finch", "The Comb, weekends", "Knows when to whisper", "Day"),
    ("Ansa Tolley", "The plank, mornings", "Counts twice", "Day"),
    ("Pim Garrow", "North creek", "", "Day"),
    ("Odile Marsh", "The ringing hut", "Cold hands, warm pencil", "Night"),
    ("Hob Wherry", "The ferry steps", "Has a boat", "Day"),
    ("Sanna Quill", "The log book", "Reads all handwriting", "Night"),
    ("Tam Reddle", "South creek", "Never in a hurry", "Day"),
    ("Wilhelmina Featherstonehaugh-Saltonstall of the Outer Bank", "The outer bank", "Ask her about terns", "Night"),
    ("Bram Sedge", "The lamp", "Lights it at dusk", "Night"),
    ("Isolde Fenn", "The Comb, weekdays", "", "Day"),
    ("Corin Stilt", "The hide", "Brings the biscuits", "Day"),
    ("Petra Wade", "The tide gauge", "Half past is not slack", "Day"),
    ("Nell Ooze", "The mud path", "Knows the firm bits", "Day"),
    ("Jory Knott", "The rope store", "Ties everything", "Night"),
    ("Una Brine", "The salt pans", "Swims in March", "Day"),
    ("Lev Curlew", "The far post", "First to hear them", "Night"),
    ("Ida Strand", "The shingle", "Minds the nests", "Day"),
    ("Oswin Drake", "The decoy", "", "Day"),
    ("Mab Thrift", "The shop", "Has change", "Day"),
    ("Rafe Dunlin", "The flats", "Walks before breakfast", "Night"),
    ("Elspeth Moor", "The moorings", "Two knots a minute", "Day"),
    ("Gil Samphire", "The kitchen", "Soup at slack water", "Day"),
    ("Dora Plover", "The gate", "Lets in all weathers", "Day"),
    ("Silas Ebb", "The last watch", "Locks up", "Night"),
)
"""Name, post, motto and watch of each; nobody of these is real."""
LONGEST, NEAR, MISSING = 7, 10, 19
"""The records that are wrong on purpose."""


def portrait_name(number: int) -> str:
    """The name of the picture file of a warden."""
    return f"{PEOPLE[number][0].split()[0].lower()}-{number + 1:02}.png"


def records_csv() -> str:
    """The records as a file that a spreadsheet writes: separated by semicolons."""
    text = io.StringIO()
    rows = csv.writer(text, delimiter=";")
    rows.writerow(FIELDS)
    for number, (name, post, motto, watch) in enumerate(PEOPLE):
        portrait = portrait_name(number)
        if number == NEAR:
            portrait = portrait.replace("-", "_").removesuffix(".png")
        phone = "" if number % 5 == 2 else f"0170 00 {number + 11:02} {(number * 37) % 90 + 10}"
        rows.writerow((f"{number + 1:03}", name, post, motto, phone, portrait, watch))
    return text.getvalue()


def portraits() -> dict[str, bytes]:
    """The portraits by the names of their files; one is missing."""
    numbers = (number for number in range(len(PEOPLE)) if number != MISSING)
    return {portrait_name(number): warden(number, 300, 380) for number in numbers}


def record_files() -> dict[str, bytes]:
    """The files that the job keeps its records in, by their hash."""
    return record_set("d", "Wardens", read_records(records_csv().encode())[0])[1]


def warden_cards() -> Job:
    """The cards: night in front, the warden behind, in the colours of the watch."""
    job = new_job("card", name="Wardens’ cards")
    workspace = inked(Workspace(job))
    _add_roles(workspace)
    area = job.brief.text_area("recto")
    shape(workspace, 0, bleeding(workspace), "ground", name="Ground")
    moon = Rect(area.right - 17 * MM, area.y, 17 * MM, 17 * MM)
    shape(workspace, 0, moon, LAMP, name="Moon", outline=Outline(), opacity=0.9)
    for x, y, wide, turned in ((48, 20, 12, -6), (60, 26, 8, 5), (40, 30, 6, -2)):
        bird(workspace, 0, x * MM, y * MM, wide * MM, "lettering", turned=turned)
    house = Rect(area.x, area.foot - 19 * MM, area.width, 10 * MM)
    words_in(
        workspace,
        0,
        house,
        "The Saltmarsh Observatory",
        13,
        15,
        family="Barlow Condensed",
        weight=700,
        name="House",
        swatch="lettering",
        vertical="bottom",
    )
    office = Rect(area.x, area.foot - 8 * MM, area.width, 8 * MM)
    words_in(workspace, 0, office, "Volunteer warden", 8.5, 11, italic=True, name="Office", swatch="lettering")
    _add_back(workspace)
    return job


def _add_roles(workspace: Workspace) -> None:
    """Roles for the card's colours, and two ink sets that play them."""
    day = {"ground": (DUSK, 1.0), "lettering": ("paper", 1.0), "band": (LAMP, 0.5)}
    night = {"ground": (NIGHT, 1.0), "lettering": (MIST, 1.0), "band": (REED, 1.0)}
    for role, name in (("ground", "Ground"), ("lettering", "Lettering"), ("band", "Band")):
        workspace.job.swatches[role] = Swatch(role, name, "role", base=Fill(*day[role]), group="Roles")
    for name, parts in (("Day", day), ("Night", night)):
        workspace.do(PutInkSet(name=name, parts=tuple(Casting(role, *swatch) for role, swatch in parts.items())))


def _add_back(workspace: Workspace) -> None:
    """The back of the card, with what each record sets."""
    job = workspace.job
    area, key = job.brief.text_area("recto"), job.pages[1].id
    shape(workspace, 1, bleeding(workspace, 1), MIST, name="Mist")
    shape(workspace, 1, Rect(-3 * MM, 45 * MM, 91 * MM, 13 * MM), "band", name="Band")
    faces = [file_of(data, name.removesuffix(".png"), "A warden") for name, data in portraits().items()]
    workspace.do(PlacePicture(key, Rect(area.x, area.y, 22 * MM, 28 * MM), faces[0].id, faces[0]))
    portrait = job.pages[1].objects[-1].id
    workspace.do(ChangeFrame(key, portrait, outline=Outline("box", radii=(4 * MM, 0.0, 4 * MM, 0.0)), name="Portrait"))
    for face in faces[1:]:
        workspace.do(AddPicture(face))
    workspace.do(BindField(key, portrait, "picture", "{portrait}"))
    side = 19 * MM
    code = Code("qr", "{name}", "M")
    workspace.do(AddCode(key, Rect(area.right - side, area.y, side, side), code))
    one = job.pages[1].objects[-1].id
    workspace.do(ChangeFrame(key, one, name="Contact"))
    contact = "MECARD:N:{name};TEL:{phone};URL:https://saltmarsh.example/wardens/{id};;"
    workspace.do(BindField(key, one, "code", contact))
    _add_words(workspace, Rect(area.x + 24 * MM, area.y, area.width - 25 * MM - side, 20 * MM))
    number = Rect(area.x, 46.5 * MM, area.width, 6 * MM)
    words_in(workspace, 1, number, "Warden no. ", 7.5, 10, name="Number", swatch="black", vertical="centre")
    story = job.pages[1].frames[-1].story or ""
    p = job.stories[story].paragraphs[0]
    workspace.do(InsertField(story, Place(p.id, len(p.text)), Place(p.id, len(p.text)), Anchor("record", "id")))
    records, _ = record_set("d", "Wardens", read_records(records_csv().encode())[0], source="wardens.csv")
    workspace.do(PutRecords("Wardens", records.fields, records.files, records.count, records.source))
    (own,) = job.record_sets.values()
    workspace.do(ChangeRecordSet(own.id, key="id"))
    workspace.do(BindPages(tuple(page.id for page in job.pages), "ink set", "{watch}"))


def _add_words(workspace: Workspace, rect: Rect) -> None:
    """The name and the lines under it; a line whose field is empty is left out."""
    job = workspace.job
    words_in(workspace, 1, rect, "a\nb\nc\nd", 8.5, 11.5, name="Name", swatch=NIGHT)
    story = job.pages[1].frames[-1].story or ""
    paragraphs = [p.id for p in job.stories[story].paragraphs]
    for p, field in zip(paragraphs, ("name", "post", "motto", "phone"), strict=True):
        form = "" if field in ("name", "post") else "line"
        workspace.do(InsertField(story, Place(p, 0), Place(p, 1), Anchor("record", field, form)))
    workspace.do(SetParagraphs(story, paragraphs[0], paragraphs[0], type=TypeSpec(size=11.0, weight=700)))
