"""Intents about pictures and codes."""
