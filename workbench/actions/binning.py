"""Put a build in the bin and take it out again."""

from django.utils import timezone

from workbench.models import Build


def bin_build(build: Build) -> None:
    """Put a build in the bin; everything is kept."""
    Build.objects.filter(pk=build.pk).update(binned=timezone.now())


def restore_build(build: Build) -> None:
    """Take a build out of the bin."""
    Build.objects.filter(pk=build.pk).update(binned=None)
