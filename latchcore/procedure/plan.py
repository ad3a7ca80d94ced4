"""The power-up plan of a build: steps by stages, with what, where, how and what a miss means."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from latchcore.behaviour.telling import told
from latchcore.bench.circuit import GROUND, NotModelled
from latchcore.bench.currents import Flow, flows
from latchcore.bench.meter import ALTERNATING, HandMeter, usual_meter
from latchcore.bench.readings import Expected, expected, said_of
from latchcore.bench.undriven import RESET, in_reset
from latchcore.design.context import BuildContext
from latchcore.design.memory import Memory, once
from latchcore.design.report import ChannelReport, Finding, Report
from latchcore.figures.quantity import show
from latchcore.procedure.dead import Dead, hurts, low_rails, return_said
from latchcore.procedure.misses import Miss, flow_misses, misses
from latchcore.procedure.steps import (
    ALTERNATING_VOLTS,
    AMPERES,
    LIMIT,
    LOOK,
    MILLIAMPERES,
    OHMS,
    STAGES,
    VOLTS,
    Plan,
    Step,
    with_own,
)
from latchcore.whole.wire_list import node_numbers

__all__ = ["LOOK", "OHMS", "STAGES", "VOLTS", "Plan", "Step", "plan_of", "with_own"]
#: Every single fault of every channel is solved: once is enough.
KNOWN = Memory(32)
#: How long a load runs before it is felt; a transformer with nothing on it, beside its label.
WARM, UNLOADED = "ten minutes", 1.2
#: A closed contact reads under this [Ω], leads and all; parts with one.
JOINED = 1.0
BY_COIL = frozenset({"relay", "module", "module_joined", "reed"})


def plan_of(around: BuildContext, report: Report, meter: HandMeter | None = None) -> Plan:
    """
    The plan of a build as it stands.

    Parameters
    ----------
    around : BuildContext
    report : Report
    meter : HandMeter, optional
        The one at hand; a usual hand meter unless stated

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> from latchcore.document.models import Build
    >>> from latchcore.evaluate import evaluate
    >>> build = Build(name="Bench")
    >>> plan_of(BuildContext(build, load_catalogue()), evaluate(build)).steps[0].stage
    0
    """
    meter = meter or usual_meter()

    def work() -> Plan:
        return _Planner(around, report, meter).plan()

    return once(KNOWN, around.build, around.catalogue, work, repr(meter))


class _Planner:
    def __init__(self, around: BuildContext, report: Report, meter: HandMeter) -> None:
        self.around, self.report, self.meter = around, report, meter
        self.left_out: list[str] = []
        self.own: dict[str, list[Flow]] = {}
        self.flow_misses: dict[str, dict[tuple[str, str], Miss]] = {}
        self.hurts = hurts(around)
        #: Channels whose load cannot be had again.
        self.dear = {c.id for c in around.build.channels if c.irreplaceable}
        self.worked = {c.id: self._windows(c) for c in report.channels}

    def plan(self) -> Plan:
        steps = [
            *Dead(self.around, self.report).steps(),
            *self._supplies(),
            *self._logic(),
            *self._dummy(),
            *self._inputs(),
        ]
        steps += [*self._limited(), *self._loaded(), *self._accepted(), *self._mains()]
        stops = [f for f in self.report.all_findings if self._gates(f)]
        names = {c.id: c.name for c in self.report.channels}
        gates = tuple(f"{f.check} {names.get(f.where, '')}: {f.title}" for f in stops)
        held = tuple(replace(s, held=self._held(s)) for s in steps)
        return Plan(held, gates, tuple(self.left_out))

    def _gates(self, finding: Finding) -> bool:
        """A stop, and whatever is to be put right of what cannot be had again."""
        dear = finding.where in self.dear and finding.severity == "fix"
        return finding.severity == "stop" or dear

    def _held(self, step: Step) -> bool:
        """
        Whether a step cannot be skipped: where anything hurts the first stage, the last, and
        everything about a channel that hurts; everything about what cannot be had again, and what
        it stands on.
        """
        if step.channel in self.dear or (self.dear and step.stage <= 1):
            return True
        channel = self.around.build.channel(step.channel) if step.channel else None
        rail = self.around.build.rail(channel.rail) if channel is not None else None
        on_line = rail is not None and self.around.hazardous(rail)
        return self.hurts and (step.stage in (0, len(STAGES) - 1) or on_line)

    def _windows(
        self, told_of: ChannelReport
    ) -> tuple[list[Expected], dict[tuple[str, str], Miss]] | None:
        channel, result = self.around.build.channel(told_of.id), told_of.result
        if channel is None or result is None:
            self.left_out.append(f"{told_of.name}: not stated yet: {', '.join(told_of.missing)}")
            return None
        context = self.around.channel(channel)
        try:
            windows = expected(context, result, self.meter)
            return windows, misses(context, result, windows)
        except NotModelled as error:
            self.left_out.append(f"{told_of.name}: {error}; read it by its drawing")
            return None

    def _flows_of(self, told_of: ChannelReport) -> list[Flow]:
        """Currents of the first thing that can be asked of a channel."""
        channel, result = self.around.build.channel(told_of.id), told_of.result
        if channel is None or result is None or self.worked[told_of.id] is None:
            return []
        context = self.around.channel(channel)
        found = flows(context, result, self.meter)
        found = [f for f in found if f.state == found[0].state]
        self.own[told_of.id] = found
        self.flow_misses[told_of.id] = flow_misses(context, result, found)
        return found

    def _supplies(self) -> Iterator[Step]:
        for rail in low_rails(self.around):
            volts = self.around.rail_volts(rail)
            low, high = self.meter.widened(volts.min, volts.max)
            yield Step(
                f"s1-{rail.id}", 1, f"{rail.name} alone, nothing on it: plus against its return.",
                VOLTS, "Too high burns what hangs on it, too low starves it: set it, or another.",
                (rail.name, return_said(self.around.return_of(rail))), low, high, "V",
                nodes=(rail.id, self.around.return_of(rail)), about="alone",
            )  # fmt: skip

        yield from self._alternating()

    def _alternating(self) -> Iterator[Step]:
        """Transformers, bells and whatever else gives alternating current that does not hurt."""
        for rail in self.around.build.rails:
            if self.around.hazardous(rail) or not self.around.alternating(rail):
                continue
            volts = self.around.rail_volts(rail)
            low, high = self.meter.widened(volts.min, UNLOADED * volts.max, ALTERNATING)
            yield Step(
                f"s1-{rail.id}", 1, f"{rail.name} alone: one wire against the other.",
                ALTERNATING_VOLTS, "Too high burns what hangs on it: another tap, or another one.",
                (rail.name, "its other wire"), low, high, "V", about=rail.id,
                note="With nothing on it a transformer stands up to a fifth over its label.",
            )  # fmt: skip

    def _nodes(self, stage: int, pins: bool) -> Iterator[Step]:
        for told_of in self.report.channels:
            worked, result = self.worked[told_of.id], told_of.result
            if worked is None or result is None:
                continue
            numbers = node_numbers(result.netlist, told_of.id)
            lines = {
                t for p in result.netlist.parts if p.kind == "pin" for t in p.terminals.values()
            }
            apart = told_apart(worked[0])
            for item in worked[0]:
                if (item.node in lines) is pins and item.window is not None:
                    at = f"{told_of.letter}{numbers[item.node]}"
                    yield Step(
                        f"s{stage}-{at}-{item.state}", stage,
                        f"{told_of.letter} {told_of.name} commanded {item.state}: point {at}.",
                        VOLTS, worked[1][item.state, item.node].words,
                        (at, said_of(item.against, told_of.letter, numbers)),
                        *item.window, "V", told_of.id, (item.node, item.against), item.state,
                        note=_blind(item.node, apart, told_of.letter, numbers),
                        causes=worked[1][item.state, item.node],
                    )  # fmt: skip

    def _logic(self) -> Iterator[Step]:
        yield from self._nodes(2, pins=True)
        yield from self._in_reset()
        if self.report.channels:
            words = "Hold reset for several seconds with the loads unplugged: nothing comes on."
            miss = "A line that acts in reset wants its pull: see its five states."
            yield Step("s2-slow", 2, words, LOOK, miss, about="float")

    def _in_reset(self) -> Iterator[Step]:
        """The control node of each channel that is to stay off, the board held in reset."""
        for told_of in self.report.channels:
            channel, result = self.around.build.channel(told_of.id), told_of.result
            if channel is None or result is None or self.worked[told_of.id] is None:
                continue
            item = in_reset(self.around.channel(channel), result, self.meter)
            numbers = node_numbers(result.netlist, told_of.id)
            if item is None or item.window is None or item.node not in numbers:
                continue
            at = f"{told_of.letter}{numbers[item.node]}"
            yield Step(
                f"s2-{at}-held", 2,
                f"{told_of.letter} {told_of.name}, reset held down: point {at}.", VOLTS,
                "It is not held off: its pull is missing, not joined, or on the wrong side.",
                (at, "0 V"), *item.window, "V", told_of.id, (item.node, GROUND), about=RESET,
            )  # fmt: skip

    def _dummy(self) -> Iterator[Step]:
        for told_of in self.report.channels:
            yield Step(
                f"s3-{told_of.letter}", 3,
                f"An LED with its resistor in place of {told_of.name}: walk the channels; the name"
                " said is the lamp seen.",
                LOOK, "Another lights: pins are changed, or counted from the other end.",
                channel=told_of.id, about="walk",
            )  # fmt: skip
            yield from self._contacts(told_of)

    def _contacts(self, told_of: ChannelReport) -> Iterator[Step]:
        """Both sides of a contact, its own circuit dead, the coil off and on."""
        result = told_of.result
        if result is None or self.worked[told_of.id] is None:
            return
        relay = next((p for p in result.netlist.parts if p.kind in BY_COIL), None)
        if relay is None:
            return
        for state in ("off", "on"):
            # Behind a closed contact the coil is off while the load is on.
            pulled = (state == "on") is not result.contact.inverts
            for side in ("NO", "NC"):
                if side not in relay.terminals:
                    continue
                closed = pulled is (side == "NO")
                yield Step(
                    f"s3-{told_of.letter}-{side}-{state}", 3,
                    f"{told_of.name} commanded {state}, nothing plugged in on its contact: common"
                    f" against {side}.",
                    OHMS, "It welded, hangs, or the other side is wired: NO and NC are changed.",
                    ("common", side), 0.0 if closed else None, JOINED if closed else None, "Ω",
                    told_of.id, state=state, about=f"contact {side}",
                )  # fmt: skip

    def _inputs(self) -> Iterator[Step]:
        for item in self.report.inputs:
            for n, (state, level, reads, means) in enumerate(item.rows, 1):
                words = f"{item.name}, {state}: {level}"
                yield Step(
                    f"s4-{item.id}-{n}", 4,
                    f"{words}; the program reads {reads or 'that'}: {means}.", LOOK,
                    "Read otherwise: its pull, its other wire, or high and low are changed.",
                    about=item.id,
                )  # fmt: skip

    def _limited(self) -> Iterator[Step]:
        rails = {r.id: r for r in self.report.rails}
        for rail in low_rails(self.around):
            amps = rails[rail.id].all_on
            if amps:
                yield Step(
                    f"s5-{rail.id}-limit", 5,
                    f"{rail.name}: limit the supply to {show(LIMIT * amps, 'A')}, then plug in.",
                    LOOK, "It limits: more flows than planned. Off, and back to stage 0.",
                    most=LIMIT * amps, unit="A", about=rail.id,
                )  # fmt: skip
        yield from self._nodes(5, pins=False)
        yield from self._flows()

    def _flows(self) -> Iterator[Step]:
        """What each rail gives a channel that acts, in its own lead."""
        for told_of in self.report.channels:
            for flow in self._flows_of(told_of):
                miss = self.flow_misses[told_of.id][flow.state, flow.rail]
                rail = self.around.build.rail(flow.rail)
                name = rail.name if rail is not None else flow.rail
                small = (self.meter.span(flow.window[1], "A") or 1.0) < 1.0
                setting = MILLIAMPERES if small else AMPERES
                yield Step(
                    f"s5-{told_of.letter}-{flow.rail}-amps", 5,
                    f"{told_of.letter} {told_of.name} commanded {flow.state}: the meter in the wire"
                    f" from {name}, opened with the supply off.",
                    setting, miss.words, (name, f"{told_of.letter} {told_of.name}"),
                    *flow.window, "A", told_of.id, (flow.rail, ""), flow.state,
                    about=flow.rail, causes=miss,
                )  # fmt: skip

    def _own_limit(self, told_of: ChannelReport) -> Iterator[Step]:
        """A supply is limited to what one alone may take, where that cannot be had again."""
        for flow in self.own.get(told_of.id, []) if told_of.id in self.dear else []:
            rail, limit = self.around.build.rail(flow.rail), LIMIT * flow.window[1]
            name = rail.name if rail is not None else flow.rail
            yield Step(
                f"s6-{told_of.letter}-{flow.rail}-limit", 6,
                f"{told_of.name} cannot be had again: everything else off, {name} limited to"
                f" {show(limit, 'A')}; command it {flow.state} for a second.",
                LOOK, "It limits: off at once, and back to what the dummy load showed.",
                most=limit, unit="A", channel=told_of.id, state=flow.state, about=flow.rail,
            )  # fmt: skip

    def _loaded(self) -> Iterator[Step]:
        for told_of in self.report.channels:
            channel = self.around.build.channel(told_of.id)
            rail = self.around.build.rail(channel.rail) if channel else None
            if channel is None or (rail is not None and self.around.hazardous(rail)):
                continue
            yield from self._own_limit(told_of)
            yield Step(
                f"s6-{told_of.letter}", 6,
                f"{told_of.name} at its worst duty for {WARM}: feel switch, clamp and load.",
                LOOK, "Too hot to keep the finger there: read its heat, look at the base or gate.",
                channel=told_of.id, about="heat",
            )  # fmt: skip

    def _accepted(self) -> Iterator[Step]:
        for n, (name, lines) in enumerate(told(self.around.build), 1):
            miss = "It does otherwise: rehearse it, and hold a capture against the plan."
            yield Step(f"s7-{n}", 7, f"{name}: {' '.join(lines)}", LOOK, miss)
        if self.report.channels:
            for key, words in (
                ("wrong", "A wrong word over the line does nothing."),
                ("cut", "Cut the power and give it back: what must stay off stays off."),
                ("link", "Pull the line of commands: each channel does what was said of it."),
                ("stuck", "Hold a sensor where it is: limits end what runs."),
            ):
                yield Step(f"s7-{key}", 7, words, LOOK, "It goes on: look at its limits and rules.")

    def _mains(self) -> Iterator[Step]:
        if not self.hurts:
            return
        for key, words in (
            ("rcd", "The residual-current protection was tested by its button just now."),
            ("closed", "The box is closed, nothing bare can be reached, nobody else is near."),
            ("first", "Plug in, stand back, switch each mains load once; smell and listen."),
        ):
            yield Step(f"s8-{key}", 8, words, LOOK, "Unplug, prove dead, back to stage 0.")


def told_apart(windows: list[Expected]) -> dict[str, float]:
    """
    By node how far apart off lies from everything else that is commanded [V]; under nothing where
    the windows overlap, so that a reading there cannot tell which it is.
    """
    found: dict[str, float] = {}
    for node in dict.fromkeys(w.node for w in windows):
        own = {w.state: w.window for w in windows if w.node == node}
        off = own.pop("off", None)
        gaps = [max(w[0] - off[1], off[0] - w[1]) for w in own.values() if w and off]
        if gaps and len(gaps) == len(own):
            found[node] = max(gaps)
    return found


def _blind(node: str, apart: dict[str, float], letter: str, numbers: dict[str, int]) -> str:
    """What is said of a point that reads alike off and on, and which to read instead."""
    if node not in apart or apart[node] > 0:
        return ""
    best = max(apart, key=lambda n: apart[n])
    if apart[best] <= 0:
        return "No point of this channel tells off from on for certain: look at the load as well."
    return f"This point cannot tell off from on for certain; {letter}{numbers[best]} can."
