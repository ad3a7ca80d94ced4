"""The program of a build as a C++ header with setup and loop."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from latchcore.program import hardware as hw
from latchcore.program.heading import constants, heading, numbered
from latchcore.program.language import Language, Raw, Row, To, Value, Var, name_of, plain
from latchcore.program.plan import ProgramPlan
from latchcore.program.pruning import pruned, source, whole
from latchcore.program.writing import write_build

INCLUDES = ("math.h", "stdint.h", "stdio.h", "string.h")
#: What a routine of the builder's is given, and what it gives without anything in it.
ROUTINES = {
    "output": ("void", "int level", "(void)level;"),
    "input": ("bool", "double &reading", "reading = 0; return false;"),
    "chain": ("void", "const uint8_t *places, int count", "(void)places, (void)count;"),
}


def cplusplus(plan: ProgramPlan) -> dict[str, str]:
    """
    Files of the program by name: the header, and every call to the board in one of its own.

    Raises
    ------
    BehaviourError
        If the behaviour cannot be done as it stands

    Examples
    --------
    >>> from latchcore.document.models import Build
    >>> list(cplusplus(ProgramPlan(Build(name="Bench"))))
    ['bench.h', 'board_calls.h']
    """
    said = CPlusPlus()
    write_build(plan, said)
    features = plan.features
    body = [*said.lines, "", "inline void what_it_does() {", *said.later, "}"]
    head = [f"// {line}".rstrip() for line in heading(plan)]
    head += ["#pragma once", *(f"#include <{name}>" for name in INCLUDES)]
    head += ['#include "board_calls.h"', "", f"namespace {plan.slug} {{"]
    for name, value, says in constants(plan, "  // "):
        kind = "char *const" if isinstance(value, str) else "long"
        head.append(f"const {kind} {name} = {said.value(value)};{says}")
    if "kept" in features:
        head += [
            "inline int read_kept(int place) { return board_read_kept(place); }",
            "inline void write_kept(int place, int value) { board_write_kept(place, value); }",
        ]
    if "kept_level" in features:
        head.append("void remember_levels();")
    text = pruned(whole("h"), features, {"build": "\n".join(body)})
    last = [
        f"}}  // namespace {plan.slug}",
        "",
        f"inline void setup() {{ {plan.slug}::begin_all(); }}",
        f"inline void loop() {{ {plan.slug}::turn(); }}",
        "",
    ]
    return {
        f"{plan.slug}.h": numbered("\n".join([*head, "", text, *last])),
        "board_calls.h": source("board_calls.h.in"),
    }


@dataclass
class CPlusPlus(Language):
    """Declarations as statics, with what is set of them in a routine that runs first."""

    def truth(self, value: bool) -> str:
        """In small letters."""
        return "true" if value else "false"

    def to(self, name: str | None) -> str:
        """Its address."""
        return f"&{name}" if name else "nullptr"

    def comment(self, text: str = "") -> None:
        """A comment."""
        self.lines.append(f"// {plain(text)}" if text else "")

    def new(self, name: str, kind: str, *values: Value, says: str = "") -> Var:
        """A static."""
        if says:
            self.comment(says)
        inner = self.values(values)
        self.lines.append(f"static {kind} {name}{f'({inner})' if inner else ''};")
        return Var(name)

    def set(self, of: str, field: str, value: Value) -> None:
        """Set a field, once all is declared."""
        self.later.append(f"  {of}.{field} = {self.value(value)};")

    def call(self, of: str, method: str, *values: Value) -> None:
        """Call a method, once all is declared."""
        self.later.append(f"  {of}.{method}({self.values(values)});")

    def row(self, owner: str, kind: str, names: Sequence[str]) -> Raw:
        """An array of pointers."""
        if not names:
            return Raw(f"Row<{kind}>()")
        inner = ", ".join(f"&{name}" for name in names)
        self.lines.append(f"static {kind} *const {owner}_row[] = {{{inner}}};")
        return Raw(f"row({owner}_row)")

    def table(self, owner: str, kind: str, rows: Sequence[Row]) -> Raw:
        """An array of structures, with how many there are."""
        inner = [f"{{{self.values(row)}}}" for row in rows]
        if sum(map(len, inner)) < 60:
            text = ", ".join(inner)
        else:
            text = "\n    " + ",\n    ".join(inner) + ",\n"
        self.lines.append(f"static const {kind} {owner}_table[] = {{{text}}};")
        return Raw(f"{owner}_table, {len(rows)}")

    def numbers(self, owner: str, numbers: Sequence[int], wide: bool = False) -> Raw:
        """An array of bytes, or of wider ones."""
        kind, inner = "uint16_t" if wide else "uint8_t", ", ".join(map(str, numbers))
        self.lines.append(f"static const {kind} {owner}_numbers[] = {{{inner}}};")
        return Raw(f"{owner}_numbers")

    def all_rows(self, name: str, kind: str, names: Sequence[str]) -> None:
        """Filled in once all is declared."""
        row = self.row(name.lower(), kind, names)
        self.later.append(f"  {name} = {row.text};")

    def order(self, conditions_and_events: Sequence[tuple[str, bool]]) -> None:
        """An array of both."""
        rows = [
            (To(name), To(None)) if condition else (To(None), To(name))
            for name, condition in conditions_and_events
        ]
        self.lines.append("")
        if not rows:
            return
        self.table("order", "Work", rows)
        self.later += ["  ORDER = order_table;", f"  ORDER_COUNT = {len(rows)};"]

    def queue(self, name: str, values: Row, length: int, clear: To, says: str) -> None:
        """A queue with its array."""
        self.lines.append(f"static Steps {name}_waits[{length}];")
        self.new(name, "Queue", *values, Raw(f"{name}_waits"), length, clear, says=says)

    def starts(self, channel: str, most: int) -> None:
        """With its array."""
        self.lines.append(f"static Steps {channel}_started[{most}];")
        self.set(channel, "starts", most)
        self.set(channel, "started", Raw(f"{channel}_started"))

    def interlock(self, name: str, gap: int, channels: Sequence[str], says: str) -> None:
        """With its arrays."""
        row, count = self.row(name, "Channel", channels), len(channels)
        self.lines += [f"static Steps {name}_due[{count}];", f"static bool {name}_lived[{count}];"]
        rest = (Raw(f"{name}_due"), Raw(f"{name}_lived"))
        self.new(name, "Interlock", gap, row, *rest, says=says)

    def firing(self, name: str, plan: hw.FiringPlan) -> None:
        """With the routine that is called at the zero."""
        delays = self.numbers(name, plan.delays, wide=True)
        self.lines.append(f"static void {name}_crossed();")
        self.new(
            name,
            "Firing",
            plan.line.number,
            plan.zero.number,
            plan.rising,
            bool(plan.line.off),
            delays,
            plan.latest,
            plan.pulse,
            Var(name_of(plan.channel)),
            Raw(f"{name}_crossed"),
        )
        self.lines.append(
            f"static void {name}_crossed() {{ {name}.zero_at = board_us(), {name}.waits = true; }}"
        )

    def counted(self, name: str, plan: hw.CountedPlan) -> None:
        """With the routine that is called at each pulse."""
        self.lines.append(f"static void {name}_one();")
        values = (Var(name_of(plan.key)), plan.line.number, plan.pull_up, plan.rising)
        self.new(name, "CountedPin", *values, Raw(f"{name}_one"))
        self.lines.append(f"static void {name}_one() {{ {name}.count = {name}.count + 1; }}")

    def chain(self, plan: hw.ChainPlan) -> None:
        """With its arrays."""
        key, places = plan.id, plan.places
        self.lines.append(f"static uint8_t {key}_bits[{places}], {key}_shown[{places}];")
        arrays = (Raw(f"{key}_bits"), Raw(f"{key}_shown"), places)
        if plan.why:
            routine = self.routine(f"write_{key}", "chain", f"{plan.name}: {plan.why}.")
            self.new(key, "HandChain", *arrays, plan.levels, routine)
            return
        pins = [plan.lines[role].number for role in ("data", "clock", "latch")]
        enable = plan.lines.get("enable")
        released = (-1 if enable is None else enable.number, bool(plan.released))
        self.new(key, "Registers", *arrays, *pins, bool(plan.idle), *released)

    def routine(self, name: str, kind: str, says: str) -> Raw:
        """A function with nothing in it but what belongs there."""
        gives, given, does = ROUTINES[kind]
        self.lines += [f"inline {gives} {name}({given}) {{", f"  // {plain(says)} Put it here.",
                       f"  {does}", "}"]  # fmt: skip
        return Raw(name)

    def ways(self, owner: str, ways: Sequence[tuple[str, str]]) -> Raw:
        """An array of pairs, with how many there are."""
        return self.table(f"{owner}_ways", "Way", [(To(key), pattern) for key, pattern in ways])

    def remembered(self, names: Sequence[str], levels: bool) -> None:
        """A routine for levels; what is confirmed is written down by the step."""
        if not levels:
            return
        calls = " ".join(f"{name}.remember();" for name in names if not name.endswith("_seen"))
        self.lines.append(f"inline void remember_levels() {{ {calls} }}")

    @property
    def lists_chains(self) -> bool:
        """Only where there are any."""
        return False

    def patterns(self, owner: str, patterns: Sequence[str]) -> Raw:
        """An array of texts, with how many there are."""
        inner = ", ".join(self.quoted(p) for p in patterns)
        self.lines.append(f"static const char *const {owner}_patterns[] = {{{inner}}};")
        return Raw(f"{owner}_patterns, {len(patterns)}")
