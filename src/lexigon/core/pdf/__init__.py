"""Writing PDF: objects, streams, fonts, content and resources of pages, placed pages of other files. Knows no job."""
