"""What a channel draws, read by a sensor its conductor is led through."""

from __future__ import annotations

import math

from latchcore.design.report import Measure
from latchcore.figures.quantity import digits, parse, show
from latchcore.pieces.guarded import guard, injected, over, zener_heat
from latchcore.pieces.sensing import InputContext, InputReport
from latchcore.pieces.sensor_part import sensor_part

#: Share of the scale under which a running current is lost in noise; output resistance [Ω].
NOISE, OUTPUT_OHMS = 0.02, 1e3


def size(context: InputContext, report: InputReport) -> None:
    """
    Half of its supply without current, so much a volt an ampere more or less with it; alternating
    current swings both ways.
    """
    item, board, w = context.item, context.board, report.working
    watched = context.around.build.channel(item.watches or "")
    if watched is None:
        return
    channel = context.around.channel(watched)
    load, slope = channel.load, parse(item.per_ampere or "", "V")
    supply = context.volts if context.known else board.logic
    peak = math.sqrt(2) if channel.alternating else 1.0
    middle = w.calc("V_mid", "V_supply_max/2", "V", "no current", V_supply_max=(supply.max, "V"))
    most = w.calc(
        "V_most",
        "V_mid + k*p*I_load_max",
        "V",
        "highest current" + (", its peak" if channel.alternating else ""),
        V_mid=(middle, "V"),
        k=(slope, ""),
        p=(peak, ""),
        I_load_max=(load.current.max, "A"),
    )
    over(context, report, min(most, supply.max), "V_most", "Highest level of the sensor")
    report.measures.append(
        Measure(
            "clips",
            "T5",
            "Level at the highest current",
            "V",
            most,
            "max",
            "highest current",
            "V_most",
            "Over its supply the sensor can go no further: more current looks the same.",
            fix=supply.min,
            fix_name="its own supply",
        )
    )
    swing = w.calc(
        "V_swing",
        "k*p*I_load",
        "V",
        "typical current",
        k=(slope, ""),
        p=(peak, ""),
        I_load=(load.current.typ, "A"),
    )
    report.measures.append(
        Measure(
            "swing",
            "T5",
            "What the running current moves it by",
            "V",
            swing,
            "min",
            "typical current",
            "V_swing",
            "So little is lost in noise: on and off look alike. Lead the conductor through it"
            " several times, or take a finer sensor.",
            fix=NOISE * board.logic.typ,
            fix_name="two hundredths of the scale",
        )
    )
    injected(context, report, supply.max, OUTPUT_OHMS)
    zener_heat(context, report, supply.max, OUTPUT_OHMS)
    half = supply.typ / 2
    wave = ", swinging" if channel.alternating else ""
    report.rows = [
        (
            f"{watched.name} off",
            show(half, "V"),
            f"{half / board.logic.typ:.2f} of full scale",
            "nothing flows",
        ),
        (
            f"{watched.name} on",
            f"{show(half, 'V')} ± {show(swing, 'V')}{wave}",
            f"{digits(swing / board.logic.typ, 2)} of full scale away",
            f"{show(load.current.typ, 'A')} flow",
        ),
    ]
    context.time(report)
    node = guard(context, report, context.join_pin(report))
    sensor_part(context, report, node)
    part = report.netlist.the(f"{item.id}.XS1")
    part.terminals.setdefault("+", "board.VDD")
