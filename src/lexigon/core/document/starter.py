"""The contents of a new job: swatches, styles, master pages. Books and magazines get running heads and folios."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from lexigon.core.document.model import (
    OBJECT,
    ONE_LAYER,
    PLAIN_SWATCH,
    Anchor,
    Brief,
    CharacterStyle,
    FrameSpec,
    Job,
    Kind,
    ListMark,
    Master,
    Object,
    Page,
    Paragraph,
    ParagraphStyle,
    ParaSpec,
    Pose,
    Side,
    Span,
    Story,
    Swatch,
    TabStop,
    Text,
    TypeSpec,
)
from lexigon.core.document.story_text import new_id
from lexigon.core.geometry import Rect

SWATCHES = (
    Swatch(PLAIN_SWATCH, "Black", "cmyk", (0.0, 0.0, 0.0, 1.0)),
    Swatch("paper", "Paper", "cmyk", (0.0, 0.0, 0.0, 0.0)),
    Swatch("marker", "Marker red", "cmyk", (0.15, 0.9, 0.95, 0.05)),
)


CAPITAL_NOUNS = ("de", "lb")
"""Languages that write every noun with a capital: what begins with one is no name there."""


ListKind = Literal["bullet", "number"]
LIST_LEVELS = 3
LIST_INDENT = 15.0
"""Points that each level of a list is set in (common practice, no source)."""
MARKS = {"bullet": "•", "number": "#."}


def list_style(kind: ListKind, level: int) -> str:
    """The key of the style for the items of a list; deeper levels have that of the deepest."""
    level = min(level, LIST_LEVELS)
    return f"{kind}-list" if level == 1 else f"{kind}-list-{level}"


def list_styles() -> list[ParagraphStyle]:
    """Styles for bulleted and numbered lists of three levels, the text of each level as far in as its mark needs."""
    kinds: dict[ListKind, str] = {"bullet": "Bulleted list", "number": "Numbered list"}
    return [
        ParagraphStyle(
            list_style(kind, level),
            name if level == 1 else f"{name}, level {level}",
            "body",
            list_style(kind, level),
            0,
            TypeSpec(),
            ParaSpec(
                list=ListMark(kind, MARKS[kind], level=level),
                indent_left=LIST_INDENT * level,
                indent_first=-LIST_INDENT,
            ),
        )
        for kind, name in kinds.items()
        for level in range(1, LIST_LEVELS + 1)
    ]


def book_styles(family: str = "EB Garamond", size: float = 11.0, leading: float = 15.0) -> list[ParagraphStyle]:
    """Styles of a book's interior, built on one body setting. First-line indent = leading (common practice)."""
    # Small capitals would do as well, but in several families they bring a figure 1 that reads as an I.
    display = TypeSpec(caps="upper", figures="lining")
    quiet = ParaSpec(align="left", hyphenate=False, keep_next=True, grid=True, indent_first=0.0)
    return [
        ParagraphStyle(
            "body",
            "Body",
            next="body",
            type=TypeSpec(family=family, size=size),
            para=ParaSpec(
                align="justified",
                leading=leading,
                indent_first=leading,
                grid=True,
                hyphen_last=False,
                hyphen_column="leaf",
                last_least=leading,
                hyphen_names=False,
            ),
        ),
        ParagraphStyle("first", "First paragraph", "body", "body", para=ParaSpec(indent_first=0.0)),
        ParagraphStyle(
            "part",
            "Part title",
            "body",
            "chapter",
            1,
            replace(display, size=size * 1.45, tracking=50.0),
            replace(quiet, align="centre", leading=leading * 2, start="recto", space_before=leading * 9, grid=False),
        ),
        ParagraphStyle(
            "chapter",
            "Chapter heading",
            "body",
            "first",
            2,
            replace(display, size=size * 1.15, tracking=50.0),
            replace(
                quiet,
                align="centre",
                leading=leading * 2,
                start="recto",
                space_before=leading * 5,
                space_after=leading * 2,
            ),
        ),
        ParagraphStyle(
            "section",
            "Section heading",
            "body",
            "first",
            3,
            TypeSpec(size=size * 1.1, italic=True),
            replace(quiet, leading=leading, space_before=leading, space_after=0.0),
        ),
        ParagraphStyle("subsection", "Subsection heading", "section", "first", 4, TypeSpec(size=size), ParaSpec()),
        ParagraphStyle(
            "heading5",
            "Heading, fifth level",
            "section",
            "first",
            5,
            TypeSpec(size=size, italic=False, caps="small", tracking=40.0),
            ParaSpec(),
        ),
        ParagraphStyle(
            "heading6",
            "Heading, sixth level",
            "section",
            "first",
            6,
            TypeSpec(size=size * 0.95),
            ParaSpec(indent_left=leading),
        ),
        ParagraphStyle(
            "scene",
            "Scene break",
            "body",
            "first",
            0,
            TypeSpec(),
            replace(quiet, align="centre", space_before=0.0, keep_next=True),
        ),
        ParagraphStyle(
            "quote",
            "Quotation",
            "body",
            "body",
            0,
            TypeSpec(size=size * 0.95),
            ParaSpec(
                indent_left=leading,
                indent_right=leading,
                indent_first=0.0,
                space_before=leading / 2,
                space_after=leading / 2,
            ),
        ),
        ParagraphStyle(
            "verse",
            "Verse",
            "body",
            "verse",
            0,
            TypeSpec(),
            ParaSpec(
                align="left",
                indent_left=leading * 2,
                indent_first=0.0,
                hyphenate=False,
                space_before=leading / 2,
                space_after=leading / 2,
                foot_lines=4,
                head_lines=4,
            ),
        ),
        ParagraphStyle(
            "title",
            "Title",
            "body",
            "author",
            0,
            TypeSpec(size=size * 2.8, tracking=20.0, figures="lining"),
            ParaSpec(
                align="centre",
                leading=leading * 2.6,
                start="recto",
                space_before=leading * 8,
                hyphenate=False,
                indent_first=0.0,
                grid=False,
            ),
        ),
        ParagraphStyle(
            "subtitle",
            "Subtitle",
            "title",
            "author",
            0,
            TypeSpec(size=size * 1.4, italic=True, tracking=0.0),
            ParaSpec(leading=leading * 1.6, start="anywhere", space_before=leading / 2),
        ),
        ParagraphStyle(
            "halftitle",
            "Half-title",
            "title",
            "title",
            0,
            replace(display, size=size * 1.15, tracking=50.0),
            ParaSpec(leading=leading * 2, space_before=leading * 7),
        ),
        ParagraphStyle(
            "author",
            "Author",
            "title",
            "imprint",
            0,
            TypeSpec(size=size * 1.25, italic=True, tracking=0.0),
            ParaSpec(leading=leading, start="anywhere", space_before=leading),
        ),
        ParagraphStyle(
            "dedication",
            "Dedication",
            "title",
            "imprint",
            0,
            TypeSpec(size=size * 1.1, italic=True, tracking=0.0),
            ParaSpec(leading=leading * 1.2, space_before=leading * 10),
        ),
        ParagraphStyle(
            "imprint",
            "Imprint",
            "body",
            "imprint",
            0,
            TypeSpec(size=size * 0.8),
            ParaSpec(
                align="left",
                leading=leading * 0.8,
                indent_first=0.0,
                grid=False,
                start="verso",
                at_foot=True,
                space_after=leading * 0.4,
                hyphenate=False,
            ),
        ),
        ParagraphStyle(
            "figure",
            "Figure",
            "body",
            "caption",
            0,
            TypeSpec(),
            ParaSpec(align="centre", indent_first=0.0, grid=False, space_before=leading / 2, floats=True),
        ),
        ParagraphStyle(
            "caption",
            "Figure caption",
            "body",
            "body",
            0,
            TypeSpec(size=size * 0.85),
            ParaSpec(
                align="left",
                leading=leading * 0.85,
                indent_first=0.0,
                hyphenate=False,
                grid=False,
                space_before=leading * 0.3,
                space_after=leading,
                keep_previous=True,
            ),
        ),
        ParagraphStyle(
            "tablecaption",
            "Table caption",
            "caption",
            "body",
            0,
            TypeSpec(),
            ParaSpec(keep_next=True, keep_previous=False, space_before=leading, space_after=leading * 0.3),
        ),
        *list_styles(),
        ParagraphStyle("contentshead", "Contents heading", "chapter", "contents"),
        ParagraphStyle(
            "contents",
            "Contents entry",
            "body",
            "contents",
            0,
            TypeSpec(figures="lining"),
            ParaSpec(
                align="left",
                indent_left=leading,
                indent_first=-leading,
                hyphenate=False,
                tabs=(TabStop(None, "right", " ."),),
            ),
        ),
        ParagraphStyle(
            "runninghead",
            "Running head",
            "body",
            None,
            0,
            TypeSpec(size=size * 0.8, italic=True),
            ParaSpec(align="centre", indent_first=0.0, hyphenate=False, grid=False, leading=leading),
        ),
        ParagraphStyle(
            "folio",
            "Folio",
            "runninghead",
            None,
            0,
            TypeSpec(size=size * 0.85, italic=False, figures="lining"),
            ParaSpec(),
        ),
    ]


CHARACTER_STYLES = (
    CharacterStyle("emphasis", "Emphasis", type=TypeSpec(italic=True)),
    CharacterStyle("strong", "Strong", type=TypeSpec(weight=700)),
    CharacterStyle("smallcaps", "Small capitals", type=TypeSpec(caps="small", tracking=40.0)),
)


def sheet_styles(family: str, size: float, leading: float) -> list[ParagraphStyle]:
    """Styles of sheets and cards, in the order in which such pieces need them: set left, no indents, nothing begins a
    page."""
    flush = ParaSpec(align="left", indent_first=0.0, hyphenate=False)
    tight = replace(flush, keep_next=True)
    return [
        ParagraphStyle(
            "title",
            "Headline",
            "body",
            "body",
            1,
            TypeSpec(size=size * 2.8, weight=700),
            replace(tight, leading=size * 3.0, space_after=leading / 2),
        ),
        ParagraphStyle(
            "subtitle",
            "Introduction",
            "body",
            "body",
            0,
            TypeSpec(size=size * 1.3),
            replace(flush, leading=leading * 1.3, space_after=leading / 2),
        ),
        ParagraphStyle(
            "section",
            "Subheading",
            "body",
            "body",
            2,
            TypeSpec(size=size * 1.2, weight=700),
            replace(tight, leading=leading * 1.1, space_before=leading / 2),
        ),
        ParagraphStyle(
            "body",
            "Body",
            next="body",
            type=TypeSpec(family=family, size=size),
            para=replace(flush, leading=leading, last_least=leading),
        ),
        ParagraphStyle(
            "quote",
            "Quotation",
            "body",
            "body",
            0,
            TypeSpec(size=size * 1.1, italic=True),
            ParaSpec(indent_left=leading, indent_right=leading, space_before=leading / 2, space_after=leading / 2),
        ),
        ParagraphStyle(
            "caption", "Caption", "body", "body", 0, TypeSpec(size=size * 0.85), ParaSpec(leading=leading * 0.85)
        ),
        ParagraphStyle(
            "smallprint",
            "Small print",
            "body",
            "smallprint",
            0,
            TypeSpec(size=size * 0.75),
            ParaSpec(leading=leading * 0.75),
        ),
    ]


def text_master(brief: Brief, leading: float, running: bool = True) -> tuple[Master, list[Story]]:
    """A facing master: the main text frame within the margins; with ``running`` a running head above, a folio below."""
    stories: list[Story] = []

    def frames(side: Side) -> tuple[Object, ...]:
        area = brief.text_area(side)
        field = "heading" if side == "recto" else "job"
        frames = [
            Object(new_id("f"), "Main text", content=Text(main=True), make=FrameSpec(brief.columns, brief.gutter))
        ]
        furniture = (
            (
                "Running head",
                "runninghead",
                field,
                Rect(area.x, max(area.y - leading * 2, 4), area.width, leading * 1.4),
            ),
            (
                "Folio",
                "folio",
                "page",
                Rect(area.x, min(area.foot + leading * 0.9, brief.height - leading * 1.5), area.width, leading * 1.4),
            ),
        )
        for name, style, what, rect in furniture if running else ():
            paragraph = Paragraph(new_id("p"), style, OBJECT, (Span(0, 1, object=Anchor(what)),))  # type: ignore[arg-type]
            story = Story(new_id("s"), f"{name}, {side}", [paragraph])
            stories.append(story)
            hide = ("opening", "blank", "front") if name == "Running head" else ("blank", "front")
            frames.append(Object(new_id("f"), name, Pose(rect), Text(story.id), hide_on=hide))  # type: ignore[arg-type]
        return tuple(frames)

    return Master("text", "Text", frames("recto"), frames("verso")), stories


FIRST_LINE = 0.8
"""The distance of the grid's start from the top margin, in leadings: where the ascender of a text face reaches the
margin."""


def gridded(brief: Brief, leading: float) -> Brief:
    """With a baseline grid that goes with the body's leading and begins at the head margin."""
    return replace(brief, grid_start=brief.margins.head + leading * FIRST_LINE, grid_step=leading)


def new_job(
    name: str,
    brief: Brief,
    *,
    kind: Kind = "book",
    family: str = "EB Garamond",
    size: float = 11.0,
    leading: float = 15.0,
    pages: int = 1,
    main: bool = True,
    running: bool = True,
) -> Job:
    """A job of ``pages`` empty pages. With ``main`` a main text flows through them, on a grid that follows the leading;
    ``running`` gives them running heads and folios. Without, the pages are bare."""
    job = Job(
        new_id("j"),
        name,
        brief,
        kind,
        paragraph_styles={s.id: s for s in (book_styles if main and running else sheet_styles)(family, size, leading)},
        character_styles={style.id: style for style in CHARACTER_STYLES},
        swatches={swatch.id: swatch for swatch in SWATCHES},
        layers={ONE_LAYER.id: ONE_LAYER},
    )
    if brief.language.split("-")[0] in CAPITAL_NOUNS:
        body = job.paragraph_styles["body"]
        job.paragraph_styles["body"] = replace(body, para=replace(body.para, hyphen_names=None))
    if main:
        if not brief.grid_step:
            job.brief = brief = gridded(brief, leading)
        master, stories = text_master(brief, leading, running)
        job.masters = {"text": master}
        job.main_story = "main"
        story = Story("main", "Main text", [Paragraph(new_id("p"), "body")])
        job.stories = {"main": story, **{story.id: story for story in stories}}
    else:
        job.masters = {"bare": Master("bare", "Bare", colour="#5D6A70")}
    job.pages = [Page(new_id("g"), next(iter(job.masters))) for _ in range(max(pages, 1))]
    return job


def new_book(name: str, brief: Brief, *, family: str = "EB Garamond", size: float = 11.0, leading: float = 15.0) -> Job:
    """A book interior with one empty page, ready for text."""
    return new_job(name, brief, family=family, size=size, leading=leading)
