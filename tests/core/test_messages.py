"""What codes say: messages written as the standards have them, and read back into their parts."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lexigon.core.document.code_messages import PARTS, Message, MessageError, read, written
from lexigon.core.document.limits import CONTROLS

WORD = (
    st.from_regex(rf"[^{CONTROLS}\s]([^{CONTROLS}\s]| )*[^{CONTROLS}\s]", fullmatch=True)
    .map(lambda text: " ".join(text.split()))
    .filter(bool)
)


@pytest.mark.parametrize(
    ("kind", "parts", "said"),
    [
        ("web", {"address": "slackwater.example/evening"}, "https://slackwater.example/evening"),
        ("phone", {"number": "+44 (1632) 960-001"}, "tel:+441632960001"),
        (
            "mail",
            {"to": "hides@slackwater.example", "subject": "Evening & ebb"},
            "mailto:hides@slackwater.example?subject=Evening%20%26%20ebb",
        ),
        ("network", {"name": 'The "Hide"', "password": "ebb;flow"}, 'WIFI:T:WPA;S:The \\"Hide\\";P:ebb\\;flow;;'),
        ("network", {"name": "Open", "hidden": "yes"}, "WIFI:T:nopass;S:Open;H:true;;"),
        (
            "card",
            {"given": "Ansa", "family": "Merrow; Jr", "phone": "+441632960001", "town": "Wherry Hole"},
            (
                "BEGIN:VCARD\nVERSION:3.0\nN:Merrow\\; Jr;Ansa;;;\nFN:Ansa Merrow\\; "
                "Jr\nTEL:+441632960001\nADR:;;;Wherry Hole;;;\nEND:VCARD"
            ),
        ),
        (
            "event",
            {"what": "Open hide", "begin": "2026-07-04 19:30", "end": "2026-07-04 22:00", "where": "Sluice"},
            (
                "BEGIN:VCALENDAR\nVERSION:2.0\nPRODID:Lexigon\nBEGIN:VEVENT\nSUMMARY:Open "
                "hide\nDTSTART:20260704T193000\nDTEND:20260704T220000\nLOCATION:Sluice\nEND:VEVENT\nEND:VCALENDAR"
            ),
        ),
        ("text", {"words": "High water 21:14"}, "High water 21:14"),
    ],
)
def test_a_message_is_written_as_readers_know_it_and_read_back(kind: str, parts: dict[str, str], said: str) -> None:
    message = Message(kind, parts)  # type: ignore[arg-type]
    assert written(message) == said
    again = read(said)
    assert again.kind == kind
    assert written(again) == said


@given(st.sampled_from(["card", "network", "event"]), st.data())
def test_whatever_stands_in_the_parts_is_read_back(kind: str, data: st.DataObject) -> None:
    parts = {}
    for part in PARTS[kind][1]:
        if part.needed or data.draw(st.booleans()):
            parts[part.name] = (
                "2026-07-04 19:30"
                if part.name in ("begin", "end")
                else "yes"
                if part.name == "hidden"
                else data.draw(WORD)
            )
    message = Message(kind, parts)  # type: ignore[arg-type]
    assert read(written(message)) == message


@pytest.mark.parametrize(
    ("kind", "parts"),
    [
        ("web", {}),
        ("web", {"address": "a word"}),
        ("phone", {"number": "call me"}),
        ("mail", {"to": "nobody"}),
        ("card", {"given": "Ansa"}),
        ("event", {"what": "Ebb", "begin": "tonight"}),
        ("event", {"what": "Ebb", "begin": "2026-07-04 19:30", "end": "2026-07-04 18:30"}),
    ],
)
def test_what_makes_no_message_is_said(kind: str, parts: dict[str, str]) -> None:
    with pytest.raises(MessageError):
        written(Message(kind, parts))  # type: ignore[arg-type]


@given(st.text(max_size=300))
def test_any_text_is_some_message(text: str) -> None:
    read(text)
