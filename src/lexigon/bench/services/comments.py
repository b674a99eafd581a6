"""Comments on the pages of a job: beside the job, so that also those who may only view it can write them."""

from __future__ import annotations

from typing import Any

from lexigon.bench.models import Comment, Job, Page, Role
from lexigon.bench.services.sharing import role_in
from lexigon.core.errors import LexigonError
from lexigon.core.numerals import integer

MOST_COMMENTS = 2000


def listed(job: Job, user: Any) -> list[dict[str, Any]]:
    """The comments on a job, oldest first: by whom, when, on which page (its index, None for one that was deleted),
    and what ``user`` may do with each."""
    indexes = {key: at for at, key in enumerate(Page.objects.filter(job=job).values_list("key", flat=True))}
    editor = role_in(job, user).includes(Role.EDIT)
    return [
        {
            "id": one.pk,
            "index": indexes.get(one.page),
            "text": one.text,
            "at": one.at.isoformat(),
            "resolved": one.resolved,
            "by": one.by.get_username() if one.by else "former user",
            "mine": one.by_id == user.pk,
            "resolvable": editor or one.by_id == user.pk,
            "deletable": _deletable(job, one, user),
        }
        for one in job.comments.select_related("by")
    ]


def add(job: Job, user: Any, page: str, text: str) -> None:
    """Comment on a page. Raises LexigonError for an empty text, or where there are too many."""
    words = text.strip()
    if not words:
        raise LexigonError("Type the comment first.", "text")
    if job.comments.count() >= MOST_COMMENTS:
        raise LexigonError(
            f"A job has at most {integer(MOST_COMMENTS)} comments. Delete some that are resolved.", "text"
        )
    job.comments.create(by=user, page=page, text=words)


def resolve(job: Job, user: Any, comment: Comment, resolved: bool) -> None:
    """Mark a comment as resolved, or as open again: for those who may edit the job, and for who wrote it."""
    if comment.by_id != user.pk and not role_in(job, user).includes(Role.EDIT):
        raise LexigonError("Only the author of a comment, or somebody who can edit the job, can resolve it.")
    job.comments.filter(pk=comment.pk).update(resolved=resolved)


def delete(job: Job, user: Any, comment: Comment) -> None:
    """Delete a comment: for who wrote it, and for the job's owners."""
    if not _deletable(job, comment, user):
        raise LexigonError("Only the author of a comment, or an owner of the job, can delete it.")
    comment.delete()


def _deletable(job: Job, comment: Comment, user: Any) -> bool:
    return comment.by_id == user.pk or role_in(job, user) == Role.OWN
