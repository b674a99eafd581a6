"""Inks and swatches: what a colour is on the plates and how it is shown on a screen.

``palette`` resolves a job's swatches once, before painting; ``colours`` has every conversion, through the profiles.
"""
