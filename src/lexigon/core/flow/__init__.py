"""Composing stories into linked frames: which line of which paragraph is where on which page."""
