"""Builds with their revisions; each revision holds a whole validated document."""

from __future__ import annotations

from functools import cached_property

from django.db import models

from latchcore.document.models import Build as Document
from latchcore.evaluate import evaluate
from latchcore.formats.partsfile import FAMILIES
from latchcore.report import Report
from workbench.drawer import catalogue


class Build(models.Model):
    """A build; ``head`` is the revision that counts now, ``version`` rises with every move of it."""

    name = models.CharField(max_length=60)
    head = models.ForeignKey("Revision", null=True, on_delete=models.PROTECT, related_name="+")
    version = models.PositiveIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    binned = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-changed", "-id"]

    def __str__(self) -> str:
        return self.name

    @cached_property
    def document(self) -> Document:
        """The document that counts now."""
        return Document.model_validate(self.head.document)

    @cached_property
    def report(self) -> Report:
        """Its report, from the cache where it is known already."""
        return evaluate(self.document, catalogue())


class Revision(models.Model):
    """One state of a build's document; never changed, never deleted while the build stands."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="children")
    document = models.JSONField()
    action = models.CharField(max_length=40)
    summary = models.CharField(max_length=300)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["build", "number"], name="one_number_once")]

    def __str__(self) -> str:
        return f"{self.number} {self.summary}"


class StockPart(models.Model):
    """
    One kind of part in the drawer.

    ``figures`` is the whole record in its text form, empty for a generic class that is merely in stock; ``given`` names the
    figures the user stated, the rest stand in from the class it is based on. ``reworks`` are what was changed on a module
    since, in order, and ``original`` its figures before the first of them.
    """

    key = models.SlugField(max_length=64, unique=True)
    family = models.CharField(max_length=20, choices=[(key, words) for key, words in FAMILIES.items()])
    title = models.CharField(max_length=120)
    figures = models.JSONField(default=dict, blank=True)
    given = models.JSONField(default=list, blank=True)
    value = models.FloatField(null=True, blank=True)
    quantity = models.PositiveIntegerField(default=0)
    place = models.CharField(max_length=60, blank=True)
    price = models.CharField(max_length=20, blank=True)
    substitutes = models.CharField(max_length=200, blank=True)
    original = models.JSONField(default=dict, blank=True)
    reworks = models.JSONField(default=list, blank=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["family", "value", "title"]

    def __str__(self) -> str:
        return self.title


class Tick(models.Model):
    """
    One thing done at the bench: a wire fitted, or a point of the assembly seen to.

    ``key`` is a wire's two ends, so that a tick stays while the wire does and is forgotten by a wire that goes elsewhere.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="ticks")
    key = models.CharField(max_length=160)
    done = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["build", "key"], name="one_tick_a_thing")]

    def __str__(self) -> str:
        return self.key


class PartPhoto(models.Model):
    """A photo of a part, made small and without what a camera hides in it; ``marks`` name its pins at shares of its size."""

    part = models.OneToOneField(StockPart, on_delete=models.CASCADE, related_name="photo")
    image = models.BinaryField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    marks = models.JSONField(default=list, blank=True)
    changed = models.DateTimeField(auto_now=True)

    @property
    def mark(self) -> int:
        """Radius of a mark in its own pixels."""
        return max(self.width, self.height) // 110

    @property
    def letters(self) -> int:
        """Height of a mark's name in its own pixels."""
        return max(self.width, self.height) // 34

    def __str__(self) -> str:
        return f"photo of {self.part}"
