"""What is refused before a behaviour is run: the faults a step could not decide."""

from __future__ import annotations

from latchcore.behaviour.faults import Fault
from latchcore.behaviour.holding import manner_faults
from latchcore.behaviour.looked_at import LookedAt
from latchcore.behaviour.named import Names
from latchcore.behaviour.times import percent, step_of
from latchcore.document import behaviour as said
from latchcore.document.models import Build

#: A step is no shorter than this and no longer [s].
SHORTEST_STEP, LONGEST_STEP = 0.001, 1.0


def faults_of(build: Build) -> list[Fault]:
    """
    Every fault of a build's behaviour, in the order of its lists.

    Examples
    --------
    >>> faults_of(Build(name="Bench"))
    []
    >>> lock = {"id": "il1", "channels": ["ch1"]}
    >>> build = Build.model_validate({"name": "Bench", "behaviour": {"interlocks": [lock]}})
    >>> [fault.field for fault in faults_of(build)]
    ['channels', 'channels']
    """
    behaviour = build.does
    look = LookedAt(build, Names.of(build))
    step = step_of(behaviour)
    if not SHORTEST_STEP <= step <= LONGEST_STEP:
        look.add("", "step", f"A step of {behaviour.step} is none; expected 1 ms to 1 s.")
    _looked_at(look)
    for request in behaviour.requests:
        _request(look, request)
    for bar in behaviour.bars:
        look.channel(bar.id, bar.channel)
        look.condition(bar.id, bar.condition)
    _interlocks(look)
    _staggers(look)
    for plan in behaviour.sequences:
        _sequence(look, plan)
    for macro in behaviour.macros:
        _macro(look, macro)
    seen: set[str] = set()
    for manner in behaviour.manners:
        if manner.channel in seen:
            look.add(manner.channel, "channel", "What holds for this channel is stated twice.")
        seen.add(manner.channel)
        manner_faults(look, manner, step)
    return look.faults


def _looked_at(look: LookedAt) -> None:
    """Named conditions and queues, each of which may rest on earlier ones only."""
    for item in look.build.does.conditions:
        look.condition(item.id, item.condition)
        look.earlier.add(item.id)
    for queue in look.build.does.queues:
        look.event(queue.id, queue.event)
        if queue.clear is not None:
            look.event(queue.id, queue.clear, "clear")
        look.queues.add(queue.id)


def _level(look: LookedAt, of: str, channel: str, level: str | None, where: str = "level") -> None:
    """A level asks for something, and of a channel that has levels."""
    if level is None:
        return
    if percent(level) == 0:
        look.add(of, where, f"“{level}” asks for nothing; expected 1 % to 100 %.")
    elif percent(level) < 100 and not look.names.scaled(channel):
        name = look.names.outputs[channel].name
        look.add(
            of,
            where,
            f"{name} is switched, on at any level; leave this empty, or state at what frequency it"
            " dims.",
        )


def _request(look: LookedAt, request: said.Request) -> None:
    of = request.id
    if not look.channel(of, request.channel):
        return
    if isinstance(request, said.While):
        look.condition(of, request.condition)
        _level(look, of, request.channel, request.level)
    elif isinstance(request, said.Follow):
        _follow(look, request)
    else:
        look.event(of, request.event)
        if not isinstance(request, said.Ramp):
            _level(look, of, request.channel, request.level)
    known = look.build.does.manner(request.channel).confirm == "toggle_load"
    if isinstance(request, said.Pulse) and request.bring is not None and not known:
        look.add(
            of,
            "bring",
            "To bring it to an end it must be known where it stands; expected both end"
            " switches, stated at the channel.",
        )


def _follow(look: LookedAt, request: said.Follow) -> None:
    of = request.id
    if not look.sense(of, request.of, True, "of"):
        return
    sense = look.names.senses[request.of]
    low, high = float(request.low), float(request.high)
    least, most = min(sense.low, sense.high), max(sense.low, sense.high)
    for where, value in (("low", low), ("high", high)):
        if not least <= value <= most:
            look.add(
                of,
                where,
                f"{value:g} is off the scale of {sense.name}; expected {least:g} to {most:g}.",
            )
    if low == high:
        look.add(of, "high", f"Both ends are {low:g}; expected two different ones.")
    band = float(request.dead_band)
    if not 0 <= band <= abs(high - low) / 2:
        look.add(
            of,
            "dead_band",
            f"A dead band of {request.dead_band} is over half of what it follows; expected 0 to"
            f" {abs(high - low) / 2:g}.",
        )
    if percent(request.level_low) == percent(request.level_high):
        look.add(of, "level_high", "Both levels are the same; expected two different ones.")


def _interlocks(look: LookedAt) -> None:
    """Two channels or more, and no two that are named in contrary order."""
    ordered: dict[tuple[str, str], str] = {}
    for lock in look.build.does.interlocks:
        for key in lock.channels:
            look.channel(lock.id, key, "channels")
        if len(set(lock.channels)) < max(len(lock.channels), 2):
            look.add(lock.id, "channels", "An interlock wants two different channels or more.")
        for n, first in enumerate(lock.channels):
            for second in lock.channels[n + 1 :]:
                if (second, first) in ordered:
                    look.add(
                        lock.id,
                        "channels",
                        f"It names two channels in the contrary order of"
                        f" “{ordered[second, first]}”; which of them goes first must be the same"
                        " in both.",
                    )
                ordered[first, second] = lock.name


def _staggers(look: LookedAt) -> None:
    rails: set[str] = set()
    for turn in look.build.does.staggers:
        if look.build.rail(turn.rail) is None:
            look.add(turn.id, "rail", "It names a rail that is no longer in the build.")
        if turn.rail in rails:
            look.add(turn.id, "rail", "The switch-ons of this rail are parted already.")
        rails.add(turn.rail)


def _sequence(look: LookedAt, plan: said.Sequence) -> None:
    if plan.start is None:
        look.add(plan.id, "start", "Nothing starts it; expected an event.")
    else:
        look.event(plan.id, plan.start, "start")
    if plan.abort is not None:
        look.event(plan.id, plan.abort, "abort")
    elif plan.repeat == 0:
        look.add(
            plan.id,
            "repeat",
            "Repeated until it is aborted, and nothing aborts it: it would never end. Expected a"
            " number of times, or what aborts it.",
        )
    if not plan.phases:
        look.add(plan.id, "phases", "It has no phase; expected one at least.")
    names = [phase.name for phase in plan.phases]
    if len(set(names)) < len(names):
        look.add(plan.id, "phases", "Two phases have one name.")
    for n, phase in enumerate(plan.phases):
        _phase(look, plan, n, phase)
    for key in plan.after_abort:
        look.channel(plan.id, key, "after_abort")


def _phase(look: LookedAt, plan: said.Sequence, n: int, phase: said.Phase) -> None:
    of, where = plan.id, f"phases.{n}"
    for key in phase.states:
        look.channel(of, key, f"{where}.states")
    ends = [e for e in (phase.lasts, phase.until, phase.until_true) if e is not None]
    if len(ends) != 1:
        look.add(
            of,
            f"{where}.lasts",
            f"“{phase.name}” {'has no end' if not ends else 'has more than one end'}; expected a"
            " time, or what ends it.",
        )
    if phase.until is not None:
        look.event(of, phase.until, f"{where}.until")
    if phase.until_true is not None:
        look.condition(of, phase.until_true, f"{where}.until_true")
    if phase.lasts is None and ends and phase.longest is None:
        look.add(
            of,
            f"{where}.longest",
            f"“{phase.name}” waits for something that may never come; expected the longest it may"
            " take.",
        )
    if phase.lasts is not None and phase.longest is not None:
        look.add(of, f"{where}.longest", f"“{phase.name}” lasts its time and no longer.")
    known = {p.name for p in plan.phases}
    if phase.then == "phase" and phase.then_phase not in known:
        look.add(of, f"{where}.then_phase", f"“{phase.name}” leads to a phase that is not there.")


def _macro(look: LookedAt, macro: said.Macro) -> None:
    if macro.start is None:
        look.add(macro.id, "start", "Nothing starts it; expected an event.")
    else:
        look.event(macro.id, macro.start, "start")
    if not macro.presses:
        look.add(macro.id, "presses", "It presses nothing; expected one press at least.")
    for n, press in enumerate(macro.presses):
        look.channel(macro.id, press.channel, f"presses.{n}.channel")
