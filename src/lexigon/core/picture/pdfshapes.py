"""A page of a PDF as outlines: its paths and words, in the inks or the RGB colours they are painted in.

pdfium gives the objects of the page and their positions, but colours in RGB only. The inks of a colour are found by
rendering every mixture that the page names (``_inks_behind``). Pictures, shadings and patterns are left out and
reported.
"""

from __future__ import annotations

import ctypes
import io
from collections import Counter
from collections.abc import Iterator
from math import sqrt
from pathlib import Path
from typing import Any

import pikepdf
import pypdfium2 as pdfium
import pypdfium2.raw as raw

from lexigon.core.geometry import Affine
from lexigon.core.path.steps import Step, Steps, mapped_steps
from lexigon.core.picture.brokenpdf import BROKEN
from lexigon.core.picture.files import PictureError
from lexigon.core.picture.svgfile import MOST_STEPS, Drawing, Inks, Light, Shape

MOST_SHAPES = 1500
"""More are better placed as a picture."""
DEEPEST = 20
MOST_MIXTURES = 2000
NO_LETTER = 0xFFFFF
"""A code point that no font has a glyph for (Unicode, a noncharacter)."""
HYPHENS = {2: (0x2D, 0x2010, 0xAD), 0xAD: (0xAD, 0x2D, 0x2010)}
"""pdfium reports the hyphen at the end of a hyphenated word as 2."""
TOO_MUCH = "This page is too complex to be converted to shapes. Leave it as a picture."
CAPS: dict[int, Any] = {0: "butt", 1: "round", 2: "square"}
JOINS: dict[int, Any] = {0: "miter", 1: "round", 2: "bevel"}


def read_page(path: Path, page: int = 1) -> tuple[Drawing, tuple[float, float]]:
    """The shapes of a page (the first is 1), the lowest first, in points from its left upper corner, and its size.
    Raises PictureError."""
    try:
        document = pdfium.PdfDocument(path)
    except pdfium.PdfiumError as error:
        raise PictureError("This PDF is damaged or locked with a password.") from error
    try:
        if not 1 <= page <= len(document):
            raise PictureError(f"This PDF has no page {page}.")
        opened = document[page - 1]
        reader = _Reader(opened, _inks_behind(path, page))
        reader.read()
        size: tuple[float, float] = opened.get_size()
    except pdfium.PdfiumError as error:
        raise PictureError("This PDF is damaged.") from error
    finally:
        document.close()
    if not reader.shapes:
        raise PictureError("This page contains nothing that could be converted to shapes.")
    left = tuple(f"{count} {word}{'s' * (count > 1)}" for word, count in reader.left.items())
    return Drawing(tuple(reader.shapes), left), size


class _Reader:
    def __init__(self, page: pdfium.PdfPage, inks: dict[tuple[int, int, int], Inks]) -> None:
        self.page, self.inks = page, inks
        self.shapes: list[Shape] = []
        self.left: Counter[str] = Counter()
        self.steps = 0
        left, foot, right, head = page.get_cropbox()
        turned = {
            0: Affine(1, 0, 0, -1, -left, head),
            90: Affine(0, 1, 1, 0, -foot, -left),
            180: Affine(-1, 0, 0, 1, right, -foot),
            270: Affine(0, -1, -1, 0, head, right),
        }
        self.map = turned[page.get_rotation() % 360]
        """From the page's own space, y upward, to points from the left upper corner as it is seen."""
        self.words = page.get_textpage()
        self._known: dict[int, list[int]] | None = None

    def read(self) -> None:
        count = raw.FPDFPage_CountObjects(self.page)
        for number in range(count):
            self._object(raw.FPDFPage_GetObject(self.page, number), self.map, 0)

    def _object(self, one: Any, outer: Affine, depth: int) -> None:
        kind = raw.FPDFPageObj_GetType(one)
        if kind == raw.FPDF_PAGEOBJ_PATH:
            self._path(one, outer)
        elif kind == raw.FPDF_PAGEOBJ_TEXT:
            self._text(one)
        elif kind == raw.FPDF_PAGEOBJ_FORM and depth < DEEPEST:
            inner = _matrix(one).then(outer)
            for number in range(raw.FPDFFormObj_CountObjects(one)):
                self._object(raw.FPDFFormObj_GetObject(one, number), inner, depth + 1)
        else:
            self.left[
                "picture"
                if kind == raw.FPDF_PAGEOBJ_IMAGE
                else "gradient"
                if kind == raw.FPDF_PAGEOBJ_SHADING
                else "part"
            ] += 1

    def _path(self, one: Any, outer: Affine) -> None:
        mode, has_stroke = ctypes.c_int(), raw.FPDF_BOOL()
        raw.FPDFPath_GetDrawMode(one, mode, has_stroke)
        map_ = _matrix(one).then(outer)
        count = raw.FPDFPath_CountSegments(one)
        self._add(_segments(one, count), map_, one, mode.value, bool(has_stroke.value))

    def _add(self, steps: Steps, map_: Affine, one: Any, mode: int, has_stroke: bool) -> None:
        fill, opacity = self._colour(one, raw.FPDFPageObj_GetFillColor) if mode else (None, 0)
        line, line_opacity = self._colour(one, raw.FPDFPageObj_GetStrokeColor) if has_stroke else (None, 0)
        if len(steps) < 2 or (fill is None and line is None):
            return
        self.steps += len(steps)
        if len(self.shapes) >= MOST_SHAPES or self.steps > MOST_STEPS:
            raise PictureError(TOO_MUCH)
        scale = sqrt(abs(map_.a * map_.d - map_.b * map_.c))
        weight = ctypes.c_float()
        raw.FPDFPageObj_GetStrokeWidth(one, weight)
        thick = min(max(weight.value * scale, 0.1), 500.0) if line is not None else 0.0
        self.shapes.append(
            Shape(
                mapped_steps(steps, map_),
                mode == raw.FPDF_FILLMODE_ALTERNATE,
                fill,
                line,
                thick,
                CAPS.get(raw.FPDFPageObj_GetLineCap(one), "butt"),
                JOINS.get(raw.FPDFPageObj_GetLineJoin(one), "miter"),
                _dash(one, scale) if line is not None else (),
                max(opacity, line_opacity) / 255,
                "",
            )
        )

    def _colour(self, one: Any, ask: Any) -> tuple[Light | Inks | None, int]:
        parts = [ctypes.c_uint() for _ in range(4)]
        if not ask(one, *parts):
            return None, 0
        red, green, blue, alpha = (part.value for part in parts)
        if not alpha:
            return None, 0
        return self.inks.get((red, green, blue), (red / 255, green / 255, blue / 255)), alpha

    def _text(self, one: Any) -> None:
        """The glyphs of a run of words with their positions; a run with letters whose glyphs cannot be found is
        reported. pdfium finds glyphs by letters alone: those of a ligature share a position, and are set one after the
        other."""
        mode = raw.FPDFTextObj_GetTextRenderMode(one)
        if mode in (3, 7):  # neither filled nor drawn
            return
        font = raw.FPDFTextObj_GetFont(one)
        nothing = _glyph(font, NO_LETTER)
        steps_: list[Step] = []
        missed, last, shift = False, (0.0, 0.0), 0.0
        for sign, (x, y), turn in self._letters(one):
            shift = shift if last == (x, y) else 0.0
            last = (x, y)
            glyph = next(
                (
                    outline_glyph
                    for other in HYPHENS.get(sign, (sign,))
                    if (outline_glyph := _glyph(font, other)) != nothing
                ),
                None,
            )
            if glyph is None:
                missed = missed or not chr(sign).isspace()
                continue
            steps, width = glyph
            steps_ += mapped_steps(
                steps, Affine(turn.a, turn.b, turn.c, turn.d, x + shift * turn.a, y + shift * turn.b)
            )
            shift += width
        if missed:
            self.left["text"] += 1
        filled = raw.FPDF_FILLMODE_WINDING if mode in (0, 2, 4, 6) else 0
        self._add(tuple(steps_), self.map, one, filled, mode in (1, 2, 5, 6))

    def _letters(self, one: Any) -> Iterator[tuple[int, tuple[float, float], Affine]]:
        """Each letter of a run with where it begins and how large it stands, both on the page."""
        size = ctypes.c_float()
        raw.FPDFTextObj_GetFontSize(one, size)
        address = ctypes.addressof(one.contents)
        for number in self._runs().get(address, ()):
            x, y, matrix = ctypes.c_double(), ctypes.c_double(), raw.FS_MATRIX()
            raw.FPDFText_GetCharOrigin(self.words, number, x, y)
            raw.FPDFText_GetMatrix(self.words, number, matrix)
            yield (
                raw.FPDFText_GetUnicode(self.words, number),
                (x.value, y.value),
                Affine(*(getattr(matrix, part) * size.value for part in "abcd")),
            )

    def _runs(self) -> dict[int, list[int]]:
        """The letters of the page by the run that contains them."""
        if self._known is None:
            self._known = {}
            for number in range(raw.FPDFText_CountChars(self.words)):
                run = raw.FPDFText_GetTextObject(self.words, number)
                if run:
                    self._known.setdefault(ctypes.addressof(run.contents), []).append(number)
        return self._known


def _matrix(one: Any) -> Affine:
    matrix = raw.FS_MATRIX()
    raw.FPDFPageObj_GetMatrix(one, matrix)
    return Affine(matrix.a, matrix.b, matrix.c, matrix.d, matrix.e, matrix.f)


def _segments(one: Any, count: int) -> Steps:
    return _steps(raw.FPDFPath_GetPathSegment(one, number) for number in range(count))


def _glyph(font: Any, sign: int) -> tuple[Steps, float]:
    """The outline of a letter and its width, in parts of the type size; of one that the font has not what it shows in
    its place."""
    path, width = raw.FPDFFont_GetGlyphPath(font, sign, 1.0), ctypes.c_float()
    raw.FPDFFont_GetGlyphWidth(font, sign, 1.0, width)
    count = raw.FPDFGlyphPath_CountGlyphSegments(path) if path else 0
    return _steps(raw.FPDFGlyphPath_GetGlyphPathSegment(path, number) for number in range(count)), width.value


def _steps(parts: Iterator[Any]) -> Steps:
    steps: list[Step] = []
    waiting: list[tuple[float, float]] = []
    for part in parts:
        x, y = ctypes.c_float(), ctypes.c_float()
        raw.FPDFPathSegment_GetPoint(part, x, y)
        kind, at = raw.FPDFPathSegment_GetType(part), (x.value, y.value)
        if kind == raw.FPDF_SEGMENT_MOVETO:
            steps.append(("M", (at,)))
        elif kind == raw.FPDF_SEGMENT_LINETO:
            steps.append(("L", (at,)))
        elif kind == raw.FPDF_SEGMENT_BEZIERTO:
            waiting.append(at)
            if len(waiting) == 3:
                steps.append(("C", tuple(waiting)))
                waiting = []
        if raw.FPDFPathSegment_GetClose(part) and steps:
            steps.append(("Z", ()))
    return tuple(steps)


def _dash(one: Any, scale: float) -> tuple[float, ...]:
    count = raw.FPDFPageObj_GetDashCount(one)
    if not 0 < count <= 20:
        return ()
    dashes = (ctypes.c_float * count)()
    raw.FPDFPageObj_GetDashArray(one, dashes, count)
    scaled = tuple(max(part, 0.0) * scale for part in dashes)
    return scaled if any(scaled) else ()


def _inks_behind(path: Path, page: int) -> dict[tuple[int, int, int], Inks]:
    """The process inks that pdfium shows as each light, of those that the page names."""
    try:
        with pikepdf.open(path) as pdf:
            mixtures = list(dict.fromkeys(_mixtures(pdf.pages[page - 1], 3)))[:MOST_MIXTURES]
    except BROKEN:
        return {}
    if not mixtures:
        return {}
    probe_pdf = pikepdf.new()
    squares = "\n".join(f"{' '.join(f'{part:.5f}' for part in inks)} k 0 0 1 1 re f" for inks in mixtures)
    probe = probe_pdf.add_blank_page(page_size=(10, 10))
    probe.Contents = probe_pdf.make_stream(squares.encode())
    out = io.BytesIO()
    probe_pdf.save(out)
    document = pdfium.PdfDocument(out.getvalue())
    inks_by_light: dict[tuple[int, int, int], Inks] = {}
    try:
        page_ = document[0]
        for number, inks in enumerate(mixtures):
            parts = [ctypes.c_uint() for _ in range(4)]
            raw.FPDFPageObj_GetFillColor(raw.FPDFPage_GetObject(page_, number), *parts)
            inks_by_light.setdefault((parts[0].value, parts[1].value, parts[2].value), inks)
    finally:
        document.close()
    return inks_by_light


def _mixtures(holder: Any, depth: int) -> Iterator[Inks]:
    """Every mixture of process inks that a content stream sets, and those of its forms; grey as black ink."""
    for one in pikepdf.parse_content_stream(holder):
        operator = str(one.operator)
        if operator in ("k", "K") or (operator in ("sc", "SC", "scn", "SCN") and len(one.operands) == 4):
            numbers = [min(max(float(part), 0.0), 1.0) for part in one.operands]
            yield (numbers[0], numbers[1], numbers[2], numbers[3])
    for form in dict(holder.get("/Resources", {}).get("/XObject", {})).values():
        if str(form.get("/Subtype")) == "/Form" and depth:
            yield from _mixtures(form, depth - 1)
