"""The slots of a story: the text areas of its frames in order, their columns, and the obstacles in them.

Positions are in points from the page's top left trim corner; those in a rotated frame are positions before the
rotation.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Any

from lexigon.core.document.cascade import Cascade, FrameSetting, frame_setting
from lexigon.core.document.model import FrameSpec, Job, Object, Page, Side, Story
from lexigon.core.document.outlines import outline_path, outline_polygon
from lexigon.core.flow.contours import contour_in
from lexigon.core.flow.obstacles import Obstacle, within_insets
from lexigon.core.geometry import Interval, Polygon, Rect, within, without
from lexigon.core.path.running import run_of
from lexigon.core.type.ownfonts import Find


@dataclass(slots=True, frozen=True)
class Slot:
    """One column of one frame. ``heads_page`` marks the first column of the story on its page."""

    page: int
    frame: str
    column: int
    rect: Rect
    side: Side
    heads_page: bool
    setting: FrameSetting
    inside: Polygon | None = None
    """The outline text stays in, where that is not the column's box."""
    obstacles: tuple[Obstacle, ...] = ()
    heads_area: bool = True
    """It begins at the head of its frame."""
    under_frames: bool = False
    """Whether frames that waited for it are placed at its top, so that it has less room than others."""

    def clear(self, y0: float, y1: float) -> bool:
        """Return whether lines between two heights have the whole measure."""
        return self.inside is None and not any(o.inverted or (o.head < y1 and o.foot > y0) for o in self.obstacles)

    def free(self, y0: float, y1: float) -> list[Interval]:
        """The segments that a line between two heights may use, left to right; x from the page's left edge."""
        edges = (self.rect.x, self.rect.right)
        spans = [edges]
        if self.inside is not None:
            spans = [(max(a, edges[0]), min(b, edges[1])) for a, b in within(self.inside, y0, y1)]
        for obstacle in self.obstacles:
            spans = without(spans, obstacle.blocked_intervals(y0, y1, edges))
        return [span for span in spans if span[1] > span[0]]


@dataclass(slots=True, frozen=True)
class Area:
    """The text area of one frame on one page."""

    page: int
    frame: str
    side: Side
    heads_page: bool
    rect: Rect
    """Within the insets."""
    setting: FrameSetting
    inside: Polygon | None = None
    obstacles: tuple[Obstacle, ...] = ()

    def columns(self, head: float | None = None) -> list[Slot]:
        """Its columns, from ``head`` down."""
        return [
            Slot(
                self.page,
                self.frame,
                number,
                rect,
                self.side,
                self.heads_page and number == 0 and head is None,
                self.setting,
                self.inside,
                self.obstacles,
                head is None,
            )
            for number, rect in enumerate(columns_of(self.setting, self._below(head)))
        ]

    def across(self, head: float | None = None) -> Slot:
        """All of it as one column, from ``head`` down."""
        return replace(self.columns(head)[0], rect=self._below(head))

    def _below(self, head: float | None) -> Rect:
        if head is None:
            return self.rect
        return Rect(self.rect.x, head, self.rect.width, max(self.rect.foot - head, 0.0))


def columns_of(setting: FrameSetting, inner: Rect) -> list[Rect]:
    """The columns within a frame's insets, left to right; never narrower than a point."""
    count = max(setting.columns, 1)
    width = max((inner.width - setting.gutter * (count - 1)) / count, 1.0)
    return [Rect(inner.x + i * (width + setting.gutter), inner.y, width, max(inner.height, 0.0)) for i in range(count)]


def upright(frame: Object, rect: Rect) -> Rect:
    """The box a frame's contents are set in before they are turned about its centre."""
    if frame.turn in (90, 270):
        return Rect(
            rect.x + (rect.width - rect.height) / 2, rect.y + (rect.height - rect.width) / 2, rect.height, rect.width
        )
    return rect


ONE_LINE = 1.7
"""Type sizes: higher than a line of any font, and lower than two."""
STRAIGHT: dict[str, Any] = {
    "columns": 1,
    "insets": (0.0, 0.0, 0.0, 0.0),
    "vertical": "top",
    "first": "ascent",
    "first_at": 0.0,
    "balanced": False,
}
"""How a line is set that runs along an outline."""
MOST_SETTINGS = 20_000
"""The number of frame settings that are cached; every frame that is moved leaves one behind."""


class Places:
    """The text areas of one state of a job; make a new one when its pages, masters or styles change."""

    def __init__(self, job: Job, find: Find | None = None) -> None:
        """``find`` gives the paths of picture files."""
        self.job, self.find = job, find
        self._settings: dict[tuple[str | None, FrameSpec], FrameSetting] = {}
        self.arts: dict[tuple[int, bool, str], tuple[Object, Any]] = {}
        """The drawn items of objects without text, for painters: cached as long as nothing but objects changes."""
        self._main: dict[int, tuple[Area, ...]] = {}
        self._below: dict[tuple[str | None, Side], list[Object]] = {}
        self._pages: list[Page] = []
        self._frames: dict[str, tuple[int, Object]] = {}
        """The frames of these pages, by their ids."""

    def forget(self, pages: Iterable[int]) -> None:
        """The frames of some pages are others now."""
        for page in pages:
            self._main.pop(page, None)
        for cache in (self._settings, self.arts):
            if len(cache) > MOST_SETTINGS:
                cache.clear()

    def paint_anew(self) -> None:
        """Handle frames that changed in appearance and not in position."""
        self._settings.clear()
        self.arts.clear()

    def setting(self, frame: Object) -> FrameSetting:
        cached = self._settings.get((frame.style, frame.make))
        if cached is None:
            cached = self._settings[frame.style, frame.make] = frame_setting(self.job, frame)
        return cached

    def obstacles_among(self, frames: Iterable[Object], page: int, master_id: str | None) -> list[tuple[str, Obstacle]]:
        """Return what text keeps clear of, with the frame each belongs to."""
        obstacles = []
        for frame in frames:
            if frame.make.wrap is None and frame.style is None:
                continue
            wrap = self.setting(frame).wrap
            if wrap.sides != "none":
                rect = self.job.frame_rect(frame, page, master_id)
                contour = contour_in(self.job, frame, rect, self.find) if wrap.contour else None
                obstacles.append((frame.id, Obstacle.of(frame, rect, wrap, contour)))
        return obstacles

    def area(
        self,
        page: int,
        frame: Object,
        heads_page: bool,
        frames: Iterable[Object],
        master_id: str | None = None,
        rect: Rect | None = None,
        side: Side | None = None,
    ) -> Area:
        """The text area of a frame; ``frames`` are all frames on the page. ``rect`` is its box where it has no page."""
        setting = self.setting(frame)
        side = side or self.job.brief.side(page)
        if frame.text is not None and frame.text.along:
            own = rect or self.job.frame_rect(frame, page, master_id)
            return Area(page, frame.id, side, heads_page, self._along(frame, own), replace(setting, **STRAIGHT))
        rect = upright(frame, rect or self.job.frame_rect(frame, page, master_id))
        inner = within_insets(rect, setting.insets)
        inside = None
        if frame.outline is not None:
            inside = outline_polygon(frame.outline, inner)
        obstacles: tuple[Obstacle, ...] = ()
        if not setting.passes and page >= 0:
            around = self.obstacles_among((f for f in frames if f.id != frame.id), page, master_id)
            obstacles = tuple(o for _, near in around if (o := near.in_frame(frame, rect)).meets(inner))
        return Area(page, frame.id, side, heads_page, inner, setting, inside, obstacles)

    def _along(self, frame: Object, rect: Rect) -> Rect:
        """Return where the line of a frame is set that runs along its outline: as long as that, and high enough for one
        line."""
        run = run_of(outline_path(frame.outline, rect)[0])
        story = self.job.stories.get(frame.story or "")
        cascade = Cascade(self.job)
        first = story.paragraphs[0] if story else None
        sizes = [cascade.type_of(first, span).size for span in (None, *first.spans)] if first else [12.0]
        return Rect(rect.x, rect.y, max(run.length if run else rect.width, 1.0), ONE_LINE * max(sizes))

    def main(self, page: int, master_id: str | None = None) -> tuple[Area, ...]:
        """The main story's areas on a page, remembered if the page exists."""
        if page >= len(self.job.pages):
            return tuple(self._main_areas(page, master_id))
        cached = self._main.get(page)
        if cached is None:
            cached = self._main[page] = tuple(self._main_areas(page, None))
        return cached

    def _main_areas(self, page: int, master_id: str | None) -> Iterator[Area]:
        """The main story's areas on a page: its main frames, then frames it was led into by hand there.

        With ``master_id`` the page need not exist yet: those it would have.
        """
        job = self.job
        led = job.stories[job.main_story].frames if job.main_story else []
        if page < len(job.pages) and job.pages[page].objects:
            frames = [frame for frame, _ in job.page_frames(page)]
        else:  # most pages of a book show what their master shows, and no more
            key = job.pages[page].master if page < len(job.pages) else master_id, job.brief.side(page)
            cached = self._below.get(key)
            if cached is None:
                cached = self._below[key] = [frame for frame, _ in job.master_frames(*key)]
            frames = cached
        heads = True
        for frame in frames:
            if frame.main:
                yield self.area(page, frame, heads, frames, master_id)
                heads = False
        if led:
            own = {frame.id: frame for frame in frames}
            for frame_id in led:
                if frame_id in own:
                    yield self.area(page, own[frame_id], heads, frames, master_id)
                    heads = False

    def led(self, story: Story) -> Iterator[Area]:
        """The areas of a story that flows through frames placed by hand."""
        visited: set[int] = set()
        for frame_id in story.frames:
            if place := self.frame(frame_id):
                index, frame = place
                yield self.area(index, frame, index not in visited, [f for f, _ in self.job.page_frames(index)])
                visited.add(index)

    def frame(self, frame_id: str) -> tuple[int, Object] | None:
        """Return the index of its page and a frame that is an object of a page, also within a group; None if there is
        no such frame."""
        if self._pages != self.job.pages:
            self._pages = list(self.job.pages)
            self._frames = {one.id: (index, one) for index, page in enumerate(self._pages) for one in page.frames}
        return self._frames.get(frame_id)


class HandLed:
    """The areas of a story led by hand, asked for anew at each filling."""

    def __init__(self, places: Places, story: Story) -> None:
        self.places, self.story = places, story

    def __call__(self) -> Iterator[Area]:
        return self.places.led(self.story)
