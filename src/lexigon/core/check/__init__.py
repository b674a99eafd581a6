"""Findings about a composed job: what should be looked at before a file is made of it, told in plain words.

A rule is one small function, registered in ``findings``; each module has the rules of one subject. The command line, Press and
the strip's count ask for them. What is wrong with a finished file is not told here but in ``press/facts``.
"""
