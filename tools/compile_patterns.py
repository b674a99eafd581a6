"""Compiles the hyphenation patterns of the languages that are offered, as a step of the installation:
``PYTHONPATH=src python -m tools.compile_patterns``."""

from lexigon.core.brief.setup import LANGUAGES
from lexigon.core.type.hyphenation import compile_patterns

if __name__ == "__main__":
    compile_patterns(LANGUAGES)
