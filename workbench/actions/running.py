"""A run of the power-up plan: begun, read step by step, skipped with a reason, ended."""

from __future__ import annotations

import secrets

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from latchcore.bench.hidden import Hidden, named
from latchcore.bench.meter import HandMeter
from latchcore.bench.rig import Rig
from latchcore.edits import EditError
from latchcore.procedure.judging import ReadingError, judge
from latchcore.procedure.plan import Plan, Step, plan_of, with_own
from latchcore.procedure.progress import Entry, NotSkipped, Progress, progress_of, reason_for
from latchcore.procedure.standing_in import answer
from workbench.actions.simulating import chosen_fault
from workbench.drawer import meter_at_hand
from workbench.models import Build, LogEntry, OwnCheck, Run, RunEntry

#: What of an entry says how far a run has come.
ENTERED = ("step", "stamp", "typed", "good", "skipped")


def meter_of(run: Run | None) -> HandMeter:
    """The meter a run is judged by: the one it began with, else the one at hand."""
    return meter_at_hand(run.meter if run is not None else "")


def plan_for(build: Build, run: Run | None) -> Plan:
    """The plan of a build as it stands, its windows widened by the run's meter."""
    plan = plan_of(build.around, build.report, meter_of(run))
    own = OwnCheck.objects.filter(Q(build=build) | Q(build=None)).values_list("pk", "words")
    return with_own(plan, [(str(key), words) for key, words in own])


def progress_for(build: Build, run: Run | None) -> Progress:
    """How far a run has come on the build as it stands now."""
    entered = run.entries.values_list(*ENTERED) if run is not None else ()
    return progress_of(plan_for(build, run), [Entry(*row) for row in entered])


@transaction.atomic
def start_run(build: Build, kind: str, fault: str = "", meter: str = "") -> Run:
    """
    Begin a run.

    Raises
    ------
    EditError
        If the kind or the fault is not known
    """
    if kind not in dict(Run.KINDS):
        raise EditError(
            f"“{kind}” is no kind of run; expected one of {', '.join(dict(Run.KINDS))}."
        )
    seed = secrets.randbelow(10_000) + 1 if kind != Run.BENCH else 0
    if kind == Run.PRACTICE or fault:
        fault = chosen_fault(build, fault).id
    number = build.head.number
    return Run.objects.create(
        build=build, revision=number, kind=kind, fault=fault, seed=seed, meter=meter
    )


def rig_of(build: Build, run: Run) -> Rig:
    """The simulated bench of a run, with the fault it hides."""
    fault: Hidden | None = None
    if run.fault:
        fault = named(build.around, build.report, run.fault)
    return Rig(build.around, build.report, fault, run.seed, meter_of(run))


@transaction.atomic
def enter(build: Build, run: Run, step: Step, typed: str) -> RunEntry:
    """
    Keep a reading with its verdict; a run on the real bench stands in the log too.

    Raises
    ------
    EditError
        If the step is locked, the run is over, or what was typed is no reading
    """
    _open(build, run, step)
    try:
        verdict = judge(step, typed)
    except ReadingError as error:
        raise EditError(str(error), "reading") from error
    made = _kept(build, run, step, typed=typed.strip()[:60], good=verdict.good)
    if run.kind == Run.BENCH:
        at = f"{step.between[0]} against {step.between[1]}: " if step.between else ""
        figures = {"step": step.id, "typed": made.typed, "expected": step.window}
        LogEntry.objects.create(
            build=build, revision=build.head.number, channel=step.channel, station="first-power",
            kind="reading", figures=figures,
            words=f"{step.words} {at}{made.typed}; expected {step.window}. {verdict.words}.",
        )  # fmt: skip
    return made


def read_simulated(build: Build, run: Run, step: Step) -> RunEntry:
    """Let the simulated meter read a step; raises :class:`EditError` as :func:`enter` does."""
    if not run.simulated:
        raise EditError("A run at the bench is read with a meter of one's own.")
    return enter(build, run, step, answer(rig_of(build, run), step))


@transaction.atomic
def skip(build: Build, run: Run, step: Step, typed: str) -> RunEntry:
    """Skip a step with a reason; raises :class:`EditError` where it cannot be."""
    _open(build, run, step)
    try:
        reason = reason_for(step, typed)
    except NotSkipped as error:
        raise EditError(str(error), "reason") from error
    return _kept(build, run, step, skipped=reason)


def _kept(build: Build, run: Run, step: Step, **entered) -> RunEntry:
    """Keep an entry with what was asked; the last one that was open ends the run."""
    made = RunEntry.objects.create(
        run=run, step=step.id, stamp=step.stamp, asked=step.words[:400], window=step.window[:80],
        **entered,
    )  # fmt: skip
    if progress_for(build, run).whole:
        end(run, "whole")
    return made


@transaction.atomic
def end(run: Run, outcome: str) -> None:
    """End a run as it stands: paused runs go on, ended ones do not."""
    if run.ended is None:
        run.ended, run.outcome = timezone.now(), outcome
        run.save(update_fields=["ended", "outcome"])


def _open(build: Build, run: Run, step: Step) -> None:
    if run.ended is not None:
        raise EditError("This run is over; begin another.")
    why = progress_for(build, run).locked(step)
    if why:
        raise EditError(f"Not yet: {why}")
