"""The price list of the observatory's shop: one entry, repeated for every article, in groups with headings."""

from __future__ import annotations

import csv
import io

from demo.art import DUSK, LAMP, NIGHT, inked
from demo.pieces import MM, new_job, words_in
from lexigon.core.document.model import Anchor, ComputedField, Job, ParaSpec, Repeat, Stroke
from lexigon.core.editing.intents import (
    AddRule,
    ChangeRecordSet,
    GroupObjects,
    InsertField,
    Place,
    PutRecords,
    RepeatObject,
)
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.merge.model import Records
from lexigon.core.merge.reading import read_records
from lexigon.core.merge.storage import record_set

ARTICLES = (
    ("For the table", "Teapot, knot", "Holds one tide", "24.5"),
    ("For the table", "Mug, grey", "The colour of mud", "9"),
    ("For the table", "Mug, blue", "The colour of the sky over mud", "9"),
    ("For the table", "Spoon", "Bent once, straightened once", "3.2"),
    ("For the table", "Egg cup, two", "No eggs are sold", "7"),
    ("For the table", "Cloth, reed", "Woven by Sedge and Wade", "18"),
    ("For the flats", "Boots, tall", "Up to the knee, not beyond", "64"),
    ("For the flats", "Socks, wool", "Two, both left", "12"),
    ("For the flats", "Rope, ten fathoms", "With Jory’s knots", "21"),
    ("For the flats", "Tide table", "Right to six minutes", "4.5"),
    ("For the flats", "Whistle", "For fog, and only for fog", "6"),
    ("For the flats", "Lantern", "Lights the path, not the birds", "38"),
    ("For the flats", "Thermos", "Soup not included", "19"),
    ("For the desk", "Pencil, warm", "Writes when hands do not", "2"),
    ("For the desk", "Log book", "Ninety pages of weather", "14"),
    ("For the desk", "Slack Water, one number", "The quarterly", "8"),
    ("For the desk", "Birds of the Merrow Flats", "The pocket guide", "17.5"),
    ("For the desk", "Postcards, twelve", "Every month at dusk", "10"),
    ("For the desk", "Map of the creeks", "Wrong since Tuesday", "5"),
    ("For the desk", "Eraser", "Not for the log book", "1.5"),
    ("For small birders", "Hide, cardboard", "Seats two, if still", "29"),
    ("For small birders", "Plover, plush", "Runs, stops, runs", "13"),
    ("For small birders", "Field glass, one eye", "Magnifies by three", "11"),
    ("For small birders", "Puddle book", "Printed on stone paper", "9.5"),
)
"""Shelf, article, remark and price of each; none of these can be bought."""
FIELDS = ("shelf", "article", "remark", "amount")


def price_records() -> Records:
    """The articles as they are read from a file."""
    text = io.StringIO()
    csv.writer(text).writerows([FIELDS, *ARTICLES])
    return read_records(text.getvalue().encode())[0]


def price_files() -> dict[str, bytes]:
    """The files that the job stores its records in, by their hash."""
    return record_set("d", "Articles", price_records())[1]


def price_list() -> Job:
    """The list: a title, a heading for each shelf, and entries in two columns."""
    job = new_job("flyer", name="Price list of the shop", width="148 mm", height="210 mm")
    workspace = inked(Workspace(job))
    area, key = job.brief.text_area("recto"), job.pages[0].id
    title = Rect(area.x, area.y, area.width, 16 * MM)
    words_in(workspace, 0, title, "The shop by the plank", 22, 26, family="Barlow Condensed", weight=700, swatch=NIGHT)
    shelf = Rect(area.x, area.y + 20 * MM, area.width, 8 * MM)
    words_in(workspace, 0, shelf, "x", 12, 15, family="Barlow Condensed", weight=600, name="Shelf", swatch=DUSK)
    _bind(workspace, "Shelf", ("shelf",))
    wide = (area.width - 6 * MM) / 2
    entry = Rect(area.x, area.y + 30 * MM, wide, 12 * MM)
    words_in(workspace, 0, Rect(entry.x, entry.y, wide - 18 * MM, 11 * MM), "a\nb", 9.5, 12, name="Article")
    _bind(workspace, "Article", ("article", "remark"))
    right = ParaSpec(align="right")
    words_in(workspace, 0, Rect(entry.right - 18 * MM, entry.y, 18 * MM, 6 * MM), "c", 9.5, 12, right, name="Price")
    _bind(workspace, "Price", ("price",))
    foot = entry.foot - 0.5 * MM
    workspace.do(AddRule(key, (entry.x, foot), (entry.right, foot), Stroke(0.5, LAMP)))
    rule = job.pages[0].objects[-1].id
    ids = {one.name: one.id for one in job.pages[0].objects}
    workspace.do(GroupObjects(key, (ids["Article"], ids["Price"], rule), "Entry"))
    group = next(one.id for one in job.pages[0].objects if one.group is not None)
    records, _ = record_set("d", "Articles", price_records(), source="articles.csv")
    workspace.do(PutRecords("Articles", records.fields, records.files, records.count, records.source))
    (own,) = job.record_sets
    workspace.do(ChangeRecordSet(own, key="article"))
    price = ComputedField("price", 'number(amount, "#,##0.00")')
    workspace.do(ChangeRecordSet(own, computed=(price,)))
    workspace.do(RepeatObject(key, group, Repeat(2, (6 * MM, 2 * MM), "shelf", ids["Shelf"])))
    return job


def _bind(workspace: Workspace, name: str, fields: tuple[str, ...]) -> None:
    """Replace each paragraph of a frame by a field."""
    frame = next(one for one in workspace.job.pages[0].objects if one.name == name)
    story = workspace.job.stories[frame.story or ""]
    for p, field in zip([p.id for p in story.paragraphs], fields, strict=True):
        workspace.do(InsertField(story.id, Place(p, 0), Place(p, 1), Anchor("record", field)))
