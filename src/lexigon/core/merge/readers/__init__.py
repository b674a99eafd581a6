"""One reader for each kind of file that holds records. Each returns rows of text, exactly as they are in the file."""
