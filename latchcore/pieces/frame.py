"""What a stage hangs in: its nodes, its return, and the helpers every stage measures with."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.design.context import ChannelContext
from latchcore.design.fuse_words import as_stated
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.figures.quantity import parse, show
from latchcore.sums.coils import pwm_ripple

#: Load models that are switched as power, by contact or transistor.
POWER = {"ohmic", "led_string", "constant_power"}
#: Load models that are fed at their own volts, whatever feeds them.
FED = POWER | {"reversing", "servo", "two_coils", "two_way_coil", "panel", "pixels"}
#: What the protection of an unpowered pin holds it at [V].
UNPOWERED_PIN = 0.6


@dataclass(frozen=True)
class Traits:
    """
    What holds for a stage whatever its values: words for the comparison.

    ``isolates``: a barrier between board and load; ``contact``: mechanical; ``steers``: passes
    direct current one way only.
    """

    isolates: bool = False
    air_gap: bool = False
    silent: bool = True
    side: str = "low"
    fails: str = "shorted: the load stays on"
    cost: int = 1
    active: str = "high"
    direction: str = "out"
    note: str = ""


def power_only(context: ChannelContext) -> str | None:
    """The reason a load is no power load on direct current, or ``None``."""
    if context.alternating:
        return "it switches direct current; alternating current wants a contact or an AC switch"
    return power_load(context)


def power_load(context: ChannelContext) -> str | None:
    """The reason a load is no power load, whatever the current, or ``None``."""
    model = context.load.kind.model
    if model in POWER:
        return None
    return {
        "piezo": "something must empty a piezo again: a low-side switch with a bleed, or the pin",
        "reversing": "it turns both ways: plus and minus must change places, as a bridge does",
        "two_coils": "it has two coils, each wants a line of its own",
        "two_way_coil": "it is pulsed one way and the other: plus and minus must change places",
        "four_coils": "it turns by its half-windings in order, each wants a line of its own",
        "two_windings": "it turns by two windings, each both ways: two bridges, or a driver",
        "pixels": "its supply stands; every pixel is told over its data line",
        "panel": "its coils hang between rows and columns, each line both ways",
        "servo": "a servo is told its place in pulses; its supply is not switched",
        "analogue_in": "an analogue input is given a level, not switched",
        "led": "an indicator LED needs no transistor",
        "led_array": "single LEDs want strings with a resistor each",
        "logic": "a logic line is pulled, not fed",
        "pair": "a button pair is bridged, not fed",
        "analogue": "a knob is set, not switched",
        "signal": "a voltage is sensed, not switched",
    }[model]


def below_only(context: ChannelContext) -> str | None:
    """The reason a load cannot hang above a low-side switch, or ``None``."""
    if context.load.kind.model == "piezo" and not context.alternating:
        return None
    return power_only(context)


def model_only(*models: str):
    """A ``suits`` for stages that serve one kind of load model."""

    def suits(context: ChannelContext) -> str | None:
        return None if context.load.kind.model in models else "not for this kind of load"

    return suits


def return_node(context: ChannelContext) -> str:
    """
    The rail's return: the common 0 V, a node of its own where its ground is kept apart, or its
    neutral.
    """
    return context.around.return_of(context.rail) if context.rail is not None else "0V"


def load_domain(context: ChannelContext) -> str:
    """The domain of the load's own circuit: ``low``, or ``hazardous`` where its rail is."""
    return "hazardous" if context.dangerous else "low"


def pwm_measure(
    context: ChannelContext,
    result: StageResult,
    turn_on: float,
    turn_off: float,
    why: str = "",
    setting=None,
) -> float:
    """
    The fastest PWM a stage follows, stated with its working whether or not it is pulsed [Hz].

    Both edges together may take the catalogue's share of a period.
    """
    limits, w = context.limits, result.working
    fastest = w.calc(
        "f_max",
        "share/(t_on + t_off)",
        "Hz",
        "slowest edges",
        why,
        share=(limits["pwm_edge_share"], ""),
        t_on=(turn_on, "s"),
        t_off=(turn_off, "s"),
    )
    result.pulses.limit = fastest
    load = context.load
    if context.frequency and load.kind.symbol in ("lamp", "strip", "led"):
        result.pulses.flickers = context.frequency < limits["flicker"]
    if context.frequency and load.inductance is not None and context.rail is not None:
        result.pulses.ripple = pwm_ripple(
            context.volts.max, context.duty, load.inductance.min, context.frequency, w
        )
    if context.frequency:
        w.note("f_PWM", "as given", "Hz", context.frequency, {}, {})
        result.measures.append(
            Measure(
                "pwm",
                "D9",
                "PWM frequency",
                "Hz",
                context.frequency,
                "max",
                "slowest edges",
                "f_max",
                limits.reasons["pwm_edge_share"],
                fix=fastest,
                fix_name="fastest this stage follows",
                setting=setting,
            )
        )
    return fastest


def junction_measure(
    context: ChannelContext,
    result: StageResult,
    junction: float,
    limit: float,
    symbol="T_J",
    why="",
) -> None:
    """Junction temperature against its limit and the limit less the margin."""
    margin = context.limits["junction_margin"]
    result.measures.append(
        Measure(
            "junction",
            "D6",
            "Junction temperature",
            "°C",
            junction,
            "max",
            "highest current, drop and ambient",
            symbol,
            why or context.limits.reasons["junction_margin"],
            stop=limit,
            fix=limit - margin,
            stop_name="limit",
            fix_name="limit less 25 K",
            zero=context.around.ambient,
        )
    )


def fuse_in(context: ChannelContext, result: StageResult) -> None:
    """
    The channel's own fuse between its rail and everything of it that hangs there; one in the other
    live pole too where every pole has one.
    """
    channel, rail = context.channel, context.rail
    if not channel.fuse or rail is None:
        return
    count = sum(part.kind == "fuse" for part in result.netlist.parts)
    poles = [(rail.id, "FUSED", "own_fuse", "Fuse of its own")]
    back = context.around.return_of(rail)
    if channel.fuse_poles == "every" and back != "0V":
        poles.append((back, "FUSED.N", "own_fuse_back", "Fuse in its other pole"))
    for n, (node, name, key, title) in enumerate(poles):
        _fuse_between(context, result, f"F{count + n + 1}", node, name)
        text = as_stated(channel)
        result.values.append(Sized(key, title, f"F{count + n + 1}", "", None, text, True))


def _fuse_between(
    context: ChannelContext, result: StageResult, ref: str, node: str, name: str
) -> None:
    fused, net = f"{context.channel.id}.{name}", result.netlist
    for part in net.parts:
        part.terminals.update({t: fused for t, there in part.terminals.items() if there == node})
    net.domains |= {fused: load_domain(context), node: load_domain(context)}
    text = f"slow {show(parse(context.channel.fuse or '', 'A'), 'A')}"
    add_part(
        context,
        result,
        ref,
        "fuse",
        text,
        "of its own",
        domain=load_domain(context),
        **{"1": node, "2": fused},
    )


def shorted(context: ChannelContext, result: StageResult, corner: str) -> float:
    """
    What a high pin gives into something that is nearly a short [A], by the fall of its level with
    current; below an ohm no pin is.
    """
    board = context.board
    return result.working.calc(
        "I_pin",
        "V_OH_max/larger(r_pin, 1)",
        "A",
        corner,
        "only the pin itself limits it",
        V_OH_max=(board.logic.max, "V"),
        r_pin=(board.droop, "Ω"),
    )


def pin_limits(
    context: ChannelContext,
    result: StageResult,
    corner: str,
    why: str = "A pin over its recommended current loses level and ages; over its absolute limit it"
    " dies.",
    setting: str | None = None,
    label: str = "Pin current",
    symbol: str = "I_pin",
    sinks: bool = False,
) -> None:
    """P1: what a stage takes from its pin, or puts into it, against both limits of the board."""
    board = context.board
    # What a pin may give is not always what it may sink.
    usual = (board.sink_recommended if sinks else None) or board.pin_recommended
    result.measures.append(
        Measure(
            "pin_current",
            "P1",
            label,
            "A",
            result.pin_current,
            "max",
            corner,
            symbol,
            why,
            stop=board.pin_absolute,
            fix=usual,
            stop_name="absolute limit",
            fix_name="recommended current",
            setting=setting,
        )
    )


def join_pin(context: ChannelContext, result: StageResult) -> str:
    """The board's pin in the netlist; returns its node."""
    channel, node = context.channel, f"{context.channel.id}.PIN"
    result.netlist.domains |= {node: "logic", "0V": "logic"}
    result.netlist.add(
        f"BOARD.{channel.pin or 'pin ?'}", "pin", channel.pin or "no pin yet", channel.id, pin=node
    )
    return node


def add_part(
    context: ChannelContext,
    result: StageResult,
    ref: str,
    kind: str,
    value: str,
    note: str = "",
    domain="logic",
    barrier="functional",
    **terminals,
) -> None:
    """A part of this channel; nodes not known yet get the domain."""
    for node in terminals.values():
        result.netlist.domains.setdefault(node, domain)
    result.netlist.add(
        f"{context.channel.id}.{ref}", kind, value, context.channel.id, note, barrier, **terminals
    )
