"""Intents about swatches and ink sets."""
