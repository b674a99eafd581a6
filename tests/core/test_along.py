"""Words along an outline, by closed form on circles and straight lines."""

from __future__ import annotations

from math import atan2, cos, degrees, hypot, pi, sin

import pytest

from lexigon.core.document.model import FrameSpec, Object, Outline, Stroke, TypeSpec
from lexigon.core.editing.intents import AddPath, AddShape, ChangeFrame, FormatText, Place, PutAlong, ReplaceText
from lexigon.core.errors import LexigonError
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.paint.display import Display
from lexigon.core.paint.items import Glyphs, Group
from lexigon.core.paint.page import FrameArt
from lexigon.core.paint.standing import standing
from lexigon.core.path.running import run_of
from lexigon.core.path.shapes import ellipse_path, line_path, rect_path
from tests.core.helpers import book


@pytest.fixture
def workspace() -> Workspace:
    return Workspace(book(facing=False))


def last(workspace: Workspace) -> Object:
    return workspace.job.pages[0].objects[-1]


def art(workspace: Workspace) -> FrameArt:
    display = Display(workspace.composition)
    return next(one for one in display.page(0).frames if one.frame.id == last(workspace).id)


def letters(workspace: Workspace) -> list[tuple[str, float, float, float]]:
    """Each letter, where the middle of its foot stands, and how it is turned, in degrees."""
    found = []
    for item in art(workspace).group(Display(workspace.composition).palette).items:
        if isinstance(item, Group) and item.transform:
            (glyphs,) = item.items
            assert isinstance(glyphs, Glyphs)
            x, y = item.transform.apply(0.0, glyphs.baseline)
            found.append((glyphs.run.text, x, y, degrees(atan2(item.transform.b, item.transform.a))))
    return found


def test_places_on_a_circle_and_a_line() -> None:
    ring = run_of(ellipse_path(Rect(100, 100, 80, 80)))
    assert ring
    assert ring.length == pytest.approx(2 * pi * 40, rel=1e-3)
    for part in (0.0, 0.25, 0.5, 0.75):
        (x, y), angle = ring.at(part * ring.length)
        round_ = pi / 2 + part * 2 * pi  # clockwise from the foot
        assert (x, y) == pytest.approx((140 + 40 * cos(round_), 140 + 40 * sin(round_)), abs=0.3)
        assert (degrees(angle - round_) - 90) % 360 == pytest.approx(0, abs=2) or (
            degrees(angle - round_) - 90
        ) % 360 > 358
    line = run_of(line_path(0, 0, 30, 40))
    assert line
    assert line.at(25.0)[0] == pytest.approx((15, 20))
    assert run_of(line_path(5, 5, 5, 5)) is None
    assert run_of(()) is None
    box = run_of(rect_path(Rect(0, 0, 10, 20)))
    assert box
    assert box.at(0.0)[0] == (0, 20), "from the foot’s left corner"


@pytest.mark.parametrize(("along", "within"), [("above", (0, 0.3)), ("middle", (1.5, 4)), ("below", (4, 9))])
def test_words_stand_on_a_circle_with_their_middle_at_its_head(
    workspace: Workspace, along: str, within: tuple[float, float]
) -> None:
    page = workspace.job.pages[0].id
    workspace.do(AddShape(page, Rect(100, 100, 160, 160), Outline(), FrameSpec(stroke=Stroke(0.5))))
    workspace.do(PutAlong(page, last(workspace).id, "High water, low water"))
    workspace.do(ChangeFrame(page, last(workspace).id, along=along))  # type: ignore[arg-type]
    found = letters(workspace)
    assert "".join(text for text, *_ in found) == "Highwater,lowwater"
    for _, x, y, _ in found:
        assert within[0] - 0.05 <= 80 - hypot(x - 180, y - 180) + 1e-6 <= within[1] + 0.2
    assert sum(x for _, x, *_ in found) / len(found) == pytest.approx(180, abs=5), "as much to the left as to the right"
    turns = [turn for *_, turn in found]
    assert turns == sorted(turns)
    assert -90 < turns[0] < 0 < turns[-1] < 90, "they stand upright at the head"
    assert not art(workspace).overset


def test_letters_are_as_far_apart_as_in_a_straight_line_and_keep_their_kerning(workspace: Workspace) -> None:
    page = workspace.job.pages[0].id
    workspace.do(AddPath(page, "M 60 300 L 360 300"))
    workspace.do(PutAlong(page, last(workspace).id, "AVATAR To"))
    line = art(workspace).lines[0]
    found = letters(workspace)
    assert all(y == pytest.approx(300) for _, _, y, _ in found)
    first = line.runs[0]
    word = first.look.cut.word("AVATAR")
    at = 60 + first.x - art(workspace).rect.x
    for (text, x, *_), advance in zip(found, word.advances, strict=False):
        wide = advance * first.look.scale
        assert x == pytest.approx(at + wide / 2, abs=1e-3), text
        at += wide


def test_what_has_no_room_is_told_and_where_it_begins_is_said(workspace: Workspace) -> None:
    page = workspace.job.pages[0].id
    workspace.do(AddPath(page, "M 60 300 C 90 280 110 280 140 300"))
    workspace.do(PutAlong(page, last(workspace).id, "The plank, the sluice hide, the angle of the bank, the Comb"))
    assert art(workspace).overset
    story = last(workspace).story or ""
    first = workspace.job.stories[story].paragraphs[0].id
    workspace.do(FormatText(story, Place(first, 0), Place(first, 60), TypeSpec(size=3.0)))
    assert art(workspace).overset is None
    before = letters(workspace)[0][1]
    workspace.do(ChangeFrame(page, last(workspace).id, along_from=0.1))
    assert letters(workspace)[0][1] > before
    with pytest.raises(LexigonError, match="Only an empty shape can have text on its"):
        workspace.do(PutAlong(page, last(workspace).id, "again"))
    workspace.do(ChangeFrame(page, last(workspace).id, along=""))
    assert letters(workspace) == [], "within the frame again"


def test_a_caret_has_a_stop_between_any_two_characters(workspace: Workspace) -> None:
    """On a circle as far from its middle as the circle, each letter between its two stops; an empty text has one."""
    page = workspace.job.pages[0].id
    workspace.do(AddShape(page, Rect(100, 100, 120, 120), outline=Outline("ellipse")))
    workspace.do(PutAlong(page, last(workspace).id, "High tide"))
    shown = art(workspace)
    (told,) = next(one for one in standing(Display(workspace.composition).page(0)) if one["id"] == last(workspace).id)[
        "lines"
    ]
    assert (told["words"], told["s"], told["e"]) == ("High tide", 0, 9)
    stops = told["stops"]
    assert [offset for offset, *_ in stops] == list(range(10))
    assert all(hypot(x - 160, y - 160) == pytest.approx(60, abs=0.1) for _, x, y, _ in stops)
    for (text, x, y, _), (offset, x0, y0, _), (_, x1, y1, _) in zip(
        letters(workspace),
        [s for n, s in enumerate(stops) if n != 4],
        [s for n, s in enumerate(stops) if n not in (0, 5)],
        strict=False,
    ):
        assert text == "High tide"[offset]
        assert (x, y) == pytest.approx(((x0 + x1) / 2, (y0 + y1) / 2), abs=0.2)
    assert shown.story
    workspace.do(ReplaceText(shown.story, Place("^", 0), Place("$", 0), ""))
    (told,) = next(one for one in standing(Display(workspace.composition).page(0)) if one["id"] == last(workspace).id)[
        "lines"
    ]
    assert len(told["stops"]) == 1
