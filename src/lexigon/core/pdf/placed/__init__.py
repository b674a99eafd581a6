"""Pages of PDF files that are placed in others: copied, read as plates of inks, and rewritten in inks."""
