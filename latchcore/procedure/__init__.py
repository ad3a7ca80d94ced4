"""At the bench: which cause is likely, and which reading tells most."""
