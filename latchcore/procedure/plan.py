"""The power-up plan of a build: steps by stages, with what, where, how and what a miss means."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from latchcore.behaviour.telling import told
from latchcore.bench.circuit import GROUND, NotModelled
from latchcore.bench.meter import Meter
from latchcore.bench.readings import Expected, expected, window_words
from latchcore.design.context import BuildContext
from latchcore.design.memory import Memory, once
from latchcore.design.report import ChannelReport, Report
from latchcore.figures.quantity import show
from latchcore.procedure.misses import MOST_NAMED, Miss, misses
from latchcore.whole.barriers import barrier_map
from latchcore.whole.wire_list import node_numbers

STAGES = (
    "Dead and unplugged: eyes and meter",
    "Supplies alone",
    "Logic only",
    "Dummy load",
    "Inputs",
    "Low voltage with a current limit",
    "The real load",
    "Acceptance",
    "Mains, last",
)
VOLTS, OHMS, LOOK = "direct volts", "ohms, circuit dead", "look"
#: Every single fault of every channel is solved: once is enough.
KNOWN = Memory(32)
#: Parts that sit one way round only.
POLAR = frozenset({"diode", "zener", "npn", "pnp", "nmos", "pmos", "coupler", "led"})
#: An earth path reads under this [Ω]; the limit of a bench supply beside what is expected; how long
#: a load runs before it is felt.
EARTH, LIMIT, WARM = 0.5, 1.2, "ten minutes"
#: What loads measure cold, as a share of what they are at work: that of a filament.
COLD = 0.1


@dataclass(frozen=True, slots=True)
class Step:
    """
    One step.

    Attributes
    ----------
    id : str
    stage : int
    words : str
        What to do
    setting : str
        Of the meter, or ``look``
    between : (str, str), optional
        The two points
    least, most : float, optional
        Expected window, in ``unit``; a look has none
    unit : str
    miss : str
        What a miss means and what to look at next
    channel : str
        Id of the channel it belongs to, if any
    """

    id: str
    stage: int
    words: str
    setting: str
    miss: str
    between: tuple[str, str] | None = None
    least: float | None = None
    most: float | None = None
    unit: str = ""
    channel: str = ""
    #: Faults that would put a reading outside, where they were worked out.
    causes: Miss | None = None

    def meant(self, where: str) -> str:
        """What a miss on one side means: ``under`` or ``over``."""
        if self.causes is None or where not in ("under", "over"):
            return self.miss
        named = self.causes.under if where == "under" else self.causes.over
        if not named:
            return "No single fault that is looked for reads so: look at it with the board dead."
        return f"What would do that: {', '.join(named[:MOST_NAMED])}."

    @property
    def window(self) -> str:
        """What is expected, in words."""
        if self.setting == LOOK:
            return "as said"
        if self.most is None:
            return "OL" if self.least is None else f"over {show(self.least, self.unit)}"
        if self.unit == "V" and self.least is not None:
            return window_words(self.least, self.most)
        low = show(self.least, self.unit) if self.least else f"0 {self.unit}"
        return f"{low} to {show(self.most, self.unit)}"


@dataclass(frozen=True)
class Plan:
    """
    Steps in the order of stages; ``gates`` are findings that stop all after the first stage while
    they stand; ``left_out`` what could not be worked out, in words.
    """

    steps: tuple[Step, ...]
    gates: tuple[str, ...]
    left_out: tuple[str, ...]

    def step(self, step_id: str) -> Step | None:
        """The step of that id."""
        return next((s for s in self.steps if s.id == step_id), None)


def plan_of(around: BuildContext, report: Report, meter: Meter | None = None) -> Plan:
    """
    The plan of a build as it stands.

    Parameters
    ----------
    around : BuildContext
    report : Report
    meter : Meter, optional
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
    meter = meter or Meter()

    def work() -> Plan:
        return _Planner(around, report, meter).plan()

    return once(KNOWN, around.build, around.catalogue, work, repr(meter))


class _Planner:
    def __init__(self, around: BuildContext, report: Report, meter: Meter) -> None:
        self.around, self.report, self.meter = around, report, meter
        self.left_out: list[str] = []
        self.hurts = any(around.hazardous(rail) for rail in around.build.rails)
        self.worked = {c.id: self._windows(c) for c in report.channels}

    def plan(self) -> Plan:
        steps = [*self._dead(), *self._supplies(), *self._logic(), *self._dummy(), *self._inputs()]
        steps += [*self._limited(), *self._loaded(), *self._accepted(), *self._mains()]
        stops = [f for f in self.report.all_findings if f.severity == "stop"]
        names = {c.id: c.name for c in self.report.channels}
        gates = tuple(f"{f.check} {names.get(f.where, '')}: {f.title}" for f in stops)
        return Plan(tuple(steps), gates, tuple(self.left_out))

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

    def _low(self):
        """Rails of direct current that do not hurt."""
        return [r for r in self.around.build.rails
                if not self.around.hazardous(r) and not self.around.alternating(r)]  # fmt: skip

    def _dead(self) -> Iterator[Step]:
        for told_of in self.report.channels:
            parts = told_of.result.netlist.parts if told_of.result else ()
            drawn = [p for p in parts if p.kind in POLAR]
            if drawn:
                names = ", ".join(p.ref.partition(".")[2] for p in drawn)
                yield Step(
                    f"s0-{told_of.letter}-legs", 0,
                    f"{told_of.letter} {told_of.name}: {names} sit as drawn: bands, notches, legs.",
                    LOOK, "One the wrong way round burns or never switches. Turn it before power.",
                    channel=told_of.id,
                )  # fmt: skip
        rails = {r.id: r for r in self.report.rails}
        for rail in self._low():
            found, back = rails[rail.id], self.around.return_of(rail)
            # No less than all loads side by side, and a cold filament is a tenth of a hot one.
            least = COLD * found.volts.min / found.all_on if found.all_on else None
            yield Step(
                f"s0-{rail.id}-short", 0, f"{rail.name}: plus against its return, unplugged.",
                OHMS, "Near nothing is a short: take loads off one by one until it rises.",
                (rail.name, _said(back)), least, None, "Ω",
            )  # fmt: skip
        yield from self._apart()
        if not self.around.build.channels:
            yield Step("s0-empty", 0, "Nothing is planned yet.", LOOK, "Add a load first.")

    def _apart(self) -> Iterator[Step]:
        if not self.hurts:
            return
        found = barrier_map(self.around, self.report.netlist)
        for n, pair in enumerate(
            p for p in found.pairs if "hazardous" in (p.one.kind, p.other.kind)
        ):
            one, other = (", ".join(i.titles) or "one side" for i in (pair.one, pair.other))
            yield Step(
                f"s0-apart-{n + 1}", 0, f"{one} and {other} are apart, at the highest ohms range.",
                OHMS, "Anything but OL is a way through: find the wire before anything is plugged.",
                (one, other), None, None, "Ω",
            )  # fmt: skip
        yield Step("s0-earth", 0, "Earth pin of the plug to each metal part that can be touched.",
                   OHMS, "An earth that is not there is found by somebody's hand.",
                   ("earth pin", "metal"), 0.0, EARTH, "Ω")  # fmt: skip
        yield Step("s0-fuse", 0, "The fuse is fitted, in the live conductor, of the printed value;"
                   " live, not neutral, goes through the contact; every wire holds a pull.",
                   LOOK, "Put it right before anything is plugged in.")  # fmt: skip

    def _supplies(self) -> Iterator[Step]:
        for rail in self._low():
            volts = self.around.rail_volts(rail)
            low, high = self.meter.widened(volts.min, volts.max)
            yield Step(
                f"s1-{rail.id}", 1, f"{rail.name} alone, nothing on it: plus against its return.",
                VOLTS, "Too high burns what hangs on it, too low starves it: set it, or another.",
                (rail.name, _said(self.around.return_of(rail))), low, high, "V",
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
            for item in worked[0]:
                if (item.node in lines) is pins and item.window is not None:
                    at = f"{told_of.letter}{numbers[item.node]}"
                    yield Step(
                        f"s{stage}-{at}-{item.state}", stage,
                        f"{told_of.letter} {told_of.name} commanded {item.state}: point {at}.",
                        VOLTS, worked[1][item.state, item.node].words, (at, "0 V"),
                        *item.window, "V", told_of.id, worked[1][item.state, item.node],
                    )  # fmt: skip

    def _logic(self) -> Iterator[Step]:
        yield from self._nodes(2, pins=True)
        if self.report.channels:
            words = "Hold reset for several seconds with the loads unplugged: nothing comes on."
            miss = "A line that acts in reset wants its pull: see its five states."
            yield Step("s2-slow", 2, words, LOOK, miss)

    def _dummy(self) -> Iterator[Step]:
        for told_of in self.report.channels:
            yield Step(
                f"s3-{told_of.letter}", 3,
                f"An LED with its resistor in place of {told_of.name}: walk the channels; the name"
                " said is the lamp seen.",
                LOOK, "Another lights: pins are changed, or counted from the other end.",
                channel=told_of.id,
            )  # fmt: skip

    def _inputs(self) -> Iterator[Step]:
        for item in self.report.inputs:
            for n, (state, level, reads, means) in enumerate(item.rows, 1):
                words = f"{item.name}, {state}: {level}"
                yield Step(
                    f"s4-{item.id}-{n}", 4,
                    f"{words}; the program reads {reads or 'that'}: {means}.", LOOK,
                    "Read otherwise: its pull, its other wire, or high and low are changed.",
                )  # fmt: skip

    def _limited(self) -> Iterator[Step]:
        rails = {r.id: r for r in self.report.rails}
        for rail in self._low():
            amps = rails[rail.id].all_on
            if amps:
                yield Step(
                    f"s5-{rail.id}-limit", 5,
                    f"{rail.name}: limit the supply to {show(LIMIT * amps, 'A')}, then plug in.",
                    LOOK, "It limits: more flows than planned. Off, and back to stage 0.",
                )  # fmt: skip
        yield from self._nodes(5, pins=False)

    def _loaded(self) -> Iterator[Step]:
        for told_of in self.report.channels:
            channel = self.around.build.channel(told_of.id)
            rail = self.around.build.rail(channel.rail) if channel else None
            if rail is None or self.around.hazardous(rail):
                continue
            yield Step(
                f"s6-{told_of.letter}", 6,
                f"{told_of.name} at its worst duty for {WARM}: feel switch, clamp and load.",
                LOOK, "Too hot to keep the finger there: read its heat, look at the base or gate.",
                channel=told_of.id,
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


def _said(back: str) -> str:
    """A return as it is called at the bench."""
    return "0 V" if back == GROUND else "its own 0 V"
