"""Coils: is there a clamp, and does it stand the right way round? Read from the netlist."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import show


def blocking_rating(part) -> float:
    """Blocking voltage of any transistor record [V]."""
    return next(
        getattr(part, name) for name in ("v_ceo", "v_ds", "v_ces", "v_ce") if hasattr(part, name)
    )


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """C4, C5 and C6 (slow under PWM) of one channel."""
    if context.rail is None and not result.coil.rail:
        # Nothing feeds it yet; that the stage does not fit is said elsewhere.
        return []
    return [*_clamped(context, result), *_slow(context, result)]


def _slow(context: ChannelContext, result: StageResult) -> list[Finding]:
    """C6: a diode that is slow to let go, whoever chose it, carries the coil at every cycle."""
    clamp = result.coil.clamp
    if not context.frequency or clamp is None or clamp.diode is None or clamp.reversed:
        return []
    inside = clamp.kind == "built_in"
    if clamp.diode.fast and not inside:
        return []
    return [
        Finding(
            "C6",
            "check" if inside else "fix",
            context.channel.id,
            "Is the diode inside the coil a fast one?" if inside else "The clamp diode is slow",
            (
                f"Nothing is printed of it, and the coil is pulsed at {context.channel.pwm}."
                if inside
                else f"{clamp.diode.title}, pulsed at {context.channel.pwm}."
            ),
            "A slow diode still conducts when the switch closes again: a short through both, at"
            " every cycle.",
            "freewheeling under PWM",
            cause="slow",
        )
    ]


def _clamped(context: ChannelContext, result: StageResult) -> list[Finding]:
    """C4 and C5 of one channel."""
    if (
        not (context.load.kind.inductive or result.coil.switch is not None)
        or result.kind == "direct_pin"
        or result.module.part is not None
    ):
        return []
    if "transistor" not in result.parts:
        # A triac, a block, or a stage that is not for coils at all: others say so.
        return []
    net, where = result.netlist, context.channel.id
    load = net.part(f"{where}.LOAD")
    # A reed relay's own coil is the inductive one; its load is somebody else's line.
    rail = result.coil.plus or load.terminals["+"]
    switch = result.coil.switch or load.terminals["-"]
    high = rail.endswith(".SW")
    opened = rail if high else switch
    clamps = [
        p for p in net.parts if p.kind in ("diode", "zener") and opened in p.terminals.values()
    ]
    if result.coil.built_in_clamp:
        return []
    lasting = context.hazardous
    # The coil of a relay hangs on a rail of its own beside the load's.
    feed = result.coil.rail
    current = result.coil.draws if feed else result.running
    highest = (
        context.around.rail_volts(context.around.build.rail(feed)).max
        if feed
        else context.volts.max
    )
    if not clamps:
        peak = result.coil.unclamped_peak
        volts = blocking_rating(result.parts["transistor"])
        # Whatever stray capacitance alone would allow, the part breaks down first.
        rise = "to its breakdown" if peak is None or peak > volts else f"to {show(peak, 'V')}"
        return [
            Finding(
                "C4",
                "stop",
                where,
                "Nothing clamps this coil",
                f"At switch-off {show(current, 'A')} carries on into the transistor. Unclamped its"
                f" volts rise {rise}; the part is rated {show(volts, 'V')}.",
                "It may work for a while: then the transistor is doing the clamping.",
                "highest supply, stray capacitance alone",
                node=opened,
                lasting=lasting,
            )
        ]
    for part in clamps:
        if part.kind == "diode" and part.terminals["A"] == rail and part.terminals["K"] == switch:
            return [
                Finding(
                    "C5",
                    "stop",
                    where,
                    "The clamp diode is the wrong way round",
                    "Its band points the wrong way: the moment the switch closes it shorts the"
                    " rail.",
                    "With its anode to the plus side it conducts whenever the switch is on.",
                    node=opened,
                    lasting=lasting,
                )
            ]
        if part.kind == "zener" and result.coil.clamped_across_switch:
            zener = result.parts["clamp_zener"].v_z
            if zener.min <= highest:
                what = result.parts["clamp_zener"].family
                return [
                    Finding(
                        "C5",
                        "stop",
                        where,
                        f"The {what} across the switch conducts always",
                        f"It begins at {show(zener.min, 'V')}; the rail reaches"
                        f" {show(highest, 'V')}.",
                        f"A {what} across the switch must stand above the highest supply.",
                        f"least {what} voltage, highest supply",
                        node=opened,
                        lasting=lasting,
                    )
                ]
    return []
