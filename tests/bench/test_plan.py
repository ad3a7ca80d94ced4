"""The power-up plan: what it asks, in which order, what it expects and what a miss means."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from console.main import main
from latchcore.bench.circuit import GROUND, Corner, circuit_of
from latchcore.bench.faults import single_faults
from latchcore.bench.hidden import named
from latchcore.bench.meter import usual_meter
from latchcore.bench.rig import Rig
from latchcore.bench.solver import NoPoint, solve
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.edits import apply
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import read_build
from latchcore.procedure.judging import ReadingError, judge
from latchcore.procedure.plan import LOOK, plan_of
from latchcore.procedure.progress import NotSkipped, reason_for
from latchcore.procedure.standing_in import answer
from latchcore.procedure.steps import ALTERNATING_VOLTS
from latchcore.whole.wire_list import node_numbers

DEMO = Path(__file__).parents[2] / "demo"
NAMES = sorted(p.stem for p in DEMO.glob("*.json"))


def planned(name: str):
    build = read_build((DEMO / f"{name}.json").read_bytes())
    around, report = BuildContext(build, load_catalogue()), evaluate(build)
    return around, report, plan_of(around, report)


@pytest.mark.parametrize("name", NAMES)
def test_steps_go_up_the_stages_and_each_says_what_a_miss_means(name):
    _, _, plan = planned(name)
    stages = [s.stage for s in plan.steps]
    assert stages == sorted(stages) and stages[0] == 0
    assert len({s.id for s in plan.steps}) == len(plan.steps)
    for step in plan.steps:
        assert step.words and step.miss
        assert (step.setting == LOOK) == (step.between is None)
        if step.least is not None and step.most is not None:
            assert step.least < step.most


def test_mains_is_last_and_what_it_rests_on_is_asked_dead():
    _, _, plan = planned("seedling-bench")
    assert [s.id for s in plan.steps if s.stage == 8] == ["s8-rcd", "s8-closed", "s8-first"]
    dead = [s for s in plan.steps if s.stage == 0]
    earth = next(s for s in dead if s.id == "s0-earth")
    assert (earth.most, earth.unit) == (0.5, "Ω")
    assert any(s.id.startswith("s0-apart") and s.window == "OL" for s in dead)
    # No point on the mains is ever read with power on.
    assert not any("garden room" in " ".join(s.between or ()) for s in plan.steps if s.stage > 0)


def test_without_mains_there_is_no_stage_for_it():
    _, _, plan = planned("potting-bench-valve")
    assert {s.stage for s in plan.steps} == {0, 1, 2, 3, 4, 5, 6, 7}


def test_a_stop_gates_what_comes_after_the_first_stage():
    _, _, plan = planned("hollyhock-marionettes")
    assert any(gate.startswith("C4 Trapdoor") for gate in plan.gates)
    assert not planned("potting-bench-valve")[2].gates


def test_what_has_no_law_is_named_not_left_out_in_silence():
    _, _, plan = planned("hollyhock-marionettes")
    assert any(words.startswith("Cloud winch: its line carries pulses") for words in plan.left_out)


def test_a_miss_names_the_faults_that_would_put_it_there():
    _, _, plan = planned("potting-bench-valve")
    collector = plan.step("s5-A2-on")
    assert "Too low: Q1 shorted" in collector.miss
    assert "R1 open or not joined" in collector.miss.partition("Too high")[2]
    base = plan.step("s5-A3-on")
    assert "Q1 missing" in base.miss.partition("Too high")[2]


@pytest.mark.parametrize("name", ["potting-bench-valve", "landing-chime"])
def test_every_single_fault_that_stops_the_load_is_outside_of_some_window(name):
    around, report, plan = planned(name)
    for told in report.channels:
        context = around.channel(around.build.channel(told.id))
        numbers = node_numbers(told.result.netlist, told.id)
        steps = {(s.id.rpartition("-")[2], s.between[0]): s for s in plan.steps
                 if s.channel == told.id and s.unit == "V"}  # fmt: skip
        seen: dict[tuple[str, str], bool] = {}
        for state in ("off", "on"):
            sound = circuit_of(context, told.result, state, Corner(0.5, 0.5, 0.5))
            for fault in single_faults(sound):
                # A clamp, a pull and a gate resistor that is bridged do not stop it; what a low
                # pin stands on is of the model.
                harmless = fault.words in ("shorted", "ten times its value")
                if fault.part.endswith(("D1", "R2")) or harmless:
                    continue
                try:
                    point = solve(fault.parts)
                except NoPoint:
                    continue
                there = {node for part in fault.parts for node in part.at.values()}
                key = (fault.part, fault.words.replace("high", "low"))
                for node, n in numbers.items():
                    step = steps.get((state, f"{told.letter}{n}"))
                    volts = None if node not in there else point.volts(node, GROUND)
                    missed = volts is None or (step and not step.least <= volts <= step.most)
                    seen[key] = seen.get(key, bool(point.undecided)) or bool(missed)
        assert all(seen.values()), [key for key, outside in seen.items() if not outside]


@pytest.mark.parametrize(
    ("typed", "good", "where"),
    [
        ("0.12", True, "inside"),
        ("120m", True, "inside"),
        ("120 mV", True, "inside"),
        (".3", False, "over"),
        ("-0.4 V", False, "under"),
        ("12,1", False, "over"),
        ("OL", False, "over"),
    ],
)
def test_a_reading_is_typed_as_it_stands_on_the_meter(typed, good, where):
    step = planned("potting-bench-valve")[2].step("s5-A2-on")
    verdict = judge(step, typed)
    assert (verdict.good, verdict.where) == (good, where)


def test_the_ends_of_a_window_belong_to_it():
    step = planned("potting-bench-valve")[2].step("s1-rail1")
    assert judge(step, f"{step.least}").good and judge(step, f"{step.most}").good
    assert not judge(step, f"{step.most + 0.001}").good
    assert not judge(step, f"{step.least - 0.001}").good


def test_ohms_over_range_are_open_and_a_figure_is_a_way_through():
    plan = planned("seedling-bench")[2]
    apart = next(s for s in plan.steps if s.id.startswith("s0-apart"))
    assert judge(apart, "OL").good and not judge(apart, "1.2M").good
    rail = next(s for s in plan.steps if s.id.endswith("-short"))
    assert judge(rail, "OL").good and not judge(rail, "0.2").good


@pytest.mark.parametrize("typed", ["soon", "1.2.3", "12 W", "--1", "٣"])
def test_what_is_no_reading_is_refused_with_what_was_expected(typed):
    step = planned("potting-bench-valve")[2].step("s1-rail1")
    with pytest.raises(ReadingError, match="what stands on the meter"):
        judge(step, typed)


def test_the_command_prints_it_as_text_and_as_data(capsys):
    assert main(["plan", str(DEMO / "potting-bench-valve.json"), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert {"id", "stage", "setting", "least", "most", "unit", "miss"} <= set(data["steps"][0])
    assert all(("look" in s) != ("between" in s) for s in data["steps"])
    assert main(["plan", str(DEMO / "hollyhock-marionettes.json")]) == 1
    text = capsys.readouterr().out
    assert "Nothing after stage 0 while this stands" in text and "8. Mains, last" in text


def with_bell_transformer():
    build = read_build((DEMO / "potting-bench-valve.json").read_bytes())
    rail = {"name": "bell", "source": "ac_low", "voltage": "8 V", "rating": "1 A"}
    return apply(build, "add_rail", rail)[0]


def test_a_transformer_is_read_on_alternating_volts_and_may_stand_higher_alone():
    build = with_bell_transformer()
    around, report = BuildContext(build, load_catalogue()), evaluate(build)
    step = next(s for s in plan_of(around, report).steps if s.setting == ALTERNATING_VOLTS)
    # 8 V by 10 %, a fifth more with nothing on it, and 1 % with five counts of the meter.
    assert step.least == pytest.approx(7.2 * 0.99 - 0.05) and step.stage == 1
    assert step.most == pytest.approx(8.8 * 1.2 * 1.01 + 0.05)
    assert judge(step, "10.6").good and judge(step, "7.1").good
    assert judge(step, "10.72").where == "over" and judge(step, "7.07").where == "under"
    assert judge(step, "OL").where == "over"
    assert judge(step, answer(Rig(around, report, seed=4), step)).good


def test_a_poorer_meter_widens_what_an_alternating_rail_may_read():
    build = with_bell_transformer()
    around, report = BuildContext(build, load_catalogue()), evaluate(build)
    poor = usual_meter().model_copy(update={"alternating_percent": 5.0})
    wide, usual = (
        next(s for s in plan_of(around, report, m).steps if s.setting == ALTERNATING_VOLTS)
        for m in (poor, None)
    )
    assert wide.least < usual.least and wide.most > usual.most


def dear(*edits):
    """The potting bench with a relay that cannot be had again, and its plan."""
    build = read_build((DEMO / "potting-bench-valve.json").read_bytes())
    said = ("set_use", {"channel": "ch2", "irreplaceable": "yes"})
    for name, args in (said, *edits):
        build, _ = apply(build, name, args)
    around, report = BuildContext(build, load_catalogue()), evaluate(build)
    return around, report, plan_of(around, report)


def test_what_cannot_be_had_again_is_led_without_a_short_way():
    plain, (around, report, plan) = planned("potting-bench-valve")[2], dear()
    assert not any(s.held for s in plain.steps)
    held = {s.id for s in plan.steps if s.held}
    assert {s.id for s in plan.steps if s.channel == "ch2" or s.stage <= 1} == held
    with pytest.raises(NotSkipped):
        reason_for(plan.step("s3-A"), "no LED at hand")
    assert reason_for(plan.step("s3-B"), "no LED at hand")
    # Its supply is limited to what it alone may take before it runs: 1.2 × the most in its lead.
    own = plan.step("s6-A-rail1-limit")
    assert plain.step("s6-A-rail1-limit") is None
    assert own.most == pytest.approx(1.2 * plan.step("s5-A-rail1-amps").most)
    order = [s.id for s in plan.steps]
    assert order.index(own.id) < order.index("s6-A")
    assert judge(own, answer(Rig(around, report, seed=2), own)).good
    shorted = named(around, report, "ch2.LOAD:shorted")
    assert not judge(own, answer(Rig(around, report, shorted, 2), own)).good


@pytest.mark.parametrize(("ohms", "gates"), [("820", 0), ("1k", 1)])
def test_what_is_to_be_put_right_of_it_gates_as_a_stop_does(ohms, gates):
    weak = ("set_setting", {"channel": "ch2", "base_resistor": ohms})
    around, _, plan = dear(weak)
    assert len(plan.gates) == gates
    # Of one that can be had again it is told, and gates nothing.
    build, _ = apply(around.build, "set_use", {"channel": "ch2", "irreplaceable": ""})
    plain = BuildContext(build, load_catalogue()), evaluate(build)
    assert plan_of(*plain).gates == ()


def test_it_is_kept_by_edits_that_say_nothing_of_it():
    build = dear(("set_use", {"channel": "ch2", "cycles_per_day": "40"}))[0].build
    assert build.channel("ch2").irreplaceable == "yes"
    build, words = apply(build, "set_use", {"channel": "ch2", "irreplaceable": ""})
    assert build.channel("ch2").irreplaceable is None and "again" not in words
