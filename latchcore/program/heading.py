"""What stands at the head of a program: from where it is, what it drives, its figures."""

from __future__ import annotations

import textwrap
from collections.abc import Iterator

from latchcore.behaviour.compiling import WALK_ON, WALK_WAITS
from latchcore.behaviour.limits import MOST_SPANS
from latchcore.program import hardware as hw
from latchcore.program.pins import PinRow, pin_rows
from latchcore.program.plan import PEAK_TIME, ProgramPlan

#: Stands for the line at which a build's own part begins, until that is known.
HERE, OWN = "@here@", "This build "
#: Columns of the pin table in a comment.
WIDTHS = (12, 10, 28, 9, 9)


def heading(plan: ProgramPlan) -> list[str]:
    """Lines of comment, without what marks one."""
    lines = [
        f"{_plain(plan.build.name)}: program text, {plan.stamp}.",
        "Made from the design and its behaviour, one way only: what is changed here is not read"
        " back.",
        f"What is this build's own stands from line {HERE} on.",
        "",
    ]
    lines += [_row(PinRow.HEADER)] if plan.hardware.drives or plan.hardware.reads else []
    lines += [_row(row.cells) for row in pin_rows(plan)]
    lines += [""] + [line for text in _cautions(plan) for line in textwrap.wrap(text, 96)]
    return lines


def numbered(text: str) -> str:
    """
    A program with the line put in at which its own part begins.

    Examples
    --------
    >>> numbered(f"# from {HERE}\\n\\n# {OWN}-\\n").splitlines()[0]
    '# from 3'
    """
    lines = text.split("\n")
    at = next((n for n, line in enumerate(lines, 1) if line[2:].strip().startswith(OWN.strip())), 0)
    return text.replace(HERE, str(at), 1)


def _plain(text: str) -> str:
    return " ".join(text.replace("\\", "/").split())


def _row(cells: tuple[str, ...]) -> str:
    parts = [_plain(c).ljust(w) for c, w in zip(cells, WIDTHS, strict=False)]
    return " ".join([*parts, *(_plain(c) for c in cells[len(WIDTHS) :])]).rstrip()


def _cautions(plan: ProgramPlan) -> Iterator[str]:
    for key, why in plan.hardware.by_hand:
        yield f"{key}: {why}; the program has a routine for it to be filled in."
    if any(isinstance(d, hw.FiringPlan) for d in plan.hardware.drives):
        yield (
            "A triac is fired between two turns of the loop: a turn that takes long makes the"
            " light flicker, and a half-cycle that was missed stays dark."
        )
    watchdog = plan.watchdog
    yield (
        f"A hung program is reset after {watchdog:g} s."
        if watchdog is not None
        else "There is no hardware watchdog: a hung program leaves its outputs as they stand."
    )
    if plan.build.does.access != "inputs":
        yield (
            "Commands come over a network: start at boot, restart on failure, keep the secret in"
            " one place, changed from its default."
        )
    yield (
        "What can hurt needs a limit no program can override; mains belongs to licensed practice"
        " and the local code."
    )


def constants(plan: ProgramPlan, mark: str) -> list[tuple[str, int | str, str]]:
    """Figures of the step: name, value, and what is said of it."""
    step = plan.program.step
    rows: list[tuple[str, int | str, str]] = [
        ("BUILD", _plain(plan.build.name), ""),
        ("STAMP", plan.stamp, ""),
        ("STEP_MS", round(step * 1e3), f"{mark}time of one step"),
        ("LINE_STEPS", plan.silent, f"{mark}what was asked by hand ends so long after"),
        ("WALK_WAITS", plan.steps(WALK_WAITS), f"{mark}a walk waits so long for go"),
        ("WALK_ON", plan.steps(WALK_ON), f"{mark}and has a channel on so long"),
    ]
    if plan.program.link is not None:
        rows.append(("LINK_STEPS", plan.program.link.steps, f"{mark}all is quiet: link lost"))
    if plan.watchdog is not None:
        rows.append(("WATCHDOG_MS", round(plan.watchdog * 1e3), ""))
    if "share" in plan.features:
        rows.append(("MOST_SPANS", MOST_SPANS, f"{mark}stretches of a share kept apart"))
    if "current_pin" in plan.features:
        rows.append(("PEAK_STEPS", max(plan.steps(PEAK_TIME), 1) + 1, ""))
    return rows
