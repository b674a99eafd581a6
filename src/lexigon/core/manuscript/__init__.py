"""Bringing text in: reading manuscripts and recognising their structure. Writes no job; returns paragraphs."""
