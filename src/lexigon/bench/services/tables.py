"""Tables for the board: the cells of the sheet, and the common properties of selected cells."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict, replace
from typing import Any

from lexigon.bench.services.jobs import OpenJob
from lexigon.core import lengths
from lexigon.core.document.model import OBJECT, Anchor, Job, Paragraph, Span, Stroke, TableColumn, TextTable
from lexigon.core.editing.intents import Cells
from lexigon.core.editing.intents.tables.cells import resolve_cells, rules_there
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.overset import overset_of
from lexigon.core.manuscript.richtext import carried, to_html
from lexigon.core.tables.delimited import written
from lexigon.core.tables.links import words_of
from lexigon.core.tables.shapes import part_of

VARIOUS = "various"


def table_of(job: Job, key: str) -> TextTable:
    """A table of a job. Raises LexigonError where it is gone."""
    table = job.tables.get(key)
    if table is None:
        raise LexigonError("That table is no longer in the job.")
    return table


def about_table(live: OpenJob, key: str) -> dict[str, Any]:
    """All of a table for editing: the words of each cell, a line for each paragraph, and its own settings; and how much
    of the story around it is overset."""
    table = table_of(live.job, key)
    rows = [
        [
            {
                "words": "\n".join(p.text for p in cell.paragraphs),
                "across": cell.across,
                "down": cell.down,
                "vertical": cell.vertical,
                "fill": asdict(cell.fill) if cell.fill else None,
                "turn": cell.turn,
                "height": cell.height,
                "rules": plain(cell.rules) if cell.rules else None,
            }
            for cell in row
        ]
        for row in table.rows
    ]
    values = {
        name: getattr(table, name) for name in ("name", "heads", "foots", "style", "continued", "source", "divide")
    }
    return values | {"rows": rows, "sizes": [asdict(one) for one in table.sizes], "overset": _overset(live, key)}


def _overset(live: OpenJob, table: str) -> str:
    """Return a message on how much of a table's story is overset, or "" if the whole table is placed."""
    for flow in live.workspace.composition.flows.values():
        if not flow.overset or (over := overset_of(flow)) is None:
            continue
        left = flow.paragraphs[flow.end.paragraph :]
        if any(p.shown.table is not None and p.shown.table.id == table for p in left):
            return f"Overset: {over.long} {over.fits}. Enlarge the frame, or link another frame."
    return ""


def about_cells(live: OpenJob, cells: Cells) -> dict[str, Any]:
    """Return what the cells of a rectangle have in common, ``VARIOUS`` where they have nothing; None or "" is as the
    table's style has it."""
    job, unit = live.job, live.job.brief.unit
    table, span, cells_ = resolve_cells(job, cells)
    columns = [table.sizes[at] if at < len(table.sizes) else TableColumn() for at in range(span.left, span.right + 1)]
    size, value = (_common(getattr(column, name) for column in columns) for name in ("size", "value"))
    if VARIOUS in (size, value):
        value = VARIOUS
    else:
        value = lengths.show(value, unit) if size == "fixed" else f"{value:g}"
    height = _common(one.cell.height for one in cells_)
    fill = _common(one.cell.fill for one in cells_)
    return {
        "table": table.id,
        "name": table.name,
        "count": len(cells_),
        "rows": len(table.rows),
        "columns": table.columns,
        "span": asdict(span),
        "joined": any(one.across > 1 or one.down > 1 for one in cells_),
        "vertical": _common(one.cell.vertical or "" for one in cells_),
        "turn": _common(one.cell.turn for one in cells_),
        "height": height if height == VARIOUS else lengths.show(height, unit) if height else "",
        "fill": fill if fill == VARIOUS else asdict(fill) if fill else None,
        "rules": {edge: _rule(stroke) for edge, stroke in rules_there(table, span).items()},
        "size": size,
        "value": value,
        "align": _common(column.align or "" for column in columns),
    }


def copied_cells(live: OpenJob, cells: Cells) -> dict[str, str]:
    """Selected cells for the clipboard: as text for a spreadsheet, and as a table with everything in it."""
    table, span, _ = resolve_cells(live.job, cells)
    part = part_of(table, span)
    job = replace(live.job, tables=live.job.tables | {part.id: part})
    paragraph = Paragraph("copied", job.body, OBJECT, (Span(0, 1, object=Anchor("table", part.id)),))
    html = to_html(carried([paragraph], job), live.workspace.composition.cascade)
    return {"text": written([[words.replace(OBJECT, "") for words in row] for row in words_of(part)]), "html": html}


def _common(values: Iterable[Any]) -> Any:
    distinct = list(dict.fromkeys(values))
    return distinct[0] if len(distinct) == 1 else VARIOUS


def _rule(strokes: set[Stroke | None]) -> Any:
    """Return what is said of a rule: None as the style has it, "" where there is no such rule."""
    if len(strokes) != 1:
        return VARIOUS if strokes else ""
    (stroke,) = strokes
    if stroke is None:
        return None
    return {
        "weight": lengths.show(stroke.weight or 0.0, "pt"),
        "swatch": stroke.swatch or "",
        "style": stroke.style or "",
    }
