"""From the composition to the description of a page."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace

from lexigon.core.codes.modules import CodeError
from lexigon.core.colour.palette import Palette
from lexigon.core.document.cell_stories import cell_key
from lexigon.core.document.cropping import map_of
from lexigon.core.document.ink_sets import ink_set_of
from lexigon.core.document.model import Anchor, Object, Pose, Side, Text
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.flow.composition import Composition
from lexigon.core.flow.continuation_lines import line_over
from lexigon.core.flow.model import PAGE_STARTS, Block, Column
from lexigon.core.flow.note_layout import Note
from lexigon.core.flow.overset import overset_of
from lexigon.core.flow.paragraphs import SetParagraph
from lexigon.core.flow.story_flow import StoryFlow
from lexigon.core.geometry import Rect, turned_about
from lexigon.core.paint.codes import code_paths
from lexigon.core.paint.decorations import (
    behind_text,
    edge_of,
    ground_of,
    lines_through,
    missing_sign,
    rule_above_notes,
    rules_between,
)
from lexigon.core.paint.items import Group, Item, Picture
from lexigon.core.paint.looks import look_of
from lexigon.core.paint.page import NO_SHADOW, CellArt, FrameArt, GroupArt, LayerArt, LineArt, PageArt
from lexigon.core.paint.tablerules import grounds_of_table, rules_of_table
from lexigon.core.type.grid import Grid
from lexigon.core.type.initial import Initial
from lexigon.core.type.line import LineRun, Part, place_line
from lexigon.core.type.runs import runs_of
from lexigon.core.type.set_line import SetLine

MOST_PARTS = 64
"""Parts of one cell on one page that keep their order."""


class Display:
    """The display lists of the pages of one composition. Make a new one when the composition changed."""

    def __init__(self, composition: Composition) -> None:
        self.composition = composition
        self.job = composition.job
        self.palette = Palette(self.job.swatches)
        self._seen: dict[str, int] = {}
        """How often the cells of tables were met on it: repeated, or in parts."""
        self._drawn: tuple[int, Side] = (-1, "recto")
        """The page that is being put together, -1 for half of a master, and its side."""
        self._palettes = {"": self.palette}  # a section may have its own ink set
        self._flow_order: dict[tuple[str, int, str], int] | None = None

    def page(self, index: int) -> PageArt:
        """Return the art of a page of the job."""
        job, side = self.job, self.job.brief.side(index)
        self.palette = self._palette_of(ink_set_of(job, index))
        self._drawn = index, side
        self._seen.clear()
        columns: dict[str, list[Column]] = {}
        stories: dict[str, str] = {}
        for story_id, column in self.composition.columns_on(index):
            columns.setdefault(column.slot.frame, []).append(column)
            stories[column.slot.frame] = story_id
        hidden = self._kinds(index)
        width, height = job.page_size(index)

        def art_of(frame: Object, inherited: bool) -> FrameArt:
            if frame.content is None and frame.place is not None:
                return self._shape(frame, inherited)
            rect = job.frame_rect(frame, index)
            story_id = stories.get(frame.id, "")
            if story_id:
                flow = self.composition.flows[story_id]
                cells: list[FrameArt] | None = [] if self._plainly_mixed(frame) else None
                lines, shapes = self._filled(flow, columns[frame.id], frame, cells, story_id)
                number = self._number(story_id, index, frame.id)
                art = FrameArt(frame, rect, inherited, story_id, number, lines, shapes)
                art.within = [*(cells or ()), *self._within(art, columns[frame.id], index, side, flow)]
                if flow.overset and columns[frame.id][-1] is flow.filled[-1].columns[-1]:
                    art.overset = overset_of(flow)
            else:
                art = self._set_here(frame, index, rect, side, inherited)
                art.is_field = bool(art.story)
            return self._grounded(art)

        layers = self._layered(job.page_objects(index), art_of, hidden)
        return PageArt(index, self.composition.values.labels[index], side, width, height, layers, self.palette)

    def _palette_of(self, ink_set: str) -> Palette:
        cached = self._palettes.get(ink_set)
        if cached is None:
            cached = self._palettes[ink_set] = Palette(self.job.swatches, self.job.ink_sets.get(ink_set))
        return cached

    def _layered(
        self, objects: Iterable[tuple[Object, bool]], art_of: Callable[[Object, bool], FrameArt], hidden: set[str]
    ) -> list[LayerArt]:
        """Return what is seen of some objects, each with whether it is a master's, by layers; ``hidden`` is what the
        page is, and masters' objects may not be shown on."""

        def arts_of(one: Object, inherited: bool) -> Iterator[FrameArt | GroupArt]:
            if inherited and not hidden.isdisjoint(one.hide_on):
                return
            if one.group is None:
                art = art_of(one, inherited)
                yield art
                yield from art.within
            elif parts := [part for inner in one.group.objects for part in arts_of(inner, inherited)]:
                yield GroupArt(one, parts, self.composition.places.setting(one).shadow)

        layers = {name: LayerArt(layer, []) for name, layer in self.job.layers.items() if layer.visible}
        for one, inherited in objects:
            if one.layer in layers:
                layers[one.layer].parts += arts_of(one, inherited)
        return [art for art in layers.values() if art.parts]

    def master(self, master_id: str, side: Side) -> PageArt:
        """One half of a master page, to be worked on: fields show what kind they are, main frames stand empty."""
        job = self.job
        self.palette = self._palette_of("")
        self._drawn = -1, side
        self._seen.clear()
        master = job.masters[master_id]
        width, height = job.brief.page_size(master.turned)
        area = job.master_area(master, side)

        def art_of(frame: Object, inherited: bool) -> FrameArt:
            art = self._set_here(frame, -1, frame.rect or area, side, inherited)
            art.is_field = inherited
            return self._grounded(art)

        objects = ((one, owner != master_id) for one, owner in job.master_objects(master_id, side))
        return PageArt(-1, master.name, side, width, height, self._layered(objects, art_of, set()), self.palette)

    def _shape(self, frame: Object, inherited: bool) -> FrameArt:
        """A shape is painted in the same way on every page as long as it is the same object: results are cached."""
        arts = self.composition.places.arts
        key = (id(frame), inherited, self.palette.ink_set)
        cached = arts.get(key)
        if cached is not None and cached[0] is frame:
            cached_art: FrameArt = cached[1]
            return cached_art
        assert frame.place is not None
        art = self._grounded(FrameArt(frame, frame.place.rect, inherited, None, 0, [], []))
        arts[key] = (frame, art)
        return art

    def _grounded(self, art: FrameArt) -> FrameArt:
        setting = self.composition.places.setting(art.frame)
        art.shadow, art.opacity, art.blend, art.overprint = (
            setting.shadow,
            setting.opacity,
            setting.blend,
            setting.overprint,
        )
        art.soft_edge = setting.soft_edge
        art.filled, art.stroke = bool(setting.fill.swatch), setting.stroke.weight or 0.0
        art.ground = ground_of(art.frame, art.rect, setting, self.palette)
        if art.frame.code is not None:
            try:
                art.above = code_paths(art.frame.code, art.rect, self.palette)
            except CodeError:
                art.above = missing_sign(art.rect)
        if (picture := art.frame.picture) is not None:
            file = self.job.pictures.get(picture.picture)
            if file is not None and self.composition.has_file(file.file):
                art.picture = Picture(
                    file.file,
                    map_of(picture, file, art.rect),
                    file.space,
                    look_of(picture.adjust, self.palette, file.page),
                    file.vector,
                )
            else:
                art.above = missing_sign(art.rect)
            art.above = [*art.above, *edge_of(art.frame, art.rect, setting, self.palette)]
        return art

    def _kinds(self, index: int) -> set[str]:
        """Return what the page is, in the words of ``Object.hide_on``."""
        kinds: set[str] = set()
        flow = self.composition.main
        if flow is None:
            return kinds
        kinds_used = self.composition.running.all
        if kinds_used and index < kinds_used[0].page:
            kinds.add("front")
        blank, is_blank = True, False
        for story_id, column in self.composition.columns_on(index):
            if story_id == self.job.main_story:
                is_blank = True
                if column.blocks:
                    blank = False
                    block = column.blocks[0]
                    starts = flow.setting(block.paragraph).start in PAGE_STARTS
                    if column.slot.heads_page and block.first_line == block.base == 0 and starts:
                        kinds.add("opening")
        if is_blank and blank:
            kinds.add("blank")
        return kinds

    def _number(self, story_id: str, page: int, frame: str) -> int:
        if self._flow_order is None:
            self._flow_order = {}
            for name, flow in self.composition.flows.items():
                order: dict[tuple[str, int, str], int] = {}
                for column in flow.columns:
                    order.setdefault((name, column.slot.page, column.slot.frame), len(order) + 1)
                if len(order) > 1:
                    self._flow_order.update(order)
        return self._flow_order.get((story_id, page, frame), 0)

    def _plainly_mixed(self, frame: Object) -> bool:
        """Return whether the contents of a frame look the same when they are painted on top: neither rotated nor
        blended."""
        setting = self.composition.places.setting(frame)
        mixed = setting.opacity < 1 or setting.blend != "normal" or setting.soft_edge > 0 or setting.shadow != NO_SHADOW
        return not (mixed or frame.turn or (frame.place is not None and frame.place.map is not None))

    def _filled(
        self,
        flow: StoryFlow,
        columns: list[Column],
        frame: Object,
        cells: list[FrameArt] | None = None,
        story: str = "",
    ) -> tuple[list[LineArt], list[Item]]:
        """The lines of a frame, and what is drawn below them. Where ``cells`` are requested, those of tables become
        separate texts that can be typed in; else they are drawn with the frame."""
        lines: list[LineArt] = []
        shapes: list[Item] = []
        setting = self.composition.places.setting(frame)
        if setting.columns > 1 and setting.column_rule.weight:
            shapes += rules_between(flow, columns, setting.column_rule, self.palette)
        for column in columns:
            lines_ = [line for block in column.blocks for line in self._block(flow, block, column.slot.rect)]
            shapes += [
                *behind_text(flow, column, lines_, self.job, self.palette),
                *rule_above_notes(column, self.palette),
            ]
            for line in lines_:
                if any(run.look.spec.underline or run.look.spec.strike for run in line.runs):
                    shapes += lines_through(line.runs, line.baseline, self.palette)
            lines += lines_
            if column.over is not None:
                shapes += self._over(flow, column)
            for block in column.blocks:
                if flow.unbroken(block.paragraph):
                    shapes += self._table(flow, block, column.slot.rect, cells, story)
        return lines, shapes

    def _table(
        self, flow: StoryFlow, block: Block, area: Rect, cells: list[FrameArt] | None, story: str
    ) -> Iterator[Item]:
        """The rows of a table in a column: their words, and the rules above, below and between them."""
        body = flow.table(block.paragraph, block.measure)
        assert body is not None
        setting = flow.setting(block.paragraph)
        left = area.x + setting.indent_left
        bands = list(body.standing(block))
        yield from grounds_of_table(bands, left, self.palette)
        cited = (story, flow.paragraphs[block.paragraph].paragraph.id, 1)
        for top, band, again in bands:
            for cell in band.cells:
                own = cell.column
                slot = replace(own.slot, rect=replace(own.slot.rect, x=left + cell.inner.x, width=cell.inner.width))
                column = replace(own, slot=slot, blocks=[one.shifted(top + cell.inner.y) for one in own.blocks])
                lines, shapes = self._filled(cell.flow, [column], Object("cell"))
                boxed = any(run.box is not None for line in lines for run in line.runs)
                rect = Rect(left + cell.box.x, top + cell.box.y, cell.box.width, cell.box.height)
                if cells is None or cell.number < 0:
                    plain = FrameArt(Object("cell"), rect, False, None, 0, lines if boxed else [], [])
                    frames = [one.group(self.palette) for one in self._within(plain, [], *self._drawn)]
                    items = (*shapes, *(Group(line.group(self.palette).items) for line in lines), *frames)
                    yield from (Group(items, turned_about(rect, cell.turn)),) if cell.turn and items else items
                    continue
                key = cell_key(body.table.id, cell.row, cell.number)
                count = self._seen[key] = self._seen.get(key, -1) + 1
                later = bool(count) or again or cell.rest
                number = 1 + MOST_PARTS * max(self._drawn[0], 0) + count if later else 0
                one = Object(f"{key}~{number}" if later else key, "Cell", content=Text(key, turn=cell.turn))
                art = FrameArt(one, rect, False, key, number, lines, shapes, role="cell", cited=cited)
                behind = cell.part is not None and cell.part.end.paragraph < len(cell.flow)
                size = len(body.table.rows), body.words.columns
                art.cell = CellArt(cell.row, *cell.span, *size, cell.inner.width, cell.rest, behind)
                cells.append(art)
                if boxed:
                    cells += self._within(art, [], *self._drawn)
        yield from rules_of_table(body, bands, left, self.job, self.palette)

    def _block(self, flow: StoryFlow, block: Block, area: Rect) -> list[LineArt]:
        set_paragraph = flow.paragraphs[block.paragraph]
        paragraph, setting = set_paragraph.paragraph, set_paragraph.setting
        if set_paragraph.shown.table is not None:
            return table_lines(flow, block, area)
        source = set_paragraph.shown.source if set_paragraph.shown.fields else None
        text, runs = runs_of(flow.cascade, flow.library, flow.set_as(block.paragraph, block.measure, block.base))
        all_lines = flow.lines(block.paragraph, block.measure, block.base)
        lines = []
        if set_paragraph.initial is not None and block.first_line == block.base == 0:
            lines.append(_initial(set_paragraph, set_paragraph.initial, all_lines[0], block.baseline, area))
        for number in range(block.first_line, min(block.last_line, len(all_lines))):
            line = all_lines[number]
            placed_runs = place_line(text, runs, line, setting, area.x, area.width)
            if placed_runs:
                x = placed_runs[0].x
            else:
                measure = line.measure or area.width
                slack = measure - setting.indent_left - setting.indent_right
                x = area.x + line.left + setting.indent_left + line.indent
                x += {"centre": slack / 2, "right": slack}.get(setting.align, 0.0)
            start, end = line.start, line.end
            if source is not None:
                start, end = source(start), source(end)
                gaps = set_paragraph.shown.gaps
                placed_runs = [
                    replace(
                        run,
                        start=source(run.start),
                        end=source(run.end),
                        gaps=() if run.field else gaps(run.start, run.end),
                    )
                    for run in placed_runs
                ]
            lines.append(
                LineArt(
                    paragraph.id,
                    start,
                    end,
                    number == len(all_lines) - 1,
                    x,
                    block.at(number),
                    set_paragraph.ascent,
                    set_paragraph.descent,
                    line.measure or area.width,
                    line.ratio,
                    tuple(placed_runs),
                    text[line.end : line.end + 1] == LINE_BREAK,
                    setting.start if number == block.base == 0 and setting.start != "anywhere" else "",
                )
            )
        return lines

    # Text that is set where it is painted: of master frames, which differs from page to page, and of frames in lines.

    def _set_here(
        self, frame: Object, page: int, rect: Rect, side: Side, inherited: bool, alone: bool = False
    ) -> FrameArt:
        """A frame whose text flows nowhere, with what that is on a page. ``alone`` it keeps clear of nothing."""
        composition = self.composition
        story = self.job.stories.get(frame.story or "")
        art = FrameArt(frame, rect, inherited, frame.story, 0, [], [])
        if story is None:
            return art
        around = [f for f, _ in self.job.page_frames(page)] if page >= 0 and not alone else []
        area = composition.places.area(page, frame, True, around, rect=rect, side=side)
        flow = StoryFlow(
            story.paragraphs,
            composition.cascade,
            composition.library,
            Grid(),
            lambda: iter([area]),
            page + 1,
            None,
            composition.showing.shower(story, lambda paragraph, offset: page, self._title),
            noted=composition.showing.noted(story.id),
        )
        if flow.columns:
            art.lines, art.under = self._filled(flow, flow.columns, frame)
            art.within = self._within(art, flow.columns, page, side, flow)
            art.overset = overset_of(flow) if alone else None
        return art

    def _within(
        self, art: FrameArt, columns: list[Column], page: int, side: Side, flow: StoryFlow | None = None
    ) -> list[FrameArt]:
        """Return the other contents of a text frame: anchored frames, and notes at the bottom of its columns."""
        arts: list[FrameArt] = []
        inherited = art.inherited and art.story not in self.composition.flows
        for line in art.lines:
            for run in line.runs:
                inlay = self.job.inlays.get(run.box.ref) if run.box is not None else None
                if inlay is not None and run.box is not None:
                    size = run.box
                    rect = Rect(run.x, line.baseline - run.look.rise - size.height, size.width, size.height)
                    own = self._set_here(inlay.at(rect), page, rect, side, inherited, alone=True)
                    own.role = "inlay"
                    arts.append(self._grounded(own))
        for column in columns:
            for tied in column.afloat:
                inlay = self.job.inlays.get(tied.ref)
                if inlay is not None:
                    own = self._set_here(inlay.at(tied.rect), page, tied.rect, side, inherited, alone=True)
                    own.role = "inlay"
                    arts.append(self._grounded(own))
            for note in (*column.notes, *column.margin):
                arts += self._note(note, art, page, side)
                if flow is not None and art.story is not None:
                    made_of = {one.frame.id: one for one in arts}
                    made_of[note.body.ref].cited = _cited(flow, column, note.body.ref, art.story)
        for one in arts:
            one.beyond = art.words_map
        return arts

    def _note(self, note: Note, art: FrameArt, page: int, side: Side) -> list[FrameArt]:
        """A note at the foot of a column or beside it, and the objects in its lines."""
        flow, rect = note.body.flow, note.rect
        frame = Object(note.body.ref, "Note", Pose(rect), Text(note.body.ref), layer=art.frame.layer)
        (own,) = flow.columns
        slot = replace(own.slot, rect=replace(own.slot.rect, x=note.left))
        column = replace(own, slot=slot, blocks=note.blocks)
        lines, shapes = self._filled(flow, [column], frame)
        inherited = art.inherited and art.story not in self.composition.flows
        if note.lines is not None and note.body.notice is not None:
            shapes += self._notice(note.body.notice, note.left, rect.foot - note.body.more)
        art_ = FrameArt(frame, rect, inherited, note.body.ref, 0, lines, shapes, role="note")
        return [art_, *self._within(art_, [], page, side)]

    def _over(self, flow: StoryFlow, column: Column) -> Iterator[Item]:
        """The line above a column that says what it continues."""
        under = flow.paragraphs[column.blocks[0].paragraph].shown.under if column.blocks else None
        if under is not None and column.over is not None:
            setting = self.composition.places.setting(Object("over"))
            line = line_over(flow, under, column.slot.rect.width, setting)
            yield from self._notice(line, column.slot.rect.x, column.over - line.columns[0].blocks[0].baseline)

    def _notice(self, flow: StoryFlow, left: float, top: float) -> Iterator[Item]:
        """Words that are no part of any text, drawn where they stand."""
        (own,) = flow.columns
        slot = replace(own.slot, rect=replace(own.slot.rect, x=left))
        column = replace(own, slot=slot, blocks=[one.shifted(top) for one in own.blocks])
        lines, shapes = self._filled(flow, [column], Object("notice"))
        yield from shapes
        for line in lines:
            yield Group(line.group(self.palette).items)

    def _title(self, field: Anchor, page: int) -> str:
        if page < 0:
            return "[running head]"
        return self.composition.running.title(field, page)


def table_lines(flow: StoryFlow, block: Block, area: Rect) -> list[LineArt]:
    """The bands of a table as lines without words, so that a caret can be placed before and after it."""
    set_paragraph = flow.paragraphs[block.paragraph]
    body = flow.table(block.paragraph, block.measure)
    assert body is not None
    count = len(set_paragraph.shown.paragraph.text)
    lines = []
    for number, band in zip(range(block.first_line, block.last_line), body.bands_in(block), strict=False):
        last = block.base + number == count - 1 and not (block.part and number == block.last_line - 1)
        lines.append(
            LineArt(
                set_paragraph.paragraph.id,
                0,
                1 if last else 0,
                last,
                area.x + set_paragraph.setting.indent_left,
                block.at(number),
                band.height,
                0.0,
                body.width,
                0.0,
                (),
                table=body.table.id,
            )
        )
    return lines


def _cited(flow: StoryFlow, column: Column, note: str, story: str) -> tuple[str, str, int] | None:
    """Return where a note of a column is cited: the offset after its number."""
    for block in column.blocks:
        set_paragraph = flow.paragraphs[block.paragraph]
        for span in set_paragraph.paragraph.spans:
            if span.object and span.object.ref == note:
                return story, set_paragraph.paragraph.id, span.end
    return None


def _initial(set_paragraph: SetParagraph, initial: Initial, first: SetLine, baseline: float, area: Rect) -> LineArt:
    """The drop cap of a paragraph, as a line of its own."""
    x = area.x + set_paragraph.setting.indent_left + first.left - initial.rooms[0]
    look = initial.look
    own = (Part(initial.text, initial.width, False),)
    run = LineRun(look, x, initial.width, 0, initial.end, initial.text, 0.0, own, False)
    start, end = set_paragraph.shown.source(0), set_paragraph.shown.source(initial.end)
    cap = look.cut.face.cap_height * look.scale
    placed_run = replace(run, start=start, end=end)
    return LineArt(
        set_paragraph.paragraph.id,
        start,
        end,
        False,
        x,
        baseline + initial.drop,
        cap,
        set_paragraph.descent,
        initial.width,
        0.0,
        (placed_run,),
    )
