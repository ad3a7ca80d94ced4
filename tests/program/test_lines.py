"""What a program does to the pins of the board, and in which order."""

from __future__ import annotations

import importlib.util
import subprocess
import sys
from pathlib import Path

import pytest

from latchcore.formats.buildfile import read_build
from latchcore.program import hardware as hw
from latchcore.program.cplusplus import cplusplus
from latchcore.program.micropython import micropython
from latchcore.program.plan import ProgramPlan
from tests.program.runs import GPP, HERE
from tests.program.test_line_and_walk import shed

DEMO = Path(__file__).parents[2] / "demo"
NAMES = sorted(path.stem for path in DEMO.glob("*.json"))


def plan_of(name: str) -> ProgramPlan:
    return ProgramPlan(read_build((DEMO / f"{name}.json").read_bytes()), "1")


def module_of(plan: ProgramPlan, folder: Path, monkeypatch):
    """The module of a build with a board on paper, and what was called on it."""
    monkeypatch.syspath_prepend(str(HERE))
    sys.modules.pop("machine", None)
    [(name, text)] = micropython(plan).items()
    path = folder / name
    path.write_text(text, encoding="utf-8")
    spec = importlib.util.spec_from_file_location(f"program_{path.stem}", path)
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    calls = sys.modules["machine"].CALLS
    calls.clear()
    # A laptop's clock has no wrap of its own.
    module.time = type("Clock", (), {"ticks_ms": lambda: 0, "ticks_us": lambda: 0,
                                     "ticks_diff": lambda a, b: a - b})  # fmt: skip
    return module, calls


def outs(plan: ProgramPlan) -> dict[int | str, int]:
    """Every pin of the board that is driven, with the level that is off."""
    found = {}
    for drive in plan.hardware.drives:
        lines = getattr(drive, "lines", None) or ([drive.line] if hasattr(drive, "line") else [])
        found |= {line.number: line.off for line in lines if not line.chain}
    for chain in plan.hardware.chains:
        if not chain.why:
            pins = {role: line.number for role, line in chain.lines.items()}
            found |= {pins["data"]: 0, pins["latch"]: 0, pins["clock"]: chain.idle}
            found |= {pins["enable"]: chain.released} if "enable" in pins else {}
    return found


def first_levels(calls: list[tuple]) -> dict[int | str, int]:
    """What stood on each pin when it became an output; nothing may become one without."""
    standing, found = {}, {}
    for what, pin, value in calls:
        if what == "level":
            standing[pin] = value
        elif what == "output" and pin not in found:
            found[pin] = standing.get(pin)
    return found


@pytest.mark.parametrize("name", NAMES)
def test_the_level_that_is_off_stands_before_a_pin_is_an_output(name, tmp_path, monkeypatch):
    plan = plan_of(name)
    module, calls = module_of(plan, tmp_path, monkeypatch)
    monkeypatch.chdir(tmp_path)
    module.begin()
    assert first_levels(calls) == outs(plan)


@pytest.mark.slow
@pytest.mark.parametrize("name", NAMES)
def test_so_it_does_in_cplusplus(name, tmp_path):
    plan = plan_of(name)
    files = cplusplus(plan)
    (tmp_path / "program.h").write_text(files[f"{plan.slug}.h"], encoding="utf-8")
    (tmp_path / "main.cpp").write_text(
        '#include "program.h"\nint main() { board_tells = true; setup(); }\n'
    )
    call = [*GPP, f"-I{tmp_path}", str(tmp_path / "main.cpp"), "-o", str(tmp_path / "main")]
    done = subprocess.run(call, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr[:2000]
    said = subprocess.run([tmp_path / "main"], capture_output=True, text=True).stdout
    calls = [line.split()[1:] for line in said.splitlines() if line.startswith("@")]
    found = first_levels([(what, int(pin), int(value)) for what, pin, value in calls])
    assert found == outs(plan)


def written(module, calls, channel: str, level: int) -> list[tuple]:
    """What one channel at a level does to the pins, the rest off."""
    for c in module.CHANNELS:
        c.written = level if c.name == channel else 0
    calls.clear()
    module.write_outputs()
    return [call for call in calls if call[0] != "width"]


@pytest.fixture
def theatre(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    plan = plan_of("hollyhock-marionettes")
    module, calls = module_of(plan, tmp_path, monkeypatch)
    module.begin()
    module.write_outputs()
    return plan, module, calls


def test_a_lamp_that_pulses_gets_its_share(theatre):
    _, module, calls = theatre
    assert ("hertz", 25, 400) in calls
    assert ("duty", 25, 40 * 65535 // 100) in written(module, calls, "ch3", 40)


def test_both_ways_of_a_motor_are_each_a_line(theatre):
    _, module, calls = theatre
    there = written(module, calls, "ch10", 100)
    assert ("level", 16, 1) in there and ("level", 4, 0) in there
    back = [call for call in written(module, calls, "ch10.2", 100) if call[1] in (16, 4)]
    # The way that ends is let go before the other begins.
    assert back.index(("level", 16, 0)) < back.index(("level", 4, 1))


def test_a_servo_goes_between_its_ends(theatre):
    _, module, calls = theatre
    servo = next(d for d in module.DRIVES if type(d).__name__ == "Servo")
    for level, width in ((0, servo.rest), (100, servo.work)):
        written(module, calls, "ch24", level)
        assert ("width", 13, width * 1000) in calls


def test_a_triac_fires_by_the_table_and_never_after_its_last_moment(theatre):
    plan, module, calls = theatre
    drive = next(d for d in module.DRIVES if type(d).__name__ == "Firing")
    fires = next(d for d in plan.hardware.drives if isinstance(d, hw.FiringPlan))
    assert fires.delays[1] > fires.delays[5] > fires.delays[10] > 0
    written(module, calls, "ch18", 50)
    pulse = [("level", 21, 1), ("level", 21, 0)]
    for since, wanted in (
        (fires.delays[5] - 1, []),
        (fires.delays[5], pulse),
        (fires.latest, pulse),
        (fires.latest + 1, []),
    ):
        calls.clear()
        module.time.ticks_us = lambda now=since: now
        module.time.sleep_us = lambda us: None
        drive.zero_at = 0
        drive.poll()
        assert calls == wanted


@pytest.mark.parametrize("level", [1, 4, 5, 14])
def test_a_lamp_asked_for_next_to_nothing_is_never_fired_at_the_zero(theatre, level):
    plan, module, calls = theatre
    drive = next(d for d in module.DRIVES if type(d).__name__ == "Firing")
    fires = next(d for d in plan.hardware.drives if isinstance(d, hw.FiringPlan))
    written(module, calls, "ch18", level)
    assert drive.fires == fires.delays[1] > 0
    written(module, calls, "ch18", 0)
    assert drive.fires is None


def test_a_stepper_on_a_driver_steps_at_its_rate_and_lets_go(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    build = shed()
    stage = {"kind": "step_driver", "settings": {"step_rate": "400 Hz"}}
    motor = build.channels[0].model_validate(
        {"id": "ch2", "name": "Dial", "rail": "rail1", "pin": "L5", "stage": stage,
         "lines": {"direction": "L10", "enable": "L11"},
         "load": {"kind": "stepper_bipolar", "voltage": "12 V", "figure": "1 A"}}
    )  # fmt: skip
    plan = ProgramPlan(build.model_copy(update={"channels": [motor, *build.channels[1:]]}))
    turning = plan.hardware.drives[0]
    assert isinstance(turning, hw.TurningPlan) and turning.each == 1250
    assert [line.off for line in turning.lines] == [0, 0, 1]
    module, calls = module_of(plan, tmp_path, monkeypatch)
    module.begin()
    assert first_levels(calls)[11] == 1
    module.CHANNELS[0].written = 100
    calls.clear()
    for now in (0, 1249, 1250, 2500):
        module.time.ticks_us = lambda now=now: now
        module.DRIVES[0].poll()
    assert [c for c in calls if c[1] == 5] == [("level", 5, 1), ("level", 5, 0), ("level", 5, 1)]
    assert ("level", 11, 0) in calls
    module.CHANNELS[0].written = 0
    calls.clear()
    module.write_outputs()
    assert ("level", 11, 1) in calls


def test_what_follows_another_s_line_does_not_fight_over_it():
    build = shed()
    follows = build.channels[1].model_copy(update={"pin": "L5", "moves_with": "ch2"})
    channels = [build.channels[0], follows, *build.channels[2:]]
    plan = ProgramPlan(build.model_copy(update={"channels": channels}))
    assert plan.hardware.by_hand == [("ch3", "it shares the line of Lamp and moves with that")]


def test_what_reads_a_signal_is_never_made_an_output():
    build = shed()
    reads = build.channels[1].model_validate(
        {"id": "ch3", "name": "Wire", "rail": "rail1", "pin": "L6",
         "stage": {"kind": "wide_input"},
         "load": {"kind": "wide_signal", "voltage": "12 V", "figure": "5 mA"}}
    )  # fmt: skip
    channels = [build.channels[0], reads, *build.channels[2:]]
    plan = ProgramPlan(build.model_copy(update={"channels": channels}))
    assert [line.id for d in plan.hardware.drives for line in getattr(d, "lines", ())] == [
        "L5", "L7", "L8"]  # fmt: skip


def test_what_has_words_of_its_own_is_left_to_a_routine(theatre):
    plan, module, calls = theatre
    assert [key for key, _ in plan.hardware.by_hand] == ["chain25"]
    got = []
    module.chain25.routine = got.append
    written(module, calls, "ch13", 100)
    assert len(got) == 1 and sum(got[0]) == 100 and len(got[0]) == 16


def test_registers_are_shifted_farthest_first_and_let_go_last(tmp_path, monkeypatch):
    plan = plan_of("landing-chime")
    module, calls = module_of(plan, tmp_path, monkeypatch)
    module.begin()
    chain = plan.hardware.chains[0]
    pins = {role: line.number for role, line in chain.lines.items()}
    calls.clear()
    module.CHANNELS[1].written = 100
    module.write_outputs()
    bits = [value for what, pin, value in calls if what == "level" and pin == pins["data"]]
    image = bits[-chain.places :]
    place = plan.hardware.drives[1].lines[0].place
    assert image[chain.places - 1 - place] == 1 and sum(image) == 1
    if "enable" in pins:
        assert calls[-1] == ("level", pins["enable"], 1 - chain.released)
