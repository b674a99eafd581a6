"""A composed job: every story set and flowed, and updated edit by edit."""

from __future__ import annotations

import datetime
from collections.abc import Collection, Iterable, Iterator
from dataclasses import replace

from lexigon.core.document.anchors import anchored
from lexigon.core.document.cascade import Cascade, measured
from lexigon.core.document.cell_stories import cell_of, text_of
from lexigon.core.document.limits import MOST_PAGES
from lexigon.core.document.model import Anchor, Job, Object, Paragraph, Story, frames_in
from lexigon.core.document.registry import Reach
from lexigon.core.editing.edits import EditError, Primitive
from lexigon.core.editing.holders import everywhere
from lexigon.core.editing.intents.text.words import Place
from lexigon.core.editing.touches import EntryTouch, ObjectsTouch, ParagraphsTouch, only_entries, touches_of
from lexigon.core.flow.areas import Area, HandLed, Places
from lexigon.core.flow.fields import FieldValues
from lexigon.core.flow.fitting import FittedText, ScaledCascade
from lexigon.core.flow.garbage_collection import uncollected
from lexigon.core.flow.headings import RunningHeads
from lexigon.core.flow.lines_ahead import lines_ahead
from lexigon.core.flow.list_counts import Counting
from lexigon.core.flow.locator import Locator
from lexigon.core.flow.markup import MarkupFormatting
from lexigon.core.flow.model import Column
from lexigon.core.flow.notes import Citation, Notes
from lexigon.core.flow.other_jobs import OtherJobs
from lexigon.core.flow.page_versions import PageVersions, Watch, named_pages
from lexigon.core.flow.paragraphs import SetParagraph
from lexigon.core.flow.references import References
from lexigon.core.flow.story_flow import Progress, StoryFlow
from lexigon.core.flow.text_resolver import TextResolver
from lexigon.core.type.fonts import FontLibrary, shipped
from lexigon.core.type.grid import Grid
from lexigon.core.type.ownfonts import Find, library_of

MOST_ROUNDS = 8
"""The number of rounds in which fields are written out until they match the page that they are on."""


class Composition:
    """The composed state of one job. ``job`` is the live object; pass the edits done to it to ``follow``."""

    def __init__(self, job: Job, library: FontLibrary | Find | None = None, today: datetime.date | None = None) -> None:
        """``today`` is what date fields show; ``library`` the fonts, or where the files of the job's own fonts
        stand."""
        self.job = job
        self.find: Find | None = None if library is None or isinstance(library, FontLibrary) else library
        """Where the job's files stand: own fonts, pictures."""
        self.today = today or datetime.date.today()
        self.library = library if isinstance(library, FontLibrary) else self._fonts()
        self.cascade = Cascade(job)
        self.notes = Notes(job, lambda story, places: self.where.pages(story, places))
        self.stamps = PageVersions()
        self._files: set[str] = set()
        self.showing = TextResolver(self)
        self._beyond: OtherJobs | None = None
        self.flows: dict[str, StoryFlow] = {}
        self.fitted: set[str] = set()
        """The stories whose frame makes them as large as fits."""
        self.pending = False
        self.counting = Counting(self)
        self.whole = Locator({})
        """The positions of everything before ``hurry`` composed some pages alone."""
        self.marked = MarkupFormatting()
        self._stood: dict[str, set[str]] = {}
        self._by_page: dict[int, list[tuple[str, Column]]] | None = None
        self._running: RunningHeads | None = None
        self._cited: dict[str, dict[str, Citation]] = {}
        """The numbers of notes with which stories were last set."""
        self._compose({})

    def let_go(self) -> None:
        """Nobody asks it any more: what it holds is free at once. It and what shows its fields name each other, in
        rings that only the garbage collector would find, which hardly ever looks (``uncollected``)."""
        vars(self).clear()

    def has_file(self, name: str) -> bool:
        """Return whether a file of the job is there. What was there stays there: it is asked for once."""
        if name not in self._files and self.find is not None and self.find(name) is not None:
            self._files.add(name)
        return name in self._files

    def saw_file(self, name: str) -> bool:
        """Return whether a file was there when it was last asked for."""
        return name in self._files

    @property
    def main(self) -> StoryFlow | None:
        """The flow of the job's main text."""
        return self.flows.get(self.job.main_story or "")

    def columns_on(self, page: int) -> list[tuple[str, Column]]:
        """(story id, column) pairs on a page."""
        if self._by_page is None:
            self._by_page = {}
            for story_id, flow in self.flows.items():
                for column in flow.columns:
                    self._by_page.setdefault(column.slot.page, []).append((story_id, column))
        return self._by_page.get(page, [])

    def page_of(self, story_id: str, paragraph_id: str, offset: int) -> int | None:
        """The page of a place in a story; None where the story is not placed, or is in a repeated row."""
        if (cell := cell_of(story_id)) is not None:
            return self.where.page_of_row(cell[0], cell[1], (cell[2], paragraph_id, offset))
        if story_id not in self.flows:
            page = self.where.page_in_note(story_id, paragraph_id, offset)
            return page if page is not None else self.page_of_anchored(story_id)
        return self.where.page(story_id, paragraph_id, offset)

    def page_of_anchored(self, story_id: str) -> int | None:
        """The page of a note, or of the anchored frame that shows a story."""
        inlay = next((one.id for one in self.job.inlays.values() if one.story == story_id), None)
        if inlay is not None and (page := self.where.page_of_afloat(inlay)) is not None:
            return page
        where = anchored(self.job).get(inlay or story_id)
        if where is None:
            return None
        holding, p = where
        text = text_of(self.job, holding)
        paragraph = next(one for one in text.paragraphs if one.id == p) if text else Paragraph("", "")
        at = next(span.start for span in paragraph.spans if span.object and span.object.ref == (inlay or story_id))
        return self.page_of(holding, p, at)

    def follow(self, edits: Iterable[Primitive], on_progress: Progress | None = None) -> frozenset[int]:
        """Update the composition for edits that were just applied to the job. Returns the pages that differ now, or
        may. ``on_progress`` receives the progress in the main story while a change of words in it is composed."""
        edits = list(edits)
        named = named_pages(self, self._watch, edits)
        areas = {id(one): one for flow in self.flows.values() for one in flow.filled}
        ends = {flow.filled[-1].page for flow in self.flows.values() if flow.filled}
        self._follow(edits, on_progress)
        count = len(self.job.pages)
        if named is None:
            self.stamps.everything()
            return frozenset(range(count))
        for flow in self.flows.values():
            for one in flow.filled:
                if areas.pop(id(one), None) is None:
                    named.add(one.page)
        named |= {one.page for one in areas.values()}
        named |= ends | {
            flow.filled[-1].page for flow in self.flows.values() if flow.filled
        }  # they report what is overset
        named |= {page for key in self.counting.restless if (page := self.page_of_anchored(key)) is not None}
        self.counting.restless.clear()
        pages = frozenset(page for page in named if page < count)
        self.stamps.these(self.job.pages[page].id for page in pages)
        return pages

    def _follow(self, edits: list[Primitive], on_progress: Progress | None) -> None:
        reach: set[Reach] = {edit.reach for edit in edits}
        holders = {touch.holder for touch in touches_of(edits) if isinstance(touch, ObjectsTouch)}
        self._stood = {holder: self._standing(holder) for holder in holders}
        self._changed()
        if self._rewraps(edits):
            reach.add("everything")
        elif reach <= {"nothing", "looks"} or self.only_looks(edits):
            self._repaint()
            return
        if reach <= {"nothing", "looks", "fields", "text"}:
            near = self._markup_follows(edits)
            for touch in touches_of(edits):
                if isinstance(touch, ParagraphsTouch):
                    self._splice_anew(touch, on_progress)
                elif isinstance(touch, EntryTouch) and touch.table == "stories":
                    self._note_anew(touch.key)
            for key, places in near.items():
                for at in places:
                    self.flows[key].change(at, 1, (self.job.stories[key].paragraphs[at],))
            self._show_anew()
            return
        if reach <= {"nothing", "looks", "frames"} and self._follow_frames(holders):
            return
        cascade = Cascade(self.job)
        reusable: dict[int, SetParagraph] = {}
        if "fonts" in reach:
            self.library, self.cascade = self._fonts(), cascade
        elif cascade.same_as(self.cascade):
            reusable = self._reusable_paragraphs()
        else:
            self.cascade = cascade
        self._compose(reusable, on_progress)

    def _splice_anew(self, edit: ParagraphsTouch, on_progress: Progress | None) -> None:
        """Handle changed words of a story; those of a cell are found where its table is set again."""
        if edit.table:
            return
        self.counting.follow(edit)
        if edit.story in self.fitted:
            self.flows[edit.story] = self._flow(self.job.stories[edit.story], {})
        elif (flow := self.flows.get(edit.story)) is not None:
            flow.on_progress = on_progress if flow is self.main else None
            inserted = replace(self.job.stories[edit.story], paragraphs=list(edit.insert))
            with lines_ahead(inserted, lambda part, progress: self._flow(part, {}, progress)):
                flow.change(edit.at, edit.remove, edit.insert)
            flow.on_progress = None
        else:
            self._note_anew(edit.story)

    def _markup_follows(self, edits: Iterable[Primitive]) -> dict[str, list[int]]:
        """Apply mark-up rules to changed stories. Returns the places of paragraphs that changed only because of their
        neighbours."""
        if self.marked.marker.idle:
            return {}
        splices: dict[str, list[ParagraphsTouch]] = {}
        for touch in touches_of(edits):
            if isinstance(touch, ParagraphsTouch) and touch.story in self.flows:
                splices.setdefault(touch.story, []).append(touch)
        changed_places = {key: self.marked.follow(self.job.stories[key], some) for key, some in splices.items()}
        return {key: places for key, places in changed_places.items() if key not in self.fitted}

    def _rewraps(self, edits: Iterable[Primitive]) -> bool:
        """Return whether a picture was exchanged whose contour text keeps clear of."""
        touches = touches_of(edits)
        changed = {touch.key for touch in touches if isinstance(touch, EntryTouch) and touch.table == "pictures"}
        return bool(changed) and any(
            one.picture is not None and one.picture.picture in changed and self.places.setting(one).wrap.contour
            for _, objects in everywhere(self.job)
            for one in frames_in(objects)
        )

    def _note_anew(self, note: str) -> None:
        """The words of a note are others now: where it is cited, columns are filled again."""
        for flow in self.flows.values():
            for index, set_paragraph in enumerate(flow.paragraphs):
                if any(ref == note for _, ref in set_paragraph.notes):
                    flow.change(index, 1, (set_paragraph.paragraph,))

    def only_looks(self, edits: Iterable[Primitive]) -> bool:
        """Return whether edits that were applied to the job change how it is painted, and move nothing."""
        for edit in edits:
            styles = ("paragraph_styles", "character_styles", "frame_styles")
            if edit.reach not in ("nothing", "looks") and not only_entries(edit, styles):
                return False
        return Cascade(self.job).measures_as(self.cascade) and measured(self.job.frame_styles) == self._frames_measured

    def _repaint(self) -> None:
        """Everything stays where it stands."""
        self.places.paint_anew()
        cascade = Cascade(self.job)
        if cascade.same_as(self.cascade):
            return
        self.cascade = cascade
        self.notes.repaint(cascade)
        for story_id, flow in self.flows.items():
            if story_id in self.fitted:
                self.flows[story_id] = self._flow(self.job.stories[story_id], {})
            else:
                flow.repaint(cascade)

    def _standing(self, holder: str) -> set[str]:
        """The stories on a page."""
        page = self.job.page_index(holder)
        return {story for story, _ in self.columns_on(page)} if page is not None else set()

    def _follow_frames(self, holders: Collection[str]) -> bool:
        """Handle frames of pages that were moved or changed: only the stories on those pages are flowed again from
        there. False if the frames belong to a master page, or if the areas differ."""
        pages = {holder: self.job.page_index(holder) for holder in holders}
        if None in pages.values():
            return False
        self.places.forget({page for page in pages.values() if page is not None})
        main = self.main
        stories = set().union(*self._stood.values())
        for page in pages.values():
            assert page is not None
            if main is not None and len(self.places.main(page)) != sum(one.page == page for one in main.filled):
                return False
            stories |= {frame.story for frame in self.job.pages[page].frames if frame.story}
        if any(key not in self.job.stories for key in stories):
            return False
        reusable = self._reusable_paragraphs()
        for page in sorted(page for page in pages.values() if page is not None):
            if main is not None:
                main.refilled(page)
        for story in self._flowing():
            if story.id in stories and story.id != self.job.main_story:
                self.flows[story.id] = self._flow(story, reusable)
        self._show_anew()
        return True

    def _fonts(self) -> FontLibrary:
        return library_of(self.job, self.find) if self.find else shipped()

    def _changed(self) -> None:
        self._by_page = self._running = None
        self.where = Locator(self.flows)
        self.notes.changed()
        references = References(
            self.job,
            lambda: self.where,
            self._resolved,
            lambda story, p: self.marked.of(story, p),
            lambda: self.counting.marks,
            self._beyond_now,
            self.notes.numbers,
        )
        self.values = FieldValues(self.job, self.today, references)

    def _beyond_now(self) -> OtherJobs:
        """The pages of the other jobs of the publication; counted anew where these are others."""
        if self._beyond is None or not self._beyond.still(self.job):
            self._beyond = OtherJobs(self.job)
        return self._beyond

    def _resolved(self, story: str, paragraph: Paragraph) -> Paragraph:
        """A paragraph as it is set at present: with its fields written out and as rules have it."""
        number = self.where.number(story, paragraph.id)
        return paragraph if number is None else self.flows[story].paragraphs[number].shown.paragraph

    def _show_anew(self) -> None:
        """Set the paragraphs again whose fields, or those of notes cited in them, show something else than before: a
        field shows a value of the page that it is on, and may be moved to another page by that value. Where they never
        settle, as where a number that is one digit longer does not fit on the page that it then names, they stay as
        they are after some rounds."""
        self.where = Locator(self.flows)
        for _ in range(MOST_ROUNDS):
            if not self._set_fields_again():
                break

    def _set_fields_again(self) -> bool:
        """One round of that; whether anything was shown otherwise."""
        if self.notes.by_page:
            self.notes.changed()
        self.counting.settle()
        stale = self._stale_notes() if self.notes.some else set()
        for note in stale:
            self._note_anew(note)
        anew = bool(stale)
        for story_id, flow in self.flows.items():
            alive = [index for index, set_paragraph in enumerate(flow.paragraphs) if set_paragraph.shown.alive]
            if any(flow.paragraphs[index].shown.cites for index in alive):
                numbers = self.notes.numbers(story_id)
                if self._cited.get(story_id) == numbers:  # no paragraph that only cites notes is another
                    alive = [index for index in alive if not flow.paragraphs[index].shown.cites]
                self._cited[story_id] = numbers
            if not alive:
                continue
            show = self.showing.of(self.job.stories[story_id])
            for index in alive:
                set_paragraph = flow.paragraphs[index]
                if show(set_paragraph.paragraph) != set_paragraph.shown:
                    flow.change(index, 1, (set_paragraph.paragraph,))
                    anew = True
        if anew:
            self._by_page = self._running = None
        return anew

    def _stale_notes(self) -> set[str]:
        """The notes that show something else than they are set with."""
        cited = {ref: one for story in self.flows for ref, one in self.notes.numbers(story).items()}
        showing = self.showing
        return self.notes.stale(lambda key: showing.valued(key, showing.page_of_note(key), self.title), cited.get)

    def _reusable_paragraphs(self) -> dict[int, SetParagraph]:
        """The paragraphs as they are set, by the identity of their model; those with fields are set anew, and those
        that a frame made as large as fits."""
        flows = (flow for story_id, flow in self.flows.items() if story_id not in self.fitted)
        return {id(p.paragraph): p for flow in flows for p in flow.paragraphs if not p.shown.alive}

    def _unchanged_by_rules(self, reusable: dict[int, SetParagraph]) -> dict[int, SetParagraph]:
        """Return those set paragraphs that mark-up rules still format in the same way."""
        marked = self.marked
        here = {
            id(p): (marked.of(story.id, p), marked.opening(story.id, p))
            for story in self.job.stories.values()
            for p in story.paragraphs
        }
        return {key: p for key, p in reusable.items() if here.get(key) == (p.shown.paragraph, p.shown.opening)}

    def show_day(self, today: datetime.date) -> None:
        """Dates show another day from now on."""
        self.today = today
        self._compose(self._reusable_paragraphs())

    def settled(self) -> None:
        """Pages were added or given back (``growing.paged``)."""
        self.stamps.everything()
        self._changed()
        count = len(self.job.pages)
        for flow in self.flows.values():
            flow.trimmed(count)
        self._show_anew()

    def _compose(self, reusable: dict[int, SetParagraph], on_progress: Progress | None = None) -> None:
        self.stamps.everything()
        self._changed()
        self._cited = {}
        self.grid = Grid(self.job.brief.grid_start, self.job.brief.grid_step)
        self.places = Places(self.job, self.find)
        self._frames_measured = measured(self.job.frame_styles)
        self.flows = {}
        self.where = Locator(self.flows)
        before, self.marked = self.marked, MarkupFormatting(self.job)
        if not (before.marker.idle and self.marked.marker.idle):
            reusable = self._unchanged_by_rules(reusable)
        self.counting.everything()
        main = self.job.stories.get(self.job.main_story or "")
        with uncollected(), lines_ahead(main, lambda part, progress: self._flow(part, {}, progress)):
            for story in self._flowing():
                self.flows[story.id] = self._flow(
                    story, reusable, on_progress if story.id == self.job.main_story else None
                )
            self._show_anew()
        self._watch = Watch(self.job, self.flows)

    def _flow(self, story: Story, reusable: dict[int, SetParagraph], on_progress: Progress | None = None) -> StoryFlow:
        """A story, flowed; where its one frame fits the text to itself, in the size that fits."""
        areas = self._main_areas if story.id == self.job.main_story else HandLed(self.places, story)
        cascade, grid, show = self.cascade, self.grid, self.showing.of(story)
        frame = self.fitting_frame(story, ("line", "size"))
        self.fitted.discard(story.id)
        if frame is not None and frame.text is not None:
            self.fitted.add(story.id)
            text = FittedText(story.paragraphs, cascade, self.library, areas, show)
            factor = text.factor(frame.text.fit, frame.text.fit_sizes)
            cascade, grid, reusable = ScaledCascade(cascade, factor), Grid(), {}
        noted = self.showing.noted(story.id)
        self._cited[story.id] = self.notes.numbers(story.id)
        return StoryFlow(
            story.paragraphs,
            cascade,
            self.library,
            grid,
            areas,
            len(self.job.pages),
            reusable,
            show,
            on_progress,
            noted,
        )

    def fitting_frame(self, story: Story, kinds: tuple[str, ...]) -> Object | None:
        """The only frame of a story, if it is always fitted in one of these ways."""
        frame_place = self.places.frame(story.frames[0]) if len(story.frames) == 1 else None
        return frame_place[1] if frame_place and frame_place[1].text and frame_place[1].text.fit in kinds else None

    def begin_of(self, story_id: str, frame_id: str) -> Place:
        """The place in a story at which a frame begins."""
        flow = self.flows[story_id]
        for column in flow.columns:
            if column.slot.frame == frame_id:
                index, base, line, measure = column.begin[:4]
                if index >= len(flow):
                    break
                set_paragraph = flow.paragraphs[index]
                offset = flow.line_start(index, measure, base, line) if line else base
                return Place(set_paragraph.paragraph.id, set_paragraph.shown.source(offset) if offset else 0)
        raise EditError("No text flows into that frame yet.")

    # A change of styles in a long book: the pages in view first, the rest afterwards.

    def hurry(self, pages: Collection[int]) -> None:
        """Compose only the visible pages after a change of styles, from the state at their top; ``finish`` does the
        rest."""
        running = self._running
        self.stamps.everything()
        self._changed()
        self._running, self.pending = running, True
        self.whole = Locator(dict(self.flows))
        self.cascade = Cascade(self.job)
        for story_id, flow in list(self.flows.items()):
            self.flows[story_id] = flow.only_on(set(pages), self.cascade)

    def finish(self) -> None:
        """Compose everything that ``hurry`` left."""
        self.pending = False
        self.whole = Locator({})
        self.cascade = Cascade(self.job)
        self._compose({})

    def title(self, field: Anchor, page: int) -> str:
        """A running head for a text; in the main story, while that is being set, there is none yet."""
        return self.running.title(field, page) if self.main else ""

    @property
    def running(self) -> RunningHeads:
        """The running heads of the main story in its present state."""
        if self._running is None:
            self._running = RunningHeads(self.job, self.main)
        return self._running

    def _flowing(self) -> Iterator[Story]:
        """The stories placed on pages, the main story first, since others may show its headings; those of frames on
        master pages are set page by page when painted."""
        main = self.job.stories.get(self.job.main_story or "")
        if main is not None:
            yield main
        for story in self.job.stories.values():
            if story is not main and story.frames:
                yield story

    def _main_areas(self) -> Iterator[Area]:
        for page in range(len(self.job.pages)):
            yield from self.places.main(page)
        master = self.growing_master()
        if master is not None:
            for page in range(len(self.job.pages), MOST_PAGES):
                yield from self.places.main(page, master)

    def growing_master(self) -> str | None:
        """The master of pages added for the flow: the last page's that carries a main text frame."""
        for page in reversed(self.job.pages):
            master = self.job.masters.get(page.master or "")
            if master and any(frame.main for frame, _ in self.job.master_frames(master.id, "recto")):
                return master.id
        return None
