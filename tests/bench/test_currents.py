"""Currents in the lead of a channel: windows by the sheet, readings by the simulated bench."""

from __future__ import annotations

import pytest

from latchcore.bench.currents import flows
from latchcore.bench.meter import usual_meter
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.edits import apply
from latchcore.evaluate import evaluate
from latchcore.procedure.finding import search_of
from latchcore.procedure.judging import judge
from latchcore.procedure.plan import plan_of
from latchcore.procedure.ranking import OL, rank
from latchcore.procedure.standing_in import answer
from latchcore.procedure.steps import AMPERES, MILLIAMPERES
from tests.bench.test_rig import build_of, rig_of

COIL = "s5-A-rail1-amps"


def step_of(name: str, key: str):
    return build_of(name)[2].step(key)


def test_a_coil_takes_its_volts_over_its_ohms_at_the_worst_of_both():
    step = step_of("potting-bench-valve", COIL)
    # 12 V less what is left across the switch, over 400 Ω, both within 10 %, and the meter.
    assert step.setting == MILLIAMPERES and step.unit == "A"
    assert 0.8 * 11.8 / 400 < step.least < 0.98 * 11.8 / 400
    assert 1.02 * 12 / 400 < step.most < 1.25 * 12 / 400


def test_a_contact_has_a_current_on_both_sides():
    keys = [s.id for s in build_of("fernhouse-vents")[2].steps if s.id.endswith("-amps")]
    assert {"s5-A-rail1-amps", "s5-A-rail2-amps"} <= set(keys)
    assert step_of("fernhouse-vents", "s5-A-rail1-amps").setting == AMPERES
    assert step_of("fernhouse-vents", "s5-A-rail2-amps").setting == MILLIAMPERES


def test_no_current_is_read_on_the_line_nor_of_what_only_pulses():
    steps = build_of("seedling-bench")[2].steps
    assert [s.between[0] for s in steps if s.id.endswith("-amps")] == ["5 V board and coils"]
    theatre = [s.channel for s in build_of("hollyhock-marionettes")[2].steps if "-amps" in s.id]
    servo = next(c for c in build_of("hollyhock-marionettes")[0].build.channels
                 if c.name == "Cloud winch")  # fmt: skip
    assert servo.id not in theatre


@pytest.mark.parametrize(
    ("typed", "where"),
    [("30.1", "inside"), ("30.1 mA", "inside"), ("0.0301 A", "inside"), ("30.1m", "inside"),
     ("30.1 A", "over"), ("OL", "over"), ("0", "under"), ("-30", "under")],
)  # fmt: skip
def test_a_bare_figure_is_in_what_its_range_is_called(typed, where):
    assert judge(step_of("potting-bench-valve", COIL), typed).where == where


def test_a_bare_figure_on_a_range_of_amperes_is_in_amperes():
    step = step_of("fernhouse-vents", "s5-A-rail1-amps")
    assert judge(step, "1.98").good and judge(step, "1980 mA").good
    assert judge(step, "1980").where == "over"


def test_one_trips_by_a_hair_and_one_does_not():
    step = step_of("potting-bench-valve", COIL)
    assert judge(step, f"{step.least * 1e3 + 0.001:.6f}").good
    assert judge(step, f"{step.least * 1e3 - 0.001:.6f}").where == "under"
    assert judge(step, f"{step.most * 1e3 - 0.001:.6f}").good
    assert judge(step, f"{step.most * 1e3 + 0.001:.6f}").where == "over"


def test_what_the_meter_keeps_for_itself_lowers_what_may_be_read():
    around, report, _ = build_of("potting-bench-valve")
    channel, result = around.channel(around.build.channels[0]), report.channels[0].result
    usual = flows(channel, result)[0].window
    heavy = flows(channel, result, usual_meter().model_copy(update={"burden": 60.0}))[0].window
    # 60 Ω beside 400 Ω take some eighth of it; where it keeps nothing the most stays.
    assert heavy[0] == pytest.approx(usual[0] * 402 / 460, rel=0.03)
    assert heavy[1] == pytest.approx(usual[1], rel=1e-6)


@pytest.mark.parametrize(("figure", "asked"), [("15 A", True), ("22 A", False)])
def test_a_current_no_range_holds_is_not_asked_for(figure, asked):
    build = build_of("fernhouse-vents")[0].build
    mat = next(c for c in build.channels if c.name == "Warming mat")
    changed, _ = apply(build, "set_load", {"channel": mat.id, "figure": figure})
    keys = {s.id for s in plan_of(BuildContext(changed, load_catalogue()), evaluate(changed)).steps}
    assert ("s5-A-rail1-amps" in keys) is asked and "s5-A-rail2-amps" in keys


@pytest.mark.parametrize(
    ("fault", "where"),
    [
        ("", "inside"),
        ("ch2.R1:open-or-not-joined", "under"),
        ("ch2.LOAD:shorted", "over"),
        ("rail1:too-low", "under"),
    ],
)
def test_a_fault_is_read_in_the_lead(fault, where):
    step = step_of("potting-bench-valve", COIL)
    typed = answer(rig_of("potting-bench-valve", fault), step)
    assert judge(step, typed).where == where, typed


def test_what_a_miss_means_is_said_by_its_side():
    step = step_of("potting-bench-valve", COIL)
    assert "R1 open or not joined" in step.meant("under")
    assert "the load shorted" in step.meant("over")


def test_a_current_is_one_of_the_readings_a_search_may_propose():
    around, report, _ = build_of("potting-bench-valve")
    channel, result = around.channel(around.build.channels[0]), report.channels[0].result
    search = search_of(channel, result)
    reading = next(r for r in search.readings if r.unit == "A")
    assert (reading.id, reading.effort) == ("amps:rail1-on", 4.0)
    words = {w: key for key, w in search.words.items()}
    gone, shorted = words["the load open or not joined"], words["the load shorted"]
    assert reading.windows[gone].holds(0.0) and not reading.windows[gone].holds(0.003)
    # Limited meanwhile, a short reads whatever the limit lets through, or over range.
    assert reading.windows[shorted].holds(0.036) and reading.windows[shorted].holds(OL)
    assert not reading.windows[gone].holds(OL)
    dead = [("load-on", "dead")]
    before = rank(search.weights, search.readings, dead).posterior
    after = rank(search.weights, search.readings, [*dead, (reading.id, 0.036)]).posterior
    assert after[shorted] > 4 * before[shorted] and after[gone] < before[gone] / 5
