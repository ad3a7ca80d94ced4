"""A pin on its own: an indicator LED with its resistor, and nothing else."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.design.stage import Setting, resistor_measures, sized_resistor
from latchcore.design.states import Control, Decided, at_boot
from latchcore.figures.quantity import show, span
from latchcore.figures.spread import Spread
from latchcore.pieces.frame import UNPOWERED_PIN, Traits, pin_limits
from latchcore.pieces.low_side import running_current
from latchcore.sums import leds

kind = "direct_pin"
title = "Straight on the pin"
summary = "An indicator LED through a resistor; a coil, a lamp or a motor is refused."
settings = (
    Setting("series_resistor", "Series resistor", "ohms"),
    Setting(
        "connection",
        "LED between",
        "choice",
        choices=(("source", "pin and 0 V"), ("sink", "rail and pin")),
    ),
    Setting("resistor_watts", "Resistor rating", "watts"),
)
traits = Traits(cost=0, fails="the LED stays dark or lit")


def suits(context: ChannelContext) -> str | None:
    """Only an LED or a logic input belongs on a bare pin."""
    return (
        None if context.load.kind.model == "led" else "only an indicator LED belongs on a bare pin"
    )


def missing(context: ChannelContext) -> list[str]:
    """
    An LED fed by the pin needs no rail; what does not belong on a pin is judged without one.
    """
    if context.setting("connection") == "sink" and context.load.kind.model == "led":
        return context.missing
    return [name for name in context.missing if name != "rail"]


def size(context: ChannelContext) -> StageResult:
    """Size the LED's resistor; for any other load show what the pin would have to give."""
    result = StageResult(kind, title)
    if context.load.kind.model != "led":
        return _heavy(context, result)
    board, load, tol, w = context.board, context.load, context.tolerance, result.working
    sink = context.setting("connection") == "sink"
    forward = Spread.of(load.rated, 0.1)
    wanted = load.current.typ
    if sink:
        level = Spread(context.volts.min - board.vol_noload, context.volts.typ, context.volts.max)
        droop = board.sink_droop
    else:
        level = Spread(board.voh_noload_min, board.logic.typ, board.logic.max)
        droop = board.droop
    w.note("V_F_max", "forward voltage with 10 % spread", "V", forward.max, {}, {}, "highest")
    least_wanted = context.limits["led_least_share"] * wanted
    window = leds.led_resistor(
        level_min=level.min,
        level_max=level.max,
        droop=droop,
        vf_min=forward.min,
        vf_max=forward.max,
        least_current=least_wanted,
        pin_current=(board.sink_recommended if sink else None) or board.pin_recommended,
        led_current=3 * wanted,
        series=context.series,
        tolerance=tol,
        working=w,
    )
    resistor = sized_resistor(
        context, "series_resistor", "Series resistor", "R_LED", window, "low pin, high V_F"
    )
    result.values.append(resistor)
    add = result.measures.append
    w.note("V_level", "volts there are for resistor and LED", "V", level.min, {}, {}, "low pin")
    add(
        Measure(
            "drive_headroom",
            "P7",
            "Volts for the LED",
            "V",
            level.min,
            "min",
            "low pin, unloaded",
            "V_level",
            "Under the forward voltage no resistor makes it light.",
            stop=forward.max,
            stop_name="highest forward voltage",
        )
    )
    least = w.calc(
        "I_LED",
        "larger(0, (V_min - V_F_max)/(R*(1 + tol) + r_pin))",
        "A",
        "low pin, high V_F, high R",
        V_min=(level.min, "V"),
        V_F_max=(forward.max, "V"),
        R=(resistor.value, "Ω"),
        tol=(resistor.tolerance, ""),
        r_pin=(droop, "Ω"),
    )
    add(
        Measure(
            "led_current",
            "D1",
            "LED current",
            "A",
            least,
            "min",
            "low pin, high V_F, resistor at its top",
            "I_LED",
            "Dimmer than wanted at the low corner.",
            stop=least_wanted / 2,
            fix=least_wanted,
            stop_name="half of what is wanted",
            fix_name="four fifths of what is wanted",
            setting="series_resistor",
        )
    )
    most = w.calc(
        "I_pin",
        "(V_max - V_F_min)/(R*(1 - tol))",
        "A",
        "stiff high pin, low V_F, low R",
        V_max=(level.max, "V"),
        V_F_min=(forward.min, "V"),
        R=(resistor.value, "Ω"),
        tol=(resistor.tolerance, ""),
    )
    result.pin_current, result.running = most, most if sink else 0.0
    pin_limits(
        context,
        result,
        "stiff high pin, low V_F, resistor at its bottom",
        setting="series_resistor",
        sinks=sink,
    )
    resistor_measures(context, result, resistor, level.max - forward.min, "P_R")
    result.typical, result.surge = (wanted, most) if sink else (0.0, 0.0)
    result.live = {
        "pin": show(most, "A"),
        "load": span(least, most, "A"),
        "volts": forward.shown("V"),
    }
    _join(context, result, resistor.text, sink)
    if sink:
        add(
            Measure(
                "pin_tolerance",
                "P9",
                "Rail at the pin",
                "V",
                context.volts.max,
                "max",
                "high rail, least logic supply",
                "V_rail",
                "Above its own supply the pin's protection conducts.",
                stop=board.logic.min + board.over_supply,
                stop_name="most the pin tolerates",
            )
        )
        w.note("V_rail", "highest rail voltage", "V", context.volts.max, {}, {}, "high rail")
    result.drive.active = "low" if sink else "high"
    _states(context, result, sink, forward, resistor.low)
    return result


def _heavy(context: ChannelContext, result: StageResult) -> StageResult:
    if context.rail is not None:
        current = running_current(context, result)
    else:
        volts = "highest, at its own volts: no rail is named yet"
        current = result.working.note(
            "I_load_max", volts, "A", context.load.current.max, {}, {}, "least load"
        )
        result.running, result.typical = current, float(context.load.current.typ)
    result.pin_current = current
    pin_limits(
        context,
        result,
        "highest supply, least load",
        "The pin would have to carry the whole load.",
        symbol="I_load_max",
    )
    result.live = {
        "pin": show(current, "A"),
        "load": show(current, "A"),
        "volts": context.volts.shown("V") if context.rail else context.channel.load.voltage,
    }
    _join(context, result, None, sink=context.rail is not None)
    return result


def _join(context: ChannelContext, result: StageResult, resistor: str | None, sink: bool) -> None:
    net, prefix, channel = result.netlist, context.channel.id, context.channel
    pin = f"{prefix}.PIN"
    net.domains |= {pin: "logic", "0V": "logic"}
    net.add(
        f"BOARD.{channel.pin or 'pin ?'}", "pin", channel.pin or "no pin yet", channel.id, pin=pin
    )
    inner = pin
    if resistor:
        inner = f"{prefix}.LED"
        net.domains[inner] = "logic"
        net.add(f"{prefix}.R1", "resistor", resistor, channel.id, **{"1": pin, "2": inner})
    rail = context.rail.id if sink and context.rail else "0V"
    if sink:
        net.domains[rail] = "low"
        net.add(
            f"{prefix}.LOAD", "load", channel.load.figure, channel.id, **{"+": rail, "-": inner}
        )
    else:
        net.add(
            f"{prefix}.LOAD", "load", channel.load.figure, channel.id, **{"+": inner, "-": "0V"}
        )


def _states(
    context: ChannelContext, result: StageResult, sink: bool, forward: Spread, least_resistor: float
) -> None:
    """An LED on a pin, towards ground or from a rail; floating it stays dark."""
    board, pin, w = context.board, context.pin, result.working
    limit = context.limits["led_dark"] * forward.min
    off = Decided("the pin drives low", board.vol_noload, "off")
    if sink:
        supply = context.volts.max if context.rail_is_boards else board.logic.min
        left = w.calc(
            "V_off",
            "larger(0, V_rail - V_OH_min)",
            "V",
            "high rail, low pin, one net if it is the board's own",
            V_rail=(context.volts.max, "V"),
            V_OH_min=(supply - board.voh_drop_noload, "V"),
        )
        off = Decided("the pin drives high; what is left stands on the LED", left, symbol="V_off")
    driven = at_boot(pin, board, "low" if sink else "high", False, None) if pin else None
    lights = (
        driven is not None and driven.load == "on" and pin is not None and pin.reset[:4] != "pull"
    )
    glimmer = Decided("at most a glimmer through the board's own pull", load="off")
    lit = sink and not context.rail_dies_with_board and context.volts.max - UNPOWERED_PIN > limit
    dead = Decided("nothing feeds it", 0.0)
    if lit:
        current = w.calc(
            "I_back",
            "(V_rail - V_F_min - V_dead)/R_min",
            "A",
            "high rail, low V_F, low R",
            "the dead pin's protection holds it near ground and leads the current into the board",
            V_rail=(context.volts.max, "V"),
            V_F_min=(forward.min, "V"),
            V_dead=(UNPOWERED_PIN, "V"),
            R_min=(least_resistor, "Ω"),
        )
        result.drive.back_feed = max(current, 0.0)
        through = "current flows from the rail through the LED into the dead board"
        dead = Decided(through, context.volts.max - UNPOWERED_PIN, symbol="I_back")
    result.states += Control(
        f"{context.channel.id}.PIN",
        "low" if sink else "high",
        limit,
        off=off,
        floating=Decided("leakage alone; an LED stays dark", load="off"),
        boot=Decided(driven.by, load="on") if lights and driven else glimmer,
        dead=dead,
        on_text="within the window above",
        upload=f"reset and upload, up to {show(board.upload_time, 's')}",
        start=f"boot, about {show(board.boot_time, 's')}",
    ).states()
