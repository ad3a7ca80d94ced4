"""Runs of the power-up plan, step by step, and what stands on the simulated bench."""

from __future__ import annotations

from django.db import models

from workbench.models.builds import Build

#: How a run can end.
WENT = {
    "whole": "walked to the end",
    "found": "the fault was found",
    "shown": "the fault was shown",
    "left": "ended as it stood",
}


class Run(models.Model):
    """
    One run of a build's power-up plan, on the real bench or on the simulated one.

    ``fault`` is what the simulated bench carries, hidden until ``ended``; ``meter`` the key of the
    one that was used.
    """

    BENCH, SIMULATED, PRACTICE = "bench", "simulated", "practice"
    KINDS = [
        (BENCH, "at the bench"),
        (SIMULATED, "on the simulated bench"),
        (PRACTICE, "practice with a hidden fault"),
    ]

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="runs")
    revision = models.PositiveIntegerField()
    kind = models.CharField(max_length=10, choices=KINDS, default=BENCH)
    fault = models.CharField(max_length=120, blank=True)
    seed = models.PositiveIntegerField(default=0)
    meter = models.CharField(max_length=64, blank=True)
    started = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True, blank=True)
    outcome = models.CharField(max_length=20, blank=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"run of revision {self.revision} {self.get_kind_display()}"

    @property
    def went(self) -> str:
        """How it ended, in words."""
        return WENT.get(self.outcome, "over")

    @property
    def simulated(self) -> bool:
        """Whether a meter that is simulated can read for it."""
        return self.kind != self.BENCH


class RunEntry(models.Model):
    """
    What was entered at one step of a run; never changed, a later one counts instead.

    ``asked`` and ``window`` are the step's words and what was expected, so that the record can be
    read once the design moved on.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="entries")
    step = models.CharField(max_length=120)
    stamp = models.CharField(max_length=8)
    typed = models.CharField(max_length=60, blank=True)
    good = models.BooleanField(default=False)
    skipped = models.CharField(max_length=300, blank=True)
    asked = models.CharField(max_length=400)
    window = models.CharField(max_length=80)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.step}: {self.skipped or self.typed}"


class SimulatedBench(models.Model):
    """
    What stands on the simulated bench of a build: what each channel was told, the supplies, where
    the probes are, the hidden fault and what was read since it was hidden.
    """

    build = models.OneToOneField(Build, on_delete=models.CASCADE, related_name="bench")
    state = models.JSONField(default=dict)
    changed = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"bench of {self.build}"


class KeypadMap(models.Model):
    """
    A keypad or handset of a machine that is being mapped: how many conductors, what each reads
    against protective earth, which still matter, every pair that was tried and what it did.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="keypads")
    machine = models.CharField(max_length=60)
    state = models.JSONField(default=dict)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["build", "machine"], name="one_map_a_machine")
        ]

    def __str__(self) -> str:
        return f"map of {self.machine} in {self.build_id}"
