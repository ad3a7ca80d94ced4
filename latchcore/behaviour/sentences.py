"""A behaviour in plain sentences."""

from __future__ import annotations

from latchcore.behaviour.named import Names, outputs_of
from latchcore.document import behaviour as said
from latchcore.document import conditions as looked
from latchcore.document.models import Build

AGAIN = {
    "extend": "once more lengthens it",
    "restart": "once more begins it anew",
    "ignore": "once more in the meantime does nothing",
}
RETURNS = {
    "anew": "After power, reset or a lost link it stays off until asked anew.",
    "standing": "After power, reset or a lost link its standing rules count at once.",
    "as_was": "After power, reset or a lost link it comes back as it was.",
}
HANDS = {
    "parallel": "A switch by hand lies in parallel: off is not in the program's power.",
    "series": "A switch by hand lies in series: on is not in the program's power.",
    "both": "Switches by hand lie in parallel and in series: neither on nor off is certain.",
}
THEN = {"next": "then the next phase", "stop": "then it stops", "abort": "then it aborts"}


class Sentences:
    """
    Words for the pieces of one build's behaviour.

    Examples
    --------
    >>> words = Sentences(Build(name="Bench"))
    >>> words.condition(looked.SincePower(time="10 s", lasts="3 s"))
    'power has been up for 10 s and for 3 s after'
    """

    def __init__(self, build: Build) -> None:
        self.build = build
        self.senses = Names.of(build).senses
        self.names = {output.id: output.name for output in outputs_of(build)}
        behaviour = build.does
        self.others = {
            piece.id: piece.name
            for pieces in (behaviour.commands, behaviour.conditions, behaviour.queues)
            for piece in pieces
        }

    def sense(self, key: str) -> str:
        """An input's name."""
        found = self.senses.get(key)
        return found.name if found is not None else "an input that is gone"

    def channel(self, key: str) -> str:
        """A channel's name."""
        return self.names.get(key, "a channel that is gone")

    def other(self, key: str) -> str:
        """A command, a condition or a queue by its name."""
        return f"“{self.others.get(key, 'something that is gone')}”"

    def condition(self, c: looked.Condition, inner: bool = False) -> str:
        """What must be so."""
        words = self._bare(c, inner or bool(c.for_at_least or c.lasts))
        if c.for_at_least:
            words += f" for at least {c.for_at_least}"
        if c.lasts:
            words += f" and for {c.lasts} after"
        return words

    def _bare(self, c: looked.Condition, inner: bool) -> str:
        if isinstance(c, looked.Acted):
            return f"{self.sense(c.of)} is acted on"
        if isinstance(c, looked.Threshold):
            band = f" (back at {self._back(c)})" if float(c.hysteresis) else ""
            return f"{self.sense(c.of)} is {c.kind} {c.at}{band}"
        if isinstance(c, looked.Between):
            days = f" on {', '.join(c.days)}" if c.days else ""
            return f"it is between {c.begin} and {c.end}{days}"
        if isinstance(c, looked.SincePower):
            return f"power has been up for {c.time}"
        if isinstance(c, looked.Commanded):
            return f"{self.other(c.of)} is commanded"
        if isinstance(c, looked.ChannelIs):
            state = {"on": "is on", "confirmed": "is confirmed on", "overdue": "is overdue"}
            return f"{self.channel(c.of)} {state[c.state]}"
        if isinstance(c, looked.Named):
            return self.other(c.of)
        if isinstance(c, looked.Not):
            return self._opposite(c)
        word = " and " if c.kind == "all" else " or "
        joined = word.join(self.condition(part, inner=True) for part in c.parts)
        return f"({joined})" if inner else joined

    def _opposite(self, c: looked.Not) -> str:
        part = c.part
        if isinstance(part, looked.Acted) and not (part.for_at_least or part.lasts):
            return f"{self.sense(part.of)} is at rest"
        return f"not ({self.condition(part)})"

    def _back(self, c: looked.Threshold) -> str:
        band = float(c.hysteresis)
        return f"{float(c.at) - band if c.kind == 'over' else float(c.at) + band:g}"

    def event(self, e: looked.Event | None) -> str:
        """What happens once."""
        if e is None:
            return "nothing happens"
        if isinstance(e, looked.Press):
            return f"{self.sense(e.of)} is pressed"
        if isinstance(e, looked.Double):
            return f"{self.sense(e.of)} is pressed twice within {e.within}"
        if isinstance(e, looked.Held):
            return f"{self.sense(e.of)} is held for {e.over}"
        if isinstance(e, looked.Leaves):
            return f"something leaves {self.other(e.of)}"
        return f"it begins that {self.condition(e.condition)}"

    def request(self, r: said.Request) -> str:
        """What a rule asks for."""
        if isinstance(r, said.While):
            level = f"At {r.level}" if r.level else "On"
            return f"{level} while {self.condition(r.condition)}."
        if isinstance(r, said.Follow):
            return (
                f"Follows {self.sense(r.of)}: {r.low} to {r.high} is {r.level_low} to"
                f" {r.level_high}."
            )
        when = f"when {self.event(r.event)}"
        if isinstance(r, said.Toggle):
            level = f" at {r.level}" if r.level else ""
            return f"On{level} and off by turns {when}."
        if isinstance(r, said.Ramp):
            return f"To {r.to} within {r.time} {when}."
        level = f" at {r.level}" if r.level else ""
        if r.bring:
            return f"A pulse of {r.length} {when}, to bring it to {r.bring}."
        return f"On{level} for {r.length} {when}; {AGAIN[r.again]}."

    def bar(self, b: said.Bar) -> str:
        """What keeps a channel off."""
        return f"Off, whatever is asked, while {self.condition(b.condition)}."

    def interlock(self, lock: said.Interlock) -> str:
        """Which are kept apart."""
        gap = "" if lock.gap in ("0 s", "0") else f", {lock.gap} between one and the next"
        return f"{', '.join(map(self.channel, lock.channels))}: never two on together{gap}."

    def manner(self, m: said.Manner) -> list[str]:
        """What holds for a channel, a sentence each."""
        found = [RETURNS[m.returns]]
        if m.longest_on:
            found.append(f"At most {m.longest_on} at a time.")
        if m.least_on:
            found.append(f"Once on, at least {m.least_on}.")
        if m.least_off:
            found.append(f"Once off, and after power comes, off for at least {m.least_off}.")
        if m.starts:
            found.append(f"At most {m.starts} starts in {m.starts_in or '1 h'}.")
        if m.share and m.share_of:
            found.append(f"On for at most {m.share} of any {m.share_of}.")
        if m.idle is not None and m.idle_for:
            but = "" if m.idle_while is None else f", as soon as {self.condition(m.idle_while)}"
            found.append(f"Off after {m.idle_for} in which {self.condition(m.idle)}{but}.")
        found += self._confirmed(m)
        if m.link != "hold":
            does = "off" if m.link == "off" else f"at {m.link_level}"
            found.append(f"Without link it is {does}.")
        if m.hand in HANDS:
            found.append(HANDS[m.hand])
        if m.hardware_limit:
            found.append(f"Hardware ends it after {m.hardware_limit}, whatever the program does.")
        return found

    def _confirmed(self, m: said.Manner) -> list[str]:
        if m.confirm is None or m.sense is None:
            return []
        sense = self.sense(m.sense)
        if m.confirm == "same":
            return [f"{sense} says whether it really is on, within {m.within}."]
        if m.confirm == "end":
            return [f"{sense} says that it arrived, within {m.within}."]
        other = self.sense(m.other or "")
        return [f"{sense} says that it is open, {other} that it is closed, within {m.within}."]

    def phase_end(self, phase: said.Phase) -> str:
        """How a phase ends."""
        if phase.lasts is not None:
            return f"{phase.lasts}"
        until = (
            f"until {self.event(phase.until)}"
            if phase.until is not None
            else f"until {self.condition(phase.until_true)}"
            if phase.until_true is not None
            else "without an end"
        )
        then = f"then phase “{phase.then_phase}”" if phase.then == "phase" else THEN[phase.then]
        longest = (phase.longest or "for ever").replace(" ", "\N{NO-BREAK SPACE}")
        return f"{until}, {longest} at the most, {then}"
