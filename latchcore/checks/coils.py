"""Coils: is there a clamp, and does it stand the right way round? Read from the netlist."""

from __future__ import annotations

from latchcore.context import ChannelContext
from latchcore.quantity import show
from latchcore.report import Finding, StageResult


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """C4 and C5 of one channel."""
    if not context.load.kind.inductive or result.kind == "direct_pin":
        return []
    net, where = result.netlist, context.channel.id
    load = net.part(f"{where}.LOAD")
    rail, switch = load.terminals["+"], load.terminals["-"]
    clamps = [p for p in net.parts if p.kind in ("diode", "zener") and switch in p.terminals.values()]
    lasting = context.hazardous
    if not clamps:
        peak = result.facts.get("unclamped_peak")
        rating = result.parts["transistor"]
        volts = getattr(rating, "v_ceo", None) or rating.v_ds
        return [Finding("C4", "stop", where, "Nothing clamps this coil",
                        f"At switch-off {show(result.running, 'A')} carries on into the transistor. Unclamped it heads for "
                        f"{show(peak, 'V')}; the part is rated {show(volts, 'V')}.",
                        "It may work for a while: then the transistor is doing the clamping.",
                        "highest supply, stray capacitance alone", node=switch, lasting=lasting)]  # fmt: skip
    for part in clamps:
        if part.kind == "diode" and part.terminals["A"] == rail and part.terminals["K"] == switch:
            return [Finding("C5", "stop", where, "The clamp diode is the wrong way round",
                            "Its band points to the switch: the moment the switch closes it shorts the rail.",
                            "Anode to the rail conducts whenever the switch is on.", node=switch, lasting=lasting)]  # fmt: skip
        if part.kind == "zener" and part.terminals["A"] == "0V":
            zener = result.parts["clamp_zener"].v_z
            if zener.min <= context.volts.max:
                return [Finding("C5", "stop", where, "The zener across the switch conducts always",
                                f"It begins at {show(zener.min, 'V')}; the rail reaches {show(context.volts.max, 'V')}.",
                                "A zener across the switch must stand above the highest supply.",
                                "least zener voltage, highest supply", node=switch, lasting=lasting)]  # fmt: skip
    return []
