"""The PDF of a job, or of several one after the other: pages painted from the same display list as the board.

For the press PDF/X-4 (ISO 15930-7): output intent with its profile, page boxes, embedded subsets, black text on the
black plate only and overprinting, marks in every ink. For the screen: bookmarks from the headings, links, no marks. The
same job, recipe and date give the same bytes.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import IO, Any

from lexigon.core.colour.profiles import PROFILES
from lexigon.core.document.model import Job
from lexigon.core.flow.composition import Composition
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Item, blends, paint
from lexigon.core.paint.page import PageArt
from lexigon.core.pdf.boxes import PageBoxes
from lexigon.core.pdf.content import Content, ContentPainter
from lexigon.core.pdf.rasters import draw_pixels
from lexigon.core.pdf.resources import FileResources
from lexigon.core.pdf.variants import VARIANTS, Variant
from lexigon.core.pdf.writer import Name, PdfWriter, Ref, number, write
from lexigon.core.press.boxes import sheet_for
from lexigon.core.press.flattening import flattened, see_through
from lexigon.core.press.links import Links, bookmarks
from lexigon.core.press.metadata import information, xmp
from lexigon.core.press.page_processes import PageProcesses, PaintedPage
from lexigon.core.press.printmarks import draw_information, draw_marks
from lexigon.core.press.recipes import Recipe


class OutputStopped(Exception):
    """The caller asked to stop; what was written so far is no file."""


@dataclass(slots=True, frozen=True)
class Part:
    """A job in a file: the indexes of its pages, and whether an empty page precedes them."""

    composition: Composition
    pages: list[int]
    blank: bool = False
    prepare: Callable[[], None] | None = None
    """Brings the composition to the state that this part shows, before its pages are painted: parts of a merge have one
    composition, and each shows another record."""
    title: str = ""
    """The name of its bookmark; "" for bookmarks from its headings."""


def write_pdf(
    composition: Composition,
    recipe: Recipe,
    target: IO[bytes],
    when: datetime,
    pages: list[int] | None = None,
    progress: Callable[[int, int], bool] | None = None,
    processes: int = 1,
) -> None:
    """Write the job's pages (indexes, all by default) to ``target``.

    ``progress(done, total)`` is called after each page; when it returns False, OutputStopped is raised. Up to
    ``processes`` paint the pages of a long file; the bytes are the same.
    """
    indexes = pages if pages is not None else list(range(len(composition.job.pages)))
    write_parts([Part(composition, indexes)], composition.job.name, recipe, target, when, progress, processes)


def write_parts(
    parts: Sequence[Part],
    name: str,
    recipe: Recipe,
    target: IO[bytes],
    when: datetime,
    progress: Callable[[int, int], bool] | None = None,
    processes: int = 1,
) -> None:
    """Write pages of several jobs to ``target``, one after the other, as one file called ``name``. Its properties that
    apply to all pages (language, facing pages) are those of the first job."""
    document = _Document(parts, name, recipe, target, when, processes)
    try:
        document.run(progress)
    finally:
        document.resources.queue.close()


@dataclass(slots=True)
class _Set:
    """A part with what its pages are in the file."""

    part: Part
    refs: list[Ref]
    links: Links | None
    places: dict[str, tuple[Ref, float, float]] = field(default_factory=dict)

    @property
    def job(self) -> Job:
        return self.part.composition.job


class _Document:
    def __init__(
        self,
        parts: Sequence[Part],
        name: str,
        recipe: Recipe,
        target: IO[bytes],
        when: datetime,
        processes: int,
    ) -> None:
        self.processes = processes
        self.name, self.recipe, self.when = name, recipe, when
        self.variant = VARIANTS[recipe.kind]
        self.writer = PdfWriter(target, self.variant.version)
        self.parts = parts
        self._shown: tuple[Part, Display] | None = None
        compositions = {id(part.composition): part.composition for part in parts}.values()
        finders = [one.find for one in compositions if one.find is not None]
        self.find = partial(_find_file, finders) if len(finders) > 1 else next(iter(finders), None)
        self.resources = FileResources(
            self.writer, self.variant, self.find, recipe.ppi, PROFILES[recipe.profile], draw_pixels
        )

    def _sets(self) -> list[_Set]:
        refs = [[self.writer.reserve() for _ in part.pages] for part in self.parts]
        return [
            _Set(
                part,
                own,
                Links(part.composition, self._leads(part, refs)) if self.recipe.links else None,
            )
            for part, own in zip(self.parts, refs, strict=True)
        ]

    def _leads(self, part: Part, refs: Sequence[Sequence[Ref]]) -> dict[int, Ref]:
        """The pages that links of a job lead to: its own, and those of the others as its listings count them."""
        beyond, refs_ = part.composition.values.references.beyond, dict[int, Ref]()
        for other, part_refs in zip(self.parts, refs, strict=True):
            if other is not part and other.composition is part.composition:
                continue  # another record: links stay within theirs
            for index, ref in zip(other.pages, part_refs, strict=True):
                page = index if other is part else beyond.at(other.composition.job.id, index)
                if page is not None:
                    refs_[page] = ref
        return refs_

    def run(self, progress: Callable[[int, int], bool] | None) -> None:
        writer = self.writer
        tree = writer.reserve()
        sets = self._sets()
        total, done = sum(len(one.refs) for one in sets), 0
        kids: list[Ref] = []
        labels: list[str] = []
        compositions = {id(part.composition): part.composition for part in self.parts}.values()
        faces = list({id(face): face for one in compositions for face in one.library.faces}.values())
        places = [(one, index) for one in sets for index in one.part.pages]
        paint = partial(self._painted, places)
        with PageProcesses(paint, total, self.resources, faces, self.processes) as processes:
            for one in sets:
                if one.part.blank:
                    kids.append(self._blank(one, tree))
                    labels.append("")
                written = one.part.composition.values.labels
                for index, ref in zip(one.part.pages, one.refs, strict=True):
                    self._write_page(one, processes.page(done), ref, tree)
                    kids.append(ref)
                    labels.append(written[index])
                    done += 1
                    if progress and not progress(done, total):
                        raise OutputStopped
            processes.close()
        writer.add({"Type": Name("Pages"), "Kids": kids, "Count": len(kids)}, tree)
        self.resources.write()
        root = self._catalogue(tree, sets, labels)
        writer.close(root, writer.add(information(self.name, self.when, self._claim())))

    def _painted(self, places: Sequence[tuple[_Set, int]], position: int, resources: FileResources) -> PaintedPage:
        """Paint the page at a position of the file with resources, which may be those of another process."""
        one, index = places[position]
        art = self._display(one.part).page(index)
        master = one.job.master_of(index)
        sheet = sheet_for(one.job.brief, art.side, self.recipe, (art.width, art.height), bool(master and master.turned))
        items = art.items(printed=True)
        content = self._on_sheet(self._content(one, art, items, sheet, resources), sheet)
        entries: dict[str, Any] = {
            "Type": Name("Page"),
            "Parent": None,
            "MediaBox": sheet.on_sheet(sheet.media),
            "TrimBox": sheet.on_sheet(sheet.trim),
            "BleedBox": sheet.on_sheet(sheet.bleed_box),
            "Resources": None,
            "Contents": None,
        }
        if not self.variant.flattened and any(see_through(item, self.find) for item in items):
            # What is mixed is mixed in the inks that are printed (ISO 32000-2, 11.4.7), whatever a reader would choose.
            entries["Group"] = {"S": Name("Transparency"), "CS": resources.space, "I": True}
        paragraphs: list[tuple[str, float, float]] = []
        if one.links:
            for line in (line for frame in art.frames for line in frame.lines):
                box = sheet.on_sheet(
                    [sheet.x(line.x), sheet.y(line.baseline), sheet.x(line.x), sheet.y(line.baseline - line.ascent)]
                )
                paragraphs.append((line.paragraph, box[0], box[3]))
        annotations = one.links.on(art, sheet) if one.links else None
        return PaintedPage(entries, self.writer.deflated(content), annotations, paragraphs)

    def _display(self, part: Part) -> Display:
        """Return what paints a part, in its state. Pages of a part follow each other, so the last is enough."""
        if self._shown is None or self._shown[0] is not part:
            if part.prepare is not None:
                part.prepare()
            self._shown = part, Display(part.composition)
        return self._shown[1]

    def _write_page(self, one: _Set, page: PaintedPage, ref: Ref, tree: Ref) -> None:
        contents = self.writer.add_stream(page.content, deflated=True)
        page.entries |= {"Parent": tree, "Resources": self.resources.names, "Contents": contents}
        for paragraph, left, top in page.places:
            one.places.setdefault(paragraph, (ref, left, top))
        if page.annotations is not None:
            page.entries["Annots"] = self.writer.add(page.annotations)
        self.writer.add(page.entries, ref)

    @staticmethod
    def _on_sheet(content: bytes, sheet: PageBoxes) -> bytes:
        """Return what is painted on a page, as it is placed on the sheet."""
        if not sheet.rotated:
            return content
        return f"q {' '.join(map(number, sheet.rotation))} cm\n".encode() + content + b"\nQ"

    def _backdrop(
        self, items: Sequence[Item], content: Content, box: Sequence[float], resources: FileResources
    ) -> None:
        """Paper beneath what is blended: with nothing there a blend mode has no effect (ISO 32000-2, 11.3.6), and a
        shape that is screened over bare paper would print in full."""
        if blends(items):
            content.put(f"q /GK gs {resources.paper} {_box(box)} re f Q")

    def _blank(self, one: _Set, tree: Ref) -> Ref:
        """The empty page before a job: a left-hand one of its size."""
        sheet = sheet_for(one.job.brief, "verso", self.recipe, one.job.brief.page_size())
        return self.writer.add(
            {
                "Type": Name("Page"),
                "Parent": tree,
                "MediaBox": sheet.media,
                "TrimBox": sheet.trim,
                "BleedBox": sheet.bleed_box,
                "Resources": self.resources.names,
                "Contents": self.writer.add_stream(b""),
            }
        )

    def _flat(
        self, job: Job, items: Sequence[Item], art: PageArt, painter: ContentPainter, resources: FileResources
    ) -> None:
        """A page of a file that may have no transparency."""
        bleed, sheet = job.brief.bleed, painter.sheet
        edge = max(bleed.head, bleed.foot, bleed.inner, bleed.outer)
        box = Rect(-edge, -edge, art.width + 2 * edge, art.height + 2 * edge)
        flat = flattened(items, box, self.recipe.ppi, PROFILES[self.recipe.profile], self.find)
        paint(flat.below, painter)
        for patch in flat.patches:
            r, name = patch.rect, resources.patch(patch)
            left, foot = sheet.x(r.x), sheet.y(r.foot)
            map_ = (sheet.x(r.right) - left, 0.0, 0.0, sheet.y(r.y) - foot, left, foot)
            painter.content.put(f"q /GK gs {' '.join(map(number, map_))} cm /{name} Do Q")
        paint(flat.above, painter)

    def _catalogue(self, tree: Ref, sets: Sequence[_Set], labels: Sequence[str]) -> Ref:
        writer, brief = self.writer, sets[0].job.brief
        metadata = writer.add_stream(
            xmp(self.name, self.when, self._claim(), writer.digest + self.name),
            {"Type": Name("Metadata"), "Subtype": Name("XML")},
            deflate=False,
        )
        catalogue: dict[str, Any] = {
            "Type": Name("Catalog"),
            "Pages": tree,
            "Metadata": metadata,
            "Lang": brief.language,
            "PageLabels": writer.add(
                {"Nums": [item for at, label in enumerate(labels) for item in (at, {"P": label} if label else {})]}
            ),
            "ViewerPreferences": {"DisplayDocTitle": True},
        }
        if brief.facing:
            catalogue["PageLayout"] = Name("TwoPageRight")
        if self.variant.intent:
            catalogue["OutputIntents"] = [self._intent()]
        if self.recipe.links:
            outline = bookmarks(writer, list(self._marks(sets)))
            if outline:
                catalogue["Outlines"] = outline
                catalogue["PageMode"] = Name("UseOutlines")
        return writer.add(catalogue)

    def _claim(self) -> Variant:
        """The kind of file that this one says it is: of no standard, where a placed page has what that forbids."""
        return replace(self.variant, conforms="") if self.resources.forbidden else self.variant

    def _marks(self, sets: Sequence[_Set]) -> Iterator[tuple[int, str, tuple[Ref, float, float]]]:
        """The bookmarks: headings; in a file of several jobs the name of one that has none, beside the highest of the
        others."""
        mark_rows = [
            [
                (heading.level, heading.text, one.places[heading.paragraph])
                for heading in one.part.composition.running.all
                if heading.paragraph in one.places and not one.part.title
            ]
            for one in sets
        ]
        top = min((level for marks in mark_rows for level, _, _ in marks), default=1)
        for one, marks in zip(sets, mark_rows, strict=True):
            if not marks and len(sets) > 1 and one.refs:
                head = sheet_for(one.job.brief, "recto", self.recipe, one.job.brief.page_size()).media[3]
                marks = [(top, one.part.title or one.job.name, (one.refs[0], 0.0, head))]
            yield from marks

    def _intent(self) -> dict[str, Any]:
        profile = PROFILES[self.recipe.profile]
        return {
            "Type": Name("OutputIntent"),
            "S": Name(self.variant.intent),
            "OutputConditionIdentifier": profile.condition,
            "OutputCondition": profile.name,
            "RegistryName": "http://www.color.org",
            "Info": profile.name,
            "DestOutputProfile": self.writer.add_stream(profile.data(), {"N": 4}),
        }

    def _content(
        self, one: _Set, art: PageArt, items: Sequence[Item], sheet: PageBoxes, resources: FileResources
    ) -> bytes:
        content = Content()
        painter = ContentPainter(content, sheet, resources)
        if not self.variant.clipped:
            self._backdrop(items, content, sheet.media, resources)
            paint(items, painter)
            return content.data()
        with content.saved():
            content.put(f"{_box(sheet.bleed_box)} re W n")
            if self.variant.flattened:
                self._flat(one.job, items, art, painter, resources)
            else:
                self._backdrop(items, content, sheet.bleed_box, resources)
                paint(items, painter)
        if self.recipe.marks:
            draw_marks(content, resources, sheet, self.recipe, one.job, art.index)
            if self.recipe.information:
                draw_information(content, resources, sheet, self.recipe, one.part.composition, art, self.when)
        return content.data()


def _box(box: Sequence[float]) -> str:
    """A box (left, foot, right, head) as the operands of a rectangle."""
    left, foot, right, head = box
    return write([left, foot, right - left, head - foot])[1:-1]


def _find_file(finders: Sequence[Callable[[str], Path | None]], file: str) -> Path | None:
    """Return the path of a file of one of several jobs."""
    return next((path for find in finders if (path := find(file)) is not None), None)
