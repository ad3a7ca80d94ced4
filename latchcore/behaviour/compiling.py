"""A build's behaviour compiled to the step that everything runs."""

from __future__ import annotations

from dataclasses import dataclass, field

from latchcore.behaviour.asking import (
    USUAL_WAIT,
    AskedByLine,
    AskedPulse,
    AskedWhile,
    Asks,
    Followed,
    Held,
    Pressed,
    Ramped,
    Toggled,
)
from latchcore.behaviour.channel import ChannelPart, InterlockPart, StaggerPart
from latchcore.behaviour.checking import faults_of
from latchcore.behaviour.confirming import Confirm, EndConfirm, SameConfirm, ToggleConfirm
from latchcore.behaviour.faults import BehaviourError
from latchcore.behaviour.layout import Kind, steps_of, steps_within
from latchcore.behaviour.limits import Limits
from latchcore.behaviour.named import BACK, Names
from latchcore.behaviour.running import PhasePlan, RunningMacro, RunningSequence
from latchcore.behaviour.seeing import Contact, Level, Line, Link
from latchcore.behaviour.step import Program
from latchcore.behaviour.times import percent, step_of
from latchcore.behaviour.watching import Watching
from latchcore.document import behaviour as said
from latchcore.document.models import Build
from latchcore.document.texts import seconds

HOUR = "1 h"
#: What was asked by hand stands so long after the last word, unless the link says otherwise: a
#: person at the bench needs no longer to press a key again [s].
USUAL_SILENCE = 10.0
#: A walk waits so long for the next go; a channel of it is on so long [s].
WALK_WAITS, WALK_ON = 10.0, 1.0


def compiled(build: Build, by_line: bool = False) -> Program:
    """
    The behaviour of a build, compiled; ``by_line`` where its channels can be commanded by hand
    over a line too, as those of a loaded program can.

    Raises
    ------
    BehaviourError
        If anything of it cannot be done as it stands

    Examples
    --------
    >>> compiled(Build(name="Bench")).channels
    []
    """
    faults = faults_of(build)
    if faults:
        raise BehaviourError(faults)
    program = _Compiler(build).program
    if by_line:
        _add_line(program, line_time_out(build.does))
    return program


def line_time_out(behaviour: said.Behaviour) -> float:
    """
    How long what was asked by hand stands after the last word: as the link, else 10 s [s].

    Examples
    --------
    >>> line_time_out(said.Behaviour()), line_time_out(said.Behaviour(link_time_out="3 s"))
    (10.0, 3.0)
    """
    stated = behaviour.link_time_out
    return USUAL_SILENCE if stated is None else seconds(stated)


def _add_line(program: Program, silent_after: float) -> None:
    asks = []
    for part in program.channels:
        asked = AskedByLine(program.layout)
        part.requests.append(asked)
        asks.append(asked.state)
    steps = steps_of(silent_after, program.step)
    program.line = Line(program.layout, steps, asks)


@dataclass
class _Compiler:
    """Builds one program, in the order in which a step is done."""

    build: Build
    program: Program = field(init=False)

    def __post_init__(self) -> None:
        self.behaviour = self.build.does
        self.step = step_of(self.behaviour)
        self.program = Program(self.step)
        self.names = Names.of(self.build)
        self._inputs()
        self._channels()
        self.watching = Watching(self.program, self.names, self.step)
        for item in self.behaviour.conditions:
            self.watching.named[item.id] = self.watching.condition(item.condition)
        for queue in self.behaviour.queues:
            self.watching.queue(queue)
        self._requests()
        self._sequences()
        self._macros()
        self._gates()
        self._turns()
        self._confirms()

    def steps(self, text: str) -> int:
        steps = steps_of(seconds(text), self.step)
        self.program.longest = max(self.program.longest, steps)
        return steps

    def maybe(self, text: str | None) -> int | None:
        return None if text is None else self.steps(text)

    def _inputs(self) -> None:
        program, layout = self.program, self.program.layout
        for place, (key, sense) in enumerate(self.names.senses.items()):
            program.inputs.append(key)
            program.scaled.append(sense.scaled)
            program.seeing.append(
                Level(layout, place, key, self.maybe(sense.gone_after))
                if sense.scaled
                else Contact(layout, place, steps_of(sense.debounce, self.step))
            )
        for command in self.behaviour.commands:
            program.commands.append(command.id)
            program.standing.append(layout.slot(first=False))
        if self.behaviour.link_time_out is not None:
            program.link = Link(layout, self.steps(self.behaviour.link_time_out))
        program.watchdog = self.maybe(self.behaviour.watchdog)

    def _channels(self) -> None:
        layout = self.program.layout
        staggered = {s.rail for s in self.behaviour.staggers}
        for place, output in enumerate(self.names.outputs.values()):
            channel, manner = output.channel, self.behaviour.manner(output.id)
            link: int | str = manner.link
            if manner.link == "state":
                link = percent(manner.link_level)
            least = [self.maybe(t) for t in (manner.longest_on, manner.least_on, manner.least_off)]
            part = ChannelPart(
                place,
                output.id,
                output.name,
                self.names.scaled(output.id),
                manner.returns,
                link,
                Limits(layout, *least),
                layout.slot(first=0),
                layout.slot(Kind.TURN) if channel.rail in staggered else None,
                self.maybe(manner.hardware_limit),
            )
            self.program.channels.append(part)
            self._counts(part.limits, manner)

    def _counts(self, limits: Limits, manner: said.Manner) -> None:
        if manner.starts is not None:
            limits.starts = manner.starts
            limits.starts_window = self.steps(manner.starts_in or HOUR)
        if manner.share is not None and manner.share_of is not None:
            limits.share_window = self.steps(manner.share_of)
            window = seconds(manner.share_of)
            limits.share = steps_within(percent(manner.share) / 100 * window, self.step)

    def _part(self, channel: str) -> ChannelPart:
        return self.program.channels[self.names.channels[channel]]

    def _requests(self) -> None:
        layout, watching = self.program.layout, self.watching
        toggles: dict[str, list[tuple[int, int]]] = {}
        ramps: dict[str, list[tuple[int, int, int]]] = {}
        for request in self.behaviour.requests:
            part = self._part(request.channel)
            asks: Asks
            if isinstance(request, said.While):
                level = percent(request.level)
                asks = AskedWhile(layout, watching.condition(request.condition), level)
            elif isinstance(request, said.Follow):
                asks = Followed(
                    layout,
                    self.names.places[request.of],
                    (float(request.low), float(request.high)),
                    (percent(request.level_low), percent(request.level_high)),
                    float(request.dead_band),
                )
            elif isinstance(request, said.Pulse):
                asks = self._pulse(request)
            elif isinstance(request, said.Toggle):
                event = (watching.event(request.event), percent(request.level))
                toggles.setdefault(request.channel, []).append(event)
                continue
            else:
                steps, to = self.steps(request.time), percent(request.to)
                ramp = (watching.event(request.event), steps, to)
                ramps.setdefault(request.channel, []).append(ramp)
                continue
            part.requests.append(asks)
        for key, events in toggles.items():
            part = self._part(key)
            part.requests.append(Toggled(layout, events, part.returns == "as_was"))
        for key, rises in ramps.items():
            part = self._part(key)
            part.requests.append(Ramped(layout, rises, part.written, part.returns == "as_was"))

    def _pulse(self, request: said.Pulse) -> AskedPulse:
        wait = USUAL_WAIT if request.wait is None else seconds(request.wait)
        return AskedPulse(
            self.program.layout,
            request.channel,
            self.watching.event(request.event),
            (self.steps(request.length), steps_of(wait, self.step)),
            request.again,
            percent(request.level),
        )

    def _sequences(self) -> None:
        for plan in self.behaviour.sequences:
            self.program.runners.append(self._sequence(plan))

    def _sequence(self, plan: said.Sequence) -> RunningSequence:
        layout, watching = self.program.layout, self.watching
        where = {phase.name: n for n, phase in enumerate(plan.phases)}
        levels = [
            {self.names.channels[c]: state_level(s) for c, s in phase.states.items()}
            for phase in plan.phases
        ]
        phases = [
            PhasePlan(
                self.maybe(phase.lasts),
                None if phase.until is None else watching.event(phase.until),
                None if phase.until_true is None else watching.condition(phase.until_true),
                self.maybe(phase.longest),
                where[phase.then_phase] if phase.then == "phase" and phase.then_phase
                else None if phase.then == "stop" else phase.then,
                frozenset(c for c, level in states.items() if level),
            )
            for phase, states in zip(plan.phases, levels, strict=True)
        ]  # fmt: skip
        run = RunningSequence(layout, plan.id, phases, plan.repeat)
        run.start = None if plan.start is None else watching.event(plan.start)
        run.abort = None if plan.abort is None else watching.event(plan.abort)
        run.channels = frozenset(c for states in levels for c in states)
        after: dict[int, int] = {}
        for key, state in plan.after_abort.items():
            slot = layout.slot(first=0)
            run.after.append((self.names.channels[key], slot, state_level(state)))
            after[self.names.channels[key]] = slot
        for channel in sorted(run.channels | set(after)):
            held = Held(layout, run.phase, [s.get(channel, 0) for s in levels], after.get(channel))
            self.program.channels[channel].requests.append(held)
        return run

    def _macros(self) -> None:
        for plan in self.behaviour.macros:
            presses = [
                (self.names.channels[p.channel], self.steps(p.hold), self.steps(p.gap))
                for p in plan.presses
            ]
            wait = USUAL_WAIT if plan.wait is None else seconds(plan.wait)
            run = RunningMacro(self.program.layout, plan.id, presses, steps_of(wait, self.step))
            run.start = None if plan.start is None else self.watching.event(plan.start)
            self.program.runners.append(run)
            for channel in sorted(run.channels):
                self.program.channels[channel].requests.append(Pressed(run, channel))

    def _gates(self) -> None:
        for bar in self.behaviour.bars:
            self._part(bar.channel).bars.append(self.watching.condition(bar.condition))
        for manner in self.behaviour.manners:
            limits = self._part(manner.channel).limits
            if manner.idle is not None and manner.idle_for is not None:
                limits.idle = self.watching.condition(manner.idle)
                limits.idle_steps = self.steps(manner.idle_for)
                if manner.idle_while is not None:
                    limits.idle_while = self.watching.condition(manner.idle_while)

    def _turns(self) -> None:
        layout = self.program.layout
        for key, place in self.names.channels.items():
            # Both ways of one motor never meet, whatever is asked.
            if key.endswith(BACK):
                self.program.interlocks.append(InterlockPart.of(layout, [place - 1, place], 0))
        for lock in self.behaviour.interlocks:
            members = [self.names.channels[c] for c in lock.channels]
            self.program.interlocks.append(InterlockPart.of(layout, members, self.steps(lock.gap)))
        for turn in self.behaviour.staggers:
            outputs = enumerate(self.names.outputs.values())
            members = [n for n, output in outputs if output.channel.rail == turn.rail]
            self.program.staggers.append(StaggerPart.of(layout, members, self.steps(turn.least)))

    def _confirms(self) -> None:
        """Confirmed states; what brings a load to an end asks them."""
        for manner in self.behaviour.manners:
            if manner.confirm is not None:
                part = self._part(manner.channel)
                part.confirm = self._confirm(manner)
                self.watching.confirmed[part.place] = part.confirm.state
        for request in self.behaviour.requests:
            confirm = self._part(request.channel).confirm
            if isinstance(request, said.Pulse) and isinstance(confirm, ToggleConfirm):
                self._bring(request, confirm)

    def _bring(self, request: said.Pulse, confirm: ToggleConfirm) -> None:
        if request.bring is None:
            return
        places = [
            r for r in self.behaviour.requests
            if r.channel == request.channel and isinstance(r, said.Pulse)
        ]  # fmt: skip
        asked = [a for a in self._part(request.channel).requests if isinstance(a, AskedPulse)][
            places.index(request)
        ]
        asked.bring = (confirm, request.bring)

    def _confirm(self, manner: said.Manner) -> Confirm:
        layout, places = self.program.layout, self.names.places
        within = self.steps(manner.within or "1 s")
        sense = places[manner.sense or ""]
        if manner.confirm == "same":
            return SameConfirm(layout, manner.channel, within, sense, manner.hand)
        other = None if manner.other is None else places[manner.other]
        if manner.confirm == "end":
            return EndConfirm(layout, manner.channel, within, sense, other)
        return ToggleConfirm(layout, manner.channel, within, (sense, other or 0), manner.hand)


def state_level(state: str) -> int:
    """
    What a phase asks for, in percent.

    Examples
    --------
    >>> state_level("on"), state_level("off"), state_level("30 %")
    (100, 0, 30)
    """
    return {"on": 100, "off": 0}[state] if state in ("on", "off") else percent(state)
