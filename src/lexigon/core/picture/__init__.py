"""Pictures and placed pages: what a file is, how large it is, and what it looks like. Every file is hostile until
read."""
