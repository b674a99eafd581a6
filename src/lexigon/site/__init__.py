"""The Django project's settings, addresses and server entry points."""
