"""Lines of the board, levels and grounds."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.tries.table import Candidate, Case, tried
from latchcore.design.kinds import lines_of, pulsed_of, wants_of
from latchcore.edits.lines import free_pins
from latchcore.findings.pins import usable
from latchcore.stages import STAGES

#: What pins do at boot that no resistor outvotes.
DRIVEN = ("driven_high", "driven_low", "pulses")
#: Stages that need no common ground with the board.
APART = ("coupler_nmos", "coupler_pmos", "coupler_logic", "bridge_reed")


def _lines(case: Case) -> Iterator[Candidate]:
    """Every line of a stage of several that its pin cannot serve or turns on at boot, at once."""
    channel, around = case.context.channel, case.context.around
    wants = wants_of(case.context)
    fast = pulsed_of(case.context) if channel.pwm else ()
    edits, words, taken = [], [], set()
    for role, name in lines_of(case.context):
        pin = around.line(name)
        fits = pin is not None and pin.reset not in DRIVEN and usable(pin, wants)
        if pin is not None and fits and (role not in fast or "pwm" in pin.can):
            continue
        free = [p for p in free_pins(around.build, role in fast, wants) if p not in taken]
        if not free:
            return
        taken.add(free[0])
        words.append(f"{role} to {free[0]}")
        what = channel.id if name == channel.pin else f"{channel.id}.{role}"
        edits.append(("place_pin", {"what": what, "pin": free[0]}))
    if edits:
        yield f"Move {' and '.join(words)}", tuple(edits)


def _pins(case: Case) -> Iterator[Candidate]:
    if case.context.channel.lines:
        yield from _lines(case)
    around, wants = case.context.around, wants_of(case.context)
    for pin in free_pins(around.build, bool(case.context.channel.pwm), wants):
        yield f"Move to {pin} ({around.line(pin).header})", case.edit("set_pin", pin=pin)


def _swaps(case: Case) -> Iterator[Candidate]:
    """Another channel's pin for its own, where that one does on it."""
    build, mine = case.context.around.build, case.context.channel
    for other in build.channels:
        if other.id != mine.id and other.pin and mine.pin and not other.pin_locked:
            edits = (("place_pin", {"what": mine.id, "pin": other.pin}),)
            yield f"Swap with {other.name} on {other.pin}", edits


@tried
def pins(case: Case) -> Iterator[Candidate]:
    """Other pins of the board that are free and serve, else those of others by a swap."""
    yield from _pins(case)
    yield from _swaps(case)


@tried
def quiet_pin(case: Case) -> Iterator[Candidate]:
    """The quietest free pin that serves."""
    yield from _pins(case)


@tried
def led_to_ground(case: Case) -> Iterator[Candidate]:
    """The LED between pin and ground, so that no rail stands behind it."""
    if case.fixed.get("connection") == "sink":
        yield "Connect the LED between pin and 0 V", case.setting(connection="source")


@tried
def shifter(case: Case) -> Iterator[Candidate]:
    """A small transistor between pin and gate."""
    if case.fixed.get("drive") == "pin":
        yield "Put a small NPN between pin and gate", case.setting(drive="npn")


@tried
def level(case: Case) -> Iterator[Candidate]:
    """The level the program takes for on, as the stage has it."""
    used = case.context.channel
    if used.on_level:
        edits = case.edit(
            "set_use",
            when_dead=used.when_dead,
            on_level=case.result.on_with,
            cycles_per_day=str(used.cycles_per_day or ""),
            release_within=used.release_within or "",
        )
        yield f"Let the program switch on with the pin {case.result.on_with}", edits
        yield "Put a small NPN between pin and input", case.setting(drive="npn")


@tried
def join_grounds(case: Case) -> Iterator[Candidate]:
    """One common line, or a stage that needs none."""
    module = case.result.module
    rail = module.input_feed or module.feed or case.context.rail
    if module.part is not None and module.part.separate:
        yield (
            "Feed its inputs from the board's logic supply, jumper taken off",
            case.setting(feed="logic", input_rail="auto"),
        )
    if "line_ground" in case.knows:
        yield (
            "Join the line's ground with the board's, at one point",
            case.setting(line_ground="joined"),
        )
    elif rail is not None:
        yield (
            f"Join the ground of {rail.name} with the board's, at one point",
            (("set_rail", {"rail": rail.id, "ground": "shared"}),),
        )
    for kind in APART:
        title = STAGES[kind].title
        yield f"Use {title[0].lower()}{title[1:]}", case.stage(kind)
