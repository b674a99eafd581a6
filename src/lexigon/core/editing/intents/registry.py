"""Intents that come from outside, as JSON: every dataclass of the package with a name (``do``), except those marked
``inward``, which the application uses itself."""

from __future__ import annotations

from dataclasses import is_dataclass
from functools import cache
from importlib import import_module
from pkgutil import walk_packages
from types import ModuleType
from typing import Annotated, Any, Union, cast

from pydantic import Field

from lexigon.core.editing import intents
from lexigon.core.editing.intents.intent import Intent
from lexigon.core.fileformat.values import adapter, read


@cache
def known_intents() -> tuple[type[Intent], ...]:
    """All intents that may be requested, by module and in the order of their sources."""
    modules = [import_module(one.name) for one in walk_packages(intents.__path__, f"{intents.__name__}.")]
    return tuple(
        cast(type[Intent], cls) for module in modules for cls in vars(module).values() if _is_public(cls, module)
    )


def _is_public(cls: object, module: ModuleType) -> bool:
    """Return whether a value is an intent that ``module`` defines for use from outside."""
    if not isinstance(cls, type) or not is_dataclass(cls) or cls.__module__ != module.__name__:
        return False
    return hasattr(cls, "do") and hasattr(cls, "expand") and not getattr(cls, "inward", False)


@cache
def _any_intent() -> Any:
    return Annotated[Union[known_intents()], Field(discriminator="do")]


def prepare() -> None:
    """Load all of them and their validator, as a server does before the first request."""
    adapter(_any_intent())


def intent_from_plain(data: Any) -> Intent:
    """Validate an intent that came from outside. Raises FormError."""
    result: Intent = read(_any_intent(), data)
    return result
