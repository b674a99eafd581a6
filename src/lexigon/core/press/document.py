"""The PDF of a job: pages painted from the same display list as the board.

For the press PDF/X-4 (ISO 15930-7): output intent with its profile, page boxes, embedded subsets, black
text on the black plate only and overprinting, marks in every ink. For the screen: bookmarks from the
headings, links, no marks. The same job, recipe and date give the same bytes.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any, BinaryIO

from lexigon.core.brief.forms import folds_of
from lexigon.core.colour.preview import BLACK, rgb_of, tinted
from lexigon.core.colour.profiles import PROFILES
from lexigon.core.flow.composition import Composition
from lexigon.core.geometry import Affine
from lexigon.core.job.cascade import plain_face
from lexigon.core.job.model import Paragraph
from lexigon.core.paint.display import FrameArt, LineArt, PageArt, Painter
from lexigon.core.paint.shapes import ShapeArt
from lexigon.core.press.boxes import Sheet, crop_marks, sheet_for
from lexigon.core.press.metadata import information, xmp
from lexigon.core.press.pdf import Name, PdfWriter, Raw, Ref, number
from lexigon.core.press.pdffonts import PdfFont
from lexigon.core.press.recipes import Recipe
from lexigon.core.type.fonts import FontFace
from lexigon.core.type.line import LineRun
from lexigon.core.type.runs import Look, look_for

OPERATORS = {"M": "m", "L": "l", "C": "c", "Z": "h"}
_URL = re.compile(r"https?://[^\s<>“”]+[^\s<>“”.,;:!?)]")


class OutputStopped(Exception):
    """The caller asked to stop; what was written so far is no file."""


def write_pdf(
    composition: Composition,
    recipe: Recipe,
    target: BinaryIO,
    when: datetime,
    pages: list[int] | None = None,
    progress: Callable[[int, int], bool] | None = None,
) -> None:
    """Write the job's pages (indexes, all by default) to ``target``.

    ``progress(done, total)`` is called after each page; when it returns False, OutputStopped is raised.
    """
    _Document(composition, recipe, target, when).run(
        pages if pages is not None else list(range(len(composition.job.pages))), progress
    )


class _Document:
    def __init__(self, composition: Composition, recipe: Recipe, target: BinaryIO, when: datetime) -> None:
        self.composition, self.job, self.recipe, self.when = composition, composition.job, recipe, when
        self.writer = PdfWriter(target, "1.6" if recipe.kind == "print" else "1.7")
        self.painter = Painter(composition)
        self.press = recipe.kind == "print"
        self.fonts: dict[FontFace, PdfFont] = {}
        self.font_dict = self.writer.reserve()
        self.state_dict = self.writer.reserve()
        self.spaces: dict[str, Any] = {}
        self.space_dict = self.writer.reserve()
        self.targets: dict[str, Ref] = {}
        self.paragraphs: dict[str, Paragraph] = {}

    def run(self, pages: list[int], progress: Callable[[int, int], bool] | None) -> None:
        writer = self.writer
        tree = writer.reserve()
        refs = [writer.reserve() for _ in pages]
        where = dict(zip(pages, refs, strict=True))
        resources = {"Font": self.font_dict, "ExtGState": self.state_dict, "ColorSpace": self.space_dict}
        places: dict[str, tuple[Ref, float, float]] = {}
        if self.recipe.links:
            self.targets = {
                heading.text.casefold(): where[heading.page]
                for heading in reversed(self.composition.running.all)
                if heading.page in where
            }
            self.paragraphs = {p.id: p for story in self.job.stories.values() for p in story.paragraphs}
        for done, (index, ref) in enumerate(zip(pages, refs, strict=True), 1):
            art = self.painter.page(index)
            sheet = sheet_for(self.job.brief, art.side, self.recipe, (art.width, art.height))
            content = writer.add_stream(self._content(art, sheet).encode("ascii"))
            page: dict[str, Any] = {
                "Type": Name("Page"), "Parent": tree, "MediaBox": sheet.media, "TrimBox": sheet.trim,
                "BleedBox": sheet.bleed_box, "Resources": resources, "Contents": content,
            }  # fmt: skip
            if self.recipe.links:
                for frame in art.frames:
                    for line in frame.lines:
                        places.setdefault(line.paragraph, (ref, sheet.x(line.x), sheet.y(line.baseline - line.ascent)))
                page["Annots"] = writer.add(self._links(art, sheet))
            writer.add(page, ref)
            if progress and not progress(done, len(pages)):
                raise OutputStopped
        writer.add({"Type": Name("Pages"), "Kids": refs, "Count": len(refs)}, tree)
        for font in self.fonts.values():
            font.embed(writer)
        writer.add({font.name: font.ref for font in self.fonts.values()}, self.font_dict)
        self._write_states()
        writer.add(self.spaces, self.space_dict)
        writer.close(
            self._catalogue(tree, pages, places), writer.add(information(self.job.name, self.when, self.press))
        )

    def _catalogue(self, tree: Ref, pages: list[int], places: dict[str, tuple[Ref, float, float]]) -> Ref:
        writer = self.writer
        identity = writer.digest + self.job.name
        metadata = writer.add_stream(
            xmp(self.job.name, self.when, self.press, identity),
            {"Type": Name("Metadata"), "Subtype": Name("XML")},
            deflate=False,
        )
        catalogue: dict[str, Any] = {
            "Type": Name("Catalog"), "Pages": tree, "Metadata": metadata, "Lang": self.job.brief.language,
            "PageLabels": {"Nums": [item for at, index in enumerate(pages) for item in (at, {"P": self.composition.values.labels[index]})]},
            "ViewerPreferences": {"DisplayDocTitle": True},
        }  # fmt: skip
        if self.job.brief.facing:
            catalogue["PageLayout"] = Name("TwoPageRight")
        if self.press:
            profile = PROFILES[self.recipe.profile]
            icc = writer.add_stream(profile.data(), {"N": 4})
            catalogue["OutputIntents"] = [
                {
                    "Type": Name("OutputIntent"), "S": Name("GTS_PDFX"), "OutputConditionIdentifier": profile.condition,
                    "OutputCondition": profile.name, "RegistryName": "http://www.color.org", "Info": profile.name,
                    "DestOutputProfile": icc,
                }
            ]  # fmt: skip
        elif self.recipe.links:
            outline = self._outline(places)
            if outline:
                catalogue["Outlines"] = outline
                catalogue["PageMode"] = Name("UseOutlines")
        return writer.add(catalogue)

    # Page content

    def _content(self, art: PageArt, sheet: Sheet) -> str:
        out = []
        if self.press:
            left, bottom, right, top = sheet.bleed_box
            out.append(f"q {number(left)} {number(bottom)} {number(right - left)} {number(top - bottom)} re W n")
        words: list[FrameArt] = []  # frames whose words are one text object, since nothing is drawn between them
        for frame in art.frames:
            if not frame.shapes and not frame.frame.turn and not frame.frame.rotation:
                words.append(frame)
                continue
            out += self._text(words, sheet)
            words = []
            inner = self._shapes(frame.shapes[: frame.grounds], sheet)
            contents = [*self._shapes(frame.shapes[frame.grounds :], sheet), *self._text([frame], sheet)]
            if frame.frame.turn and contents:
                contents = [f"q {self._turned(frame, sheet, frame.frame.turn)} cm", *contents, "Q"]
            inner += contents
            if frame.frame.rotation and inner:
                inner = [f"q {self._turned(frame, sheet, frame.frame.rotation)} cm", *inner, "Q"]
            out += inner
        out += self._text(words, sheet)
        if self.press:
            out.append("Q")
            if self.recipe.marks:
                out.append(self._marks(sheet, art.index))
            if self.recipe.information and self.recipe.marks:
                out.append(self._information(art, sheet))
        return "\n".join(out)

    def _text(self, frames: list[FrameArt], sheet: Sheet) -> list[str]:
        """The text object of some frames; empty where there is no text in them."""
        state = ""
        lines: list[str] = []
        for frame in frames:
            for line in frame.lines:
                for run in line.runs:
                    if not run.parts:
                        continue
                    colour = self._colour(run.look.spec.swatch, run.look.spec.tint)
                    if colour != state:
                        lines.append(colour)
                        state = colour
                    lines.append(self._run(run, line, sheet))
        return ["BT", *lines, "ET"] if lines else []

    def _turned(self, frame: FrameArt, sheet: Sheet, degrees: float) -> str:
        """The matrix that turns something clockwise about a frame's centre; on the sheet y grows upward."""
        rect = frame.rect
        x, y = sheet.x(rect.x + rect.width / 2), sheet.y(rect.y + rect.height / 2)
        quarter = {
            90.0: (0.0, -1.0),
            180.0: (-1.0, 0.0),
            270.0: (0.0, 1.0),
        }  # exact, where rounding would leave a trace
        angle = math.radians(degrees)
        cos, sin = quarter.get(float(degrees), (math.cos(angle), -math.sin(angle)))
        turn = Affine.move(-x, -y).then(Affine(cos, sin, -sin, cos)).then(Affine.move(x, y))
        return " ".join(number(v) for v in (turn.a, turn.b, turn.c, turn.d, turn.e, turn.f))

    def _shapes(self, shapes: Sequence[ShapeArt], sheet: Sheet) -> list[str]:
        """Filled and stroked outlines (ISO 32000-2, 8.5)."""
        out = []
        for shape in shapes:
            steps = [
                " ".join(f"{number(sheet.x(x))} {number(sheet.y(y))}" for x, y in points) + " " + OPERATORS[step]
                for step, points in shape.path
            ]
            fill, stroke = shape.fill, shape.stroke
            paint = []
            if fill.swatch:
                paint.append(self._colour(fill.swatch, fill.tint))
            if stroke.weight:
                paint.append(
                    self._colour(stroke.swatch or "black", 1.0 if stroke.tint is None else stroke.tint, edge=True)
                )
                dash = " ".join(map(number, stroke.dash or ()))
                paint.append(f"{number(stroke.weight)} w [{dash}] 0 d")
            close = ("B" if stroke.weight else "f") if fill.swatch else "S" if stroke.weight else "n"
            star = "*" if shape.even_odd and fill.swatch else ""
            out.append(" ".join(["q", *paint, *steps, close + star, "Q"]))
        return out

    def _font(self, face: FontFace) -> PdfFont:
        font = self.fonts.get(face)
        if font is None:
            font = self.fonts[face] = PdfFont(face, len(self.fonts) + 1, self.writer.reserve())
        return font

    def _colour(self, swatch_id: str, tint: float = 1.0, edge: bool = False) -> str:
        """The operators that choose a colour for what is filled, or with ``edge`` for what is stroked."""
        swatch = tinted(self.job.swatches.get(swatch_id, BLACK), tint)
        if not self.press:
            return " ".join(number(v) for v in rgb_of(swatch)) + (" RG" if edge else " rg")
        values = swatch.values if swatch.space == "cmyk" else _black_for(swatch.values)
        black_only = values[:3] == (0.0, 0.0, 0.0) and values[3] > 0
        return f"/{'GO' if black_only else 'GK'} gs " + " ".join(number(v) for v in values) + (" K" if edge else " k")

    def _run(self, run: LineRun, line: LineArt, sheet: Sheet) -> str:
        look = run.look
        font = self._font(look.cut.face)
        y = sheet.y(line.baseline - look.rise)
        wide = look.squeeze * run.glyphs
        across = "1" if wide == 1 else f"{wide:.6g}"
        head = f"/{font.name} {number(look.size)} Tf {across} 0 0 1 {number(sheet.x(run.x))} {number(y)} Tm "
        foot = ""
        if run.letters:
            head += f"{number(run.letters / wide)} Tc "
            foot = " 0 Tc"
        spaces: dict[float, str] = {}  # of one line they are alike, but where a font kerns with them
        parts = []
        for part in run.parts:
            if not part.space:
                parts.append(font.word(look, part.text))
                continue
            known = spaces.get(part.advance)
            if known is None:
                known = spaces[part.advance] = font.space(look, (part.advance - run.letters) / run.glyphs)
            parts.append(known)
        if run.hyphen:
            # The added hyphen is marked as a soft one, so that the text reads back as it was written.
            *before, last = parts
            word, hyphen = self._hyphenated(font, look, run.parts[-1].text, last)
            shown = f"[{''.join(before)}{word}] TJ " if before or word else ""
            return f"{head}{shown}/Span<</ActualText<FEFF00AD>>>BDC [{hyphen}] TJ EMC{foot}"
        return f"{head}[{''.join(parts)}] TJ{foot}"

    def _hyphenated(self, font: PdfFont, look: Look, text: str, operands: str) -> tuple[str, str]:
        """A word's operands cut before its last glyph, if that is the added hyphen alone."""
        word = look.cut.word(text)
        if len(word.glyphs) > 1 and word.clusters[-1] == len(text) - 1:
            code = f"{word.glyphs[-1]:04X}"
            at = operands.rfind(code + ">")
            if at > 0:
                before, after = operands[:at], operands[at:]
                before = before + ">" if not before.endswith("<") else before[:-1]
                return before, "<" + after
        return operands, ""

    # Marks

    def _registration(self) -> str:
        """The colour that prints on every plate (ISO 32000-2, 8.6.6.4, the name All)."""
        self.spaces.setdefault(
            "Reg",
            [Name("Separation"), Name("All"), Name("DeviceCMYK"),
             Raw("<</FunctionType 2/Domain[0 1]/C0[0 0 0 0]/C1[1 1 1 1]/N 1>>")],
        )  # fmt: skip
        return "/Reg"

    def _marks(self, sheet: Sheet, index: int) -> str:
        lines = " ".join(
            f"{number(a)} {number(b)} m {number(c)} {number(d)} l" for a, b, c, d in crop_marks(sheet, self.recipe)
        )
        folds = " ".join(
            f"{number(a)} {number(b)} m {number(c)} {number(d)} l" for a, b, c, d in self._fold_marks(sheet, index)
        )
        dashed = f" [3 2] 0 d {folds} S" if folds else ""
        return f"q {self._registration()} CS 1 SCN {number(self.recipe.mark_weight)} w {lines} S{dashed} Q"

    def _fold_marks(self, sheet: Sheet, index: int) -> list[tuple[float, float, float, float]]:
        """Dashed marks outside the bleed where the sheet folds."""
        along, folds = folds_of(self.job.brief, self.job.papers, index)
        x0, y0, x1, y1 = sheet.trim
        left, right, top, bottom = (max(edge, self.recipe.mark_offset) for edge in sheet.bleed)
        length = self.recipe.mark_length
        lines = []
        for at in folds:
            if along == "x":
                x = sheet.x(at)
                lines += [(x, y1 + top, x, y1 + top + length), (x, y0 - bottom, x, y0 - bottom - length)]
            else:
                y = sheet.y(at)
                lines += [(x0 - left, y, x0 - left - length, y), (x1 + right, y, x1 + right + length, y)]
        return lines

    def _information(self, art: PageArt, sheet: Sheet) -> str:
        """The line in the head's slug: job, page, date, profile."""
        profile = PROFILES[self.recipe.profile]
        text = f"{self.job.name} · page {art.label} · {self.when:%Y-%m-%d} · {profile.name.lower()}"
        spec = replace(plain_face(self.job.brief.language), family="Public Sans", size=6.0)
        look = look_for(self.composition.library, spec)
        font = self._font(look.cut.face)
        room = sheet.width - 24
        while text and look.width(text) > room:
            text = text[:-2].rstrip("…") + "…" if len(text) > 2 else ""
        operands = "".join(
            font.space(look, look.width(" ")) if token == " " else font.word(look, token)
            for token in re.findall(" |[^ ]+", text)
        )
        x = sheet.x(12)
        y = sheet.trim[3] + max(sheet.bleed[2], self.recipe.mark_offset) + self.recipe.mark_length - 6
        return f"BT {self._registration()} cs 1 scn /{font.name} 6 Tf 1 0 0 1 {number(x)} {number(y)} Tm [{operands}] TJ ET"

    def _write_states(self) -> None:
        state = Name("ExtGState")
        self.writer.add(
            {
                "GO": {"Type": state, "OP": True, "op": True, "OPM": 1},
                "GK": {"Type": state, "OP": False, "op": False, "OPM": 0},
            },
            self.state_dict,
        )

    # Links and bookmarks

    def _outline(self, places: dict[str, tuple[Ref, float, float]]) -> Ref | None:
        """Bookmarks nested by heading level; a level that is skipped hangs on the nearest one above it."""
        items = [
            (level, text, places[paragraph])
            for level, text, paragraph in ((h.level, h.text, h.paragraph) for h in self.composition.running.all)
            if paragraph in places
        ]
        if not items:
            return None
        root = self.writer.reserve()
        refs = [self.writer.reserve() for _ in items]
        parents: list[Ref] = []
        stack: list[tuple[int, Ref]] = [(0, root)]
        children: dict[Ref, list[int]] = {}
        for index, (level, _, _) in enumerate(items):
            while stack[-1][0] >= level:
                stack.pop()
            parents.append(stack[-1][1])
            children.setdefault(stack[-1][1], []).append(index)
            stack.append((level, refs[index]))

        def count(ref: Ref) -> int:
            return sum(1 + count(refs[child]) for child in children.get(ref, []))

        for index, (_, text, (page, x, y)) in enumerate(items):
            siblings, own = children[parents[index]], children.get(refs[index], [])
            at = siblings.index(index)
            self.writer.add(
                {
                    "Title": text, "Parent": parents[index], "Dest": [page, Name("XYZ"), x, y, None],
                    "Prev": refs[siblings[at - 1]] if at else None,
                    "Next": refs[siblings[at + 1]] if at + 1 < len(siblings) else None,
                    "First": refs[own[0]] if own else None, "Last": refs[own[-1]] if own else None,
                    "Count": -count(refs[index]) if own else None,
                },
                refs[index],
            )  # fmt: skip
        top = children[root]
        return self.writer.add(
            {"Type": Name("Outlines"), "First": refs[top[0]], "Last": refs[top[-1]], "Count": len(top)}, root
        )

    def _links(self, art: PageArt, sheet: Sheet) -> list[dict[str, Any]]:
        """A page's links: web addresses in the text, each piece of one leading to the whole address, and contents entries
        that repeat a heading's words."""
        found: list[dict[str, Any]] = []
        for frame in art.frames:
            for line in frame.lines:
                if not line.runs:
                    continue
                paragraph = self.paragraphs.get(line.paragraph)
                if paragraph is None:
                    continue
                if paragraph.style == "contents":
                    title = re.sub(r"[\s.·…]*\d+\s*$", "", paragraph.text).strip().casefold()
                    if title in self.targets:
                        box = self._box(line, line.start, line.end, sheet)
                        found.append({**_link(box), "Dest": [self.targets[title], Name("Fit")]})
                for address in _URL.finditer(paragraph.text) if "://" in paragraph.text else ():
                    start, end = max(address.start(), line.start), min(address.end(), line.end)
                    if start < end:
                        uri = address.group().encode("ascii", "ignore")
                        box = self._box(line, start, end, sheet)
                        found.append({**_link(box), "A": {"S": Name("URI"), "URI": uri}})
        return found

    @staticmethod
    def _box(line: LineArt, start: int, end: int, sheet: Sheet) -> list[float]:
        """The box of a stretch of a line, in PDF's coordinates."""
        edges = []
        for run in line.runs:
            x, at = run.x, run.start
            for part in run.parts:
                following = at + max(len(part.text), 1)
                if at < end and following > start:
                    edges += [x, x + part.advance]
                x, at = x + part.advance, following
        left, right = (min(edges), max(edges)) if edges else (line.runs[0].x, line.runs[-1].x + line.runs[-1].width)
        foot, head = sheet.y(line.baseline + line.descent), sheet.y(line.baseline - line.ascent)
        return [sheet.x(left), foot, sheet.x(right), head]


def _link(box: list[float]) -> dict[str, Any]:
    return {"Type": Name("Annot"), "Subtype": Name("Link"), "Rect": box, "Border": [0, 0, 0], "F": 4}


def _black_for(rgb: tuple[float, ...]) -> tuple[float, ...]:
    """RGB as process inks without a profile: what is grey goes on black alone."""
    black = 1 - max(rgb)
    if black >= 1:
        return (0.0, 0.0, 0.0, 1.0)
    return (*((1 - channel - black) / (1 - black) for channel in rgb), black)
