"""What a choice on a page stands for: a condition or an event with the usual figures."""

from __future__ import annotations

from typing import Any

from latchcore.behaviour.named import Names
from latchcore.document import conditions as said
from latchcore.document.models import Build
from latchcore.edits.registry import EditError
from latchcore.figures.typed import quoted

#: The usual figures of a fresh choice.
USUAL_SINCE, USUAL_HOLD, USUAL_DOUBLE = "10 s", "1 s", "500 ms"
USUAL_BEGIN, USUAL_END = "22:00", "06:00"
#: A fresh threshold stands in the middle of the scale, its hysteresis is this part of it.
USUAL_BAND = 0.05


def looked(build: Build, choice: str) -> dict[str, Any]:
    """
    The condition a choice stands for, such as ``input:in4``, ``rest:in4``, ``over:in6``,
    ``channel:ch2``, ``between``.

    Raises
    ------
    EditError
        If it stands for none
    """
    kind, _, of = choice.partition(":")
    if kind == "rest":
        return {"kind": "not", "part": {"kind": "input", "of": of}}
    if kind in ("over", "under"):
        return {"kind": kind, "of": of} | _middle(build, of)
    if kind in ("input", "command", "named"):
        return {"kind": kind, "of": of}
    if kind == "channel":
        return {"kind": "channel", "of": of}
    if kind in ("confirmed", "overdue"):
        return {"kind": "channel", "of": of, "state": kind}
    if kind == "between":
        return {"kind": "between", "begin": USUAL_BEGIN, "end": USUAL_END}
    if kind == "since_power":
        return {"kind": "since_power", "time": USUAL_SINCE}
    raise EditError(
        f"{quoted(choice)} is nothing a rule can look at; expected an input, a channel, a time of"
        " day or a command of this build.",
        "looks_at",
    )


def _middle(build: Build, of: str) -> dict[str, str]:
    sense = Names.of(build).senses.get(of)
    low, high = (sense.low, sense.high) if sense else (0.0, 100.0)
    band = abs(high - low) * USUAL_BAND
    return {"at": f"{(low + high) / 2:g}", "hysteresis": f"{band:g}"}


def happening(build: Build, choice: str) -> dict[str, Any]:
    """
    The event a choice stands for: ``press:in4``, ``double:in4``, ``hold:in4``, ``queue:qu7``, or
    ``becomes:`` with what :func:`looked` takes.
    """
    kind, _, of = choice.partition(":")
    if kind == "press":
        return {"kind": "press", "of": of}
    if kind == "double":
        return {"kind": "double", "of": of, "within": USUAL_DOUBLE}
    if kind == "hold":
        return {"kind": "hold", "of": of, "over": USUAL_HOLD}
    if kind == "queue":
        return {"kind": "queue", "of": of}
    if kind == "becomes":
        return {"kind": "becomes", "condition": looked(build, of)}
    raise EditError(
        f"{quoted(choice)} is nothing that happens; expected a press, or something becoming true.",
        "happens",
    )


#: Chosen where what stands there is more than a choice can say, and shall stay.
KEPT = "kept"


def choice_of(condition: said.Condition | None) -> str:
    """
    The choice that stands for a condition; empty for none, :data:`KEPT` for one of several parts.

    Examples
    --------
    >>> choice_of(said.Acted(of="in4")), choice_of(said.Not(part=said.Acted(of="in4")))
    ('input:in4', 'rest:in4')
    """
    if condition is None:
        return ""
    if isinstance(condition, said.Not) and isinstance(condition.part, said.Acted):
        return f"rest:{condition.part.of}"
    if isinstance(condition, said.ChannelIs):
        return f"{'channel' if condition.state == 'on' else condition.state}:{condition.of}"
    if isinstance(condition, said.Acted | said.Threshold | said.Commanded | said.Named):
        return f"{condition.kind}:{condition.of}"
    plain = isinstance(condition, said.Between | said.SincePower)
    return condition.kind if plain else KEPT


def event_choice(event: said.Event | None) -> str:
    """The choice that stands for an event; empty for none."""
    if event is None:
        return ""
    if isinstance(event, said.Becomes):
        inner = choice_of(event.condition)
        return KEPT if inner == KEPT else f"becomes:{inner}"
    return f"{event.kind}:{event.of}"


def chosen(build: Build, old: said.Condition | None, choice: str) -> dict[str, Any] | None:
    """
    The condition a field asks for: none, what stands there with its figures where the choice is
    still the same, else a fresh one.
    """
    if not choice:
        return None
    if old is not None and choice in (KEPT, choice_of(old)):
        return old.model_dump()
    return looked(build, choice)


def event_chosen(build: Build, old: said.Event | None, choice: str) -> dict[str, Any] | None:
    """The same of an event."""
    if not choice:
        return None
    if old is not None and choice in (KEPT, event_choice(old)):
        return old.model_dump()
    return happening(build, choice)
