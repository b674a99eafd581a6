"""Inks and swatches: what a colour is on the plates and how it is shown on a screen."""
