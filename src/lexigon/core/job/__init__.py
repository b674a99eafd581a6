"""The publication itself: its dataclasses, their JSON form, the edits that change it, and its file.

Nothing here composes or paints; nothing here reads a font.
"""
