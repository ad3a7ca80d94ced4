"""An addressable strip: its supply stands, every pixel is told over one data line."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import parse, show
from latchcore.pieces import five_states, low_side, signal_line
from latchcore.pieces.frame import Traits, add_part, join_pin, load_domain, return_node
from latchcore.pieces.sensing import VDD
from latchcore.sums.pixels import Strip, strip

kind = "pixel_data"
title = "Addressable strip on a data line"
summary = "Supply, return and one data line; each pixel takes its colour and hands on the rest."
#: Metres from pixel to pixel, and ohms a metre of both rails, where nobody stated them.
PITCH, OHMS = 1 / 60, 0.2
#: Forward volts of the diode before a first pixel, least and most [V].
DIODE = (0.5, 0.9)
#: Up to here a data input surely reads low [V]; what stays in its feed for a start [F].
READS_LOW, BULK = 0.8, 1000e-6
settings = (
    Setting("series_resistor", "Resistor in its data line", "ohms", may_omit=True),
    Setting("pull_resistor", "Pull-down at the pin", "ohms", may_omit=True),
    Setting(
        "level",
        "Its data comes",
        "choice",
        choices=(
            ("pin", "straight from the pin"),
            ("shifter", "over a level shifter on the strip's supply"),
            ("pixel", "over a first pixel behind a diode"),
        ),
    ),
    Setting("pitch", "From pixel to pixel", "metres", usual="16.7 mm"),
    Setting("rails", "Both rails, ohms a metre", "resistance", usual="0.2 Ω"),
    Setting("limit", "Brightness the program keeps to", "percent", usual="100 %: full white"),
    Setting(
        "fed",
        "Fed at",
        "choice",
        choices=(("one_end", "one end"), ("both_ends", "both ends")),
    ),
    Setting("bulk", "Capacitor at its feed", "farads", usual="1000 µF"),
)
traits = Traits(cost=0, side="", fails="it stays as it was last told")


def suits(context: ChannelContext) -> str | None:
    """Why the stage cannot serve a load, or ``None``."""
    if context.alternating:
        return "a strip runs on direct current"
    return None if context.load.kind.model == "pixels" else "for addressable strips only"


def limit_of(context: ChannelContext) -> float:
    """The share of full white the program keeps to."""
    return parse(context.setting("limit") or "100 %", "%") / 100


def size(context: ChannelContext) -> StageResult:
    """Current of all pixels, volts at the last, what its data input reads."""
    result = StageResult(kind, title)
    w, volts, board = result.working, context.volts, context.board
    count, each = context.channel.load.count or 1, context.load.current.max
    level = context.setting("level") or "pin"
    diode = DIODE if level == "pixel" else (0.0, 0.0)
    high = volts.min if level == "shifter" else board.voh_noload_min
    found = strip(
        pixels=count,
        white=each,
        share=limit_of(context),
        pitch=context.given("pitch", "m") or PITCH,
        ohms=context.given("rails", "Ω") or OHMS,
        supply_min=volts.min - context.wire_drop,
        supply_max=volts.max,
        least=context.least_volts,
        both_ends=context.setting("fed") == "both_ends",
        data_high=high,
        diode_min=diode[0],
        diode_max=diode[1],
    )
    w.note("I_pixel", "one at full white", "A", each, {}, {}, "as stated, highest")
    result.running = w.calc(
        "I_strip",
        "n*I_pixel*share",
        "A",
        "every pixel at what the program lets through",
        n=(count, ""),
        I_pixel=(each, "A"),
        share=(limit_of(context), ""),
    )
    result.surge, result.typical = found.unlimited, result.running / 2
    result.load_volts = (found.last, volts.max)
    _measures(context, result, found, level, high)
    _join(context, result, level, volts)
    result.pulses.limit = 1e6
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": f"≥ {show(high, 'V')}",
        "load": f"{show(result.running, 'A')}, unlimited {show(found.unlimited, 'A')}",
        "volts": f"{show(found.last, 'V')} at the last",
    }
    return result


def _measures(
    context: ChannelContext, result: StageResult, found: Strip, level: str, high: float
) -> None:
    w, add = result.working, result.measures.append
    w.note(
        "V_last",
        "supply less the drop pixel by pixel, both rails",
        "V",
        found.last,
        {},
        {},
        "lowest supply, full white within the limit",
    )
    add(
        Measure(
            "last_pixel",
            "D11",
            "Volts at the last pixel",
            "V",
            found.last,
            "min",
            "lowest supply, full white within the limit",
            "V_last",
            f"Fed so, {found.serves} pixels are served; feed again every"
            f" {show(found.inject, 'm', 2)}.",
            fix=context.least_volts,
            fix_name="least a pixel works at",
        )
    )
    w.note("V_data", "high level at the first data input", "V", high, {}, {}, "low logic supply")
    add(
        Measure(
            "data_high",
            "P7",
            "High level of its data",
            "V",
            high,
            "min",
            "low logic supply, highest strip supply",
            "V_data",
            "Under it pixels take wrong colours, or none, as the room warms.",
            stop=found.data_needed,
            stop_name="0.7 of the supply of the first pixel",
        )
    )
    if level == "pixel":
        handed = context.volts.min - context.wire_drop - DIODE[1]
        w.note("V_handed", "lowest supply less the diode", "V", handed, {}, {}, "lowest supply")
        add(
            Measure(
                "data_handed",
                "P7",
                "What the first pixel hands on",
                "V",
                handed,
                "min",
                "lowest supply, highest diode",
                "V_handed",
                "It gives no more than its own supply; the next one reads that.",
                stop=0.7 * (context.volts.min - context.wire_drop),
                stop_name="0.7 of the supply of the second",
            )
        )


def _join(context: ChannelContext, result: StageResult, level: str, volts) -> None:
    channel, net = context.channel, result.netlist
    rail, back = context.feed.id, return_node(context)
    net.domains |= dict.fromkeys((rail, back), load_domain(context)) | {VDD: "logic"}
    pin = join_pin(context, result)
    label = "Pull-down at the pin"
    pull = low_side.pull_down(context, result, "pull_resistor", label, "R_pd", READS_LOW)
    if pull is not None:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    before = pin
    if level == "shifter":
        before = f"{channel.id}.SHIFTED"
        net.domains[before] = "logic"
        ends = {"data in": pin, "data out": before, "HIGH": rail, "GND": "0V"}
        add_part(context, result, "A1", "shifter", "level shifter, one line", **ends)
        result.values.append(Sized("level", "Level shifter", "A1", "", None, "one line", True))
    top = volts.max if level == "shifter" else None
    signal = signal_line.series_of(context, result, before, "strip", top)
    plus = rail
    if level == "pixel":
        plus = f"{channel.id}.FIRST"
        net.domains[plus] = load_domain(context)
        first = {"A": rail, "K": plus}
        add_part(context, result, "D1", "diode", "1 A rectifier", "band to the first", **first)
        taken = f"{channel.id}.HANDED"
        net.domains[taken] = "logic"
        ends = {"+": plus, "-": back, "DATA": signal, "OUT": taken}
        add_part(context, result, "P1", "pixel", "a first pixel of its own", **ends)
        result.values.append(
            Sized("level", "First pixel, with its diode", "P1", "", None, "1 A rectifier", True)
        )
        signal = taken
    strip_ends = {"+": rail, "-": back, "DATA": signal}
    add_part(context, result, "LOAD", "load", channel.load.shown, **strip_ends)
    farads = context.given("bulk", "F")
    text = show(farads or BULK, "F")
    bulk = {"1": rail, "2": back}
    add_part(context, result, "C1", "capacitor", text, "at its feed", **bulk)
    result.values.append(
        Sized("bulk", "Capacitor at its feed", "C1", "F", None, text, farads is not None)
    )
    five_states.five_states(
        context, result, pin, READS_LOW, pull, "it takes what it is told", active="high"
    )
