"""A servo: its supply stands, its place is told to it in pulses."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.outcomes import ServoOutcome
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import show
from latchcore.pieces import five_states, low_side, servo_work, signal_line
from latchcore.pieces.frame import (
    Traits,
    add_part,
    join_pin,
    load_domain,
    return_node,
)
from latchcore.sums.servos import angle_of

kind = "servo_pulse"
title = "Servo on a pulsed line"
summary = (
    "Three wires: supply, return and a line that is pulsed fifty times a second; the width of the"
    " pulse is its place."
)
#: What a servo takes until its ends were looked for [s], and its travel between them [°].
NARROW, WIDE, TRAVEL = 1e-3, 2e-3, 90.0
settings = (
    Setting("series_resistor", "Resistor in its signal", "ohms", may_omit=True),
    Setting("pull_resistor", "Pull-down at the pin", "ohms", may_omit=True),
    Setting("narrow", "Narrowest pulse it takes", "seconds", usual=show(NARROW, "s")),
    Setting("wide", "Widest pulse it takes", "seconds", usual=show(WIDE, "s")),
    Setting("travel", "Travel between both, in degrees", "plain", usual=f"{TRAVEL:g}"),
    Setting("rest_pulse", "Pulse it rests at", "seconds"),
    Setting("work_pulse", "Pulse it moves to", "seconds"),
    Setting(
        "made",
        "Its pulses are made",
        "choice",
        choices=(("timer", "by a timer"), ("loop", "by the program, in its loop")),
    ),
    Setting("jitter", "Their width is off by up to", "seconds", when=("made", ("loop",))),
    Setting("reads_high", "Least level its signal reads as high", "volts"),
    Setting("torque", "Torque it gives", "torque"),
    Setting("force", "Force at the end of its arm", "newtons"),
    Setting("arm", "Length of that arm", "metres"),
    Setting("sixty", "Time it takes for 60°", "seconds"),
    Setting("pause", "Time the program gives it", "seconds"),
)
traits = Traits(cost=0, side="", fails="it stays, or goes where it likes")
#: Pulses of a servo come so often [Hz].
OFTEN = 50.0
#: Up to here a logic input surely reads low [V].
READS_LOW = 0.8


def suits(context: ChannelContext) -> str | None:
    """Why the stage cannot serve a load, or ``None``."""
    if context.alternating:
        return "a servo runs on direct current"
    return None if context.load.kind.model == "servo" else "for servos only"


def size(context: ChannelContext) -> StageResult:
    """Hold the line against what the servo reads, and say which place each pulse is."""
    result = StageResult(kind, title)
    w = result.working
    running = low_side.running_current(context, result)
    low_side.load_measures(context, result, 0.0, 0.0, 0.0)
    w.note("I_stall", "arm held", "A", result.surge, {}, {}, "measured or usual for the kind")
    _places(context, result)
    servo_work.measured(context, result)
    _signal(context, result)
    _often(context, result)
    pin = join_pin(context, result)
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Pull-down at the pin", "R_pd", READS_LOW
    )
    if pull is not None:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    signal = signal_line.series_of(context, result, pin, "servo")
    terminals = {"+": context.feed.id, "-": return_node(context), "SIG": signal}
    supplied = dict.fromkeys((terminals["+"], terminals["-"]), load_domain(context))
    result.netlist.domains |= supplied | {signal: "logic"}
    add_part(context, result, "LOAD", "load", context.channel.load.shown, **terminals)
    five_states.five_states(context, result, pin, READS_LOW, pull, "it goes where the pulse says")
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "load": f"{show(running, 'A')}, stalled {show(result.surge, 'A')}",
        "switch": "",
        "volts": result.shown_volts,
    }
    return result


def _places(context: ChannelContext, result: StageResult) -> None:
    """Each pulse that is stated, as an angle between both ends."""
    w = result.working
    narrow, wide = context.given("narrow", "s") or NARROW, context.given("wide", "s") or WIDE
    travel = context.given("travel", "") or TRAVEL
    loop = context.setting("made") == "loop"
    trembles = (context.given("jitter", "s") or 0.0) if loop else 0.0
    way = result.servo = ServoOutcome(narrow, wide, travel, trembles)
    if trembles:
        w.note("t_off", "made in a loop, off by", "s", trembles, {}, {}, "as stated")
    w.note("t_narrow", "narrowest pulse", "s", narrow, {}, {}, "as found, or 1 ms")
    w.note("t_wide", "widest pulse", "s", wide, {}, {}, "as found, or 2 ms")
    w.note("A", "travel between both", "°", travel, {}, {}, "as stated, or 90°")
    if way.turned:
        return
    for key, label in (("rest_pulse", "Pulse it rests at"), ("work_pulse", "Pulse it moves to")):
        pulse = context.given(key, "s")
        if pulse is not None:
            at = angle_of(pulse, narrow, wide, travel)
            text = context.setting(key) or ""
            off = travel * trembles / (wide - narrow)
            detail = f"at {at:.3g}°" + (f", ± {off:.2g}°" if off else "")
            result.values.append(Sized(key, label, "t", "s", pulse, text, True, detail=detail))


def _signal(context: ChannelContext, result: StageResult) -> None:
    board, w = context.board, result.working
    high = w.note(
        "V_signal", "least high level of the pin", "V", board.voh_noload_min, {}, {}, "low supply"
    )
    least = context.given("reads_high", "V")
    if least is not None:
        result.measures.append(
            Measure(
                "signal_high",
                "P7",
                "High level of its signal",
                "V",
                high,
                "min",
                "low logic supply",
                "V_signal",
                "Under it the servo sees no pulse, or now and then one: it trembles.",
                stop=least,
                stop_name="least level it reads as high",
            )
        )


def _often(context: ChannelContext, result: StageResult) -> None:
    """D9: how often it may be pulsed."""
    w = result.working
    result.pulses.limit = w.note("f_max", "one pulse every 20 ms", "Hz", OFTEN, {}, {})
    if context.frequency:
        w.note("f_PWM", "as given", "Hz", context.frequency, {}, {})
        result.measures.append(
            Measure(
                "pwm",
                "D9",
                "Pulses",
                "Hz",
                context.frequency,
                "max",
                "as given",
                "f_PWM",
                "Pulsed more often a plain servo overheats or trembles.",
                fix=OFTEN,
                fix_name="one pulse every 20 ms",
            )
        )
