"""A motor both ways through a bridge in one package."""

from __future__ import annotations

from latchcore.catalogue.switch_records import BridgeChip
from latchcore.design.context import ChannelContext
from latchcore.design.report import Sized, StageResult
from latchcore.design.stage import Setting, best_of
from latchcore.figures.quantity import show
from latchcore.pieces import (
    bridge_currents,
    bridge_package,
    bridge_states,
    low_side,
    several,
)
from latchcore.pieces.frame import (
    Traits,
    add_part,
    pwm_measure,
)

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
    *bridge_currents.SETTINGS,
    Setting("logic_rail", "Rail of its logic supply", "rail", usual="the board's own"),
)
traits = Traits(cost=6, side="both", fails="shorted: it turns, or the supply is shorted")


def suits(context: ChannelContext) -> str | None:
    """Why the stage cannot serve a load, or ``None``."""
    if context.alternating:
        return "a bridge turns a motor on direct current"
    if context.load.kind.model not in ("reversing", "two_way_coil"):
        return "for a motor that turns both ways, or a coil that is pulsed both ways"
    return None


def _ways(context: ChannelContext) -> tuple[str, str]:
    """What its two inputs do: turn a motor, or set and reset a coil."""
    coil = context.load.kind.model == "two_way_coil"
    return ("set", "reset") if coil else ("forward", "reverse")


def _has_line(context: ChannelContext, part: BridgeChip) -> bool:
    return part.enable and context.setting("enable") != "tied"


def roles(context: ChannelContext) -> tuple[str, ...]:
    """
    What its lines are for. Which bridge is fitted may decide it, so only a bridge the user fixed
    brings an enable line; what is chosen for them has its enable tied.
    """
    fixed = context.around.part(context.setting("bridge"))
    enabled = isinstance(fixed, BridgeChip) and _has_line(context, fixed)
    return ("enable", *_ways(context)) if enabled else _ways(context)


def pulsed(context: ChannelContext) -> tuple[str, ...]:
    """Lines that are pulsed where the motor is: its enable, else both directions."""
    own = roles(context)
    return own[:1] if "enable" in own else own


def asks(key: str, settings: dict[str, str], result: StageResult | None) -> bool:
    """Whether a setting has a bearing on the bridge that is fitted."""
    part = result.parts.get("switch") if result is not None else None
    if key in ("rest", "run_down") and result is not None and result.motion is not None:
        return result.motion.power.kind == "motor"
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
    bridge_package.supply_limits(context, result, part)
    bridge_package.heat_of(context, result, part, drop, running)
    pull, holds = bridge_package.inputs(context, result, part, own)
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


def _join(
    context: ChannelContext,
    result: StageResult,
    part: BridgeChip,
    own: tuple[str, ...],
    pull: Sized | None,
) -> None:
    """Lines, pulls, bridge and motor in the netlist."""
    nodes = several.join_lines(context, result, own)
    for n, (role, node) in enumerate(nodes.items()):
        if pull is not None:
            ends = {"1": node, "2": "0V"}
            add_part(context, result, f"R{n + 1}", "resistor", pull.text, role, **ends)
    one, other = _ways(context)
    inputs = (nodes[one], nodes[other])
    bridge_package.join_package(context, result, part, inputs, enable=nodes.get("enable"))
