"""The text lines and the walk over a pseudo-terminal, and what holds channels off, in each."""

from __future__ import annotations

import os
import pty
import re
import select
import shutil
import subprocess
import time
from pathlib import Path

import pytest

from latchcore.document.models import Build
from latchcore.program.cplusplus import cplusplus
from latchcore.program.micropython import micropython
from latchcore.program.plan import ProgramPlan
from tests.program.runs import GPP, HERE, MICROPYTHON

pytestmark = pytest.mark.slow
LAMP = {"kind": "filament_lamp", "voltage": "12 V", "figure": "1 A"}


def shed() -> Build:
    """A lamp that dims, a pump and a valve that never meet, a fan a command asks for."""
    stage = {"kind": "nmos_low_side"}
    channels = [
        {"id": f"ch{n}", "name": name, "rail": "rail1", "load": LAMP, "pin": pin, "stage": stage}
        for n, name, pin in ((2, "Lamp", "L5"), (3, "Pump", "L6"), (4, "Valve", "L7"),
                             (5, "Fan", "L8"))
    ]  # fmt: skip
    channels[0]["pwm"] = "400 Hz"
    blow = {"kind": "command", "of": "cm6"}
    rule = {"id": "ru7", "kind": "while", "channel": "ch5", "condition": blow}
    manners = [
        {"channel": "ch3", "longest_on": "400 ms"},
        {"channel": "ch5", "returns": "standing"},
    ]
    return Build.model_validate(
        {
            "name": "Shed",
            "serial": 9,
            "board": "board-8bit-5v-20",
            "rails": [{"id": "rail1", "name": "12 V", "voltage": "12 V", "rating": "5 A"}],
            "channels": channels,
            "inputs": [{"id": "in9", "name": "Door", "kind": "reed", "pin": "L9"}],
            "behaviour": {
                "link_time_out": "2 s",
                "commands": [{"id": "cm6", "name": "Blow"}],
                "requests": [rule],
                "interlocks": [{"id": "il8", "channels": ["ch3", "ch4"], "gap": "200 ms"}],
                "manners": manners,
            },
        }
    )


class Terminal:
    """One program at the other end of a pseudo-terminal."""

    def __init__(self, call: list[str], folder: Path) -> None:
        self.side, other = pty.openpty()
        self.process = subprocess.Popen(call, stdin=other, stdout=other, cwd=folder)
        os.close(other)
        self.text, self.at = "", 0

    def send(self, line: str) -> None:
        os.write(self.side, f"{line}\n".encode())

    def wait(self, pattern: str, seconds: float = 8.0) -> re.Match:
        """Read on until something is said; what was said before does not count again."""
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            found = re.compile(pattern).search(self.text, self.at)
            if found:
                self.at = found.end()
                return found
            if select.select([self.side], [], [], 0.05)[0]:
                self.text += os.read(self.side, 4096).decode(errors="replace").replace("\r", "")
        raise AssertionError(f"“{pattern}” was not said; said was: {self.text[self.at :]!r}")

    def close(self) -> None:
        self.process.kill()
        self.process.wait()
        os.close(self.side)


@pytest.fixture(params=["micropython", "cplusplus"])
def terminal(request, tmp_path):
    plan = ProgramPlan(shed(), "3")
    if request.param == "micropython":
        (tmp_path / "shed.py").write_text(micropython(plan)["shed.py"], encoding="utf-8")
        shutil.copy(HERE / "machine.py", tmp_path)
        call = [str(MICROPYTHON), "shed.py"]
    else:
        (tmp_path / "shed.h").write_text(cplusplus(plan)["shed.h"], encoding="utf-8")
        (tmp_path / "shed.cpp").write_text(
            '#include "shed.h"\n'
            "int main() {\n  board_runs = true;\n  setup();\n"
            "  for (;;) {\n    loop();\n    usleep(500);\n  }\n}\n"
        )
        binary = str(tmp_path / "shed")
        made = subprocess.run([*GPP, f"-I{tmp_path}", str(tmp_path / "shed.cpp"), "-o", binary])
        assert made.returncode == 0
        call = [binary]
    found = Terminal(call, tmp_path)
    yield found
    found.close()


def at(found: re.Match) -> float:
    return float(found[1])


def test_what_is_asked_over_the_line_is_done_said_and_limited(terminal):
    terminal.wait(r"Shed; program of revision 3, content [0-9a-f]{8}")
    terminal.send("lamp 40")
    terminal.wait(r"\d+\.\d{3} ch2 40 % line")
    terminal.send("?")
    terminal.wait(r"ch2 40 % \(Lamp\)\s+ch3 off \(Pump\)\s+ch4 off \(Valve\)\s+ch5 off \(Fan\)")
    terminal.wait(r"in9 (at rest|acted on) \(Door\)")
    terminal.send("lamp toggle")
    terminal.wait(r"ch2 off line")
    # A pump that may be on for 0.4 s is cut, and the valve waits for the gap after it.
    terminal.send("pump on")
    on = at(terminal.wait(r"(\d+\.\d{3}) ch3 on line"))
    terminal.send("ch4 on")
    off = at(terminal.wait(r"(\d+\.\d{3}) ch3 off longest_on"))
    valve = at(terminal.wait(r"(\d+\.\d{3}) ch4 on line"))
    # A machine that is busy may leave steps out, and is late then; it is never early.
    assert 0.4 <= round(off - on, 3) < 0.9
    assert 0.2 <= round(valve - off, 3) < 0.7
    # Nobody says anything any more: everything that was asked by hand ends.
    quiet = at(terminal.wait(r"(\d+\.\d{3}) alarm line_silent line"))
    assert quiet - valve < 2.8
    terminal.send("?")
    terminal.wait(r"ch3 off \(Pump\)\s+ch4 off \(Valve\)")


def test_commands_by_name_nonsense_and_all_off(terminal):
    terminal.wait("Shed; program")
    terminal.send("blow on")
    terminal.wait(r"ch5 on while")
    terminal.send("All   OFF")
    terminal.wait(r"ch5 off line")
    for nonsense in ("lamp bright", "lamp 101", "attic on", "x" * 200, "lamp -3", "%"):
        terminal.send(nonsense)
        terminal.wait(r"! not understood: ")
    terminal.send("")
    terminal.send("blow once")
    terminal.wait(r"ch5 on while")
    terminal.wait(r"ch5 off ended")


def test_a_walk_waits_for_go_at_every_channel_and_ends_when_let_go(terminal):
    terminal.wait("Shed; program")
    terminal.send("walk")
    terminal.wait(r"walk: next ch2 \(Lamp\); go within 10 s")
    terminal.send("go")
    on = at(terminal.wait(r"(\d+\.\d{3}) ch2 100 % line"))
    off = at(terminal.wait(r"(\d+\.\d{3}) ch2 off line"))
    terminal.wait(r"walk: next ch3 \(Pump\)")
    assert 1.0 <= round(off - on, 3) < 1.6
    terminal.send("?")
    terminal.wait("walk: stopped, all off")
    terminal.send("walk")
    terminal.wait(r"walk: next ch2")
    # No channel goes on by itself: without a go the walk lets go of everything.
    terminal.wait("walk: let go, all off", seconds=13)
