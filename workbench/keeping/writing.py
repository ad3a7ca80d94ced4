"""Write revisions and verdicts: what is stored of a document, and what was found of it."""

from __future__ import annotations

from django.db import transaction
from django.db.models import Max

from latchcore.design.report import Report
from latchcore.document.models import Build as Document
from latchcore.figures.typed import in_one_line
from latchcore.formats.partsrow import resistor_key
from workbench.keeping import packing
from workbench.keeping.program import PROGRAM
from workbench.models import Build, PartUse, Revision, Unreadable, Verdict


def write_revision(build: Build, document: Document, action: str, summary: str) -> Revision:
    """Append a revision after the head; inside a transaction of the caller's."""
    number = (build.revisions.aggregate(most=Max("number"))["most"] or 0) + 1
    text = packing.text_of(document.model_dump(mode="json", exclude_none=True))
    base = (build.head.base if build.head.base_id else build.head) if build.head_id else None
    body = b""
    if base is not None:
        try:
            body = packing.pack(text, base.text)
        except ValueError:
            # The base is damaged: what is written now must not rest on it.
            base = None
    if base is None or packing.begins_anew(body, base.body):
        base, body = None, packing.pack(text)
    return Revision.objects.create(
        build=build,
        number=number,
        parent=build.head,
        base=base,
        body=body,
        action=action,
        summary=summary[:300],
    )


def uses_of(report: Report) -> dict[str, list[str]]:
    """Which parts a build uses, by key, with the letters of the channels."""
    found: dict[str, list[str]] = {}
    for channel in report.channels:
        if channel.result is None:
            continue
        keys = [part.id for part in channel.result.parts.values()]
        keys += {resistor_key(v.value) for v in channel.result.values if v.unit == "Ω" and v.value}
        for key in dict.fromkeys(keys):
            found.setdefault(key, []).append(channel.letter)
    return found


def judge(build: Build, new: bool = False) -> Verdict:
    """
    Work out a build's head and keep what was found; a build that cannot be read or worked out has
    its trouble kept.

    ``new`` says that the head was just written, inside a transaction of the caller's, so that
    nothing is known of it yet.
    """
    verdict = Verdict(revision=build.head, program=PROGRAM)
    try:
        report = build.findings
        verdict.channels, verdict.rails = len(report.channels), len(report.rails)
        verdict.counts, verdict.open_facts, verdict.uses = (
            report.counts,
            report.open_count,
            uses_of(report),
        )
        verdict.sound = report.sound
    except Unreadable as error:
        verdict.trouble = f"cannot be read: {error}"[:300]
    except Exception as error:
        verdict.trouble = in_one_line(f"cannot be worked out: {type(error).__name__} {error}")[:300]
    if new:
        verdict.save(force_insert=True)
        follow_uses(build, verdict.uses)
        return verdict
    with transaction.atomic():
        known = Verdict.objects.filter(revision=build.head)
        fields = {
            f: getattr(verdict, f)
            for f in (
                "program",
                "channels",
                "rails",
                "open_facts",
                "counts",
                "sound",
                "trouble",
                "uses",
            )
        }
        if not known.update(**fields):
            verdict.save(force_insert=True)
        follow_uses(build, verdict.uses)
    return verdict


def follow_uses(build: Build, uses: dict[str, list[str]]) -> None:
    """
    Let the list of what uses a part follow the head; nothing is written where nothing changed.
    """
    wanted = {key: " ".join(letters)[:300] for key, letters in uses.items()}
    there = dict(build.uses.values_list("key", "letters"))
    if wanted == there:
        return
    if gone := [key for key, letters in there.items() if wanted.get(key) != letters]:
        build.uses.filter(key__in=gone)._raw_delete("default")
    PartUse.objects.bulk_create(
        [PartUse(build=build, key=k, letters=v) for k, v in wanted.items() if v != there.get(k)]
    )
