"""
A stage added by the guide, on with the pin low, tells the truth in states, timeline and findings.
"""

from __future__ import annotations

from types import SimpleNamespace

import pytest

from latchcore.advice.mending import advise_afresh
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.kinds import STAGES
from latchcore.design.report import StageResult
from latchcore.design.stage import Setting
from latchcore.document.models import Build
from latchcore.edits import apply
from latchcore.evaluate import evaluate_afresh
from latchcore.pieces import five_states, low_side
from latchcore.pieces.frame import Traits, join_pin, power_only
from latchcore.whole.timeline import moments
from tests.core.benches import bench

#: Volts under its supply at which an enabling input of the test's own is still off.
OFF_WITHIN = 0.9


def size(context: ChannelContext) -> StageResult:
    """
    An enabling input that is on while it is pulled low, held at the logic supply by a resistor.
    """
    result = StageResult("enable_low", "Enabling input, on while low")
    low_side.running_current(context, result)
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Pull-up", "R_pu", OFF_WITHIN, active="low"
    )
    node = join_pin(context, result)
    five_states.five_states(
        context, result, node, OFF_WITHIN, pull, "the input is pulled low", active="low"
    )
    return result


@pytest.fixture(autouse=True)
def enable_low(monkeypatch):
    """The stage, in the table for as long as a test lasts."""
    stage = SimpleNamespace(
        kind="enable_low",
        title="Enabling input, on while low",
        summary="for the test",
        settings=(Setting("pull_resistor", "Pull-up", "ohms", may_omit=True),),
        traits=Traits(active="low"),
        suits=power_only,
        size=size,
    )
    monkeypatch.setitem(STAGES, "enable_low", stage)


def on_pin(reset: str, **settings) -> Build:
    """The stage on a line of the 8-bit board that does one thing before the program runs."""
    raw = load_catalogue().raw["board-8bit-5v-20"]
    pins = [
        {**p, "reset": reset, **({"pull": "20 to 50 kΩ"} if "pull" in reset else {})}
        if p["id"] == "L4"
        else p
        for p in raw["pins"]
    ]
    build = bench("relay_coil", "12 V", "400 Ω", board="board-8bit-5v-20", stage="enable_low")
    build = build.model_copy(
        update={
            "parts": {"own-board": {**raw, "id": "own-board", "pins": pins}},
            "board": "own-board",
        }
    )
    if settings:
        build, _ = apply(build, "set_setting", {"channel": "ch2", **settings})
    return build


def worked(build: Build):
    """The one channel with its states by key."""
    report = evaluate_afresh(build, load_catalogue()).channels[0]
    return report, {s.key: s for s in report.result.states}


def test_commanded_off_the_pin_drives_high_and_on_it_is_low():
    report, states = worked(on_pin("floating"))
    assert states["commanded_off"].says == "the pin drives its high level"
    assert (states["commanded_off"].load, states["commanded_on"].load) == ("off", "on")
    assert (
        report.result.on_with == "low" and report.result.measure("off_level").symbol == "V_OH_drop"
    )


@pytest.mark.parametrize(
    "reset, load, says",
    [
        ("driven_low", "on", "the pin is driven low"),
        ("driven_high", "off", "pulled the right way"),
        ("pulses", "on", "the pin pulses"),
        ("pull_up", "off", "pulled the right way"),
        ("pull_down", "on", "the board's own pull-down turns it on"),
        ("floating", "undecided", "this pin only floats"),
    ],
)
def test_before_the_program_runs_the_other_levels_act(reset, load, says):
    _, states = worked(on_pin(reset, pull_resistor="none"))
    assert (states["weakly_pulled"].load, states["weakly_pulled"].says) == (load, says)


def test_its_pull_up_holds_it_against_the_boards_pull_down_up_to_a_value():
    """5.25 V over R and 20 kΩ leave 0.9 V under the supply at R = 20 kΩ·0.9/4.35 = 4.14 kΩ real."""
    _, holds = worked(on_pin("pull_down", pull_resistor="3.9 kΩ"))
    assert (
        holds["weakly_pulled"].load == "off"
        and "against the board's pull-down" in holds["weakly_pulled"].says
    )
    _, fails = worked(on_pin("pull_down", pull_resistor="4.3 kΩ"))
    assert fails["weakly_pulled"].load == "on"


def test_findings_name_the_level_that_is_on():
    build, _ = apply(on_pin("floating"), "set_use", {"channel": "ch2", "on_level": "high"})
    found = {f.check: f for f in evaluate_afresh(build, load_catalogue()).channels[0].findings}
    assert "this stage is on with the pin low" in found["P12"].sentence
    build, _ = apply(build, "set_use", {"channel": "ch2", "on_level": "low"})
    assert "P12" not in {
        f.check for f in evaluate_afresh(build, load_catalogue()).channels[0].findings
    }
    driven = {
        f.check: f
        for f in evaluate_afresh(on_pin("driven_low"), load_catalogue()).channels[0].findings
    }
    assert "L4 is driven low while the board starts" in driven["P5"].title
    assert "P5" not in {
        f.check
        for f in evaluate_afresh(on_pin("driven_high"), load_catalogue()).channels[0].findings
    }


def test_the_timeline_shows_the_pin_low_while_it_is_on():
    build = on_pin("floating")
    report, _ = worked(build)
    context = BuildContext(build, load_catalogue()).channel(build.channels[0])
    told = {m.words: (m.pin, m.load) for m in moments(context, report.result)}
    assert told["on"] == ("low", "on") and told["ready"] == ("high", "off")


def test_a_pull_that_is_left_out_is_offered_by_its_own_finding():
    build = on_pin("pull_down", pull_resistor="none")
    report = advise_afresh(build, evaluate_afresh(build, load_catalogue()), load_catalogue())
    found = next(f for f in report.channels[0].findings if f.check == "P6")
    assert "Nothing decides" in found.sentence
    assert any("pull resistor" in r.label for r in found.remedies)
