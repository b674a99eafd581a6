"""Composing stories into linked frames: which line of which paragraph stands where on which page."""
