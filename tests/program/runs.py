"""Programs run beside each other: under CPython, under MicroPython, in C++."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from tests.program.feeds import Feed

HERE = Path(__file__).parent / "stand_in"
MICROPYTHON = Path(sys.executable).parent / "micropython"
GPP = ["g++", "-std=c++17", "-O0", "-Wall", "-Wextra", "-Werror", f"-I{HERE}"]
#: So many programs are compiled at once.
AT_ONCE = 24


def in_python(interpreter: Path | str, feeds: list[Feed], folder: Path) -> dict[str, list]:
    """What each module said, step by step."""
    for feed in feeds:
        (folder / f"{feed.name}.py").write_text(feed.module, encoding="utf-8")
        (folder / f"{feed.name}.feed").write_text("\n".join(feed.given) + "\n")
    (folder / "names").write_text("\n".join(f.name for f in feeds))
    roomy = ["-X", "heapsize=256M"] if interpreter == MICROPYTHON else []
    call = [
        str(interpreter),
        *roomy,
        str(HERE / "drive.py"),
        str(HERE),
        str(folder),
        str(folder / "names"),
    ]
    ran = subprocess.run(call, capture_output=True, text=True, timeout=300)
    assert ran.returncode == 0, ran.stderr[-2000:] + ran.stdout[-500:]
    found = {}
    for part in ran.stdout.split("= ")[1:]:
        name, _, text = part.partition("\n")
        found[name] = in_steps(text)
    return found


def in_cplusplus(feeds: list[Feed], folder: Path) -> dict[str, list]:
    """The same in C++, some programs in one binary, each in a namespace of its own."""
    found = {}
    for n in range(0, len(feeds), AT_ONCE):
        some = feeds[n : n + AT_ONCE]
        binary = compiled_from(some, folder, n)
        for at, feed in enumerate(some):
            given = f"{len(feed.given)}\n" + "\n".join(feed.given)
            ran = subprocess.run(
                [binary, str(at)], input=given, capture_output=True, text=True, timeout=60
            )
            assert ran.returncode == 0, (feed.name, ran.returncode)
            found[feed.name] = in_steps(ran.stdout)
    return found


def compiled_from(feeds: list[Feed], folder: Path, n: int) -> Path:
    """One binary of several programs, warnings as errors."""
    text = ["#include <stdlib.h>"]
    for at, feed in enumerate(feeds):
        (folder / f"{feed.name}.h").write_text(feed.header, encoding="utf-8")
        text += [
            f"#define setup setup_{at}",
            f"#define loop loop_{at}",
            f'#include "{feed.name}.h"',
            "#undef setup",
            "#undef loop",
            f"namespace {feed.name} {{",
            feed.setting,
            '#include "drive.inc"',
            "}",
        ]
    text.append("int main(int, char **given) {\n  switch (atoi(given[1])) {")
    text += [f"    case {at}: {f.name}::drive(); break;" for at, f in enumerate(feeds)]
    text.append("  }\n}")
    source, binary = folder / f"some{n}.cpp", folder / f"some{n}"
    source.write_text("\n".join(text), encoding="utf-8")
    ran = subprocess.run(
        [*GPP, str(source), "-o", str(binary)], capture_output=True, text=True, timeout=300
    )
    assert ran.returncode == 0, ran.stderr[:3000]
    return binary


def in_steps(text: str) -> list[list[str]]:
    """What was said, cut after each step, alarms in order of words."""
    steps: list[list[str]] = []
    said: list[str] = []
    for line in text.splitlines():
        if line.startswith("#"):
            changes = [w for w in said if " alarm " not in w]
            steps.append([*changes, *sorted(w for w in said if " alarm " in w), line])
            said = []
        else:
            said.append(line)
    return steps
