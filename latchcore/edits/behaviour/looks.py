"""What a choice on a page stands for: a condition or an event with the usual figures."""

from __future__ import annotations

from typing import Any

from latchcore.behaviour.named import Names
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
