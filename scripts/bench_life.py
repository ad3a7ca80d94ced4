"""
Rows of the bench on a long life: thousands of builds, a heavy build, what an edit takes on the
disk.
"""

from __future__ import annotations

import time
from collections.abc import Callable

from django.db import connection

from latchcore.advice.mending import advise_afresh
from latchcore.catalogue import load_catalogue
from latchcore.document.models import Build as Document
from latchcore.edits import apply
from latchcore.evaluate import evaluate_afresh
from workbench.actions.creating import begin
from workbench.actions.editing import edit_build
from workbench.models import Build, Revision, StockPart, Verdict

BUILDS, EACH = 2_000, 100


def full_of_findings(count: int) -> Document:
    """Channels that each have several stops, so that every remedy is tried."""
    build, _ = apply(Document(name="full"), "set_board", {"board": "board-radio-3v3"})
    build, _ = apply(build, "add_rail", {"voltage": "12 V", "rating": "30 A"})
    for n in range(count):
        build, _ = apply(
            build,
            "add_channel",
            {
                "kind": "solenoid",
                "voltage": "12 V",
                "figure": f"{5 + n / 100:.2f} Ω",
                "pin": "P25",
                "stage": "npn_low_side",
            },
        )
        build, _ = apply(build, "set_setting", {"channel": build.channels[-1].id, "clamp": "none"})
    return build


def findings(row: Callable, median: Callable) -> None:
    """Time over channels full of findings."""
    catalogue = load_catalogue()
    builds = {n: full_of_findings(n) for n in (32, 64, 128)}
    taken = {
        n: min(
            median(lambda b=b: advise_afresh(b, evaluate_afresh(b, catalogue), catalogue), 3)
            for _ in range(2)
        )
        for n, b in builds.items()
    }
    many = len(evaluate_afresh(builds[128], catalogue).all_findings)
    row(
        "128 channels full of findings against 32",
        taken[128] / taken[32],
        "×",
        4.5,
        f"{many} findings with their remedies in {taken[128]:.0f} ms",
    )
    row(
        "64 channels with four findings each, cold",
        taken[64],
        "ms",
        200,
        f"{taken[64] / 64:.1f} ms a channel, every remedy tried",
    )


def _grow(pattern: Build) -> None:
    """Builds and revisions as a long life leaves them, straight into the tables."""
    rows = list(pattern.revisions.order_by("number"))
    first = Build.objects.order_by("-id").values_list("id", flat=True)[0] + 1
    Build.objects.bulk_create(
        [Build(id=first + n, name=f"Bench {n}", version=EACH) for n in range(BUILDS)],
        batch_size=500,
    )
    next_id = Revision.objects.order_by("-id").values_list("id", flat=True)[0] + 1
    for n in range(BUILDS):
        begun = next_id + n * EACH
        made = [
            Revision(
                id=begun + k,
                build_id=first + n,
                number=k + 1,
                parent_id=begun + k - 1 if k else None,
                base_id=begun if k else None,
                body=rows[min(k, len(rows) - 1)].body,
                action="edit",
                summary=f"changed {k}",
            )
            for k in range(EACH)
        ]
        Revision.objects.bulk_create(made, batch_size=100)
    known = Verdict.objects.get(revision=pattern.head_id)
    heads = [next_id + n * EACH + EACH - 1 for n in range(BUILDS)]
    copied = {f.name: getattr(known, f.name) for f in Verdict._meta.fields if f.name != "revision"}
    Verdict.objects.bulk_create(
        [Verdict(revision_id=head, **copied) for head in heads], batch_size=500
    )
    with connection.cursor() as cursor:
        for n, head in enumerate(heads):
            cursor.execute(
                "UPDATE workbench_build SET head_id = %s WHERE id = %s", [head, first + n]
            )


def long_life(client, build: Build, row: Callable, median: Callable) -> None:
    """Lists of a long life against those of a young one, and what an edit takes on the disk."""
    pages = {"workbench": "/", "drawer": "/drawer/", "history": f"/builds/{build.pk}/keeping/"}
    StockPart.objects.bulk_create(
        [
            StockPart(
                key=f"resistor-{n}", family="resistor", title=f"{n} Ω", value=float(n), quantity=1
            )
            for n in range(10, 60)
        ]
    )
    for n in range(60):
        begin(Document(name=f"Young {n}"), "begun")
    for n in range(EACH):
        edit_build(
            Build.with_head().get(pk=build.pk),
            "rename_build",
            {"name": f"Name {n}"},
            Build.objects.get(pk=build.pk).version,
        )
    young = {name: median(lambda p=page: client.get(p), 15) for name, page in pages.items()}
    rows = list(Build.objects.get(pk=build.pk).revisions.order_by("-number")[:EACH])
    whole = len(Build.with_head().get(pk=build.pk).head.text)
    row(
        "an edit of the demo build on the disk",
        sum(len(r.body) for r in rows) / len(rows),
        "bytes",
        None,
        f"its document as text: {whole} bytes",
    )
    begun = time.perf_counter()
    _grow(Build.with_head().get(pk=build.pk))
    grown = time.perf_counter() - begun
    old = {name: median(lambda p=page: client.get(p), 15) for name, page in pages.items()}
    size = connection.settings_dict["NAME"].stat().st_size
    for name in pages:
        words = (
            f"{old[name]:.1f} against {young[name]:.1f} ms; {Revision.objects.count()} revisions,"
            f" {size / 1e6:.0f} MB, made in {grown:.0f} s"
        )
        row(
            f"{name} with 2 000 builds and 200 000 revisions",
            old[name] / young[name],
            "×",
            1.5,
            words,
        )
    StockPart.objects.all().delete()


def commits(row: Callable, median: Callable) -> None:
    """What it costs that an acknowledged change is on the disk."""
    build = begin(Document(name="Commits"), "begun")

    def change() -> None:
        fresh = Build.with_head().get(pk=build.pk)
        edit_build(fresh, "rename_build", {"name": f"Name {fresh.version}"}, fresh.version)

    taken = {}
    for way in ("NORMAL", "FULL"):
        with connection.cursor() as cursor:
            cursor.execute(f"PRAGMA synchronous={way}")
        taken[way] = median(change, 40)
    row(
        "a saved change, on the disk before it is answered",
        taken["FULL"],
        "ms",
        None,
        f"{taken['NORMAL']:.2f} ms where a power cut may lose it",
    )
