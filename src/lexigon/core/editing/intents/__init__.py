"""A person's actions as data: each intent checks itself and expands into primitive edits.

The web view, the command line and the tests change a job through these (and the undo log through their primitives). One
module a
subject; nothing here composes. ``__init__.pyi`` says which name is whose; a module is loaded when one of its names is
asked for, so that a command that pours a manuscript does not load all others.
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
