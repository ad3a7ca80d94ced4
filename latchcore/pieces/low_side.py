"""
What every low-side switch shares: load and rail figures, blocking voltage, the five states, the
joined netlist.
"""

from __future__ import annotations

from latchcore.catalogue.records import Pin
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult, State
from latchcore.figures.quantity import digits, resistor_code, show
from latchcore.sums import coils, heat, pulls

PULLED = {"pull_up", "pull_down"}


def rough_current(context: ChannelContext) -> float:
    """Running current with no drop at all [A], to pass over parts that are far too small."""
    load, volts = context.load, context.volts
    return load.current_at(volts.min if load.kind.model == "constant_power" else volts.max, "max")


def rough_blocking(context: ChannelContext) -> float:
    """
    Blocking voltage a part wants at least [V], to pass over those that would fall short behind a
    plain diode.
    """
    clamp = 1.2 if context.load.kind.inductive else 0.0
    return context.limits["blocking_factor"] * (context.volts.max + clamp)


def running_current(context: ChannelContext, result: StageResult, drop_max: float = 0.0) -> float:
    """
    Highest running current of the load [A], the stage taken as no drop at all; a converter's at its
    lowest volts.

    Also fills in the typical current, the surge and the pin-independent live values.
    """
    load, volts, w = context.load, context.volts, result.working
    w.note("V_supply_max", "highest rail voltage", "V", volts.max, {}, {}, "highest supply")
    if load.kind.model == "constant_power":
        at = max(volts.min - drop_max, 0.1 * volts.min)
        result.running = load.current_at(at, "max", w, "I_load_max")
    else:
        result.running = load.current_at(volts.max, "max", w, "I_load_max")
    result.typical = float(load.current_at(volts.typ, "typ"))
    result.surge = max(load.surge or 0.0, result.running)
    result.surge_time = load.surge_time
    return result.running


def weak_pull_up(pin: Pin | None) -> float | None:
    """Strongest weak pull-up of a pin before the program runs [Ω], or ``None``."""
    return pin.pull.min if pin and pin.reset == "pull_up" and pin.pull else None


def pull_down(
    context: ChannelContext, result: StageResult, key: str, label: str, symbol: str, limit: float
) -> Sized | None:
    """
    The pull resistor that decides the stage's state while nobody drives the pin; ``None`` where
    left out.
    """
    board, pull_up = context.board, weak_pull_up(context.pin)
    if context.left_out(key):
        return None
    yours = context.ohms(key)
    value = yours or pulls.choose_pull(
        board.logic.max, pull_up, board.leakage, limit, context.tolerance
    )
    most = pulls.largest_real_pull(board.logic.max, pull_up, board.leakage, limit) / (
        1 + context.tolerance
    )
    if value is None:
        return None
    detail = (
        f"up to {show(most, 'Ω')} holds it off; this pin"
        f" {'is weakly pulled up' if pull_up else 'floats'} in reset"
    )
    sized = Sized(
        key,
        label,
        symbol,
        "Ω",
        value,
        resistor_code(value),
        yours is not None,
        corner="weakest moment",
        detail=detail,
    )
    result.values.append(sized)
    return sized


def load_measures(
    context: ChannelContext, result: StageResult, drop_min: float, drop_typ: float, drop_max: float
) -> None:
    """Volts left at the load against what it needs and bears."""
    load, volts, w, add = context.load, context.volts, result.working, result.measures.append
    low = w.calc(
        "V_load_min",
        "V_supply_min - V_drop_max",
        "V",
        "low supply, highest drop",
        V_supply_min=(volts.min, "V"),
        V_drop_max=(drop_max, "V"),
    )
    high = w.calc(
        "V_load_max",
        "V_supply_max - V_drop_min",
        "V",
        "high supply, least drop",
        V_supply_max=(volts.max, "V"),
        V_drop_min=(drop_min, "V"),
    )
    result.load_volts = (low, high)
    if load.pull_in is not None:
        typical = w.calc(
            "V_load_typ",
            "V_supply - V_drop",
            "V",
            "typical",
            V_supply=(volts.typ, "V"),
            V_drop=(drop_typ, "V"),
        )
        hot = coils.hot_pull_in(load.pull_in, context.around.ambient, working=w)
        add(
            Measure(
                "coil_pull_in",
                "C1",
                "Lowest coil voltage",
                "V",
                low,
                "min",
                "low supply, highest drop, hot coil",
                "V_load_min",
                "A coil that has been on is warm, and warm copper lets less current through.",
                fix=hot,
                fix_name="hot pull-in voltage",
                typical=typical,
            )
        )
        add(
            Measure(
                "coil_pull_in_cold",
                "C1",
                "Coil voltage at typical supply",
                "V",
                typical,
                "min",
                "typical supply, coil at 20 °C",
                "V_load_typ",
                "Below this the armature does not move at all.",
                stop=load.pull_in,
                stop_name="pull-in voltage",
            )
        )
        add(
            Measure(
                "coil_maximum",
                "C2",
                "Highest coil voltage",
                "V",
                high,
                "max",
                "high supply, least drop",
                "V_load_max",
                "Heat in a coil goes with the square of its volts.",
                stop=load.maximum,
                stop_name="maximum continuous voltage",
            )
        )
    elif volts.min >= load.kind.accept_min * load.rated:
        least = load.kind.accept_min * load.rated
        if least > 0:
            add(
                Measure(
                    "load_volts",
                    "D11",
                    "Volts left at the load",
                    "V",
                    low,
                    "min",
                    "low supply, highest drop",
                    "V_load_min",
                    "What the switch keeps, the load goes without.",
                    fix=least,
                    fix_name="least the load accepts",
                )
            )


def switch_current_measures(
    context: ChannelContext, result: StageResult, rating: float, pulse: float, name: str
) -> None:
    """Running current against the rating and its derated share; surge against the pulse rating."""
    share = context.limits["current_share"]
    result.measures.append(
        Measure(
            "switch_current",
            "D2",
            f"{name} current",
            "A",
            result.running,
            "max",
            "highest supply, least load resistance",
            "I_load_max",
            context.limits.reasons["current_share"],
            stop=rating,
            fix=share * rating,
            stop_name="rating",
            fix_name=f"{digits(share * 100)} % of its {show(rating, 'A')} rating",
            typical=result.typical,
        )
    )
    if result.surge > result.running:
        result.working.note(
            "I_surge",
            "surge of the load",
            "A",
            result.surge,
            {},
            {},
            "measured or usual for the kind",
        )
        bears, named = surge_bearing(context, result, pulse, rating)
        result.measures.append(
            Measure(
                "switch_surge",
                "D13",
                "Surge through the switch",
                "A",
                result.surge,
                "max",
                (
                    "upper end of the usual surge"
                    if not context.load.surge_measured
                    else "as measured"
                ),
                "I_surge",
                "A cold lamp or a charging converter is nearly a short for its first milliseconds.",
                stop=bears,
                stop_name=named,
            )
        )


def surge_bearing(
    context: ChannelContext, result: StageResult, pulse: float, steady: float
) -> tuple[float, str]:
    """
    What a switch bears for as long as the load's surge lasts [A], in words too; a surge of unknown
    length counts as steady.
    """
    lasts, holds, caught_up = (
        result.surge_time or context.limits["surge_steady"],
        context.limits["surge_pulse"],
        context.limits["surge_steady"],
    )
    if lasts <= holds:
        return pulse, "pulse rating"
    return (
        heat.surge_limit(pulse, steady, lasts, holds, caught_up, result.working),
        f"what it bears for {show(lasts, 's')}",
    )


def blocking_measure(
    context: ChannelContext, result: StageResult, switch_volts: float, rating: float
) -> None:
    """
    Voltage on the opened switch against its blocking rating; left to the missing clamp where there
    is none.
    """
    factor = context.limits["blocking_factor"]
    result.working.note(
        "V_clamped",
        "highest supply with the clamp on top",
        "V",
        switch_volts,
        {},
        {},
        "highest supply, highest clamp voltage",
    )
    result.measures.append(
        Measure(
            "blocking",
            "D3",
            "Voltage on the opened switch",
            "V",
            switch_volts,
            "max",
            "highest supply, highest clamp voltage",
            "V_clamped",
            context.limits.reasons["blocking_factor"],
            stop=rating,
            fix=rating / factor,
            stop_name="blocking rating",
            fix_name=f"blocking rating over {factor:g}",
        )
    )


def five_states(
    context: ChannelContext,
    result: StageResult,
    node: str,
    limit: float,
    pull: Sized | None,
    on_text: str,
) -> None:
    """What the stage does while commanded, floating, weakly pulled, unpowered and hung."""
    board, pin, w, tol = context.board, context.pin, result.working, context.tolerance
    low = w.note(
        "V_OL",
        "low level of the pin, hardly loaded",
        "V",
        board.vol_noload,
        {},
        {},
        "highest low level",
    )
    add = result.states.append
    result.measures.append(
        Measure(
            "off_level",
            "P8",
            "Low level at the stage",
            "V",
            low,
            "max",
            "highest low level",
            "V_OL",
            "Commanded off, the pin itself must hold the stage off.",
            stop=limit,
            stop_name="off limit",
        )
    )
    add(
        State(
            "commanded_off",
            "Commanded off",
            "program",
            node,
            low,
            limit,
            "off" if low <= limit else "on",
            "the pin drives its low level",
            "V_OL",
        )
    )
    add(State("commanded_on", "Commanded on", "program", node, None, None, "on", on_text))
    held = pull.value if pull else None
    if held is None and pin and pin.reset == "pull_down" and pin.pull:
        held = pin.pull.max
    floating = pulls.node_against_leakage(board.leakage, held, tol, w) if held else None
    when = f"reset and upload, up to {show(board.upload_time, 's')}"
    by = "held by the pull resistor" if pull else "held by the board's own pull-down"
    add(_quiet("floating", "Floating", when, node, floating, limit, "V_float", by))
    add(_weak(context, pin, w, pull, node, limit))
    says = (
        "rail dead as well"
        if context.rail_dies_with_board
        else "nothing feeds the input; no path back into the board"
    )
    add(
        State(
            "unpowered",
            "Board unpowered, load supply live",
            "cable pulled",
            node,
            0.0,
            limit,
            "off",
            says,
        )
    )
    add(
        State(
            "hung",
            "Program hung with the output on",
            "until somebody notices",
            node,
            None,
            None,
            "on",
            "stays as it was commanded",
        )
    )


def _quiet(key, title, when, node, voltage, limit, symbol, by) -> State:
    if voltage is None:
        return State(
            key,
            title,
            when,
            node,
            None,
            limit,
            "undecided",
            "nothing decides: leakage and a hand nearby do",
        )
    if voltage <= limit:
        return State(key, title, when, node, voltage, limit, "off", by, symbol)
    return State(
        key, title, when, node, voltage, limit, "on", "the pull resistor is too weak", symbol
    )


def _weak(
    context: ChannelContext, pin: Pin | None, w, pull: Sized | None, node: str, limit: float
) -> State:
    board, key = context.board, "weakly_pulled"
    title, when = "Weakly pulled or driven at boot", f"boot, about {show(board.boot_time, 's')}"
    if pin is None:
        return State(key, title, when, node, None, limit, "undecided", "no pin chosen yet")
    if pin.reset in ("driven_high", "pulses"):
        says = "the pin is driven high" if pin.reset == "driven_high" else "the pin pulses"
        return State(key, title, when, node, board.voh_noload_min, limit, "on", says)
    if pin.reset in ("pull_down", "driven_low", "floating"):
        says = "this pin only floats" if pin.reset == "floating" else "pulled the right way"
        held = pull is not None or pin.reset != "floating"
        return State(
            key,
            title,
            when,
            node,
            0.0 if held else None,
            limit,
            "off" if held else "undecided",
            says,
        )
    if pull is None:
        return State(
            key,
            title,
            when,
            node,
            board.logic.max,
            limit,
            "on",
            "the board's own pull-up turns it on",
        )
    voltage = pulls.node_against_pull_up(
        board.logic.max, pin.pull.min, pull.value, context.tolerance, w
    )
    return _quiet(
        key,
        title,
        when,
        node,
        voltage,
        limit,
        "V_weak",
        "held by the pull resistor against the board's pull-up",
    )


def join_low_side(context: ChannelContext, result: StageResult, prefix: str) -> tuple[str, str]:
    """
    Board pin, rail and load of a low-side stage in the netlist; returns the rail node and the
    switch node.
    """
    net, channel = result.netlist, context.channel
    rail, switch, pin_node = context.rail.id, f"{prefix}.SW", f"{prefix}.PIN"
    domain = "low"
    net.domains |= {rail: domain, switch: domain, pin_node: "logic", "0V": "logic"}
    net.add(
        f"BOARD.{channel.pin or 'pin ?'}",
        "pin",
        channel.pin or "no pin yet",
        channel.id,
        pin=pin_node,
    )
    net.add(f"{prefix}.LOAD", "load", channel.load.shown, channel.id, **{"+": rail, "-": switch})
    return rail, switch


def join_high_load(context: ChannelContext, result: StageResult, ground: str) -> tuple[str, str]:
    """
    Rail and load of a stage that stands above its load; returns the rail node and the switch node.
    """
    prefix, rail = context.channel.id, context.rail.id
    switch = f"{prefix}.SW"
    result.netlist.domains |= {rail: "low", switch: "low"}
    result.netlist.domains.setdefault(ground, "low")
    result.netlist.add(
        f"{prefix}.LOAD", "load", context.channel.load.shown, prefix, **{"+": switch, "-": ground}
    )
    return rail, switch


def join_low_load(context: ChannelContext, result: StageResult) -> tuple[str, str]:
    """Rail and load of a stage that stands below its load, without the board's pin."""
    prefix, rail = context.channel.id, context.rail.id
    switch = f"{prefix}.SW"
    result.netlist.domains |= {rail: "low", switch: "low"}
    result.netlist.add(
        f"{prefix}.LOAD", "load", context.channel.load.shown, prefix, **{"+": rail, "-": switch}
    )
    return rail, switch
