"""Setting type: fonts, shaping, hyphenation, and breaking a paragraph into lines. Knows no pages."""
