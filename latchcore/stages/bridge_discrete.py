"""A bridge of four switches, the upper pair driven through photovoltaic couplers."""

from __future__ import annotations

from dataclasses import replace

from latchcore.catalogue.switch_records import Igbt, Mosfet
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.metal.netlist import Part
from latchcore.pieces import bridge_currents, fet_low, photovoltaic, several, winding_states
from latchcore.pieces.bridge_states import STIFF, start_of, states, worked
from latchcore.pieces.frame import Traits, add_part, load_domain, return_node
from latchcore.pieces.merging import take_in
from latchcore.pieces.sensing import VDD
from latchcore.sums.motion.power import (
    Gate,
    HoldsOff,
    Line,
    Power,
    Program,
    Pull,
    Switch,
    Winding,
)

kind = "bridge_discrete"
title = "Motor bridge of four switches"
summary = (
    "Four switches, the upper pair on gates that float with the motor: for volts and amperes no"
    " package bears."
)
INTERLOCKS = (
    ("logic", "logic before the drivers: one way only without the other"),
    ("cross", "cross-coupling: what drives a lower switch holds the upper one off"),
    ("none", "the program alone"),
)
settings = (
    Setting(
        "lines",
        "Lines",
        "choice",
        choices=(("two", "one for each way"), ("four", "one for each switch")),
    ),
    Setting("interlock", "Both of a side are kept apart by", "choice", choices=INTERLOCKS),
    Setting(
        "switches",
        "Switches",
        "choice",
        choices=(("nmos", "MOSFETs, the lower on the pins"), ("igbt", "IGBTs, all on couplers")),
    ),
    Setting("dead_time", "The program waits between both", "seconds", usual="what they take"),
    Setting("gate_resistor", "Gate resistor", "ohms", may_omit=True),
    Setting("pull_resistor", "Pull-down at each line", "ohms", may_omit=True),
    Setting("led_resistor", "LED resistor", "ohms"),
    Setting("pv", "Photovoltaic coupler", "part", family="pv_coupler"),
    *bridge_currents.SETTINGS,
)
traits = Traits(side="both", cost=12, fails="shorted: it turns, or the supply is shorted")
FOUR = ("a_high", "a_low", "b_high", "b_low")
#: Dead time: so much over what the slower takes to let go, and at least so much [s].
SLACK, LEAST = 1.5, 1e-6
#: With its resistor the LED of a coupler is dark up to here, and surely lit from here [V].
DARK, LIT = 0.6, 1.5


def suits(context: ChannelContext) -> str | None:
    """Why the stage cannot serve a load, or ``None``."""
    if context.alternating:
        return "a bridge turns a motor on direct current"
    if context.load.kind.model != "reversing":
        return "for a motor that turns both ways"
    return None


def _four(context: ChannelContext) -> bool:
    return context.setting("lines") == "four"


def _igbt(context: ChannelContext) -> bool:
    return context.setting("switches") == "igbt"


def _interlock(context: ChannelContext) -> str:
    """What keeps both switches of a side apart; logic of two lines means nothing to four."""
    stated = context.setting("interlock") or "logic"
    return "cross" if stated == "logic" and _four(context) else stated


def roles(context: ChannelContext) -> tuple[str, ...]:
    """A line each way, or one for each switch."""
    return FOUR if _four(context) else ("forward", "reverse")


def pulsed(context: ChannelContext) -> tuple[str, ...]:
    """The lower pair, where it has lines of its own; else both ways, as slow as the upper pair."""
    return ("a_low", "b_low") if _four(context) else roles(context)


def asks(key: str, settings: dict[str, str], result: StageResult | None) -> bool:
    """Whether a setting has a bearing on these switches."""
    return key != "gate_resistor" or settings.get("switches") != "igbt"


def size(context: ChannelContext) -> StageResult:
    """Size a lower and an upper switch for the motor, join four, work out every state."""
    own, family = roles(context), "igbt" if _igbt(context) else "nmos"
    upper = photovoltaic.size(context, family, kind, title)
    lower = (
        photovoltaic.size(context, family, kind, title)
        if _igbt(context)
        else fet_low.size(context, kind, title)
    )
    result = lower
    result.measures = [m for m in result.measures if not m.key.startswith("diode_")]
    upper.measures = [m for m in upper.measures if not m.key.startswith("diode_")]
    fast, slow = lower.pulses.limit, upper.pulses.limit
    take_in(result, upper, "U")
    _turned(context, result, lower)
    _lost(context, result, upper)
    dead = _dead_time(context, result, slow)
    locked = _interlock(context)
    drives = [p for p in lower.netlist.parts]
    _join(context, result, drives, upper.netlist.parts, own, locked)
    result.values = _values(lower, upper, dead, locked)
    result.pulses.limit = fast if _four(context) else slow
    result.pin_current = (
        max(lower.pin_current, upper.pin_current)
        if _four(context)
        else lower.pin_current + upper.pin_current
    )
    result.power = 2 * (lower.power or 0.0)
    result.coil.clamp, result.coil.built_in_clamp = None, True
    result.motion = worked(_power(context, result, own, locked))
    result.states.clear()
    states(context, result, result.motion)
    result.drive.active = "high"
    result.live = lower.live | {
        "pin": show(result.pin_current, "A"),
        "load": show(result.running, "A"),
        "volts": result.shown_volts,
    }
    return result


def _values(lower: StageResult, upper: StageResult, dead: Sized, locked: str) -> list[Sized]:
    """What is fitted, how many of each: four switches, two couplers or four, the lock."""
    plain = ("clamp_diode", "clamp_zener")
    found = [replace(v, many=2) for v in lower.values if v.key not in plain]
    for value in upper.values:
        if value.key in plain:
            continue
        twin = next((n for n, v in enumerate(found) if v.key == value.key), None)
        if twin is not None and found[twin].text == value.text:
            found[twin] = replace(found[twin], many=4)
            continue
        key = f"u_{value.key}" if twin is not None else value.key
        label = f"{value.label} of the upper pair" if twin is not None else value.label
        found.append(replace(value, key=key, label=label, many=2))
    if locked == "logic":
        lock = winding_states.LOCK
        found.append(Sized("apart", "Logic before the drivers", "U2", "", None, lock, True))
    return [*found, dead]


def _turned(context: ChannelContext, result: StageResult, lower: StageResult) -> None:
    """M3: turned round before it stands, against what one switch bears for a moment."""
    if not bridge_currents.turns_at_speed(context):
        return
    part = lower.parts["transistor"]
    assert isinstance(part, Mosfet | Igbt)
    bears = part.i_d_pulse if isinstance(part, Mosfet) else part.i_c_pulse
    result.working.note("I_stall", "stalled, highest supply", "A", result.surge, {}, {})
    bridge_currents.turning(context, result)
    result.measures.append(
        Measure(
            "bridge_peak",
            "M3",
            "Peak current through the bridge",
            "A",
            result.surge,
            "max",
            "turned round before it stands",
            "I_turn",
            "Supply and what the motor makes itself stand on one another.",
            stop=bears,
            stop_name="pulse rating of a switch",
            setting="rest",
        )
    )


def _lost(context: ChannelContext, result: StageResult, upper: StageResult) -> None:
    """Volts of both switches: the upper one's stay away from the motor too."""
    if result.load_volts and upper.load_volts:
        low, high = result.load_volts
        more = context.volts.min - upper.load_volts[0]
        result.load_volts = (low - more, high)


def _dead_time(context: ChannelContext, result: StageResult, slow: float | None) -> Sized:
    """M2: what the program waits, against what the upper switch takes to let go."""
    w, share = result.working, context.limits["pwm_edge_share"]
    edges = w.calc(
        "t_edges",
        "share/f_slow",
        "s",
        "both edges of the slower pair together",
        "its off time is no longer than both",
        share=(share, ""),
        f_slow=(slow or 1e9, "Hz"),
    )
    wanted = w.calc(
        "t_dead",
        "larger(slack*t_edges, t_least)",
        "s",
        "slowest off against quickest on",
        slack=(SLACK, ""),
        t_edges=(edges, "s"),
        t_least=(LEAST, "s"),
    )
    given = context.given("dead_time", "s")
    if given is not None:
        w.note("t_wait", "as given", "s", given, {}, {})
        result.measures.append(
            Measure(
                "dead_time",
                "M2",
                "Dead time",
                "s",
                given,
                "min",
                "slowest off against quickest on",
                "t_wait",
                "One switch of a side conducts still while the other does already.",
                stop=wanted,
                stop_name="what the slower pair takes, and half of it",
                setting="dead_time",
            )
        )
    text = show(given or wanted, "s", 2)
    words = "The program waits between both" if given else "The program must wait between both"
    return Sized("dead_time", words, "t", "s", given or wanted, text, given is not None)


#: Parts of a lone switch that a bridge has no use for.
NOT_HERE = ("LOAD", "D1", "D2")


def _join(
    context: ChannelContext,
    result: StageResult,
    lower: list[Part],
    upper: list[Part],
    own: tuple[str, ...],
    locked: str,
) -> None:
    """Four switches round the motor, each with its driver, on two lines or four."""
    channel, prefix = context.channel, context.channel.id
    rail, back = context.feed.id, return_node(context)
    out = {"a": f"{prefix}.OUT1", "b": f"{prefix}.OUT2"}
    net, pins = result.netlist, [p for p in lower if p.kind == "pin"]
    net.parts = pins
    net.domains |= dict.fromkeys((rail, back, *out.values()), load_domain(context))
    nodes = several.join_lines(context, result, own, but_first=True)
    ends = {"+": out["a"], "-": out["b"]}
    net.add(f"{prefix}.LOAD", "load", channel.load.shown, prefix, **ends)
    drive = dict(nodes)
    if locked == "logic":
        drive = _lock(context, result, own, nodes)
    at = {
        "a_high": drive.get("a_high") or drive["forward"],
        "b_low": drive.get("b_low") or drive["forward"],
        "b_high": drive.get("b_high") or drive["reverse"],
        "a_low": drive.get("a_low") or drive["reverse"],
    }
    for mark, switch in zip(several.MARKS, ("a_low", "a_high", "b_low", "b_high"), strict=True):
        high, side = switch.endswith("high"), out[switch[0]]
        parts = [p for p in (upper if high else lower) if p.kind != "pin"]
        _switch(context, result, parts, mark, switch, at[switch], side, high, rail, back, own)
    if locked == "cross":
        for n, side in enumerate("ab"):
            terminals = {
                "G": at[f"{side}_low"],
                "D": f"{prefix}.LED.{side}_high",
                "S": "0V",
            }
            title_ = "N-channel, small signal"
            add_part(context, result, f"Q{n + 5}", "nmos", title_, "holds off", **terminals)


def _lock(
    context: ChannelContext, result: StageResult, own: tuple[str, ...], nodes: dict[str, str]
) -> dict[str, str]:
    """Logic between both lines and their drivers; what hangs behind it, by line."""
    ends, behind = {"VCC": VDD, "GND": "0V"}, {}
    for n, role in enumerate(own):
        behind[role] = f"{context.channel.id}.LOCK.{role}"
        ends |= {f"IN{n + 1}": nodes[role], f"OUT{n + 1}": behind[role]}
    add_part(context, result, "U2", "lock", winding_states.LOCK, **ends)
    return behind


def _switch(
    context: ChannelContext,
    result: StageResult,
    parts: list[Part],
    mark: str,
    switch: str,
    line: str,
    side: str,
    high: bool,
    rail: str,
    back: str,
    own: tuple[str, ...],
) -> None:
    """One switch with its driver: the gate's return goes where its source is."""
    prefix, net = context.channel.id, result.netlist
    source, drain = (side, rail) if high else (back, side)
    nodes = {f"{prefix}.{n}": f"{prefix}.{n}.{switch}" for n in ("GATE", "LED", "BLEED")}
    nodes |= {f"{prefix}.PIN": line, f"{prefix}.SW": drain}
    pulled = {f"{prefix}.PIN" if own[0] == r else f"{prefix}.PIN.{r}" for r in own}
    for part in parts:
        name = part.ref.removeprefix(f"{prefix}.")
        if name in NOT_HERE:
            continue
        there = {t: nodes.get(node, node) for t, node in part.terminals.items()}
        if part.kind == "pv_coupler":
            there["-"] = source
        elif part.kind in ("nmos", "igbt"):
            there["S" if part.kind == "nmos" else "E"] = source
        elif high and name != "R2":
            there = {t: source if node == "0V" else node for t, node in there.items()}
        if name == "R2" and line in pulled and high and len(own) == 2:
            # One pull a line: the lower switch on it brings it.
            continue
        net.domains |= {n: "logic" for n in there.values() if n not in net.domains}
        net.parts.append(replace(part, ref=part.ref + mark, terminals=there, note=switch))


def _power(
    context: ChannelContext, result: StageResult, own: tuple[str, ...], locked: str
) -> Power:
    """Four switches with what drives and what locks them, for the state tables."""
    board, pull = context.board, result.value("pull_resistor")
    held = Pull("low", pull.size) if pull is not None and pull.value else None
    mosfet = result.parts.get("transistor")
    low, high = DARK, LIT
    if isinstance(mosfet, Mosfet):
        low, high = 0.5 * mosfet.v_gs_th.min, mosfet.on_voltage
    if locked == "logic":
        low, high = (
            winding_states.READS_LOW * board.logic.min,
            winding_states.READS_HIGH * board.logic.max,
        )
    lines = tuple(Line(role, low, high, held) for role in own)
    gates: tuple[Gate, ...] = winding_states.locking(own) if locked == "logic" else ()
    if len(own) == 4:
        signal = {role: role for role in own}
        codes = {"stand": "0000", "forward": "1001", "reverse": "0110", "brake": "0101"}
        rests: tuple[str, ...] = ("stand", "brake")
    else:
        ways = ("lock_1", "lock_2") if gates else own
        signal = {"a_high": ways[0], "b_low": ways[0], "b_high": ways[1], "a_low": ways[1]}
        codes, rests = {"stand": "00", "forward": "10", "reverse": "01"}, ("stand",)
    # Only a rest that is stated keeps the program from turning it round at once.
    stops = not bridge_currents.turns_at_speed(context)
    after = dict.fromkeys(("forward", "reverse"), rests) if stops else {}
    between = {"high": ("plus", ""), "low": ("", "minus")}
    switches = []
    for name in FOUR:
        one, other = (end or name[0] for end in between[name[2:]])
        switches.append(Switch(name, (one, other), STIFF, signal[name]))
    holds = (
        (HoldsOff("cross_a", "a_low", "a_high"), HoldsOff("cross_b", "b_low", "b_high"))
        if locked == "cross"
        else ()
    )
    ohms = context.volts.max / max(result.surge, result.running)
    return Power(
        "motor",
        context.volts.max,
        STIFF,
        board.logic.max,
        board.logic.max,
        lines,
        Program(codes, "stand", "in_order", after),
        start_of(context),
        gates=gates,
        switches=tuple(switches),
        holds_off=holds,
        windings=(Winding("M", "motor", ("a", "b"), ohms),),
    )
