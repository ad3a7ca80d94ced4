"""What every test stands on."""

import pytest


@pytest.fixture(autouse=True)
def no_copies_unasked(settings):
    """Copies of the day are made by the tests that are about them."""
    settings.COPY_OF_THE_DAY = False
