"""Countries whose way of writing numbers, dates and times a reader may choose (Unicode CLDR, by Babel)."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache
from typing import Any

from babel import Locale
from babel.dates import format_skeleton, format_time
from babel.numbers import get_decimal_symbol, get_group_symbol
from django.utils import timezone

from lexigon.bench.models import Preference
from lexigon.core.numerals import Notation

USUAL = "en-GB"
REGIONS = (
    "en-GB",
    "en-US",
    "de-DE",
    "de-AT",
    "de-CH",
    "fr-FR",
    "es-ES",
    "it-IT",
    "nl-NL",
    "pt-PT",
    "pt-BR",
    "pl-PL",
    "sv-SE",
    "da-DK",
    "nb-NO",
    "fi-FI",
    "cs-CZ",
)
UNITS = {
    "": "as the kind of piece has it",
    "mm": "millimetres",
    "cm": "centimetres",
    "in": "inches",
    "pt": "points",
    "p": "picas",
    "px": "pixels",
}


@lru_cache(maxsize=len(REGIONS))
def notation_of(region: str) -> Notation:
    """The marks that numbers are written with in a region; those of Britain for one that is not known."""
    locale = _locale(region)
    return Notation(get_decimal_symbol(locale), get_group_symbol(locale))


def _locale(region: str) -> Locale:
    return Locale.parse(region if region in REGIONS else USUAL, sep="-")


def name_of(region: str) -> str:
    """A region's name with an example of its numbers and dates: "Germany: 1.234,5, 30. Nov., 14:05"."""
    locale, marks = _locale(region), notation_of(region)
    language = f", {locale.get_language_name('en')}" if region in ("de-CH",) else ""
    moment = datetime(2026, 11, 30, 14, 5)
    return (
        f"{Locale('en').territories[locale.territory]}{language}: 1{marks.group}234{marks.decimal}5, "
        f"{day_and_time(moment, region)}"
    )


def day_and_time(moment: datetime, region: str) -> str:
    """A day and a time as they are written in a region: "30 Nov, 14:05"."""
    local = timezone.localtime(moment) if timezone.is_aware(moment) else moment
    locale = _locale(region)
    return f"{format_skeleton('MMMd', local, locale=locale)}, {clock(moment, region)}"


def clock(moment: datetime, region: str) -> str:
    """A time as it is written in a region: "14:05"."""
    local = timezone.localtime(moment) if timezone.is_aware(moment) else moment
    return format_time(local, "short", locale=_locale(region))


def preference(user: Any) -> Preference:
    """Return what somebody has set, or the usual; asked for once for a user object."""
    if not getattr(user, "is_authenticated", False):
        return Preference(region=USUAL)
    if not hasattr(user, "_preference"):
        user._preference = Preference.objects.filter(user=user).first() or Preference(user=user)
    preference: Preference = user._preference
    return preference
