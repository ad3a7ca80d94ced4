"""``zinc-latch bench``: the simulated controller and meter on standard input and output."""

from __future__ import annotations

import secrets
import sys

from console.asking import SOUND, UNUSABLE
from latchcore.advice.mending import advised
from latchcore.bench.controller import Controller
from latchcore.bench.hidden import hidden_faults
from latchcore.bench.rig import Rig
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build

ENDS = frozenset({"quit", "exit"})


def run_bench(build: Build, fault: str | None, list_faults: bool) -> int:
    """
    Serve lines until the input ends; ``fault`` is the name of one, or ``any``; exits with 2 where
    the build has none of that name.
    """
    around, report = BuildContext(build, load_catalogue()), advised(build)
    known = hidden_faults(around, report)
    if list_faults:
        for one in known:
            print(f"{one.id}\t{one.words}")
        return SOUND
    hidden = None
    if fault == "any" and known:
        hidden = secrets.choice(known)
    elif fault is not None:
        hidden = next((one for one in known if one.id == fault), None)
        if hidden is None:
            print(f"The build has no fault called “{fault}”; --faults lists them.", file=sys.stderr)
            return UNUSABLE
    seed = secrets.randbelow(10_000) if hidden is not None else 0
    controller = Controller(Rig(around, report, hidden, seed))
    _say(controller.hello())
    for line in sys.stdin:
        if line.strip().lower() in ENDS:
            break
        _say(controller.does(line))
    return SOUND


def _say(lines: list[str]) -> None:
    for line in lines:
        print(line, flush=True)
