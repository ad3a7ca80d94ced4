"""``zinc-latch states``: every combination of a channel's lines, and which come about."""

from __future__ import annotations

import json
import sys

from latchcore.design.report import ChannelReport
from latchcore.document.models import Build
from latchcore.evaluate import evaluate
from latchcore.sums.motion.told import LETTERS, told

SOUND, FALLS_SHORT, UNUSABLE = 0, 1, 2


def _asked(build: Build, called: str) -> ChannelReport | None:
    """A channel by its id, its letter or its name."""
    for channel in evaluate(build).channels:
        if called in (channel.id, channel.letter, channel.name):
            return channel
    return None


def print_states(build: Build, called: str, as_json: bool) -> int:
    """
    Print the table of a channel; returns the exit status: 1 where a stop comes of a combination
    that is reached, 2 where there is no such channel or no table of it.
    """
    channel = _asked(build, called)
    if channel is None:
        names = ", ".join(c.id for c in evaluate(build).channels) or "none, the build is empty"
        return _refuse(f"“{called}” is no channel of this build; expected one of {names}.")
    if channel.result is None:
        return _refuse(
            f"{channel.name} cannot be worked out: {', '.join(channel.missing)} missing."
        )
    motion = channel.result.motion
    if motion is None:
        return _refuse(
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


def _refuse(why: str) -> int:
    print(f"zinc-latch: {why}", file=sys.stderr)
    return UNUSABLE
