"""The settings sheet: what ready-made firmware asks for, in neutral words."""

from __future__ import annotations

from collections import Counter

from latchcore.figures.table import Table
from latchcore.program.pins import pin_rows
from latchcore.program.plan import ProgramPlan

PINS = ("id", "name", "line", "comes out at", "number in a program", "role", "level", "more")
SETTINGS = (
    "index from 0",
    "index from 1",
    "channel",
    "line",
    "comes out at",
    "number in a program",
    "role",
    "inverted",
    "at start",
    "off after",
    "sense",
    "to be seen to",
)


def pins_table(plan: ProgramPlan) -> Table:
    """Every line of a program under each of its names."""
    rows = [
        (r.key, r.name, r.line, r.header, r.number, r.role, r.level, r.more) for r in pin_rows(plan)
    ]
    return Table("pins", "Pin table", PINS, tuple(rows))


def settings_table(plan: ProgramPlan) -> Table:
    """
    One row for each output: both ways of counting it, its line in every numbering, whether it is
    inverted, how it starts, the longest it may be on, the input that confirms it; what stands
    twice is said.
    """
    rows, lines = [], pin_rows(plan)
    driven = [row for row in lines if row.key in plan.names.outputs]
    used = Counter(row.line for row in lines if row.line)
    for n, row in enumerate(driven):
        manner = plan.build.does.manner(row.key)
        seen = plan.words.sense(manner.sense) if manner.sense else ""
        notes = [f"line {row.line} stands {used[row.line]} times"] if used[row.line] > 1 else []
        notes += [row.more] if not row.line else []
        rows.append(
            (
                str(n),
                str(n + 1),
                row.name,
                row.line,
                row.header,
                row.number,
                row.role,
                {"off high": "yes", "off low": "no"}.get(row.level, "not known"),
                "off",
                manner.longest_on or "not limited",
                seen,
                "; ".join(notes),
            )
        )
    return Table("settings", "Settings of ready-made firmware", SETTINGS, tuple(rows))


def checklist(plan: ProgramPlan) -> list[str]:
    """
    What to see to besides the lines.

    Examples
    --------
    >>> from latchcore.document.models import Build
    >>> checklist(ProgramPlan(Build(name="Bench")))[0]
    'Every output starts off: check it with the loads unplugged, at power-up and at a reset.'
    """
    does = plan.build.does
    found = [
        "Every output starts off: check it with the loads unplugged, at power-up and at a reset.",
        "It starts when the board does, and starts again after a fault.",
        "Count from 0 or from 1: the number printed at the terminal is the second column.",
    ]
    if plan.watchdog is not None:
        found.append(f"Its watchdog is on, {plan.watchdog:g} s.")
    if does.link_time_out:
        found.append(f"Without a command for {does.link_time_out} its outputs do as is said.")
    if does.access != "inputs":
        found.append("Its secret is kept in one place and is not the one it came with.")
    limited = [m for m in does.manners if m.longest_on]
    if limited:
        found.append(
            "Limits, interlocks and rests are not in every firmware: what it cannot do stands in"
            " the sentences of the sheet, and has to be done by hardware then."
        )
    return found
