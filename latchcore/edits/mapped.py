"""Buttons of a mapped keypad, as channels and a row of presses."""

from __future__ import annotations

from latchcore.document.behaviour import Behaviour, Command, Macro
from latchcore.document.models import Build
from latchcore.edits.behaviour.macros import USUAL_PRESS
from latchcore.edits.behaviour.pieces import added, changing
from latchcore.edits.channels import add_channel
from latchcore.edits.registry import EditError, edit, next_id

#: As many buttons come from one keypad at once.
MOST_BUTTONS = 32


@edit
def add_buttons(
    build: Build, voltage: str, figure: str, names: str, holds: str = "", gaps: str = ""
) -> str:
    """
    A channel for each button of a keypad that was mapped, and a row that presses them in turn;
    ``names``, ``holds`` and ``gaps`` have one line a button.
    """
    called = [name.strip() for name in names.splitlines() if name.strip()]
    if not 0 < len(called) <= MOST_BUTTONS:
        raise EditError(f"{len(called)} buttons; expected 1 to {MOST_BUTTONS}.", "names")
    times = [_times(text, len(called)) for text in (holds, gaps)]
    presses = []
    for name, hold, gap in zip(called, *times, strict=True):
        add_channel(build, "button_pair", voltage, figure, name)
        presses.append(
            {
                "channel": build.channels[-1].id,
                "hold": hold or USUAL_PRESS["hold"],
                "gap": gap or USUAL_PRESS["gap"],
            }
        )
    with changing(build) as behaviour:
        # A row wants something that starts it: a word from outside, until another is chosen.
        command = {"id": next_id(build, "cm"), "name": _free(behaviour, "Press the keypad")}
        added(behaviour.commands, Command, command, "commands")
        asked = {"kind": "command", "of": command["id"]}
        data = {
            "id": next_id(build, "mc"),
            "name": "Mapped keypad",
            "start": {"kind": "becomes", "condition": asked},
            "presses": presses,
        }
        added(behaviour.macros, Macro, data, "rows of presses")
    return f"added {len(called)} mapped buttons and a row that presses them"


def _free(behaviour: Behaviour, name: str) -> str:
    """A name no command has yet."""
    taken = {c.name for c in behaviour.commands}
    return next(n for n in (name, *(f"{name} {k}" for k in range(2, 99))) if n not in taken)


def _times(text: str, many: int) -> list[str]:
    lines = [line.strip() for line in text.splitlines()][:many]
    return [*lines, *[""] * (many - len(lines))]
