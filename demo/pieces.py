"""The small pieces of the demo: the guide's cover, a visitor brochure, an evening flyer, a folded invitation."""

from __future__ import annotations

from dataclasses import replace

from demo.pictures import dusk, file_of
from lexigon.core.brief.forms import panels_of
from lexigon.core.brief.kinds import defaults
from lexigon.core.brief.paper import PAPERS
from lexigon.core.brief.setup import read_setup
from lexigon.core.flow.desk import Desk
from lexigon.core.geometry import Rect
from lexigon.core.job.intents import (
    AddCode,
    AddTextFrame,
    ChangeFrame,
    FramePicture,
    PlacePicture,
    PutCopy,
    SetParagraphs,
)
from lexigon.core.job.model import Code, Job, ParaSpec, TypeSpec

MM = 72 / 25.4
CENTRE, LEFT = ParaSpec(align="centre"), ParaSpec(align="left")


def _job(kind: str, **values: str) -> Job:
    setup, errors = read_setup({**defaults(kind), **values})
    assert setup is not None, errors
    return setup.new_job()


def _words(
    desk: Desk, page: int, rect: Rect, text: str, size: float, leading: float, para: ParaSpec = LEFT, *,
    name: str = "", family: str | None = None, weight: int | None = None, italic: bool | None = None,
    vertical: str = "top", turn: int = 0, swatch: str | None = None,
) -> None:  # fmt: skip
    """A text frame with words set in one way."""
    key = desk.job.pages[page].id
    desk.do(AddTextFrame(key, rect, name=name or text.split("\n")[0][:30], text=text))
    frame = desk.job.pages[page].frames[-1]
    if vertical != "top" or turn:
        desk.do(ChangeFrame(key, frame.id, vertical=vertical, turn=turn))  # type: ignore[arg-type]
    type_ = TypeSpec(family=family, weight=weight, italic=italic, size=size, swatch=swatch)
    story = frame.story or ""
    first, last = desk.job.stories[story].paragraphs[0].id, desk.job.stories[story].paragraphs[-1].id
    desk.do(SetParagraphs(story, first, last, para=replace(para, leading=leading), type=type_))


def cover(inside: Job) -> Job:
    """The cover of the guide, tied to its inside: the spine comes from its pages and its paper."""
    job = _job(
        "cover", name="Birds of the Merrow Flats, cover", unit="mm", width="120 mm", height="190 mm", paper="cream", safe="10 mm",
        pages=str(len(inside.pages)), interior=inside.id, family="EB Garamond",
        **{f"bleed.{side}": "3 mm" for side in ("head", "foot", "inner", "outer")},
    )  # fmt: skip
    desk = Desk(job)
    back, _spine, front = (panel.safe(job.brief.safe) for panel in panels_of(job.brief, PAPERS))
    _words(
        desk,
        0,
        Rect(front.x, front.y + 30 * MM, front.width, 52 * MM),
        "Birds of\nthe Merrow Flats",
        34,
        38,
        LEFT,
        name="Title",
    )
    _words(
        desk,
        0,
        Rect(front.x, front.y + 86 * MM, front.width, 20 * MM),
        "A pocket guide for people who can sit still",
        14,
        18,
        italic=True,
    )
    _words(
        desk,
        0,
        Rect(front.x, front.foot - 12 * MM, front.width, 12 * MM),
        "The Saltmarsh Observatory",
        11,
        14,
        vertical="bottom",
    )
    _words(
        desk, 0, Rect(back.x, back.y + 12 * MM, back.width, 70 * MM),
        "Two clocks hang over the mud: one is the sun’s, and the geese obey it; the other is the moon’s, and the mud obeys that.\n"
        "This guide is for the hours when they disagree. It tells what stands at the edge of the tide, what it is likely to be, "
        "and how long it is polite to look at it.", 12, 16.5, LEFT, name="Blurb",
    )  # fmt: skip
    return job


def brochure() -> Job:
    """The visitor brochure, in letter fold."""
    job = _job("brochure", name="Visiting the observatory")
    desk = Desk(job)
    desk.do(PutCopy("Opening hours", "Open from first light to last, except when it is not."))
    flap, back, front = (panel.safe(job.brief.safe) for panel in panels_of(job.brief, PAPERS))
    _words(
        desk,
        0,
        Rect(front.x, front.y + 20 * MM, front.width, 60 * MM),
        "Saltmarsh\nObservatory",
        27,
        31,
        weight=600,
        name="Front title",
    )
    _words(
        desk,
        0,
        Rect(front.x, front.foot - 20 * MM, front.width, 20 * MM),
        "How to find us, and what to bring",
        11,
        15,
        italic=True,
        vertical="bottom",
    )
    _words(
        desk,
        0,
        Rect(back.x, back.foot - 34 * MM, back.width, 34 * MM),
        "The Saltmarsh Observatory\nThe Bank, Merrowick\nFollow the plank. Mind the third step.",
        9.5,
        13,
        CENTRE,
        vertical="bottom",
        name="Address",
    )
    _words(
        desk,
        0,
        Rect(flap.x, flap.y + 20 * MM, flap.width, 90 * MM),
        "Before you set out\nLook at the tide table, not at the sky. The path is under water for two hours either side of a spring tide.\nBring boots, a flask, and somebody who does not mind waiting.",
        9.5,
        13.5,
        name="Before you set out",
    )
    first, second, third = (panel.safe(job.brief.safe) for panel in panels_of(job.brief, PAPERS, 1))
    inside = (
        (first, "The five stations\nThe plank, the sluice hide, the angle of the bank, the Comb, and the shed at Wherry Hole. Each has a stool. Only one has a roof."),
        (second, "What you may see\nIn autumn the waders, in winter the geese, in spring the terns, and at all times the redshank, which will have seen you first."),
        (third, "What we ask\nSit. Wait. Write it down. Leave the plank as you found it, which is to say, where you found it."),
    )  # fmt: skip
    for panel, text in inside:
        _words(desk, 1, Rect(panel.x, panel.y + 14 * MM, panel.width, 80 * MM), text, 9.5, 13.5)
    return job


def flyer() -> Job:
    """The open-hide evening, on one sheet."""
    job = _job("flyer", name="An evening in the open hide")
    desk = Desk(job)
    area = job.brief.text_area("recto")
    _words(
        desk,
        0,
        Rect(area.x, area.y, area.width, 58 * MM),
        "An evening\nin the open hide",
        46,
        48,
        family="Barlow Condensed",
        weight=700,
        name="Headline",
    )
    _words(
        desk,
        0,
        Rect(area.x, area.y + 66 * MM, area.width, 40 * MM),
        "Come and be quiet with other people. The wardens will point at things. The things will mostly leave.",
        15,
        20,
        italic=True,
    )
    _words(
        desk,
        0,
        Rect(area.x, area.foot - 46 * MM, area.width - 30 * MM, 46 * MM),
        "The last Friday of the month, an hour before dusk\nThe sluice hide, by the bank\nBring a coat. There is soup.",
        13,
        19,
        vertical="bottom",
        name="When and where",
    )
    page, bleed = job.pages[0].id, job.brief.bleed.outer
    view = file_of(dusk(), "The flats at dusk", "Waders over the mud flats at dusk, the sun on the horizon")
    band = Rect(-bleed, area.y + 106 * MM, job.brief.width + 2 * bleed, 38 * MM)
    desk.do(PlacePicture(page, band, view.id, view))
    desk.do(FramePicture(page, job.pages[0].objects[-1].id, focus=(0.5, 0.6)))
    size = 25 * MM
    desk.do(
        AddCode(
            page,
            Rect(area.right - size, area.foot - size, size, size),
            Code("qr", "https://saltmarsh.example/open-hide"),
        )
    )
    return job


def invitation() -> Job:
    """A folded invitation, hinged at the top: its back hangs head over foot on the flat sheet."""
    job = _job("folded card", name="Invitation, the plank’s birthday", direction="top", width="5 in", height="5 in")
    desk = Desk(job)
    back, front = panels_of(job.brief, PAPERS)
    safe, behind = front.safe(job.brief.safe), back.safe(job.brief.safe)
    _words(
        desk, 0, Rect(safe.x, safe.y + 80, safe.width, 150), "The plank\nis thirty-one", 36, 40, CENTRE, name="Front"
    )
    _words(
        desk,
        0,
        Rect(behind.x, behind.y, behind.width, 40),
        "The Saltmarsh Observatory, Merrowick",
        10,
        14,
        CENTRE,
        turn=180,
        vertical="bottom",
        name="Back",
    )
    _top, foot = panels_of(job.brief, PAPERS, 1)
    inner = foot.safe(job.brief.safe)
    _words(
        desk,
        1,
        Rect(inner.x, inner.y + 60, inner.width, 200),
        "You are asked to come and stand on it\non the first Sunday in May\nat slack water, half past ten\nCake will be carried out as far as the mud allows.",
        14,
        21,
        CENTRE,
        name="Inside",
    )
    return job
