"""Intents about pages, master pages and the set-up."""
