"""The small pieces of the demo: the guide's cover, a visitor brochure, an evening flyer, a folded invitation."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

from demo.art import DUSK, LAMP, MIST, NIGHT, REED, bird, bleeding, dots, inked, leaf, shape
from demo.pictures import dusk, file_of, grain, morning, redshank
from lexigon.core.brief.forms import bar_code_area
from lexigon.core.brief.kinds import defaults
from lexigon.core.brief.paper import PAPERS
from lexigon.core.brief.setup import read_setup
from lexigon.core.document.forms.sheets import panels_of
from lexigon.core.document.model import (
    Casting,
    Code,
    Fill,
    FrameSpec,
    Job,
    Outline,
    ParaSpec,
    PictureFile,
    Shadow,
    Stroke,
    Swatch,
    TypeSpec,
)
from lexigon.core.editing.intents import (
    AddCode,
    AddTextFrame,
    AdjustPictures,
    ChangeFrame,
    FramePicture,
    PlacePicture,
    PutCopy,
    PutInkSet,
    SetParagraphs,
)
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.path.shapes import star_polygon
from lexigon.core.picture.gathering import PictureColour, palette_of

MM = 72 / 25.4
BOOK_NUMBER = "9780000000170"
"""Of nobody: a number made up for the demo, with its right check digit."""
CENTRE, LEFT = ParaSpec(align="centre"), ParaSpec(align="left")


def new_job(kind: str, **values: str) -> Job:
    setup, errors = read_setup({**defaults(kind), **values})
    assert setup is not None, errors
    return setup.new_job()


def words_in(
    workspace: Workspace,
    page: int,
    rect: Rect,
    text: str,
    size: float,
    leading: float,
    para: ParaSpec = LEFT,
    *,
    name: str = "",
    family: str | None = None,
    weight: int | None = None,
    italic: bool | None = None,
    vertical: str = "top",
    turn: int = 0,
    swatch: str | None = None,
) -> None:
    """A text frame with words set in one way."""
    key = workspace.job.pages[page].id
    workspace.do(AddTextFrame(key, rect, name=name or text.split("\n")[0][:30], text=text))
    frame = workspace.job.pages[page].frames[-1]
    if vertical != "top" or turn:
        workspace.do(ChangeFrame(key, frame.id, vertical=vertical, turn=turn))  # type: ignore[arg-type]
    type_ = TypeSpec(family=family, weight=weight, italic=italic, size=size, swatch=swatch)
    story = frame.story or ""
    first, last = workspace.job.stories[story].paragraphs[0].id, workspace.job.stories[story].paragraphs[-1].id
    workspace.do(SetParagraphs(story, first, last, para=replace(para, leading=leading), type=type_))


def cover(inside: Job) -> Job:
    """The cover of the guide, tied to its inside: the spine comes from its pages and its paper."""
    job = new_job(
        "cover",
        name="Birds of the Merrow Flats, cover",
        unit="mm",
        width="120 mm",
        height="190 mm",
        paper="cream",
        safe="10 mm",
        pages=str(len(inside.pages)),
        interior=inside.id,
        family="EB Garamond",
        **{f"bleed.{side}": "3 mm" for side in ("head", "foot", "inner", "outer")},
    )
    workspace = inked(Workspace(job))
    flat = panels_of(job.brief, PAPERS)
    back, _spine, front = (panel.safe(job.brief.safe) for panel in flat)
    sheet = bleeding(workspace)
    spine, right = flat[1].rect, flat[2].rect
    view = file_of(
        morning(), "The flats at first light", "The flats at first light: a low sun over still water, reeds in front"
    )
    inks = [one.colour for one in _gathered(view, morning())]
    sky = min(inks, key=lambda colour: abs(colour.lab[0] - 72) + abs(colour.lab[1]))
    job.swatches["sky"] = Swatch("sky", "Sky, from the picture", "cmyk", tuple(round(part, 2) for part in sky.cmyk))
    shape(workspace, 0, Rect(sheet.x, sheet.y, spine.right - sheet.x, sheet.height), "sky", 0.55, name="Back block")
    face = Rect(right.x, sheet.y, sheet.right - right.x, sheet.height)
    workspace.do(PlacePicture(job.pages[0].id, face, view.id, view))
    shape(workspace, 0, Rect(spine.x, sheet.y, spine.width, sheet.height), NIGHT, name="Spine")
    words_in(
        workspace,
        0,
        Rect(front.x, front.y + 30 * MM, front.width, 52 * MM),
        "Birds of\nthe Merrow Flats",
        34,
        38,
        LEFT,
        name="Title",
        swatch=NIGHT,
    )
    words_in(
        workspace,
        0,
        Rect(front.x, front.y + 86 * MM, front.width, 9 * MM),
        "A pocket guide for people who can sit still",
        14,
        18,
        italic=True,
    )
    words_in(
        workspace,
        0,
        Rect(front.x, front.foot - 12 * MM, front.width, 12 * MM),
        "The Saltmarsh Observatory",
        11,
        14,
        vertical="bottom",
        swatch="paper",
    )
    words_in(
        workspace,
        0,
        Rect(back.x, back.y + 12 * MM, back.width, 70 * MM),
        "Two clocks hang over the mud: one is the sun’s, and the geese obey it; the other is the moon’s, and the mud "
        "obeys that.\nThis guide is for the hours when they disagree. It tells what stands at the edge of the tide, "
        "what it is likely to be, and how long it is polite to look at it.",
        12,
        16.5,
        LEFT,
        name="Blurb",
    )
    place = bar_code_area(job.brief, PAPERS)
    assert place is not None
    shape(workspace, 0, place, "paper", name="Bar code’s ground")
    number = Code("ean 13", BOOK_NUMBER, words=True, above="ISBN 978-0-00-000017-0", addon="90000")
    workspace.do(AddCode(job.pages[0].id, place.inset(3, 4, 3, 4), number))
    return job


def _gathered(file: PictureFile, data: bytes) -> list[PictureColour]:
    """The colours of a picture of the demo."""
    with TemporaryDirectory() as folder:
        path = Path(folder) / file.file
        path.write_bytes(data)
        return palette_of(path, 6)


def brochure() -> Job:
    """The visitor brochure, in letter fold."""
    job = new_job("brochure", name="Visiting the observatory")
    workspace = inked(Workspace(job))
    outer, sheet = panels_of(job.brief, PAPERS), bleeding(workspace)
    face = outer[2].rect
    shape(workspace, 0, Rect(face.x, sheet.y, sheet.right - face.x, sheet.height), "nightfall", name="Front panel")
    shape(
        workspace,
        0,
        Rect(outer[0].rect.x - 3 * MM, sheet.y, outer[0].rect.width + 3 * MM, sheet.height),
        MIST,
        name="Flap",
    )
    for x, y, wide, turned in ((14, 112, 26, -6), (46, 126, 15, 6), (28, 138, 10, -2), (62, 108, 8, 4)):
        bird(workspace, 0, face.x + x * MM, y * MM, wide * MM, "paper", turned=turned)
    within = panels_of(job.brief, PAPERS, 1)
    shape(workspace, 1, Rect(sheet.x, sheet.y, sheet.width, 16 * MM), REED, name="Reeds")
    middle = within[1].rect
    shape(workspace, 1, Rect(middle.x, 16 * MM, middle.width, sheet.foot - 16 * MM), MIST, name="Middle panel")
    workspace.do(PutCopy("Opening hours", "Open from first light to last, except when it is not."))
    flap, back, front = (panel.safe(job.brief.safe) for panel in panels_of(job.brief, PAPERS))
    words_in(
        workspace,
        0,
        Rect(front.x, front.y + 20 * MM, front.width, 60 * MM),
        "Saltmarsh\nObservatory",
        27,
        31,
        weight=600,
        name="Front title",
        swatch="paper",
    )
    words_in(
        workspace,
        0,
        Rect(front.x, front.foot - 20 * MM, front.width, 20 * MM),
        "How to find us, and what to bring",
        11,
        15,
        italic=True,
        vertical="bottom",
        swatch="paper",
    )
    words_in(
        workspace,
        0,
        Rect(back.x, back.foot - 34 * MM, back.width, 34 * MM),
        "The Saltmarsh Observatory\nThe Bank, Merrowick\nFollow the plank. Mind the third step.",
        9.5,
        13,
        CENTRE,
        vertical="bottom",
        name="Address",
    )
    words_in(
        workspace,
        0,
        Rect(flap.x, flap.y + 20 * MM, flap.width, 90 * MM),
        "Before you set out\nLook at the tide table, not at the sky. The path is under water for two hours either side "
        "of a spring tide.\nBring boots, a flask, and somebody who does not mind waiting.",
        9.5,
        13.5,
        name="Before you set out",
    )
    first, second, third = (panel.safe(job.brief.safe) for panel in panels_of(job.brief, PAPERS, 1))
    inside = (
        (
            first,
            (
                "The five stations\nThe plank, the sluice hide, the angle of the bank, the Comb, and the shed at Wherry"
                " Hole. Each has a stool. Only one has a roof."
            ),
        ),
        (
            second,
            (
                "What you may see\nIn autumn the waders, in winter the geese, in spring the terns, and at all times the"
                " redshank, which will have seen you first."
            ),
        ),
        (
            third,
            (
                "What we ask\nSit. Wait. Write it down. Leave the plank as you found it, which is to say, where you "
                "found it."
            ),
        ),
    )
    for panel, text in inside:
        words_in(workspace, 1, Rect(panel.x, panel.y + 14 * MM, panel.width, 80 * MM), text, 9.5, 13.5)
    return job


def flyer() -> Job:
    """The open-hide evening, on one sheet: night to the bleed, a band of colour, pictures in circles, a headline as
    large as fits."""
    job = new_job("flyer", name="An evening in the open hide")
    workspace = inked(Workspace(job))
    area, sheet = job.brief.text_area("recto"), bleeding(workspace)
    page = job.pages[0].id
    shape(workspace, 0, sheet, "nightfall", name="Night")
    headline = Rect(area.x, area.y + 1 * MM, area.width, 50 * MM)
    words_in(
        workspace,
        0,
        headline,
        "An evening\nin the open hide",
        46,
        44,
        family="Barlow Condensed",
        weight=700,
        name="Headline",
        swatch="paper",
    )
    workspace.do(ChangeFrame(page, job.pages[0].frames[-1].id, fit="size"))
    dots(workspace, 0, area.x, area.right, area.y + 55 * MM, LAMP, 2.4)
    lead = "Come and be quiet with other people. The wardens will point at things. The things will mostly leave."
    words_in(
        workspace,
        0,
        Rect(area.x, area.y + 59 * MM, area.width - 26 * MM, 28 * MM),
        lead,
        15,
        20,
        italic=True,
        swatch="paper",
        name="Lead",
    )
    for x, y, wide, turned in ((106, 22, 11, -8), (121, 30, 7, 6), (113, 33, 5, 0), (128, 20, 6, -14)):
        bird(workspace, 0, x * MM, y * MM, wide * MM, "paper", turned=turned)
    view = file_of(dusk(), "The flats at dusk", "Waders over the mud flats at dusk, the sun on the horizon")
    workspace.do(PlacePicture(page, Rect(sheet.x, 100 * MM, sheet.width, 40 * MM), view.id, view))
    workspace.do(FramePicture(page, job.pages[0].objects[-1].id, focus=(0.5, 0.6)))
    band = Rect(sheet.x, 156 * MM, sheet.width, sheet.foot - 156 * MM)
    shape(workspace, 0, band, LAMP, name="Band of colour")
    standing = file_of(redshank(), "Redshank", "A redshank stands on wet mud and looks to the left")
    first = file_of(morning(), "The flats at first light", "A low sun over still water, reeds in front")
    for number, file in enumerate((standing, view, first)):
        disc = Rect((14 + 45 * number) * MM, 124 * MM, 30 * MM, 30 * MM)
        workspace.do(PlacePicture(page, disc, file.id, None if file is view else file))
        round_ = job.pages[0].objects[-1].id
        made = FrameSpec(stroke=Stroke(3.0, LAMP, align="outside"), shadow=Shadow(2.0, 3.0, 6.0, NIGHT, 0.6))
        workspace.do(ChangeFrame(page, round_, outline=Outline(), spec=made))
    told = (
        "The last Friday of the month, an hour before dusk\nThe sluice hide, by the bank\nBring a coat, and somebody "
        "who can whisper\nThere is soup, in the flask that does not leak"
    )
    words_in(
        workspace,
        0,
        Rect(area.x, 162 * MM, area.width - 32 * MM, 37 * MM),
        told,
        12.5,
        16.5,
        name="When and where",
        swatch=NIGHT,
    )
    workspace.do(ChangeFrame(page, job.pages[0].frames[-1].id, columns=2, gutter=5 * MM, spec=FrameSpec(balanced=True)))
    size = 25 * MM
    code = Code("qr", "https://saltmarsh.example/open-hide", ink=Fill(NIGHT))
    workspace.do(AddCode(page, Rect(area.right - size, 163 * MM, size, size), code))
    star = Rect(area.right - 25 * MM, 86 * MM, 27 * MM, 27 * MM)
    words_in(
        workspace,
        0,
        star,
        "Free\nsoup",
        13,
        13,
        CENTRE,
        family="Barlow Condensed",
        weight=700,
        name="Star",
        swatch=NIGHT,
        vertical="centre",
    )
    made = FrameSpec(fill=Fill(LAMP), insets=(MM, 0.0, 0.0, 0.0))
    shine = Outline("polygon", star_polygon(14, 0.16))
    workspace.do(ChangeFrame(page, job.pages[0].frames[-1].id, outline=shine, rotation=348.0, spec=made))
    return job


SETS = (
    ("May", {"ground": (LAMP, 0.3), "leaves": (REED, 1.0), "lettering": (NIGHT, 1.0)}),
    ("Night", {"ground": (NIGHT, 1.0), "leaves": (REED, 1.0), "lettering": (MIST, 1.0)}),
    ("Dusk", {"ground": (DUSK, 1.0), "leaves": (LAMP, 1.0), "lettering": ("paper", 1.0)}),
)
"""Three sets of the invitation's colours: by role the swatch that plays it, and how strong."""


def _played(workspace: Workspace) -> None:
    """Roles for the invitation's colours, and three sets of swatches that play them."""
    for role, name in (("ground", "Ground"), ("leaves", "Leaves"), ("lettering", "Lettering")):
        workspace.job.swatches[role] = Swatch(role, name, "role", base=Fill(*SETS[0][1][role]), group="Roles")
    for name, played in SETS:
        workspace.do(PutInkSet(name=name, parts=tuple(Casting(role, *swatch) for role, swatch in played.items())))


def invitation() -> Job:
    """A folded invitation, hinged at the top: its back hangs head over foot on the flat sheet."""
    job = new_job("folded card", name="Invitation, the plank’s birthday", direction="top", width="5 in", height="5 in")
    workspace = inked(Workspace(job))
    _played(workspace)
    paper = file_of(grain(), "Handmade paper", "The grain of a handmade paper")
    for number in (0, 1):
        key = job.pages[number].id
        shape(workspace, number, bleeding(workspace, number), "ground", name="Ground")
        workspace.do(PlacePicture(key, bleeding(workspace, number), paper.id, None if number else paper))
        one = job.pages[number].objects[-1].id
        workspace.do(AdjustPictures(key, (one,), inks="one", ink=Fill("ground"), black=0.5))
        workspace.do(ChangeFrame(key, one, spec=FrameSpec(blend="multiply")))
    back, front = panels_of(job.brief, PAPERS)
    for x, y, wide, turned in ((0.2, 0.8, 90, -35), (0.78, 0.82, 110, 28), (0.5, 0.9, 70, 4)):
        leaf(
            workspace,
            0,
            front.rect.x + x * front.rect.width,
            front.rect.y + y * front.rect.height,
            wide,
            "leaves",
            turned=turned,
        )
    safe, behind = front.safe(job.brief.safe), back.safe(job.brief.safe)
    words_in(
        workspace,
        0,
        Rect(safe.x, safe.y + 80, safe.width, 150),
        "The plank\nis thirty-one",
        36,
        40,
        CENTRE,
        name="Front",
        swatch="lettering",
    )
    words_in(
        workspace,
        0,
        Rect(behind.x, behind.y, behind.width, 40),
        "The Saltmarsh Observatory, Merrowick",
        10,
        14,
        CENTRE,
        turn=180,
        vertical="bottom",
        name="Back",
        swatch="lettering",
    )
    _top, foot = panels_of(job.brief, PAPERS, 1)
    inner = foot.safe(job.brief.safe)
    words_in(
        workspace,
        1,
        Rect(inner.x, inner.y + 60, inner.width, 200),
        "You are asked to come and stand on it\non the first Sunday in May\nat slack water, half past ten\nCake will be"
        " carried out as far as the mud allows.",
        14,
        21,
        CENTRE,
        name="Inside",
        swatch="lettering",
    )
    return job
