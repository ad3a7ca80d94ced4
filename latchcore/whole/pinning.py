"""
Which line goes where: what each channel and input wants of a pin, what each pin can, and an
assignment that uses both well.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

from latchcore.catalogue.boards import Board, Pin
from latchcore.catalogue.records import Record
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.kinds import pulsed_of, roles_of, wants_of
from latchcore.document.models import Build, Channel
from latchcore.figures.quantity import parse
from latchcore.pieces.input_kinds import KINDS
from latchcore.pieces.module_input import module_of, pulled_low
from latchcore.stages import STAGES

#: An owner that still lets the pin be used, at the price of what P5 says about it.
SHARED_OWNERS = {"on-board LED"}
WORDS = {
    "out": "an output",
    "sink": "a power output of a register",
    "in": "an input",
    "pwm": "PWM",
    "analogue": "an analogue input",
    "interrupt": "an interrupt",
}
#: The level a load acts at, by the level it rests at.
ON_WHEN_OFF = {"low": "high", "high": "low"}
#: Stages that are nothing without pulses, which a timer makes unless the program does in its loop.
PULSED = ("analogue_pwm", "pwm_filter", "servo_pulse")


def by_timer(channel: Channel) -> bool:
    """Whether a stage wants its pulses of a timer, whatever else is pulsed."""
    stage = channel.stage
    return stage.kind in PULSED and stage.settings.get("made") != "loop"


@dataclass(frozen=True)
class Demand:
    """
    One line somebody wants: whose (with ``.2`` for an input's second), what it must be able to do,
    what holds it.
    """

    key: str
    name: str
    wants: frozenset[str]
    pin: str | None
    locked: bool
    hazardous: bool = False
    frequency: float | None = None
    off: str = "low"
    on_board: bool = False
    #: Only lines of this chain; with the empty string only the board's own.
    side: str | None = None

    @property
    def kind(self) -> tuple:
        """Most demands are alike: what makes two of them try the same pins in the same order."""
        return self.wants, self.off, self.frequency, self.on_board, self.side

    @property
    def words(self) -> str:
        """What it wants, in words; what is wanted beside an output or input goes first."""
        special = sorted(self.wants - {"in", "out"})
        return " and ".join(WORDS[w] for w in special or sorted(self.wants))


@dataclass
class Plan:
    """
    An assignment: pin by demand, and for each demand that got none the capability that is scarce
    and who else wants it.
    """

    pins: dict[str, str] = field(default_factory=dict)
    refused: dict[str, str] = field(default_factory=dict)
    scarce: dict[str, tuple[frozenset[str], ...]] = field(default_factory=dict)


def demands(build: Build, around: BuildContext) -> list[Demand]:
    """Every line a build wants; channels that move with another share its line and want none."""
    found = []
    for channel in build.channels:
        if shares(build, channel):
            continue
        context = around.channel(channel)
        can = wants_of(context)
        pulses = "in" not in can and (channel.pwm or by_timer(channel))
        wants = can | ({"pwm"} if pulses else set())
        first, *further = roles_of(context)
        pulsed = parse(channel.pwm, "Hz") if channel.pwm else None
        found.append(
            Demand(
                channel.id,
                f"{channel.name}, {first}" if first else channel.name,
                frozenset(wants),
                channel.pin,
                channel.pin_locked,
                context.hazardous,
                pulsed,
                _off(context),
            )
        )
        fast = pulsed_of(context) if channel.pwm else ()
        found += [
            Demand(
                f"{channel.id}.{role}",
                f"{channel.name}, {role}",
                can | (frozenset({"pwm"}) if role in fast else frozenset()),
                channel.lines.get(role),
                channel.pin_locked,
                context.hazardous,
                pulsed if role in fast else None,
                _off(context),
            )
            for role in further
        ]
    found += _of_chains(around)
    for item in build.inputs:
        for n, wants in enumerate(KINDS[item.kind].wants):
            found.append(
                Demand(
                    f"{item.id}.2" if n else item.id,
                    f"{item.name}, second line" if n else item.name,
                    frozenset(wants),
                    item.pin_two if n else item.pin,
                    item.pin_locked,
                )
            )
    return found


def _of_chains(around: BuildContext) -> list[Demand]:
    """Lines of the board each chain wants; all that hang on one bus share its two."""
    found, bus = [], False
    for chain in around.chains.values():
        shared = chain.part.bus == "two_wire" and bus
        bus = bus or chain.part.bus == "two_wire"
        for role in chain.roles:
            if shared and role in chain.part.roles:
                continue
            wants = {"out", "in"} if chain.part.bus == "two_wire" and role == "data" else {"out"}
            off = chain.part.release_at if role == chain.part.release else "low"
            found.append(
                Demand(
                    f"{chain.id}.{role}",
                    f"{chain.chain.name}, {role}",
                    frozenset(wants),
                    chain.chain.lines.get(role),
                    False,
                    off=off,
                    on_board=True,
                )
            )
    return found


def shares(build: Build, channel) -> bool:
    """Whether a channel hangs on another one's pin on purpose."""
    head = build.channel(channel.moves_with) if channel.moves_with else None
    return head is not None and head.id != channel.id and head.moves_with is None


def _off(context: ChannelContext) -> str:
    """The level at which a stage is off, as far as its kind says."""
    kind = context.channel.stage.kind
    if kind in ("relay_module", "solid_module") and context.setting("drive") != "npn":
        module, _ = module_of(
            context, ("contact",) if kind == "relay_module" else ("dc", "ac_zero", "ac_random")
        )
        return "high" if pulled_low(context, module) else "low"
    return "high" if STAGES[kind].traits.active == "low" else "low"


def refusal(demand: Demand, pin: Pin) -> str | None:
    """Why a pin cannot serve a demand at all, or ``None``."""
    if _owned(pin):
        return f"belongs to {pin.owner}"
    if demand.on_board and "." in pin.id:
        return "is a line of a chain, and a chain is told by the board itself"
    if demand.side is not None and demand.side != side_of(pin.id):
        return "is not of the kind it hangs on"
    want = lacking(demand, pin)
    if want == "out":
        return "only pulls down" if "sink" in pin.can else "is input only"
    return f"has no {WORDS[want].removeprefix('an ')}" if want else None


def side_of(pin: str) -> str:
    """
    The chain a line belongs to, empty for the board's own.

    Examples
    --------
    >>> side_of("chain7.12"), side_of("P4")
    ('chain7', '')
    """
    chain, dot, _ = pin.partition(".")
    return chain if dot else ""


def _owned(pin: Pin) -> bool:
    return bool(pin.owner) and pin.owner not in SHARED_OWNERS


def lacking(demand: Demand, pin: Pin) -> str | None:
    """
    What a pin cannot of all that is wanted of it: ``out`` or ``in`` before anything special;
    ``None`` where it lacks nothing, or belongs to somebody else.

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> pin = load_catalogue().parts["board-8bit-5v-20"].pin("L4")
    >>> lacking(Demand("in1", "Knob", frozenset({"in", "analogue"}), "L4", False), pin)
    'analogue'
    """
    if _owned(pin):
        return None
    plain = [want for want in ("out", "sink", "in") if want in demand.wants]
    special = sorted(demand.wants - {"in", "out", "sink"})
    return next((want for want in (*plain, *special) if want not in pin.can), None)


def reservation(demand: Demand, pin: Pin) -> str | None:
    """Why a pin that could serve is taken only when nothing better is left, or ``None``."""
    if pin.owner:
        return f"shared with the {pin.owner}"
    if "out" in demand.wants and pin.reset in ("driven_high", "driven_low", "pulses"):
        return {
            "driven_high": "driven high at boot",
            "driven_low": "driven low at boot",
            "pulses": "pulses at boot",
        }[pin.reset]
    if pin.start:
        return f"must be {pin.start} to start"
    return None


def rank(demand: Demand, pin: Pin, place: int) -> tuple:
    """
    Order in which a demand tries pins: quiet ones first, then those that can least beyond what is
    wanted.
    """
    pulled = {
        "floating": 0,
        "pull_down": 1 if demand.off == "low" else 2,
        "pull_up": 1 if demand.off == "high" else 2,
    }
    # Among those kept back, one that would make the load act at boot comes last.
    acts = pin.reset == "pulses" or pin.reset == f"driven_{ON_WHEN_OFF[demand.off]}"
    return (
        reservation(demand, pin) is not None,
        acts and "out" in demand.wants,
        # Lines of a chain come after the board's own.
        "." in pin.id,
        len(set(pin.can) - demand.wants - {"in"}),
        pulled.get(pin.reset, 3),
        place,
    )


def assign(
    board: Board,
    wanted: list[Demand],
    keep: bool = False,
    explain: bool = True,
    begin: dict[str, str] | None = None,
) -> Plan:
    """
    Give every demand a pin of its own where that can be done at all.

    Parameters
    ----------
    board : Board
    wanted : list of Demand
    keep : bool
        Whether pins that are held and serve stay as they are; locked ones always do
    explain : bool
        Whether the reason of each refusal is worked out
    begin : dict, optional
        Pins by demand to begin with; as few of them as must be are moved to serve the others

    Returns
    -------
    Plan
        As many demands served as any assignment can serve; for each other one the scarce capability

    Notes
    -----
    Maximum matching by augmenting paths, the demand with the fewest pins first; a first round over
    pins without a
    reservation, a second one over all that can serve. A demand that was served once stays served.
    Those reached from an
    unserved one along alternating paths, with too few pins between them, are what is short (Hall's
    theorem).

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> board = load_catalogue().parts["board-8bit-5v-20"]
    >>> lamp = Demand("ch1", "Lamp", frozenset({"out", "pwm"}), None, False)
    >>> assign(board, [lamp]).pins["ch1"] in {p.id for p in board.pins if "pwm" in p.can}
    True
    """
    by_id = {p.id: p for p in board.pins}
    pins, owner, plan = {p.id: n for n, p in enumerate(board.pins)}, {}, Plan()
    held = _held(wanted, by_id, keep)
    owner |= {pin: key for key, pin in held.items()}
    frequencies = _timers(
        board, [d for d in wanted if d.key not in held or not keep], {by_id[p].timer for p in owner}
    )
    open_ = [d for d in wanted if d.key not in held]
    # Each kind is ordered once.
    orders = {
        kind: _orders(d, board, pins, by_id, frequencies)
        for kind, d in {d.kind: d for d in reversed(open_)}.items()
    }
    loose, strict = ({d.key: orders[d.kind][n] for d in open_} for n in (0, 1))
    movable = {d.key: d for d in open_}
    match = _begun(begin or {}, loose, owner)
    owner |= {p: k for k, p in match.items()}

    def augment(key: str, edges: dict[str, list[str]], seen: set[str]) -> bool:
        # From a beginning, what is free is taken before anybody is moved.
        free = [p for p in edges[key] if p not in owner] if begin else []
        for p in (*free, *edges[key]):
            if p in seen or (p in owner and owner[p] not in movable):
                continue
            seen.add(p)
            if p not in owner or augment(owner[p], edges, seen):
                owner[p], match[key] = key, p
                return True
        return False

    for edges in (strict, loose):
        # Where no path leads from one demand, none leads from another of its kind, now or later.
        hopeless: set[tuple] = set()
        for d in sorted(open_, key=lambda d: (len(loose[d.key]), len(edges[d.key]))):
            if d.key not in match and d.kind not in hopeless and not augment(d.key, edges, set()):
                hopeless.add(d.kind)
    plan.pins = held | match
    for d in (d for d in open_ if d.key not in match):
        if explain:
            _explain(plan, d, wanted, loose, owner, movable)
        else:
            plan.refused[d.key] = ""
    return plan


def _begun(begin: dict[str, str], loose: dict[str, list[str]], taken: dict) -> dict[str, str]:
    """What of a beginning serves and is not held by somebody else."""
    return {k: p for k, p in begin.items() if p in loose.get(k, ()) and p not in taken}


def _held(wanted: list[Demand], by_id: dict[str, Pin], keep: bool) -> dict[str, str]:
    """Pins that stay where they are, by demand: locked ones, and with ``keep`` those that serve."""
    held: dict[str, str] = {}
    for d in sorted(wanted, key=lambda d: not d.locked):
        if d.pin not in by_id or d.pin in held.values():
            continue
        if d.locked or (keep and refusal(d, by_id[d.pin]) is None):
            held[d.key] = d.pin
    return held


def _orders(
    demand: Demand,
    board: Board,
    place: dict[str, int],
    by_id: dict[str, Pin],
    frequencies: dict[str, float],
) -> tuple[list[str], list[str]]:
    """Pins in the order a kind of demand tries them: all that can serve, and the quiet ones."""
    order = _order(demand, board, place)
    quiet = [
        p
        for p in order
        if reservation(demand, by_id[p]) is None and _timer_fits(demand, by_id[p], frequencies)
    ]
    return order, quiet


def _order(demand: Demand, board: Board, place: dict[str, int]) -> list[str]:
    fit = [p for p in board.pins if refusal(demand, p) is None]
    return [p.id for p in sorted(fit, key=lambda p: rank(demand, p, place[p.id]))]


def _timers(board: Board, wanted: list[Demand], held: set[str | None]) -> dict[str, float]:
    """
    Which timer pulses at which frequency, the frequency most wanted first; nothing where one
    frequency serves all.
    """
    asked = Counter(d.frequency for d in wanted if d.frequency)
    if len(asked) < 2:
        return {}
    room = Counter(p.timer for p in board.pins if p.timer and "pwm" in p.can and not p.owner)
    given: dict[str, float] = {}
    for frequency, many in asked.most_common():
        for timer, pins in sorted(room.items(), key=lambda t: -t[1]):
            if many > 0 and timer not in given and timer not in held:
                given[timer], many = frequency, many - pins
    return given


def _timer_fits(demand: Demand, pin: Pin, given: dict[str, float]) -> bool:
    return (
        demand.frequency is None
        or pin.timer is None
        or given.get(pin.timer, demand.frequency) == demand.frequency
    )


def _explain(
    plan: Plan, demand: Demand, wanted: list[Demand], edges, owner: dict[str, str], movable
) -> None:
    """What is short for a demand: all that are tied up with it over the pins they might have."""
    by_key, tied, pins = {d.key: d for d in wanted}, {demand.key}, set()
    grown = True
    while grown:
        grown = False
        for key in list(tied):
            for p in edges.get(key, ()):
                if p not in pins:
                    pins.add(p)
                    if owner.get(p) in movable and owner[p] not in tied:
                        tied.add(owner[p])
                        grown = True
    sets = {by_key[k].wants for k in tied}
    least = tuple(sorted((s for s in sets if not any(o < s for o in sets)), key=sorted))
    plan.scarce[demand.key] = least
    what = " or ".join(
        dict.fromkeys(
            " and ".join(WORDS[w] for w in sorted(s - {"in", "out"}) or sorted(s)) for s in least
        )
    )
    kept = sum(1 for p in pins if p in owner and owner[p] not in movable)
    can = len(pins) - kept
    plan.refused[demand.key] = (
        f"{len(tied)} want {what}, and {can if can else 'no'} line{'s' * (can != 1)} that can"
        f" {'are' if can != 1 else 'is'} left" + (f" ({kept} more locked or kept)" if kept else "")
    )


def enough(board: Board, wanted: list[Demand]) -> bool:
    """Whether a board has a line for everything, locked ones where they are."""
    return not assign(board, wanted, explain=False).refused


def larger_boards(boards: list[Record], board: Board, wanted: list[Demand]) -> list[Board]:
    """Boards of the same logic voltage on which everything finds a line, the smallest first."""
    free = [
        Demand(d.key, d.name, d.wants, None, False, d.hazardous, d.frequency, d.off) for d in wanted
    ]
    fit = [
        b
        for b in boards
        if b.id != board.id and abs(b.logic.typ - board.logic.typ) < 0.2 and enough(b, free)
    ]
    return sorted(fit, key=lambda b: len(b.pins))
