"""What passes a solid-state switch when it is off, and what takes it past the load."""

from __future__ import annotations

import math

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.figures.quantity import parse, show
from latchcore.pieces import firing

#: A load wants so many times the leakage before the leakage is nothing to it.
LEAKAGE_FACTOR = 20.0


def leakage_measure(context: ChannelContext, result: StageResult, leak: float) -> None:
    """A4: what passes when it is off, against what a load of its kind takes no notice of."""
    w, limits, bypass = result.working, context.limits, context.given("bypass", "F")
    own = result.across.snubber.capacitance if result.across.at_load else 0.0
    farads = (bypass or 0.0) + own
    w.note("I_leak", "device, driver and snubber, hot", "A", leak, {}, {})
    if farads and context.alternating:
        left = w.calc(
            "V_left",
            "I_leak/(2*pi*f*C_bypass)",
            "V",
            "highest leakage, slowest line",
            "what the bypass leaves across the load",
            I_leak=(leak, "A"),
            f=(firing.corners(context)[0], "Hz"),
            C_bypass=(farads, "F"),
            pi=(math.pi, ""),
        )
        kind = ("V", left, "V_left", "Volts left across the load when off", "max")
        limit, name = limits["bypass_volts"], "what no lamp starts at"
    elif ignores := context.channel.load.ignores:
        kind = ("A", leak, "I_leak", "What leaks through the load when off", "max")
        limit, name = parse(ignores, "A"), "what it takes no notice of"
    elif context.load.kind.model == "constant_power":
        kind = ("A", leak, "I_leak", "What leaks through the load when off", "max")
        limit, name = limits["leak_electronic"], "what electronics take no notice of"
    else:
        limit = w.calc(
            "I_least",
            "k*I_leak",
            "A",
            "hot, snubber included",
            k=(LEAKAGE_FACTOR, ""),
            I_leak=(leak, "A"),
        )
        kind = ("A", result.typical, "I_typ", "Running current against what leaks", "min")
        name = "twenty times the leakage"
    unit, worst, symbol, label, sense = kind
    result.measures.append(
        Measure(
            "leakage",
            "A4",
            label,
            unit,
            worst,
            sense,
            "typical load, highest leakage",
            symbol,
            f"Off, {show(leak, 'A')} still pass: small lamps glow or blink, small valves hum.",
            fix=limit,
            fix_name=name,
        )
    )
    if bypass and context.alternating:
        result.values.append(
            Sized(
                "bypass",
                "Bypass across the load",
                "Z3",
                "F",
                bypass,
                f"{show(bypass, 'F')} class X2 with 100 Ω",
                True,
                detail="takes what leaks past the load",
            )
        )
