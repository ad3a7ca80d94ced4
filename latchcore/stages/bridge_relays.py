"""A motor both ways through relay contacts, its current cut by a MOSFET before they move."""

from __future__ import annotations

from dataclasses import replace

from latchcore.catalogue.switch_records import Mosfet
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.pieces import bridge_currents, coil_and_contact, fet_low, several
from latchcore.pieces.bridge_states import STIFF, start_of, states, worked
from latchcore.pieces.frame import Traits, load_domain, return_node
from latchcore.pieces.merging import take_in
from latchcore.sums.motion.power import (
    Changeover,
    Line,
    Power,
    Program,
    Pull,
    Switch,
    Winding,
)
from latchcore.sums.pulls import BASE_LIMIT

kind = "bridge_relays"
title = "Relays for the way it turns"
summary = (
    "Contacts lose nothing and short nothing while they stand; they move dead where a MOSFET cuts"
    " the current first."
)
settings = (
    Setting(
        "pattern",
        "Turned by",
        "choice",
        choices=(
            ("two", "two relays, one at each end: at rest both ends are joined"),
            ("one", "one relay of two poles for the way, the MOSFET for on and off"),
        ),
    ),
    Setting(
        "run",
        "Its current is cut by",
        "choice",
        choices=(("stage", "a MOSFET, before the contacts move"), ("none", "the contacts")),
        when=("pattern", ("two",)),
    ),
    Setting("relay", "Relay", "part", family="relay"),
    Setting("coil_rail", "Coils fed from", "rail"),
    Setting("transistor", "MOSFET", "part", family="nmos"),
    Setting("gate_resistor", "Gate resistor", "ohms", may_omit=True),
    Setting("pull_resistor", "Pull-down at each line", "ohms", may_omit=True),
    *bridge_currents.SETTINGS,
)
traits = Traits(
    air_gap=True, silent=False, side="both", cost=9, fails="welds: it turns, or is braked"
)


def suits(context: ChannelContext) -> str | None:
    """Why the stage cannot serve a load, or ``None``."""
    if context.alternating:
        return "it turns a motor on direct current"
    if context.load.kind.model != "reversing":
        return "for a motor that turns both ways"
    return None


def _single(context: ChannelContext) -> bool:
    return context.setting("pattern") == "one"


def _cut(context: ChannelContext) -> bool:
    """Whether a MOSFET cuts the current."""
    return _single(context) or context.setting("run") != "none"


def roles(context: ChannelContext) -> tuple[str, ...]:
    """The run line first, where there is one, then a line for each relay."""
    ways = ("direction",) if _single(context) else ("forward", "reverse")
    return ("run", *ways) if _cut(context) else ways


def pulsed(context: ChannelContext) -> tuple[str, ...]:
    """Contacts are never pulsed; the MOSFET may be."""
    return ("run",) if _cut(context) else ()


def asks(key: str, settings: dict[str, str], result: StageResult | None) -> bool:
    """Whether a setting has a bearing on this pattern."""
    cut = settings.get("pattern") == "one" or settings.get("run") != "none"
    return cut or key not in ("transistor", "gate_resistor")


def size(context: ChannelContext) -> StageResult:
    """Size the MOSFET for the motor, a relay for its current, and work out every state."""
    own = roles(context)
    relay = coil_and_contact.size(context, kind, title)
    ways = own[1:] if _cut(context) else own
    if _cut(context):
        result = fet_low.size(context, kind, title)
        several.join_lines(context, result, own, but_first=True)
    else:
        result = StageResult(kind, title)
        several.join_lines(context, result, own)
    _relays(context, result, relay, ways, _cut(context))
    bridge_currents.turning(context, result)
    result.coil = relay.coil
    result.coil.draws *= len(ways)
    result.coil.built_in_clamp = True
    result.contact = relay.contact
    result.contact.moves_dead, result.contact.turns = _cut(context), True
    result.pin_current = max(result.pin_current, relay.pin_current)
    result.running, result.typical = relay.running, relay.typical
    result.surge = max(result.surge, relay.surge)
    result.power = (result.power or 0.0) + (relay.power or 0.0) * len(ways)
    result.load_volts = result.load_volts or (context.volts.min, context.volts.max)
    result.parts = relay.parts | result.parts
    result.auto_part = True
    if result.pulses.limit is None:
        result.pulses.limit = relay.pulses.limit
    result.motion = worked(_power(context, result, own))
    result.states.clear()
    states(context, result, result.motion)
    result.drive.active = "high"
    result.live = relay.live | result.live | {"load": show(result.running, "A")}
    result.live["switch"] = result.live.get("switch", "")
    result.live["volts"] = result.shown_volts
    return result


#: A base surely draws from here [V].
BASE_SURE = 0.9
#: Parts of a relay's own circuit that its motor's bridge has no use for.
NOT_HERE = ("LOAD", "D3", "MOV1", "RC1")


def _relays(
    context: ChannelContext,
    result: StageResult,
    relay: StageResult,
    ways: tuple[str, ...],
    cut: bool,
) -> None:
    """Each relay with its driver; contacts between both ends of the motor, rail and return."""
    channel, net = context.channel, result.netlist
    prefix = channel.id
    rail = context.feed.id
    ret = f"{prefix}.SW" if cut else return_node(context)
    out = (f"{prefix}.OUT1", f"{prefix}.OUT2")
    net.domains |= dict.fromkeys((rail, *out, ret), load_domain(context))
    net.parts = [p for p in net.parts if not p.ref.endswith(".LOAD")]
    net.add(f"{prefix}.LOAD", "load", channel.load.shown, prefix, **{"+": out[0], "-": out[1]})
    own = [
        p
        for p in relay.netlist.parts
        if p.kind != "pin" and p.ref.removeprefix(f"{prefix}.") not in NOT_HERE
    ]
    for n, way in enumerate(ways):
        first = n == 0 and not cut
        pin = f"{prefix}.PIN" if first else f"{prefix}.PIN.{way}"
        nodes = {f"{prefix}.PIN": pin, f"{prefix}.BASE": f"{prefix}.BASE.{way}"}
        nodes |= {f"{prefix}.SW": f"{prefix}.COIL.{way}", f"{prefix}.GATE": f"{prefix}.GATE.{way}"}
        mark = several.MARKS[n + 1]
        for part in own:
            there = {t: nodes.get(node, node) for t, node in part.terminals.items()}
            if part.kind == "relay":
                there = {"1": there["1"], "2": there["2"]}
                if len(ways) == 1:
                    there |= {"COM": out[0], "NO": rail, "NC": ret}
                    there |= {"COM2": out[1], "NO2": ret, "NC2": rail}
                else:
                    there |= {"COM": out[n], "NO": rail, "NC": ret}
            net.domains |= {x: "logic" for x in there.values() if x not in net.domains}
            name = part.ref if part.kind == "relay" else part.ref + mark
            name = name.replace("K1", f"K{n + 1}")
            net.parts.append(replace(part, ref=name, terminals=there, note=way))
    values = [v for v in relay.values if v.key not in ("load_diode", "across")]
    for value in values:
        taken = result.value(value.key) is not None
        key = f"k_{value.key}" if taken else value.key
        label = f"{value.label} of each relay" if taken else value.label
        result.values.append(replace(value, key=key, label=label, many=len(ways)))
    take_in(result, relay, "K")


def _power(context: ChannelContext, result: StageResult, own: tuple[str, ...]) -> Power:
    """Contacts, run switch and motor, for the state tables."""
    board, mosfet = context.board, result.parts.get("transistor")
    cut, pull = _cut(context), result.value("pull_resistor")
    held = Pull("low", pull.size) if pull is not None and pull.value else None
    lines = []
    for role in own:
        low, high = BASE_LIMIT, BASE_SURE
        if role == "run" and isinstance(mosfet, Mosfet):
            low, high = 0.5 * mosfet.v_gs_th.min, mosfet.on_voltage
        lines.append(Line(role, low, high, held))
    bus = "bus" if cut else "minus"
    switches = (Switch("run", (bus, "minus"), STIFF, "run"),) if cut else ()
    if _single(context):
        contacts: tuple[Changeover, ...] = (
            Changeover("d1", "a", bus, "plus", STIFF, "direction"),
            Changeover("d2", "b", "plus", bus, STIFF, "direction"),
        )
        codes = {"stand": "00", "reverse": "10", "turned": "01", "forward": "11"}
        after: dict[str, tuple[str, ...]] = {
            "stand": ("reverse", "turned"),
            "turned": ("forward", "stand"),
            "reverse": ("stand",),
            "forward": ("turned",),
        }
    else:
        contacts = (
            Changeover("k1", "a", bus, "plus", STIFF, "forward"),
            Changeover("k2", "b", bus, "plus", STIFF, "reverse"),
        )
        codes, after = _two(cut)
    stall = max(result.surge, result.running)
    return Power(
        "motor",
        context.volts.max,
        STIFF,
        board.logic.max,
        board.logic.max,
        tuple(lines),
        Program(codes, "stand", "in_order", dict(after)),
        start_of(context),
        switches=switches,
        changeovers=contacts,
        windings=(Winding("M", "motor", ("a", "b"), context.volts.max / stall),),
    )


def _two(cut: bool) -> tuple[dict[str, str], dict[str, tuple[str, ...]]]:
    """
    What a program writes to two relays: with a run switch the contacts are set first and let go
    last.
    """
    if not cut:
        codes = {"stand": "00", "forward": "10", "reverse": "01"}
        return codes, {
            "stand": ("forward", "reverse"),
            "forward": ("stand",),
            "reverse": ("stand",),
        }
    codes = {"stand": "000", "ready forward": "010", "ready reverse": "001"}
    codes |= {"forward": "110", "reverse": "101"}
    after: dict[str, tuple[str, ...]] = {
        "stand": ("ready forward", "ready reverse"),
        "ready forward": ("forward", "stand"),
        "ready reverse": ("reverse", "stand"),
        "forward": ("ready forward",),
        "reverse": ("ready reverse",),
    }
    return codes, after
