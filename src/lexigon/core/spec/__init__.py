"""The spec line: a setting as designers write it, ``11/15 EB Garamond, justified, indent 15pt``.

``grammar`` reads it, ``writing`` writes it, ``completion`` completes what was begun, ``revising`` finds what an edit of
the line changed, ``carrying`` turns it into intents. docs/spec-line.md is generated from the grammar's own rules.
"""

# Their rules are registered in this order, whichever of them is asked for first.
from lexigon.core.spec import characters, frames, paragraphs, strokes  # noqa: F401
