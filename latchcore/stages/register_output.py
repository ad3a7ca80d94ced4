"""An open drain of a power register: the load hangs between its rail and an output of a chain."""

from __future__ import annotations

from latchcore.catalogue.chain_records import ChainPart
from latchcore.catalogue.switch_records import Zener
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.design.states import Control, Decided
from latchcore.figures.quantity import show
from latchcore.figures.spread import Spread
from latchcore.pieces import clamps, load_join, low_side
from latchcore.pieces.frame import (
    Traits,
    add_part,
    junction_measure,
    power_only,
    pwm_measure,
)

kind = "register_output"
title = "Power register output"
summary = "The load on an open drain of a latched register: no transistor, no diode, no pin."
settings = ()
traits = Traits(cost=0, fails="shorted: the load stays on")
#: What its line must be able to do.
wants = frozenset({"sink"})


def suits(context: ChannelContext) -> str | None:
    """Direct current below the load, where the build has a chain of open drains."""
    if not any(c.part.drives == "sinks" for c in context.around.chains.values()):
        return "the build has no chain of power registers"
    return power_only(context)


def part_of(context: ChannelContext) -> ChainPart:
    """The package its line belongs to; the first class while it is on none."""
    chain = context.around.of_line(context.channel.pin)
    if chain is not None and chain.part.drives == "sinks":
        return chain.part
    chains = (c.part for c in context.around.chains.values())
    others = [*chains, *context.around.family("chain")]
    return next(p for p in others if p.drives == "sinks")


def size(context: ChannelContext) -> StageResult:
    """What one output keeps, bears and catches; the package is reckoned with all its outputs."""
    part = part_of(context)
    result = StageResult(kind, title, {"chain": part}, auto_part=False)
    w, add, volts = result.working, result.measures.append, context.volts
    ohms = part.r_on or part.low_level / part.takes
    running = low_side.running_current(context, result)
    result.pin_current = 0.0
    drop = w.calc(
        "V_drop_max",
        "R_on*I_load_max",
        "V",
        "hot switch",
        R_on=(ohms, "Ω"),
        I_load_max=(running, "A"),
    )
    single, together = part.single or part.absolute, part.together or part.takes
    add(
        Measure(
            "switch_current",
            "D2",
            "Output current",
            "A",
            running,
            "max",
            "highest supply, least load",
            "I_load_max",
            "One output alone carries more than all of them at once.",
            stop=single,
            fix=together,
            stop_name="one output alone",
            fix_name="all outputs on",
            typical=result.typical,
        )
    )
    if result.surge > running:
        w.note("I_surge", "surge of the load", "A", result.surge, {}, {}, "measured or usual")
        add(
            Measure(
                "switch_surge",
                "D13",
                "Surge through the output",
                "A",
                result.surge,
                "max",
                "upper end of the usual surge",
                "I_surge",
                "Its limit is printed for a moment, and out of it the switch takes volts too.",
                stop=part.absolute,
                stop_name="pulse rating",
            )
        )
    result.power = w.calc(
        "P_out",
        "R_on*I_load_max**2*D",
        "W",
        "hot switch, highest current",
        R_on=(ohms, "Ω"),
        I_load_max=(running, "A"),
        D=(context.heat_duty, ""),
    )
    hot = w.calc(
        "T_J",
        "T_amb + P_out*theta",
        "°C",
        "this output alone",
        T_amb=(context.around.ambient, "°C"),
        P_out=(result.power, "W"),
        theta=(part.theta_ja, "K/W"),
    )
    junction_measure(
        context, result, hot, part.t_j_max, why="This output alone; the package has others."
    )
    pwm_measure(context, result, part.t_on, part.t_off)
    low_side.load_measures(context, result, 0.0, ohms * result.typical, drop)
    if part.clamp is not None:
        low_side.blocking_measure(context, result, volts.max, part.clamp.min)
        if context.load.kind.inductive:
            _catches(context, result, part, part.clamp)
    _join(context, result, part)
    _states(context, result)
    result.live = {
        "pin": context.channel.pin or "no line yet",
        "load": show(running, "A"),
        "switch": f"on ≤ {show(drop, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _catches(context: ChannelContext, result: StageResult, part: ChainPart, clamp: Spread) -> None:
    """The clamp inside: what one opening puts into it, and how fast the coil lets go."""
    load, w = context.load, result.working
    result.coil.built_in_clamp = True
    held = {
        "family": "zener",
        "id": "inside",
        "title": "clamp inside",
        "v_z": f"{clamp.min} / {clamp.typ} / {clamp.max} V",
        "power": "1 W",
        "i_peak": f"{part.absolute} A",
    }
    inside = clamps.Clamp("zener_across_switch", zener=Zener.model_validate(held))
    clamps.switching_off(context, result, inside)
    if load.inductance is None or part.clamp_energy is None or clamp.min <= context.volts.max:
        return
    opened = clamps.opened(context, result.running)
    energy = w.calc(
        "E_off",
        "L*I**2/2*V_cl/(V_cl - V_supply_max)",
        "J",
        "highest inductance and current, lowest clamp",
        "the supply pushes on while the clamp takes the coil's energy",
        L=(load.inductance.max, "H"),
        I=(opened, "A"),
        V_cl=(clamp.min, "V"),
        V_supply_max=(context.volts.max, "V"),
    )
    result.measures.append(
        Measure(
            "clamp_energy",
            "C6",
            "Energy into the clamp inside",
            "J",
            energy,
            "max",
            "highest inductance and current, lowest clamp",
            "E_off",
            "A coil's energy has to go somewhere; here it goes into the chip.",
            fix=part.clamp_energy,
            fix_name="what the output bears once",
        )
    )


def _join(context: ChannelContext, result: StageResult, part: ChainPart) -> None:
    _, switch = load_join.join_low_load(context, result)
    result.netlist.domains |= {"0V": "logic"}
    line = context.channel.pin or "no line yet"
    add_part(context, result, "Q1", "chain_out", line, part.title, OUT=switch, GND="0V")


def _states(context: ChannelContext, result: StageResult) -> None:
    """An open drain is off whenever its register is released; what it keeps is the chain's."""
    board = context.board
    chain = context.around.of_line(context.channel.pin)
    loose = "its register lets go" if chain and not chain.keeps else "its register keeps it"
    released = Decided(f"{loose}; an open drain that is released is off", load="off")
    result.drive.active = "high"
    result.states += Control(
        f"{context.channel.id}.SW",
        "high",
        None,
        off=Decided("its bit is 0", load="off"),
        floating=released,
        boot=released,
        dead=Decided("rail dead as well", load="off") if context.rail_dies_with_board else released,
        on_text="its bit is 1",
        upload=f"reset and upload, up to {show(board.upload_time, 's')}",
        start=f"boot, about {show(board.boot_time, 's')}",
        in_volts=False,
    ).states()
