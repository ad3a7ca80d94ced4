"""A bipolar stepper on a driver chip that sets its current: step, direction, enable."""

from __future__ import annotations

from latchcore.catalogue.chain_records import StepDriver
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of
from latchcore.design.states import Control, Decided
from latchcore.figures.quantity import parse, show
from latchcore.figures.resistance import resistor_words
from latchcore.pieces import control_inputs, several, stepping
from latchcore.pieces.frame import Traits, add_part, load_domain, pin_limits
from latchcore.pieces.sensing import VDD
from latchcore.sums import pulls
from latchcore.sums.steppers import chopper

kind = "step_driver"
title = "Stepper driver chip"
summary = "Step and direction; the chip keeps the current, so that the rail may be many times I·R."
settings = (
    Setting("driver", "Driver", "part", family="step_driver"),
    Setting("reference", "Its reference is set to", "volts"),
    Setting("sense", "Each sense resistor", "resistance", usual="100 mΩ"),
    Setting("sink", "A heat sink on it", "choice", choices=(("no", "none"), ("yes", "fitted"))),
    Setting(
        "enable",
        "Its enable",
        "choice",
        choices=(("line", "on a line of its own"), ("tied", "tied: it always holds")),
    ),
    Setting("pull_resistor", "Pull-up at its enable", "ohms", may_omit=True),
    *(s for s in stepping.SETTINGS if s.key in ("step_rate", "start_stop", "ramp", "rest_share")),
)
traits = Traits(cost=8, side="both", fails="dead: the motor stands and holds nothing")
#: Sense resistors that come on such carriers [Ω], their spread, the spread of the reference.
SENSE, SENSE_SPREAD, REFERENCE_SPREAD = 0.1, 0.01, 0.035
#: Choppers work above what is heard [Hz]; so much of the rail may dip meanwhile; an electrolytic
#: has so much less than printed; those that are common [F].
CHOPS, DIP, CAPACITOR_SPREAD = 20e3, 0.05, 0.2
CAPACITORS = (100e-6, 220e-6, 470e-6, 1000e-6, 2200e-6, 4700e-6)


def suits(context: ChannelContext) -> str | None:
    """Why the stage cannot serve a load, or ``None``."""
    if context.alternating:
        return "it switches direct current"
    if context.load.kind.model != "two_windings":
        return "for a stepper motor of two windings"
    return None


def roles(context: ChannelContext) -> tuple[str, ...]:
    """Step and direction; its enable where that is on a line."""
    own = ("step", "direction")
    return own if context.setting("enable") == "tied" else (*own, "enable")


def pulsed(context: ChannelContext) -> tuple[str, ...]:
    """None is pulsed by a timer: the program counts steps."""
    return ()


def size(context: ChannelContext) -> StageResult:
    """Set the driver the user fixed, or the smallest class that holds."""
    fixed = context.around.part(context.setting("driver"))
    if isinstance(fixed, StepDriver):
        return _with(context, fixed, False)
    return best_of(context.around.family("step_driver"), lambda part: _with(context, part, True))


def _with(context: ChannelContext, part: StepDriver, auto: bool) -> StageResult:
    result = StageResult(kind, title, {"driver": part}, auto_part=auto)
    result.values.append(Sized("driver", "Driver", "U1", "", None, part.title, not auto))
    w, load, volts = result.working, context.load, context.volts
    rated, winding = load.current.typ, load.resistance.typ
    sense = context.given("sense", "Ω") or SENSE
    wanted = rated / (1 + SENSE_SPREAD) / (1 + REFERENCE_SPREAD) * part.gain * sense
    given = context.given("reference", "V")
    reference = given or _rounded(min(wanted, part.limit(False) * part.gain * sense))
    text = f"{show(reference, 'V')} at its reference"
    result.values.append(Sized("reference", "Set to", "V_ref", "V", reference, text, bool(given)))
    found = chopper(
        reference_min=reference * (1 - REFERENCE_SPREAD),
        reference_max=reference * (1 + REFERENCE_SPREAD),
        sense=sense,
        sense_tolerance=SENSE_SPREAD,
        gain=part.gain,
        winding=winding,
        inductance=load.inductance.max if load.inductance else 0.0,
        supply_min=volts.min,
        rated=rated,
        rest=stepping.rest_share(context),
    )
    w.note("I_set_max", "V_ref_max/(gain*R_sense_min)", "A", found.most, {}, {}, "highest corner")
    w.note("I_set_min", "V_ref_min/(gain*R_sense_max)", "A", found.least, {}, {}, "lowest corner")
    result.each, result.running = found.most, 2 * found.most
    result.typical, result.surge = 2 * rated, 2 * found.most
    result.load_volts = (found.least * load.resistance.min, found.most * load.resistance.max)
    _measures(context, result, part, found, rated)
    control_inputs.supply_limits(context, result, part)
    bulk = _bulk(context, result, found.most)
    _rate(context, result, found.rise)
    result.power = w.calc(
        "P_driver",
        "2*2*R_on*I_set_max**2",
        "W",
        "both windings, two switches each",
        R_on=(part.r_on, "Ω"),
        I_set_max=(found.most, "A"),
    )
    w.note("P_rest", "2*I_set_max**2*R", "W", found.reduced, {}, {}, "standing still")
    pull = _enable_pull(context, result, part)
    _levels(context, result, part, pull)
    _states(context, result, part, pull)
    _join(context, result, part, pull, bulk)
    result.coil.built_in_clamp = True
    result.drive.active = "high"
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "load": show(found.most, "A"),
        "switch": f"sets {show(found.least, 'A')} to {show(found.most, 'A')}",
        "volts": result.shown_volts,
        "rest": f"{found.reduced:.3g} W at rest",
    }
    return result


def _rounded(volts: float) -> float:
    """What can be set with a screwdriver and a meter: full ten millivolts."""
    return max(int(volts * 100 + 1e-9) / 100, 0.01)


def _measures(
    context: ChannelContext, result: StageResult, part: StepDriver, found, rated: float
) -> None:
    add, sink = result.measures.append, context.setting("sink") == "yes"
    add(
        Measure(
            "driver_current",
            "M3",
            "Current the driver is set to",
            "A",
            found.most,
            "max",
            "highest reference, least sense resistor",
            "I_set_max",
            "Over it the chip cuts out when it is hot, and the motor loses its place.",
            stop=part.limit(sink),
            stop_name="what it bears " + ("with a sink" if sink else "without a sink"),
            setting="reference",
        )
    )
    add(
        Measure(
            "winding_current",
            "C2",
            "Current a winding holds",
            "A",
            found.most,
            "max",
            "highest reference, least sense resistor",
            "I_set_max",
            "Standing still a stepper takes what its driver is set to for as long as it stands.",
            stop=stepping.BEARS * rated,
            stop_name="a quarter over its rated current",
            setting="reference",
        )
    )


def _rate(context: ChannelContext, result: StageResult, rise: float) -> None:
    """D9 of the step rate, where it is stated."""
    w = result.working
    fastest = w.note("f_rise", "1/rise, never over 3·L/R", "Hz", 1 / rise if rise else 1e9, {}, {})
    # A driver that is told step by step follows as fast as its inputs; the motor does not.
    result.pulses.limit = fastest
    text = context.setting("step_rate")
    if text:
        stepping.rate_measure(context, result, parse(text, "Hz"), fastest)


def _enable_pull(context: ChannelContext, result: StageResult, part: StepDriver) -> Sized | None:
    """What holds its enable off while nobody drives it; it is on while low."""
    if context.setting("enable") == "tied" or context.left_out("pull_resistor"):
        return None
    yours = context.ohms("pull_resistor")
    value = yours or context.resistor(10e3)
    text = resistor_words(value, context.tolerance)
    pull = Sized("pull_resistor", "Pull-up at its enable", "R3", "Ω", value, text, bool(yours))
    result.values.append(pull)
    return pull


def _levels(
    context: ChannelContext, result: StageResult, part: StepDriver, pull: Sized | None
) -> None:
    """P1, P7 and P8 of its lines."""
    board, w = context.board, result.working
    takes = part.input_current + (board.logic.max / pull.low if pull else 0.0)
    result.pin_current = w.note("I_pin", "an input, and the pull-up", "A", takes, {}, {})
    pin_limits(context, result, "one line", "An input takes little.")
    between = "Between both levels a step is lost or made up."
    control_inputs.input_levels(context, result, part, between, between, pulled_up=pull is not None)


def _bulk(context: ChannelContext, result: StageResult, amperes: float) -> Sized:
    """The capacitor beside it, which gives both windings their current while the leads do not."""
    w = result.working
    least = w.calc(
        "C_bulk",
        "2*I_set_max/(f_chop*share*V_supply_min*(1 - spread))",
        "F",
        "lowest supply, both windings",
        "what both take in one period of its chopper falls by no more than the share",
        I_set_max=(amperes, "A"),
        f_chop=(CHOPS, "Hz"),
        share=(DIP, ""),
        V_supply_min=(context.volts.min, "V"),
        spread=(CAPACITOR_SPREAD, ""),
    )
    fits = next((c for c in CAPACITORS if c >= least), CAPACITORS[-1])
    text = f"{show(fits, 'F')}, {show(1.5 * context.volts.max, 'V', 2)} or more"
    found = Sized("bulk", "Capacitor beside it", "C1", "F", fits, text, False)
    result.values.append(found)
    return found


def _states(
    context: ChannelContext, result: StageResult, part: StepDriver, pull: Sized | None
) -> None:
    """It holds while its enable is low: through reset only where nothing pulls that up."""
    board, tied = context.board, context.setting("enable") == "tied"
    off = Decided("its enable is high: the windings are let go", load="off")
    holds = Decided("tied on, it holds its place", load="on")
    left = pull is not None and board.logic.min - pulls.node_against_leakage(
        board.leakage + part.input_current, pull.size, pull.tolerance, result.working
    )
    quiet = left is not False and left >= part.reads_high
    loose = holds if tied else off if quiet else Decided("nothing decides its enable")
    dead = Decided("rail dead as well", load="off")
    if not context.rail_dies_with_board:
        dead = Decided("its logic is dead with the board", load="off")
    result.states += Control(
        f"{context.channel.id}.PIN",
        "high",
        None,
        off=holds if tied else off,
        floating=loose,
        boot=loose,
        dead=dead,
        on_text="it steps and holds",
        upload=f"reset and upload, up to {show(board.upload_time, 's')}",
        start=f"boot, about {show(board.boot_time, 's')}",
        in_volts=False,
    ).states()


def _join(
    context: ChannelContext,
    result: StageResult,
    part: StepDriver,
    pull: Sized | None,
    bulk: Sized,
) -> None:
    channel, net = context.channel, result.netlist
    nodes = several.join_lines(context, result, roles(context))
    rail, back = context.feed.id, context.around.return_of(context.feed)
    ends = {"VM": rail, "VCC": VDD, "GND": back, "STEP": nodes["step"], "DIR": nodes["direction"]}
    ends["EN"] = nodes.get("enable", "0V")
    net.domains |= {rail: load_domain(context), VDD: "logic", back: load_domain(context)}
    for winding, mark in (("A", ""), ("B", "b")):
        one, other = f"{channel.id}.OUT1.{winding}", f"{channel.id}.OUT2.{winding}"
        net.domains |= dict.fromkeys((one, other), load_domain(context))
        ends |= {f"{winding}1": one, f"{winding}2": other}
        coil = f"{channel.id}.LOAD{mark}"
        net.add(coil, "load", channel.load.shown, channel.id, winding, **{"+": one, "-": other})
    add_part(context, result, "U1", "step_chip", part.title, **ends)
    across = {"1": rail, "2": back}
    add_part(context, result, "C1", "capacitor", bulk.text, "at the driver", **across)
    if pull is not None:
        up = {"1": nodes["enable"], "2": VDD}
        add_part(context, result, "R3", "resistor", pull.text, "enable", **up)
