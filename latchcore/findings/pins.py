"""Pins: what they cannot do, who owns them, and what they do before the program runs."""

from __future__ import annotations

from latchcore.catalogue.boards import Pin
from latchcore.design.context import ChannelContext
from latchcore.design.kinds import lines_of, pins_of, pulsed_of, wants_of
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import show
from latchcore.figures.slack import exceeds
from latchcore.sums.pulls import node_against_pull_up
from latchcore.whole.pinning import SHARED_OWNERS, by_timer


def usable(pin, wants: frozenset[str] = frozenset({"out"})) -> bool:
    """Whether a pin can be an output at all, or whatever else is wanted of it."""
    return wants <= set(pin.can) and (pin.owner is None or pin.owner in SHARED_OWNERS)


def _severity(context: ChannelContext) -> tuple[str, bool]:
    return ("stop", True) if context.hazardous else ("fix", False)


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """P3, P4, P5, P6, P10 and P13 of one channel, over all its lines."""
    found = _level(context, result)
    fast = pulsed_of(context)
    for role, name in lines_of(context):
        pin = context.around.line(name)
        if pin is not None:
            found += _unfit(context, result, pin, role in fast)
        elif name and context.around.of_line(name) is None:
            found.append(
                Finding(
                    "P3",
                    "stop",
                    context.channel.id,
                    f"This board has no pin {name}",
                    f"{context.board.title} has no line of that name.",
                    "A pin that is not there drives nothing.",
                    cause=role,
                )
            )
    if context.pin is None or any(f.check == "P3" for f in found):
        return found
    found += (
        _start(context, result)
        + _boot(context, result)
        + _unpowered(context, result)
        + _hung(context, result)
    )
    return found


def _placed(context: ChannelContext) -> list[Pin]:
    """The pins a channel hangs on, its own first."""
    return [pin for pin in pins_of(context) if pin is not None]


def _unfit(context: ChannelContext, result: StageResult, pin: Pin, fast: bool) -> list[Finding]:
    """P3 and P10 of one line."""
    where, found = context.channel.id, []
    if result.drive.senses:
        if "in" not in pin.can:
            found.append(
                Finding(
                    "P3",
                    "stop",
                    where,
                    f"{pin.id} cannot be an input",
                    f"{pin.id} ({pin.chip}) has no input.",
                    "Nothing is read there.",
                )
            )
    elif not wants_of(context) <= set(pin.can):
        found.append(Finding("P3", "stop", where, *_no_output(pin)))
    elif pin.owner and pin.owner not in SHARED_OWNERS:
        found.append(
            Finding(
                "P3",
                "stop",
                where,
                f"{pin.id} belongs to {pin.owner}",
                f"{pin.id} ({pin.chip}) is used by {pin.owner} on this board.",
                "Shared, the board does not start or the load acts with every transfer.",
            )
        )
    pulses = (context.channel.pwm and fast) or by_timer(context.channel)
    if pulses and "pwm" not in pin.can:
        found.append(
            Finding(
                "P10",
                "stop",
                where,
                f"{pin.id} has no PWM",
                f"The channel wants {context.channel.pwm or 'pulses'}, {pin.id} can only switch.",
                "Without a timer behind it the pin cannot pulse by itself.",
            )
        )
    return found


def _no_output(pin: Pin) -> tuple[str, str, str]:
    """Why a line cannot drive what hangs on it: title, sentence, why it matters."""
    if "sink" in pin.can:
        return (
            f"{pin.id} only pulls down",
            f"{pin.id} ({pin.chip}, {pin.header}) is an open drain; it gives no high level.",
            "A stage that wants a level sees none; a load between rail and output is switched.",
        )
    if "out" in pin.can:
        return (
            f"{pin.id} carries no load by itself",
            f"{pin.id} ({pin.chip}) gives a level; it is no power output of a register.",
            "The load would hang on a pin.",
        )
    return (
        f"{pin.id} cannot be an output",
        f"{pin.id} ({pin.chip}) is input only.",
        "It has no output driver; the stage would never see a level.",
    )


def unlimited(context: ChannelContext) -> bool:
    """Whether neither watchdog nor hardware ends what a hung program left on."""
    return context.around.build.watchdog != "yes" and not context.ended_in_hardware


def _hung(context: ChannelContext, result: StageResult) -> list[Finding]:
    """P14 where a load of the hazard list would stay on; the rest of a build is asked once."""
    if context.around.build.watchdog != "no" or not unlimited(context) or not context.hazardous:
        return []
    return [
        Finding(
            "P14",
            "stop",
            context.channel.id,
            "Nothing ends it when the program hangs",
            f"Hung with the output on, the {context.load.kind.title.lower()} stays on until"
            " somebody notices.",
            "A program that hangs leaves its pins as they are; a watchdog or a limit in hardware"
            " takes them back.",
            "program hung, output on",
            lasting=True,
        )
    ]


def _start(context: ChannelContext, result: StageResult) -> list[Finding]:
    """
    P4: what the stage hangs on a start-up pin must not outvote the level the board needs there.
    """
    pull = result.value("pull_resistor")
    pins = [p for p in _placed(context) if p.start == "high" and p.pull is not None]
    if not pins or pull is None:
        return []
    pin = pins[0]
    level = node_against_pull_up(context.board.logic.min, pin.pull.max, pull.value, pull.tolerance)
    needed = context.limits["start_level"] * context.board.logic.min
    if level >= needed:
        return []
    return [
        Finding(
            "P4",
            "stop",
            context.channel.id,
            f"{pin.id} must be high to start",
            f"The {pull.text} to ground leaves {show(level, 'V')} where the start needs"
            f" {show(needed, 'V')}.",
            "The board reads this pin when it starts; pulled the wrong way it does not run the"
            " program.",
            "strongest pull-down against the board's weakest pull-up",
        )
    ]


def _boot(context: ChannelContext, result: StageResult) -> list[Finding]:
    where, driven = context.channel.id, ("driven_high", "driven_low", "pulses")
    pin = next((p for p in _placed(context) if p.reset in driven), context.pin)
    severity, lasting = _severity(context)
    states = {state.key: state for state in result.states}
    boot, floating = states.get("weakly_pulled"), states.get("floating")
    if boot and boot.load == "on" and pin.reset in driven:
        does = (
            "is driven low"
            if pin.reset == "driven_low"
            else "is driven high"
            if pin.reset == "driven_high"
            else "pulses"
        )
        return [
            Finding(
                "P5",
                severity,
                where,
                f"{pin.id} {does} while the board starts",
                f"For about {show(context.board.boot_time, 's')} the load acts before the program"
                " runs.",
                "No resistor outvotes a driven pin; only another pin mends it.",
                "boot",
                node=boot.node,
                lasting=lasting,
            )
        ]
    for state in (floating, boot):
        if state and state.load != "off":
            if state.voltage is None and state.load == "on":
                sentence = f"{state.title}: {state.says}; the load is on."
            elif state.voltage is None:
                sentence = f"Nothing decides the stage while {pin.id} floats: {state.when}."
            else:
                sentence = (
                    f"{state.title}: {show(state.voltage, 'V')} at the input, off only up to"
                    f" {show(state.limit, 'V')}."
                )
            return [
                Finding(
                    "P6",
                    severity,
                    where,
                    "Nothing holds it off before the program runs",
                    sentence,
                    "In reset and during an upload nobody drives the pin; leakage, a hand nearby or"
                    " the board's own pull-up then switch the load.",
                    state.when,
                    node=state.node,
                    lasting=lasting,
                )
            ]
    return []


def _unpowered(context: ChannelContext, result: StageResult) -> list[Finding]:
    state = next((s for s in result.states if s.key == "unpowered"), None)
    back, through = result.drive.back_feed, result.drive.back_feed_through
    feeds = exceeds(back, context.board.injection_limit)
    if state is None or not (feeds or (back > 0 and state.load != "off")):
        return []
    severity, lasting = _severity(context)
    on = result.load_in(state) == "on"
    return [
        Finding(
            "P13",
            severity,
            context.channel.id,
            f"{'On, and feeding' if on else 'It feeds'} the board, when the board is off",
            f"With the board unpowered and the rail live {show(back, 'A')} flows through the"
            f" {through} into the pin.",
            "The dead pin's protection leads it into the board's supply: "
            + ("the load is on and the board half alive." if on else "the board is half alive."),
            "board unpowered, load supply live",
            node=state.node,
            lasting=lasting,
        )
    ]


def _level(context: ChannelContext, result: StageResult) -> list[Finding]:
    """P12: what the program takes for on against what the stage takes for on."""
    says, does = context.channel.on_level, result.on_with
    if says is None or does == "unknown" or says == does or result.drive.senses:
        return []
    return [
        Finding(
            "P12",
            "stop",
            context.channel.id,
            "Program and stage disagree on which level is on",
            f"The program switches it on with the pin {says}; this stage is on with the pin"
            f" {does}.",
            "Everything then works the wrong way round: off is on, and on is off.",
            "every command",
            lasting=context.hazardous,
        )
    ]
