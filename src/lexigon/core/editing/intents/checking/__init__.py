"""Intents about what the checks find."""
