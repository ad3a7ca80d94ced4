"""What a stepper takes of its stage: rise, rate, current and heat at rest."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import parse, show
from latchcore.sums.steppers import stepping

#: Full steps a second a motor starts and stops at without a ramp, where nobody looked [Hz].
START_STOP = 200.0
#: A winding bears so much over its rated current while nothing else is printed.
BEARS = 1.25
SETTINGS = (
    Setting(
        "phases",
        "Phases on at once",
        "choice",
        choices=(("2", "two: full torque"), ("1", "one: less of it, half the current")),
    ),
    Setting("step_rate", "Steps a second by program", "hertz"),
    Setting("start_stop", "Steps a second it starts at", "hertz", usual="200 Hz"),
    Setting(
        "ramp",
        "The program begins",
        "choice",
        choices=(("none", "at that rate at once"), ("ramped", "slowly, and ends so")),
    ),
    Setting("rest_share", "Current at rest", "percent", usual="100 %: nothing is reduced"),
    Setting("series", "Resistor before each winding", "resistance", usual="none"),
    Setting("series_watts", "Its rating", "watts"),
)
KEYS = {setting.key for setting in SETTINGS}


def phases(context: ChannelContext) -> int:
    """How many phases are on at once."""
    return int(context.setting("phases") or "2")


def rest_share(context: ChannelContext) -> float:
    """The share of its current a motor is held with while it stands."""
    return parse(context.setting("rest_share") or "100 %", "%") / 100


def measures(context: ChannelContext, result: StageResult) -> None:
    """
    C2 of the current a winding holds, D9 of the step rate, D14 of its series resistor; heat at
    rest as it is.
    """
    load, w, add = context.load, result.working, result.measures.append
    if load.inductance is None:
        # What has none is no stepper; that it is none of this stage's loads is said elsewhere.
        return
    series = context.given("series", "Ω") or 0.0
    # The load's figures have the resistor in them already; here the winding stands alone.
    winding = load.resistance.typ - series
    rated = load.current.typ
    tolerance = (load.resistance.max - load.resistance.typ) / winding
    text = context.setting("step_rate")
    rate = parse(text, "Hz") if text else None
    share = rest_share(context)
    low, high = result.load_volts or (context.volts.min, context.volts.max)
    found = stepping(
        winding=winding,
        tolerance=tolerance,
        inductance=load.inductance.max,
        rated=rated,
        supply_min=low,
        supply_max=high,
        phases=phases(context),
        step_rate=rate or START_STOP,
        rest=share,
        series=series,
        working=w,
    )
    w.note("I_rated", "of one winding", "A", rated, {}, {}, "as stated")
    add(
        Measure(
            "winding_current",
            "C2",
            "Current a winding holds",
            "A",
            found.holding,
            "max",
            "highest supply, least winding",
            "I_hold",
            "Standing still a stepper takes its full current for as long as it stands.",
            stop=BEARS * rated,
            stop_name="a quarter over its rated current",
        )
    )
    limit = w.note(
        "f_rise", "1/rise, slowest corner, never over 3·L/R", "Hz", found.rate, {}, {}, "low supply"
    )
    if rate is not None:
        rate_measure(context, result, rate, limit)
    if series:
        heat = w.calc(
            "P_series",
            "I_hold**2*R_s",
            "W",
            "standing still",
            I_hold=(found.holding, "A"),
            R_s=(series, "Ω"),
        )
        watts = context.given("series_watts", "W")
        _join_series(context, result, series, heat)
        if watts:
            add(
                Measure(
                    "series_heat",
                    "D14",
                    "Heat of the resistor before a winding",
                    "W",
                    heat,
                    "max",
                    "standing still, highest supply",
                    "P_series",
                    "It carries the holding current for as long as the motor stands.",
                    stop=watts,
                    fix=watts / 2,
                    stop_name="rating",
                    fix_name="half of its rating",
                )
            )
    w.note(
        "P_rest",
        "heat of the motor standing still" + (", reduced" if share < 1 else ""),
        "W",
        found.reduced,
        {},
        {},
        "highest supply",
    )
    result.live["rest"] = f"{found.reduced:.3g} W at rest"


def rate_measure(context: ChannelContext, result: StageResult, rate: float, rise: float) -> None:
    """D9 of a step rate [Hz] against what the rise allows and what the motor starts at."""
    own = context.setting("start_stop")
    starts = parse(own, "Hz") if own else START_STOP
    ramped = context.setting("ramp") == "ramped"
    w = result.working
    w.note("f_step", "as given", "Hz", rate, {}, {})
    lowest, name = (rise, "a step lets the current rise")
    if not ramped and starts < rise:
        lowest, name = starts, "it starts at without a ramp"
    result.measures.append(
        Measure(
            "step_rate",
            "D9",
            "Steps a second",
            "Hz",
            rate,
            "max",
            "low supply, slowest winding" if name.startswith("a step") else "from rest",
            "f_step",
            "Beyond it the motor loses steps, and nobody hears of it: its place is then wrong.",
            fix=lowest,
            fix_name=name,
        )
    )


def _join_series(context: ChannelContext, result: StageResult, ohms: float, heat: float) -> None:
    """A resistor between the rail and each winding, with the watts it wants."""
    net, prefix = result.netlist, context.channel.id
    loads = [p for p in net.parts if p.kind == "load"]
    stated = context.given("series_watts", "W")
    text = f"{show(ohms, 'Ω')}, {show(stated or 2 * heat, 'W')}"
    for load in loads:
        mark = load.ref.removeprefix(f"{prefix}.LOAD")
        rail, behind = load.terminals["+"], f"{prefix}.SERIES{mark}"
        load.terminals["+"] = behind
        net.domains[behind] = net.domains.get(rail, "low")
        net.add(f"{prefix}.R3{mark}", "resistor", text, prefix, **{"1": rail, "2": behind})
        for part in net.parts:
            if part.kind in ("diode", "zener") and part.ref.endswith(f"1{mark}"):
                part.terminals.update({t: rail for t, n in part.terminals.items() if n == behind})
    result.values.append(
        Sized(
            "series",
            "Resistor before each winding",
            "R3",
            "Ω",
            ohms,
            text,
            True,
            detail="" if stated else "twice the heat it makes standing still",
            many=len(loads),
        )
    )
