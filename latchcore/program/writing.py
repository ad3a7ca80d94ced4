"""One walk through a build's plan, in whichever language is given."""

from __future__ import annotations

from latchcore.behaviour import asking
from latchcore.behaviour.channel import ChannelPart
from latchcore.behaviour.confirming import Confirm, EndConfirm, SameConfirm, ToggleConfirm
from latchcore.behaviour.running import PhasePlan, RunningMacro, RunningSequence
from latchcore.behaviour.seeing import Contact, Level
from latchcore.program.driving import write_drives, write_reads
from latchcore.program.heading import OWN
from latchcore.program.language import NEVER, Language, Raw, To, Value, Var, name_of
from latchcore.program.plan import ProgramPlan

RETURNS = {"anew": "ANEW", "standing": "STANDING", "as_was": "AS_WAS"}
LINKS: dict[int | str, str] = {"hold": "LINK_HOLD", "off": "LINK_OFF"}
THEN: dict[int | str | None, str] = {"abort": "THEN_ABORT", "next": "THEN_NEXT", None: "THEN_STOP"}


def write_build(plan: ProgramPlan, said: Language) -> None:
    """All that is a build's own: inputs, channels, what they do, which lines that drives."""
    _Writer(plan, said).write()


class _Writer:
    def __init__(self, plan: ProgramPlan, said: Language) -> None:
        self.plan, self.said, self.program = plan, said, plan.program
        self.inputs = [name_of(key) for key in self.program.inputs]
        self.channels = [name_of(part.id) for part in self.program.channels]
        self.events: dict[int, str] = {}
        self.forgets: list[str] = []
        self.keeping: list[str] = []
        #: Each thing that outlives a power cut has a place of its own.
        self.kept = 0
        #: What sequences ask of channels, by sequence.
        self.in_sequence: dict[str, list[str]] = {}

    def write(self) -> None:
        self.said.comment(OWN + "-" * 78)
        self._inputs()
        for part in self.program.channels:
            self._channel(part)
        self._order()
        self._runners()
        for part in self.program.channels:
            self._confirm(part)
        for part in self.program.channels:
            self._asks(part)
        self._turns()
        self._lists()
        write_drives(self.plan, self.said)
        write_reads(self.plan, self.said)
        self._remember()

    def _place(self) -> int:
        self.kept += 1
        return self.kept - 1

    def _title(self, key: str) -> str:
        return self.plan.names.senses[key].name

    def _inputs(self) -> None:
        for sense, name, key in zip(
            self.program.seeing, self.inputs, self.program.inputs, strict=True
        ):
            if isinstance(sense, Contact):
                self.said.new(name, "Contact", key, self._title(key), sense.steps)
            else:
                assert isinstance(sense, Level)
                gone: Value = NEVER if sense.steps is None else sense.steps
                self.said.new(name, "Level", key, self._title(key), gone)
        for command in self.plan.build.does.commands:
            self.said.new(name_of(command.id), "Command", command.id, command.name)
        self.forgets += self.inputs + [name_of(c) for c in self.program.commands]

    def _channel(self, part: ChannelPart) -> None:
        said, name, limits = self.said, name_of(part.id), part.limits
        link: Value = Raw(LINKS[part.link]) if part.link in LINKS else int(part.link)
        returns = Raw(RETURNS[part.returns])
        said.new(name, "Channel", part.id, part.name, part.scaled, returns, link)
        for field, steps in (
            ("longest", limits.longest),
            ("least_on", limits.least_on),
            ("least_off", limits.least_off),
            ("share", limits.share),
        ):
            if steps is not None:
                said.set(name, field, steps)
        if limits.share is not None:
            said.set(name, "share_of", limits.share_window)
        if limits.starts is not None:
            said.starts(name, limits.starts)
            said.set(name, "starts_in", limits.starts_window)
        if part.waits is not None:
            said.set(name, "takes_turns", True)
        self.forgets.append(name)

    def _condition(self, index: int) -> str:
        return f"c{index + 1}"

    def _event(self, index: int) -> str:
        return self.events[index]

    def _order(self) -> None:
        """Conditions, events and queues in the order in which they are worked out."""
        done: list[tuple[str, bool]] = []
        queued = {q.event for q in self.program.queues}
        for n in range(len(self.program.event_plans)):
            self.events[n] = f"e{n + 1}" if n not in queued else ""
        for queue in self.program.queues:
            self.events[queue.event] = name_of(queue.name)
        for kind, index in self.program.order:
            if kind == "condition":
                done.append((self._look(index), True))
            elif kind == "event":
                done.append((self._happens(index), False))
            else:
                done.append((self._queue(index), False))
        self.forgets += [name for name, _ in done]
        self.said.order(done)

    def _look(self, index: int) -> str:
        plan, name, said = self.program.look_plans[index], self._condition(index), self.said
        kind, values = self._looked(plan.word, plan.figures, name)
        said.new(name, kind, *values, says=f"While {self.plan.words.condition(plan.said)}.")
        if plan.held is not None or plan.lasts is not None:
            timers = [NEVER if t is None else t for t in (plan.held, plan.lasts)]
            said.call(name, "timed", *timers)
        return name

    def _looked(self, word: str, figures: tuple, name: str) -> tuple[str, list[Value]]:
        match word:
            case "all" | "any":
                parts = [self._condition(n) for n in figures[0]]
                return "Joined", [word == "all", self.said.row(name, "Condition", parts)]
            case "not":
                return "Not", [Var(self._condition(figures[0]))]
            case "same":
                return "Same", [Var(self._condition(figures[0]))]
            case "input":
                return "Acted", [Var(self.inputs[figures[0]])]
            case "threshold":
                place, over, at, back = figures
                return "Threshold", [Var(self.inputs[place]), over, at, back]
            case "between":
                begin, end, days = figures
                return "Between", [begin, end, sum(1 << day for day in days)]
            case "since_power":
                return "SincePower", [figures[0]]
            case "command":
                return "Commanded", [Var(name_of(self.program.commands[figures[0]]))]
        place, state = figures
        channel = Var(self.channels[place])
        if state == "on":
            return "IsOn", [channel]
        return "IsState", [channel, "confirmed_on" if state == "confirmed" else "overdue"]

    def _happens(self, index: int) -> str:
        plan, name = self.program.event_plans[index], self.events[index]
        says = f"When {self.plan.words.event(plan.said)}."
        first, *rest = plan.figures
        of = self._condition(first) if plan.word == "becomes" else self.inputs[first]
        self.said.new(name, plan.word.capitalize(), Var(of), *rest, says=says)
        return name

    def _queue(self, index: int) -> str:
        queue = self.program.queues[index]
        name = name_of(queue.name)
        clear = To(None if queue.clear is None else self._event(queue.clear))
        values = (queue.name, Var(self._event(queue.asked)), queue.delay)
        says = f"Queue {self.plan.words.other(queue.name)}."
        self.said.queue(name, values, queue.length, clear, says)
        return name

    def _maybe(self, event: int | None) -> To:
        return To(None if event is None else self._event(event))

    def _runners(self) -> None:
        self.runners: list[str] = []
        self.held: dict[int, str] = {}
        does = self.plan.build.does
        names = {s.id: s.name for s in does.sequences} | {m.id: m.name for m in does.macros}
        for run in self.program.runners:
            name = name_of(run.name)
            if isinstance(run, RunningSequence):
                self._sequence(name, run, names[run.name])
            else:
                self._macro(name, run, names[run.name])
            self.runners.append(name)
        self.forgets += self.runners

    def _holds(self, name: str, places) -> None:
        row = self.said.row(f"{name}_channels", "Channel", [self.channels[n] for n in places])
        self.said.set(name, "channels", row)

    def _sequence(self, name: str, run: RunningSequence, title: str) -> None:
        said = self.said
        rows = [self._phase(f"{name}_{n}", phase) for n, phase in enumerate(run.phases)]
        table = said.table(name, "Phase", rows)
        said.new(name, "Sequence", run.name, table, run.repeat, says=f"Sequence {title}.")
        said.set(name, "start", self._maybe(run.start))
        said.set(name, "abort", self._maybe(run.abort))
        self._holds(name, sorted(run.channels))
        self.held[run.phase] = name

    def _phase(self, name: str, phase: PhasePlan) -> tuple[Value, ...]:
        def time(steps: int | None) -> Value:
            return NEVER if steps is None else steps

        until = phase.until_true
        then: Value = phase.then if isinstance(phase.then, int) else Raw(THEN[phase.then])
        on = self.said.row(f"{name}_on", "Channel", [self.channels[n] for n in sorted(phase.on)])
        return (
            time(phase.lasts),
            self._maybe(phase.until),
            To(None if until is None else self._condition(until)),
            time(phase.longest),
            then,
            on,
        )

    def _macro(self, name: str, run: RunningMacro, title: str) -> None:
        rows = [(To(self.channels[c]), hold, gap) for c, hold, gap in run.presses]
        table = self.said.table(name, "Key", rows)
        self.said.new(name, "Macro", run.name, table, run.wait, says=f"Macro {title}.")
        self.said.set(name, "start", self._maybe(run.start))
        self._holds(name, sorted(run.channels))

    def _confirm(self, part: ChannelPart) -> None:
        confirm, name = part.confirm, f"{name_of(part.id)}_seen"
        if confirm is None:
            return
        kind, values = self._confirmed(confirm)
        self.said.new(name, kind, part.id, confirm.within, self._place(), *values)
        self.said.set(name_of(part.id), "confirm", To(name))
        self.forgets.append(name)
        self.keeping.append(name)

    def _confirmed(self, confirm: Confirm) -> tuple[str, list[Value]]:
        if isinstance(confirm, SameConfirm):
            sense = Var(self.inputs[confirm.place])
            return "Seen", [sense, confirm.parallel, confirm.series]
        if isinstance(confirm, EndConfirm):
            other = To(None if confirm.other is None else self.inputs[confirm.other])
            return "ToEnd", [Var(self.inputs[confirm.end]), other]
        assert isinstance(confirm, ToggleConfirm)
        ends = [Var(self.inputs[n]) for n in (confirm.open, confirm.closed)]
        return "ByTurns", [*ends, confirm.parallel]

    def _asks(self, part: ChannelPart) -> None:
        said, name = self.said, name_of(part.id)
        rules = [r for r in self.plan.build.does.requests if r.channel == part.id]
        said.comment()
        for text in [self.plan.words.request(r) for r in rules]:
            said.comment(text)
        for bar in (b for b in self.plan.build.does.bars if b.channel == part.id):
            said.comment(self.plan.words.bar(bar))
        own = [
            self._ask(f"{name}_ask{n + 1}", part, ask)
            for n, ask in enumerate(part.requests)
            if not isinstance(ask, asking.AskedByLine)
        ]
        said.set(name, "asks", said.row(f"{name}_asks", "Asks", own))
        bars = [self._condition(n) for n in part.bars]
        if bars:
            said.set(name, "bars", said.row(f"{name}_bars", "Condition", bars))
        limits = part.limits
        if limits.idle is not None:
            said.set(name, "idle", To(self._condition(limits.idle)))
            said.set(name, "idle_for", limits.idle_steps)
            if limits.idle_while is not None:
                said.set(name, "idle_while", To(self._condition(limits.idle_while)))

    def _ask(self, name: str, part: ChannelPart, ask: asking.Asks) -> str:
        kind, values = self._asked(name, part, ask)
        self.said.new(name, kind, *values)
        if isinstance(ask, asking.AskedPulse) and ask.bring is not None:
            self.said.set(name, "load", To(f"{name_of(part.id)}_seen"))
            self.said.set(name, "to_open", ask.bring[1] == "open")
        if isinstance(ask, asking.Held):
            self.in_sequence.setdefault(self.held[ask.phase], []).append(name)
        return name

    def _asked(self, name: str, part: ChannelPart, ask: asking.Asks) -> tuple[str, list[Value]]:
        if isinstance(ask, asking.AskedWhile):
            return "While", [Var(self._condition(ask.condition)), ask.at]
        if isinstance(ask, asking.Followed):
            ends = (ask.low, ask.high, ask.level_low, ask.level_high, ask.band)
            return "Follow", [Var(self.inputs[ask.place]), *ends]
        if isinstance(ask, asking.AskedPulse):
            times = (ask.steps, ask.wait, Raw(ask.again.upper()), ask.at)
            return "Pulse", [part.id, Var(self._event(ask.event)), *times]
        if isinstance(ask, asking.Toggled):
            rows = [(To(self._event(e)), level) for e, level in ask.events]
            return "Toggle", [self.said.table(name, "Flip", rows), self._keeps(part, name)]
        if isinstance(ask, asking.Ramped):
            rises = [(To(self._event(e)), steps, level) for e, steps, level in ask.events]
            table = self.said.table(name, "Rise", rises)
            return "Ramp", [Var(name_of(part.id)), table, self._keeps(part, name)]
        if isinstance(ask, asking.Held):
            levels = self.said.numbers(name, ask.levels)
            return "InSequence", [Var(self.held[ask.phase]), Var(name_of(part.id)), levels,
                                  self._after(part, ask)]  # fmt: skip
        assert isinstance(ask, asking.Pressed) and isinstance(ask.macro, RunningMacro)
        return "InMacro", [Var(name_of(ask.macro.name)), Var(name_of(part.id))]

    def _after(self, part: ChannelPart, ask: asking.Held) -> int:
        """What stands after an abort of its sequence, -1 where nothing is said."""
        for run in self.program.runners:
            if isinstance(run, RunningSequence) and run.phase == ask.phase:
                return next((lv for c, _, lv in run.after if c == part.place), -1)
        return -1

    def _keeps(self, part: ChannelPart, name: str) -> int:
        if part.returns != "as_was":
            return -1
        self.keeping.append(name)
        return self._place()

    def _turns(self) -> None:
        self.locks, self.staggers = [], []
        for n, lock in enumerate(self.program.interlocks, 1):
            members = [self.channels[c] for c in lock.channels]
            names = ", ".join(self.program.channels[c].name for c in lock.channels)
            self.said.interlock(f"lock{n}", lock.gap, members, f"Never together: {names}.")
            self.locks.append(f"lock{n}")
        for n, turn in enumerate(self.program.staggers, 1):
            row = self.said.row(f"turn{n}", "Channel", [self.channels[c] for c in turn.channels])
            self.said.new(f"turn{n}", "Stagger", turn.steps, row)
            self.staggers.append(f"turn{n}")
        self.forgets += self.locks + self.staggers

    def _lists(self) -> None:
        said = self.said
        for name, asks in self.in_sequence.items():
            said.set(name, "asks", said.row(f"{name}_asks", "InSequence", asks))
        said.comment()
        said.all_rows("CHANNELS", "Channel", self.channels)
        said.all_rows("INPUTS", "Input", self.inputs)
        if self.program.commands:
            said.all_rows("COMMANDS", "Command", [name_of(c) for c in self.program.commands])
        if self.runners:
            said.all_rows("RUNNERS", "Runner", self.runners)
        if self.locks:
            said.all_rows("INTERLOCKS", "Interlock", self.locks)
        if self.staggers:
            said.all_rows("STAGGERS", "Stagger", self.staggers)
        said.all_rows("PIECES", "Piece", self.forgets)

    def _remember(self) -> None:
        """What is written down where it changed: in MicroPython one list of it."""
        if "kept" in self.plan.features:
            self.said.remembered(self.keeping, "kept_level" in self.plan.features)
