"""What is remembered of words: how they are shaped, where they divide, and how wide they are in each setting."""

from __future__ import annotations

from lexigon.core.type.line import forget_parts
from lexigon.core.type.shaping import forget_shaped_words
from lexigon.core.type.words import forget_tables


def forget_words() -> None:
    """Forget all words that were set so far; each is measured again when it is needed. Thousands of records have words
    that no other record has, such as names and telephone numbers."""
    forget_shaped_words()
    forget_tables()
    forget_parts()
