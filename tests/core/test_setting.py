"""Lines of different measures, looseness, fitted letters, tabs, initials, optical margins: against searches and sums by
hand."""

from __future__ import annotations

import math
import shutil
import subprocess

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lexigon.core.document.cascade import Cascade
from lexigon.core.document.model import Job, Paragraph, ParaSpec, Span, TabStop, TypeSpec
from lexigon.core.type.breaks import breakpoints
from lexigon.core.type.fonts import shipped
from lexigon.core.type.glyphs import contours
from lexigon.core.type.initial import initial_of
from lexigon.core.type.line import LineRun, place_line
from lexigon.core.type.linebreak import (
    FITNESS_DEMERITS,
    FLAGGED_DEMERITS,
    Breakpoints,
    optimum_fit,
    optimum_fit_by_line,
)
from lexigon.core.type.optical import left_hang, right_hang
from lexigon.core.type.paragraph import Measure, merit, set_paragraph
from lexigon.core.type.runs import Run, looks_of, runs_of
from lexigon.core.type.set_line import SetLine
from lexigon.core.type.tabs import width_between
from tests.core.helpers import book, words
from tests.core.test_linebreak import RATIOS, cost_of, frog_king, random_points


def exhaustive_by_line(p: Breakpoints, measures: list[float], tolerance: float) -> dict[int, float]:
    """The least demerits for each number of lines, over all sequences of breaks; from the article's definitions."""
    best: dict[tuple[int, int, int], float] = {(-1, 1, 0): 0.0}
    for j in range(len(p.w)):
        for (i, fitness, line), demerits in list(best.items()):
            if i >= j:
                continue
            start = (0.0, 0.0, 0.0) if i < 0 else (p.a[i], p.ya[i], p.za[i])
            slack = measures[min(line, len(measures) - 1)] - (p.w[j] - start[0])
            stretch, shrink = p.y[j] - start[1], p.z[j] - start[2]
            if slack < 0:
                ratio = slack / shrink if shrink else -math.inf
            elif j == len(p.w) - 1:
                ratio = 0.0
            else:
                ratio = slack / stretch if stretch else (0.0 if slack < 1e-9 else math.inf)
            if not -1 - 1e-9 <= ratio <= tolerance:
                continue
            cost = (1 + 100 * abs(ratio) ** 3 + p.penalty[j]) ** 2
            kind = 0 if ratio < -0.5 else 1 if ratio <= 0.5 else 2 if ratio <= 1 else 3
            cost += FITNESS_DEMERITS if abs(kind - fitness) > 1 else 0
            cost += FLAGGED_DEMERITS if i >= 0 and p.flagged[j] and p.flagged[i] else 0
            key = (j, kind, line + 1)
            best[key] = min(best.get(key, math.inf), demerits + cost)
    ends: dict[int, float] = {}
    for (j, _, line), cost in best.items():
        if j == len(p.w) - 1:
            ends[line] = min(ends.get(line, math.inf), cost)
    return ends


@settings(max_examples=200, deadline=None)
@given(
    st.integers(0, 10**6),
    st.integers(2, 24),
    st.lists(st.sampled_from([90.0, 150.0, 220.0]), min_size=1, max_size=5),
    st.sampled_from([0, 0, 1, -1, 2]),
)
def test_lines_of_many_measures_equal_an_exhaustive_search(
    seed: int, count: int, measures: list[float], loose: int
) -> None:
    points = random_points(seed, count)
    lines = optimum_fit_by_line(points, measures, 3.0, looseness=loose)
    ends = exhaustive_by_line(points, measures, 3.0)
    if not ends:
        assert lines is None
        return
    assert lines is not None
    wanted = min(ends, key=lambda line: ends[line]) + loose
    nearest = min(ends, key=lambda line: (abs(line - wanted), ends[line]))
    assert len(lines) == (nearest if loose else min(ends, key=lambda line: ends[line]))
    assert cost_of(points, 0, lines) == pytest.approx(ends[len(lines)])


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6), st.integers(2, 30), st.sampled_from([150.0, 220.0]))
def test_one_measure_is_a_case_of_many(seed: int, count: int, measure: float) -> None:
    points = random_points(seed, count)
    one, many = optimum_fit(points, measure, 3.0), optimum_fit_by_line(points, [measure], 3.0)
    assert (one is None) == (many is None)
    assert one is None or many is None or cost_of(points, 0, one) == pytest.approx(cost_of(points, 0, many))


def test_looseness_of_the_article() -> None:
    """Knuth & Plass 1981, section "More bells and whistles": a looseness of 1 sets the paragraph in one line more than
    its best setting (twelve lines, as the worked example has them), and that costs looser lines."""
    best = optimum_fit_by_line(frog_king(), [390.0], 10.0)
    loose = optimum_fit_by_line(frog_king(), [390.0], 10.0, looseness=1)
    assert best is not None
    assert loose is not None
    assert [round(ratio, 3) for _, ratio in best[:-1]] == RATIOS
    assert (len(best), len(loose)) == (12, 13)
    assert max(r for _, r in loose) > max(r for _, r in best)


# From a paragraph to placed lines


def composed(
    text: str,
    measure: Measure,
    spans: tuple[Span, ...] = (),
    type_: TypeSpec | None = None,
    job: Job | None = None,
    **para: object,
) -> tuple[str, list[Run], list[SetLine], list[list[LineRun]]]:
    cascade, library = Cascade(job or book()), shipped()
    paragraph = Paragraph("p", "body", text, spans, para=ParaSpec(**para), type=type_)  # type: ignore[arg-type]
    shown, runs = runs_of(cascade, library, paragraph)
    setting = cascade.setting(paragraph)
    lines = set_paragraph(shown, runs, setting, measure, 11)
    column = measure if isinstance(measure, float) else 0.0
    return shown, runs, lines, [place_line(shown, runs, line, setting, 0.0, column) for line in lines]


@pytest.mark.parametrize("measure", [70.0, 110.0, 152.0])
def test_narrow_columns_are_filled_exactly_and_within_what_letters_may_give(measure: float) -> None:
    _, _, lines, placed = composed(words(400, 7), measure, indent_first=0.0)
    fitted = 0
    for line, runs in zip(lines, placed, strict=True):
        if line.stretches and line.ratio >= -1 and " " in "".join(run.text for run in runs):
            assert runs[-1].x + runs[-1].width == pytest.approx(measure, abs=1e-6)
        assert abs(line.letters) <= 0.01 * 11 + 1e-9
        assert abs(line.glyphs - 1) <= 0.02 + 1e-9
        fitted += line.letters != 0
    assert fitted
    assert merit(lines).lines == len(lines)


def test_spaces_at_the_end_of_a_line_take_no_room() -> None:
    """More spaces where lines end change neither the breaks nor the spaces within lines."""
    text = words(120, 5)
    _, _, lines, placed = composed(text, 200.0, indent_first=0.0)
    longer = text
    for line in reversed(lines[:-1]):
        if text[line.end : line.end + 1] == " ":
            longer = f"{longer[: line.end]}  {longer[line.end :]}"
    assert len(longer) > len(text) + 10
    _, _, again, placed_again = composed(longer, 200.0, indent_first=0.0)
    assert [line.ratio for line in again] == pytest.approx([line.ratio for line in lines])
    for line, runs, others in zip(lines, placed, placed_again, strict=True):
        assert [run.text.rstrip() for run in others] == [run.text.rstrip() for run in runs]
        if line.stretches:
            assert others[-1].x + others[-1].width == pytest.approx(200.0)


def test_fitted_letters_leave_less_to_the_spaces() -> None:
    text = words(500, 3)
    with_fit = merit(composed(text, 110.0)[2])
    without = merit(composed(text, 110.0, letter_fit=0.0, glyph_fit=0.0)[2])
    assert with_fit.mean < without.mean


def test_lines_stand_in_the_boxes_they_are_given() -> None:
    boxes = ((30.0, 200.0), (0.0, 300.0), (60.0, 120.0), (0.0, 300.0))
    _, _, lines, placed = composed(words(120), boxes, indent_first=0.0)
    assert len(lines) > 5
    for number, (line, runs) in enumerate(zip(lines, placed, strict=True)):
        left, width = boxes[min(number, 3)]
        assert runs[0].x == pytest.approx(left)
        if line.stretches:
            assert runs[-1].x + runs[-1].width == pytest.approx(left + width)


def test_tabs_stand_where_a_ruler_says() -> None:
    stops = (TabStop(100.0), TabStop(200.0, "right"), TabStop(260.0, "decimal"), TabStop(320.0, "centre"))
    shown, _, (line,), (runs,) = composed(
        "a\tleft\tright\t12.75\tmid", 400.0, align="left", indent_first=0.0, tabs=stops
    )
    by_text = {run.text: run for run in runs}
    assert by_text["left"].x == pytest.approx(100)
    assert by_text["right"].x + by_text["right"].width == pytest.approx(200)
    look = by_text["12.75"].look
    assert by_text["12.75"].x + look.width("12") == pytest.approx(260)
    assert by_text["mid"].x + by_text["mid"].width / 2 == pytest.approx(320)
    assert len(line.tabs) == shown.count("\t")


def test_a_leader_fills_its_tab_and_lines_up_between_lines() -> None:
    stops = (TabStop(None, "right", " ."),)
    starts = set()
    for title in ("Redshank", "The five stations of the hide"):
        _, _, _, (runs,) = composed(f"{title}\t117", 300.0, align="left", indent_first=0.0, tabs=stops)
        leader = next(run for run in runs if run.leader)
        step = leader.width / leader.text.count(".")
        assert runs[0].x + runs[0].width <= leader.x < runs[0].x + runs[0].width + step
        assert leader.x + leader.width <= runs[-1].x + 1e-6
        assert runs[-1].x + runs[-1].width == pytest.approx(300)
        starts.add(round(leader.x / step, 6) % 1)
    assert len(starts) == 1, "dots stand under dots"


@pytest.mark.parametrize("unit", [" .", ". ", ".", "·", " - "])
def test_a_leader_keeps_a_word_space_clear_of_the_words_and_the_number(unit: str) -> None:
    for length in range(1, 60):  # the dots end at many distances from the number
        _, _, _, (runs,) = composed(
            "i" * length + "\t117", 300.0, align="left", indent_first=0.0, tabs=(TabStop(None, "right", unit),)
        )
        leader = next(run for run in runs if run.leader)
        space = leader.look.space
        ink = leader.x + leader.width - (space if unit.endswith(" ") else 0.0)
        assert ink + space <= runs[-1].x + 1e-6
        begins = leader.x + (space if unit.startswith(" ") else 0.0)
        assert begins - space >= runs[0].x + runs[0].width - 1e-6


def test_a_tab_beyond_the_measure_goes_on_in_the_next_line_and_nothing_is_lost() -> None:
    shown, _, lines, _ = composed(
        "one\ttwo\tthree", 60.0, align="left", indent_first=0.0, tabs=(TabStop(500.0), TabStop(50.0))
    )
    assert "".join(shown[a.start : a.next] for a in lines) == shown
    assert len(lines) > 1


def test_a_hanging_mark_and_its_text() -> None:
    """A list entry: the mark at the first-line indent, all lines of the text at the left one, set as one paragraph."""
    _, _, lines, placed = composed(f"12.\t{words(60)}", 240.0, indent_first=-24.0, indent_left=24.0)
    assert placed[0][0].x == pytest.approx(0)
    assert placed[0][1].x == pytest.approx(24)
    assert all(runs[0].x == pytest.approx(24) for runs in placed[1:])
    assert all(
        r[-1].x + r[-1].width == pytest.approx(240) for line, r in zip(lines, placed, strict=True) if line.stretches
    )


def points_of(text: str, spans: tuple[Span, ...] = (), type_: TypeSpec | None = None, **para: object) -> Breakpoints:
    """The breakpoints of a paragraph of body text."""
    cascade = Cascade(book())
    paragraph = Paragraph("p", "body", text, spans, para=ParaSpec(**para), type=type_)  # type: ignore[arg-type]
    shown, runs = runs_of(cascade, shipped(), paragraph)
    return breakpoints(shown, runs, 0, len(shown), cascade.setting(paragraph))


@pytest.mark.parametrize("family", ["EB Garamond", "Alegreya"])
def test_widths_up_to_breaks_are_those_of_the_words_and_spaces(family: str) -> None:
    """Alegreya kerns with its space, EB Garamond does not."""
    text = "To AVA, We Yarn and Tea. Vault “Why” TA"
    points = points_of(text, type_=TypeSpec(family=family), hyphenate=False, optical=False)
    _, runs, _, _ = composed(text, 5000.0, type_=TypeSpec(family=family))
    assert runs[0].look.cut.space_kerns == (family == "Alegreya")
    for end, width in zip(points.end, points.w, strict=True):
        assert width == pytest.approx(width_between(text, runs, 0, end)), text[:end]


def test_no_break_spaces_stretch_like_others() -> None:
    plain, glued = (points_of(f"one two{space}three four", hyphenate=False) for space in " \u00a0")
    assert len(glued.w) == len(plain.w) - 1
    assert (glued.y[-1], glued.z[-1]) == pytest.approx((plain.y[-1], plain.z[-1]))
    assert glued.w[-1] == pytest.approx(plain.w[-1])


def test_white_space_at_the_beginning_is_no_place_to_break() -> None:
    assert points_of("  one two", hyphenate=False).end == (5, 9)


def test_a_break_between_runs_has_no_hyphen() -> None:
    points = points_of("one two three", (Span(3, 13, style="emphasis"),), hyphenate=False)
    assert points.end == (3, 7, 13)
    assert not any(points.hyphen)


def test_optical_margins_shorten_lines_by_what_hangs() -> None:
    text = "observatory, well-known. “Quoted” words—and more"
    plain, hung = (points_of(text, optical=optical) for optical in (False, True))
    _, runs, _, _ = composed(text, 5000.0)
    look = runs[0].look
    for at, end in enumerate(plain.end):
        last = "-" if plain.hyphen[at] else text[end - 1]
        assert plain.w[at] - hung.w[at] == pytest.approx(right_hang(look, last)), text[:end]
        following = text[plain.next[at] : plain.next[at] + 1]
        assert plain.a[at] - hung.a[at] == pytest.approx(-left_hang(look, following) if following else 0, abs=1e-9)


def test_optical_margins_hang_by_their_part_and_keep_the_edge() -> None:
    _, _, lines, placed = composed(words(200, 5), 170.0, indent_first=0.0, optical=True)
    hung = 0
    for line, runs in zip(lines, placed, strict=True):
        if line.stretches:
            last = runs[-1]
            hang = right_hang(last.look, last.text[-1])
            assert last.x + last.width == pytest.approx(170 + hang, abs=1e-6)
            hung += hang > 0
    assert hung > 3


@pytest.mark.parametrize("lines", [2, 3, 5])
@pytest.mark.parametrize("family", ["EB Garamond", "Playfair Display", "Fira Sans"])
def test_an_initial_reaches_from_the_first_lines_capitals_to_the_last_ones_baseline(lines: int, family: str) -> None:
    job = book()
    cascade, library = Cascade(job), shipped()
    paragraph = Paragraph(
        "p", "body", "Home is the hide", para=ParaSpec(drop_lines=lines), type=TypeSpec(family=family)
    )
    look, setting = looks_of(cascade, library, paragraph), cascade.setting(paragraph)
    cap = look.cut.face.cap_height * look.scale
    initial = initial_of(cascade, library, paragraph, setting, cap)
    assert initial is not None
    assert initial.look.cut.face.cap_height * initial.look.scale == pytest.approx(
        (lines - 1) * setting.leading + cap, abs=0.01
    )
    glyph = initial.look.cut.word("H").glyphs[0]
    top = max(y for contour in contours(look.cut.face, glyph) for _, y in contour)
    assert top == pytest.approx(look.cut.face.cap_height, rel=0.02), "the outline itself is as high as the font says"


@pytest.mark.parametrize("text", ["", "A", "Ab", "Word" * 3])
def test_an_initial_longer_than_its_paragraph(text: str) -> None:
    from lexigon.core.editing.intents import PourText
    from lexigon.core.flow.workspace import Workspace
    from lexigon.core.paint.display import Display

    workspace = Workspace(book())
    spec = ParaSpec(drop_lines=4, drop_chars=50)
    workspace.do(PourText("main", (Paragraph("p1", "body", text, para=spec), Paragraph("p2", "body", words(12)))))
    (frame,) = (f for f in Display(workspace.composition).page(0).frames if f.frame.main)
    shown = "".join(run.text for line in frame.lines if line.paragraph == "p1" for run in line.runs)
    assert shown == text
    if text:
        ends = {line.paragraph: line.baseline for line in frame.lines}
        assert ends["p2"] >= ends["p1"] + 14, "the next paragraph begins under the initial"


def test_exceptions_capitals_and_last_words() -> None:
    from dataclasses import replace

    from lexigon.core.type.words import hyphens

    job = book()
    job.brief = replace(job.brief, exceptions=("observ-atory", "geese"))
    setting = replace(Cascade(job).setting(Paragraph("p", "body")), hyphen_names=True)
    assert hyphens("observatory", "en-GB", setting) == [6]
    assert hyphens("Observatory", "en-GB", setting) == [6]
    assert hyphens("geese", "en-GB", setting) == []
    assert hyphens("EXTRAORDINARY", "en-GB", setting) == []
    assert hyphens("extraordinary", "en-GB", setting)
    assert hyphens("Extraordinary", "en-GB", replace(setting, hyphen_names=False)) == []
    _, _, lines, _ = composed("a plank and then an extraordinary", 130.0, hyphen_last=False, indent_first=0.0)
    assert not any(line.hyphen for line in lines)


def test_words_held_together_stay_together() -> None:
    text = words(60)
    at = text.index(" ", 120)
    held = Span(at - 10, at + 14, type=TypeSpec(no_break=True))
    for measure in (150.0, 163.0, 181.0):
        shown, _, lines, _ = composed(text, measure, (held,))
        for line in lines:
            assert not held.start < line.next < held.end, shown[held.start : held.end]


@pytest.mark.skipif(not shutil.which("hb-shape"), reason="Debian's libharfbuzz-bin is not installed")
@pytest.mark.parametrize(
    ("spec", "features", "word", "differs"),
    [
        (TypeSpec(caps="small"), "smcp", "Redshank", True),
        (TypeSpec(caps="all small"), "smcp,c2sc", "Redshank", True),
        (TypeSpec(figures="tabular oldstyle"), "tnum,onum", "1847", True),
        (TypeSpec(figures="lining"), "lnum", "1847", False),
        (TypeSpec(features=("frac",)), "frac", "3/4", True),
        (TypeSpec(features=("liga=0",)), "liga=0", "office", True),
        (TypeSpec(features=("dlig",)), "dlig", "fact", True),
        (TypeSpec(position="superior"), "sups", "12", True),
        (TypeSpec(features=("swsh=1",), italic=True), "swsh", "Qua", True),
        (TypeSpec(tracking=20.0), "-liga,-clig,-calt", "office", True),
        (TypeSpec(family="Alegreya", features=("kern=0",)), "kern=0", "AVATAR", True),
        (TypeSpec(family="Playfair Display"), "", "Tabular", False),
        (TypeSpec(family="Zilla Slab", figures="tabular"), "tnum", "18.47", True),
        (TypeSpec(family="Zilla Slab", language="de-DE"), "", "office", True),
        (TypeSpec(family="Source Serif 4", language="tr"), "", "fil", True),
        (TypeSpec(family="EB Garamond", language="de"), "", "(—)", False),
    ],
)
def test_glyphs_and_advances_equal_those_of_harfbuzzs_own_command(
    spec: TypeSpec, features: str, word: str, differs: bool
) -> None:
    """Debian's hb-shape, another build and version of the shaper, asked for the same features by name."""
    _, (run,), _, _ = composed(word, 300.0, type_=spec)
    face = run.look.cut.face
    asked = [f"--features={features}", "--script=latn", f"--language={spec.language or 'en-GB'}"]
    command = ["hb-shape", "--no-glyph-names", "--no-clusters", *asked, str(face.path), word]
    answer = subprocess.run(command, capture_output=True, text=True, check=True).stdout.strip("[]\n")
    wanted = [(int(part.split("+")[0].split("@")[0]), int(part.split("+")[1])) for part in answer.split("|")]
    found = run.look.cut.word(word)
    assert list(zip(found.glyphs, found.advances, strict=True)) == wanted
    plain = composed(word, 300.0, type_=TypeSpec(italic=spec.italic, family=spec.family))[1][0].look.cut.word(word)
    assert ((plain.glyphs, plain.advances) != (found.glyphs, found.advances)) == differs


def test_tracking_stands_behind_what_is_one_character_to_the_eye() -> None:
    """A letter with its accent, typed as two code points, and a ligature that was asked for are tracked once."""
    tracked = TypeSpec(tracking=100.0, features=("dlig",))

    def width(word: str, spec: TypeSpec) -> float:
        return composed(word, 900.0, type_=spec)[1][0].look.width(word)

    assert width("été", tracked) == width("e\u0301te\u0301", tracked)
    plain = TypeSpec(features=("dlig", "liga=0", "clig=0", "calt=0"))
    assert width("fact", tracked) - width("fact", plain) == pytest.approx(3 * 1.1), "f, a, and c and t as one"


def test_every_line_of_a_whole_book_keeps_the_rules() -> None:
    """The demo's field guide in its own measure and in a narrow one: no line longer than its measure, no single first
    or last lines at a column's foot or head, no fourth hyphen in a row, and every word in its place."""
    from demo.guide import SOURCE
    from lexigon.core.editing.intents import PourText
    from lexigon.core.flow.workspace import Workspace
    from lexigon.core.manuscript.readers.decode import decode
    from lexigon.core.manuscript.readers.plain_text import read_plain

    for width in (432.0, 268.0):
        workspace = Workspace(book(width=width))
        workspace.do(PourText("main", tuple(read_plain(decode(SOURCE.read_bytes())).paragraphs)))
        flow = workspace.composition.flows["main"]
        stranded = 0
        for column in flow.columns:
            for block in column.blocks:
                lines = flow.lines(block.paragraph, block.measure, block.base)
                for line in lines[block.first_line : block.last_line]:
                    assert line.ratio >= -1 - 1e-6
                begins, ends = block.first_line == block.base == 0, block.last_line == len(lines)
                part = block.last_line - block.first_line
                stranded += part == 1 and len(lines) > 1 and begins != ends
        assert stranded == 0
        for found in flow.paragraphs:
            for lines in found.lines.values():
                flags = "".join("h" if line.hyphen else "." for line in lines)
                assert "hhhh" not in flags


def test_fonts_without_superiors_or_small_capitals_are_helped_only_where_asked() -> None:
    _, (run,), _, _ = composed("12", 300.0, type_=TypeSpec(position="superior", family="League Gothic"))
    assert run.look.size < 11
    assert run.look.rise > 0
    shown, runs, _, _ = composed("Red Shank", 300.0, type_=TypeSpec(caps="reduced"))
    assert shown == "RED SHANK"
    assert {run.look.size for run in runs if shown[run.start : run.end].strip() in ("ED", "HANK")} == {11 * 0.75}
    assert composed("Red shank’s", 300.0, type_=TypeSpec(caps="title"))[0] == "Red Shank’s"


def test_a_widened_line_is_as_wide_as_it_says() -> None:
    _, _, _, (plain,) = composed("a plank", 300.0, align="left", indent_first=0.0)
    _, _, _, (wide,) = composed("a plank", 300.0, type_=TypeSpec(scale_x=1.25), align="left", indent_first=0.0)
    assert wide[0].width == pytest.approx(plain[0].width * 1.25)


def test_names_are_not_divided_but_in_languages_that_write_nouns_with_capitals() -> None:
    for language, divided in (("en-GB", False), ("de-DE", True)):
        setting = Cascade(book(language=language)).setting(Paragraph("p", "body"))
        assert setting.hyphen_names is divided
