"""Whether what a condition or an event names is there, and of the kind it must be."""

from __future__ import annotations

from dataclasses import dataclass, field

from latchcore.behaviour.faults import Fault
from latchcore.behaviour.named import Names
from latchcore.document import conditions as said
from latchcore.document.models import Build

GONE = "names {what} that is no longer in the build; choose another, or remove this."


@dataclass
class LookedAt:
    """
    Gathers faults of conditions and events; ``earlier`` are the named conditions that stand before,
    ``queues`` those that do.
    """

    build: Build
    names: Names
    faults: list[Fault] = field(default_factory=list)
    earlier: set[str] = field(default_factory=set)
    queues: set[str] = field(default_factory=set)

    def add(self, of: str, where: str, message: str) -> None:
        """One more fault."""
        self.faults.append(Fault(of, where, message))

    def channel(self, of: str, key: str, where: str = "channel") -> bool:
        """Whether a channel is there."""
        if key in self.names.channels:
            return True
        self.add(of, where, "It " + GONE.format(what="a channel"))
        return False

    def sense(self, of: str, key: str, scaled: bool, where: str) -> bool:
        """Whether an input is there, a contact or a level as it must be."""
        sense = self.names.senses.get(key)
        if sense is None:
            self.add(of, where, "It " + GONE.format(what="an input"))
            return False
        if sense.scaled != scaled:
            is_a, wanted = ("a level", "a contact") if sense.scaled else ("a contact", "a level")
            self.add(of, where, f"{sense.name} is {is_a}; expected {wanted}.")
            return False
        return True

    def condition(self, of: str, wanted: said.Condition, where: str = "condition") -> None:
        """A condition with all that stands in it."""
        deep = said.depth(wanted)
        if deep > said.MOST_DEEP:
            self.add(
                of,
                where,
                f"It nests {deep} deep; expected {said.MOST_DEEP} at most. Give the inner part a"
                " name of its own.",
            )
        for part in said.walk(wanted):
            self._part(of, part, where)

    def _part(self, of: str, part: said.Condition, where: str) -> None:
        if isinstance(part, said.Acted):
            self.sense(of, part.of, False, where)
        elif isinstance(part, said.Threshold):
            if self.sense(of, part.of, True, where):
                self._threshold(of, part, where)
        elif isinstance(part, said.Commanded):
            if all(c.id != part.of for c in self.build.does.commands):
                self.add(of, where, "It " + GONE.format(what="a command"))
        elif isinstance(part, said.ChannelIs):
            self._channel_is(of, part, where)
        elif isinstance(part, said.Named) and part.of not in self.earlier:
            self._named(of, part, where)

    def _threshold(self, of: str, part: said.Threshold, where: str) -> None:
        sense = self.names.senses[part.of]
        low, high = min(sense.low, sense.high), max(sense.low, sense.high)
        at, band = float(part.at), float(part.hysteresis)
        if not low <= at <= high:
            self.add(
                of,
                where,
                f"{part.at} is off the scale of {sense.name}; expected {low:g} to {high:g}.",
            )
        if not 0 <= band <= high - low:
            self.add(
                of,
                where,
                f"A hysteresis of {part.hysteresis} does not fit the scale of {sense.name},"
                f" {low:g} to {high:g}; expected 0 to {high - low:g}.",
            )
        elif not (low <= at - band if part.kind == "over" else at + band <= high):
            way = "down to" if part.kind == "over" else "up to"
            back = at - band if part.kind == "over" else at + band
            self.add(
                of,
                where,
                f"Once {part.kind} {part.at} it would end only {way} {back:g}, which {sense.name}"
                f" never reads ({low:g} to {high:g}); expected a smaller hysteresis.",
            )

    def _channel_is(self, of: str, part: said.ChannelIs, where: str) -> None:
        if not self.channel(of, part.of, where):
            return
        if part.state != "on" and self.build.does.manner(part.of).confirm is None:
            name = self.names.outputs[part.of].name
            self.add(
                of,
                where,
                f"Nothing confirms {name}; expected an input that says what it really does, stated"
                " at the channel.",
            )

    def _named(self, of: str, part: said.Named, where: str) -> None:
        found = next((c for c in self.build.does.conditions if c.id == part.of), None)
        if found is None:
            self.add(of, where, "It " + GONE.format(what="a condition"))
        elif found.id == of:
            self.add(of, where, f"“{found.name}” names itself; expected another condition.")
        else:
            self.add(
                of,
                where,
                f"“{found.name}” stands further down the list; a condition may rest on earlier ones"
                " only. Move it up.",
            )

    def event(self, of: str, wanted: said.Event, where: str = "event") -> None:
        """An event with the condition in it."""
        if isinstance(wanted, said.Becomes):
            self.condition(of, wanted.condition, where)
        elif isinstance(wanted, said.Leaves):
            if wanted.of not in self.queues:
                known = any(q.id == wanted.of for q in self.build.does.queues)
                self.add(
                    of,
                    where,
                    "That queue stands further down the list; expected an earlier one."
                    if known
                    else "It " + GONE.format(what="a queue"),
                )
        else:
            self.sense(of, wanted.of, False, where)
