"""Which kind of switch? Every stage worked out for one load, ranked by sums that can be seen."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from latchcore.advice.remedies import keeps_apart
from latchcore.catalogue import Catalogue, load_catalogue
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, Measure, StageResult, State
from latchcore.document.models import Build, Stage
from latchcore.figures.quantity import show
from latchcore.findings import channel_findings
from latchcore.pieces.frame import Traits
from latchcore.stages import STAGES

NEEDS = {
    "dims": "is dimmed or pulsed",
    "isolated": "must be isolated from the board",
    "silent": "must be silent",
    "fast": "must follow a kilohertz",
    "air_gap": "wants an air gap when off",
    "grounded_load": "one side of the load is tied to ground",
}
#: Points against a stage; each is shown beside the ranking, so that an order can be argued with.
WEIGHTS = {
    "need": (100.0, "a need it does not meet"),
    "fix": (40.0, "a finding to fix"),
    "check": (25.0, "a fact that is not known"),
    "watt": (12.0, "a watt of heat, up to three"),
    "volt": (1.0, "a per cent of the rail lost"),
    "pin": (15.0, "all of the pin's recommended current"),
    "part": (2.0, "a part to fit"),
    "cost": (4.0, "a cost band"),
    "tight": (8.0, "a margin under a tenth"),
    "buy": (5.0, "a part that is not in the drawer, while stock is preferred"),
}
FAST = 1000.0
NOT_THE_STAGES = {"P3", "P4", "P5", "P10", "S8"}


@dataclass(frozen=True)
class Card:
    """One stage for one load: worked out and weighed, or the reason it cannot serve."""

    kind: str
    title: str
    summary: str
    chosen: bool
    unfit: str | None
    result: StageResult | None = None
    findings: tuple[Finding, ...] = ()
    points: tuple[tuple[str, float], ...] = ()
    unmet: tuple[str, ...] = ()
    lost_share: float = 0.0
    reason: str = ""
    traits: Traits | None = None
    parts: int = 0

    @property
    def verdict(self) -> str:
        """The worst severity, or ``sound``."""
        return next(
            (s for s in ("stop", "fix", "check") if any(f.severity == s for f in self.findings)),
            "sound",
        )

    @property
    def unmeant(self) -> list[tuple[State, str]]:
        """States in which nobody commands it and the load is not off for certain."""
        commanded = ("commanded_on", "hung")
        loads = self.result.loads if self.result else []
        return [(s, does) for s, does in loads if does != "off" and s.key not in commanded]

    @property
    def feasible(self) -> bool:
        """Whether it can be built at all: worked out, without a stop."""
        return self.result is not None and self.unfit is None and self.verdict != "stop"

    @property
    def total(self) -> float:
        """Points against it."""
        return sum(points for _, points in self.points)

    @property
    def first_limit(self) -> str:
        """The first limit that fails, in words."""
        if self.unfit:
            return self.unfit
        return (
            self.findings[0].sentence if self.findings and self.verdict in ("stop", "fix") else ""
        )

    @property
    def tightest(self) -> Measure | None:
        """The measure with the least headroom."""
        return (
            min(self.result.measures, key=lambda m: m.headroom, default=None)
            if self.result
            else None
        )


def advise(build: Build, channel_id: str, catalogue: Catalogue | None = None) -> list[Card]:
    """
    Work out every stage for a channel and rank them.

    Parameters
    ----------
    build : Build
        The build; each stage is tried on its board and rails
    channel_id : str
        The channel whose load is to be driven

    Returns
    -------
    list of Card
        Feasible ones first, the least points against it leading, each with its reason; then those
        with a stop, then those
        that do not suit the load at all

    Examples
    --------
    >>> from latchcore.edits import apply
    >>> build = Build(name="Bench")
    >>> for name, args in [("set_board", {"board": "board-radio-3v3"}), ("add_rail",
    ...     {"voltage": "12 V"}),
    ...                    ("add_channel", {"kind": "led_strip", "voltage": "12 V",
    ...                    "figure": "2 A"}),
    ...                    ("set_switching", {"channel": "ch2", "pwm": "400 Hz"})]:
    ...     build, _ = apply(build, name, args)
    >>> advise(build, "ch2")[0].title
    'N-channel, low side'
    """
    catalogue = catalogue or load_catalogue()
    return list(_advise(build.model_dump_json(), channel_id, _Held(catalogue)))


class _Held:
    """A catalogue as a cache key: its version says what is in it."""

    def __init__(self, catalogue: Catalogue):
        self.catalogue = catalogue

    def __hash__(self) -> int:
        return hash(self.catalogue.version)

    def __eq__(self, other) -> bool:
        return isinstance(other, _Held) and other.catalogue.version == self.catalogue.version


@lru_cache(maxsize=512)
def _advise(text: str, channel_id: str, held: _Held) -> tuple[Card, ...]:
    build, catalogue = Build.model_validate_json(text), held.catalogue
    channel = build.channel(channel_id)
    cards = []
    for kind, stage in STAGES.items():
        chosen = kind == channel.stage.kind
        around = BuildContext(build, catalogue)
        begun = getattr(stage, "beginning", lambda _: {})(around.channel(channel))
        twin = (
            channel
            if chosen
            else channel.model_copy(update={"stage": Stage(kind=kind, settings=begun)})
        )
        context = around.channel(twin)
        card = Card(kind, stage.title, stage.summary, chosen, stage.suits(context))
        absent = _missing(stage, context)
        if absent:
            card = replace(card, unfit=card.unfit or f"needs a {' and a '.join(absent)} first")
        elif not card.unfit or chosen:
            card = _weighed(card, context, stage)
        cards.append(card)
    return tuple(_ranked(cards))


def _missing(stage, context: ChannelContext) -> list[str]:
    own = getattr(stage, "missing", None)
    return own(context) if own else context.missing


def needs_of(context: ChannelContext) -> list[str]:
    """What the load declares; being pulsed is declared by its frequency."""
    declared = list(context.channel.needs)
    if context.frequency and "dims" not in declared:
        declared.append("dims")
    return declared


def meets(need: str, stage, result: StageResult, context: ChannelContext) -> bool:
    """Whether a stage meets a declared need."""
    traits, fastest = stage.traits, result.pulses.limit or 0.0
    return {
        "dims": (
            result.output.control == "phase"
            if context.alternating
            else fastest >= (context.frequency or context.limits["flicker"])
        ),
        "fast": fastest >= FAST,
        "isolated": traits.isolates,
        "silent": traits.silent,
        "air_gap": traits.air_gap,
        "grounded_load": traits.side == "high",
    }[need]


def _weighed(card: Card, context: ChannelContext, stage) -> Card:
    result = stage.size(context)
    # What is wrong with the pin or the rail is wrong with every stage alike and decides nothing
    # here.
    findings = tuple(f for f in channel_findings(context, result) if f.check not in NOT_THE_STAGES)
    if context.dangerous and not keeps_apart(context, result):
        barrier = result.barrier
        says = (
            f"Its barrier is {barrier}; between {context.rail.name} and what is touched a"
            " reinforced one is wanted."
            if barrier
            else f"Metal joins {context.rail.name} with the board."
        )
        findings = (
            Finding(
                "I2" if barrier else "I1",
                "stop",
                context.channel.id,
                "Too little between the line and what is touched",
                says,
            ),
            *findings,
        )
    unmet = tuple(need for need in needs_of(context) if not meets(need, stage, result, context))
    lost = 0.0
    if result.load_volts and context.rail is not None and result.running:
        lost = max(0.0, 1 - result.load_volts[0] / context.volts.min)
    pin = result.pin_current / context.board.pin_recommended
    counts = {
        "need": len(unmet),
        "fix": sum(f.severity == "fix" for f in findings),
        "check": sum(f.severity == "check" for f in findings),
        "watt": min(result.power or 0.0, 3.0),
        "volt": 100 * lost,
        "pin": min(pin, 2.0),
        "part": sum(p.kind not in ("pin", "load", "wire") for p in result.netlist.parts),
        "cost": _cost(context, stage),
        "tight": sum(0 <= m.headroom < 0.1 for m in result.measures),
        "buy": _to_buy(context, result),
    }
    points = tuple(
        (WEIGHTS[key][1], WEIGHTS[key][0] * many) for key, many in counts.items() if many > 1e-6
    )
    return replace(
        card,
        result=result,
        findings=findings,
        points=points,
        unmet=unmet,
        lost_share=lost,
        traits=stage.traits,
        parts=counts["part"],
    )


def _cost(context: ChannelContext, stage) -> int:
    """Cost band of a stage; an array costs as much as its package has channels left idle."""
    if stage.kind != "array_low_side":
        return stage.traits.cost
    build = context.around.build
    others = sum(
        c.rail == context.channel.rail
        and c.id != context.channel.id
        and c.load.kind != "indicator_led"
        for c in build.channels
    )
    return max(stage.traits.cost, 4 - others)


def _to_buy(context: ChannelContext, result: StageResult) -> int:
    stock = context.around.catalogue.stock
    if not context.around.build.prefer_stock or stock is None:
        return 0
    parts = sum(
        part.id not in stock.parts
        for part in result.parts.values()
        if getattr(part, "family", "") != "board"
    )
    return parts + sum(
        v.unit == "Ω" and v.value is not None and v.value not in stock.resistors
        for v in result.values
    )


def _ranked(cards: list[Card]) -> list[Card]:
    # What has something to fix never stands before what has not, however few its points.
    order = sorted(
        cards, key=lambda c: (c.result is None, not c.feasible, c.verdict == "fix", c.total)
    )
    feasible = [c for c in order if c.feasible]
    told = []
    for card in order:
        if not card.feasible:
            told.append(replace(card, reason=card.first_limit[:1].upper() + card.first_limit[1:]))
            continue
        place = feasible.index(card)
        if place == 0:
            told.append(
                replace(card, reason=_ahead(card, feasible[1] if len(feasible) > 1 else None))
            )
        else:
            told.append(replace(card, reason=_behind(card, feasible[0])))
    return told


def _gaps(card: Card, other: Card) -> list[tuple[float, str]]:
    mine, theirs = dict(card.points), dict(other.points)
    gaps = [(theirs.get(name, 0.0) - mine.get(name, 0.0), name) for name in {**mine, **theirs}]
    return sorted(gaps, reverse=True)


def _in_words(card: Card, other: Card, name: str) -> str:
    if name == WEIGHTS["need"][1]:
        return "meets " + " and ".join(f"“{NEEDS[n]}”" for n in other.unmet if n not in card.unmet)
    if name == WEIGHTS["fix"][1]:
        return "has less to fix"
    if name == WEIGHTS["check"][1]:
        return "leaves less unknown"
    if name == WEIGHTS["watt"][1]:
        return (
            f"sheds {show(card.result.power or 0.0, 'W', 2)} where the other sheds"
            f" {show(other.result.power or 0.0, 'W', 2)}"
        )
    if name == WEIGHTS["volt"][1]:
        return (
            f"loses {card.lost_share * 100:.1f} % of the rail where the other loses"
            f" {other.lost_share * 100:.1f} %"
        )
    if name == WEIGHTS["pin"][1]:
        return (
            f"takes {show(card.result.pin_current, 'A', 2)} from the pin against"
            f" {show(other.result.pin_current, 'A', 2)}"
        )
    if name == WEIGHTS["part"][1]:
        return f"needs {card.parts} parts against {other.parts}"
    if name == WEIGHTS["cost"][1]:
        return "costs less"
    if name == WEIGHTS["buy"][1]:
        return "needs less that is not in the drawer"
    return "keeps wider margins"


def _ahead(card: Card, second: Card | None) -> str:
    if second is None:
        return "The only one that serves at every corner."
    best = [gap for gap in _gaps(card, second) if gap[0] > 1e-6][:2]
    words = " and ".join(_in_words(card, second, name) for _, name in best)
    return f"First: it {words or 'is as good and comes first'} ({second.title.lower()} is next)."


def _behind(card: Card, first: Card) -> str:
    if card.unmet and not first.unmet:
        return "Behind: " + " and ".join(f"it does not meet “{NEEDS[n]}”" for n in card.unmet) + "."
    worst = [gap for gap in _gaps(first, card) if gap[0] > 1e-6][:1]
    if not worst:
        return "Level with the first."
    return f"Behind: the first {_in_words(first, card, worst[0][1])}."
