"""Rows of the budget table for what leaves the screen: the command's start, programs, sheets."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from latchcore.document.models import Build
from latchcore.formats.buildfile import write_build
from latchcore.program.cplusplus import cplusplus
from latchcore.program.micropython import micropython
from latchcore.program.plan import ProgramPlan

ROOT = Path(__file__).resolve().parent.parent


def outward(row: Callable[..., None], many: Callable[[int], Build]) -> None:
    """A check of 64 channels with its start, and the programs of as many."""
    with tempfile.TemporaryDirectory() as folder:
        _check(row, many(64), Path(folder))
    build = many(64)
    begun = time.perf_counter()
    plan = ProgramPlan(build)
    lines = sum(text.count("\n") for write in (micropython, cplusplus)
                for text in write(plan).values())  # fmt: skip
    taken = (time.perf_counter() - begun) * 1e3
    row("programs of 64 channels in both languages", taken, "ms", None, f"{lines} lines")


def _check(row: Callable[..., None], build: Build, folder: Path) -> None:
    path = folder / "many.json"
    path.write_text(write_build(build), encoding="utf-8")
    around = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
    around["PYTHONPYCACHEPREFIX"] = str(folder)

    def run(*words: str) -> float:
        begun = time.perf_counter()
        command = [sys.executable, *words]
        subprocess.run(command, stdout=subprocess.DEVNULL, env=around, cwd=ROOT, check=False)
        return time.perf_counter() - begun

    check = ("-m", "console.main", "check", str(path))
    run(*check)
    taken = min(run(*check) for _ in range(3))
    bare = min(run("-c", "import pydantic, numpy, networkx") for _ in range(3))
    note = f"{taken / bare:.1f} × the start of its libraries alone"
    row("check of 64 channels with its start", taken * 1e3, "ms", 1000, note)
