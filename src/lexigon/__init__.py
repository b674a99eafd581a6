"""Lexigon: a workbench for laying out books, magazines, brochures, flyers and cards.

``lexigon.core`` holds the rules and the computation and knows nothing of the web; ``lexigon.bench``
is the Django application around it; ``lexigon.site`` its settings.
"""

__version__ = "0.1.0"
