"""The build document with its edits."""
