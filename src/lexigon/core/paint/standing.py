"""Who stands where on a page, for the board: frames and their lines, in the order in which ``svg`` draws them.

Plain values, ready for JSON; what is as usual is left out. Lengths in points.
"""

from __future__ import annotations

from typing import Any

from lexigon.core.paint.page import FrameArt, LineArt, PageArt
from lexigon.core.paint.pieces import Piece, pieces


def _told(**values: Any) -> dict[str, Any]:
    """Only what is worth saying."""
    return {name: value for name, value in values.items() if value not in (None, False, "", 0, ())}


def standing(page: PageArt) -> list[dict[str, Any]]:
    """The frames of a page.

    Each has ``id``, ``x``, ``y``, ``w``, ``h``, ``name``, ``role``, ``kind``, and ``lines``; where it applies ``story``, its
    ``number`` in the flow, ``master`` (it is the master's), ``field`` (its text is made of fields), ``overset`` (words and
    lines without a place), ``group``, ``rotation``, and ``turn``, the degrees its words are turned in all.
    """
    return [_frame(frame) for frame in page.frames]


def _frame(art: FrameArt) -> dict[str, Any]:
    frame, rect = art.frame, art.rect
    return {
        "id": frame.id, "x": round(rect.x, 4), "y": round(rect.y, 4), "w": round(rect.width, 4), "h": round(rect.height, 4),
        "name": frame.name or "Text frame", "role": frame.role, "kind": frame.kind, "lines": [_line(line) for line in art.lines],
        **_told(
            story=art.story, number=art.number, master=art.inherited, field=art.is_field, group=frame.group, alt=frame.alt,
            rotation=round(frame.rotation, 4), turn=round(frame.turn + frame.rotation, 4),
            overset={"words": art.overset.words, "lines": art.overset.lines} if art.overset else None,
        ),
    }  # fmt: skip


def _line(line: LineArt) -> dict[str, Any]:
    """``p`` the paragraph, ``s`` and ``e`` the characters it shows; ``x``, ``y`` its baseline's beginning, ``a`` and ``d`` how far
    it reaches above and below."""
    made: dict[str, Any] = {
        "p": line.paragraph, "s": line.start, "e": line.end, "x": round(line.x, 4), "y": round(line.baseline, 4),
        "a": round(line.ascent, 4), "d": round(line.descent, 4),
        "texts": [_text(piece) for run in line.runs for piece in pieces(run)],
    }  # fmt: skip
    if line.last:
        made["last"] = True
    if line.forced:
        made["forced"] = True
    if line.starts:
        made["starts"] = line.starts
    return made


def _text(piece: Piece) -> dict[str, Any]:
    """``s`` where its characters begin, ``n`` how many it stands for where it says something else, ``k`` how much wider it is
    drawn than it measures."""
    made: dict[str, Any] = {"s": piece.start}
    if piece.length is not None:
        made["n"] = piece.length
    if abs(piece.wide - 1) >= 1e-9:
        made["k"] = float(f"{piece.wide:.8g}")
    if piece.leader:
        made["leader"] = True
    if piece.hyphen:
        made["hyphen"] = True
    return made
