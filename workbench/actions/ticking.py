"""Tick off what is done at the bench."""

from __future__ import annotations

from django.db import transaction

from workbench.models import Build, Tick


def set_ticks(build: Build, known: list[str], done: list[str]) -> str:
    """
    Keep the ticks of one group as they were sent; those of other groups stay.

    Parameters
    ----------
    known : list of str
        Every key of the group; anything else that was sent is let go
    done : list of str
        Keys that are ticked
    """
    wanted = set(done) & set(known)
    with transaction.atomic():
        build.ticks.filter(key__in=set(known) - wanted).delete()
        there = set(build.ticks.filter(key__in=wanted).values_list("key", flat=True))
        Tick.objects.bulk_create([Tick(build=build, key=key) for key in wanted - there])
    return f"{len(wanted)} of {len(known)} ticked"
