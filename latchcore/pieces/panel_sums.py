"""Sums of a panel of pulse coils: current, heat of its drivers, sneak paths, capacitor, redraw."""

from __future__ import annotations

from latchcore.catalogue.chain_records import LineDriver
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.figures.quantity import parse
from latchcore.pieces.frame import junction_measure
from latchcore.sums import coils
from latchcore.sums.pulse_coils import Refresh, driver_heat, panel_refresh, pulse_bulk

#: What stands in while nobody said it: a pulse [s], the clock of a chain [Hz].
USUAL_PULSE, CLOCK = 10e-3, 1e6
#: A capacitor has so much less at its worst.
CAPACITOR_SPREAD = 0.2


def pulse_of(context: ChannelContext) -> float:
    """The program's pulse [s], a usual one while it is not stated."""
    stated = context.channel.longest_on
    return parse(stated, "s") if stated else USUAL_PULSE


def at_once(context: ChannelContext) -> int:
    """Columns that are pulsed together."""
    return max(int(context.given("at_once", "") or 1), 1)


def gap_of(context: ChannelContext) -> float:
    """The rest between two pulses [s]."""
    return context.given("gap", "s") or pulse_of(context)


def currents(context: ChannelContext, result: StageResult, part: LineDriver) -> None:
    """What one coil takes, what a row carries with several columns at once; volts left."""
    load, volts, w = context.load, context.volts, result.working
    w.note("V_supply_max", "highest rail voltage", "V", volts.max, {}, {}, "highest supply")
    one = w.calc(
        "I_coil_max",
        "V_supply_max/R_coil_min",
        "A",
        "highest supply, least coil, no drop in the drivers",
        V_supply_max=(volts.max, "V"),
        R_coil_min=(load.resistance.min, "Ω"),
    )
    together = w.calc(
        "I_row",
        "n*I_coil_max",
        "A",
        "columns together",
        n=(at_once(context), ""),
        I_coil_max=(one, "A"),
    )
    result.each, result.surge = one, together
    result.running, result.typical = together, together * _share(context)
    drop = part.upper + part.lower
    left = w.calc(
        "V_coil_min",
        "V_supply_min - V_drop",
        "V",
        "low supply, both switches at their worst",
        V_supply_min=(volts.min - context.wire_drop, "V"),
        V_drop=(drop, "V"),
    )
    result.load_volts = (left, volts.max)
    result.measures.append(
        Measure(
            "line_peak",
            "D2",
            "Current of a row in a pulse",
            "A",
            together,
            "max",
            "highest supply, least coils",
            "I_row",
            "All columns pulsed together come through one row.",
            stop=part.peak,
            stop_name="pulse rating of a line",
        )
    )
    if load.pull_in is not None:
        hot = coils.hot_pull_in(load.pull_in, context.around.ambient, working=w)
        result.measures.append(
            Measure(
                "coil_pull_in",
                "C1",
                "Lowest coil voltage",
                "V",
                left,
                "min",
                "low supply, highest drop, hot coil",
                "V_coil_min",
                "A dot that is pulsed with too little stays on its old side, and nobody hears it.",
                fix=hot,
                fix_name="hot pull-in voltage",
            )
        )


def _shots(context: ChannelContext) -> int:
    """Pulses that turn every dot once."""
    load = context.channel.load
    return -(-(load.rows or 1) * (load.columns or 1) // at_once(context))


def _every(context: ChannelContext) -> float:
    """How often all is redrawn [s]; without a pause where nobody says so."""
    stated = context.given("redrawn", "s")
    return stated or _shots(context) * (pulse_of(context) + gap_of(context))


def _share(context: ChannelContext) -> float:
    """Share of time coils are energised where all is redrawn as often as is stated."""
    return min(_shots(context) * pulse_of(context) / _every(context), 1.0)


def heat(context: ChannelContext, result: StageResult, part: LineDriver) -> None:
    """D6 of one package: its lines pulsed in turn, as often as all is redrawn."""
    w = result.working
    w.note("t_every", "as stated, or without a pause", "s", _every(context), {}, {}, "all redrawn")
    found = driver_heat(
        current=result.running,
        on_time=pulse_of(context),
        repetition=1 / _every(context),
        count=_shots(context),
        theta=part.theta_ja,
        ambient=context.enclosed,
        on_voltage=max(part.upper, part.lower),
        continuous_over=context.limits["continuous_over"],
    )
    w.note("D_driver", "share of time its switches are on", "", found.duty, {}, {}, "all redrawn")
    w.note("P_driver", "volts kept, current, share of time", "W", found.power, {}, {})
    hot = w.note("T_J", "ambient and heat through theta", "°C", found.junction, {}, {})
    result.power = found.power
    junction_measure(context, result, hot, part.t_j_max, why="All its lines share one package.")


def sneak_share(rows: int, columns: int) -> tuple[float, float]:
    """
    Share of the volts that stand at other coils of the row, and of the column, of the one that is
    pulsed, every other line let go and no diodes.

    Notes
    -----
    What leaves by the row's other coils comes back by the column's: (columns − 1) coils side by
    side, then (rows − 1)·(columns − 1), then (rows − 1), in series.

    Examples
    --------
    >>> [round(share, 2) for share in sneak_share(6, 10)]
    [0.33, 0.6]
    """
    if rows < 2 or columns < 2:
        return 0.0, 0.0
    row, rest, column = 1 / (columns - 1), 1 / ((rows - 1) * (columns - 1)), 1 / (rows - 1)
    whole = row + rest + column
    return row / whole, column / whole


def sneaks(context: ChannelContext, result: StageResult) -> None:
    """D15: coils beside the one that is pulsed, where no diodes steer the current."""
    if context.setting("steering") != "none" or context.load.pull_in is None:
        return
    load, w = context.channel.load, result.working
    shares = sneak_share(load.rows or 1, load.columns or 1)
    volts = w.calc(
        "V_sneak",
        "share*V_supply_max",
        "V",
        "highest supply",
        "what goes by the row's other coils comes back by the column's",
        share=(max(shares), ""),
        V_supply_max=(context.volts.max, "V"),
    )
    result.measures.append(
        Measure(
            "sneak",
            "D15",
            "Volts at coils nobody asked for",
            "V",
            volts,
            "max",
            "highest supply, every other line let go",
            "V_sneak",
            "Through three coils in a row current finds its way round; a light dot turns with it.",
            stop=context.load.pull_in,
            fix=0.5 * context.load.pull_in,
            stop_name="pull-in voltage",
            fix_name="half of it, for dots that turn lightly",
        )
    )


def bulk(context: ChannelContext, result: StageResult, part: LineDriver) -> None:
    """C1 of a capacitor that gives the pulses while the source only charges it."""
    farads, ohms = context.given("bulk", "F"), context.given("charge", "Ω")
    if not farads or not ohms:
        return
    w, load = result.working, context.load
    found = pulse_bulk(
        supply=context.volts.min - context.wire_drop,
        charge=ohms,
        capacitance=farads * (1 - CAPACITOR_SPREAD),
        coil=load.resistance.min / at_once(context),
        drop=0.0,
        on_time=pulse_of(context),
        period=pulse_of(context) + gap_of(context),
    )
    w.note(
        "V_bulk_end", "at the end of a pulse, in the steady state", "V", found.steady_end, {}, {}
    )
    left = w.calc(
        "V_coil_end",
        "V_bulk_end - V_drop",
        "V",
        "capacitor at its least, lowest supply",
        V_bulk_end=(found.steady_end, "V"),
        V_drop=(part.upper + part.lower, "V"),
    )
    result.running = w.note("I_source", "through the charging resistor", "A", found.source, {}, {})
    result.surge = max(result.running, found.source)
    if load.pull_in is not None:
        result.measures.append(
            Measure(
                "bulk_end",
                "C1",
                "Coil voltage at the end of a pulse",
                "V",
                left,
                "min",
                "capacitor at its least, pulse after pulse",
                "V_coil_end",
                "The capacitor gives the pulse, and has less of it left each time.",
                fix=load.pull_in,
                fix_name="pull-in voltage",
            )
        )


def redraw(context: ChannelContext, result: StageResult) -> tuple[Refresh, Refresh]:
    """Shots and time to write every dot anew, half of them either way; and to write one."""
    load, chain = context.channel.load, context.around.of_line(context.channel.pin)
    rows, columns = load.rows or 1, load.columns or 1
    clock = parse(chain.chain.clock, "Hz") if chain is not None and chain.chain.clock else CLOCK
    bits = chain.outputs if chain is not None else 0
    after = ["".join("10"[(r + c) % 2] for c in range(columns)) for r in range(rows)]
    before = ["".join("01"[(r + c) % 2] for c in range(columns)) for r in range(rows)]
    one = [("1" if r == 0 else "0") + row[1:] for r, row in enumerate(after)]
    flipped = [("0" if r == 0 else row[0]) + row[1:] for r, row in enumerate(one)]
    period = _every(context)
    stated = context.given("redrawn", "s")
    if chain is not None and not chain.chain.clock:
        result.working.note("f_clock", "its clock is not stated", "Hz", CLOCK, {}, {}, "taken")

    def written(old: list[str], new: list[str], changed: bool) -> Refresh:
        return panel_refresh(
            old,
            new,
            on_time=pulse_of(context),
            gap=gap_of(context),
            at_once=at_once(context),
            bits=bits,
            clock=clock,
            latch=1 / clock,
            current=result.each or 0.0,
            period=period,
            changed_only=changed,
        )

    every, single = written(before, after, False), written(one, flipped, True)
    w = result.working
    w.note(
        "t_all", f"{every.shots} shots, each loaded, pulsed and rested", "s", every.lasts, {}, {}
    )
    w.note("t_one", "one dot alone", "s", single.lasts, {}, {})
    if stated is not None:
        result.measures.append(
            Measure(
                "redraw",
                "D9",
                "Time to write every dot",
                "s",
                every.lasts,
                "max",
                "half of the dots either way",
                "t_all",
                "A row whose dots go both ways takes two shots.",
                fix=stated,
                fix_name="how often it is redrawn",
            )
        )
    return every, single
