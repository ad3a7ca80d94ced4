"""Reading and writing of files."""
