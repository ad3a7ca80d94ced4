"""Reset held down: what the pull of each channel leaves at its control node, and a pull that is
not there."""

from __future__ import annotations

import pytest

from latchcore.bench.hidden import NO_GROUND, hidden_faults
from latchcore.bench.rig import Rig
from latchcore.bench.undriven import RESET, in_reset
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.edits import apply
from latchcore.evaluate import evaluate
from latchcore.procedure.dead import low_rails
from latchcore.procedure.judging import judge
from latchcore.procedure.standing_in import answer
from tests.bench.test_rig import NAMES, build_of, first_miss, rig_of


def held(name: str, channel: str):
    around, report, _ = build_of(name)
    found = around.build.channel(channel)
    return in_reset(around.channel(found), report.channel(channel).result)


def test_a_pull_leaves_what_the_leakage_makes_across_it():
    around, report, plan = build_of("potting-bench-valve")
    step = plan.step("s2-A3-held")
    pull = report.channel("ch2").result.netlist.part("ch2.R2")
    assert pull.value.startswith("10k") and around.board.leakage == pytest.approx(1e-6)
    # 1 µA through 10 kΩ at its most, 0.5 % of that and two counts of 0.1 mV.
    assert step.most == pytest.approx(1e-6 * 10e3 * 1.05 * 1.005 + 2e-4, rel=0.01)
    assert step.least == pytest.approx(-step.most)
    assert judge(step, f"{step.most * 1e3 - 0.01:.3f} mV").good
    assert judge(step, f"{step.most * 1e3 + 0.01:.3f} mV").where == "over"


@pytest.mark.parametrize(("fault", "good"), [("", True), ("ch2.R2:open-or-not-joined", False)])
def test_a_pull_that_is_not_joined_is_read_in_reset(fault, good):
    step = build_of("potting-bench-valve")[2].step("s2-A3-held")
    assert judge(step, answer(rig_of("potting-bench-valve", fault), step)).good is good


@pytest.mark.parametrize(
    ("name", "channel", "why"),
    [
        ("potting-bench-valve", "ch3", "an LED on a pin has no pull, and leakage tells nothing"),
        ("hollyhock-marionettes", "ch7", "its pin is driven at boot, which is a finding"),
        ("fernhouse-vents", "ch3", "a module that stays on, which is a finding"),
    ],
)
def test_where_reset_decides_nothing_no_reading_is_asked_for(name, channel, why):
    assert held(name, channel) is None, why


def test_another_pull_another_window():
    build = build_of("potting-bench-valve")[0].build
    changed, _ = apply(build, "set_setting", {"channel": "ch2", "pull_resistor": "4k7"})
    around, report = BuildContext(changed, load_catalogue()), evaluate(changed)
    found = in_reset(around.channel(changed.channel("ch2")), report.channel("ch2").result)
    assert found.window[1] < 0.6 * held("potting-bench-valve", "ch2").window[1]


def test_no_two_steps_of_a_plan_are_called_alike_where_a_coil_is_reset():
    ids = [s.id for s in build_of("boat-shed-tides")[2].steps]
    assert len(ids) == len(set(ids)) and any(i.endswith("-held") for i in ids)


@pytest.mark.parametrize("name", NAMES)
def test_a_return_that_is_not_joined_is_read_on_its_supply_alone(name):
    around, report, plan = build_of(name)
    loose = [f for f in hidden_faults(around, report) if f.what == NO_GROUND]
    assert len(loose) == len(low_rails(around))
    for fault in loose:
        missed = first_miss(Rig(around, report, fault, 3), plan)
        assert missed == (1, f"s1-{fault.of}"), fault.id


@pytest.mark.parametrize("name", ["potting-bench-valve", "seedling-bench", "fernhouse-vents"])
def test_every_missing_pull_is_read_before_a_load_hangs_on_it(name):
    around, report, plan = build_of(name)
    held = {s.channel for s in plan.steps if s.about == RESET}
    pulls = [f for f in hidden_faults(around, report) if f.of in held
             and f.part.endswith(".R2") and f.what.startswith("open")]  # fmt: skip
    assert pulls
    for fault in pulls:
        missed = first_miss(Rig(around, report, fault, 3), plan)
        assert missed is not None and missed[0] == 2, (fault.id, missed)
