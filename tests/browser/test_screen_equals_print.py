"""What the board shows is what the press prints: line ends to 0.05 pt, and pictures of both laid over each other."""

from __future__ import annotations

import base64
import io
import subprocess
from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime, timezone
from pathlib import Path
from typing import get_args
from urllib.parse import urlencode

import numpy
import pikepdf
import pypdfium2 as pdfium
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image, ImageCms
from playwright.sync_api import Page

from lexigon.core.blending import Blend
from lexigon.core.colour.colours import Colour, Gradient
from lexigon.core.colour.difference import delta_e
from lexigon.core.colour.profiles import COATED
from lexigon.core.document.model import (
    Box,
    Code,
    Fill,
    FrameSpec,
    ListMark,
    Outline,
    Paragraph,
    ParaRule,
    ParaSpec,
    RuleStyle,
    Span,
    Stroke,
    TabStop,
    TypeSpec,
    Wrap,
)
from lexigon.core.editing.intents import (
    AddRule,
    AddShape,
    AddTable,
    AddTextFrame,
    Cells,
    ChangeFrame,
    FormatText,
    Place,
    PourText,
    SetCells,
    SetParagraphs,
    ShowInCell,
)
from lexigon.core.editing.intents.objects.text_on_path import PutAlong
from lexigon.core.fileformat import package
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Affine, Rect, turned_about
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Glyphs, Group, Item, Pen, Shadow, paint
from lexigon.core.paint.items import Path as Outlined
from lexigon.core.paint.items import Picture as Shown
from lexigon.core.paint.outlines import outlined
from lexigon.core.paint.svg import svg_of, text_css
from lexigon.core.path.shapes import ellipse_path, polygon_path, rect_path
from lexigon.core.pdf.boxes import PageBoxes
from lexigon.core.pdf.content import Content, ContentPainter
from lexigon.core.pdf.rasters import draw_pixels
from lexigon.core.pdf.resources import FileResources
from lexigon.core.pdf.variants import VARIANTS
from lexigon.core.pdf.writer import Name, PdfWriter
from lexigon.core.picture.measured import lab_of
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from lexigon.core.spec.grammar import read_spec
from lexigon.core.spec.rules import Names
from lexigon.core.type.fonts import shipped
from tests.browser.conftest import Server, still
from tests.core.helpers import book, words
from tests.core.strategies import paras, types

ENDS = """() => [...document.querySelectorAll('.content .ln')].filter((g) => [...g.children].some((t) => t.getNumberOfChars())).map((g) => {
  const all = [...g.children].filter((t) => t.getNumberOfChars());
  const [first, last] = [all[0], all[all.length - 1]];
  const wide = (t, x) => { const k = t.transform.baseVal.length ? t.transform.baseVal[0].matrix.a : 1, from = Number(t.getAttribute('x')); return from + (x - from) * k; };
  return [g.textContent, wide(first, first.getStartPositionOfChar(0).x), wide(last, last.getEndPositionOfChar(last.getNumberOfChars() - 1).x)]; })"""  # noqa: E501


def dense_book() -> Workspace:
    """A page of everything the slice can set: fonts that kern with the space, italics, tracking, capitals, figures."""
    workspace = Workspace(book(facing=False))
    families = ["EB Garamond", "Alegreya", "Source Serif 4", "Spectral", "Fira Sans"]
    made = [
        Paragraph(f"p{n}", "body", words(38, n) + " To AV. “We” fi ffl 1,234", type=TypeSpec(family=family))
        for n, family in enumerate(families)
    ]
    workspace.do(PourText("main", (*made, Paragraph("p9", "body", words(40, 9)))))
    workspace.do(FormatText("main", Place("p0", 20), Place("p0", 60), TypeSpec(italic=True)))
    workspace.do(FormatText("main", Place("p1", 20), Place("p1", 90), TypeSpec(weight=700, swatch="marker")))
    workspace.do(FormatText("main", Place("p2", 10), Place("p2", 80), TypeSpec(tracking=60.0)))
    workspace.do(
        FormatText(
            "main", Place("p9", 10), Place("p9", 60), TypeSpec(caps="small", figures="oldstyle", size=14.0, shift=2.0)
        )
    )
    workspace.do(FormatText("main", Place("p9", 70), Place("p9", 110), TypeSpec(caps="upper")))
    workspace.do(SetParagraphs("main", "p4", "p4", para=ParaSpec(align="right")))
    workspace.do(SetParagraphs("main", "p3", "p3", para=ParaSpec(align="centre")))
    return workspace


def rich_book() -> Workspace:
    """A page of what narrow columns and display type need: fitted letters, tabs, an initial, lists, shapes, turned
    type."""
    job = book(facing=False)
    job.brief = replace(job.brief, grid_step=0.0)
    master = job.masters["text"]
    job.masters["text"] = replace(
        master,
        recto=tuple(
            f.with_spec(columns=2, gutter=14.0, column_rule=Stroke(0.5)) if f.main else f for f in master.recto
        ),
    )
    workspace = Workspace(job)
    text = words(30, 4)
    odd = (
        Span(0, 7, type=TypeSpec(caps="small")),
        Span(8, 20, type=TypeSpec(caps="reduced")),
        Span(21, 33, type=TypeSpec(scale_x=1.2)),
        Span(34, 46, type=TypeSpec(scale_y=1.3, tint=0.5, swatch="marker")),
        Span(47, 59, type=TypeSpec(underline=True)),
        Span(60, 72, type=TypeSpec(strike=True, strike_weight=1.0)),
        Span(73, 83, type=TypeSpec(position="superior")),
        Span(84, 96, type=TypeSpec(features=("swsh", "dlig"), italic=True)),
        Span(97, 109, type=TypeSpec(position="inferior", family="League Gothic")),
    )
    sign = ParaSpec(list=ListMark("number", "#."), indent_left=16.0, indent_first=-16.0)
    boxed = ParaSpec(
        box=Box(Fill("marker", 0.15), Stroke(0.5), (2.0, 4.0, 2.0, 4.0)),
        indent_left=6.0,
        indent_right=6.0,
        space_before=6.0,
        space_after=6.0,
    )
    made = (
        Paragraph("q0", "body", words(48, 21) + " office fluffy", para=ParaSpec(drop_lines=3)),
        Paragraph(
            "q1",
            "body",
            words(44, 22) + " To AV. fi ffl",
            para=ParaSpec(optical=True),
            type=TypeSpec(family="Spectral"),
        ),
        Paragraph("q2", "body", text, odd),
        Paragraph(
            "q3",
            "body",
            "Dunlin\t4,120\t12.5",
            para=ParaSpec(indent_first=0.0, tabs=(TabStop(80.0, "right"), TabStop(None, "right", ". "))),
        ),
        Paragraph(
            "q4",
            "body",
            "Godwit\t97\t3.75",
            para=ParaSpec(indent_first=0.0, tabs=(TabStop(80.0, "right"), TabStop(None, "right", ". "))),
        ),
        Paragraph("q5", "body", words(12, 23), para=sign),
        Paragraph("q6", "body", words(9, 24), para=sign),
        Paragraph("q7", "body", words(14, 25), para=boxed),
        Paragraph(
            "q8",
            "body",
            words(16, 26),
            para=ParaSpec(rule_above=ParaRule(Stroke(1.0, dash=(3.0, 2.0)), 14.0), last_line="full", space_before=8.0),
        ),
        Paragraph("q9", "body", words(70, 27)),
    )
    workspace.do(PourText("main", made))
    page = job.pages[0].id
    workspace.do(
        AddShape(
            page,
            Rect(230, 420, 110, 90),
            Outline(),
            FrameSpec(fill=Fill("marker", 0.4), stroke=Stroke(2.0), wrap=Wrap("both", (6.0,) * 4, outline=True)),
        )
    )
    workspace.do(AddTextFrame(page, Rect(120, 8, 180, 24), text="Turned a little office"))
    turned = job.pages[0].frames[-1].id
    workspace.do(ChangeFrame(page, turned, rotation=4.0))
    workspace.do(AddTextFrame(page, Rect(300, 4, 110, 46), text="Outlines"))
    large = job.pages[0].frames[-1]
    workspace.do(ChangeFrame(page, large.id, fit="line"))
    workspace.do(outlined(workspace.composition, 0, large.id))
    return workspace


@pytest.fixture(params=[dense_book, rich_book])
def dense(request: pytest.FixtureRequest, demo: Page, server: Server) -> tuple[Page, Workspace]:
    workspace = request.param()
    put_up(demo, server, workspace)
    still(demo)
    return demo, workspace


def put_up(page: Page, server: Server, workspace: Workspace) -> None:
    page.goto(server.url)
    page.set_input_files(
        "input[name=file]",
        {"name": "dense.lexigon", "mimeType": package.MIMETYPE, "buffer": package.write(workspace.job)},
    )
    page.wait_for_url("**/board/")
    page.wait_for_selector(".content .ln", state="attached")
    page.evaluate("() => document.fonts.ready")


def test_lines_end_where_the_composer_says(dense: tuple[Page, Workspace]) -> None:
    page, workspace = dense
    check_ends(page, workspace, 20)


@settings(deadline=None, max_examples=4, suppress_health_check=list(HealthCheck))
@given(st.lists(st.tuples(types, paras), min_size=8, max_size=8))
def test_lines_end_where_the_composer_says_whatever_is_set(
    demo: Page, server: Server, made: list[tuple[TypeSpec, ParaSpec]]
) -> None:
    """Any setting of characters and paragraphs, in a frame of its own that has room for it."""
    job = book(width=800.0, height=5000.0, facing=False)
    job.rule_styles["hair"] = RuleStyle("hair", "Hairline", None, Stroke(0.25))
    workspace = Workspace(job)
    texts = (
        words(24),
        "Dunlin\t4,120\tLow water\t9.5",
        "A line ended here\u2028and “another” office, 1/2",
        words(30, 3),
    )
    workspace.do(
        PourText(
            "main",
            tuple(
                Paragraph(
                    f"p{n}", "body", text, (Span(2, 7, style="emphasis"),), replace(para, start="anywhere"), type_
                )
                for n, (text, (type_, para)) in enumerate(zip(texts * 2, made, strict=True))
            ),
        )
    )
    put_up(demo, server, workspace)
    check_ends(demo, workspace, 1, 0.08)


def check_ends(page: Page, workspace: Workspace, least: int, within: float = 0.05) -> None:
    wanted = [
        ("".join(run.text for run in line.runs), line.runs[0].x, line.runs[-1].x + line.runs[-1].width)
        for frame in Display(workspace.composition).page(0).frames
        for line in frame.lines
        if line.runs
    ]
    shown = page.evaluate(ENDS)
    assert [text for text, _, _ in shown] == [text for text, _, _ in wanted]
    assert len(wanted) >= least
    for (text, start, end), (_, x0, x1) in zip(shown, wanted, strict=True):
        # Tracking also follows the last character; the browser counts it in the end position as we do.
        assert abs(start - x0) <= within, text
        assert abs(end - x1) <= within, text


def rendered(data: bytes, renderer: str, folder: Path) -> Image.Image:
    """A PDF's first page in grey, by one of two renderers that share no code."""
    if renderer == "pdfium":
        document = pdfium.PdfDocument(data)
        picture: Image.Image = document[0].render(scale=3).to_pil().convert("L")
        document.close()
        return picture
    (folder / "page.pdf").write_bytes(data)
    subprocess.run(
        ["pdftoppm", "-r", "216", "-png", "-singlefile", "-gray", folder / "page.pdf", folder / "page"], check=True
    )
    return Image.open(folder / "page.png").convert("L")


def photograph(path: Path) -> Path:
    """A picture with soft colours and soft edges, 216 pixels an inch as it is drawn."""
    x, y = numpy.meshgrid(numpy.linspace(0, 1, 270), numpy.linspace(0, 1, 180))
    colours = numpy.stack(
        [120 + 110 * x, 200 - 120 * y, 90 + 80 * x * y, 255 * numpy.clip(3 * numpy.minimum(x, 1 - x), 0, 1)], axis=2
    )
    Image.fromarray(colours.round().astype("uint8"), "RGBA").save(path, "PNG")
    return path


def drawing(picture: str = "") -> list[Group]:
    """Groups in groups: turned, cut off, half seen as a whole, multiplied; with the name of a picture's file that
    too."""
    red, blue, grey = Colour("rgb", (0.8, 0.1, 0.1)), Colour("rgb", (0.1, 0.3, 0.8)), Colour("rgb", (0.6, 0.6, 0.6))
    box, disc = rect_path(Rect(20, 20, 120, 80)), ellipse_path(Rect(60, 40, 120, 90))
    pair = (Outlined(box, red), Outlined(disc, blue, Pen(6.0, grey, (10.0, 5.0))))
    ring = polygon_path(
        ((30, 30), (170, 30), (170, 110), (30, 110), (30, 30), (60, 50), (60, 90), (140, 90), (140, 50), (60, 50))
    )
    turned = turned_about(Rect(20, 20, 160, 110), 25)
    sea, sand = Colour("cmyk", (0.9, 0.4, 0.1, 0.1), "Sea blue"), Colour("cmyk", (0.0, 0.2, 0.6, 0.0))
    sweep = Gradient(
        "linear", (190, 250), (390, 380), ((0.1, sea), (0.6, sand), (0.6, red), (1.0, blue)), (0.3, 0.5, 0.7)
    )
    glow = Gradient("radial", (290, 330), (340, 330), ((0.0, sand), (1.0, sea.at(0.5))))
    blended = (
        Outlined(rect_path(Rect(200, 260, 180, 120)), sweep),
        Outlined(ellipse_path(Rect(240, 280, 100, 90)), glow, Pen(3.0, grey)),
    )
    far = (Outlined(rect_path(Rect(-900, -700, 60, 40)), red), Outlined(ellipse_path(Rect(-870, -690, 60, 40)), blue))
    small = rect_path(Rect(0, 0, 22, 22))
    every = [(mixed, mode) for mixed in (red, blue) for mode in get_args(Blend)]
    modes = [
        Group(
            (Outlined(rect_path(Rect(0, 0, 14, 30)), grey), Group((Outlined(small, mixed),), blend=mode)),
            Affine.move(48 + 27 * (at % 12), 4 + 36 * (at // 12)),
        )
        for at, (mixed, mode) in enumerate(every)
    ]
    shown = Shown(picture, Affine(90.0, 0.0, 0.0, 60.0, 20.0, 20.0))
    leaning = Shown(picture, Affine(-70.0, 25.0, 20.0, 50.0, 110.0, 70.0))
    pictures = [
        Group((shown,), Affine.move(0.0, 130.0), clip=ellipse_path(Rect(25, 20, 80, 60))),
        Group((leaning,), Affine.move(270.0, 220.0), opacity=0.7),
        Group((Group((shown,), turned, clip=ring, even_odd=True),), Affine.move(60.0, 225.0)),
    ]
    soft = Shadow(6.0, 5.0, 8.0, Colour("cmyk", (0.0, 0.0, 0.0, 1.0)), 0.6, Rect(20, 20, 160, 110))
    pictures.append(
        Group(
            (Group((Group(pair, turned_about(Rect(20, 20, 160, 110), 15)),), shadow=soft),),
            Affine(0.5, 0.0, 0.0, 0.5, 290.0, 60.0),
        )
    )
    return [
        *(pictures if picture else ()),
        *modes,
        Group(blended, turned_about(Rect(200, 260, 180, 120), 12)),
        Group((Group(far, turned_about(Rect(-900, -700, 60, 40), 30), opacity=0.6),), Affine.move(1230, 1040)),
        Group(pair, turned),
        Group(pair, Affine.move(190, 0), opacity=0.5),
        Group((Outlined(rect_path(Rect(0, 170, 400, 60)), grey), Group(pair, Affine.move(0, 130), blend="multiply"))),
        Group((Group(pair, turned, clip=box),), Affine.move(190, 130)),
        Group(
            (Outlined(ring, blue, even_odd=True), Outlined(disc, None, None)),
            Affine(0.9, 0.2, 0.0, 1.1, 10, 250),
            opacity=0.8,
            blend="darken",
        ),
    ]


def test_a_drawing_is_the_same_by_both_painters(page: Page, tmp_path: Path) -> None:
    """Each of Chromium, pdfium and poppler draws what the other painters wrote for them."""
    file = photograph(tmp_path / "photograph.png")
    check_drawing(page, tmp_path, drawing("a" * 64), {"a" * 64: file})


def check_drawing(page: Page, folder: Path, items: Sequence[Item], files: dict[str, Path]) -> None:
    """A drawing of 400 by 400 points looks alike, whoever draws it."""
    width, height = 400.0, 400.0
    told = {
        name: "data:image/png;base64," + base64.b64encode(file.read_bytes()).decode() for name, file in files.items()
    }
    svg = svg_of(items, lambda file, look: told[file])
    page.set_content(f"<style>body{{margin:0}}{text_css()}</style><svg width='{width}' height='{height}'>{svg}</svg>")
    page.wait_for_function("() => [...document.images].every((image) => image.complete)")
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
    screen = Image.open(io.BytesIO(page.locator("svg").first.screenshot())).convert("L")
    target = io.BytesIO()
    writer = PdfWriter(target)
    resources = FileResources(writer, VARIANTS["screen"], files.get, draw=draw_pixels)
    content, tree = Content(), writer.reserve()
    sheet = PageBoxes(width, height, 0.0, 0.0, 0.0, 0.0, (0.0,) * 4)
    paint(items, ContentPainter(content, sheet, resources))
    leaf = {
        "Type": Name("Page"),
        "Parent": tree,
        "MediaBox": sheet.media,
        "Resources": resources.names,
        "Contents": writer.add_stream(content.data()),
        "Group": {"S": Name("Transparency"), "CS": Name("DeviceRGB")},
    }
    writer.add({"Type": Name("Pages"), "Kids": [writer.add(leaf)], "Count": 1}, tree)
    resources.write()
    writer.close(writer.add({"Type": Name("Catalog"), "Pages": tree}), writer.add({"Title": "drawing"}))
    a = numpy.asarray(screen, dtype=float)
    assert a.std() > 30, "there is something to be seen"
    for renderer in ("pdfium", "poppler"):
        printed = rendered(target.getvalue(), renderer, folder).resize(screen.size, Image.Resampling.BOX)
        difference = abs(a - numpy.asarray(printed, dtype=float))
        assert difference.mean() < 1.0, renderer
        assert numpy.percentile(difference, 97) < 8, f"{renderer}: only edges may differ"


SURFACES = [
    "fill Marker red, edge 6 inside Black",
    "fill Marker red, edge 6 outside dashes 12 5 Black",
    "edge 5 dots 9 Black, corners 20pt",
    "fill Black 30%, corners cut 14pt 0pt hollow 14pt notch 14pt, edge 3 round joins Black",
    "star 5 60%, fill Marker red, edge 4 Black",
    "star 9 40%, edge 6 inside cut joins Black, fill Black 20%",
    "ellipse, fill Marker red, opacity 40%",
    "fill Marker red, blend multiply, shadow 5 5 soft 6 Black 60%",
    "triangle, edge 8 round joins outside Marker red, shadow 4 6 soft 0 Black 50%",
    "ellipse, edge 7 square caps dashes 10 14 Black, blend darken, opacity 70%",
]
RULES = [
    "edge 3 from dot to arrow Black",
    "edge 4 from bar to barb Black",
    "edge 5 from ring to diamond round caps Black",
    "edge 6 dots 10 to arrow Black",
]


def test_the_surfaces_of_objects_are_the_same_on_the_board_and_in_print(page: Page, tmp_path: Path) -> None:
    workspace = Workspace(book(facing=False))
    leaf = workspace.job.pages[0].id
    names = Names.of(workspace.job, shipped().families)
    workspace.do(AddShape(leaf, Rect(0, 0, 400, 400), spec=FrameSpec(fill=Fill("black", 0.1))))
    for at, line in enumerate(SURFACES):
        workspace.do(AddShape(leaf, Rect(24 + 92 * (at % 4), 24 + 92 * (at // 4), 64, 60)))
        change_by(workspace, line, names)
    for at, line in enumerate(RULES):
        workspace.do(
            AddRule(leaf, (30 + 180 * (at % 2), 310 + 44 * (at // 2)), (150 + 180 * (at % 2), 325 + 44 * (at // 2)))
        )
        change_by(workspace, line, names)
    workspace.do(AddShape(leaf, Rect(212, 212, 80, 80), Outline(), FrameSpec(), "Ring"))
    workspace.do(PutAlong(leaf, workspace.job.pages[0].objects[-1].id, "High water at the plank"))
    made = [one for one in Display(workspace.composition).page(0).frames if one.frame.name in ("Shape", "Rule", "Ring")]
    assert len(made) == 2 + len(SURFACES) + len(RULES)
    palette = Display(workspace.composition).palette
    check_drawing(page, tmp_path, [one.group(palette) for one in made], {})


def wordless(item: Item) -> Item:
    """A drawing without its words: the page that it is drawn on by itself has none of the fonts."""
    if isinstance(item, Group):
        return replace(item, items=tuple(wordless(one) for one in item.items if not isinstance(one, Glyphs)))
    return item


def test_cells_look_on_the_board_as_in_print(page: Page, tmp_path: Path) -> None:
    """Grounds, rules of cells' own, turned words and codes: in cells that are typed in, and in those of a frame that is
    turned."""
    workspace = Workspace(book(facing=False))
    leaf = workspace.job.pages[0].id
    workspace.do(AddShape(leaf, Rect(0, 0, 400, 400), spec=FrameSpec(fill=Fill("black", 0.06))))
    for at, turn in enumerate((0, 180)):
        workspace.do(AddTextFrame(leaf, Rect(30 + 180 * at, 30, 160, 330)))
        frame = workspace.job.pages[0].objects[-1]
        place = Place(workspace.job.stories[frame.story or ""].paragraphs[0].id, 0)
        workspace.do(
            AddTable(
                frame.story or "", place, words="Bird\tMorning\tEvening\nKnot\t5.3\t20\nDunlin\t4.1\t17\nCurlew\t2\t3"
            )
        )
        key = list(workspace.job.tables)[-1]
        heads, body = Cells(key, 0, 1, 0, 2), Cells(key, 1, 1, 2, 2)
        workspace.do(
            SetCells(heads, turn=90, fill=Fill("black", 0.9), vertical="centre"),
            SetCells(body, edges=("head", "right", "foot", "left"), rule=Stroke(5.0, "black")),
        )
        workspace.do(
            SetCells(body, edges=("across", "down"), rule=Stroke(1.0, "black", dash=(3.0, 2.0))),
            SetCells(Cells(key, 3, 0, 3, 0), turn=270, height=50.0),
        )
        workspace.do(
            ShowInCell(key, 3, 2, 40.0, 40.0, code=Code(form="qr", text="Slack water")),
            ChangeFrame(leaf, frame.id, turn=turn),
        )  # type: ignore[arg-type]
    arts = [one for one in Display(workspace.composition).page(0).frames if one.story != workspace.job.main_story]
    assert sum(one.role == "cell" for one in arts) == 12, "those of the turned frame are drawn with it"
    palette = Display(workspace.composition).palette
    check_drawing(page, tmp_path, [wordless(one.group(palette)) for one in arts], {})


def change_by(workspace: Workspace, line: str, names: Names) -> None:
    """Make the object that was added last what a spec line says."""
    read = read_spec(line, names)
    assert not read.unknown, line
    leaf = workspace.job.pages[0]
    workspace.do(ChangeFrame(leaf.id, leaf.objects[-1].id, spec=read.frame, **read.changes))


def test_pictures_of_screen_and_pdf_agree(dense: tuple[Page, Workspace], tmp_path: Path) -> None:
    page, workspace = dense
    page.click("#clean")
    page.evaluate("() => document.querySelectorAll('.furniture, .guides, .marks, .edge').forEach((e) => e.remove())")
    paper = page.locator(".paper").first
    screen = Image.open(io.BytesIO(paper.screenshot())).convert("L")
    target = io.BytesIO()
    write_pdf(workspace.composition, recipe("screen"), target, datetime(2026, 1, 1, tzinfo=timezone.utc))
    block = (screen.width // 4, screen.height // 4)
    for renderer in ("pdfium", "poppler"):
        printed = rendered(target.getvalue(), renderer, tmp_path).resize(screen.size, Image.Resampling.BOX)
        a, b = (numpy.asarray(image.resize(block, Image.Resampling.BOX), dtype=float) for image in (screen, printed))
        assert a.min() < 160, "there is text on it"
        assert numpy.corrcoef(a.ravel(), b.ravel())[0, 1] > 0.97, renderer
        assert abs(a - b).mean() < 4, renderer


def shown_in_lab(picture: Image.Image, size: tuple[int, int], inks: bool = False) -> numpy.ndarray:
    """A picture of that size as CIE L*a*b*; in inks, as LittleCMS itself says they look on coated paper."""
    light = ImageCms.createProfile("sRGB")
    if inks:
        intent, flags = ImageCms.Intent.RELATIVE_COLORIMETRIC, ImageCms.Flags.BLACKPOINTCOMPENSATION
        proof = ImageCms.buildTransform(str(COATED.path), light, "CMYK", "RGB", renderingIntent=intent, flags=flags)
        seen = ImageCms.applyTransform(picture, proof)
        assert seen
        picture = seen
    return numpy.asarray(lab_of(picture.resize(size, Image.Resampling.BOX)).reshape(-1, 3))


def plates_of(data: bytes, number: int, folder: Path) -> Image.Image:
    """The trimmed page as Ghostscript puts it on the four plates, with what is transparent mixed in inks."""
    (folder / "pressed.pdf").write_bytes(data)
    with pikepdf.open(io.BytesIO(data)) as document:
        left, low, right, high = (float(v) for v in document.pages[number - 1].trimbox)
        top = float(document.pages[number - 1].mediabox[3])
    command = [
        "gs",
        "-q",
        "-dNOPAUSE",
        "-dBATCH",
        "-dSAFER",
        "-sDEVICE=tiff32nc",
        "-r288",
        f"-dFirstPage={number}",
        f"-dLastPage={number}",
    ]
    subprocess.run([*command, f"-sOutputFile={folder / 'plates.tif'}", folder / "pressed.pdf"], check=True)
    return Image.open(folder / "plates.tif").crop(
        (round(left * 4), round((top - high) * 4), round(right * 4), round((top - low) * 4))
    )


@pytest.mark.parametrize(
    ("title", "number"),
    [
        ("Birds of the Merrow Flats, cover", 1),
        ("An evening in the open hide", 1),
        ("Slack Water, the spring number", 4),
    ],
)
def test_the_demo_looks_on_the_board_as_it_is_pressed(
    demo: Page, server: Server, tmp_path: Path, title: str, number: int
) -> None:
    """Pictures, gradients, shadows, codes, and the edges of letters: CIEDE2000 below 1.5 on the average."""
    demo.goto(f"{server.url}/?{urlencode({'find': title})}")  # others may have filled the shelf's first page
    job = str(demo.locator("main li.card > a", has_text=title).last.get_attribute("href")).removesuffix("board/")
    demo.goto(f"{server.url}{job}board/?page={number}")
    demo.wait_for_selector(".content image")
    still(demo)
    demo.click("#clean")
    demo.evaluate("""() => Promise.all([...document.querySelectorAll('.content image')].map(
            (image) => Object.assign(new Image(), { src: image.href.baseVal }).decode()))""")
    still(demo)
    screen = Image.open(io.BytesIO(demo.locator(".paper").first.screenshot())).convert("RGB")
    demo.goto(f"{server.url}{job}press/")
    demo.get_by_role("button", name="Export", exact=True).click()
    demo.locator("text=Download").wait_for(timeout=60_000)
    with demo.expect_download() as download:
        demo.click("text=Download")
    pressed = plates_of(Path(download.value.path()).read_bytes(), number, tmp_path)
    size = (screen.width // 5, screen.height // 5)
    seen, printed = shown_in_lab(screen, size), shown_in_lab(pressed, size, inks=True)
    apart = [delta_e(tuple(one), tuple(other)) for one, other in zip(seen, printed, strict=True)]
    assert numpy.std(seen[:, 0]) > 10, "there is something to be seen"
    assert numpy.mean(apart) < 1.5
    assert numpy.percentile(apart, 75) < 1.5, "but for edges nothing differs: Lab in 8 bits is half of it"
