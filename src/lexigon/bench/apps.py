"""The application, as Django starts it."""

from __future__ import annotations

from django.apps import AppConfig
from django.conf import settings

from lexigon.core.cache import configure_cache


class BenchConfig(AppConfig):
    """Every process of an installation uses the cache in its data folder."""

    name = "lexigon.bench"

    def ready(self) -> None:
        configure_cache(settings.DATA / "cache")
