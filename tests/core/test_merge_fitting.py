"""Text that does not fit with some records: one size, tracking, width or height with which all of them fit."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import get_args

import pytest

from demo.cards import LONGEST
from lexigon.core.document.model import Job, ParaSpec
from lexigon.core.editing.intents import ChangeFrame, SetParagraphs
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.flow.fit_actions import fitted_text
from lexigon.core.flow.workspace import Workspace
from lexigon.core.merge.fitting import LEAST_TRACKING, NARROW, Way, fit_intents, fit_of
from lexigon.core.merge.verdicts import RecordCheck, verdicts
from tests.core.merging import Find, cards_file, finder, merger_of, named


@pytest.fixture(scope="module")
def cards() -> bytes:
    return cards_file()


@pytest.fixture
def job(cards: bytes) -> Job:
    return package.read(cards)


@pytest.fixture(scope="module")
def find(cards: bytes, tmp_path_factory: pytest.TempPathFactory) -> Find:
    return finder(cards, tmp_path_factory.mktemp("files"))


def test_one_size_fits_all_records(job: Job, find: Find) -> None:
    merger = merger_of(job, find)
    story = named(job, "Name")[1].story or ""
    fit = fit_of(merger, story, [LONGEST])
    assert (fit.records, fit.size, fit.possible) == (1, 11.0, True)
    assert 4 < fit.fitting < 11
    assert fit.higher is not None
    assert fit.higher > fit.height
    for way in get_args(Way):
        workspace = Workspace(package.read(package.write(job)), find)
        if way == "tracking" and fit.closer is None:
            with pytest.raises(LexigonError, match="too close"):
                fit_intents(merger, fit, way)
            continue
        workspace.do(*fit_intents(merger, fit, way))
        fitted = merger_of(workspace.job, find)
        assert all(story not in one.overset for one in verdicts(fitted, fitted.numbers()))
        faces = set()
        for number in (0, LONGEST):
            fitted.show(number)
            flow = fitted.composition.flows[story]
            face = flow.cascade.type_of(flow.paragraphs[0].shown.paragraph)
            faces.add((round(face.size, 2), face.tracking))
        assert len(faces) == (2 if way == "each" else 1)
    with pytest.raises(LexigonError):
        fit_of(merger, "nothing", [0])


def test_one_tracking_fits_all_records(job: Job, find: Find) -> None:
    """The longest name is a few characters shorter than the one that needs another size."""
    workspace = Workspace(job, find)
    holder, frame = named(job, "Name")
    merger = merger_of(workspace.job, find)
    merger.show(LONGEST)
    (area,) = merger.composition.places.led(merger.job.stories[frame.story or ""])
    text = fitted_text(merger.composition, merger.job.stories[frame.story or ""])
    width = area.rect.width
    while not text.fits_tracked(LEAST_TRACKING):
        width += 2
        assert width < 2 * area.rect.width
        workspace.do(ChangeFrame(holder, frame.id, rect=replace(frame.rect, width=width)))
        merger = merger_of(workspace.job, find)
        merger.show(LONGEST)
        text = fitted_text(merger.composition, merger.job.stories[frame.story or ""])
    fit = fit_of(merger, frame.story or "", [LONGEST])
    assert fit.closer is not None
    assert LEAST_TRACKING <= fit.closer - fit.tracking < 0
    workspace.do(*fit_intents(merger, fit, "tracking"))
    fitted = merger_of(workspace.job, find)
    assert all(frame.story not in one.overset for one in verdicts(fitted, fitted.numbers()))


def test_a_verdict_names_by_how_much_a_frame_is_too_low(job: Job, find: Find) -> None:
    merger = merger_of(job, find)
    (problem,) = (one for one in RecordCheck(merger).verdict(LONGEST).problems if one.kind == "overset")
    match = re.fullmatch(r".* of “Name” do(?:es)? not fit\. The frame is ([\d.]+) mm too low\.", problem.text)
    assert match is not None
    holder, frame = named(job, "Name")
    assert frame.rect is not None
    workspace = Workspace(job, find)
    taller = replace(frame.rect, height=frame.rect.height + (float(match[1]) + 0.01) * 72 / 25.4)
    workspace.do(ChangeFrame(holder, frame.id, rect=taller))
    assert not RecordCheck(merger_of(workspace.job, find)).verdict(LONGEST).overset


@pytest.mark.parametrize(("align", "side"), [("left", "x"), ("centre", "centre"), ("right", "right")])
def test_a_frame_is_widened_away_from_where_its_lines_begin(job: Job, find: Find, align: str, side: str) -> None:
    holder, frame = named(job, "Name")
    workspace, story = Workspace(job, find), frame.story or ""
    paragraph = job.stories[story].paragraphs[0].id
    workspace.do(SetParagraphs(story, paragraph, paragraph, para=ParaSpec(align=align)))
    assert frame.rect is not None
    narrow = replace(frame.rect, x=80.0, width=80.0)
    workspace.do(ChangeFrame(holder, frame.id, rect=narrow))
    fit = fit_of(merger_of(workspace.job, find), story, [LONGEST])
    assert fit.wider is not None
    edges = {"x": lambda box: box.x, "centre": lambda box: box.x + box.width / 2, "right": lambda box: box.right}
    assert edges[side](fit.wider) == pytest.approx(edges[side](narrow))
    for by, fits in ((0.0, True), (-2 * NARROW, False)):
        workspace.do(ChangeFrame(holder, frame.id, rect=replace(fit.wider, width=fit.wider.width + by)))
        verdict = RecordCheck(merger_of(workspace.job, find)).verdict(LONGEST)
        assert (story not in verdict.overset) == fits
