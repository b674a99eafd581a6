"""A primitive edit that nobody knows: all that follows edits follows it by what it declares."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar, Literal, Union, get_args

import pytest
from django.contrib.auth.models import User
from pydantic import Field

from lexigon.bench import models
from lexigon.bench.services import changes
from lexigon.bench.services.jobs import forget, opened
from lexigon.core.document.model import Job, Object, Paragraph
from lexigon.core.document.registry import Reach
from lexigon.core.editing import edits
from lexigon.core.editing.conflicts import parts_touched
from lexigon.core.editing.edits import Primitive, SetBrief, SetGuides, SetPage, SetPageGrid, SpliceParagraphs
from lexigon.core.editing.intents import AddTextFrame
from lexigon.core.editing.touches import ObjectsTouch, ParagraphsTouch, Touch, ValueTouch
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.jobs import job_to_json
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.core.test_areas import standing
from tests.web.conftest import from_rows


@dataclass(slots=True, frozen=True)
class Rework:
    """Replace one object of a page, one paragraph, the guides of the page and the name of the job at once."""

    reach: ClassVar[Reach] = "everything"
    page: str
    object: Object
    story: str
    paragraph: Paragraph
    name: str
    op: Literal["rework"] = "rework"

    def _at(self, job: Job) -> tuple[int, int, int]:
        page = job.page_index(self.page)
        assert page is not None
        objects = [one.id for one in job.pages[page].objects]
        paragraphs = [one.id for one in job.stories[self.story].paragraphs]
        return page, objects.index(self.object.id), paragraphs.index(self.paragraph.id)

    def touches(self) -> tuple[Touch, ...]:
        return (
            ObjectsTouch(self.page, (self.object,), in_place=True),
            ParagraphsTouch(self.story, 2, 1, (self.paragraph,)),
            ValueTouch("name"),
        )

    def apply(self, job: Job) -> Rework:
        page, at, index = self._at(job)
        objects = list(job.pages[page].objects)
        inverse = Rework(self.page, objects[at], self.story, job.stories[self.story].paragraphs[index], job.name)
        objects[at] = self.object
        job.pages[page] = replace(job.pages[page], objects=tuple(objects))
        job.stories[self.story].paragraphs[index] = self.paragraph
        job.name = self.name
        return inverse


@dataclass(slots=True, frozen=True)
class Carry:
    """The intent that is any one edit."""

    edit: Any
    do: str = "carry"
    label: str = "Rework page"

    def expand(self, job: Job) -> list[Primitive]:
        return [self.edit]


@pytest.fixture
def rework(job: models.Job, user: User, monkeypatch: pytest.MonkeyPatch) -> Rework:
    """The made-up edit for the third page of a job, which logs can be read with too."""
    union = Union[(Rework, *get_args(Primitive))]  # type: ignore[valid-type]
    monkeypatch.setattr(edits, "AnyPrimitive", Annotated[union, Field(discriminator="op")])
    with opened(job.pk) as live:
        page = live.job.pages[2].id
        live.do([AddTextFrame(page, Rect(40, 40, 200, 80))], user)
        at = live.job.page_index(page)
        assert at is not None
        own = live.job.pages[at].objects[-1]
        assert own.rect is not None
        story, paragraph = "main", live.job.stories["main"].paragraphs[2]
        moved = own.at(Rect(60, 70, own.rect.width, own.rect.height))
        return Rework(page, moved, story, replace(paragraph, text="Reworked.", spans=()), "Another name")


def test_rows_history_and_page_follow_it(job: models.Job, user: User, rework: Rework) -> None:
    with opened(job.pk) as live:
        version = live.workspace.composition.stamps.of(rework.page)
        change = live.do([Carry(rework)], user)
        assert live.job.name == "Another name"
        assert from_rows(job) == job_to_json(live.job), "rows hold what the job holds"
        assert live.workspace.composition.stamps.of(rework.page) != version, "the page is painted again"
        assert standing(live.workspace.composition) == standing(Workspace(live.job).composition), "as if opened anew"
        assert changes.page_of_change(live.workspace.composition, change.edits) == 2
        assert changes.object_ids(change.edits) == {rework.object.id}
        added = changes.additions(live.workspace.composition, change.edits)
        assert added["frames"] == [rework.object.id]
        assert added["paragraphs"] == {"main": [rework.paragraph.id]}
    assert models.Job.objects.get(pk=job.pk).name == "Another name"
    assert models.Edit.objects.filter(job=job).latest("pk").where == "pages 1 and 3"


def test_it_is_undone_by_a_process_that_only_has_the_log(job: models.Job, user: User, rework: Rework) -> None:
    before = from_rows(job)
    with opened(job.pk) as live:
        live.do([Carry(rework)], user)
    forget(job.pk)
    with opened(job.pk) as live:
        live.undo(user)
        assert job_to_json(live.job) == before
    assert from_rows(job) == before


def test_it_is_checked_before_it_is_saved(job: models.Job, user: User, rework: Rework) -> None:
    before = from_rows(job)
    wrong = replace(rework, object=replace(rework.object, layer="no such layer"))
    with opened(job.pk) as live, pytest.raises(LexigonError):
        live.do([Carry(wrong)], user)
    assert from_rows(job) == before


def test_it_stands_in_the_way_of_what_changes_the_same_parts(job: models.Job, rework: Rework) -> None:
    with opened(job.pk) as live:
        page = live.job.pages[2]
        brief, grid = SetBrief(live.job.brief), SetPageGrid(None)
    own = parts_touched([rework])
    assert own & parts_touched([SpliceParagraphs("main", 7, 1)])
    assert own & parts_touched([SetPage(page)])
    assert not own & parts_touched([SetGuides(page.id)])
    assert not own & parts_touched([brief])
    # An edit of all values of a page, or of the whole set-up, brings back those that have edits of their own.
    assert parts_touched([SetPage(page)]) & parts_touched([SetGuides(page.id)])
    assert parts_touched([brief]) & parts_touched([grid])
