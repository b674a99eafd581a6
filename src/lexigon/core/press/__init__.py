"""Print-ready files: recipes, the PDF writer, marks, images of pages, and the facts of a finished file."""
