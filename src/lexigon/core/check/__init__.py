"""Findings about a composed job: what to review before exporting it, in plain words.

A rule is one small function, registered in ``findings``; each module has the rules of one subject. ``kinds`` says how
grave each kind of finding is and why it matters, ``acceptance`` which are accepted, ``report`` puts them in order. The
command line, Check, Press and the count in the strip read them. Findings about a finished file are in ``press/facts``.
"""
