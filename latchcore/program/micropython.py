"""The program of a build as one MicroPython module."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from latchcore.program import hardware as hw
from latchcore.program.heading import constants, heading, numbered
from latchcore.program.language import Language, Raw, Row, To, Value, Var, name_of, plain
from latchcore.program.plan import ProgramPlan
from latchcore.program.pruning import pruned, whole
from latchcore.program.writing import write_build


def micropython(plan: ProgramPlan) -> dict[str, str]:
    """
    Files of the program by name.

    Raises
    ------
    BehaviourError
        If the behaviour cannot be done as it stands

    Examples
    --------
    >>> from latchcore.document.models import Build
    >>> list(micropython(ProgramPlan(Build(name="Bench"))))
    ['bench.py']
    """
    said = MicroPython()
    write_build(plan, said)
    body = "\n".join([*said.lines, "", *said.later])
    head = [f"# {line}".rstrip() for line in heading(plan)]
    kept = "kept" in plan.features
    modules = ["json", "math", "os", "select", "sys", "time"]
    head += [f"import {name}" for name in modules if kept or name not in ("json", "os")]
    wanted = ["Pin"] + (["PWM"] if "pulsed" in plan.features else [])
    wanted += ["ADC"] if plan.features & {"level_pin", "current_pin"} else []
    wanted += ["WDT"] if "watchdog" in plan.features else []
    head += [f"from machine import {', '.join(sorted(wanted))}", "", "NEVER = None"]
    head += ["POLL = select.poll()"]
    head += [f"{name} = {said.value(value)}{says}" for name, value, says in constants(plan, "  # ")]
    text = pruned(whole("py"), plan.features, {"build": body})
    return {f"{plan.slug}.py": numbered("\n".join([*head, "", "", text]))}


@dataclass
class MicroPython(Language):
    """Declarations as assignments."""

    def truth(self, value: bool) -> str:
        """As Python has it."""
        return repr(value)

    def to(self, name: str | None) -> str:
        """The thing itself."""
        return name or "None"

    def comment(self, text: str = "") -> None:
        """A comment."""
        self.lines.append(f"# {plain(text)}" if text else "")

    def new(self, name: str, kind: str, *values: Value, says: str = "") -> Var:
        """Assign something new."""
        if says:
            self.comment(says)
        self.lines.append(f"{name} = {kind}({self.values(values)})")
        return Var(name)

    def set(self, of: str, field: str, value: Value) -> None:
        """Set a field."""
        self.lines.append(f"{of}.{field} = {self.value(value)}")

    def call(self, of: str, method: str, *values: Value) -> None:
        """Call a method."""
        self.lines.append(f"{of}.{method}({self.values(values)})")

    def row(self, owner: str, kind: str, names: Sequence[str]) -> Raw:
        """A list."""
        return Raw(f"[{', '.join(names)}]")

    def table(self, owner: str, kind: str, rows: Sequence[Row]) -> Raw:
        """A list of tuples, or of what has a class of its own."""
        word = kind if kind == "Phase" else ""
        inner = [f"{word}({self.values(row)})" for row in rows]
        if sum(map(len, inner)) < 70:
            return Raw(f"[{', '.join(inner)}]")
        return Raw("[\n    " + ",\n    ".join(inner) + ",\n]")

    def numbers(self, owner: str, numbers: Sequence[int], wide: bool = False) -> Raw:
        """A list."""
        return Raw(f"[{', '.join(map(str, numbers))}]")

    def all_rows(self, name: str, kind: str, names: Sequence[str]) -> None:
        """A list of the module."""
        self.later.append(f"{name} = {self._wrapped(names)}")

    @staticmethod
    def _wrapped(names: Sequence[str]) -> str:
        if len(", ".join(names)) < 80:
            return f"[{', '.join(names)}]"
        rows, row = [], ""
        for name in names:
            if row and len(row) + len(name) > 88:
                rows.append(row.rstrip())
                row = ""
            row += f"{name}, "
        return "[\n    " + "\n    ".join([*rows, row.rstrip()]) + "\n]"

    def order(self, conditions_and_events: Sequence[tuple[str, bool]]) -> None:
        """One list of both."""
        self.all_rows("ORDER", "", [name for name, _ in conditions_and_events])

    def queue(self, name: str, values: Row, length: int, clear: To, says: str) -> None:
        """A queue."""
        self.new(name, "Queue", *values, length, clear, says=says)

    def starts(self, channel: str, most: int) -> None:
        """How many."""
        self.set(channel, "starts", most)

    def interlock(self, name: str, gap: int, channels: Sequence[str], says: str) -> None:
        """An interlock."""
        self.new(name, "Interlock", gap, self.row(name, "Channel", channels), says=says)

    def firing(self, name: str, plan: hw.FiringPlan) -> None:
        """A triac."""
        self.new(
            name,
            "Firing",
            plan.line.number,
            plan.zero.number,
            plan.rising,
            plan.line.off,
            self.numbers(name, plan.delays),
            plan.latest,
            plan.pulse,
            Var(name_of(plan.channel)),
        )

    def counted(self, name: str, plan: hw.CountedPlan) -> None:
        """A counting pin."""
        key, number = Var(name_of(plan.key)), plan.line.number
        self.new(name, "CountedPin", key, number, plan.pull_up, plan.rising)

    def chain(self, plan: hw.ChainPlan) -> None:
        """A chain."""
        if plan.why:
            routine = self.routine(f"write_{plan.id}", "chain", f"{plan.name}: {plan.why}.")
            self.new(plan.id, "HandChain", plan.places, plan.levels, routine)
            return
        pins = [plan.lines[role].number for role in ("data", "clock", "latch")]
        enable = plan.lines.get("enable")
        self.new(
            plan.id,
            "Registers",
            plan.places,
            *pins,
            plan.idle,
            -1 if enable is None else enable.number,
            plan.released,
        )

    def routine(self, name: str, kind: str, says: str) -> Raw:
        """A function with nothing in it but what belongs there."""
        given = {"output": "level", "input": "", "chain": "places"}[kind]
        does = "return None" if kind == "input" else "pass"
        self.lines += ["", "", f"def {name}({given}):", f"    # {plain(says)} Put it here.",
                       f"    {does}", "", ""]  # fmt: skip
        return Raw(name)

    def ways(self, owner: str, ways: Sequence[tuple[str, str]]) -> Raw:
        """A list of pairs."""
        return Raw(f"[{', '.join(f'({key}, {self.quoted(pattern)})' for key, pattern in ways)}]")

    def remembered(self, names: Sequence[str], levels: bool) -> None:
        """One list of all."""
        self.all_rows("KEEPING", "", names)

    @property
    def lists_chains(self) -> bool:
        """Always."""
        return True

    def patterns(self, owner: str, patterns: Sequence[str]) -> Raw:
        """A list of texts."""
        return Raw(f"[{', '.join(self.quoted(p) for p in patterns)}]")
