"""The report of the checks: how grave findings are, and how they are accepted."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import pytest

from demo.pieces import flyer
from lexigon.cli.main import main
from lexigon.core.check.findings import count_at_once, findings_of
from lexigon.core.check.kinds import KINDS, LEVELS
from lexigon.core.check.report import Report, report_of
from lexigon.core.document.model import Job, all_in
from lexigon.core.editing.intents import AcceptFinding, ChangeFrame, Place, ReopenFinding, ReplaceText
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect

ROOT = Path(__file__).parents[2]


@pytest.fixture
def workspace() -> Workspace:
    """A flyer with a frame that is too low for its text."""
    own = Workspace(flyer())
    page, frame = text_frame(own.job)
    assert frame.rect is not None
    own.do(ChangeFrame(page, frame.id, rect=Rect(frame.rect.x, frame.rect.y, frame.rect.width, 5.0)))
    return own


def text_frame(job: Job):  # type: ignore[no-untyped-def]
    """The page and the frame of the longest story in a single frame."""
    frames = [(page.id, one) for page in job.pages for one in all_in(page.objects) if one.story and one.rect]
    return max(frames, key=lambda pair: sum(len(p.text) for p in job.stories[pair[1].story or ""].paragraphs))


def overset(report: Report) -> list[str]:
    return [one.mark for one in report.open if one.finding.kind == "overset"]


def test_every_kind_of_finding_is_described() -> None:
    """Rules name their kinds; each has a level and a reason why it matters."""
    source = "".join(path.read_text() for path in (ROOT / "src/lexigon/core/check").glob("*.py"))
    for kind, own in KINDS.items():
        assert f'"{kind}"' in source.replace("kinds.py", "")
        assert own.why.endswith(".")
    assert {own.level for own in KINDS.values()} == set(LEVELS)


def test_findings_are_sorted_by_level_then_page(workspace: Workspace) -> None:
    report = report_of(workspace.composition)
    order = [(LEVELS.index(one.finding.level), one.finding.page or 0) for one in report.open]
    assert order == sorted(order)
    assert sum(report.counts().values()) == len(report.open) == len(findings_of(workspace.composition))


def test_an_accepted_finding_does_not_count_until_what_it_is_about_changes(workspace: Workspace) -> None:
    (mark,) = overset(report_of(workspace.composition))
    before = count_at_once(workspace.composition)
    with pytest.raises(LexigonError, match="Type the reason"):
        workspace.do(AcceptFinding("overset", mark, "x", "  "))
    workspace.do(AcceptFinding("overset", mark, "x", "The client wants it so."))
    report = report_of(workspace.composition)
    assert not overset(report)
    (entry,) = report.accepted
    assert entry.acceptance is not None
    assert entry.acceptance.reason == "The client wants it so."
    assert count_at_once(workspace.composition) == before - 1
    saved = package.read(package.write(workspace.job))
    assert not overset(report_of(Workspace(saved).composition)), "it is saved with the job"
    _, frame = text_frame(workspace.job)
    first = workspace.job.stories[frame.story].paragraphs[0].id
    workspace.do(ReplaceText(frame.story, Place(first, 0), Place(first, 0), "More. "))
    assert overset(report_of(workspace.composition)), "its words changed"
    workspace.do(ReplaceText(frame.story, Place(first, 0), Place(first, 6), ""))
    assert not overset(report_of(workspace.composition)), "they are what they were"
    workspace.do(ReopenFinding(entry.acceptance.id))
    assert overset(report_of(workspace.composition)) == [mark]
    with pytest.raises(LexigonError):
        workspace.do(ReopenFinding(entry.acceptance.id))


def test_what_is_moved_is_found_again(workspace: Workspace) -> None:
    page, frame = text_frame(workspace.job)
    (mark,) = overset(report_of(workspace.composition))
    workspace.do(AcceptFinding("overset", mark, "x", "It ends there."))
    other = next(one for one in workspace.job.pages[0].objects if one.id != frame.id and one.rect)
    for one, again in ((other, False), (frame, True)):
        assert one.rect is not None
        workspace.do(ChangeFrame(page, one.id, rect=replace(one.rect, x=one.rect.x + 3)))
        assert bool(overset(report_of(workspace.composition))) == again


def test_the_command_lists_findings_and_its_exit_code_says_whether_there_are_any(
    workspace: Workspace, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "flyer.lexigon"
    path.write_bytes(package.write(workspace.job))
    assert main(["check", str(path), "--level", "error"]) == 3
    assert "error" in capsys.readouterr().out
    assert main(["check", str(path), "--json"]) == 3
    rows = json.loads(capsys.readouterr().out)["open"]
    assert {"kind", "level", "title", "text", "why", "page", "label", "subject", "mark"} <= rows[0].keys()
    for row in rows:
        workspace.do(AcceptFinding(row["kind"], row["mark"], row["text"], "as agreed"))
    path.write_bytes(package.write(workspace.job))
    assert main(["check", str(path)]) == 0
    assert "No open findings." in capsys.readouterr().out
