"""The log of a build: dated entries that are added to and never overwritten."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from workbench.models.builds import Build


class LogEntry(models.Model):
    """
    One entry.

    ``figures`` holds what its kind has beside its words: a reading with its points and window, an
    incident's why, what replaced it and what prevents it, a part with how many, hours and cycles.
    ``machine`` entries were imported from a machine, and no human said them. ``corrects`` is the
    entry a later one puts right; that stays as it was.
    """

    KINDS = [
        ("reading", "reading"),
        ("change", "change"),
        ("rework", "rework"),
        ("incident", "incident"),
        ("calibration", "calibration"),
        ("contact", "contact: hours, cycles, resistance"),
        ("part", "part used"),
        ("console", "text from a console"),
        ("note", "note"),
    ]

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="log")
    revision = models.PositiveIntegerField()
    channel = models.CharField(max_length=60, blank=True)
    station = models.CharField(max_length=20, blank=True)
    kind = models.CharField(max_length=12, choices=KINDS, default="note")
    words = models.TextField(max_length=20_000)
    figures = models.JSONField(default=dict, blank=True)
    machine = models.BooleanField(default=False)
    at = models.DateTimeField(default=timezone.now)
    recorded = models.DateTimeField(auto_now_add=True)
    corrects = models.ForeignKey(
        "self", null=True, blank=True, on_delete=models.CASCADE, related_name="corrections"
    )

    class Meta:
        ordering = ["-at", "-id"]
        indexes = [
            models.Index(fields=["build", "-at", "-id"], name="log_newest"),
            models.Index(fields=["build", "kind", "-at", "-id"], name="log_by_kind"),
            models.Index(fields=["build", "channel", "-at", "-id"], name="log_by_channel"),
        ]

    def __str__(self) -> str:
        return f"{self.at:%Y-%m-%d} {self.kind}: {self.words[:60]}"


class LogPhoto(models.Model):
    """A photo of an entry, made small and without what a camera hides in it."""

    entry = models.OneToOneField(LogEntry, on_delete=models.CASCADE, related_name="photo")
    image = models.BinaryField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()

    def __str__(self) -> str:
        return f"photo of {self.entry}"


class OwnCheck(models.Model):
    """
    What an incident taught: asked at first power before anything is plugged in, of one build or,
    without one, of any.
    """

    build = models.ForeignKey(
        Build, null=True, blank=True, on_delete=models.CASCADE, related_name="own_checks"
    )
    words = models.CharField(max_length=300)
    entry = models.ForeignKey(LogEntry, null=True, on_delete=models.SET_NULL, related_name="checks")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.words


class MachineCount(models.Model):
    """What a machine's own events add up to for a channel: counted when they are taken in."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="machine_counts")
    channel = models.CharField(max_length=60)
    cycles = models.PositiveIntegerField()
    hours = models.FloatField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["build", "channel"], name="one_count_a_channel")
        ]

    def __str__(self) -> str:
        return f"{self.channel}: {self.cycles} cycles, {self.hours:.1f} h"
