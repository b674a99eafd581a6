"""Intents about styles and fonts."""
