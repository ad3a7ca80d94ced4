"""What every test stands on."""

import os

# Copies of the day are made by the tests that are about them.
os.environ.setdefault("ZINC_LATCH_COPIES", "no")
