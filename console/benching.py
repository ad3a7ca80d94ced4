"""``zinc-latch bench``: the simulated controller and meter on standard input and output."""

from __future__ import annotations

import os
import secrets
import select
import sys
import time
from collections.abc import Iterator

from console.asking import SOUND, UNUSABLE
from latchcore.advice.mending import advised
from latchcore.bench.controller import Controller
from latchcore.bench.hidden import hidden_faults
from latchcore.bench.rig import Rig
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build

ENDS = frozenset({"quit", "exit"})
#: So long it listens before the program says what happened in between [s].
LISTENS = 0.05


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
    controller = Controller(Rig(around, report, hidden, seed), time.monotonic)
    _say(controller.hello())
    for line in _lines(sys.stdin.fileno()):
        if line is None:
            _say(controller.poll())
        elif line.strip().lower() in ENDS:
            break
        else:
            _say(controller.does(line))
    return SOUND


def _lines(source: int) -> Iterator[str | None]:
    """Lines as they come, and nothing each time none came for a while; ends with the input."""
    kept = b""
    while True:
        if not select.select([source], [], [], LISTENS)[0]:
            yield None
            continue
        came = os.read(source, 4096)
        *whole, kept = (kept + came).split(b"\n")
        for line in whole if came else [*whole, kept]:
            yield line.decode(errors="replace")
        if not came:
            return


def _say(lines: list[str]) -> None:
    for line in lines:
        print(line, flush=True)
