"""Where scripts and server must say the same: run in Node, held against the core."""

from __future__ import annotations

import json
import random
import shutil
import subprocess
import sys
from collections.abc import Callable
from dataclasses import astuple, fields, is_dataclass
from pathlib import Path
from typing import Any, Literal, get_args, get_origin, get_type_hints

import pytest

from lexigon.core import lengths
from lexigon.core.document.cascade import FrameSetting, Setting, TypeSetting
from lexigon.core.document.model import (
    Adjustment,
    Box,
    Code,
    CutOut,
    Fill,
    FrameSpec,
    ListMark,
    Outline,
    Paragraph,
    ParaRule,
    ParaSpec,
    Picture,
    RuleStyle,
    Shadow,
    Story,
    Stroke,
    Text,
    TypeSpec,
    Wrap,
)
from lexigon.core.editing.intents import Place, ReplaceText
from lexigon.core.errors import LexigonError
from lexigon.core.geometry import Rect, mapped_about
from lexigon.core.path import nodes
from lexigon.core.path.shapes import ellipse_path, line_path, rect_path
from lexigon.core.path.steps import steps_of
from tests.core.helpers import book

JS = Path(__file__).parents[2] / "src/lexigon/bench/static/bench/js"
NODE = shutil.which("node", path=str(Path(sys.executable).parent)) or shutil.which("node")
pytestmark = pytest.mark.skipif(not NODE, reason="Node is not installed: it comes with ./lexigon test")


def run(module: str, expression: str, given: Any = None) -> Any:
    """What an expression over a module ``m`` and ``given`` comes to."""
    script = (
        f"import * as m from {json.dumps((JS / module).as_uri())}; const given = {json.dumps(given)}; "
        f"console.log(JSON.stringify({expression}))"
    )
    command = [NODE or "", "--input-type=module", "-e", script]
    return json.loads(subprocess.run(command, check=True, capture_output=True, text=True).stdout)


TYPED = [
    "12",
    "12 mm",
    "6in + 6in + 0.338in",
    "105mm*2",
    "(1in-3mm)/2",
    "3p6",
    "3p6 + 2pt",
    "-4",
    "1,5 cm",
    "2 * (3 + 4)",
    "6in + 3",
    "96px",
    "½",
    "12 furlongs",
    "2mm*3mm",
    "5/0",
    "5/2in",
    "(3",
    "3)",
    "",
    "wide",
    "4 5",
    '6"',
    "1e5",
]


def agree(reader: str, texts: list[str], core: Callable[[str, str], Any]) -> None:
    """What an expression over a ``text`` reads in the browser, the core reads too; or both read nothing."""
    read = f"given.map((text) => {{ try {{ return {reader}; }} catch {{ return null; }} }})"
    for text, found in zip(texts, run("board/numbers.js", read, texts), strict=True):
        try:
            wanted = pytest.approx(core(text, "mm"))
        except LexigonError:
            wanted = None
        assert found == wanted, text


def test_the_board_reads_lengths_as_the_server_does() -> None:
    """Two parsers, one in the browser for typing in the slip, one on the server: they must agree on every text."""
    agree("m.parseLength(text, 'mm')", TYPED, lengths.parse)


def test_the_board_reads_changes_of_lengths_as_the_server_does() -> None:
    changes = ["+2mm", "*0.5", " / 4", "×1,5 + 1in", "+-3", "*2mm", "*", "/0", "++2", "+2 furlongs", "*2*3"]
    agree("((c) => [c.times, c.plus])(m.readChange(text, 'mm'))", [*TYPED, *changes], lengths.change)
    assert lengths.change("*2 + 1mm", "mm") == pytest.approx((2, 72 / 25.4))
    assert lengths.change("+-3mm") == pytest.approx((1, -3 * 72 / 25.4))


def test_the_board_turns_boxes_as_the_core_does() -> None:
    """And takes a point back by the inverse; on the second page of a spread everything lies further to the right."""
    chance = random.Random(5)
    boxes = [
        {name: chance.uniform(4, 300) for name in "xywh"}
        | {"rotation": chance.uniform(0, 360), "skew": chance.uniform(-60, 60), "mirrored": chance.random() < 0.5}
        for _ in range(20)
    ]
    told = run(
        "board/matrix.js",
        "given.map((b) => { const m1 = m.mapOf(b), p = { x: 7, y: -3 }, far = m.beside(m1, 100); "
        "return [m1, m.applied(m.inverse(m1), m.applied(m1, p)), m.applied(far, { x: 107, y: -3 })]; })",
        boxes,
    )
    for box, (map_, back, beside) in zip(boxes, told, strict=True):
        rect = Rect(box["x"], box["y"], box["w"], box["h"])
        wanted = mapped_about(rect, box["rotation"], box["skew"], box["mirrored"])
        assert map_ == pytest.approx(astuple(wanted))
        assert (back["x"], back["y"]) == pytest.approx((7, -3))
        x, y = wanted.apply(7, -3)
        assert (beside["x"], beside["y"]) == pytest.approx((x + 100, y))
    assert run("board/matrix.js", "m.mapOf({ x: 1, y: 2, w: 3, h: 4 })") is None


KINDS: dict[str, type] = (
    {"type": TypeSetting, "para": Setting, "rule": Stroke}
    | dict.fromkeys(("holds", "frame", "edging", "cornering", "throwing", "wrap"), FrameSetting)
    | {"adjust": Picture, "code": Code}
)
WITHIN: dict[str, type] = {
    "box": Box,
    "fill": Fill,
    "stroke": Stroke,
    "column_rule": Stroke,
    "rule_above": ParaRule,
    "rule_below": ParaRule,
    "list": ListMark,
    "wrap": Wrap,
    "shadow": Shadow,
    "outline": Outline,
    "adjust": Adjustment,
    "ink": Fill,
    "second": Fill,
    "cut": CutOut,
}
ASKED = {"adjust.cut.kind"}
"""What the slip asks and the model does not keep: whether anything is cut out, and white or another colour."""
OF_THE_FRAME = {"fit_sizes", "outline", "along", "along_from"}
"""What a frame style does not give."""


def test_every_field_of_the_slip_is_a_value_of_the_model() -> None:
    """Of the setting that the group of fields is for; a rule style's are within its stroke."""
    listed = (
        "Object.entries(m.SECTIONS).map(([of, all]) => [of, all.flatMap(({ fields }) => fields.map(({ path }) => "
        "path)).filter(Boolean)])"
    )
    found = run("board/sections.js", listed)
    assert {of for of, _ in found} == set(KINDS)
    for of, paths in found:
        for path in set(paths) - ASKED:
            kind: Any = KINDS[of]
            for name in path.split("."):
                if name.isdigit() or name == "all" or name in OF_THE_FRAME or (of == "rule" and name == "stroke"):
                    kind = WITHIN[name] if name == "outline" else kind
                    continue
                assert is_dataclass(kind), f"{of}: {path}"
                assert name in {f.name for f in fields(kind)}, f"{of}: {path}"
                kind = WITHIN.get(name, object)


SPECS: dict[str, type] = {
    "type": TypeSpec,
    "para": ParaSpec,
    "rule": RuleStyle,
    "adjust": Picture,
    "code": Code,
} | dict.fromkeys(("holds", "frame", "edging", "cornering", "throwing", "wrap"), FrameSpec)
OF_OBJECTS: dict[str, Any] = {"outline": Outline, "along": Text, "fit": Text}
"""Values that the slip offers with those of a frame style, by the class that has them."""


def literals_of(hint: Any) -> set[Any]:
    """The values of a type: those of its literals, true and false of a bool; empty for a type of anything."""
    if hint is bool:
        return {True, False}
    if get_origin(hint) is Literal:
        return set(get_args(hint))
    return set().union(*map(literals_of, get_args(hint))) if get_args(hint) else set()


def hint_of(spec: type, path: str) -> Any:
    """The type of a value of a class, by its path; ``all`` or a number is one of several equal values."""
    hint: Any = OF_OBJECTS.get(path.split(".")[0], spec) if spec is FrameSpec else spec
    for name in path.split(".")[hint is Outline :]:
        classes = [one for one in (hint, *get_args(hint)) if is_dataclass(one)]
        hint = get_type_hints(classes[0])[name] if classes else hint
    return hint


def test_choices_of_the_slip_are_the_values_of_the_model() -> None:
    """No value of the model is missing among the choices, and none is offered that it does not have."""
    offered = "fields.filter(({ path, choices, kind }) => path && kind === 'choice' && Array.isArray(choices))"
    listed = (
        f"Object.entries(m.SECTIONS).flatMap(([of, all]) => all.flatMap(({{ fields }}) => {offered}.map("
        "({ path, choices }) => [of, path, choices.map(([value]) => value)])))"
    )
    compared = 0
    for of, path, values in run("board/sections.js", listed):
        if path in ASKED:
            continue
        known = literals_of(hint_of(SPECS[of], path))
        assert not known or set(values) == known, f"{of}: {path}"
        compared += bool(known)
    assert compared > 20


def test_the_board_draws_outlines_as_the_core_keeps_them() -> None:
    """While nodes are dragged: the data of lines, a moved node, a handle that takes the other along, the nearest
    place."""
    steps = (*ellipse_path(Rect(10, 20, 90, 40)), *rect_path(Rect(30, 30, 20, 10)), *line_path(0, 0, 5, 70))
    lines = nodes.lines_of(steps)
    given = [
        {
            "closed": line.closed,
            "nodes": [{"at": n.at, "before": n.before, "after": n.after, "smooth": n.smooth} for n in line.nodes],
        }
        for line in lines
    ]
    told = run(
        "board/outline.js",
        "({ data: given.map(m.dataOf), moved: m.dataOf(m.movedNodes(given[0], (n) => n === 2, 7, -3)), turned: "
        "m.dataOf({ ...given[0], nodes: [m.withHandle(given[0].nodes[0], 'after', [130, 60], false), "
        "...given[0].nodes.slice(1)] }), alone: m.dataOf({ ...given[0], nodes: [m.withHandle(given[0].nodes[0], "
        "'after', [130, 60], true), ...given[0].nodes.slice(1)] }), near: m.nearest(given, [40, 29]) })",
        given,
    )

    def same(data: str, wanted: nodes.Lines) -> None:
        for (step, points), (step_, points_) in zip(steps_of(data), nodes.steps_of_lines(wanted), strict=True):
            assert step == step_
            for point, point_ in zip(points, points_, strict=True):
                assert point == pytest.approx(point_, abs=1e-3)

    same("".join(told["data"]), lines)
    same(told["moved"], nodes.move(lines, [(0, 2)], 7, -3)[:1])
    same(told["turned"], nodes.put_handle(lines, (0, 0), "after", (130, 60))[:1])
    same(told["alone"], nodes.put_handle(lines, (0, 0), "after", (130, 60), alone=True)[:1])
    assert (told["near"]["line"], told["near"]["node"]) == (1, 0)
    assert told["near"]["t"] == pytest.approx(0.5, abs=1e-3)
    assert told["near"]["far"] == pytest.approx(1.0)


def test_elements_of_a_template_are_asked_for_by_whom_they_belong_to() -> None:
    """By their ids in one module a place: others import them from there, so that what is gone is missed at once and in
    one place."""
    at_home = {
        "board/rooms.js",
        "check/rooms.js",
        "flatplan/rooms.js",
        "flatplan/slip.js",
        "merge/rooms.js",
        "strip.js",
        "navigator.js",
        "compare.js",
        "brief.js",
    }
    asking = {path.relative_to(JS).as_posix(): path.read_text() for path in JS.rglob("*.js")}
    assert {name for name, text in asking.items() if "getElementById" in text} == {"dom.js", "http.js"}
    own = {name for name, text in asking.items() if " room(" in text or "(room(" in text} - {"dom.js"}
    assert {name for name in own if not name.startswith("writing/")} <= at_home


def test_typing_makes_the_same_of_paragraphs_in_the_browser_and_in_the_core() -> None:
    """Words are typed on in the browser before there is an answer: paragraphs, their ids and the caret must be what the
    core makes."""
    dice = random.Random(29)
    cases = []
    for _ in range(400):
        count = dice.randint(1, 4)
        rows = [
            {
                "id": f"p{n}",
                "text": "".join(dice.choice("ab \u2028\U0001d50a") for _ in range(dice.choice((0, 0, 1, 3, 5)))),
            }
            for n in range(count)
        ]
        ends = []
        for _ in range(2):
            row = dice.choice(rows)
            ends.append({"paragraph": row["id"], "offset": dice.randint(0, len(row["text"]))})
        if dice.random() < 0.4:
            ends[1] = ends[0]
        text = "".join(dice.choice("xy\n\U0001d50a") for _ in range(dice.randint(0, 3)))
        ids = [f"n{n}" for n in range(text.count("\n"))]
        cases.append(
            {"rows": rows, "typed": {"story": "main", "start": ends[0], "end": ends[1], "text": text, "ids": ids}}
        )
    made = run("typing/words.js", "given.map(({ rows, typed }) => m.applyTyping(rows, typed))", cases)
    for case, step in zip(cases, made, strict=True):
        typed = case["typed"]
        job = book()
        job.stories["main"] = Story("main", "Main", [Paragraph(row["id"], "body", row["text"]) for row in case["rows"]])
        intent = ReplaceText(
            "main", Place(**typed["start"]), Place(**typed["end"]), typed["text"], ids=tuple(typed["ids"])
        )
        edits = intent.expand(job)
        for edit in edits:
            edit.apply(job)
        rows = list(case["rows"])
        rows[step["at"] : step["at"] + step["remove"]] = step["rows"]
        assert [(row["id"], row["text"]) for row in rows] == [(p.id, p.text) for p in job.stories["main"].paragraphs], (
            case
        )
        tail = sorted(locate_all(case["rows"], typed))[1]
        behind = len(case["rows"][tail[0]]["text"]) - tail[1]
        at = next(row for row in rows if row["id"] == step["caret"]["paragraph"])
        assert len(at["text"]) - step["caret"]["offset"] == behind or not typed["text"], case


def locate_all(rows: list[dict[str, Any]], typed: dict[str, Any]) -> list[tuple[int, int]]:
    order = {row["id"]: n for n, row in enumerate(rows)}
    return [(order[typed[side]["paragraph"]], typed[side]["offset"]) for side in ("start", "end")]
