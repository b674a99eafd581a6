"""The PDF of a job: pages painted from the same display list as the board.

For the press PDF/X-4 (ISO 15930-7): output intent with its profile, page boxes, embedded subsets, black
text on the black plate only and overprinting, marks in every ink. For the screen: bookmarks from the
headings, links, no marks. The same job, recipe and date give the same bytes.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import datetime
from typing import Any, BinaryIO

from lexigon.core.colour.profiles import PROFILES
from lexigon.core.flow.composition import Composition
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Item, paint
from lexigon.core.paint.page import PageArt
from lexigon.core.press.boxes import PageBoxes, sheet_for
from lexigon.core.press.content import Content, ContentPainter
from lexigon.core.press.flattening import flattened
from lexigon.core.press.links import Links, bookmarks
from lexigon.core.press.metadata import information, xmp
from lexigon.core.press.pdf import Name, PdfWriter, Ref, number, write
from lexigon.core.press.printmarks import draw_information, draw_marks
from lexigon.core.press.recipes import Recipe
from lexigon.core.press.resources import FileResources
from lexigon.core.press.variants import VARIANTS


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
    document = _Document(composition, recipe, target, when)
    try:
        document.run(pages if pages is not None else list(range(len(composition.job.pages))), progress)
    finally:
        document.resources.queue.close()


class _Document:
    def __init__(self, composition: Composition, recipe: Recipe, target: BinaryIO, when: datetime) -> None:
        self.composition, self.job, self.recipe, self.when = composition, composition.job, recipe, when
        self.variant = VARIANTS[recipe.kind]
        self.writer = PdfWriter(target, self.variant.version)
        self.display = Display(composition)
        self.resources = FileResources(
            self.writer, self.variant, composition.find, recipe.ppi, PROFILES[recipe.profile]
        )

    def run(self, pages: list[int], progress: Callable[[int, int], bool] | None) -> None:
        writer = self.writer
        tree = writer.reserve()
        refs = [writer.reserve() for _ in pages]
        links = Links(self.composition, dict(zip(pages, refs, strict=True))) if self.recipe.links else None
        places: dict[str, tuple[Ref, float, float]] = {}
        for done, (index, ref) in enumerate(zip(pages, refs, strict=True), 1):
            art = self.display.page(index)
            sheet = sheet_for(self.job.brief, art.side, self.recipe, (art.width, art.height))
            page: dict[str, Any] = {
                "Type": Name("Page"), "Parent": tree, "MediaBox": sheet.media, "TrimBox": sheet.trim,
                "BleedBox": sheet.bleed_box, "Resources": self.resources.names,
                "Contents": writer.add_stream(self._content(art, sheet)),
            }  # fmt: skip
            if links:
                for line in (line for frame in art.frames for line in frame.lines):
                    places.setdefault(line.paragraph, (ref, sheet.x(line.x), sheet.y(line.baseline - line.ascent)))
                page["Annots"] = writer.add(links.on(art, sheet))
            writer.add(page, ref)
            if progress and not progress(done, len(pages)):
                raise OutputStopped
        writer.add({"Type": Name("Pages"), "Kids": refs, "Count": len(refs)}, tree)
        self.resources.write()
        root = self._catalogue(tree, pages, places)
        writer.close(root, writer.add(information(self.job.name, self.when, self.variant)))

    def _flat(self, items: Sequence[Item], art: PageArt, content: Content, painter: ContentPainter) -> None:
        """A page of a file that may have no transparency."""
        bleed, sheet = self.job.brief.bleed, painter.sheet
        edge = max(bleed.head, bleed.foot, bleed.inner, bleed.outer)
        box = Rect(-edge, -edge, art.width + 2 * edge, art.height + 2 * edge)
        flat = flattened(items, box, self.recipe.ppi, PROFILES[self.recipe.profile], self.composition.find)
        paint(flat.below, painter)
        for patch in flat.patches:
            r, name = patch.rect, self.resources.patch(patch)
            left, foot = sheet.x(r.x), sheet.y(r.foot)
            map_ = (sheet.x(r.right) - left, 0.0, 0.0, sheet.y(r.y) - foot, left, foot)
            content.put(f"q /GK gs {' '.join(map(number, map_))} cm /{name} Do Q")
        paint(flat.above, painter)

    def _catalogue(self, tree: Ref, pages: list[int], places: dict[str, tuple[Ref, float, float]]) -> Ref:
        writer = self.writer
        metadata = writer.add_stream(
            xmp(self.job.name, self.when, self.variant, writer.digest + self.job.name),
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
        if self.variant.intent:
            catalogue["OutputIntents"] = [self._intent()]
        if self.recipe.links:
            outline = bookmarks(writer, self.composition.running.all, places)
            if outline:
                catalogue["Outlines"] = outline
                catalogue["PageMode"] = Name("UseOutlines")
        return writer.add(catalogue)

    def _intent(self) -> dict[str, Any]:
        profile = PROFILES[self.recipe.profile]
        return {
            "Type": Name("OutputIntent"), "S": Name("GTS_PDFX"), "OutputConditionIdentifier": profile.condition,
            "OutputCondition": profile.name, "RegistryName": "http://www.color.org", "Info": profile.name,
            "DestOutputProfile": self.writer.add_stream(profile.data(), {"N": 4}),
        }  # fmt: skip

    def _content(self, art: PageArt, sheet: PageBoxes) -> bytes:
        content = Content()
        painter = ContentPainter(content, sheet, self.resources)
        if not self.variant.clipped:
            paint(art.items(printed=True), painter)
            return content.data()
        items = art.items(printed=True)
        with content.saved():
            left, foot, right, head = sheet.bleed_box
            content.put(f"{write([left, foot, right - left, head - foot])[1:-1]} re W n")
            if self.variant.flattened:
                self._flat(items, art, content, painter)
            else:
                paint(items, painter)
        if self.recipe.marks:
            draw_marks(content, self.resources, sheet, self.recipe, self.job, art.index)
            if self.recipe.information:
                draw_information(content, self.resources, sheet, self.recipe, self.composition, art, self.when)
        return content.data()
