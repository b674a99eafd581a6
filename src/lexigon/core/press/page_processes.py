"""Pages of long outputs painted by several processes: each paints a range, this one writes them all in order.

A process is a fork of this one (POSIX), so it has the composed job already. It paints with separate resources, and
sends of each page the compressed content and what it asked of the resources. This process asks the same of the
resources of the file, in the same order; so fonts, inks, pictures, object numbers and bytes are those of a single
process. A page that needs pixels drawn for the file, such as a shadow or a soft edge, is painted here.

Nothing depends on a process that works: where one ends early or sends nothing for a while, its pages are painted here.
"""

from __future__ import annotations

import io
import os
import re
import zlib
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import partial
from itertools import islice, pairwise
from typing import Any, NoReturn, cast

from lexigon.core.colour.colours import Colour, Gradient
from lexigon.core.forks import Fork, Send
from lexigon.core.geometry import Point
from lexigon.core.paint.items import Fade, Item, Picture, Shadow
from lexigon.core.pdf.fonts import PdfFont
from lexigon.core.pdf.patches import Patch
from lexigon.core.pdf.resources import FileResources
from lexigon.core.pdf.writer import PdfWriter
from lexigon.core.type.fonts import FontFace
from lexigon.core.type.line_cache import active_line_cache
from lexigon.core.type.shaping import save_shaped_words

LEAST_PAGES = 40
"""Pages that are worth a process."""
PATIENCE = 10.0
"""Seconds without a page after which a process is given up."""
NAMES = re.compile(rb"/([FHSX]\d+)(?=[ \n])")
"""The names of fonts, shadings, separations, pictures and drawings in a content stream; its strings are hexadecimal and
contain none."""
Request = tuple[str, Any]
"""A method of ``FileResources`` and its argument; a font is given by its number in the list of faces."""


class NeedsFile(Exception):
    """A page needs an object in the file, and is painted where the file is written."""


class RecordingResources(FileResources):
    """Resources without a file, which remember what they were asked for."""

    def __init__(self, resources: FileResources, faces: Sequence[FontFace]) -> None:
        """``resources`` are those of the file; ``faces`` numbers the faces of its jobs."""
        writer = PdfWriter(io.BytesIO())
        super().__init__(writer, resources.variant, resources.find, resources.ppi, resources.profile)
        self._numbers = {id(face): number for number, face in enumerate(faces)}
        self._asked: dict[Request, str] = {}
        self._glyphs: dict[FontFace, int] = {}
        self._names: dict[Any, str] = {}
        """The names of pictures: those that the file is likely to give them, which saves replacing them."""

    def font(self, face: FontFace) -> PdfFont:
        if (number := self._numbers.get(id(face))) is None:
            raise NeedsFile
        font = super().font(face)
        self._asked["font", number] = "/" + font.name
        return font

    def ink(self, colour: Colour, edge: bool = False) -> str:
        operators = self._asked["ink", (colour, edge)] = super().ink(colour, edge)
        return operators

    def registration(self) -> str:
        name = self._asked["registration", None] = super().registration()
        return name

    def mixing(self, opacity: float, blend: str) -> str:
        name = self._asked["mixing", (opacity, blend)] = super().mixing(opacity, blend)
        return name

    def begin_page(self) -> None:
        """Forget what earlier pages asked for."""
        self._asked.clear()
        self._glyphs = {face: len(font.text) for face, font in self.fonts.items()}

    def requests(self) -> list[tuple[Request, str]]:
        """Return what the page asked for, in order of first use, with the answers."""
        return list(self._asked.items())

    def glyphs(self) -> dict[int, dict[int, str]]:
        """Return the glyphs that no earlier page had, by the number of their face, with the text each stands for."""
        news = {}
        for face, font in self.fonts.items():
            if more := dict(islice(font.text.items(), self._glyphs.get(face, 0), None)):
                news[self._numbers[id(face)]] = more
        return news

    def _refuse(self, *_: Any) -> NoReturn:
        raise NeedsFile

    def picture(self, picture: Picture, width: float, height: float) -> str | None:
        """Return a name for a picture, which the file replaces by its own."""
        if self.find is None or self.find(picture.file) is None:
            return None
        key = (picture.file, round(width), round(height), picture.look)
        name = self._names.setdefault(key, f"X{len(self._names) + 1}")
        self._asked["picture", (picture, width, height)] = "/" + name
        return name

    def patch(self, patch: Patch) -> str:
        self._refuse(patch)

    def shading(self, gradient: Gradient, begin: Point, end: Point) -> str:
        name = super().shading(gradient, begin, end)
        self._asked["shading", (gradient, begin, end)] = "/" + name
        return name

    def shadow(self, shadow: Shadow, items: Sequence[Item], map_: Any) -> str:
        self._refuse(shadow, items, map_)

    def fading(self, fade: Fade, box: Any, map_: Any) -> str:
        self._refuse(fade, box, map_)

    def form(self, content: bytes, box: list[float]) -> str:
        """Return a name for a drawing; its content names what was asked for before it."""
        name = self._names.setdefault((content, tuple(box)), f"X{len(self._names) + 1}")
        self._asked["form", (content, tuple(box))] = "/" + name
        return name


@dataclass(slots=True)
class PaintedPage:
    """A page without its place in the file: its dictionary, whose ``Contents`` and ``Annots`` are still to be set, its
    content, annotations, and the places of paragraphs on it."""

    entries: dict[str, Any]
    content: bytes
    """Compressed."""
    annotations: list[dict[str, Any]] | None
    places: list[tuple[str, float, float]]


Paint = Callable[[int, FileResources], PaintedPage]
"""Paint a page, given by its position in the file."""


@dataclass(slots=True)
class _Message:
    """A page from another process, and what it asked of the resources."""

    page: PaintedPage | None
    requests: list[tuple[Request, str]]
    glyphs: dict[int, dict[int, str]]


class PageProcesses:
    """The processes that paint pages of one file. Use it as a context manager: in the end all are gone."""

    def __init__(
        self, paint: Paint, count: int, resources: FileResources, faces: Sequence[FontFace], processes: int
    ) -> None:
        """``paint`` paints one of ``count`` pages; at most ``processes`` are at work, this one among them."""
        self._paint, self._resources, self._faces = paint, resources, faces
        shares = min(processes, count // LEAST_PAGES) if hasattr(os, "fork") else 1
        bounds = [round(count * number / max(shares, 1)) for number in range(1, max(shares, 1) + 1)]
        self._ranges = [range(first, last) for first, last in pairwise(bounds)]
        self._workers: list[tuple[range, Fork]] = []

    def __enter__(self) -> PageProcesses:
        with suppress(OSError):  # there may be no further process: the others are enough
            for pages in self._ranges:
                self._workers.append((pages, Fork(partial(self._serve, pages))))
        return self

    def __exit__(self, *_: object) -> None:
        for _pages, worker in self._workers:
            worker.end()

    def page(self, position: int) -> PaintedPage:
        """Return a page, painted with the resources of the file. Call it for each page in order."""
        message = None
        for pages, worker in self._workers:
            worker.receive()
            if position in pages:
                message = _take(worker, position - pages.start)
        if message is None or message.page is None:
            return self._paint(position, self._resources)
        return self._taken_over(message.page, message) or self._paint(position, self._resources)

    def close(self) -> None:
        """Take over what the processes saved work with, when the last page is there."""
        cache = active_line_cache()
        for pages, worker in self._workers:
            lines = _take(worker, len(pages))
            if cache is not None and lines:
                cache.add(lines)

    def _taken_over(self, page: PaintedPage, message: _Message) -> PaintedPage | None:
        """Ask the resources of the file for what a page asked for, and give the page the names that they have there.
        Returns None if one of its pictures is no longer there."""
        names: dict[bytes, bytes] = {}
        for (method, argument), answer in message.requests:
            if method == "form":
                drawing, box = argument
                argument = (_renamed(drawing, names), list(box))
            own = self._ask(method, argument)
            if own is None:
                return None
            if own != answer:
                here, there = (NAMES.findall(f"{one} ".encode()) for one in (own, answer))
                names |= dict(zip(there, here, strict=True))
        for number, glyphs in message.glyphs.items():
            text = self._resources.font(self._faces[number]).text
            for glyph, reading in glyphs.items():
                text.setdefault(glyph, reading)
        if names:
            page.content = self._resources.writer.deflated(_renamed(zlib.decompress(page.content), names))
        return page

    def _ask(self, method: str, argument: Any) -> str | None:
        """Ask the resources of the file; None for a picture that is no longer there."""
        if method == "font":
            return "/" + self._resources.font(self._faces[argument]).name
        if method == "registration":
            return self._resources.registration()
        answer = cast("str | None", getattr(self._resources, method)(*argument))
        return f"/{answer}" if method in ("picture", "shading", "form") and answer else answer

    def _serve(self, pages: range, send: Send) -> None:
        """What another process does: paint its pages and send them."""
        cache = active_line_cache()
        before = cache.count() if cache is not None else 0
        resources = RecordingResources(self._resources, self._faces)
        for position in pages:
            resources.begin_page()
            try:
                page = self._paint(position, resources)
            except NeedsFile:
                send(_Message(None, [], {}))
            else:
                send(_Message(page, resources.requests(), resources.glyphs()))
        save_shaped_words()
        send(cache.since(before) if cache is not None else {})


def _renamed(content: bytes, names: dict[bytes, bytes]) -> bytes:
    """Return a content stream with other names for some resources."""
    return NAMES.sub(lambda match: b"/" + names.get(match[1], match[1]), content)


def _take(worker: Fork, number: int) -> Any:
    """Return a message by its number, which is needed no more then; None if the process has ended without it."""
    while len(worker.messages) <= number and worker.open:
        worker.receive(PATIENCE)
    if number >= len(worker.messages):
        return None
    message, worker.messages[number] = worker.messages[number], None
    return message
