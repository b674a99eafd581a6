"""Codes that machines read: their modules, and those as outlines. Nothing here knows of jobs or pages."""
