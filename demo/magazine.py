"""A spread of the quarterly “Slack Water”: three columns, a large initial, a pull quote that the text runs round,
captions."""

from __future__ import annotations

from dataclasses import replace
from math import cos, pi

from demo.pictures import file_of, heron, redshank
from demo.pieces import MM
from lexigon.core.brief.kinds import defaults
from lexigon.core.brief.setup import read_setup
from lexigon.core.document.model import (
    Box,
    Code,
    CutOut,
    Fill,
    FrameSpec,
    Gradient,
    Job,
    ListMark,
    Outline,
    ParagraphStyle,
    ParaRule,
    ParaSpec,
    Stop,
    Stroke,
    Swatch,
    TabStop,
    TypeSpec,
    Wrap,
)
from lexigon.core.editing.intents import (
    AddCode,
    AddLayer,
    AddShape,
    AddTextFrame,
    AdjustPictures,
    ChangeFrame,
    FormatText,
    FramePicture,
    GroupObjects,
    LinkFrames,
    MoveLayer,
    Place,
    PlacePicture,
    PutStyle,
    SetParagraphs,
)
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect

LEADING = 13.0

STORY = (
    (
        "There is an hour on the Merrow coast that belongs to nobody. The tide has come as far as it means to, and has "
        "not yet remembered that it must go. The water stands at the lip of the saltings like a guest in a doorway. "
        "Nothing is carried in, nothing is carried out, and a feather put down on it stays where it was put. The "
        "pilots call it slack water, and they do not trust it. We have been watching it for thirty-one years."
    ),
    (
        "What one sees at slack water is mostly what one has been failing to see for the six hours before. While the "
        "tide runs it gives orders: the dunlin are sent along the edge in companies, the curlew are moved up the bank "
        "one field at a time, and the whole flat is an office in which everybody has somewhere to be. When it stops, "
        "the orders stop. Birds that have not been still since first light stand on one leg and look as though they "
        "had been asked a question."
    ),
    (
        "It is the best hour for counting, and the worst for knowing what one has counted. A flock that is asleep has "
        "no behaviour. One is left with shapes, and at four hundred yards across wet mud, with the light behind it, a "
        "shape is a matter of opinion. The wardens’ book for the winter before last has eleven entries made at slack "
        "water that were struck out an hour later, when the shapes woke and flew and were something else."
    ),
    (
        "The station at Wherry Hole was built for this hour. It is a shed on legs, with a bench, a slot, and a door "
        "that has never fitted. Two people can sit in it who like each other and one who does not. From the slot one "
        "looks along the channel with the light, so that whatever stands on the far bank is lit like a coin. The "
        "telescope was left to us by a retired harbour pilot, on condition that it never be pointed at a ship."
    ),
    (
        "We asked the volunteers who sit there what they had learned. They had not, on the whole, learned much about "
        "birds. They had learned what time it was. They could tell, from the sound of water leaving the grass, within "
        "ten minutes of high water by the table; they knew which of the posts would be dry first; and they had "
        "stopped, they said, being early for things, because the tide is not early and nobody thinks the worse of it."
    ),
    (
        "There are forty-four of them now. They come by the plank, in pairs, an hour before the top of the tide, and "
        "they are let go an hour after it. They write on the same form that was drawn up in the first winter, which "
        "has a column for the species, a column for the number, and a broad column with no heading. Nobody remembers "
        "what the broad column was for. It has been filled in, every tide, for thirty-one years, and it is the only "
        "part of the record that anybody reads twice."
    ),
    (
        "“Wind dropped. Could hear a horse on the other side.” “Eleven godwit, then none, then eleven.” “Saw the heron "
        "decide.” The entries are not science, and we do not print them in the annual tables. But when the trust asked"
        " us last year what the hide was for, and whether it might be done instead with a camera on a pole, it was the "
        "broad column that was sent in reply: two hundred pages of it, in forty-four hands, tied with string."
    ),
    (
        "We have read all of it, which took the two of us most of a wet January, and we are able to report that slack "
        "water makes people truthful. For six hours one counts, and counting is a kind of boasting. For those eleven "
        "minutes there is nothing to add to, and what gets written down is what was there. “Cold.” “One of the dunlin "
        "has a bad foot and the others know.” “I had thought it was a stone for an hour and a half.” A warden who has "
        "since left us for the hills wrote, on a spring tide in her second winter, only: “Enough.”"
    ),
    (
        "There is a school of thought among the volunteers that the hour is getting shorter. There is no support for it"
        " in the tables, in which slack water at the Merrow bar is eleven minutes at springs and somewhat more at "
        "neaps, as it has been since there were tables. It is likely that the hour is what it always was, and that the"
        " volunteers are getting better at it. One of them told us that in her first winter it had felt like waiting. "
        "Now it was the tide that seemed to her to be in the way: two long interruptions, morning and evening, in "
        "something that was otherwise quite still."
    ),
    (
        "What the birds make of it we do not know. A curlew at slack water will sometimes walk out along the very edge,"
        " put its bill into the mud up to the face, and take it out again with nothing in it, as one tries a door that "
        "one knows to be locked. The knot do not even do that. They stand in their thousands with their heads all one "
        "way, like an audience, and then, at no signal that any of us has ever noticed, the nearest of them lifts one "
        "foot. The water has begun to leave."
    ),
    (
        "The camera on a pole was not heard of again. The door has been planed, and still does not fit. High water at "
        "Wherry Hole on the day this is printed is at eleven minutes past two, and if you come along the plank by one,"
        " and can sit still, there is room on the bench for one more who likes whoever is there already."
    ),
)
HERON = (
    (
        "The heron at the Comb is not there for the fish. There are no fish at the Comb, and have been none since the "
        "sluice was mended. It stands on one particular stone, from a little before first light until the tide reaches"
        " the second joint of its leg, and then it goes home."
    ),
    (
        "We have a record of it for eleven hundred and four mornings. In that time it has been seen to catch one eel, "
        "which it appeared to regret, and to lower its head, as if to look at something, on nine occasions. Once it "
        "turned round. The warden on duty wrote the word “round” in the broad column, underlined it, and sat down."
    ),
    (
        "It has been suggested that the bird is lame, or old, or more than one bird. It is none of these. It carries a "
        "ring, and the ring was put on it by Odile Marsh in the spring of the long frost, when it was a thing of beak "
        "and knees that stood in a bucket and looked at her with great steadiness. She has said since that she was not"
        " sure, by the end, which of them was being measured."
    ),
    (
        "What it does, so far as we can tell, is wait. It is not waiting for the water, for it leaves when the water "
        "comes. It is not waiting for another heron: when another came, in the second summer, it moved over by the "
        "width of a stone, and made no remark. The two of them stood there until the Friday, and then there was one, "
        "and we could not have said which."
    ),
    (
        "Visitors ask whether they may see it do something. We tell them that they are. On a still morning, with the "
        "mud still blue and the posts along the channel doubled in it, there is one upright thing on the whole of the "
        "flats that has not been put there by somebody, and it is looking the same way as you are."
    ),
    (
        "If you come, come along the plank in the dark, and do not use a lamp. The third step is not there. Sit on the "
        "left of the bench. When it is light enough to read the tide board, look up from it slowly: the heron will be "
        "where the table says, and will have been for some time."
    ),
)
BIRDS = (
    ("Dunlin", "4,120"),
    ("Curlew", "612"),
    ("Bar-tailed godwit", "388"),
    ("Redshank", "1,045"),
    ("Grey plover", "97"),
)


def _styles(workspace: Workspace) -> None:
    """The magazine's own styles, on its body setting."""
    job = workspace.job
    job.swatches |= {
        "tide": Swatch("tide", "Tide blue", "cmyk", (0.62, 0.24, 0.22, 0.06)),
        "sand": Swatch("sand", "Sand", "cmyk", (0.04, 0.08, 0.2, 0.0)),
    }
    dusk = Gradient((Stop(0.0, "tide", 0.12), Stop(0.62, "sand", 0.5), Stop(1.0, "marker", 0.24)), angle=90.0)
    job.swatches["dusk"] = Swatch("dusk", "Dusk", "gradient", gradient=dusk)
    body = job.paragraph_styles["body"]
    workspace.do(
        PutStyle(
            "paragraph",
            "body",
            type=TypeSpec(family="Source Serif 4", size=9.4),
            para=ParaSpec(
                align="justified",
                hyphenate=True,
                leading=LEADING,
                indent_first=LEADING,
                optical=True,
                grid=True,
                hyphen_run=2,
            ),
        )
    )
    assert isinstance(body, ParagraphStyle)
    made: tuple[tuple[str, str, TypeSpec, ParaSpec], ...] = (
        ("Opening", "body", TypeSpec(), ParaSpec(indent_first=0.0, drop_lines=4, drop_gap=4.0)),
        (
            "Kicker",
            "body",
            TypeSpec(family="Source Sans 3", weight=600, size=9.0, caps="upper", tracking=90.0, swatch="tide"),
            ParaSpec(align="left", indent_first=0.0, leading=LEADING, grid=False, hyphenate=False),
        ),
        (
            "Headline",
            "body",
            TypeSpec(family="Playfair Display", size=60.0, weight=700),
            ParaSpec(align="left", indent_first=0.0, leading=60.0, grid=False, hyphenate=False),
        ),
        (
            "Standfirst",
            "body",
            TypeSpec(family="Source Serif 4", italic=True, size=14.5),
            ParaSpec(align="left", indent_first=0.0, leading=20.0, grid=False, hyphenate=False),
        ),
        (
            "Pull quote",
            "body",
            TypeSpec(family="Playfair Display", italic=True, size=19.0, swatch="paper"),
            ParaSpec(align="centre", indent_first=0.0, leading=24.0, grid=False, hyphenate=False, optical=True),
        ),
        (
            "Caption",
            "body",
            TypeSpec(family="Source Sans 3", size=7.6),
            ParaSpec(align="left", indent_first=0.0, leading=10.0, grid=False, hyphenate=False),
        ),
        (
            "Box heading",
            "body",
            TypeSpec(family="Source Sans 3", weight=700, size=9.0),
            ParaSpec(
                align="left",
                indent_first=0.0,
                grid=False,
                space_after=4.0,
                keep_next=True,
                rule_below=ParaRule(Stroke(0.5, "tide"), 5.0),
            ),
        ),
        (
            "Count",
            "body",
            TypeSpec(family="Source Sans 3", size=8.6, figures="tabular"),
            ParaSpec(
                align="left",
                indent_first=0.0,
                grid=False,
                hyphenate=False,
                leading=LEADING,
                tabs=(TabStop(None, "right", ". "),),
            ),
        ),
        (
            "Advice",
            "body",
            TypeSpec(family="Source Sans 3", size=8.6),
            ParaSpec(
                align="left",
                indent_left=11.0,
                indent_first=-11.0,
                grid=False,
                hyphenate=False,
                leading=11.6,
                space_before=2.0,
                list=ListMark("number", "#."),
                box=Box(Fill("sand"), padding=(3.0, 4.0, 3.0, 4.0)),
            ),
        ),
    )
    for name, base, type_, para in made:
        own = next((one.id for one in workspace.job.paragraph_styles.values() if one.name == name), None)
        workspace.do(PutStyle("paragraph", own, name, base, type=type_, para=para, replace=own is not None))
    workspace.do(PutStyle("frame", None, "Side box", frame=FrameSpec(insets=(9.0, 9.0, 9.0, 9.0), fill=Fill("sand"))))


def _id(job: Job, name: str) -> str:
    return next(style.id for style in job.paragraph_styles.values() if style.name == name)


def _frame(workspace: Workspace, page: int, rect: Rect, text: str, style: str, spec: FrameSpec | None = None) -> str:
    """A text frame all of one style; its id."""
    key = workspace.job.pages[page].id
    workspace.do(
        AddTextFrame(
            key,
            rect,
            name=style if style != "body" else "Feature",
            text=text,
            style=_id(workspace.job, style) if style != "body" else "body",
        )
    )
    frame = workspace.job.pages[page].frames[-1]
    if spec is not None:
        workspace.do(ChangeFrame(key, frame.id, spec=spec))
    return frame.id


def magazine() -> Job:
    """The spring number: its cover, and the feature on pages 2 and 3; the rest waits for its copy."""
    setup, errors = read_setup({**defaults("magazine"), "name": "Slack Water, the spring number", "pages": "8"})
    assert setup is not None, errors
    job = setup.new_job()
    # The feature stands in frames of its own: the pages carry no main text.
    (key, master), *_ = job.masters.items()
    job.masters[key] = replace(
        master,
        name="Features",
        recto=tuple(f for f in master.recto if not f.main),
        verso=tuple(f for f in master.verso if not f.main),
    )
    job.main_story, job.stories = None, {key: story for key, story in job.stories.items() if key != "main"}
    job.brief = replace(job.brief, grid_step=LEADING, grid_start=job.brief.margins.head + LEADING * 0.8)
    workspace = Workspace(job)
    _styles(workspace)
    left, right = job.text_area(1), job.text_area(2)
    _frame(workspace, 1, Rect(left.x, left.y, left.width, 16), "From the sluice hide", "Kicker")
    _frame(workspace, 1, Rect(left.x, left.y + 12, left.width, 168), "The hour that\nbelongs to nobody", "Headline")
    _frame(
        workspace,
        1,
        Rect(left.x, left.y + 172, left.width * 2 / 3 - 10, 68),
        "For thirty-one winters somebody has sat at Wherry Hole while the tide made up its mind, and written down what "
        "happened, which was mostly nothing.",
        "Standfirst",
    )
    first_head, body_columns = left.y + 260, FrameSpec(columns=3, gutter=5 * MM)
    first = _frame(
        workspace,
        1,
        Rect(left.x, first_head, left.width, left.foot - first_head),
        "\n".join(STORY),
        "body",
        body_columns,
    )
    story = job.find_frame(first)[1].story or ""  # type: ignore[index]
    second_foot = right.y + 330
    workspace.do(AddTextFrame(job.pages[2].id, Rect(right.x, right.y, right.width, second_foot - right.y)))
    second = job.pages[2].frames[-1].id
    workspace.do(
        LinkFrames(first, job.pages[2].id, second),
        ChangeFrame(job.pages[2].id, second, spec=replace(body_columns, balanced=True)),
    )
    opening = job.stories[story].paragraphs[0]
    workspace.do(SetParagraphs(story, opening.id, opening.id, style=_id(job, "Opening")))
    words = len("There is an hour")
    workspace.do(
        FormatText(story, Place(opening.id, 1), Place(opening.id, words), TypeSpec(caps="small", tracking=30.0))
    )
    # The pull quote: an ellipse that the columns keep clear of, with words of its own within it.
    quote = Rect(left.x + left.width / 3 - 34, left.y + 418, left.width / 3 + 68, 166)
    disc = Wrap("largest", (9.0,) * 4, outline=True)
    workspace.do(
        AddShape(job.pages[1].id, quote, Outline(), FrameSpec(fill=Fill("tide"), wrap=disc), "Pull quote’s ground")
    )
    within = _frame(
        workspace,
        1,
        quote,
        "“The tide is not early, and nobody thinks the worse of it.”",
        "Pull quote",
        FrameSpec(insets=(14.0, 20.0, 14.0, 20.0), vertical="centre", passes=True),
    )
    workspace.do(ChangeFrame(job.pages[1].id, within, outline=Outline()))
    workspace.do(AddLayer("Ground"))
    ground = next(layer.id for layer in job.layers.values() if layer.name == "Ground")
    workspace.do(MoveLayer(ground, 0))
    _figure(workspace, right)
    _boxes(workspace, right)
    _front(workspace, ground)
    _heron(workspace)
    return job


def _heron(workspace: Workspace) -> None:
    """A bird cut out of its white paper, text along its contour; a picture to the bleed beside it, with its credit."""
    job = workspace.job
    left, right = job.text_area(3), job.text_area(4)
    _frame(workspace, 3, Rect(left.x, left.y, left.width, 16), "Who stands there", "Kicker")
    _frame(workspace, 3, Rect(left.x, left.y + 12, left.width, 168), "It is not\nwaiting for you", "Headline")
    top = left.foot - 320
    text = _frame(
        workspace, 3, Rect(left.x, top, left.width, 320), "\n".join(HERON), "body", FrameSpec(columns=3, gutter=5 * MM)
    )
    story = job.find_frame(text)[1].story or ""  # type: ignore[index]
    opening = job.stories[story].paragraphs[0]
    workspace.do(SetParagraphs(story, opening.id, opening.id, style=_id(job, "Opening")))
    bird = file_of(heron(), "Heron", "A heron, standing")
    key = job.pages[3].id
    workspace.do(PlacePicture(key, Rect(left.x + left.width * 0.4, left.foot - 430, 298, 430), bird.id, bird))
    one = job.pages[3].objects[-1].id
    workspace.do(
        FramePicture(key, one, fit="fit"), AdjustPictures(key, (one,), cut=CutOut(tolerance=0.06, outside=True))
    )
    workspace.do(ChangeFrame(key, one, spec=FrameSpec(wrap=Wrap("both", (9.0,) * 4, contour=True))))
    standing = file_of(redshank(), "Redshank", "A redshank stands on wet mud and looks to the left")
    page, bleed = job.pages[4].id, job.brief.bleed
    width, height = job.page_size(4)
    workspace.do(
        PlacePicture(
            page, Rect(0.0, -bleed.head, width + bleed.outer, height * 0.62 + bleed.head), standing.id, standing
        )
    )
    seen = "The redshank, which will have seen you first. " + standing.credit + "."
    _frame(workspace, 4, Rect(right.x, height * 0.62 + 10, right.width * 0.6, 30), seen, "Caption")
    size = 26 * MM
    more = Code("qr", "https://slackwater.example/heron", "Q")
    workspace.do(AddCode(page, Rect(right.right - size, right.foot - size, size, size), more))
    _frame(
        workspace,
        4,
        Rect(right.x, right.foot - 60, right.width - size - 12, 60),
        "The heron’s mornings, all eleven hundred and four of them, are read out at the sluice hide on the first Sunday"
        " of the month.",
        "Standfirst",
    )


def _front(workspace: Workspace, ground: str) -> None:
    """The cover: its name as large as one line holds, whatever it says; sky and sea on a layer of their own."""
    job, page = workspace.job, workspace.job.pages[0].id
    area = job.text_area(0)
    sea = Rect(-9, area.y + 330, job.brief.width + 18, job.brief.height - area.y - 330 + 9)
    shore = ((0.0, 0.16), (0.22, 0.1), (0.45, 0.02), (0.7, 0.06), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
    sun = Rect(area.right - 190, area.y + 250, 150, 150)
    sky = Rect(-9, -9, sea.width, sea.y + 9 + sea.height * 0.17)
    workspace.do(AddShape(page, sky, None, FrameSpec(fill=Fill("dusk")), "Sky", ground))
    workspace.do(AddShape(page, sun, Outline(), FrameSpec(fill=Fill("marker", 0.75)), "Sun", ground))
    workspace.do(AddShape(page, sea, Outline("polygon", shore), FrameSpec(fill=Fill("tide", 0.45)), "Sea", ground))
    near = Rect(sea.x, sea.y + 120, sea.width, sea.height - 120)
    workspace.do(
        AddShape(page, near, Outline("polygon", shore[::-1]), FrameSpec(fill=Fill("tide")), "Near water", ground)
    )
    _frame(
        workspace,
        0,
        Rect(area.x, area.y, area.width, 14),
        "The quarterly of the Saltmarsh Observatory, spring",
        "Kicker",
    )
    masthead = _frame(workspace, 0, Rect(area.x, area.y + 16, area.width, 150), "Slack Water", "Headline")
    workspace.do(ChangeFrame(page, masthead, fit="line"))
    lines = "The hour that belongs to nobody\t2\nForty-four hands and a broad column\t3\nIt is not waiting for you\t4"
    _frame(workspace, 0, Rect(area.x, area.y + 176, area.width / 2, 60), lines, "Count")


def _figure(workspace: Workspace, area: Rect) -> None:
    """A drawn tide on the right page, round whose crest the text runs along its shape, and its captions."""
    page = workspace.job.pages[2].id

    def tide(height: float, steps: int = 40) -> tuple[tuple[float, float], ...]:
        """One tide from low water to low water, as parts of its box."""
        crest = [(i / steps, 1 - height * (0.5 - 0.5 * cos(2 * pi * i / steps)) ** 1.3) for i in range(steps + 1)]
        return ((0.0, 1.0), *crest, (1.0, 1.0))

    rect = Rect(area.x, area.y + 246, area.width, 236)
    workspace.do(
        AddShape(
            page,
            rect,
            Outline("polygon", tide(1.0)),
            FrameSpec(fill=Fill("tide", 0.28), wrap=Wrap("largest", (11.0,) * 4, outline=True)),
            "Spring tide",
        )
    )
    workspace.do(AddShape(page, rect, Outline("polygon", tide(0.66)), FrameSpec(fill=Fill("tide", 0.7)), "Neap tide"))
    passes = FrameSpec(passes=True)
    middle = area.x + area.width / 2
    crest = "Slack water at the crest of a spring tide: the sea stands for some eleven minutes, and so do the waders."
    _frame(workspace, 2, Rect(middle - 62, rect.y + 26, 124, 44), crest, "Caption", passes)
    _frame(
        workspace,
        2,
        Rect(middle - 62, rect.y + 132, 124, 34),
        "A neap comes two thirds as far, and stands no longer.",
        "Caption",
        passes,
    )
    for x, label in ((area.x, "Low water, ten to eight"), (area.right - 100, "Low water, ten past eight")):
        _frame(workspace, 2, Rect(x, rect.foot + 4, 100, 24), label, "Caption", passes)
    figure = [
        frame.id for frame in workspace.job.pages[2].frames if frame.name in ("Spring tide", "Neap tide", "Caption")
    ]
    workspace.do(GroupObjects(page, tuple(figure), "The two tides"))


def _boxes(workspace: Workspace, area: Rect) -> None:
    """What was counted, and how to come."""
    style = next(iter(workspace.job.frame_styles))
    page = workspace.job.pages[2].id
    width = (area.width - 5 * MM) / 2
    top = area.foot - 112
    rows = "\n".join(f"{bird}\t{count}" for bird, count in BIRDS)
    counted = _frame(
        workspace, 2, Rect(area.x, top, width, 112), f"Counted at slack water, this winter’s mean\n{rows}", "Count"
    )
    advice = "\n".join(
        (
            "Come along the plank an hour before the top of the tide.",
            "Mind the third step, which is not there.",
            "Bring boots, a flask, and somebody you like.",
            "Write in the broad column. That is what it is for.",
        )
    )
    coming = _frame(
        workspace, 2, Rect(area.x + width + 5 * MM, top, width, 112), f"How to sit at Wherry Hole\n{advice}", "Advice"
    )
    for frame_id in (counted, coming):
        workspace.do(ChangeFrame(page, frame_id, style=style))
        story = workspace.job.find_frame(frame_id)[1].story or ""  # type: ignore[index]
        head = workspace.job.stories[story].paragraphs[0].id
        workspace.do(SetParagraphs(story, head, head, style=_id(workspace.job, "Box heading")))
