"""Intents about record sets, what fields set on objects and pages, and adjustments for single records."""
