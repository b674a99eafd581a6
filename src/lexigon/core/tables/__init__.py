"""Tables in stories: the grid of their cells, inserting and merging, sums, default formatting of cells, and updates
from files. Returns new tables and changes nothing in place."""
