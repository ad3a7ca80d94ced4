"""A triac fired by a coupler: on and off at the zero, at any moment, or phase control."""

from __future__ import annotations

import math

from latchcore.catalogue.mains_records import Triac, TriacDriver
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of, sized_resistor
from latchcore.figures.quantity import resistor_code, show
from latchcore.pieces import ac_class, ac_switch, five_states, low_side
from latchcore.pieces.drivers import led_measure, pin_measure
from latchcore.pieces.firing import _phase, corners, gate_hold
from latchcore.pieces.frame import Traits, add_part, join_pin, load_domain, power_load
from latchcore.sums import couplers, phase, triac

#: A triac latches at about so many times its holding current where that is not printed.
LATCHES = 2.0
kind = "triac_coupler"
title = "Triac, fired by a coupler"
summary = (
    "Silent, for alternating current only; a barrier between board and line; phase control where"
    " the load may be dimmed. Leaks when off, fails shorted."
)
settings = (
    Setting(
        "control",
        "Fires",
        "choice",
        choices=(
            ("zero", "at the zero: on and off"),
            ("random", "at any moment: on and off"),
            ("phase", "after a delay: phase control"),
        ),
    ),
    Setting("triac", "Triac", "part", family="triac"),
    Setting("driver", "Driver", "part", family="triac_driver"),
    Setting("led_resistor", "LED resistor", "ohms"),
    Setting("pull_resistor", "Pull-down at the pin", "ohms", may_omit=True),
    Setting("gate_resistor", "Gate resistor", "ohms"),
    Setting("gate_pulse", "Gate pulse", "seconds", when=("control", ("phase",))),
    Setting("detector_error", "Detector late by up to", "seconds", when=("control", ("phase",))),
    Setting(
        "earliest_delay", "The program's shortest delay", "seconds", when=("control", ("phase",))
    ),
    Setting("latest_delay", "The program's longest delay", "seconds", when=("control", ("phase",))),
    *ac_switch.SETTINGS,
)
traits = Traits(
    isolates=True,
    silent=True,
    side="high",
    cost=6,
    fails="shorted: the load stays on",
    note="leaks when off: no means of isolation",
)
suits = power_load


def beginning(context: ChannelContext) -> dict[str, str]:
    """What it begins with: phase control where the load is to be dimmed."""
    return {"control": "phase"} if "dims" in context.channel.needs else {}


def size(context: ChannelContext) -> StageResult:
    """Size the stage with the user's triac, or the smallest class that holds."""
    fixed = context.around.part(context.setting("triac"))
    if isinstance(fixed, Triac):
        return _with(context, fixed, False)
    return best_of(context.around.family("triac"), lambda part: _with(context, part, True))


def _control(context: ChannelContext) -> str:
    """When it fires: as said, else at the zero; that is a transformer's worst instant."""
    plain = "random" if context.load.kind.id == "transformer" else "zero"
    return context.setting("control") or plain


def _driver(context: ChannelContext) -> tuple[TriacDriver, bool]:
    fixed = context.around.part(context.setting("driver"))
    if isinstance(fixed, TriacDriver):
        return fixed, False
    wanted = "zero" if _control(context) == "zero" else "random"
    return next(p for p in context.around.family("triac_driver") if p.control == wanted), True


def _with(context: ChannelContext, part: Triac, auto: bool) -> StageResult:
    driver, auto_driver = _driver(context)
    result = StageResult(kind, title, {"switch": part, "driver": driver}, auto_part=auto)
    control = _control(context)
    result.values += [
        Sized("triac", "Triac", "Q1", "", None, part.title, not auto),
        Sized("driver", "Driver", "OK1", "", None, driver.title, not auto_driver),
    ]
    result.output.kind = "ac_zero" if driver.control == "zero" else "ac_random"
    result.output.control = control
    result.barrier = driver.isolation
    ac_switch.switch_measures(context, result, part, driver.leakage)
    ac_class.class_measure(context, result, driver.v_drm, "driver")
    window = _phase(context, result) if control == "phase" else None
    gate = _gate(context, result, part, driver, window)
    if window is not None:
        _latching(context, result, part)
    led, pull = _led(context, result, driver)
    _join(context, result, part, driver, led, pull, gate)
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": f"≤ {show(result.output.fires_at, 'V')}",
        "load": show(result.running, "A"),
        "switch": f"on ≤ {show(part.drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _gate(
    context: ChannelContext,
    result: StageResult,
    part: Triac,
    driver: TriacDriver,
    window: phase.FiringWindow | None,
) -> Sized:
    """A8: the resistor between driver and gate within its two bounds, and when it has fired."""
    slow, _, _ = corners(context)
    by = max(triac.TRIGGER_BY, result.output.earliest or 0.0) if window else triac.TRIGGER_BY
    # The holding resistor takes its share beside the gate.
    hold, load = gate_hold(part), _in_the_path(context)
    trigger = part.gate_current + (part.gate_volts / hold if hold else 0.0)
    fit = triac.gate_resistor(
        context.volts.min,
        context.volts.max,
        slow,
        driver.surge,
        trigger,
        part.gate_volts,
        driver.v_tm,
        context.series,
        context.tolerance,
        by,
        load,
        result.working,
    )
    gate = sized_resistor(
        context,
        "gate_resistor",
        "Gate resistor",
        "R_G",
        fit,
        "highest peak; lowest line by the time it must have fired",
    )
    result.values.append(
        Sized(
            gate.key,
            gate.label,
            gate.symbol,
            "Ω",
            gate.value,
            gate.text,
            gate.yours,
            gate.window,
            gate.failing,
            gate.corner,
            "pulse-rated",
        )
    )
    volts, at = triac.fires_at(
        gate.size,
        gate.tolerance,
        trigger,
        part.gate_volts,
        driver.v_tm,
        context.volts.min,
        slow,
        load,
    )
    w = result.working
    through = "load, gate and driver" if load else "gate and driver"
    w.note("V_fire", f"drop of the cold gate's current, with {through}", "V", volts, {}, {})
    result.output.fires_at = volts
    result.output.fires_after = at
    reached = next(s.result for s in w.steps if s.symbol == "V_by")
    result.measures.append(
        Measure(
            "fires",
            "A8",
            "Voltage at which it has fired",
            "V",
            volts,
            "max",
            "cold triac, lowest line, resistor"
            + (" and load at their top" if load else " at its top"),
            "V_fire",
            "It fires late or in some half-cycles only: flicker, hum, a heating transformer.",
            fix=reached,
            fix_name=f"what the line has reached after {show(by, 's')}",
            setting="gate_resistor",
        )
    )
    most = w.calc(
        "I_driver",
        "V_peak_max/(R_G*(1 - tol))",
        "A",
        "fired at the highest peak",
        V_peak_max=(context.volts.max * 2**0.5, "V"),
        R_G=(gate.value, "Ω"),
        tol=(gate.tolerance, ""),
    )
    result.measures.append(
        Measure(
            "driver_surge",
            "A8",
            "Current through the driver",
            "A",
            most,
            "max",
            "fired at the highest peak, resistor at its bottom",
            "I_driver",
            "The little triac in the driver dies first.",
            fix=driver.surge,
            fix_name="what the driver survives",
            setting="gate_resistor",
        )
    )
    return gate


def _in_the_path(context: ChannelContext) -> float:
    """
    Highest resistance of a load that lies in the gate's path [Ω]. A load that is inductive or
    electronic has the gate held through the half-cycle: it fires whenever the line has risen.
    """
    kind = context.load.kind
    held = kind.inductive or kind.model == "constant_power"
    return 0.0 if held else context.load.resistance.max


def _latching(context: ChannelContext, result: StageResult, part: Triac) -> None:
    """A8: whether the load keeps the triac on when a short gate pulse ends."""
    load, w, (slow, _, _) = _in_the_path(context), result.working, corners(context)
    if not load:
        result.output.gate_held = True
        return
    latching = part.latching
    if latching is None:
        latching = w.calc(
            "I_latch",
            "k*I_hold",
            "A",
            "not printed: twice its holding current",
            k=(LATCHES, ""),
            I_hold=(part.holding, "A"),
        )
    first, pulse = result.output.earliest or 0.0, result.output.gate_pulse or 0.0
    reached = w.calc(
        "I_at_end",
        "sqrt(2)*V_line_min*s_end/R_load_max",
        "A",
        "lowest line and frequency, shortest delay",
        "what the load lets through when the gate pulse ends",
        V_line_min=(context.volts.min, "V"),
        s_end=(math.sin(2 * math.pi * slow * min(first + pulse, 1 / (4 * slow))), ""),
        R_load_max=(load, "Ω"),
    )
    at = triac.latched_after(latching, load, context.volts.min, slow)
    result.output.latched_after = at
    result.measures.append(
        Measure(
            "latching",
            "A8",
            "Current through the load when the gate pulse ends",
            "A",
            reached,
            "min",
            "lowest line and frequency, shortest delay, highest load resistance",
            "I_at_end",
            "Let go too early it goes out again at once: half-cycles are missing.",
            fix=latching,
            fix_name="latching current",
        )
    )


def _led(context: ChannelContext, result: StageResult, driver: TriacDriver):
    """A8 and P1: the driver's LED on the pin."""
    board, tol, w, add = context.board, context.tolerance, result.working, result.measures.append
    fit = triac.driver_led(
        board.voh_noload_min - board.droop * driver.i_ft * triac.TRIGGER_FACTOR,
        board.logic.max,
        driver.v_f,
        driver.i_ft,
        board.pin_recommended,
        context.series,
        tol,
        working=w,
    )
    led = sized_resistor(context, "led_resistor", "LED resistor", "R_LED", fit, "low pin, high V_F")
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Pull-down at the pin", "R_pd", 0.6 * driver.v_f.min
    )
    result.values.append(led)
    least = couplers.led_current(board.voh_noload_min, board.droop, driver.v_f.max, led.high, w)
    add(
        Measure(
            "led_current",
            "A8",
            "LED current of the driver",
            "A",
            least,
            "min",
            "low pin, high V_F, resistor at its top",
            "I_F_min",
            "Under its trigger current the driver fires some half-cycles or none.",
            stop=driver.i_ft,
            fix=triac.TRIGGER_FACTOR * driver.i_ft,
            stop_name="trigger current",
            fix_name="1.3 times its trigger current",
            setting="led_resistor",
        )
    )
    most = pin_measure(context, result, driver.v_f.min, led, "led_resistor", "low V_F")
    led_measure(result, most, driver.i_f_max)
    return led, pull


def _join(
    context: ChannelContext,
    result: StageResult,
    part: Triac,
    driver: TriacDriver,
    led: Sized,
    pull: Sized | None,
    gate: Sized,
) -> None:
    prefix, domain = context.channel.id, load_domain(context)
    pin, anode, near, trigger = (
        join_pin(context, result),
        f"{prefix}.LED",
        f"{prefix}.DRV",
        f"{prefix}.GATE",
    )
    add_part(context, result, "R1", "resistor", led.text, **{"1": pin, "2": anode})
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    line, switched = ac_switch.join_switch(context, result)
    add_part(
        context,
        result,
        "R3",
        "resistor",
        gate.text,
        "pulse-rated",
        domain=domain,
        **{"1": line, "2": near},
    )
    result.netlist.domains |= {near: domain, trigger: domain, anode: "logic"}
    add_part(
        context,
        result,
        "OK1",
        "triac_driver",
        driver.title,
        f"{driver.isolation} barrier",
        barrier=driver.isolation,
        A=anode,
        K="0V",
        **{"6": near, "4": trigger},
    )
    add_part(
        context,
        result,
        "Q1",
        "triac",
        part.title,
        domain=domain,
        **{"2": line, "G": trigger, "1": switched},
    )
    if hold := gate_hold(part):
        add_part(
            context,
            result,
            "R4",
            "resistor",
            resistor_code(hold),
            "holds a sensitive gate",
            domain=domain,
            **{"1": trigger, "2": switched},
        )
    five_states.five_states(
        context,
        result,
        pin,
        0.6 * driver.v_f.min,
        pull,
        "the LED is lit, the triac fires in every half-cycle",
    )
