"""The web application: builds with their revisions, and the pages that show reports."""
