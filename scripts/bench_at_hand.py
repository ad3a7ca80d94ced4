"""Rows of the budget table for the bench: the solver, the search for a fault, a long log."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

from django.utils import timezone

from latchcore.bench.circuit import NotModelled
from latchcore.bench.hidden import hidden_faults
from latchcore.bench.rig import Rig
from latchcore.bench.solver import solve
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build as Document
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import read_build
from latchcore.procedure.finding import search_of
from latchcore.procedure.practice import all_read, follow, in_order, plan_order, reader_of
from workbench.models import Build, LogEntry

THEATRE = Path(__file__).resolve().parent.parent / "demo" / "hollyhock-marionettes.json"
ENTRIES, YOUNG = 200_000, 200
#: What is asked of a log: its newest, one kind, a word that is often there, one that never is.
ASKED = {"log": "", "log by kind": "?kind=rework", "log by a word": "?q=gurgle",
         "log by a word nobody wrote": "?q=xylophone"}  # fmt: skip


def at_hand(row: Callable[..., None], median: Callable, many: Callable[[int], Document]) -> None:
    """The operating point of 64 channels, and the readings it takes to find a fault."""
    build = many(64)
    rig = Rig(BuildContext(build, load_catalogue()), evaluate(build))
    for key in rig.told:
        rig.tell(key, rig.first_way(key))
    parts = rig.parts()
    taken = median(lambda: solve(parts), 5)
    row("operating point of 64 channels", taken, "ms", 100, f"{len(parts)} parts, all on")
    _faults(row)


def _faults(row: Callable[..., None]) -> None:
    build = read_build(THEATRE.read_bytes())
    around, report = BuildContext(build, load_catalogue()), evaluate(build)
    faults = [f for f in hidden_faults(around, report) if f.part and around.build.channel(f.of)]
    followed = ordered = found = 0
    begun = time.perf_counter()
    for told in report.channels:
        channel = build.channel(told.id)
        own = [f for f in faults if f.of == told.id]
        if channel is None or not own:
            continue
        try:
            search = search_of(around.channel(channel), told.result)
        except NotModelled:
            continue
        for fault in own:
            shown = all_read(search, reader_of(Rig(around, report, fault, 3), told.id))
            followed += len(follow(search, shown))
            ordered += in_order(search, shown, plan_order(search))
            found += 1
    note = (f"{followed / found:.2f} against {ordered / found:.2f} readings over {found} faults of"
            f" the theatre, in {time.perf_counter() - begun:.0f} s")  # fmt: skip
    row("readings to find a fault against the plan's order", followed / ordered, "×", 0.5, note)


def long_log(client, build: Build, row: Callable, median: Callable) -> None:
    """A log of many years against that of one."""
    _write(build, YOUNG)
    at = f"/builds/{build.pk}/log/"
    young = {name: median(lambda a=asked: client.get(at + a), 9) for name, asked in ASKED.items()}
    begun = time.perf_counter()
    _write(build, ENTRIES - YOUNG)
    grown = time.perf_counter() - begun
    for name, asked in ASKED.items():
        old = median(lambda a=asked: client.get(at + a), 9)
        words = f"{old:.1f} against {young[name]:.1f} ms, written in {grown:.0f} s"
        row(f"{name} with 200 000 entries", old / young[name], "×", 1.5, words)


def _write(build: Build, many: int) -> None:
    kinds = ("reading", "rework", "note", "change")
    start = timezone.now() - timedelta(days=4000)
    LogEntry.objects.bulk_create(
        (
            LogEntry(
                build=build, revision=1, kind=kinds[n % 4], at=start + timedelta(minutes=n),
                machine=n % 3 == 0, channel="ch5" if n % 2 else "",
                words=f"entry {n}: {'a gurgle' if n % 7 == 0 else 'nothing much'} was heard",
            )
            for n in range(many)
        ),
        batch_size=2000,
    )  # fmt: skip
