"""Query sets for the rows that views and services ask for, each defined once."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db import models

EDITING = ("edit", "own")
"""The roles that may change a job (``models.Role``)."""


class JobQuerySet(models.QuerySet[Any]):
    def of(self, user: Any) -> JobQuerySet:
        """The jobs and templates that somebody sees, their own and those shared with them, that are not in the bin."""
        return self._with(user).filter(binned=None)

    def editable_by(self, user: Any) -> JobQuerySet:
        """Those of them that somebody may change."""
        return self._with(user, EDITING).filter(binned=None)

    def owned_by(self, user: Any) -> JobQuerySet:
        """The jobs that somebody owns, alone or with others, also those in the bin."""
        return self._with(user, ("own",))

    def _with(self, user: Any, roles: Sequence[str] = ()) -> JobQuerySet:
        shared = self.model.people.through.objects.filter(user=user.pk)
        if roles:
            shared = shared.filter(role__in=roles)
        return self.filter(models.Q(owner=user) | models.Q(pk__in=shared.values("job")))
