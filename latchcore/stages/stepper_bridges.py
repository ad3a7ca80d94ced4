"""A bipolar stepper on two bridges, a winding each."""

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
    stepping,
)
from latchcore.pieces.frame import Traits, add_part, pwm_measure
from latchcore.pieces.winding_states import turning
from latchcore.sums.motion.power import Chip, Line, Power, Pull, Winding

kind = "stepper_bridges"
title = "Two bridges, one a winding"
summary = "Four lines turn a motor of four leads; nothing but its windings limits the current."
settings = (
    Setting("bridge", "Bridge, two of them", "part", family="bridge_chip"),
    Setting("pull_resistor", "Pull-down at each input", "ohms", may_omit=True),
    Setting("logic_rail", "Rail of its logic supply", "rail", usual="the board's own"),
    *(s for s in stepping.SETTINGS if not s.key.startswith("series")),
)
traits = Traits(cost=9, side="both", fails="shorted: it stands, or the supply is shorted")
#: Inputs of both bridges in the order of a turn.
ROLES = ("a1", "b1", "a2", "b2")
#: Which winding each input belongs to, and which way.
PACKAGES = (("A", "a1", "a2", ""), ("B", "b1", "b2", "b"))


def suits(context: ChannelContext) -> str | None:
    """Why the stage cannot serve a load, or ``None``."""
    if context.alternating:
        return "it switches direct current"
    if context.load.kind.model != "two_windings":
        return "for a stepper motor of two windings"
    return None


def roles(context: ChannelContext) -> tuple[str, ...]:
    """Two inputs a winding."""
    return ROLES


def pulsed(context: ChannelContext) -> tuple[str, ...]:
    """None of them is pulsed: the motor turns step by step."""
    return ()


def asks(key: str, settings: dict[str, str], result: StageResult | None) -> bool:
    """Whether a setting has a bearing on the bridge that is fitted."""
    part = result.parts.get("switch") if result is not None else None
    return key != "logic_rail" or not isinstance(part, BridgeChip) or part.logic is not None


def size(context: ChannelContext) -> StageResult:
    """Size the stage with the user's bridge, or the smallest class that holds."""
    fixed = context.around.part(context.setting("bridge"))
    if isinstance(fixed, BridgeChip):
        return _with(context, fixed, False)
    return best_of(context.around.family("bridge_chip"), lambda part: _with(context, part, True))


def _with(context: ChannelContext, part: BridgeChip, auto: bool) -> StageResult:
    result = StageResult(kind, title, {"switch": part}, auto_part=auto)
    own = Sized("bridge", "Bridge", "U1", "", None, part.title, not auto, many=2)
    result.values.append(own)
    running = low_side.running_current(context, result, 0.0)
    bridge_currents.measures(context, result, part)
    drop = part.drop(running)
    result.working.note("V_drop", "both closed switches, hot", "V", drop, {}, {}, "one winding")
    low_side.load_measures(context, result, 0.0, part.drop(result.typical, worst=False), drop)
    bridge_package.supply_limits(context, result, part)
    bridge_package.heat_of(context, result, part, drop, running)
    pull, holds = bridge_package.inputs(context, result, part, ROLES)
    pwm_measure(context, result, part.t_on, part.t_off, "its own edges, as printed")
    stepping.measures(context, result)
    result.each = running
    at_once = stepping.phases(context)
    result.running, result.typical = running * at_once, result.typical * at_once
    result.surge = result.running
    result.power = (result.power or 0.0) * at_once
    size_of = float(pull.size) if pull else None
    result.motion = bridge_states.worked(_power(context, part, size_of, holds))
    bridge_states.states(context, result, result.motion)
    result.drive.active = "high"
    result.coil.built_in_clamp = True
    nodes = several.join_lines(context, result, ROLES)
    for n, (role, node) in enumerate(nodes.items()):
        if pull is not None:
            ends = {"1": node, "2": "0V"}
            add_part(context, result, f"R{n + 1}", "resistor", pull.text, role, **ends)
    for winding, one, other, mark in PACKAGES:
        inputs = (nodes[one], nodes[other])
        bridge_package.join_package(context, result, part, inputs, mark=mark, role=winding)
    result.live |= {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "load": show(running, "A"),
        "switch": f"loses ≤ {show(drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _power(context: ChannelContext, part: BridgeChip, pull: float | None, holds: bool) -> Power:
    """Both bridges with their lines, pulls and program, for the state tables."""
    held = Pull("low", pull) if pull and holds else None
    weak_one = pull is not None and not holds and part.open_reads != "low"
    reads = "unknown" if weak_one else part.open_reads
    lines = tuple(Line(r, part.reads_low, part.reads_high, held, reads) for r in ROLES)
    ohms = part.drop_max[-1] / part.drop_at[-1] / 2
    rows = bridge_states.chip_rows(part, False)
    return Power(
        "stepper",
        context.volts.max,
        bridge_states.STIFF,
        context.board.logic.max,
        context.board.logic.max,
        lines,
        turning(context),
        bridge_states.start_of(context),
        chips=tuple(
            Chip(f"U1{mark}", (one, other), (f"{w}.OUT1", f"{w}.OUT2"), rows, ohms)
            for w, one, other, mark in PACKAGES
        ),
        windings=tuple(
            Winding(w, w, (f"{w}.OUT1", f"{w}.OUT2"), context.load.resistance.min)
            for w, *_ in PACKAGES
        ),
    )
