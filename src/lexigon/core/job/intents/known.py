"""Intents that come from outside, as JSON: every dataclass of the package that says what it does, but for those that are ``inward``:
the application does them by itself."""

from __future__ import annotations

from dataclasses import is_dataclass
from functools import cache
from importlib import import_module
from pkgutil import iter_modules
from typing import Annotated, Any, Union, cast

from pydantic import Field

from lexigon.core.job import intents
from lexigon.core.job.intents.intent import Intent
from lexigon.core.job.serial import adapter, read


@cache
def known_intents() -> tuple[type[Intent], ...]:
    """All that may be asked for, by module and in the order of their sources."""
    modules = [import_module(f"{intents.__name__}.{one.name}") for one in iter_modules(intents.__path__)]
    return tuple(
        cast(type[Intent], found)
        for module in modules
        for found in vars(module).values()
        if is_dataclass(found) and isinstance(found, type) and found.__module__ == module.__name__ and hasattr(found, "do") and hasattr(found, "expand") and not getattr(found, "inward", False)
    )  # fmt: skip


@cache
def _any_intent() -> Any:
    return Annotated[Union[known_intents()], Field(discriminator="do")]


def prepare() -> None:
    """Load them all and make what reads them, as a server does before the first request asks for it."""
    adapter(_any_intent())


def intent_from_plain(data: Any) -> Intent:
    """Validate an intent that came from outside. Raises FormError."""
    result: Intent = read(_any_intent(), data)
    return result
