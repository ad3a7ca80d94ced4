"""``zinc-latch states``: every combination of a channel's lines, and which come about."""

from __future__ import annotations

import json

from console.asking import FALLS_SHORT, SOUND, UNUSABLE, refuse, the_channel
from latchcore.document.models import Build
from latchcore.evaluate import evaluate
from latchcore.sums.motion.told import LETTERS, told


def print_states(build: Build, called: str, as_json: bool) -> int:
    """
    Print the table of a channel; returns the exit status: 1 where a stop comes of a combination
    that is reached, 2 where there is no such channel or no table of it.
    """
    channel = the_channel(evaluate(build), called)
    if channel is None:
        return UNUSABLE
    if channel.result is None:
        return refuse(f"{channel.name} cannot be worked out: {', '.join(channel.missing)} missing.")
    motion = channel.result.motion
    if motion is None:
        return refuse(
            f"{channel.name} hangs on a single line; its states are high, low and floating."
        )
    rows = told(motion)
    names = [line.name for line in motion.power.lines]
    if as_json:
        data = {"channel": channel.id, "inputs": names, "rows": [r.as_data() for r in rows]}
        print(json.dumps(data, indent=2, ensure_ascii=False))
    else:
        print("  ".join(f"{name:<11}" for name in (*names, "result", "comes about")).rstrip())
        for r in rows:
            by = ", ".join(r.by) if r.reachable else "no"
            words = (*(LETTERS[letter] for letter in r.inputs), r.words, by)
            print("  ".join(f"{word:<11}" for word in words).rstrip())
    stops = any(v.severity == "stop" for v in motion.verdicts)
    return FALLS_SHORT if stops else SOUND
