"""The simulated bench: sound it reads as planned, with a fault it does not."""

from __future__ import annotations

import random
from functools import cache
from pathlib import Path

import pytest

from latchcore.bench.hidden import SLIPPED, Hidden, hidden_faults, named
from latchcore.bench.looks import DEAD, TURNED, WORKS
from latchcore.bench.meter import usual_meter
from latchcore.bench.readings import expected
from latchcore.bench.rig import Rig
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.edits import apply
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import read_build
from latchcore.procedure.judging import judge
from latchcore.procedure.plan import STAGES, plan_of
from latchcore.procedure.progress import Entry, NotSkipped, progress_of, reason_for
from latchcore.procedure.standing_in import answer
from tests.core.benches import bench
from tests.core.test_all_stages import load_for

DEMO = Path(__file__).parents[2] / "demo"
NAMES = sorted(path.stem for path in DEMO.glob("*.json"))


@cache
def build_of(name: str):
    build = read_build((DEMO / f"{name}.json").read_bytes())
    around, report = BuildContext(build, load_catalogue()), evaluate(build)
    return around, report, plan_of(around, report)


def rig_of(name: str, fault: str = "", seed: int = 1) -> Rig:
    around, report, _ = build_of(name)
    hidden = named(around, report, fault) if fault else None
    assert not fault or hidden, fault
    return Rig(around, report, hidden, seed)


def first_miss(rig: Rig, plan) -> tuple[int, str] | None:
    for step in plan.steps:
        if not judge(step, answer(rig, step)).good:
            return step.stage, step.id
    return None


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize("seed", [1, 2, 3])
def test_a_sound_build_reads_inside_every_window_wherever_its_parts_lie(name, seed):
    assert first_miss(rig_of(name, seed=seed), build_of(name)[2]) is None


@pytest.mark.parametrize("name", NAMES)
def test_hidden_faults_are_found_before_the_last_stage(name):
    around, report, plan = build_of(name)
    every = hidden_faults(around, report)
    assert len({f.id for f in every}) == len(every) > 20
    chance = random.Random(4)
    for fault in chance.sample(every, 20):
        found = first_miss(Rig(around, report, fault, 7), plan)
        assert found is not None and found[0] < len(STAGES) - 1, fault


@pytest.mark.parametrize(
    ("fault", "stage", "step"),
    [
        ("barrier", 0, "s0-apart-1"),
        ("earth", 0, "s0-earth"),
        ("fuse", 0, "s0-fuse"),
        ("rail1:shorted", 0, "s0-rail1-short"),
        ("rail1:too-high", 1, "s1-rail1"),
        ("ch3.K1:welded", 3, None),
        ("ch3.K1:does-not-close", 3, None),
        ("in4:no-pull", 4, None),
    ],
)
def test_where_the_mains_bench_stops(fault, stage, step):
    around, report, plan = build_of("seedling-bench")
    known = {f.id: f for f in hidden_faults(around, report)}
    if fault.startswith("in"):
        fault = next(f for f in known if f.endswith(":no-pull"))
    key = next(iter(Rig(around, report).told))
    fault = fault.replace("ch3", key)
    found = first_miss(Rig(around, report, known[fault], 3), plan)
    assert found is not None and found[0] == stage
    assert step is None or found[1] == step


@pytest.mark.parametrize(
    ("fault", "off", "on"),
    [("welded", "0.2", "0.2"), ("does-not-close", "OL", "OL"), ("", "OL", "0.2")],
)
def test_a_contact_is_read_dead_with_its_coil_off_and_on(fault, off, on):
    _, _, plan = build_of("seedling-bench")
    key = next(iter(rig_of("seedling-bench").told))
    rig = rig_of("seedling-bench", f"{key}.K1:{fault}" if fault else "")
    for state, shown in (("off", off), ("on", on)):
        step = plan.step(f"s3-A-NO-{state}")
        assert answer(rig, step).startswith(shown)
        sound = "OL" if state == "off" else "0.2"
        assert judge(step, answer(rig, step)).good is (shown == sound)


def test_a_slipped_line_shows_on_the_walk():
    rig = rig_of("potting-bench-valve", SLIPPED)
    first, second = rig.told
    rig.tell(first, "on")
    assert rig.lit()[first].word == DEAD and rig.lit()[second].word == WORKS


def test_a_motor_with_its_ends_changed_is_seen_to_turn_round():
    build = bench(**load_for("bridge_chip"), stage="bridge_chip")
    around, report = BuildContext(build, load_catalogue()), evaluate(build)
    crossed = named(around, report, "ch2.LOAD:has-its-ends-changed")
    for fault, word in ((None, WORKS), (crossed, TURNED)):
        rig = Rig(around, report, fault, 2)
        for way in ("forward", "reverse"):
            rig.tell("ch2", way)
            assert rig.lit()["ch2"].word == word
        rig.tell("ch2", "off")
        assert rig.lit()["ch2"].word == DEAD
    # A lamp on one switch has no such fault: it burns either way round.
    lamp, lamp_report, _ = build_of("seedling-bench")
    assert not [f for f in hidden_faults(lamp, lamp_report) if "ends" in f.what]


def test_a_current_limit_pulls_the_rail_down():
    rig = rig_of("potting-bench-valve")
    key = next(iter(rig.told))
    rig.tell(key, "on")
    whole = rig.amps("rail1")
    rig.limits["rail1"] = whole * 1.2
    assert rig.amps("rail1") == pytest.approx(whole)
    rig.limits["rail1"] = whole / 2
    assert rig.amps("rail1") == pytest.approx(whole / 2)
    assert float(rig.volts("rail1", "0V")) < 8 and rig.lit()[key].word == "weak"


def test_ohms_see_a_resistor_and_no_junction():
    rig = rig_of("potting-bench-valve")
    points = rig.points
    r1 = rig.told["ch2"].result.netlist.part("ch2.R1")
    shown = rig.ohms(r1.terminals["1"], r1.terminals["2"])
    # Beside it lies only the pull behind the base: 470 Ω within its tolerance and the meter's.
    assert r1.value.startswith("470") and float(shown) == pytest.approx(470, rel=0.07)
    assert rig.ohms(points["12 V adapter"], points["0 V"]) == "OL"
    shorted = rig_of("potting-bench-valve", "rail1:shorted")
    assert float(shorted.ohms("rail1", "0V")) < 1


def test_the_display_goes_over_range_and_to_its_last_count():
    meter = usual_meter()
    assert [meter.shown(v) for v in (0.1999, 0.2, 19.994, 20.0)] == [
        "0.1999", "0.200", "19.99", "20.0",
    ]  # fmt: skip
    assert meter.shown(1000.1) == "OL" and meter.shown(999.0) == "999"
    assert meter.shown(None, "Ω") == "OL" and meter.shown(2.1e8, "Ω") == "OL"
    six = load_catalogue().parts["meter-6000"]
    assert six.shown(5.999) == "5.999" and six.off(12.0) < meter.off(12.0)


@pytest.mark.parametrize(
    ("field", "value", "unit", "reading"),
    [("volts_percent", 2.0, "V", 12.0), ("volts_counts", 9, "V", 12.0), ("counts", 200, "V", 12.0),
     ("ohms_percent", 4.0, "Ω", 470.0), ("ohms_counts", 9, "Ω", 470.0),
     ("amperes_percent", 4.0, "A", 0.012), ("amperes_counts", 9, "A", 0.012),
     ("alternating_percent", 4.0, "V~", 12.0), ("alternating_counts", 9, "V~", 12.0)],
)  # fmt: skip
def test_each_figure_of_a_meter_is_felt(field, value, unit, reading):
    record = load_catalogue().parts["meter-2000"]
    other = record.model_copy(update={field: value})
    assert other.off(reading, unit) > usual_meter().off(reading, unit)


def test_a_meter_of_little_resistance_shifts_what_it_reads_and_its_window_knows():
    around, report, _ = build_of("potting-bench-valve")
    poor = load_catalogue().parts["meter-2000"].model_copy(update={"input_ohms": 20e3})
    context, result = around.channel(around.build.channel("ch2")), report.channel("ch2").result
    plain, wide = (
        {(w.state, w.node): w.window for w in expected(context, result, m)} for m in (None, poor)
    )
    # Off, the coil lies between the rail and what is read.
    switch = ("off", "ch2.SW")
    assert wide[switch][0] < plain[switch][0] - 0.2 and wide[switch][1] > plain[switch][1]
    good, loads = (Rig(around, report, seed=2, meter=m) for m in (None, poor))
    shown = float(loads.volts("ch2.SW", "0V"))
    assert shown < float(good.volts("ch2.SW", "0V")) - 0.1
    assert wide[switch][0] <= shown <= wide[switch][1]


def test_a_meter_in_the_lead_keeps_its_burden_in_milliamperes_only():
    around, report, _ = build_of("potting-bench-valve")
    greedy = load_catalogue().parts["meter-2000"].model_copy(update={"burden": 200.0})
    shown = []
    for meter in (None, greedy):
        rig = Rig(around, report, seed=2, meter=meter)
        rig.tell("ch2", "on")
        shown.append(float(rig.read_amps("rail1").split()[0]))
    assert shown[1] < 0.8 * shown[0]
    shorted = named(around, report, "rail1:shorted")
    assert Rig(around, report, shorted, 2, greedy).read_amps("rail1") == "1.50 A"
    rig.powered = False
    assert float(rig.read_amps("rail1").split()[0]) == 0


# The gates of a run.


def entries(plan, until: int, **typed) -> list[Entry]:
    return [Entry(s.id, s.stamp, "x", True) for s in plan.steps if s.stage < until]


def test_a_stage_opens_when_everything_before_it_is_done_with():
    _, _, plan = build_of("potting-bench-valve")
    first = next(s for s in plan.steps if s.stage == 1)
    done = entries(plan, 1)
    assert progress_of(plan, done).locked(first) == ""
    assert "is still open" in progress_of(plan, done[:-1]).locked(first)
    missed = [*done[:-1], Entry(done[-1].step, done[-1].stamp, "x", False)]
    assert "was not as expected" in progress_of(plan, missed).locked(first)
    skipped = [*done[:-1], Entry(done[-1].step, done[-1].stamp, skipped="not here")]
    assert progress_of(plan, skipped).locked(first) == ""
    stale = [*done[:-1], Entry(done[-1].step, "another", "x", True)]
    assert "before the design moved on" in progress_of(plan, stale).locked(first)


def test_the_last_entry_of_a_step_counts():
    _, _, plan = build_of("potting-bench-valve")
    step = plan.steps[0]
    good, bad = Entry(step.id, step.stamp, "1", True), Entry(step.id, step.stamp, "2", False)
    assert progress_of(plan, [good, bad]).standing[step.id] == "missed"
    assert progress_of(plan, [bad, good]).standing[step.id] == "passed"


def test_what_missed_comes_last_in_its_stage():
    _, _, plan = build_of("potting-bench-valve")
    stage = [s for s in plan.steps if s.stage == 0]
    missed = Entry(stage[0].id, stage[0].stamp, "no", False)
    assert progress_of(plan, [missed]).next == stage[1]
    rest = [Entry(s.id, s.stamp, "x", True) for s in stage[1:]]
    assert progress_of(plan, [missed, *rest]).next == stage[0]


def test_a_stop_of_the_report_locks_all_but_the_dead_board():
    _, _, plan = build_of("hollyhock-marionettes")
    done = entries(plan, 1)
    found = progress_of(plan, done)
    assert found.next is None
    assert "while that stands" in found.locked(next(s for s in plan.steps if s.stage == 1))


@pytest.mark.parametrize("typed", ["", "  ", "no"])
def test_a_reason_is_a_reason(typed):
    step = next(s for s in build_of("potting-bench-valve")[2].steps if not s.held)
    with pytest.raises(NotSkipped, match="needs a reason"):
        reason_for(step, typed)
    assert reason_for(step, " not\nhere ") == "not here"


def test_an_edit_of_the_build_is_felt_on_the_bench():
    build = bench()
    around, report = BuildContext(build, load_catalogue()), evaluate(build)
    before = Rig(around, report).whole("ch2")
    changed, _ = apply(build, "set_load", {"channel": "ch2", "figure": "200 Ω"})
    after = Rig(BuildContext(changed, load_catalogue()), evaluate(changed)).whole("ch2")
    assert after == pytest.approx(2 * before, rel=0.02)


def test_a_fault_that_is_not_there_is_none():
    around, report, _ = build_of("potting-bench-valve")
    assert named(around, report, "ch9.R1:shorted") is None
    assert isinstance(named(around, report, "slipped"), Hidden)
