"""Intents about tables and their cells."""
