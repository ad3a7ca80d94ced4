"""
Builds with their revisions; the drawer with its steps; what is ticked and what was photographed.
"""

from __future__ import annotations

import json
from functools import cached_property
from typing import Any

from django.db import models
from pydantic import ValidationError

from latchcore.advice.mending import advised
from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.document.models import Build as Document
from latchcore.edits.kept import kept_catalogue
from latchcore.edits.registry import plain
from latchcore.evaluate import evaluate
from latchcore.figures.typed import Refusal, in_one_line
from latchcore.formats.buildfile import open_document
from workbench.keeping import packing


class Unreadable(Refusal):
    """A stored document that cannot be read as a build; the text says why."""


class Build(models.Model):
    """
    A build; ``head`` is the revision that counts now, ``version`` rises with every move of it.
    """

    name = models.CharField(max_length=60)
    head = models.ForeignKey("Revision", null=True, on_delete=models.PROTECT, related_name="+")
    version = models.PositiveIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    binned = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-changed", "-id"]
        indexes = [models.Index(fields=["binned", "-changed", "-id"], name="newest_first")]

    def __str__(self) -> str:
        return self.name

    @classmethod
    def with_head(cls) -> models.QuerySet:
        """Builds with what is needed to read their document, in one query."""
        return cls.objects.select_related("head__base")

    @cached_property
    def document(self) -> Document:
        """The document that counts now; raises :class:`Unreadable`."""
        return self.head.read()

    @cached_property
    def around(self) -> BuildContext:
        """What its sums and its pages go by: the document with the figures it has kept."""
        return BuildContext(self.document, kept_catalogue(self.document))

    @cached_property
    def report(self) -> Report:
        """Its report with what mends each finding, worked out against the figures it has kept."""
        return advised(self.document, self.around.catalogue)

    @cached_property
    def findings(self) -> Report:
        """Its report without what mends the findings: all that a list or a verdict wants."""
        return evaluate(self.document, self.around.catalogue)


class Revision(models.Model):
    """
    One state of a build's document; never changed, never deleted while the build stands.

    ``body`` is the packed document: whole where ``base`` is empty, else against that revision's.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.ForeignKey(
        "self", null=True, on_delete=models.SET_NULL, related_name="children"
    )
    base = models.ForeignKey(
        "self", null=True, on_delete=models.DO_NOTHING, related_name="+", db_index=False
    )
    body = models.BinaryField()
    action = models.CharField(max_length=40)
    summary = models.CharField(max_length=300)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["build", "number"], name="one_number_once")]

    def __str__(self) -> str:
        return f"{self.number} {self.summary}"

    @cached_property
    def text(self) -> bytes:
        """The document as stored text; raises ``ValueError`` where it is damaged."""
        return packing.unpack(self.body, self.base.text if self.base_id else None)

    @property
    def stored(self) -> dict[str, Any]:
        """The document as it was stored, in whatever version."""
        return json.loads(self.text)

    def read(self) -> Document:
        """
        The document as a build, upgraded where an older program wrote it; raises
        :class:`Unreadable`.
        """
        try:
            return open_document(self.stored)
        except ValidationError as error:
            place = ".".join(str(p) for p in error.errors()[0]["loc"])
            raise Unreadable(f"{place}: {plain(error)}") from error
        except (ValueError, TypeError, AttributeError, RecursionError) as error:
            raise Unreadable(in_one_line(str(error) or type(error).__name__)) from error


class Verdict(models.Model):
    """
    What was found of a revision, so that a list need not work it out: renewed when the program
    changes.

    ``counts`` by severity; ``trouble`` says why it could not be worked out; ``uses`` are the parts
    by key, with the letters
    of the channels that use them.
    """

    revision = models.OneToOneField(
        Revision, on_delete=models.CASCADE, related_name="verdict", primary_key=True
    )
    program = models.CharField(max_length=40)
    channels = models.PositiveIntegerField(default=0)
    rails = models.PositiveIntegerField(default=0)
    open_facts = models.PositiveIntegerField(default=0)
    counts = models.JSONField(default=dict)
    sound = models.BooleanField(default=False)
    trouble = models.CharField(max_length=300, blank=True)
    uses = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"verdict on {self.revision_id}"

    @property
    def open_count(self) -> int:
        """Facts that are not stated yet."""
        return self.open_facts


class PartUse(models.Model):
    """That the head of a build uses a part, and where."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="uses")
    key = models.CharField(max_length=64, db_index=True)
    letters = models.CharField(max_length=300)

    def __str__(self) -> str:
        return f"{self.key} in {self.build_id}"


class StockPart(models.Model):
    """
    One kind of part in the drawer.

    ``key`` is its own for good, ``title`` a word; ``version`` rises with every change. ``figures``
    is the whole record in its
    text form, empty for a generic class that is merely in stock; ``given`` names the figures the
    user stated, the rest stand
    in from the class it is based on. ``reworks`` are what was changed on a module since, in order,
    and ``original`` its
    figures before the first of them.
    """

    key = models.SlugField(max_length=64, unique=True)
    version = models.PositiveIntegerField(default=1)
    family = models.CharField(max_length=20)
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
    binned = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["family", "value", "title", "key"]
        indexes = [models.Index(fields=["binned", "family", "value", "title"], name="by_kind")]

    def __str__(self) -> str:
        return self.title


class DrawerStep(models.Model):
    """
    One change of the drawer: what its parts were before and after, packed, so that it can be taken
    back.
    """

    summary = models.CharField(max_length=200)
    created = models.DateTimeField(auto_now_add=True)
    entries = models.BinaryField()
    undone = models.BooleanField(default=False)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.summary


class Tick(models.Model):
    """
    One thing done at the bench: a wire fitted, or a point of the assembly seen to.

    ``key`` is a wire's two ends, so that a tick stays while the wire does and is forgotten by a
    wire that goes elsewhere.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="ticks")
    key = models.CharField(max_length=160)
    done = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["build", "key"], name="one_tick_a_thing")]

    def __str__(self) -> str:
        return self.key


class TakenProgram(models.Model):
    """
    A program that was taken out: of which revision, in which language, and what it was made of, so
    that one that has become stale is known.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="programs")
    revision = models.PositiveIntegerField()
    language = models.CharField(max_length=20)
    content = models.CharField(max_length=8)
    taken = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"{self.spoken} of revision {self.revision}"

    @property
    def spoken(self) -> str:
        """The language as it is called."""
        return {"micropython": "MicroPython", "cpp": "C++"}.get(self.language, self.language)


class PartPhoto(models.Model):
    """
    A photo of a part, made small and without what a camera hides in it; ``marks`` name its pins at
    shares of its size.
    """

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
