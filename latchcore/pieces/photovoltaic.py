"""
A photovoltaic coupler that lifts a floating gate by itself: slow, and without any supply on the
load's side.
"""

from __future__ import annotations

from latchcore.catalogue.records import Photovoltaic
from latchcore.catalogue.switch_records import Mosfet
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of, likely, sized_resistor
from latchcore.figures import preferred
from latchcore.figures.quantity import resistor_code, show
from latchcore.figures.windows import Bound, resistor_window
from latchcore.pieces import clamps, five_states, load_join, low_side
from latchcore.pieces.drivers import pin_measure
from latchcore.pieces.fets import fet_heat
from latchcore.pieces.frame import add_part, join_pin, junction_measure, pwm_measure, return_node
from latchcore.sums import couplers, heat


def settings_for(family: str) -> tuple[Setting, ...]:
    """Settings of a photovoltaic stage with one family of switch."""
    return (
        Setting("pv", "Photovoltaic coupler", "part", family="pv_coupler"),
        Setting("led_resistor", "LED resistor", "ohms"),
        Setting("pull_resistor", "Pull-down across the LED", "ohms", may_omit=True),
        Setting("transistor", "Switch", "part", family=family),
        *clamps.SETTINGS,
        Setting("resistor_watts", "Resistor rating", "watts"),
    )


def size(context: ChannelContext, family: str, kind: str, title: str) -> StageResult:
    """Size the stage with the user's switch, or the smallest class that holds."""
    fixed = context.around.part(context.setting("transistor"))
    if fixed is not None and getattr(fixed, "family", "") == family:
        return _with(context, fixed, False, kind, title)
    current, share = low_side.rough_current(context), context.limits["current_share"]

    def serves(part) -> bool:
        rating = part.i_d if family == "nmos" else part.i_c
        return share * rating >= current

    return best_of(
        likely(context.around.family(family), serves),
        lambda part: _with(context, part, True, kind, title),
    )


def gate_figures(part) -> tuple[float, float, float, float]:
    """
    On-voltage, highest gate voltage, least threshold, and the charge to reach the on-voltage of a
    MOSFET or IGBT.
    """
    if isinstance(part, Mosfet):
        return (
            part.on_voltage,
            part.v_gs_max,
            part.v_gs_th.min,
            part.q_gd + part.c_iss * part.on_voltage,
        )
    return part.v_ge, part.v_ge_max, part.v_ge_th.min, part.q_g


def choose_source(context: ChannelContext, on_voltage: float) -> tuple[Photovoltaic, bool]:
    """The photovoltaic coupler the user fixed, or the plainest whose volts suffice."""
    fixed = context.around.part(context.setting("pv"))
    if isinstance(fixed, Photovoltaic):
        return fixed, False
    family = context.around.family("pv_coupler")
    return next((p for p in family if p.v_oc_min >= on_voltage), family[-1]), True


def _with(context, part, auto, kind, title) -> StageResult:
    result = StageResult(kind, title, {"transistor": part}, auto_part=auto)
    board, tol, w, add = context.board, context.tolerance, result.working, result.measures.append
    running = low_side.running_current(context, result)
    clamp = clamps.choose_clamp(context, running)
    on_voltage, gate_max, _, charge = gate_figures(part)
    source, source_auto = choose_source(context, on_voltage)
    result.parts["pv"] = source
    high = (board.voh_noload_min - board.droop * source.i_f - source.v_f.max) / source.i_f
    low = w.calc(
        "R_LED_min",
        "(V_OH_max - V_F_min)/I_pin_rec",
        "Ω",
        "stiff high pin, low V_F",
        V_OH_max=(board.logic.max, "V"),
        V_F_min=(source.v_f.min, "V"),
        I_pin_rec=(board.pin_recommended, "A"),
    )
    window = resistor_window(
        context.series,
        tol,
        [Bound("pin_current", low)],
        [Bound("led_least_current", high if high > 0 else None)],
    )
    resistor = sized_resistor(
        context, "led_resistor", "LED resistor", "R_LED", window, "low pin, high V_F"
    )
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Pull-down across the LED", "R_pd", 0.6 * source.v_f.min
    )
    result.values += [
        Sized("transistor", "Switch", "Q1", "", None, part.title, not auto),
        Sized("pv", "Photovoltaic coupler", "OK1", "", None, source.title, not source_auto),
        resistor,
    ]
    least = couplers.led_current(
        board.voh_noload_min, board.droop, source.v_f.max, resistor.high, w
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
            "I_F_min",
            "Its volts and microamperes are stated at this LED current and fall with it.",
            stop=source.i_f / 2,
            fix=source.i_f,
            stop_name="half of what its data state",
            fix_name="what its data state",
            setting="led_resistor",
        )
    )
    w.note(
        "V_OH_min",
        "logic supply at its lowest less the pin's drop",
        "V",
        board.voh_noload_min,
        {},
        {},
        "low pin",
    )
    add(
        Measure(
            "drive_headroom",
            "P7",
            "High level of the pin",
            "V",
            board.voh_noload_min,
            "min",
            "low pin, unloaded",
            "V_OH_min",
            "Under the LED's forward voltage no resistor helps.",
            stop=source.v_f.max,
            stop_name="highest forward voltage",
        )
    )
    pin_measure(context, result, source.v_f.min, resistor, "led_resistor", "low V_F")
    bleed = None if source.discharges else _bleeder(context, result, source, on_voltage)
    gate = _left_of(source, bleed, context.tolerance, w)
    add(
        Measure(
            "gate_on",
            "D4",
            "Gate voltage available",
            "V",
            gate,
            "min",
            "hot, at the stated LED current" + (", less its bleeder" if bleed else ""),
            "V_GS_on",
            "The generator must reach the voltage the switch is specified at.",
            stop=on_voltage,
            stop_name="specified gate voltage",
        )
    )
    w.note("V_GS_most", "highest open-circuit voltage", "V", source.v_oc_max, {}, {}, "cold")
    add(
        Measure(
            "gate_most",
            "D5",
            "Highest gate voltage",
            "V",
            source.v_oc_max,
            "max",
            "cold",
            "V_GS_most",
            context.limits.reasons["gate_max_share"],
            stop=gate_max,
            fix=context.limits["gate_max_share"] * gate_max,
            stop_name="absolute maximum",
            fix_name="four fifths of its maximum",
        )
    )
    edge = w.calc(
        "t_on",
        "Q_G/I_SC",
        "s",
        "microamperes fill the gate",
        "the whole gate charge through its short-circuit current",
        Q_G=(charge, "C"),
        I_SC=(source.i_sc_min, "A"),
    )
    pwm_measure(
        context, result, edge, edge, "the discharge inside takes no longer than the filling"
    )
    drop = _heat(context, result, part, gate, clamp, edge)
    low_side.load_measures(
        context, result, 0.0 if isinstance(part, Mosfet) else part.v_ce_sat.min, drop / 2, drop
    )
    _join(context, result, part, clamp, source, resistor, pull, bleed)
    clamps.switching_off(context, result, clamp)
    five_states.five_states(
        context, result, f"{context.channel.id}.PIN", 0.6 * source.v_f.min, pull, "the LED is lit"
    )
    result.barrier = source.isolation
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": f"≥ {show(gate, 'V')}",
        "load": show(running, "A"),
        "switch": f"on ≤ {show(drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _left_of(source, bleed: Sized | None, tolerance: float, w) -> float:
    """Gate voltage a generator gives, hot, less what its bleeder takes [V]."""
    if bleed is None or bleed.value is None:
        return w.note(
            "V_GS_on",
            "least open-circuit voltage",
            "V",
            source.v_oc_min,
            {},
            {},
            "hot, at the stated LED current",
        )
    return w.calc(
        "V_GS_on",
        "V_oc*(1 - V_oc/(R_bl*(1 - tol)*I_SC))",
        "V",
        "hot, bleeder at its bottom",
        "a straight line between open and short circuit",
        V_oc=(source.v_oc_min, "V"),
        R_bl=(bleed.value, "Ω"),
        tol=(tolerance, ""),
        I_SC=(source.i_sc_min, "A"),
    )


def _bleeder(context, result, source, on_voltage: float) -> Sized:
    """
    A generator without a discharge inside wants a bleeder: it steals no more than half its current,
    and leaves the gate the voltage it is specified at.
    """
    least = result.working.calc(
        "R_bl_min",
        "2*V_oc/I_SC",
        "Ω",
        "highest volts, least current",
        V_oc=(source.v_oc_max, "V"),
        I_SC=(source.i_sc_min, "A"),
    )
    if source.v_oc_min > on_voltage:
        leaves = result.working.calc(
            "R_bl_leaves",
            "V_oc_min**2/(I_SC*(V_oc_min - V_on))",
            "Ω",
            "least volts, least current",
            "what it leaves the gate is what that is specified at",
            V_oc_min=(source.v_oc_min, "V"),
            I_SC=(source.i_sc_min, "A"),
            V_on=(on_voltage, "V"),
        )
        least = max(least, leaves)
    shelf = preferred.between("E12", least / (1 - context.tolerance), preferred.MOST)
    value = shelf[0] if shelf else preferred.MOST
    sized = Sized(
        "up_resistor",
        "Gate bleeder",
        "R_bl",
        "Ω",
        value,
        resistor_code(value),
        False,
        detail="steals at most half of its microamperes",
    )
    result.values.append(sized)
    return sized


def _heat(context, result, part, gate, clamp, edge) -> float:
    w, volts = result.working, context.volts
    if isinstance(part, Mosfet):
        low_side.switch_current_measures(
            context, result, part.i_d, part.i_d_pulse, "Drain", "pulse_mosfet", part.pulse_time
        )
        drop = fet_heat(context, result, part, gate, clamp.switch_voltage(volts.max), edge, edge)
        rating = part.v_ds
    else:
        low_side.switch_current_measures(
            context, result, part.i_c, part.i_c_pulse, "Collector", "pulse_bipolar", part.pulse_time
        )
        drop = part.v_ce_sat.max
        power = heat.saturated_loss(drop, result.running, 0.0, 0.0, context.heat_duty, w)
        result.power = power
        junction_measure(
            context,
            result,
            heat.junction(power, part.theta_ja, context.around.ambient, w),
            part.t_j_max,
        )
        rating = part.v_ces
    if clamp.kind != "none" or not context.load.kind.inductive:
        low_side.blocking_measure(context, result, clamp.switch_voltage(volts.max), rating)
    return drop


def _join(context, result, part, clamp, source, resistor, pull, bleed) -> None:
    prefix, ground = context.channel.id, return_node(context)
    pin, anode, gate = join_pin(context, result), f"{prefix}.LED", f"{prefix}.GATE"
    rail, switch = load_join.join_low_load(context, result)
    add_part(context, result, "R1", "resistor", resistor.text, **{"1": pin, "2": anode})
    result.netlist.domains |= {gate: "low"}
    result.netlist.domains.setdefault(ground, "low")
    add_part(
        context,
        result,
        "OK1",
        "pv_coupler",
        source.title,
        f"{source.isolation} barrier",
        barrier=source.isolation,
        **{"A": anode, "K": "0V", "+": gate, "-": ground},
    )
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    if bleed:
        add_part(
            context, result, "R4", "resistor", bleed.text, domain="low", **{"1": gate, "2": ground}
        )
    names = (
        {"G": gate, "D": switch, "S": ground}
        if isinstance(part, Mosfet)
        else {"G": gate, "C": switch, "E": ground}
    )
    add_part(context, result, "Q1", part.family, part.title, domain="low", **names)
    clamps.join_clamp(context, result, clamp, rail, switch, prefix, ground)
