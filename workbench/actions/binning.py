"""Put a build in the bin, take it out again, and let go what has lain there long."""

from __future__ import annotations

from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from workbench.models import (
    Build,
    LogEntry,
    LogPhoto,
    OwnCheck,
    PartUse,
    Revision,
    RunEntry,
    StockPart,
    Verdict,
)

#: What lies in the bin this long is let go [days].
KEPT_DAYS = 90


def bin_build(build: Build) -> None:
    """Put a build in the bin; everything is kept."""
    Build.objects.filter(pk=build.pk).update(binned=timezone.now())


def restore_build(build: Build) -> None:
    """Take a build out of the bin."""
    Build.objects.filter(pk=build.pk).update(binned=None)


@transaction.atomic
def erase(builds: list[int]) -> int:
    """Erase builds that lie in the bin, with all their revisions; how many it were."""
    chosen = list(
        Build.objects.filter(pk__in=builds).exclude(binned=None).values_list("pk", flat=True)
    )
    Build.objects.filter(pk__in=chosen).update(head=None)
    # Straight to the tables: a build may have thousands of revisions, none of which is wanted one
    # by one.
    Verdict.objects.filter(revision__build__in=chosen)._raw_delete("default")
    PartUse.objects.filter(build__in=chosen)._raw_delete("default")
    _erase_bench(chosen)
    Revision.objects.filter(build__in=chosen).update(parent=None, base=None)
    Revision.objects.filter(build__in=chosen)._raw_delete("default")
    Build.objects.filter(pk__in=chosen).delete()
    return len(chosen)


def _erase_bench(chosen: list[int]) -> None:
    """Runs and the log, which may be long; checks of any build stay."""
    OwnCheck.objects.filter(entry__build__in=chosen).update(entry=None)
    LogPhoto.objects.filter(entry__build__in=chosen)._raw_delete("default")
    LogEntry.objects.filter(build__in=chosen).update(corrects=None)
    LogEntry.objects.filter(build__in=chosen)._raw_delete("default")
    RunEntry.objects.filter(run__build__in=chosen)._raw_delete("default")


def empty_bin() -> int:
    """Erase every build in the bin."""
    return erase(list(Build.objects.exclude(binned=None).values_list("pk", flat=True)))


def let_go() -> tuple[int, int]:
    """Erase what has lain in the bin for ninety days: builds, and parts of the drawer."""
    before = timezone.now() - timedelta(days=KEPT_DAYS)
    builds = erase(list(Build.objects.filter(binned__lt=before).values_list("pk", flat=True)))
    parts, _ = StockPart.objects.filter(binned__lt=before).delete()
    return builds, parts
