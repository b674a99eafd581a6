"""Intents about the selected cells of a table: their formatting, their words, and rows and columns beside them."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Annotated, Literal

from lexigon.core.document import story_text
from lexigon.core.document.article_numbers import normal
from lexigon.core.document.cascade import Cascade
from lexigon.core.document.cell_stories import cell_paragraphs, with_words
from lexigon.core.document.code_messages import Message, written
from lexigon.core.document.consistency import check_rect
from lexigon.core.document.limits import MOST_COLUMNS, Key, Many, Within
from lexigon.core.document.model import (
    OBJECT,
    Anchor,
    Cell,
    CellRules,
    Code,
    Fill,
    FrameSpec,
    Job,
    Object,
    Paragraph,
    ParaSpec,
    Picture,
    PictureFile,
    Pose,
    Span,
    Stroke,
    TableColumn,
    TextTable,
    TypeSpec,
)
from lexigon.core.document.model.tables import CellHeight, CellTurn, CellVertical, ColumnAlign, ColumnSize, ColumnValue
from lexigon.core.editing.edits import EditError, Primitive, put
from lexigon.core.editing.intents.objects.frames import SMALLEST_FRAME, base_layer
from lexigon.core.editing.intents.pictures.placing import add_picture, framed_anew
from lexigon.core.editing.intents.tables.content import MOST_ROWS
from lexigon.core.editing.intents.text.words import set_so
from lexigon.core.fileformat.values import check_specs
from lexigon.core.geometry import Rect
from lexigon.core.numerals import integer
from lexigon.core.tables.cell_settings import in_place
from lexigon.core.tables.grid import PlacedCell
from lexigon.core.tables.shapes import Range, joined, parted, put_in, take_out, within

Row = Annotated[int, Within(0, MOST_ROWS, "The table has no such row.")]
Column = Annotated[int, Within(0, MOST_COLUMNS, "The table has no such column.")]
Edge = Literal["head", "right", "foot", "left", "across", "down"]
"""The rules of a rectangle of cells: its four sides, those between its rows (``across``) and between its columns
(``down``)."""
EDGES: tuple[Edge, ...] = ("head", "right", "foot", "left", "across", "down")
AsStyle = Literal["vertical", "fill"]
OPPOSITE = {"head": "foot", "foot": "head", "left": "right", "right": "left"}


@dataclass(slots=True, frozen=True)
class Cells:
    """A rectangle of a table's cells, all four included. It is cut to the table, and grown round cells that it cuts
    through."""

    table: Key
    top: Row
    left: Column
    bottom: Row
    right: Column


def resolve_cells(job: Job, cells: Cells) -> tuple[TextTable, Range, list[PlacedCell]]:
    """The table, the rectangle that is meant, and its cells. Raises EditError where the table is gone."""
    table = job.tables.get(cells.table)
    if table is None or not any(table.rows):
        raise EditError("That table is no longer in the job.")
    requested = Range(
        min(cells.top, cells.bottom),
        min(cells.left, cells.right),
        max(cells.top, cells.bottom),
        max(cells.left, cells.right),
    )
    return table, *within(table, requested)


def _put(before: TextTable, after: TextTable) -> list[Primitive]:
    return [put("tables", after)] if after != before else []


def _with(table: TextTable, changed: dict[tuple[int, int], Cell]) -> TextTable:
    """The table with other cells at (row, which of the row's own cells)."""
    rows = [
        tuple(changed.get((at, number), cell) for number, cell in enumerate(row)) for at, row in enumerate(table.rows)
    ]
    return replace(table, rows=tuple(rows))


@dataclass(slots=True, frozen=True)
class SetCells:
    """Format the cells of a rectangle: ``None`` leaves a value unchanged, ``as_style`` is as the table's style has it
    from then on. ``edges`` are drawn as ``rule`` says, without it as the style has them."""

    cells: Cells
    vertical: CellVertical | None = None
    fill: Fill | None = None
    turn: CellTurn | None = None
    height: CellHeight | None = None
    as_style: Annotated[tuple[AsStyle, ...], Many(2)] = ()
    edges: Annotated[tuple[Edge, ...], Many(len(EDGES))] = ()
    rule: Stroke | None = None
    do: Literal["set-cells"] = "set-cells"
    label = "Format cells"

    def expand(self, job: Job) -> list[Primitive]:
        table, span, cells = resolve_cells(job, self.cells)
        if self.rule is not None and self.rule.style and self.rule.style not in job.rule_styles:
            raise EditError("That rule style is no longer in the job.")
        changes = {name: getattr(self, name) for name in ("vertical", "fill", "turn", "height")}
        looks = {name: value for name, value in changes.items() if value is not None} | dict.fromkeys(self.as_style)
        new_cells = {(one.row, one.number): replace(one.cell, **looks) for one in cells}
        changed = _with(table, new_cells)
        return _put(table, ruled(changed, span, self.edges, self.rule) if self.edges else changed)


def ruled(table: TextTable, span: Range, edges: tuple[Edge, ...], rule: Stroke | None) -> TextTable:
    """The table with the rules of a rectangle drawn so. A cell on the other side of such a rule says nothing of it any
    more."""
    _, cells = within(table, span)
    around = Range(max(span.top - 1, 0), max(span.left - 1, 0), span.bottom + 1, span.right + 1)
    changed: dict[tuple[int, int], Cell] = {}
    selected_edges = set(edges)
    for one in cells:
        at_end = {
            "head": one.row == span.top,
            "foot": one.row + one.down - 1 == span.bottom,
            "left": one.column == span.left,
            "right": one.column + one.across - 1 == span.right,
        }
        sides = {
            side
            for side, ends in at_end.items()
            if (side if ends else "across" if side in ("head", "foot") else "down") in selected_edges
        }
        if sides:
            changed[one.row, one.number] = _sided(one.cell, dict.fromkeys(sides, rule))
    inside = {(one.row, one.number) for one in cells}
    for one in within(table, around)[1]:
        if (one.row, one.number) in inside:
            continue
        beside = {
            "foot": one.row + one.down == span.top and _beside(one.column, one.across, span.left, span.right),
            "head": one.row == span.bottom + 1 and _beside(one.column, one.across, span.left, span.right),
            "right": one.column + one.across == span.left and _beside(one.row, one.down, span.top, span.bottom),
            "left": one.column == span.right + 1 and _beside(one.row, one.down, span.top, span.bottom),
        }
        strokes: dict[str, Stroke | None] = {
            side: None for side, here in beside.items() if here and OPPOSITE[side] in selected_edges
        }
        if strokes and one.cell.rules is not None:
            changed[one.row, one.number] = _sided(one.cell, strokes)
    return _with(table, changed)


def rules_there(table: TextTable, span: Range) -> dict[Edge, set[Stroke | None]]:
    """Return what the cells of a rectangle, and those beside it, say of its rules; None stands for those of the
    style."""
    strokes: dict[Edge, set[Stroke | None]] = {edge: set() for edge in EDGES}
    by_place: dict[tuple[int, int], PlacedCell] = {}
    for one in within(table, Range(max(span.top - 1, 0), max(span.left - 1, 0), span.bottom + 1, span.right + 1))[1]:
        for row in range(one.row, one.row + one.down):
            by_place |= {(row, column): one for column in range(one.column, one.column + one.across)}

    def stroke_at(row: int, column: int, side: str) -> Stroke | None:
        one = by_place.get((row, column))
        return getattr(one.cell.rules, side) if one is not None and one.cell.rules is not None else None

    for row in range(span.top, span.bottom + 1):
        for column in range(span.left, span.right + 1):
            here = by_place[row, column]
            above, before = by_place.get((row - 1, column)), by_place.get((row, column - 1))
            if above is not here:
                edge: Edge = "head" if row == span.top else "across"
                strokes[edge].add(stroke_at(row, column, "head") or stroke_at(row - 1, column, "foot"))
            if before is not here:
                edge = "left" if column == span.left else "down"
                strokes[edge].add(stroke_at(row, column, "left") or stroke_at(row, column - 1, "right"))
        strokes["right"].add(stroke_at(row, span.right, "right") or stroke_at(row, span.right + 1, "left"))
    for column in range(span.left, span.right + 1):
        strokes["foot"].add(stroke_at(span.bottom, column, "foot") or stroke_at(span.bottom + 1, column, "head"))
    return strokes


def _beside(first: int, size: int, begin: int, end: int) -> bool:
    """Return whether all of a cell's side lies along that of the rectangle: of others the heavier rule is drawn."""
    return begin <= first and first + size - 1 <= end


def _sided(cell: Cell, sides: dict[str, Stroke | None]) -> Cell:
    rules = replace(cell.rules or CellRules(), **sides)
    return replace(cell, rules=rules if any(getattr(rules, side.name) is not None for side in fields(rules)) else None)


def _empty(table: TextTable, body: str, near: list[PlacedCell], way: Literal["rows", "columns"]) -> dict[int, Cell]:
    """Empty cells with the formatting of those beside which a new row or column is inserted, by their column or row."""
    cells: dict[int, Cell] = {}
    for one in near:
        first = cell_paragraphs(table, one.row, one.number, body)[0]
        for along in range(one.across if way == "rows" else one.down):
            empty = replace(first, id=story_text.new_id("p"), text="", spans=())
            at = (one.column if way == "rows" else one.row) + along
            cells[at] = replace(one.cell, paragraphs=(empty,), across=1, down=1)
    return cells


@dataclass(slots=True, frozen=True)
class PutInCells:
    """Insert as many rows or columns as are selected, empty and with the formatting of those beside them, before the
    selected ones or after (``behind``) them."""

    cells: Cells
    way: Literal["rows", "columns"] = "rows"
    behind: bool = False
    do: Literal["put-in-cells"] = "put-in-cells"

    @property
    def label(self) -> str:
        return "Insert table rows" if self.way == "rows" else "Insert table columns"

    def expand(self, job: Job) -> list[Primitive]:
        table, span, _ = resolve_cells(job, self.cells)
        rows = self.way == "rows"
        count = span.bottom - span.top + 1 if rows else span.right - span.left + 1
        if rows and len(table.rows) + count > MOST_ROWS:
            raise EditError(f"A table has at most {integer(MOST_ROWS)} rows.")
        if not rows and table.columns + count > MOST_COLUMNS:
            raise EditError(f"A table has at most {MOST_COLUMNS} columns.")
        first, last = (span.top, span.bottom) if rows else (span.left, span.right)
        near = last if self.behind else first
        line = Range(near, 0, near, MOST_COLUMNS) if rows else Range(0, near, MOST_ROWS, near)
        high, wide = len(table.rows), table.columns
        line = replace(line, bottom=min(line.bottom, high - 1), right=min(line.right, wide - 1))
        beside = [one for one in within(table, span)[1] + within(table, line)[1] if line.holds(one)]
        like = _empty(table, job.body, beside, self.way)

        def empty(row: int, column: int) -> Cell:
            cell = like.get(column if rows else row) or Cell((Paragraph("", job.body),))
            fresh = tuple(replace(p, id=story_text.new_id("p")) for p in cell.paragraphs)
            return replace(cell, paragraphs=fresh)

        return _put(table, put_in(table, self.way, last + 1 if self.behind else first, count, empty))


@dataclass(slots=True, frozen=True)
class TakeOutCells:
    """Delete the selected rows or columns."""

    cells: Cells
    way: Literal["rows", "columns"] = "rows"
    do: Literal["take-out-cells"] = "take-out-cells"

    @property
    def label(self) -> str:
        return "Delete table rows" if self.way == "rows" else "Delete table columns"

    def expand(self, job: Job) -> list[Primitive]:
        table = resolve_cells(job, self.cells)[0]
        rows = self.way == "rows"
        first, last = sorted(
            (self.cells.top, self.cells.bottom) if rows else (self.cells.left, self.cells.right)
        )  # the selection, whatever spans it
        count = len(table.rows) if rows else table.columns
        first, last = min(first, count - 1), min(last, count - 1)
        if last - first + 1 == count:
            raise EditError("A table must have at least one cell. To remove the table, delete it in the story.")
        return _put(table, take_out(table, self.way, first, last))


@dataclass(slots=True, frozen=True)
class JoinCells:
    """Merge the selected cells."""

    cells: Cells
    do: Literal["join-cells"] = "join-cells"
    label = "Merge cells"

    def expand(self, job: Job) -> list[Primitive]:
        table, span, cells = resolve_cells(job, self.cells)
        if len(cells) < 2:
            raise EditError("Select several cells to merge them.")
        high = len(table.rows)
        if {_part(table, row, high) for row in (span.top, span.bottom)} != {_part(table, span.top, high)}:
            raise EditError("Cells of head rows, foot rows and body rows cannot be merged with each other.")
        return _put(table, joined(table, resolve_cells(job, self.cells)[1]))


def _part(table: TextTable, row: int, high: int) -> str:
    return "head" if row < table.heads else "foot" if row >= high - table.foots else "rows"


@dataclass(slots=True, frozen=True)
class PartCells:
    """Split the selected cells that span several rows or columns into single ones."""

    cells: Cells
    do: Literal["part-cells"] = "part-cells"
    label = "Split cells"

    def expand(self, job: Job) -> list[Primitive]:
        table, span, cells = resolve_cells(job, self.cells)
        if all(one.across == one.down == 1 for one in cells):
            raise EditError("None of these cells is merged.")
        styles = {(one.row, one.column): cell_paragraphs(table, one.row, one.number, job.body)[-1] for one in cells}

        def empty(row: int, column: int) -> Cell:
            under = max((at for at in styles if at[0] <= row and at[1] <= column), default=None)
            like = styles[under] if under is not None else Paragraph("", job.body)
            return Cell((replace(like, id=story_text.new_id("p"), text="", spans=()),))

        return _put(table, parted(table, span, empty))


@dataclass(slots=True, frozen=True)
class SetCellWords:
    """Set the style and local formatting of every paragraph in the selected cells, as ``SetParagraphs`` does for a
    story."""

    cells: Cells
    style: str | None = None
    para: ParaSpec | None = None
    type: TypeSpec | None = None
    clear: bool = False
    do: Literal["set-cell-words"] = "set-cell-words"
    label = "Format text of cells"

    def expand(self, job: Job) -> list[Primitive]:
        table, _, cells = resolve_cells(job, self.cells)
        if self.style is not None and self.style not in job.paragraph_styles:
            raise EditError("That style is no longer in the job.")
        check_specs(self.type, self.para)
        cascade, new_cells = Cascade(job), {}
        for one in cells:
            words = cell_paragraphs(table, one.row, one.number, job.body)
            under = in_place(job, table, one.row, one.column)
            changed = tuple(set_so(p, cascade, self, under) for p in words)
            if changed != words:
                new_cells[one.row, one.number] = replace(one.cell, paragraphs=changed)
        return _put(table, _with(table, new_cells))


@dataclass(slots=True, frozen=True)
class SetColumns:
    """Change width and alignment of the columns of the selected cells: ``None`` leaves a value unchanged; ``as_words``
    has the words stand as their paragraphs say."""

    cells: Cells
    size: ColumnSize | None = None
    value: ColumnValue | None = None
    align: ColumnAlign | None = None
    as_words: bool = False
    do: Literal["set-columns"] = "set-columns"
    label = "Change columns"

    def expand(self, job: Job) -> list[Primitive]:
        table, span, _ = resolve_cells(job, self.cells)
        sizes = [*table.sizes, *[TableColumn()] * (span.right + 1 - len(table.sizes))]
        changes = {name: getattr(self, name) for name in ("size", "value", "align")}
        values = {name: value for name, value in changes.items() if value is not None}
        for at in range(span.left, span.right + 1):
            sizes[at] = replace(sizes[at], **values)
            if self.as_words:
                sizes[at] = replace(sizes[at], align=None)
        while sizes and sizes[-1] == TableColumn():
            sizes.pop()
        return _put(table, replace(table, sizes=tuple(sizes)))


@dataclass(slots=True, frozen=True)
class ShowInCell:
    """Insert a picture or a code into a cell of a table, on a line of its own after the words. ``file`` adds the
    picture to the job; ``message`` gives the content of a code by its parts."""

    table: Key
    row: Row
    number: Column
    width: float
    height: float
    picture: Key | None = None
    file: PictureFile | None = None
    code: Code | None = None
    message: Message | None = None
    do: Literal["show-in-cell"] = "show-in-cell"

    @property
    def label(self) -> str:
        return "Place picture" if self.picture else "Add code"

    def expand(self, job: Job) -> list[Primitive]:
        table = job.tables.get(self.table)
        if table is None or self.row >= len(table.rows) or self.number >= len(table.rows[self.row]):
            raise EditError("That cell is no longer in the table.")
        check_rect(0.0, 0.0, self.width, self.height, SMALLEST_FRAME)
        edits: list[Primitive] = []
        if self.picture is not None:
            file, edits = add_picture(job, self.file, self.picture)
            name, alt = file.name or "Picture", file.alt
            content: Picture | Code = framed_anew(file)
        elif self.code is not None:
            text = written(self.message) if self.message else self.code.text
            name, alt = "Code", ""
            content = replace(self.code, text=normal(self.code.form, text))
        else:
            raise EditError("Select a picture, or type the content of the code.")
        place = Pose(Rect(0.0, 0.0, self.width, self.height))
        inlay = Object(story_text.new_id("f"), name, place, content, layer=base_layer(job), make=FrameSpec(), alt=alt)
        words = cell_paragraphs(table, self.row, self.number, job.body)
        spans = (Span(0, 1, object=Anchor("frame", inlay.id)),)
        last = words[-1]
        line = replace(last, id=last.id if not last.text else story_text.new_id("p"), text=OBJECT, spans=spans)
        paragraphs = (*(words[:-1] if not last.text else words), line)
        changed = with_words(table, self.row, self.number, paragraphs)
        return [*edits, put("inlays", inlay), put("tables", changed)]


@dataclass(slots=True, frozen=True)
class ClearCells:
    """Delete the words of the selected cells; the cells stay, with the formatting of their first paragraphs."""

    cells: Cells
    do: Literal["clear-cells"] = "clear-cells"
    label = "Clear cells"

    def expand(self, job: Job) -> list[Primitive]:
        table, _, cells = resolve_cells(job, self.cells)
        changed = {}
        for one in cells:
            first = cell_paragraphs(table, one.row, one.number, job.body)[0]
            if len(one.cell.paragraphs) > 1 or first.text:
                changed[one.row, one.number] = replace(one.cell, paragraphs=(replace(first, text="", spans=()),))
        return _put(table, _with(table, changed))
