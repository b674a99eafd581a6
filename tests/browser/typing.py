"""Somebody typing against a slow line, and the plain text area that gets the same keys."""

from __future__ import annotations

import random
from collections.abc import Iterable
from dataclasses import dataclass

from playwright.sync_api import Page

SLOW = """
({ lag, lose }) => {
  const fetched = window.plainFetch || window.fetch;
  window.plainFetch = fetched;
  let left = lose;
  const wait = (ms) => new Promise((done) => setTimeout(done, ms));
  window.fetch = async (...asked) => {
    const writes = asked[1]?.method === 'POST';
    if (lag) await wait(lag / 2);
    const answer = await fetched(...asked);
    if (lag) await wait(lag / 2);
    while (window.held) await wait(5); // nothing is drawn anew between looking and pressing
    if (writes && left > 0 && /edits|write/.test(asked[0])) { left -= 1; throw new TypeError('the answer was lost'); }
    return answer;
  };
}
"""


def slow(page: Page, lag: int = 0, lose: int = 0) -> None:
    """Every request takes ``lag`` milliseconds longer, and the answers to the next ``lose`` edits are lost on their
    way."""
    page.evaluate(SLOW, {"lag": lag, "lose": lose})


@dataclass
class TextArea:
    """A model of a plain text area; each paragraph is one of its lines."""

    text: str = ""
    at: int = 0
    mark: int = 0

    def press(self, key: str) -> None:
        shift, key = ("Shift+" in key, key.replace("Shift+", ""))
        low, high = sorted((self.at, self.mark))
        if key in ("ArrowLeft", "ArrowRight"):
            left = key == "ArrowLeft"
            if low != high and not shift:
                self.at = low if left else high
            else:
                self.at = max(self.at - 1, 0) if left else min(self.at + 1, len(self.text))
        elif key in ("Home", "End"):
            begin = self.text.rfind("\n", 0, self.at) + 1
            end = self.text.find("\n", self.at)
            self.at = begin if key == "Home" else len(self.text) if end < 0 else end
        else:
            if key == "Backspace" and low == high:
                low = max(low - 1, 0)
            elif key == "Delete" and low == high:
                high = min(high + 1, len(self.text))
            put = {"Enter": "\n", "Backspace": "", "Delete": "", "Tab": "\t"}.get(key, key)
            self.text = self.text[:low] + put + self.text[high:]
            self.at = low + len(put)
            shift = False
        if not shift:
            self.mark = self.at


WORDS = ("low", "water", "on", "the", "flats", "dunlin", "Ines", "lantern", "maker")
CORRECTIONS = (
    ("Backspace",),
    ("Backspace", "Backspace", "Backspace"),
    ("ArrowLeft", "ArrowLeft", "x", "ArrowRight", "ArrowRight"),
    ("Home", "q", "End"),
    ("ArrowLeft", "Delete"),
    ("Shift+ArrowLeft", "Shift+ArrowLeft", "Z"),
    ("Home", "Backspace", "End"),
    ("Home", "Enter", "End"),
    ("ArrowLeft", "Enter", "End"),
    ("Home", "Shift+ArrowLeft", "Shift+ArrowLeft", "Shift+ArrowLeft", "y", "End"),
    ("Home", "ArrowLeft", "Delete", "Enter", "End"),
)


def keys_of(
    lines: int, seed: int, corrections: Iterable[tuple[str, ...]] = CORRECTIONS, short: bool = True
) -> list[str]:
    """Keys of so many short lines, with what people press to put things right."""
    dice = random.Random(seed)
    keys: list[str] = []
    choices = list(corrections)
    for _ in range(lines):
        for word in dice.sample(WORDS, 1 if short else 2):
            keys += [*word, " "]
        if dice.random() < 0.5:
            keys += dice.choice(choices)
        keys.append("Enter")
    return keys


def strike(page: Page, keys: Iterable[str], delay: int = 0) -> None:
    for key in keys:
        page.keyboard.press("Space" if key == " " else key)
        if delay:
            page.wait_for_timeout(delay)
