"""Intents about objects: frames, shapes, paths, groups, layers and guides."""
