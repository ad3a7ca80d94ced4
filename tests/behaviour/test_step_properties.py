"""What holds whatever the rules: on random behaviours, random inputs and power cuts."""

from __future__ import annotations

import pytest

from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.rehearsal import Rehearsal, Runner
from latchcore.behaviour.script import read_script
from tests.behaviour.neutral import Neutral
from tests.behaviour.random_ones import CHANNELS, STEP, a_behaviour, inputs
from tests.behaviour.worklight import a_build

SEEDS = range(150)
STEPS = 120


def ran(seed: int, every: bool = True, cuts: bool = True) -> tuple[dict, Rehearsal]:
    data = a_behaviour(seed)
    given = Neutral(data)
    runner = Runner(compiled(given.build), given.start, every)
    happenings = given.happenings(inputs(seed, STEPS, cuts), None)
    return data, runner.run(happenings, STEPS * STEP)


def on_in(run: Rehearsal) -> dict[str, list[bool]]:
    """Of each channel whether it is on, step by step."""
    found = {}
    for n, name in enumerate(CHANNELS):
        on, states = False, []
        changes = [w for w in run.changes if w.channel == n]
        for step in range(run.last + 1):
            for written in changes:
                if written.step == step:
                    on = written.level > 0
            states.append(on)
        found[name] = states
    return found


def stretches(states: list[bool]) -> list[tuple[int, int]]:
    """Where it is on: first step, and the one after the last."""
    edges = [n for n in range(1, len(states)) if states[n] != states[n - 1]]
    edges = [0, *edges] if states[0] else edges
    return [
        (edges[n], edges[n + 1] if n + 1 < len(edges) else len(states))
        for n in range(0, len(edges), 2)
    ]


@pytest.mark.parametrize("seed", SEEDS)
def test_steps_in_which_nothing_can_change_may_be_left_out(seed):
    _, every = ran(seed)
    _, skipping = ran(seed, every=False)
    assert every.changes == skipping.changes
    assert every.alarms == skipping.alarms
    assert skipping.done <= every.done


@pytest.mark.parametrize("seed", SEEDS)
def test_interlocked_channels_never_meet_and_their_gap_passes(seed):
    data, run = ran(seed)
    on = on_in(run)
    for lock in data["interlocks"]:
        gap = round(lock["gap_s"] / STEP)
        first, second = (on[c] for c in lock["channels"])
        assert not any(a and b for a, b in zip(first, second, strict=True))
        for one, other in ((first, second), (second, first)):
            for begin, _ in stretches(one):
                ends = [end for _, end in stretches(other) if end <= begin]
                assert not ends or begin - max(ends) >= gap


@pytest.mark.parametrize("seed", SEEDS)
def test_no_limit_is_ever_passed(seed):
    data, run = ran(seed, cuts=False)
    on = on_in(run)
    for channel in data["channels"]:
        limits, runs = channel["limits"], stretches(on[channel["name"]])
        steps = {k: round(v / STEP) for k, v in limits.items() if isinstance(v, float)}
        for begin, end in runs:
            assert end - begin <= steps.get("longest_on_s", STEPS + 1)
        for (_, off), (again, _) in zip(runs, runs[1:], strict=False):
            assert again - off >= steps.get("least_off_s", 0)
        if "starts" in limits:
            window = round(limits["starts"]["per_s"] / STEP)
            begins = [begin for begin, _ in runs]
            for n, begin in enumerate(begins):
                young = [b for b in begins[: n + 1] if b > begin - window]
                assert len(young) <= limits["starts"]["most"]
        if "share" in limits:
            window = round(limits["share"]["window_s"] / STEP)
            states = on[channel["name"]]
            most = int(limits["share"]["most"] * window)
            for n in range(len(states)):
                assert sum(states[max(n - window + 1, 0) : n + 1]) <= most


@pytest.mark.parametrize("seed", SEEDS)
def test_a_rest_is_kept_through_power_cuts_and_resets(seed):
    data, run = ran(seed)
    on = on_in(run)
    returns = [h["t"] for h in inputs(seed, STEPS) if h.get("power") == 1 or "reset" in h]
    for channel in data["channels"]:
        rest = round(channel["limits"].get("least_off_s", 0) / STEP)
        begins = [begin for begin, _ in stretches(on[channel["name"]])]
        for t in (0.0, *returns):
            back = round(t / STEP)
            assert not any(back <= begin < back + rest for begin in begins)


@pytest.mark.parametrize("seed", SEEDS)
def test_off_wins_in_every_step_of_a_block(seed):
    data, run = ran(seed)
    program = compiled(Neutral(data).build)
    on = on_in(run)
    for part in program.channels:
        for bar in part.bars:
            held, states = False, []
            marks = [c for c in run.conditions if c[1] == bar]
            for step in range(run.last + 1):
                for mark in marks:
                    held = bool(mark[2]) if mark[0] == step else held
                states.append(held)
            both = zip(states, on[CHANNELS[part.place]], strict=True)
            assert not any(a and b for a, b in both)


def test_both_ways_of_a_motor_never_meet_though_nobody_said_so():
    winch = {"kind": "motor_both", "voltage": "12 V", "figure": "1 A"}
    rules = [
        {"id": "ru1", "kind": "while", "channel": key, "condition": {"kind": "input", "of": of}}
        for key, of in (("ch2", "in4"), ("ch2.2", "in5"))
    ]
    rules[1]["id"] = "ru2"
    build = a_build({"requests": rules})
    motor = build.channels[0].model_copy(
        update={"load": build.channels[0].load.model_validate(winch)}
    )
    build = build.model_copy(update={"channels": [motor, build.channels[1]]})
    script = "1 North on\n2 South on\n3 North off\n4 South off"
    program = compiled(build)
    run = Runner(program, {}).run(read_script(build, script), 5)
    names = [program.channels[w.channel].name for w in run.changes]
    assert [(w.step, n, w.level) for w, n in zip(run.changes, names, strict=True)] == [
        (102, "Lamp", 100),
        (302, "Lamp", 0),
        (302, "Lamp, backwards", 100),
        (402, "Lamp, backwards", 0),
    ]
