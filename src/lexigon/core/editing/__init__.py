"""Changing a job: the primitive edits with their inverses, the intents that expand into them, validation of what they
touched, conflicts with other edits, and copies of objects. Knows no composition and no interface.
"""
