"""Intents about stories: their words, formatting, flow, anchored objects, notes and listings."""
