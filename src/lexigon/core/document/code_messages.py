"""Contents of codes by purpose: a web address, a telephone number, a contact, a network, an event. Written in the
forms that readers know, and read back into their parts.

Telephones are RFC 3966, e-mail RFC 6068, contact cards RFC 2426 (version 3.0, which more telephones know than 4.0),
events RFC 5545; networks are written as the readers of telephones take them (common practice, no standard)."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal
from urllib.parse import parse_qs, quote, unquote, urlsplit

from lexigon.core.document.limits import Key, Many, Note
from lexigon.core.errors import LexigonError

Kind = Literal["web", "phone", "mail", "card", "network", "event", "text"]


class MessageError(LexigonError):
    """The typed text does not make a message of this kind."""


@dataclass(slots=True, frozen=True)
class Message:
    """A kind of message and its parts by name, as people type them."""

    kind: Kind
    parts: Annotated[dict[Key, Note], Many(20)]


@dataclass(slots=True, frozen=True)
class Part:
    """A part of a message: its name, the word for it, an example; ``needed`` is asked for."""

    name: str
    word: str
    example: str = ""
    needed: bool = False


PARTS: dict[str, tuple[str, tuple[Part, ...]]] = {
    "web": ("web address", (Part("address", "Address", "slackwater.example/evening", True),)),
    "phone": ("telephone", (Part("number", "Number", "+44 1632 960001", True),)),
    "mail": (
        "e-mail",
        (Part("to", "To", "hides@slackwater.example", True), Part("subject", "Subject"), Part("body", "Text")),
    ),
    "card": (
        "contact card",
        (
            Part("given", "First name", "", False),
            Part("family", "Last name", "", True),
            Part("org", "Organisation"),
            Part("title", "Work"),
            Part("phone", "Telephone"),
            Part("mail", "E-mail"),
            Part("web", "Web address"),
            Part("street", "Street"),
            Part("town", "Town"),
            Part("code", "Post code"),
            Part("country", "Country"),
        ),
    ),
    "network": (
        "wireless network",
        (
            Part("name", "Name", "", True),
            Part("password", "Password"),
            Part("hidden", "Hidden", "yes, if the network is hidden"),
        ),
    ),
    "event": (
        "event",
        (
            Part("what", "What", "", True),
            Part("begin", "Begins", "2026-07-04 19:30", True),
            Part("end", "Ends", "2026-07-04 22:00"),
            Part("where", "Where"),
        ),
    ),
    "text": ("plain text", (Part("words", "Words", "", True),)),
}
"""By kind: what it is called, and its parts."""


def written(message: Message) -> str:
    """Return what a code says for a message. Raises MessageError in plain words."""
    parts = {name: " ".join(value.split()) for name, value in message.parts.items()}
    if message.kind == "text":
        parts = {name: value.strip() for name, value in message.parts.items()}
    for part in PARTS[message.kind][1]:
        if part.needed and not parts.get(part.name):
            raise MessageError(f"Fill in “{part.word}”.")
    return _WRITERS[message.kind](parts)


def read(text: str) -> Message:
    """The message that a code says, as any words where it is none of the others."""
    for reader in (_phone_in, _mail_in, _card_in, _network_in, _event_in, _web_in):
        message = reader(text)
        if message is not None:
            return message
    return Message("text", {"words": text})


# Written


def _web(parts: Mapping[str, str]) -> str:
    address = parts["address"]
    address = address if re.match(r"[A-Za-z][A-Za-z0-9+.-]*:", address) else f"https://{address}"
    host = urlsplit(address).hostname
    if " " in address or not host or "." not in host:
        raise MessageError("Type a web address, such as slackwater.example/evening.")
    return address


def _phone(parts: Mapping[str, str]) -> str:
    number = re.sub(r"[\s().\u2010-\u2013/-]", "", parts["number"])
    if not re.fullmatch(r"\+?[0-9*#]{2,20}", number):
        raise MessageError("Type a telephone number in figures, preferably with the country code: +44 1632 960001.")
    return f"tel:{number}"


def _mail(parts: Mapping[str, str]) -> str:
    if not re.fullmatch(r"[^@\s]+@[^@\s]+\.[^@\s]+", parts["to"]):
        raise MessageError("Type an e-mail address, such as hides@slackwater.example.")
    more = "&".join(f"{name}={quote(parts[name])}" for name in ("subject", "body") if parts.get(name))
    return f"mailto:{quote(parts['to'], safe='@+._-')}" + (f"?{more}" if more else "")


def _escaped(value: str) -> str:
    """Escape a value of a contact or an event (RFC 2426, 5; RFC 5545, 3.3.11)."""
    return re.sub(r"([\\,;])", r"\\\1", value).replace("\n", "\\n")


def _card(parts: Mapping[str, str]) -> str:
    def get(name: str) -> str:
        return _escaped(parts.get(name, ""))

    lines = [
        "BEGIN:VCARD",
        "VERSION:3.0",
        f"N:{get('family')};{get('given')};;;",
        f"FN:{' '.join(filter(None, (get('given'), get('family'))))}",
    ]
    for name, field in (("org", "ORG"), ("title", "TITLE"), ("phone", "TEL"), ("mail", "EMAIL"), ("web", "URL")):
        if parts.get(name):
            lines.append(f"{field}:{get(name)}")
    if any(parts.get(name) for name in ("street", "town", "code", "country")):
        lines.append(f"ADR:;;{get('street')};{get('town')};;{get('code')};{get('country')}")
    return "\n".join([*lines, "END:VCARD"])


def _network(parts: Mapping[str, str]) -> str:
    def guarded(value: str) -> str:
        return re.sub(r'([\\;,:"])', r"\\\1", value)

    password = parts.get("password", "")
    key = (
        f"T:WPA;S:{guarded(parts['name'])};P:{guarded(password)};"
        if password
        else f"T:nopass;S:{guarded(parts['name'])};"
    )
    return f"WIFI:{key}{'H:true;' if parts.get('hidden', '').casefold() in ('yes', 'true', '1') else ''};"


def _event(parts: Mapping[str, str]) -> str:
    begin, end = _time(parts["begin"]), _time(parts["end"]) if parts.get("end") else None
    if end is not None and end < begin:
        raise MessageError("The end is before the start.")
    lines = [
        "BEGIN:VCALENDAR",
        "VERSION:2.0",
        "PRODID:Lexigon",
        "BEGIN:VEVENT",
        f"SUMMARY:{_escaped(parts['what'])}",
        f"DTSTART:{begin:%Y%m%dT%H%M%S}",
    ]
    lines += [f"DTEND:{end:%Y%m%dT%H%M%S}"] if end else []
    lines += [f"LOCATION:{_escaped(parts['where'])}"] if parts.get("where") else []
    return "\n".join([*lines, "END:VEVENT", "END:VCALENDAR"])


def _time(typed: str) -> datetime:
    try:
        return datetime.fromisoformat(typed).replace(tzinfo=None)
    except ValueError as error:
        raise MessageError("Type a date and time, such as 2026-07-04 19:30.") from error


_WRITERS: dict[str, Callable[[Mapping[str, str]], str]] = {
    "web": _web,
    "phone": _phone,
    "mail": _mail,
    "card": _card,
    "network": _network,
    "event": _event,
    "text": lambda parts: parts["words"],
}


# Read back


def _web_in(text: str) -> Message | None:
    return Message("web", {"address": text}) if re.fullmatch(r"https?://[^\s]+\.[^\s]+", text) else None


def _phone_in(text: str) -> Message | None:
    return Message("phone", {"number": text[4:]}) if re.fullmatch(r"tel:\+?[0-9*#]{2,20}", text) else None


def _mail_in(text: str) -> Message | None:
    if not text.startswith("mailto:"):
        return None
    address, _, more = text[7:].partition("?")
    fields = parse_qs(more)
    return Message(
        "mail", {"to": unquote(address)} | {name: fields[name][0] for name in ("subject", "body") if name in fields}
    )


def _lines(text: str, name: str) -> dict[str, str] | None:
    """The lines of a contact or an event, by the part before the colon."""
    lines = text.splitlines()
    if not lines or lines[0] != f"BEGIN:{name}" or lines[-1] != f"END:{name}":
        return None
    pairs = [line.partition(":") for line in lines[1:-1]]
    return {field: value for field, _, value in pairs}


def _plain(value: str) -> str:
    return re.sub(r"\\(.)", lambda found: "\n" if found[1] in "nN" else found[1], value)


def _split(value: str) -> list[str]:
    return [_plain(part) for part in re.split(r"(?<!\\);", value)]


def _card_in(text: str) -> Message | None:
    lines = _lines(text, "VCARD")
    if lines is None:
        return None
    family, first_name = (*_split(lines.get("N", "")), "", "")[:2]
    parts = {"given": first_name, "family": family}
    for name, field in (("org", "ORG"), ("title", "TITLE"), ("phone", "TEL"), ("mail", "EMAIL"), ("web", "URL")):
        parts[name] = _plain(lines.get(field, ""))
    address = (*_split(lines.get("ADR", "")), *[""] * 7)
    parts |= {"street": address[2], "town": address[3], "code": address[5], "country": address[6]}
    message = Message("card", {name: value for name, value in parts.items() if value})
    return message if written_or_none(message) == text else None


def _network_in(text: str) -> Message | None:
    if not text.startswith("WIFI:"):
        return None
    fields = dict(part.split(":", 1) for part in re.split(r"(?<!\\);", text[5:]) if ":" in part)
    parts = {
        "name": _plain(fields.get("S", "")),
        "password": _plain(fields.get("P", "")),
        "hidden": "yes" if fields.get("H") == "true" else "",
    }
    return Message("network", {name: value for name, value in parts.items() if value})


def _event_in(text: str) -> Message | None:
    lines = _lines(text, "VCALENDAR")
    if lines is None:
        return None
    parts = {"what": _plain(lines.get("SUMMARY", "")), "where": _plain(lines.get("LOCATION", ""))}
    for name, field in (("begin", "DTSTART"), ("end", "DTEND")):
        try:
            parts[name] = f"{datetime.strptime(lines.get(field, ''), '%Y%m%dT%H%M%S'):%Y-%m-%d %H:%M}"
        except ValueError:
            continue
    message = Message("event", {name: value for name, value in parts.items() if value})
    return message if written_or_none(message) == text else None


def written_or_none(message: Message) -> str | None:
    try:
        return written(message)
    except MessageError:
        return None
