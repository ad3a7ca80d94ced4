"""Tick off what is done at the bench."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable

from django.db import transaction

from latchcore.edits import EditError
from workbench.models import Build, Tick


def state_of(known: Iterable[str], ticked: set[str]) -> str:
    """
    What a group looked like, short enough to travel with its form: another tab's tick in it changes
    this.

    Examples
    --------
    >>> one = state_of(["a", "b"], {"b", "elsewhere"})
    >>> one == state_of(["b", "a"], {"b"}) != state_of(["a", "b"], set())
    True
    """
    return hashlib.sha256("\n".join(sorted(set(known) & ticked)).encode()).hexdigest()[:12]


@transaction.atomic
def set_ticks(build: Build, known: list[str], done: list[str], seen: str) -> str:
    """
    Keep the ticks of one group as they were sent; those of other groups stay.

    Parameters
    ----------
    known : list of str
        Every key of the group; anything else that was sent is let go
    done : list of str
        Keys that are ticked
    seen : str
        What the group looked like when the page was shown, from :func:`state_of`

    Raises
    ------
    EditError
        If something of the group was ticked elsewhere since; nothing is changed then
    """
    wanted = set(done) & set(known)
    there = set(build.ticks.values_list("key", flat=True)) & set(known)
    if seen != state_of(known, there):
        raise EditError(
            "Something here was ticked in another tab since this page was opened. It is shown as it"
            " is now; tick yours again."
        )
    build.ticks.filter(key__in=there - wanted).delete()
    Tick.objects.bulk_create([Tick(build=build, key=key) for key in sorted(wanted - there)])
    return f"{len(wanted)} of {len(known)} ticked"
