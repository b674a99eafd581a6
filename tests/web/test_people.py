"""A job that several people work on: shared by its owner, with who is there and what they have chosen, and changed by
all of them."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import timedelta
from functools import partial
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from lexigon.bench import models
from lexigon.bench.services import rows
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import create_job, opened
from lexigon.core.document.model import PictureFile
from lexigon.core.editing.intents import AddPicture
from lexigon.core.fileformat.jobs import job_to_json
from tests.core.helpers import poured
from tests.web.conftest import addresses, from_rows, page_text

Edit = Callable[..., Any]
BACKEND = "django.contrib.auth.backends.ModelBackend"


@pytest.fixture
def other(job: models.Job) -> Client:
    """Somebody else, signed in."""
    client = Client()
    client.force_login(User.objects.create_user("tern"), backend=BACKEND)
    return client


def here(client: Client, job: models.Job, window: str, **said: Any) -> Any:
    answer = client.post(
        reverse("here", args=[job.pk]), json.dumps({"client": window, **said}), content_type="application/json"
    )
    return answer.json() if answer.status_code == 200 else answer.status_code


def share(client: Client, job: models.Job, name: str, role: str = "edit") -> str:
    answer = client.post(reverse("share", args=[job.pk]), {"name": name, "role": role}, follow=True)
    return " ".join(str(message) for message in answer.context["messages"])


def send_intent(job: models.Job, intent: dict[str, Any], client: Client) -> Any:
    asked = {"intents": [intent], "base": 0}
    return client.post(reverse("edits", args=[job.pk]), json.dumps(asked), content_type="application/json")


def test_a_job_is_shared_worked_on_and_left(client: Client, job: models.Job, user: User, other: Client) -> None:
    board = reverse("board", args=[job.pk])
    assert other.get(board).status_code == 404
    assert "There is no user named" in share(client, job, "nobody")
    assert "already" in share(client, job, user.username)
    assert "on the shelf of tern, who can edit" in share(client, job, " TERN ")
    assert other.get(board).status_code == 200
    assert f"shared by {user.username}" in other.get(reverse("shelf")).content.decode()
    assert "not share or delete" in share(other, job, user.username)
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    shape = {"do": "add-shape", "page": page, "rect": {"x": 9, "y": 9, "width": 90, "height": 90}}
    answer = other.post(
        reverse("edits", args=[job.pk]), json.dumps({"intents": [shape], "base": 0}), content_type="application/json"
    )
    assert answer.json()["undo"] == "Add shape"
    shown = client.get(reverse("board-pages", args=[job.pk]), {"page": 0}).json()
    assert shown["undo"] == "Add shape (tern)", "it says whose it is"
    other.post(reverse("job-delete", args=[job.pk]))
    assert models.Job.objects.get(pk=job.pk).binned is None, "it is not theirs to delete"
    other.post(reverse("unshare", args=[job.pk]))
    assert other.get(board).status_code == 404
    share(client, job, "tern")
    client.post(reverse("unshare", args=[job.pk]), {"user": User.objects.get(username="tern").pk})
    assert other.get(board).status_code == 404


def test_who_is_there_is_told_until_they_are_silent_or_leave(
    client: Client, job: models.Job, user: User, other: Client, edit: Edit
) -> None:
    share(client, job, "tern")
    chosen = [{"page": "p1", "id": "f1"}]
    assert here(client, job, "one")["others"] == []
    here(other, job, "two", page="p1", chosen=chosen)
    told = here(client, job, "one")
    assert told["others"] == [{"client": "two", "name": "tern", "self": False, "page": "p1", "chosen": chosen}]
    assert here(client, job, "three")["others"][0]["self"], "the same person in another window"
    here(client, job, "three", leaving=True)
    with opened(job.pk) as live:
        paragraph = next(p.id for p in live.job.stories["main"].paragraphs if len(p.text) > 20)
    at = {"paragraph": paragraph, "offset": 3}
    edit({"do": "replace-text", "story": "main", "start": at, "end": at, "text": "x"}, base=0)
    assert here(other, job, "two", page="p1")["revision"] == 1, "so that what was done is fetched"
    models.Presence.objects.filter(client="two").update(at=timezone.now() - timedelta(minutes=2))
    assert here(client, job, "one")["others"] == []
    assert here(client, job, "") == 400
    assert here(client, job, "one", chosen=[{"page": "p" * 401, "id": ""}]) == 400


def test_a_copy_of_a_shared_job_has_its_files(client: Client, job: models.Job, user: User, other: Client) -> None:
    kept = Files(job.pk).keep(b"a picture's bytes")
    with opened(job.pk) as live:
        live.do([AddPicture(PictureFile("i1", "a.png", kept, 10, 10))], user)
    share(client, job, "tern")
    other.post(reverse("job-copy", args=[job.pk]))
    tern = User.objects.get(username="tern")
    copy = models.Job.objects.get(owner=tern)
    assert Files(copy.pk).has(kept)


def test_each_role_does_what_it_says_and_no_more(client: Client, job: models.Job, user: User, other: Client) -> None:
    """Every address that takes a POST is tried by somebody who may only view: nothing of the job changes."""
    share(client, job, "tern", "view")
    assert "you can view and comment" in page_text(other.get(reverse("shelf")))
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    before = from_rows(job)
    shape = {"do": "add-shape", "page": page, "rect": {"x": 9, "y": 9, "width": 90, "height": 90}}
    edit = partial(send_intent, job, shape)
    assert other.get(reverse("board", args=[job.pk])).status_code == 200
    refused = edit(other)
    assert refused.status_code == 403
    assert "view and comment" in refused.json()["error"]
    line = {"line": "bold", "edited": "bold", "story": "main", "do": True, "base": 0, "view": [0]}
    for address in job_addresses() - {"unshare"}:
        other.post(reverse(address, args=[job.pk]), json.dumps(line), content_type="application/json")
        other.post(reverse(address, args=[job.pk]), {"name": "Mine", "file": SimpleUploadedFile("a.pdf", b"%PDF")})
    assert from_rows(job) == before
    job.refresh_from_db()
    assert (job.binned, job.versions.count(), job.owner) == (None, 0, user)
    share(client, job, "tern", "edit")
    assert edit(other).status_code == 200
    assert "not share or delete" in share(other, job, "plover")
    other.post(reverse("job-delete", args=[job.pk]))
    job.refresh_from_db()
    assert job.binned is None
    pk = User.objects.get(username="tern").pk
    client.post(reverse("share-role", args=[job.pk]), {"user": pk, "role": "own"})
    User.objects.create_user("plover")
    assert "on the shelf of plover" in share(other, job, "plover", "view")
    other.post(reverse("job-delete", args=[job.pk]))
    job.refresh_from_db()
    assert job.binned is not None
    other.post(reverse("bin-restore", args=[job.pk]))
    job.refresh_from_db()
    assert job.binned is None


def job_addresses() -> set[str]:
    """The names of the addresses of a job that have no other part."""
    return {name for route, name in addresses() if route.startswith("job/<str:key>/") and route.count("<") == 1}


def test_somebody_who_may_only_view_changes_no_job_by_way_of_their_own(
    client: Client, job: models.Job, user: User, other: Client
) -> None:
    """Replacing in all jobs leaves those alone that are shared to be viewed."""
    share(client, job, "tern", "view")
    tern = User.objects.get(username="tern")
    mine = create_job(tern, poured(3).job)
    before = from_rows(job)
    asked = {"query": {"words": "the"}, "exchange": {"words": "THE"}, "everywhere": True, "left": [], "revision": 0}
    answer = other.post(reverse("copy-exchange", args=[mine.pk]), json.dumps(asked), content_type="application/json")
    assert answer.json()["jobs"] == 1
    assert from_rows(job) == before


def test_a_file_is_reached_only_through_a_job_that_one_sees(
    client: Client, job: models.Job, user: User, other: Client
) -> None:
    """An editor of one job reaches none of the owner's other files, by whatever hash."""
    share(client, job, "tern")
    private = create_job(user, poured(2).job)
    secret = Files(private.pk).keep(b"%PDF-1.4 a template of a private job")
    put = {"do": "put-overlay", "overlay": {"id": "o1", "name": "A", "file": secret, "width": 9, "height": 9}}
    post = partial(send_intent, job, put)
    assert post(other).status_code == 400
    assert other.get(reverse("picture", args=[job.pk, secret, 400])).status_code == 404
    assert post(client).status_code == 200, "the owner sees the other job, and may bring its file here"
    assert Files(job.pk).has(secret)


def test_nodes_that_somebody_else_moved_meanwhile_are_not_mistaken_for_others(
    client: Client, job: models.Job, edit: Edit, other: Client
) -> None:
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    made = edit({"do": "add-shape", "page": page, "rect": {"x": 9, "y": 9, "width": 90, "height": 90}}, base=0)["made"]
    share(client, job, "tern")
    drawn = {"do": "edit-nodes", "page": page, "object": made[0]}
    first = {**drawn, "change": {"kind": "change", "nodes": [[0, 0]], "to": "gone"}}
    edit(first, base=1)
    answer = other.post(
        reverse("edits", args=[job.pk]), json.dumps({"intents": [first], "base": 1}), content_type="application/json"
    )
    assert answer.status_code == 409
    assert "This path was changed in another window at" in answer.json()["error"]
    painted = {"do": "change-frame", "page": page, "frame": made[0], "spec": {"opacity": 0.5}}
    edit(painted, base=2)
    again = other.post(
        reverse("edits", args=[job.pk]), json.dumps({"intents": [first], "base": 2}), content_type="application/json"
    )
    assert again.status_code == 200, "its colour does not matter"


def test_each_takes_back_their_own_where_the_others_did_not_touch_it(
    client: Client, job: models.Job, user: User, edit: Edit, other: Client
) -> None:
    share(client, job, "tern")
    with opened(job.pk) as live:
        pages = [page.id for page in live.job.pages[:2]]
    shape = lambda page: {"do": "add-shape", "page": page, "rect": {"x": 9, "y": 9, "width": 90, "height": 90}}  # noqa: E731
    start = from_rows(job)
    edit(shape(pages[0]), base=0)
    theirs = {"intents": [shape(pages[1])], "base": 1}
    other.post(reverse("edits", args=[job.pk]), json.dumps(theirs), content_type="application/json")
    both = from_rows(job)
    step = lambda who, name: who.post(reverse(name, args=[job.pk]), "{}", content_type="application/json").json()  # noqa: E731
    assert step(client, "undo")["label"] == "Add shape"
    with opened(job.pk) as live:
        assert [len(page.objects) for page in live.job.pages[:2]] == [0, 1], "tern's shape stands"
    assert step(client, "redo")["undo"] == "Add shape"
    assert from_rows(job) == both
    # On one page the last change goes first, whoever made it.
    other.post(
        reverse("edits", args=[job.pk]),
        json.dumps({"intents": [shape(pages[0])], "base": 4}),
        content_type="application/json",
    )
    answer = client.get(reverse("board-pages", args=[job.pk]), {"page": 0}).json()
    assert answer["undo"] == "Add shape (tern)"
    for _ in range(3):
        step(client, "undo")
    assert from_rows(job) == start
    with opened(job.pk) as live:
        assert from_rows(job) == job_to_json(live.job)


def test_what_others_made_to_choose_from_comes_with_the_next_answer(
    client: Client, job: models.Job, edit: Edit, other: Client
) -> None:
    share(client, job, "tern")
    edit({"do": "put-swatch", "name": "Tide", "values": [0.9, 0.4, 0.1, 0.0]}, base=0)
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    shape = {"do": "add-shape", "page": page, "rect": {"x": 9, "y": 9, "width": 90, "height": 90}}
    answer = other.post(
        reverse("edits", args=[job.pk]), json.dumps({"intents": [shape], "base": 0}), content_type="application/json"
    ).json()
    assert "Tide" in [one["name"] for one in answer["lists"]["swatches"]]
    assert "Tide" in [
        one["name"]
        for one in other.get(reverse("board-pages", args=[job.pk]), {"page": 0, "whole": 1}).json()["lists"]["swatches"]
    ]


def test_what_others_built_on_is_not_taken_away_beneath_them(
    client: Client, job: models.Job, edit: Edit, other: Client
) -> None:
    """A layer that somebody made, and on which another put something on a page of its own."""
    share(client, job, "tern")
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    edit({"do": "add-layer", "name": "Lines"}, base=0)
    with opened(job.pk) as live:
        layer = list(live.job.layers)[-1]
    shape = {"do": "add-shape", "page": page, "rect": {"x": 9, "y": 9, "width": 90, "height": 90}, "layer": layer}
    other.post(
        reverse("edits", args=[job.pk]), json.dumps({"intents": [shape], "base": 1}), content_type="application/json"
    )
    answer = client.post(reverse("undo", args=[job.pk]), "{}", content_type="application/json").json()
    assert answer["label"] == "Add shape", "what lies on it goes first"
    with opened(job.pk) as live:
        assert layer in live.job.layers
    rows.load(job.pk)


def test_people_comment_on_pages_resolve_and_delete(client: Client, job: models.Job, user: User, other: Client) -> None:
    share(client, job, "tern", "view")
    with opened(job.pk) as live:
        page = live.job.pages[1].id

    def comments(who: Client, name: str, *more: int, **said: Any) -> Any:
        answer = who.post(reverse(name, args=[job.pk, *more]), json.dumps(said), content_type="application/json")
        return answer.json()["comments"] if answer.status_code == 200 else answer.json()["error"]

    assert "Type the comment" in comments(other, "comment-add", page=page, text="  ")
    assert "2,000 characters" in comments(other, "comment-add", page=page, text="x" * 2001)
    (theirs,) = comments(other, "comment-add", page=page, text=" The tern faces left. ")
    assert (theirs["text"], theirs["index"], theirs["mine"], theirs["deletable"]) == (
        "The tern faces left.",
        1,
        True,
        True,
    )
    _, mine = comments(client, "comment-add", page="gone", text="Agreed.")
    assert mine["index"] is None
    assert "Only the author of a comment" in comments(other, "comment-change", mine["id"], deleted=True)
    assert "or somebody who can edit the job" in comments(other, "comment-change", mine["id"], resolved=True)
    resolved, _ = comments(client, "comment-change", theirs["id"], resolved=True)
    assert resolved["resolved"]
    assert [one["id"] for one in comments(client, "comment-change", theirs["id"], deleted=True)] == [mine["id"]]
    assert client.get(reverse("comments", args=[job.pk])).json()["comments"][0]["by"] == user.username
    with opened(job.pk) as live:
        assert live.revision == 0, "comments are beside the job"
