"""Which rows of the tables are meant, said once."""

from __future__ import annotations

from typing import Any

from django.db import models


class JobQuerySet(models.QuerySet[Any]):
    def of(self, user: Any) -> JobQuerySet:
        """The jobs and templates that somebody works on, their own and those shared with them, that are not in the bin."""
        shared = self.model.people.through.objects.filter(user=user.pk).values("job")
        return self.filter(models.Q(owner=user) | models.Q(pk__in=shared), binned=None)
