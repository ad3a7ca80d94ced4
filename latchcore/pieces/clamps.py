"""Which clamp takes over the current of a coil on a low-side switch."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.catalogue.switch_records import Diode, Zener
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.pieces.holding import holding
from latchcore.sums import coils

CLAMPS = (
    ("diode", "diode across the coil"),
    ("diode_zener", "diode and zener across the coil"),
    ("zener_across_switch", "zener across the switch"),
    ("suppressor_across_switch", "suppressor across the switch"),
    ("built_in", "a diode built into the coil"),
    ("none", "no clamp"),
)
SETTINGS = (
    Setting("clamp", "Clamp", "choice", choices=CLAMPS),
    Setting(
        "clamp_diode",
        "Clamp diode",
        "part",
        family="diode",
        when=("clamp", ("diode", "diode_zener")),
    ),
    Setting(
        "clamp_zener",
        "Zener",
        "part",
        family="zener",
        when=("clamp", ("diode_zener", "zener_across_switch")),
    ),
    Setting(
        "clamp_suppressor",
        "Suppressor",
        "part",
        family="suppressor",
        when=("clamp", ("suppressor_across_switch",)),
    ),
    Setting(
        "clamp_band",
        "Band of the diode",
        "choice",
        choices=(("rail", "to the positive rail"), ("switch", "to the switch")),
        when=("clamp", ("diode", "diode_zener", "built_in")),
    ),
)


@dataclass
class Clamp:
    """
    What clamps the coil; ``kind`` is ``none`` for a load that is not inductive or has no clamp.
    """

    kind: str
    diode: Diode | None = None
    zener: Zener | None = None
    reversed: bool = False

    @property
    def across_switch(self) -> bool:
        """Whether it lies across the switch rather than across the coil."""
        return self.kind in ("zener_across_switch", "suppressor_across_switch")

    def switch_voltage(self, supply: float) -> float:
        """Highest voltage on the opened switch [V]."""
        forward = self.diode.v_f.max if self.diode else 0.0
        across = self.zener.v_z.max if self.zener else 0.0
        if self.across_switch:
            return max(supply, across)
        return supply + forward + (across if self.kind == "diode_zener" else 0.0)


def choose_clamp(context: ChannelContext, current: float) -> Clamp:
    """
    The clamp of a channel: what the user fixed, the rest the smallest class whose ratings hold.

    Parameters
    ----------
    context : ChannelContext
        The channel
    current : float
        Highest coil current at the instant of opening [A]
    """
    if not context.load.kind.inductive:
        return Clamp("none")
    kind = context.setting("clamp") or "diode"
    around, volts = context.around, context.volts
    most = opened(context, current)
    diode = zener = None
    if kind in ("diode", "diode_zener"):
        diode = around.part(context.setting("clamp_diode"))
        if not isinstance(diode, Diode):
            mean = current * (1 - context.duty) if context.frequency else 0.0
            family = around.family("diode")
            diode = next(
                (d for d in family if not _falls_short(context, d, most, mean)), family[-1]
            )
    if kind == "built_in":
        # Of a diode inside nothing is printed; the 1 A rectifier class stands in for its volts, and
        # none is fitted.
        diode = around.part("diode-400v-1a") or around.family("diode")[1]
    if kind == "suppressor_across_switch":
        zener = around.part(context.setting("clamp_suppressor"))
        if not isinstance(zener, Zener):
            family = around.family("suppressor")
            zener = next(
                (z for z in family if z.v_z.min > volts.max and z.i_peak >= most), family[-1]
            )
    if kind in ("diode_zener", "zener_across_switch"):
        zener = around.part(context.setting("clamp_zener"))
        if not isinstance(zener, Zener):
            family = around.family("zener")
            above = volts.max if kind == "zener_across_switch" else 0.0
            zener = next((z for z in family if z.v_z.min > above and z.i_peak >= most), family[-1])
    return Clamp(kind, diode, zener, context.setting("clamp_band") == "switch")


def opened(context: ChannelContext, running: float) -> float:
    """
    Current a clamp takes over at the instant of opening [A]: of a motor that is held fast its
    stall.
    """
    load = context.load
    stall = load.surge if load.surge_measured else load.kind.surge * running
    return max(running, stall or 0.0) if load.kind.surge > 1.0 else running


def _falls_short(context: ChannelContext, diode: Diode, current: float, mean: float) -> bool:
    factor = context.limits["diode_reverse_factor"]
    slow = context.frequency is not None and not diode.fast
    return (
        diode.v_r < factor * context.volts.max or diode.i_peak < current or diode.i_f < mean or slow
    )


def join_clamp(
    context: ChannelContext,
    result: StageResult,
    clamp: Clamp,
    rail: str,
    switch: str,
    prefix: str,
    ground: str = "0V",
    high=False,
) -> None:
    """
    Put the clamp into the netlist, its sized values and its rating measures into the result.

    Below a low-side load the coil lies between rail and switch; with ``high`` between switch and
    return, and a zener
    across the switch then between rail and switch.
    """
    result.coil.clamp = clamp
    if clamp.kind == "none":
        return
    net, volts = result.netlist, context.volts
    if clamp.kind == "built_in":
        # It is part of the coil: drawn in the netlist, so that polarity and path are seen, and
        # bought with the coil.
        plus, minus = (switch, ground) if high else (rail, switch)
        cathode, anode = (minus, plus) if clamp.reversed else (plus, minus)
        net.add(
            f"{prefix}.D1",
            "diode",
            "inside the coil",
            context.channel.id,
            "plus side matters",
            A=anode,
            K=cathode,
        )
        result.values.append(
            Sized(
                "built_in",
                "Clamp",
                "D1",
                "",
                None,
                "built into the coil",
                True,
                detail="its plus side matters: the other way round it is a short",
            )
        )
        return
    if clamp.diode:
        result.parts["clamp_diode"] = clamp.diode
        plus, minus = (switch, ground) if high else (rail, switch)
        cathode, anode = (minus, plus) if clamp.reversed else (plus, minus)
        middle = f"{prefix}.CLAMP" if clamp.zener else None
        if middle:
            net.add(
                f"{prefix}.D2",
                "zener",
                clamp.zener.title if clamp.zener else "",
                context.channel.id,
                A=middle,
                K=anode,
            )
            net.domains[middle] = "low"
        band = (
            ("band to 0 V" if clamp.reversed else "band to the switch")
            if high
            else ("band to the switch" if clamp.reversed else "band to the rail")
        )
        net.add(
            f"{prefix}.D1",
            "diode",
            clamp.diode.title,
            context.channel.id,
            band,
            A=middle or anode,
            K=cathode,
        )
        result.values.append(
            Sized(
                "clamp_diode",
                "Clamp diode",
                "D1",
                "",
                None,
                clamp.diode.title,
                context.setting("clamp_diode") is not None,
                detail=band,
            )
        )
    if clamp.zener:
        result.parts["clamp_zener"] = clamp.zener
        if clamp.across_switch:
            result.coil.clamped_across_switch = True
            low, top = (switch, rail) if high else (ground, switch)
            net.add(
                f"{prefix}.D2",
                "zener",
                clamp.zener.title,
                context.channel.id,
                "across the switch",
                A=low,
                K=top,
            )
        result.values.append(
            Sized(
                "clamp_suppressor" if clamp.zener.family == "suppressor" else "clamp_zener",
                clamp.zener.family.capitalize(),
                "D2",
                "",
                None,
                clamp.zener.title,
                (context.setting("clamp_suppressor") or context.setting("clamp_zener")) is not None,
            )
        )
    _rate(context, result, clamp, volts.max)


def _rate(context: ChannelContext, result: StageResult, clamp: Clamp, supply: float) -> None:
    running, add, w = result.running, result.measures.append, result.working
    current, stalls = opened(context, running), context.load.kind.surge > 1.0
    if stalls:
        w.note("I_stall", "held fast, opened then", "A", current, {}, {}, "highest supply")
    corner, symbol = (
        ("stalled, highest supply", "I_stall") if stalls else ("highest coil current", "I_load_max")
    )
    if clamp.diode:
        factor = context.limits["diode_reverse_factor"]
        add(
            Measure(
                "diode_reverse",
                "C6",
                "Reverse voltage on the clamp diode",
                "V",
                supply,
                "max",
                "highest supply",
                "V_supply_max",
                "While the switch is on the diode stands against the whole rail.",
                fix=clamp.diode.v_r / factor,
                fix_name=f"half of its {show(clamp.diode.v_r, 'V')}",
            )
        )
        add(
            Measure(
                "diode_peak",
                "C6",
                "Peak current in the clamp diode",
                "A",
                current,
                "max",
                corner,
                symbol,
                "At the instant of opening the whole coil current moves into the diode.",
                fix=clamp.diode.i_peak,
                fix_name="peak rating",
            )
        )
        if context.frequency:
            mean = result.working.calc(
                "I_D_mean",
                "I_load*(1 - D)",
                "A",
                "diode carries the off-time",
                I_load=(running, "A"),
                D=(context.duty, ""),
            )
            add(
                Measure(
                    "diode_mean",
                    "C6",
                    "Mean current in the clamp diode",
                    "A",
                    mean,
                    "max",
                    "freewheeling under PWM",
                    "I_D_mean",
                    "Pulsed, the diode carries the coil for the whole off-time.",
                    fix=clamp.diode.i_f,
                    fix_name="continuous rating",
                )
            )
    if clamp.zener:
        add(
            Measure(
                "zener_peak",
                "C6",
                "Peak current in the zener",
                "A",
                current,
                "max",
                corner,
                symbol,
                "At the instant of opening the whole coil current moves into the clamp.",
                fix=clamp.zener.i_peak,
                fix_name="peak rating",
            )
        )


def switching_off(context: ChannelContext, result: StageResult, clamp: Clamp) -> None:
    """
    How long the coil takes to let go, and what an open switch would see without a clamp; recorded
    as working.
    """
    load, volts, w = context.load, context.volts, result.working
    if load.inductance is None:
        return
    resistance, inductance = load.resistance.typ, load.inductance.max
    peak = coils.unclamped_peak(
        volts.max, load.inductance.typ, context.limits["stray_capacitance"], result.running, w
    )
    result.coil.unclamped_peak = peak
    if clamp.kind == "none":
        return
    holding(
        context,
        result,
        clamp.diode if clamp.kind in ("diode", "built_in") and not clamp.reversed else None,
    )
    drop = clamp.diode.v_f.min if clamp.diode else 0.0
    zener = clamp.zener.v_z.min if clamp.zener else 0.0
    kind = (
        "diode"
        if clamp.kind == "built_in"
        else "zener_across_switch"
        if clamp.across_switch
        else clamp.kind
    )
    across = coils.clamp_voltage(kind, volts.max, drop, zener)
    if across <= 0 or clamp.reversed:
        return
    if load.release is None:
        return
    release = load.release / resistance
    result.coil.release_time = coils.release_time(
        result.running, inductance, resistance, across, release, w
    )
    result.coil.release_assumed = not load.inductance_measured
    result.coil.inductance = load.inductance.typ
    if (within := context.release_within) is not None:
        result.measures.append(
            Measure(
                "release",
                "C7",
                "Time the coil takes to let go",
                "s",
                result.coil.release_time,
                "max",
                "highest current, lowest clamp",
                "t_rel",
                "The clamp decides how fast a coil lets go: the higher its volts, the sooner.",
                fix=within,
                fix_name="what the job allows",
            )
        )
