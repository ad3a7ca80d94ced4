"""What is wrong with a stage of several lines: the verdicts, each with the way that leads there."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.sums.motion.outcome import FLOWS, conducts, contacts_of, currents, shorted
from latchcore.sums.motion.power import Line, Power
from latchcore.sums.motion.reach import At, Explorer, Reached, Step
from latchcore.sums.motion.reading import DEAD_PIN, readings
from latchcore.sums.motion.slip import Slip, slipped
from latchcore.sums.motion.table import Row, Table, disarmed

#: Results in which the load acts; forbidden counts as acting where two coils or half-windings are.
ACTING = {
    "motor": {"forward", "reverse"},
    "latching_coil": {"on", "off"},
    "two_coils": {"on", "off", "forbidden"},
    "stepper": {"hold", "forbidden"},
    "line": {"high", "low"},
}
#: Kinds whose forbidden state shorts the supply.
SHORTING = ("motor", "latching_coil", "line")
#: Over these volts an arc from one contact to the other is not put out [V].
ARC_VOLTS = 24.0


@dataclass(frozen=True, slots=True)
class SlipRow:
    """One slip of a pattern over another, and what may become of it."""

    before: str
    wanted: str
    slip: Slip
    can_be: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Verdict:
    """A finding: its id and severity, in words what it is, and the way that leads to it."""

    check: str
    severity: str
    says: str
    way: tuple[Step, ...] = ()


@dataclass(frozen=True, slots=True)
class Motion:
    """Everything that is known of a stage of several lines."""

    power: Power
    table: Table
    reached: Reached
    slips: tuple[SlipRow, ...]
    disarms: dict[str, list[str]]
    hot: tuple[tuple[str, str], ...]
    arcs: tuple[tuple[str, str], ...]
    back_feeds: dict[str, float]
    verdicts: tuple[Verdict, ...]

    @property
    def rows(self) -> dict[str, Row]:
        """Every combination of driven and floating lines, and each other that comes about."""
        return self.table.every() | {c: self.table.row(c) for c in self.reached.combinations}

    def nearest(self, result: str) -> tuple[Step, ...]:
        """One of the shortest ways to a result, empty where it never comes about."""
        return way_to(self.table, self.reached, {result})


def way_to(table: Table, reached: Reached, results: set[str]) -> tuple[Step, ...]:
    """One of the shortest ways to any of some results."""
    found = [at for at in reached.ways if results & set(table.row(at.lines).can_be)]
    return tuple(reached.way(min(found, key=lambda at: reached.depth[at]))) if found else ()


def judge(power: Power) -> Motion:
    """
    Work out a stage of several lines: its table, what comes about, and what is wrong with it.

    Examples
    --------
    >>> from latchcore.sums.motion.power import Line, Program, Pull, Start, Switch, Winding
    >>> down = Pull("low", 10e3, "load")
    >>> lines = tuple(Line(n, 0.5, 2.5, down) for n in ("up", "down"))
    >>> switches = (Switch("upper", ("plus", "a"), 0.1, "up"),
    ...     Switch("lower", ("a", "minus"), 0.1, "down"))
    >>> program = Program({"rest": "00", "run": "10"}, "rest")
    >>> found = judge(Power("motor", 12.0, 0.1, 5.0, 5.0, lines, program, Start(("zz",), True),
    ...     switches=switches, windings=(Winding("M", "motor", ("a", "minus"), 8.0),)))
    >>> found.table.row("11").result, found.verdicts
    ('forbidden', ())
    """
    table, reached = Table(power), Explorer(power).walk()
    slips = tuple(slip_rows(power, table))
    hot, arcs = moves(power, reached)
    feeds = back_feeds(power)
    found = Motion(power, table, reached, slips, disarmed(power), hot, arcs, feeds, ())
    return Motion(
        power, table, reached, slips, found.disarms, hot, arcs, feeds, tuple(_verdicts(found))
    )


def slip_rows(power: Power, table: Table) -> list[SlipRow]:
    """Each pattern slipped over each that it may follow, and over itself."""
    program, found = power.program, []
    for wanted, lines in program.patterns.items():
        for before, old in program.patterns.items():
            if before != wanted and wanted not in program.follows(before):
                continue
            for slip in slipped(power, old, lines):
                found.append(SlipRow(before, wanted, slip, table.row(slip.becomes).can_be))
    return found


def back_feeds(power: Power) -> dict[str, float]:
    """What pull-ups fed by the load push into the board while it is dead [A]."""
    if not power.start.dies_alone:
        return {}

    def fed(line: Line) -> bool:
        return line.pull is not None and line.pull.to == "high" and line.pull.fed_by == "load"

    return {
        line.name: (power.pull - DEAD_PIN) / line.pull.ohms  # type: ignore[union-attr]
        for line in power.lines
        if fed(line)
    }


def moves(
    power: Power, reached: Reached
) -> tuple[tuple[tuple[str, str], ...], tuple[tuple[str, str], ...]]:
    """
    Steps in which a contact moves under current, and those of them in which contact arcing from one
    side to the other shorts the supply.
    """
    if not power.changeovers:
        return (), ()
    hot, arcs = [], []
    for one, other in reached.edges:
        if one == other:
            continue
        is_hot = is_arc = False
        for old in readings(power, one):
            before = contacts_of(power, old)
            for new in readings(power, other):
                after = contacts_of(power, new)
                moved = frozenset(n for n in before if before[n] != after[n])
                if not moved:
                    continue
                held = conducts(power, new, contacts=before)
                if shorted(held) or _flows(power, held):
                    is_hot = True
                    is_arc |= shorted(conducts(power, new, contacts=before, joined=moved))
        if is_hot:
            hot.append((one, other))
        if is_arc:
            arcs.append((one, other))
    return tuple(sorted(hot)), tuple(sorted(arcs))


def _flows(power: Power, found) -> bool:
    flows = currents(power, found)
    return any(abs(flows[w.name]) > FLOWS for w in power.windings)


def _verdicts(found: Motion) -> list[Verdict]:
    power, table, reached = found.power, found.table, found.reached
    said: list[Verdict] = []
    if power.kind in SHORTING and (way := way_to(table, reached, {"forbidden"})):
        said.append(Verdict("M1", "stop", "plus and minus are joined", way))
    elif unnamed := [at for at in reached.ways if not table.row(at.lines).printed]:
        way = tuple(reached.way(min(unnamed, key=lambda at: reached.depth[at])))
        said.append(Verdict("M1", "check", "a combination the print does not name", way))
    if power.supply > ARC_VOLTS and found.arcs and not any(v.check == "M1" for v in said):
        one, other = found.arcs[0]
        says = f"a contact moves under current from {one} to {other}: its arc joins plus and minus"
        said.append(Verdict("M1", "stop", says))
    shorts = any(v.check == "M1" and v.severity == "stop" for v in said)
    # A start state that may short is told by that alone.
    if found.back_feeds or (_acts_dead(found) and not shorts):
        said.append(Verdict("P13", "stop", "the board is dead, the load supply live"))
    kept = _keeps(found)
    if kept:
        said.append(Verdict("M6", "stop", kept))
    if not any(v.check == "M1" and v.severity == "stop" for v in said):
        said += _starts(found, bool(kept), any(v.check == "P13" for v in said))
    return said + _slips(found)


def _acts(power: Power, row: Row) -> bool:
    return bool(ACTING[power.kind] & set(row.can_be))


def _acts_dead(found: Motion) -> bool:
    """Whether the load may act while the board is dead, by something that is decided."""
    dead = [at for at in found.reached.ways if at.doing == "dead"]
    rows = [found.table.row(at.lines) for at in dead]
    return any(_acts(found.power, row) for row in rows)


def _keeps(found: Motion) -> str:
    """M6: outputs kept through a reset, or anything at power-on before they are loaded."""
    power = found.power
    if not power.chain:
        return ""
    if power.start.reset == "keeps" and any(
        _acts(power, found.table.row(p)) for p in power.program.patterns.values()
    ):
        return "the register keeps its outputs through a reset"
    begun = [c for c in power.start.boot if "x" in c]
    if any(_acts(power, found.table.row(c)) for c in begun):
        return "at power-on its outputs are whatever they are"
    return ""


def _starts(found: Motion, kept: bool, dead: bool) -> list[Verdict]:
    """P5, P6 and T1: what the load does before the first pattern stands."""
    power, table = found.power, found.table
    rest = power.program.patterns[power.program.first]
    said: dict[str, Verdict] = {}
    for at in sorted(found.reached.ways, key=lambda a: found.reached.depth[a]):
        if not _starting(at, power) or (at.doing == "dead" and dead):
            continue
        row, way = table.row(at.lines), tuple(found.reached.way(at))
        if "x" in at.lines and kept:
            continue
        if _acts(power, row):
            settled = "".join(c if c in "01" else r for c, r in zip(at.lines, rest, strict=True))
            driven_acts = at.doing == "boot" and _acts(power, table.row(settled))
            if at.low and not _acts(power, table.row(_raised(at, rest))):
                said.setdefault("T1", Verdict("T1", "fix", "a pin begins as a low output", way))
            elif driven_acts and not kept:
                said.setdefault("P5", Verdict("P5", "stop", "a pin is driven while it boots", way))
            elif not kept:
                said["P6"] = _graver(said.get("P6"), Verdict("P6", "stop", "lines float", way))
        elif row.may_be_on and not kept:
            fix = Verdict("P6", "fix", "nothing decides a switch", way)
            said["P6"] = _graver(said.get("P6"), fix)
    if "P5" in said and said.get("P6", Verdict("", "", "")).severity != "stop":
        said.pop("P6", None)
    return list(said.values())


def _graver(old: Verdict | None, new: Verdict) -> Verdict:
    return new if old is None or (old.severity == "fix" and new.severity == "stop") else old


def _starting(at: At, power: Power) -> bool:
    """Whether a state is one before the first pattern stands."""
    unwritten = any(c in "zudpx" for c in at.lines)
    return at.doing in ("dead", "boot") or unwritten or bool(at.low)


def _raised(at: At, rest: str) -> str:
    """The combination with the line that begins low at the level it is meant for."""
    return "".join(rest[n] if n in at.low else c for n, c in enumerate(at.lines))


def _slips(found: Motion) -> list[Verdict]:
    """M7, only where nobody compared the clock modes."""
    power = found.power
    if not power.chain or power.modes_compared:
        return []
    wrong = False
    for row in found.slips:
        if "forbidden" in row.can_be:
            severity = "fix" if power.kind == "stepper" else "stop"
            says = f"{row.wanted} slipped {row.slip.way} becomes {row.slip.becomes}"
            if severity == "stop":
                return [Verdict("M7", "stop", says)]
            wrong = True
        wanted = found.table.row(power.program.patterns[row.wanted])
        became = found.table.row(row.slip.becomes)
        other = ACTING[power.kind] & set(row.can_be) - set(wanted.can_be)
        turned = power.kind == "stepper" and _acts(power, became) and became.angle != wanted.angle
        wrong |= bool(other) or turned
    return [Verdict("M7", "fix", "a slip energises what was not asked for")] if wrong else []
