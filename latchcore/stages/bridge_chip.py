"""A motor both ways through a bridge in one package."""

from __future__ import annotations

from typing import Any

from latchcore.catalogue.switch_records import BridgeChip
from latchcore.design.context import ChannelContext
from latchcore.design.kinds import pins_of
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of
from latchcore.figures.quantity import show
from latchcore.figures.resistance import resistor_words
from latchcore.figures.spread import Spread
from latchcore.pieces import bridge_currents, bridge_states, low_side
from latchcore.pieces.frame import (
    Traits,
    add_part,
    junction_measure,
    load_domain,
    pin_limits,
    pwm_measure,
)
from latchcore.pieces.sensing import VDD
from latchcore.sums import heat, pulls

kind = "bridge_chip"
title = "Motor bridge, one chip"
summary = (
    "Forward, reverse, coast and brake from two lines; its upper and lower switches are kept apart"
    " inside."
)
settings = (
    Setting("bridge", "Bridge", "part", family="bridge_chip"),
    Setting(
        "enable",
        "Its enable, where it has one",
        "choice",
        choices=(("line", "on a line of its own"), ("tied", "tied to its logic supply")),
    ),
    Setting("pull_resistor", "Pull-down at each input", "ohms", may_omit=True),
    Setting("rest", "Rest before it turns the other way", "seconds", usual="none: at speed"),
    Setting(
        "run_down",
        "Time it takes to run down",
        "seconds",
        usual=show(bridge_currents.RUN_DOWN, "s"),
    ),
    Setting("logic_rail", "Rail of its logic supply", "rail", usual="the board's own"),
)
traits = Traits(cost=6, side="both", fails="shorted: it turns, or the supply is shorted")


def suits(context: ChannelContext) -> str | None:
    """Why the stage cannot serve a load, or ``None``."""
    if context.alternating:
        return "a bridge turns a motor on direct current"
    if context.load.kind.model != "reversing":
        return "for a motor that turns both ways"
    return None


def _has_line(context: ChannelContext, part: BridgeChip) -> bool:
    return part.enable and context.setting("enable") != "tied"


def roles(context: ChannelContext) -> tuple[str, ...]:
    """
    What its lines are for. Which bridge is fitted may decide it, so only a bridge the user fixed
    brings an enable line; what is chosen for them has its enable tied.
    """
    fixed = context.around.part(context.setting("bridge"))
    enabled = isinstance(fixed, BridgeChip) and _has_line(context, fixed)
    return ("enable", "forward", "reverse") if enabled else ("forward", "reverse")


def pulsed(context: ChannelContext) -> tuple[str, ...]:
    """Lines that are pulsed where the motor is: its enable, else both directions."""
    own = roles(context)
    return own[:1] if "enable" in own else own


def asks(key: str, settings: dict[str, str], result: StageResult | None) -> bool:
    """Whether a setting has a bearing on the bridge that is fitted."""
    part = result.parts.get("switch") if result is not None else None
    if not isinstance(part, BridgeChip) or key not in ("enable", "logic_rail"):
        return True
    if key == "enable":
        return part.enable and "bridge" in settings
    return part.logic is not None


def size(context: ChannelContext) -> StageResult:
    """Size the stage with the user's bridge, or the smallest class that holds."""
    fixed = context.around.part(context.setting("bridge"))
    if isinstance(fixed, BridgeChip):
        return _with(context, fixed, False)
    return best_of(context.around.family("bridge_chip"), lambda part: _with(context, part, True))


def _with(context: ChannelContext, part: BridgeChip, auto: bool) -> StageResult:
    result = StageResult(kind, title, {"switch": part}, auto_part=auto)
    own, w, volts = roles(context), result.working, context.volts
    result.values.append(Sized("bridge", "Bridge", "U1", "", None, part.title, not auto))
    running = low_side.running_current(context, result, 0.0)
    stall = bridge_currents.measures(context, result, part)
    drop, typical = part.drop(running), part.drop(result.typical, worst=False)
    w.note("V_drop", "both closed switches, hot", "V", drop, {}, {}, "highest running current")
    low_side.load_measures(context, result, 0.0, typical, drop)
    _supply(context, result, part)
    _heat(context, result, part, drop, running)
    pull, holds = _pull(context, result, part, own)
    _inputs(context, result, part)
    pwm_measure(context, result, part.t_on, part.t_off, "its own edges, as printed")
    result.motion = bridge_states.worked(
        bridge_states.power_of(
            context,
            part,
            own,
            float(pull.size) if pull else None,
            holds,
            not bridge_currents.turns_at_speed(context),
            volts.max / stall,
        )
    )
    bridge_states.states(context, result, result.motion)
    result.drive.active = "high"
    result.coil.built_in_clamp = True
    _join(context, result, part, own, pull)
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "load": show(running, "A"),
        "switch": f"loses ≤ {show(drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _supply(context: ChannelContext, result: StageResult, part: BridgeChip) -> None:
    """D3 and D10: the highest supply it bears, the least it works from."""
    volts, add = context.volts, result.measures.append
    result.working.note("V_supply_min", "lowest rail voltage", "V", volts.min, {}, {})
    add(
        Measure(
            "bridge_supply_most",
            "D3",
            "Voltage on the bridge",
            "V",
            volts.max,
            "max",
            "highest supply",
            "V_supply_max",
            "Over it the switches break through, and the supply is shorted.",
            stop=part.v_supply_max,
            stop_name="highest supply it bears",
        )
    )
    add(
        Measure(
            "bridge_supply_least",
            "D10",
            "Supply of the bridge",
            "V",
            volts.min,
            "min",
            "lowest supply",
            "V_supply_min",
            "Below it its upper switches are only half on, or it lets go of the motor.",
            stop=part.v_supply_min,
            stop_name="least supply it works from",
        )
    )
    if part.logic is not None:
        logic = _logic(context)
        result.working.note("V_logic_min", "lowest logic supply", "V", logic.min, {}, {})
        result.working.note("V_logic_max", "highest logic supply", "V", logic.max, {}, {})
        add(
            Measure(
                "bridge_logic_least",
                "D10",
                "Logic supply of the bridge",
                "V",
                logic.min,
                "min",
                "lowest logic supply",
                "V_logic_min",
                "Its inputs are read, and its switches driven, from this supply.",
                stop=part.logic.min,
                stop_name="least logic supply",
            )
        )
        add(
            Measure(
                "bridge_logic_most",
                "D3",
                "Logic supply of the bridge",
                "V",
                logic.max,
                "max",
                "highest logic supply",
                "V_logic_max",
                "Over it its logic is destroyed.",
                stop=part.logic.max,
                stop_name="highest logic supply",
            )
        )


def _logic(context: ChannelContext) -> Spread:
    rail = context.fixed_rail("logic_rail")
    return context.around.rail_volts(rail) if rail is not None else context.board.logic


def _heat(
    context: ChannelContext, result: StageResult, part: BridgeChip, drop: float, running: float
) -> None:
    w = result.working
    result.power = heat.saturated_loss(drop, running, 0.0, 0.0, context.heat_duty, w)
    junction_measure(
        context,
        result,
        heat.junction(result.power, part.theta_ja, context.enclosed, w),
        part.t_j_max,
        why="Both closed switches are in one package; its ground pins carry the heat away.",
    )


def _inputs(context: ChannelContext, result: StageResult, part: BridgeChip) -> None:
    """P7 and P8: both levels of a pin against what the inputs surely read."""
    board, w, add = context.board, result.working, result.measures.append
    high = w.calc(
        "V_in_high",
        "V_OH_min - r_pin*I_pin",
        "V",
        "low logic supply",
        V_OH_min=(board.voh_noload_min, "V"),
        r_pin=(board.droop, "Ω"),
        I_pin=(result.pin_current, "A"),
    )
    add(
        Measure(
            "input_high",
            "P7",
            "High level at its inputs",
            "V",
            high,
            "min",
            "low logic supply",
            "V_in_high",
            "Under it nothing says which way it turns.",
            stop=part.reads_high,
            stop_name="least level read as high",
        )
    )
    w.note("V_OL", "low level of the pin, hardly loaded", "V", board.vol_noload, {}, {})
    add(
        Measure(
            "input_low",
            "P8",
            "Low level at its inputs",
            "V",
            board.vol_noload,
            "max",
            "highest low level",
            "V_OL",
            "Commanded to stand, every input must be read as low.",
            stop=part.reads_low,
            stop_name="highest level read as low",
        )
    )


def _pull(
    context: ChannelContext, result: StageResult, part: BridgeChip, own: tuple[str, ...]
) -> tuple[Sized | None, bool]:
    """
    One pull-down at every input, and whether it holds them against what lifts them while nobody
    drives them.
    """
    board, w = context.board, result.working
    pins = pins_of(context)
    weak = [p.pull.min for p in pins if p is not None and p.reset == "pull_up" and p.pull]
    # An input that reads low by itself draws towards ground; any other may lift the line.
    leak = board.leakage + (0.0 if part.open_reads == "low" else part.input_current)
    yours = context.ohms("pull_resistor")
    pull, holds = None, False
    if not context.left_out("pull_resistor"):
        chosen = pulls.choose_pull(
            board.logic.max, min(weak, default=None), leak, part.reads_low, context.tolerance
        )
        value = yours or (context.resistor(chosen) if chosen else None)
        if value is not None:
            pull = Sized(
                "pull_resistor",
                "Pull-down at each input",
                "R_pd",
                "Ω",
                value,
                resistor_words(value, context.tolerance),
                yours is not None,
                corner="weakest moment",
                detail=f"{len(own)} of them, one at each input",
            )
            result.values.append(pull)
            lifted = pulls.node_against_leakage(leak, pull.size, pull.tolerance, w)
            holds = lifted <= part.reads_low
    least = pull.size * (1 - pull.tolerance) if pull else None
    given: dict[str, Any] = {"I_in": (part.input_current, "A")}
    if least:
        given |= {"V_OH_max": (board.logic.max, "V"), "R_pd_min": (least, "Ω")}
    result.pin_current = w.calc(
        "I_pin",
        "V_OH_max/R_pd_min + I_in" if least else "I_in",
        "A",
        "stiff high pin, one line",
        **given,
    )
    pin_limits(
        context,
        result,
        "stiff high pin, one line",
        "An input takes little; its pull-down takes the rest.",
    )
    return pull, holds


def _join(
    context: ChannelContext,
    result: StageResult,
    part: BridgeChip,
    own: tuple[str, ...],
    pull: Sized | None,
) -> None:
    """Lines, pulls, bridge and motor in the netlist."""
    channel, net = context.channel, result.netlist
    rail, one, other = context.feed.id, f"{channel.id}.OUT1", f"{channel.id}.OUT2"
    back = context.around.return_of(context.feed)
    net.domains |= dict.fromkeys((rail, one, other), load_domain(context)) | {"0V": "logic"}
    inputs = {}
    for n, role in enumerate(own):
        line = channel.pin if n == 0 else channel.lines.get(role)
        node = f"{channel.id}.PIN" if n == 0 else f"{channel.id}.PIN.{role}"
        net.domains[node] = "logic"
        named = line or ("pin ?" if n == 0 else f"pin ? for {role}")
        net.add(f"BOARD.{named}", "pin", line or "no pin yet", channel.id, pin=node)
        inputs[{"enable": "EN", "forward": "IN1", "reverse": "IN2"}[role]] = node
        if pull is not None:
            add_part(
                context, result, f"R{n + 1}", "resistor", pull.text, role, **{"1": node, "2": "0V"}
            )
    net.add(f"{channel.id}.LOAD", "load", channel.load.shown, channel.id, **{"+": one, "-": other})
    supply = VDD
    if part.logic is not None:
        logic = context.fixed_rail("logic_rail")
        supply = inputs["VCC"] = logic.id if logic is not None else VDD
    if part.enable and "enable" not in own:
        inputs["EN"] = supply
    add_part(
        context,
        result,
        "U1",
        "bridge_chip",
        part.title,
        VM=rail,
        OUT1=one,
        OUT2=other,
        GND=back,
        **inputs,
    )
