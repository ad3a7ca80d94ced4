"""What shall happen in a rehearsal, written down a line each."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from latchcore.behaviour.happenings import Happening, What
from latchcore.behaviour.named import Names, outputs_of
from latchcore.document.conditions import clock_seconds
from latchcore.document.models import Build
from latchcore.document.texts import CLOCK, LONGEST
from latchcore.figures.quantity import plain_number
from latchcore.figures.typed import Refusal, quoted

MOST_LINES = 2000
YES, NO = frozenset({"1", "on", "yes"}), frozenset({"0", "off", "no"})
#: What stands by itself, and what is said of an input.
BARE: dict[str, What] = {"reset": "reset", "hang": "hang", "alive": "alive"}
STICKING: dict[str, What] = {"stuck": "stuck", "freed": "freed"}
EXPECTED = (
    "expected a time in seconds, then an input or a command with its value (“1.5 North on”, “3"
    " Damp 62”), or power on, power off, reset, hang, alive, clear with a channel, stuck or freed"
    " with an input, clock with a time of day"
)


class ScriptError(Refusal):
    """A line that says nothing that can happen."""


def read_script(build: Build, text: str) -> list[Happening]:
    """
    What a script says, in the order of its lines.

    Raises
    ------
    ScriptError
        With the line that cannot be read

    Examples
    --------
    >>> build = Build.model_validate(
    ...     {"name": "b", "inputs": [{"id": "in1", "name": "North", "kind": "button"}]}
    ... )
    >>> [(h.t, h.what, h.of, h.value) for h in read_script(build, "1.5 North on\\n2 power off")]
    [(1.5, 'input', 'in1', True), (2.0, 'power', '', False)]
    """
    lines = text.splitlines()
    if len(lines) > MOST_LINES:
        raise ScriptError(f"The script has {len(lines)} lines; it takes up to {MOST_LINES}.")
    found = []
    for number, line in enumerate(lines, 1):
        words = line.split("#")[0].split()
        if words:
            found.append(_line(build, number, words))
    return found


def _line(build: Build, number: int, words: list[str]) -> Happening:
    t = plain_number(words[0])
    if t is None or not 0 <= t <= LONGEST:
        raise ScriptError(f"Line {number}: {quoted(words[0])} is no time; {EXPECTED}.")
    rest = words[1:]
    whole = " ".join(rest)
    if whole in BARE:
        return Happening(t, BARE[whole], value=1)
    if rest[:1] == ["power"] and len(rest) == 2 and rest[1] in YES | NO:
        return Happening(t, "power", value=rest[1] in YES)
    if rest[:1] == ["clock"] and len(rest) == 2 and CLOCK.fullmatch(rest[1]):
        return Happening(t, "clock", value=(clock_seconds(rest[1]), None))
    if rest[:1] == ["clear"]:
        channel = _by_name(outputs_of(build), " ".join(rest[1:]))
        if channel:
            return Happening(t, "clear", channel)
    if rest and rest[0] in STICKING:
        return _stuck(build, number, t, rest)
    return _reading(build, number, t, rest)


#: What can happen to a board between two lines said to it.
BETWEEN = frozenset({"command", "clear", "clock", "reset", "hang", "alive", "stuck", "freed"})


def happens_now(build: Build, line: str) -> Happening | None:
    """
    What one line without a time says of a board: a command, ``clear`` with a channel, ``clock``
    with a time, ``reset``, ``hang``; nothing where it says none of these.
    """
    try:
        found = _line(build, 1, ["0", *line.split()])
    except ScriptError:
        return None
    return found if found.what in BETWEEN else None


def _by_name(pieces: Iterable[Any], called: str) -> str:
    return next((p.id for p in pieces if called in (p.id, p.name)), "")


def _sense(build: Build, called: str):
    senses = Names.of(build).senses.values()
    return next((s for s in senses if called in (s.key, s.name)), None)


def _stuck(build: Build, number: int, t: float, rest: list[str]) -> Happening:
    what, words = STICKING[rest[0]], rest[1:]
    sense = _sense(build, " ".join(words))
    if sense is not None:
        return Happening(t, what, sense.key)
    sense = _sense(build, " ".join(words[:-1]))
    if sense is None:
        raise ScriptError(f"Line {number}: {quoted(' '.join(words))} is no input of this build.")
    return Happening(t, what, sense.key, _value(number, sense.scaled, words[-1]))


def _reading(build: Build, number: int, t: float, rest: list[str]) -> Happening:
    called, value = " ".join(rest[:-1]), rest[-1] if rest else ""
    sense = _sense(build, called)
    if sense is not None:
        return Happening(t, "input", sense.key, _value(number, sense.scaled, value))
    command = _by_name(build.does.commands, called)
    if command:
        once = None if value == "once" else _value(number, False, value)
        return Happening(t, "command", command, once)
    raise ScriptError(
        f"Line {number}: {quoted(' '.join(rest) or 'nothing')} is nothing of this build;"
        f" {EXPECTED}."
    )


def _value(number: int, scaled: bool, text: str) -> Any:
    try:
        return value_of(scaled, text)
    except ScriptError as error:
        raise ScriptError(f"Line {number}: {error}") from error


def value_of(scaled: bool, text: str) -> Any:
    """
    What an input reads, from text: a level or ``None`` for no reading, or whether it is acted on.

    Raises
    ------
    ScriptError
        With what was typed and what was expected

    Examples
    --------
    >>> value_of(True, "62"), value_of(True, "none"), value_of(False, "on")
    (62.0, None, True)
    """
    if scaled:
        if text in ("none", "broken"):
            return None
        value = plain_number(text)
        if value is None:
            raise ScriptError(
                f"{quoted(text)} is no level; expected a number, or none for no reading."
            )
        return value
    if text.lower() in YES:
        return True
    if text.lower() in NO:
        return False
    raise ScriptError(f"{quoted(text)} is no state; expected on or off.")


def script_of(build: Build, start: dict[str, Any], happenings: Iterable[Happening]) -> str:
    """The same as text, so that what was found can be replayed."""
    names = {s.key: s.name for s in Names.of(build).senses.values()}
    names |= {c.id: c.name for c in build.does.commands}
    names |= {o.id: o.name for o in outputs_of(build)}
    lines = [f"0 {names.get(key, key)} {_said(value)}" for key, value in start.items() if value]
    for h in happenings:
        lines.append(f"{round(h.t, 6):.12g} {_happens(h, names)}")
    return "\n".join(lines)


def _happens(h: Happening, names: dict[str, str]) -> str:
    if h.what == "power":
        return f"power {'on' if h.value else 'off'}"
    if h.what == "clock":
        seconds = int(h.value[0]) if h.value else 0
        return f"clock {seconds // 3600:02}:{seconds // 60 % 60:02}:{seconds % 60:02}"
    if h.what in BARE:
        return h.what
    if h.what == "clear":
        return f"clear {names.get(h.of, h.of)}"
    name = names.get(h.of, h.of)
    if h.what in STICKING:
        return f"{h.what} {name}" + ("" if h.value is None else f" {_said(h.value)}")
    return f"{name} {'once' if h.what == 'command' and h.value is None else _said(h.value)}"


def _said(value: Any) -> str:
    if isinstance(value, bool):
        return "on" if value else "off"
    return "none" if value is None else f"{value:g}"
