"""The order of objects on a page for the board: frames and their lines, as ``svg`` draws them.

Plain values, ready for JSON; what is as usual is left out. Lengths in points.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import astuple, dataclass
from typing import Any

from lexigon.core.document.model import LINE, Layer, Object, Pose, pose_of
from lexigon.core.document.outlines import outline_path
from lexigon.core.fileformat.values import plain
from lexigon.core.paint.along import stops
from lexigon.core.paint.page import CellArt, FrameArt, GroupArt, LineArt, PageArt
from lexigon.core.paint.pieces import Piece, pieces
from lexigon.core.path.running import Run
from lexigon.core.path.steps import data_of, mapped_steps
from lexigon.core.type.line import LineRun


def _non_default(**values: Any) -> dict[str, Any]:
    """Only what is worth saying."""
    return {name: value for name, value in values.items() if value not in (None, False, "", 0, ())}


def standing(page: PageArt) -> list[dict[str, Any]]:
    """The frames of a page.

    Each has ``id``, ``x``, ``y``, ``w``, ``h``, ``name``, ``role`` ("main", "note", "inlay", "cell" or ""), ``kind``
    ("text", "picture", "code", "rule" or "shape"), ``layer``, and ``lines``; where it applies ``story``, its ``number``
    in the flow, ``master`` (it is the master's), ``cited`` (the place of a note's number, or of a cell's table),
    ``cell`` (its ``row``, ``column``, ``across`` and ``down`` in its table of so many ``rows`` and ``columns``, the
    ``room`` along its lines, whether words of it are ``before`` or ``behind`` it in another column), ``field`` (its
    text is made of fields), ``overset`` (how much text does not fit, in a ``short`` and a ``long`` form), ``groups``
    (id and name of those it is in, the outermost first, with the ``box`` of each and how it is mixed or clipped),
    ``locked`` (it or a group it is in), ``held`` (its layer is locked), ``outline`` (path data, where it is no plain
    box; ``hollow`` if it leaves out what lies within an even number of its rings), ``bare`` (a shape that paints
    nothing but its stroke), ``stroke`` (its weight), ``silent`` (it does not print), ``along`` (its words run along its
    outline), ``bindings`` (what records set on it: pairs of a property and a template), ``repeat`` (how it is
    repeated for records), ``rotation``, ``skew`` and ``mirrored``, and ``map``, the matrix from where its words are
    set to the page.
    """
    return [description for layer in page.layers for description in _parts(layer.parts, layer.layer, _Within())]


@dataclass(slots=True, frozen=True)
class _Within:
    """The properties that something takes from its groups."""

    groups: tuple[tuple[Any, ...], ...] = ()
    locked: bool = False
    prints: bool = True


def _parts(parts: Iterable[FrameArt | GroupArt], layer: Layer, within: _Within) -> Iterator[dict[str, Any]]:
    for part in parts:
        if isinstance(part, GroupArt):
            one = part.object
            inner = _Within(
                (*within.groups, (one.id, one.name or "Group", *_mixed(one))),
                within.locked or one.locked,
                within.prints and one.prints,
            )
            yield from _parts(part.parts, layer, inner)
        else:
            yield _frame(part, layer, within)


def _mixed(one: Object) -> tuple[dict[str, Any], ...]:
    """The ``box`` of a group before it is rotated (x, y, width, height, and its rotation in degrees), and how it is
    mixed; ``cut`` is the outline that cuts it off, as SVG path data on the page, and ``hollow`` that it leaves out what
    lies in an even number of its rings."""
    group, pose = one.group, pose_of(one)
    values: dict[str, Any] = {}
    if pose is not None:
        if one.repeat is not None:
            values["repeat"] = plain(one.repeat)
        values["box"] = [round(value, 4) for value in (*astuple(pose.rect), pose.rotation)]
    if group is None or group.plain:
        return (values,)
    values |= {"opacity": group.opacity, "blend": group.blend}
    if group.clip is not None and one.place is not None:
        steps, even_odd = outline_path(group.clip, one.place.rect)
        steps = mapped_steps(steps, one.place.map) if one.place.map else steps
        values |= {"cut": data_of(steps, 3), "hollow": even_odd}
    return (values,)


def kind_of(frame: Object) -> str:
    """Return what an object is to the board: by what it holds, else by its outline."""
    kind = "text" if frame.text else "picture" if frame.picture else "code" if frame.code else ""
    return kind or ("rule" if frame.outline == LINE else "shape")


def _frame(art: FrameArt, layer: Layer, within: _Within) -> dict[str, Any]:
    frame, rect, map_ = art.frame, art.rect, art.words_map
    pose = frame.place or Pose(rect)
    if art.map is not None and art.beyond is not None:
        pose = Pose.of(rect, art.map)
        rect = pose.rect
    kind = kind_of(frame)
    run = art.runs_along
    outline, hollow = _outline(art)
    return {
        "id": frame.id,
        "x": round(rect.x, 4),
        "y": round(rect.y, 4),
        "w": round(rect.width, 4),
        "h": round(rect.height, 4),
        "name": frame.name or f"{kind} frame".capitalize(),
        "role": art.role or ("main" if frame.main else ""),
        "kind": kind,
        "layer": layer.id,
        "lines": [_line(line) for line in art.lines]
        if run is None
        else [_curved(line, art, run) for line in art.lines[:1]],
        **_non_default(
            cited=dict(zip(("story", "p", "o"), art.cited, strict=True)) if art.cited else None,
            cell=_cell(art.cell) if art.cell else None,
            story=art.story,
            number=art.number,
            master=art.inherited,
            field=art.is_field,
            groups=within.groups,
            alt=frame.alt,
            repeat=plain(frame.repeat) if frame.repeat else None,
            bindings=tuple((one.property, one.value) for one in frame.bindings),
            along=run is not None,
            rotation=round(pose.rotation, 4),
            skew=round(pose.skew, 4),
            mirrored=pose.mirrored,
            map=[round(v, 6) for v in astuple(map_)] if map_ else None,
            locked=frame.locked or within.locked,
            held=layer.locked,
            silent=not (frame.prints and within.prints and layer.prints),
            outline=outline,
            hollow=hollow,
            bare=kind in ("shape", "rule") and not art.filled,
            stroke=round(art.stroke, 3),
            overset={"short": art.overset.short, "long": f"{art.overset.long} {art.overset.fits}"}
            if art.overset
            else None,
        ),
    }


LONGEST_OUTLINE = 20_000
"""The most characters of path data that are sent to the board; a longer outline is hit by its box."""


def _outline(art: FrameArt) -> tuple[str, bool]:
    """The outline as path data before the frame is turned, and whether it is hollow; "" for a plain box."""
    if art.frame.outline is None:
        return "", False
    steps, even_odd = outline_path(art.frame.outline, art.rect)
    data = data_of(steps, 2)
    return (data, even_odd) if len(data) <= LONGEST_OUTLINE else ("", False)


def _cell(cell: CellArt) -> dict[str, Any]:
    values = {name: getattr(cell, name) for name in ("row", "column", "across", "down", "rows", "columns")} | {
        "room": round(cell.room, 2)
    }
    return values | _non_default(before=cell.before, behind=cell.behind)


def _line(line: LineArt) -> dict[str, Any]:
    """``p`` the paragraph, ``s`` and ``e`` the characters it shows; ``x``, ``y`` its baseline's beginning, ``a`` and
    ``d`` how far it reaches above and below."""
    values: dict[str, Any] = {
        "p": line.paragraph,
        "s": line.start,
        "e": line.end,
        "x": round(line.x, 4),
        "y": round(line.baseline, 4),
        "a": round(line.ascent, 4),
        "d": round(line.descent, 4),
        "texts": [description for run in line.runs for description in _texts(run)],
    }
    if line.last:
        values["last"] = True
    if line.forced:
        values["forced"] = True
    if line.table:
        values["table"] = line.table
    if line.starts:
        values["starts"] = line.starts
    return values


def _curved(line: LineArt, art: FrameArt, run: Run) -> dict[str, Any]:
    """A line that runs along an outline: ``stops`` are the places between its characters, each [offset, x, y, angle in
    radians]; ``down`` is how far below the outline it is set, ``words`` what it says."""
    text = art.frame.text
    assert text is not None
    stops_, down = stops(line.runs, art.rect.x, text, run, line.start)
    words = "".join("\ufffc" if one.field else one.text for one in line.runs)
    return {
        "p": line.paragraph,
        "s": line.start,
        "e": line.end,
        "x": round(stops_[0][1], 4),
        "y": round(stops_[0][2], 4),
        "a": round(line.ascent, 4),
        "d": round(line.descent, 4),
        "last": True,
        "texts": [],
        "words": words,
        "down": round(down, 4),
        "stops": [[offset, round(x, 3), round(y, 3), round(angle, 5)] for offset, x, y, angle in stops_],
    }


def _texts(run: LineRun) -> Iterator[dict[str, Any]]:
    """The elements a run is drawn as. A frame in the line is none: ``w`` is its width there, from ``x`` on."""
    if run.box is not None:
        yield {"s": run.start, "n": 1, "x": round(run.x, 4), "w": round(run.width, 4)}
    else:
        yield from map(_text, pieces(run))


def _text(piece: Piece) -> dict[str, Any]:
    """``s`` where its characters begin, ``n`` how many it stands for where it says something else, ``k`` how much wider
    it is drawn than it measures."""
    values: dict[str, Any] = {"s": piece.start}
    if piece.length is not None:
        values["n"] = piece.length
    if abs(piece.wide - 1) >= 1e-9:
        values["k"] = float(f"{piece.wide:.8g}")
    if piece.leader:
        values["leader"] = True
    if piece.hyphen:
        values["hyphen"] = True
    return values
