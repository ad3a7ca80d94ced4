"""Windows of what a meter should show: by the solver, held against the sums of the stages."""

from __future__ import annotations

import random
from pathlib import Path

import pytest

from latchcore.bench import solver
from latchcore.bench.circuit import GROUND, Corner, NotModelled, circuit_of
from latchcore.bench.commands import commands_of
from latchcore.bench.meter import usual_meter
from latchcore.bench.readings import expected, readings_table
from latchcore.bench.solver import Part, solve
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.edits import apply
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import read_build
from tests.core.benches import bench
from tests.core.test_all_stages import load_for

DEMO = Path(__file__).parents[2] / "demo"
STAGES = ("npn_low_side", "nmos_low_side", "pnp_high_side", "pmos_high_side", "coupler_nmos",
          "coupler_pnp", "coupler_pmos", "relay_contact", "darlington_low_side")  # fmt: skip
PACKAGES = ("array_low_side", "register_output", "pv_mosfet", "relay_module", "solid_module",
            "solid_direct", "coupler_logic", "bridge_reed", "bridge_chip", "bridge_relays",
            "bridge_discrete", "coil_switches", "stepper_bridges")  # fmt: skip


def modelled():
    """Every channel of the demo the solver takes, and one of each stage with a plain load."""
    for path in sorted(DEMO.glob("*.json")):
        build = read_build(path.read_bytes())
        yield from ((f"{path.stem} {c.id}", build, c.id) for c in build.channels)
    for kind in STAGES:
        build = bench()
        channel = build.channels[0].id
        build, _ = apply(build, "set_stage", {"channel": channel, "stage": kind})
        yield kind, build, channel
    for kind in PACKAGES:
        build = bench(**load_for(kind), stage=kind)
        yield kind, build, build.channels[0].id


def worked():
    found = []
    for name, build, channel in modelled():
        report = evaluate(build)
        told = report.channel(channel)
        context = BuildContext(build, load_catalogue()).channel(build.channel(channel))
        if told.result is None:
            continue
        try:
            windows = expected(context, told.result)
        except NotModelled:
            continue
        found.append(pytest.param(context, told.result, windows, id=name))
    return found


WORKED = worked()


def test_enough_of_them_are_taken():
    names = {p.id for p in WORKED}
    every = {*STAGES, *PACKAGES}
    assert len(WORKED) > 60 and every <= names, sorted(every - names)


@pytest.mark.parametrize(("context", "result", "windows"), WORKED)
def test_every_corner_between_reads_inside(context, result, windows):
    chance = random.Random(5)
    for _ in range(12):
        corner = Corner(chance.random(), chance.random(), chance.random())
        for state in commands_of(context, result):
            point = solve(circuit_of(context, result, state, corner))
            for item in windows:
                volts = point.volts(item.node, item.against) if item.state == state else None
                if volts is not None and item.window is not None:
                    assert item.window[0] <= volts <= item.window[1], (item, volts)


@pytest.mark.parametrize(("context", "result", "windows"), WORKED)
def test_the_stage_and_the_solver_agree_on_what_is_left_of_the_pin(context, result, windows):
    """Off, the node that decides stays under what the stage reckons with, and the load is off."""
    state = next(s for s in result.states if s.key == "commanded_off")
    own = [w for w in windows if w.state == "off" and w.node == state.node]
    if state.voltage is None or not own or own[0].window is None:
        return
    most = own[0].window[1]
    assert most <= state.voltage + usual_meter().off(most) + 1e-6


def theatre(name: str):
    build = read_build((DEMO / "hollyhock-marionettes.json").read_bytes())
    report = evaluate(build)
    told = next(c for c in report.channels if c.name == name)
    context = BuildContext(build, load_catalogue()).channel(build.channel(told.id))
    found = {(w.state, w.node): w.window for w in expected(context, told.result)}
    return told.id, found


def test_a_saturated_transistor_reads_as_the_book_says():
    key, found = theatre("Bell relay")
    low, high = found["on", f"{key}.SW"]
    assert low > 0.0 and high < 0.45
    low, high = found["on", f"{key}.BASE"]
    assert low > 0.6 and high < 1.0
    # Off, the whole rail stands across it.
    assert found["off", f"{key}.SW"][0] > 4.7


def test_one_that_is_not_driven_enough_shows_on_the_meter():
    key, found = theatre("Thunder shutter")
    assert found["on", f"{key}.SW"][1] > 2.0


def test_a_mosfet_passes_its_gate_on():
    key, found = theatre("Trapdoor")
    gate, pin = found["on", f"{key}.GATE"], found["on", f"{key}.PIN"]
    assert gate == pytest.approx(pin, abs=0.01) and found["on", f"{key}.SW"][1] < 0.25


def test_what_hangs_on_the_mains_is_no_point_to_probe():
    key, found = theatre("Fog fan")
    assert ("on", f"{key}.SW") in found and ("on", f"{key}.FED") not in found


def load_in(parts, point) -> float:
    """What flows in the load, or in the coil of a relay."""
    load = next((p for p in parts if p.id.endswith("LOAD")), None)
    coil = next((p for p in parts if p.kind == "relay"), None)
    return point.amps_into(f"{load.id if load else coil.id}.a")


@pytest.mark.parametrize("kind", STAGES)
def test_every_fault_that_takes_the_load_away_shows_at_some_node(kind):
    """A resistor that is open and takes the load away puts a reading outside its window."""
    found = next(p for p in WORKED if p.id == kind)
    context, result, windows = found.values
    sound = circuit_of(context, result, "on", Corner(0.5, 0.5, 0.5))
    whole = abs(load_in(sound, solve(sound)))
    for n, part in enumerate(sound):
        point = solve([*sound[:n], *sound[n + 1 :]])
        if part.kind != "resistor" or point.undecided or abs(load_in(sound, point)) > whole / 2:
            continue
        outside = [
            w for w in windows if w.state == "on" and w.window is not None
            and (volts := point.volts(w.node, GROUND)) is not None
            and not w.window[0] <= volts <= w.window[1]
        ]  # fmt: skip
        drifting = any(point.volts(w.node, GROUND) is None for w in windows if w.state == "on")
        assert outside or drifting, part.id


def test_the_table_has_a_row_for_every_node_and_says_what_it_cannot():
    build = read_build((DEMO / "hollyhock-marionettes.json").read_bytes())
    report = evaluate(build)
    rows = readings_table(BuildContext(build, load_catalogue()), report).rows
    assert ("C", "Bell relay", "Commanded on", "C2", "0 V") in {row[:5] for row in rows}
    lamp = [row for row in rows if row[1] == "House lamp"]
    # Its LED can be read; what that fires is on the line, and has no number here.
    assert {(row[2], row[3]) for row in lamp if row[2].startswith("Commanded")} == {
        (f"Commanded {state}", f"K{n}") for state in ("off", "on") for n in (1, 2)
    }
    winch = next(row for row in rows if row[1] == "Cloud winch")
    assert winch[5].startswith("not worked out: its line carries pulses")


def channel(kind: str, **load):
    build = bench(**(load or load_for(kind)), stage=kind)
    context = BuildContext(build, load_catalogue()).channel(build.channels[0])
    result = evaluate(build).channels[0].result
    return context, result, {(w.state, w.node): w.window for w in expected(context, result)}


def test_a_bridge_puts_the_rail_at_one_end_and_then_at_the_other():
    _, _, found = channel("bridge_chip")
    one, other = "ch2.OUT1", "ch2.OUT2"
    for state, high, low in (("forward", one, other), ("reverse", other, one)):
        assert found[state, high][0] > 10.8 and found[state, low][1] < 0.6
    # Braked, both ends are joined; nothing flows and both stand at one end of the rail.
    assert found["brake", one] == pytest.approx(found["brake", other])


def test_relays_that_turn_a_motor_are_switched_by_their_coils():
    _, _, found = channel("bridge_relays")
    assert found["off", "ch2.COIL.forward"][0] > 11 and found["off", "ch2.OUT1"] is None
    assert found["forward", "ch2.COIL.forward"][1] < 0.4
    assert found["forward", "ch2.OUT1"][0] - found["forward", "ch2.OUT2"][1] > 9


def test_a_module_pulled_low_closes_and_its_input_shows_why():
    _, _, found = channel("relay_module")
    assert found["on", "ch2.FED"][0] > 11 and found["off", "ch2.FED"][1] < 0.001
    assert found["on", "ch2.PIN"][1] < 0.6


def test_an_array_keeps_the_drop_of_a_darlington():
    _, _, found = channel("array_low_side")
    assert found["on", "ch2.SW"][0] > 0.6 and found["on", "ch2.SW"][1] < 1.8


def test_the_line_of_another_device_is_read_against_its_own_ground():
    context, result, _ = channel("coupler_logic")
    line = [w for w in expected(context, result) if w.node == "ch2.LINE+"]
    assert {w.against for w in line} == {"ch2.LINE-"}
    low = {w.state: w.window for w in line}
    assert low["off"][0] > 4.4 and low["on"][1] < 0.6


def test_an_input_nothing_ties_is_said_and_has_no_number():
    figures = {"inputs": ("in1",), "outputs": ("out1",), "rows": (("1", ("high",)),),
               "reads_low": 0.8, "reads_high": 2.0, "input_ohm": None, "high_ohm": 1.0,
               "low_ohm": 1.0, "least_supply": 4.0}  # fmt: skip
    supply = Part("V", "source", {"plus": "p", "minus": "0"},
                  {"volts_v": 5.0, "ohm": 0.0, "limit_a": None, "one_way": True})  # fmt: skip
    at = {"supply": "p", "ground": "0", "in1": "in", "out1": "out"}
    load = Part("L", "resistor", {"a": "out", "b": "0"}, {"ohm": 49.0})
    chip = Part("U", "package", at, figures)
    assert solve([supply, chip, load]).undecided == ["U"]
    tied = Part("R", "resistor", {"a": "p", "b": "in"}, {"ohm": 10e3})
    assert solve([supply, chip, load, tied]).volts("out", "0") == pytest.approx(4.9)
    # Just under its least supply it does nothing, whatever its inputs say.
    weak = Part("V", "source", supply.at, {**supply.figures, "volts_v": 3.99})
    assert solve([weak, chip, load, tied]).volts("out", "0") == pytest.approx(0.0, abs=1e-6)


def test_sixty_four_channels_side_by_side_are_one_circuit(monkeypatch):
    build = bench()
    context = BuildContext(build, load_catalogue()).channel(build.channels[0])
    result = evaluate(build).channels[0].result
    parts = circuit_of(context, result, "on", Corner(0.5, 0.5, 0.5))
    shared = [p for p in parts if p.kind == "source"]
    own = [p for p in parts if p.kind != "source"]
    rails = {node for p in shared for node in p.at.values()}
    many = list(shared)
    for n in range(64):
        many += [
            Part(f"{p.id}.{n}", p.kind,
                 {t: v if v in rails else f"{v}.{n}" for t, v in p.at.items()}, p.figures)
            for p in own
        ]  # fmt: skip
    point, one = solve(many), solve(parts)
    node = next(v for p in own for v in p.at.values() if v.endswith("SW"))
    assert point.volts(f"{node}.63", GROUND) == pytest.approx(one.volts(node, GROUND), rel=1e-3)
    # Solved one by one they are what they are solved at once.
    monkeypatch.setattr(solver, "MANY", 10**9)
    whole = solve(many)
    assert point.states == whole.states
    for n in range(64):
        at = f"{node}.{n}"
        assert point.volts(at, GROUND) == pytest.approx(whole.volts(at, GROUND), abs=1e-9)
