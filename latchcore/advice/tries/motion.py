"""Motors both ways."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried
from latchcore.figures.preferred import values
from latchcore.figures.quantity import rounded, show
from latchcore.pieces.bridge_currents import RUN_DOWN, free_rest


@tried
def rest_first(case: Case) -> Iterator[Candidate]:
    """The program waits until the motor stands before it turns it the other way."""
    if case.result.motion is not None and case.knows >= {"rest"}:
        rest = free_rest(case.context)
        words = "" if case.fixed.get("run_down") else f", {RUN_DOWN:g} s where nobody measured"
        yield (
            f"Let the program rest {rest} before it turns the other way{words}",
            case.setting(rest=rest),
        )


@tried
def bridge(case: Case) -> Iterator[Candidate]:
    """The smallest bridge that holds, else each other one with its enable on a line or tied."""
    if "bridge" not in case.knows:
        return
    if "bridge" in case.fixed:
        yield "Use the smallest bridge that holds", case.setting(bridge="auto")
    for part in case.context.around.family("bridge_chip"):
        yield f"Use the {part.title}", case.setting(bridge=part.id)


@tried
def bridge_logic(case: Case) -> Iterator[Candidate]:
    """Another rail for the logic supply of a bridge."""
    if "logic_rail" not in case.knows:
        return
    for rail in case.context.around.build.rails:
        yield f"Feed its logic from {rail.name}", case.setting(logic_rail=rail.id)
    yield "Feed its logic from the board", case.setting(logic_rail="auto")


@tried
def cut_first(case: Case) -> Iterator[Candidate]:
    """A switch that cuts the current before contacts move."""
    if case.fixed.get("run") == "none":
        yield "Let a MOSFET cut the current before the contacts move", case.setting(run="stage")


@tried
def kept_apart(case: Case) -> Iterator[Candidate]:
    """Logic by which two lines never count together."""
    if "apart" in case.knows and case.fixed.get("apart") != "wired":
        yield "Logic before the gates keeps both apart", case.setting(apart="wired")
    if "interlock" in case.knows:
        for key, words in (("logic", "Logic before the gates"), ("cross", "Cross-coupled drivers")):
            lone = key == "logic" and case.fixed.get("lines") == "four"
            if case.fixed.get("interlock") != key and not lone:
                yield f"{words} keep both switches of a side apart", case.setting(interlock=key)


@tried
def slower_steps(case: Case) -> Iterator[Candidate]:
    """Fewer steps a second, or a ramp."""
    measure = case.finding.measure
    if measure is None or measure.key != "step_rate":
        return
    if case.fixed.get("ramp") != "ramped":
        yield "Let the program begin slowly and end so", case.setting(ramp="ramped")
    rate = rounded(measure.limit, "Hz", up=False)
    yield f"Step at {rate}", case.setting(step_rate=rate)


@tried
def seldomer(case: Case) -> Iterator[Candidate]:
    """All of a panel written as often as it can be."""
    measure = case.finding.measure
    if measure is not None and measure.key == "redraw":
        every = rounded(measure.worst, "s", up=True)
        yield f"Write all of it every {every}", case.setting(redrawn=every)


@tried
def longer_pause(case: Case) -> Iterator[Candidate]:
    """The program waits until a servo has got there."""
    measure = case.finding.measure
    if measure is not None and measure.key == "servo_way":
        pause = rounded(measure.worst, "s", up=True)
        yield f"Give it {pause}", case.setting(pause=pause)


@tried
def shorter_arm(case: Case) -> Iterator[Candidate]:
    """An arm a servo can hold what hangs on it at."""
    measure, force = case.finding.measure, case.context.given("force", "N")
    if measure is not None and measure.key == "servo_torque" and force:
        arm = rounded(measure.limit / force, "m", up=False)
        yield f"Shorten its arm to {arm}", case.setting(arm=arm)


@tried
def less_current(case: Case) -> Iterator[Candidate]:
    """A driver set lower, or a resistor before each winding."""
    measure = case.finding.measure
    if measure is None or measure.key not in ("winding_current", "driver_current", "series_heat"):
        return
    if "reference" in case.fixed:
        yield "Set the driver by the motor's rated current", case.setting(reference="")
    if measure.key == "driver_current" and case.fixed.get("sink") != "yes":
        yield "Fit a heat sink on the driver", case.setting(sink="yes")
    if measure.key == "series_heat":
        watts = next((w for w in WATTS if w / 2 >= measure.worst), None)
        if watts:
            yield (
                f"A resistor of {watts} W before each winding",
                case.setting(series_watts=f"{watts} W"),
            )
    if "series" in case.knows and measure.key == "winding_current":
        yield from _series(case)


#: Watts resistors before windings come in.
WATTS = (2, 5, 10, 17, 25, 50, 100)


def _series(case: Case) -> Iterator[Candidate]:
    context = case.context
    rated = context.load.current.typ
    ohms = context.volts.max / (rated * 1.05) - context.load.resistance.min
    already = context.given("series", "Ω") or 0.0
    wanted = next((float(v) for v in values(context.series) if v >= ohms + already), None)
    if wanted:
        text = show(wanted, "Ω")
        yield f"Put {text} before each winding", case.setting(series=text, series_watts="")


@tried
def longer_dead_time(case: Case) -> Iterator[Candidate]:
    """A dead time that lets the slower of both switches go."""
    measure = case.finding.measure
    if measure is not None and measure.key == "dead_time":
        wanted = rounded(measure.limit, "s", up=True)
        yield f"Let the program wait {wanted} between both", case.setting(dead_time=wanted)
