"""Behaviours to begin from, named by what they do."""

from __future__ import annotations

from typing import Any

from latchcore.behaviour.named import Names
from latchcore.document import behaviour as said
from latchcore.edits.behaviour.looks import looked
from latchcore.edits.behaviour.pieces import changing, keep_manner, named
from latchcore.edits.behaviour.rules import REQUEST
from latchcore.edits.registry import EditError, edit, next_id, validated
from latchcore.figures.typed import quoted

#: What each pattern does, in words, and what it wants beside the channel.
PATTERNS: dict[str, tuple[str, tuple[str, ...]]] = {
    "follow_and_last": ("On while something is so, and a while longer", ("looks_at",)),
    "open_a_while": ("On for a while upon a press, where something else allows", ("press", "also")),
    "while_both": ("On while two things hold", ("looks_at", "also")),
    "two_levels": ("On under one level and off over another, with a rest between", ("level",)),
    "phases": ("Phases in a row upon a request", ("press",)),
    "presses": ("Presses in a row, as on a keypad", ("press",)),
    "pulse_until_end": ("On upon a press until an end switch, longest time", ("press", "end")),
    "idle_off": ("On and off by a press, off by itself when idle", ("press", "idle")),
    "later": ("Ask now, do later", ("press",)),
    "source_off_first": (
        "Contacts that move only while their source is off",
        ("press", "source"),
    ),
}


@edit
def begin_pattern(build, channel: str, pattern: str, **given: str) -> str:
    """Begin a channel's behaviour from a pattern; everything of it may be changed afterwards."""
    name = named(build, channel)
    if pattern not in PATTERNS:
        raise EditError(
            f"{quoted(pattern)} is no pattern; expected one of {', '.join(PATTERNS)}.", "pattern"
        )
    says, wants = PATTERNS[pattern]
    for want in wants:
        if not given.get(want, "").strip():
            raise EditError(f"“{says}” wants a choice here.", want)
    with changing(build) as behaviour:
        BUILDERS[pattern](build, behaviour, channel, {k: v.strip() for k, v in given.items()})
    return f"{name}: {says[0].lower()}{says[1:]}"


def _rule(build, behaviour, channel: str, kind: str, **data: Any) -> None:
    fresh = {"id": next_id(build, "ru"), "kind": kind, "channel": channel} | data
    behaviour.requests.append(REQUEST.validate_python(fresh))


def _manner(behaviour, channel: str, **data: Any) -> None:
    keep_manner(behaviour, behaviour.manner(channel).model_dump() | data)


def _press(build, key: str) -> dict[str, str]:
    sense = Names.of(build).senses.get(key)
    if sense is None or sense.scaled:
        raise EditError("A press wants a contact of this build.", "press")
    return {"kind": "press", "of": key}


def _follow_and_last(build, behaviour, channel, given) -> None:
    condition = looked(build, given["looks_at"]) | {"lasts": "3 s"}
    _rule(build, behaviour, channel, "while", condition=condition)


def _open_a_while(build, behaviour, channel, given) -> None:
    asks = {"kind": "input", "of": _press(build, given["press"])["of"]}
    both = {"kind": "all", "parts": [asks, looked(build, given["also"])]}
    event = {"kind": "becomes", "condition": both}
    _rule(build, behaviour, channel, "pulse", event=event, length="5 s")


def _while_both(build, behaviour, channel, given) -> None:
    parts = [looked(build, given["looks_at"]), looked(build, given["also"])]
    _rule(build, behaviour, channel, "while", condition={"kind": "all", "parts": parts})


def _two_levels(build, behaviour, channel, given) -> None:
    condition = looked(build, f"under:{given['level']}")
    _rule(build, behaviour, channel, "while", condition=condition)
    _manner(behaviour, channel, least_off="3 min", returns="standing")


def _pulse_until_end(build, behaviour, channel, given) -> None:
    end = given["end"]
    phase = {
        "name": "On the way",
        "states": {channel: "on"},
        "until_true": {"kind": "input", "of": end},
        "longest": "30 s",
        "then": "stop",
    }
    plan = {
        "id": next_id(build, "sq"),
        "name": "To the end",
        "start": _press(build, given["press"]),
        "phases": [phase],
    }
    behaviour.sequences.append(validated(said.Sequence, plan))


def _phases(build, behaviour, channel, given) -> None:
    """On, a pause, on again: three phases to change as they are wanted."""
    phases = [
        {"name": "First", "states": {channel: "on"}, "lasts": "5 s"},
        {"name": "Pause", "lasts": "2 s"},
        {"name": "Second", "states": {channel: "on"}, "lasts": "5 s"},
    ]
    press = _press(build, given["press"])
    plan = {"id": next_id(build, "sq"), "name": "Phases", "start": press, "phases": phases}
    behaviour.sequences.append(validated(said.Sequence, plan))


def _presses(build, behaviour, channel, given) -> None:
    """Two presses of one key."""
    press = {"channel": channel, "hold": "100 ms", "gap": "300 ms"}
    start = _press(build, given["press"])
    plan = {"id": next_id(build, "mc"), "name": "Presses", "start": start}
    behaviour.macros.append(validated(said.Macro, plan | {"presses": [press, dict(press)]}))


def _idle_off(build, behaviour, channel, given) -> None:
    _rule(build, behaviour, channel, "toggle", event=_press(build, given["press"]))
    _manner(behaviour, channel, idle=looked(build, given["idle"]), idle_for="10 min")


def _later(build, behaviour, channel, given) -> None:
    queue = {
        "id": next_id(build, "qu"),
        "name": "Asked for",
        "event": _press(build, given["press"]),
        "delay": "10 s",
        "length": 3,
    }
    behaviour.queues.append(validated(said.Queue, queue))
    event = {"kind": "queue", "of": queue["id"]}
    _rule(build, behaviour, channel, "pulse", event=event, length="2 s")


def _source_off_first(build, behaviour, channel, given) -> None:
    """Source off, contacts, wait, source on: each sees what the last step left of the other."""
    asks, source = {"kind": "input", "of": given["press"]}, given["source"]
    named(build, source)
    if source == channel:
        raise EditError("The source is another channel than the contacts.", "source")
    source_is_on = {"kind": "channel", "of": source, "state": "on"}
    held = {"kind": "any", "parts": [asks, source_is_on]}
    _rule(build, behaviour, channel, "while", condition=held)
    _rule(build, behaviour, source, "while", condition=asks)
    settled = {"kind": "channel", "of": channel, "state": "on", "for_at_least": "100 ms"}
    bar = {
        "id": next_id(build, "ba"),
        "channel": source,
        "condition": {"kind": "not", "part": settled},
    }
    behaviour.bars.append(validated(said.Bar, bar))


BUILDERS = {
    "follow_and_last": _follow_and_last,
    "open_a_while": _open_a_while,
    "while_both": _while_both,
    "two_levels": _two_levels,
    "phases": _phases,
    "presses": _presses,
    "pulse_until_end": _pulse_until_end,
    "idle_off": _idle_off,
    "later": _later,
    "source_off_first": _source_off_first,
}
