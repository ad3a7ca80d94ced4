"""An active-low input against a pin: what must hold whatever the parts are."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from latchcore.evaluate import evaluate
from latchcore.figures.spread import Spread
from latchcore.sums.modules import (
    ModuleInput,
    fed_from_logic,
    held_current,
    off_current,
    on_currents,
    weakly_pulled_current,
)
from tests.core.benches import EIGHT_BIT, RADIO, edited, result
from tests.core.test_relays import found, on_module, way

NONE = Spread(0.0, 0.0, 0.0)
inputs = st.builds(
    lambda volts, ohms, led, lamp: ModuleInput(
        Spread.of(volts, 0.05),
        Spread.of(ohms, 0.05),
        Spread(led * 0.9, led, led * 1.1),
        Spread.of(lamp, 0.1) if lamp else NONE,
    ),
    volts=st.sampled_from([5.0, 12.0, 24.0]),
    ohms=st.floats(300, 10e3),
    led=st.floats(1.1, 1.4),
    lamp=st.sampled_from([0.0, 1.9]),
)


@given(inputs)
def test_on_the_least_is_the_least(module):
    least, most = on_currents(module, 0.0, 0.35)
    assert 0 <= least < most


@given(inputs)
def test_on_one_net_with_the_logic_supply_it_always_lets_go(module):
    assert off_current(module, 3.135, True) == 0.0


@given(inputs, st.floats(1.6, 5.0), st.floats(0.05, 1.0))
def test_a_higher_logic_level_leaves_less_in_the_led(module, level, more):
    assert off_current(module, level + more, False) <= off_current(module, level, False)


@given(inputs, st.floats(1.6, 5.5))
def test_a_pin_that_is_held_by_its_protection_passes_less_than_one_driven_high_without_it(
    module, level
):
    assert (
        held_current(module, level + 0.3, "I_inj", "floating")
        <= off_current(module, level, False) + 1e-15
    )


@given(inputs)
def test_a_dead_board_takes_more_than_a_live_one_that_says_off(module):
    assert held_current(module, 0.6, "I_dead", "dead") >= off_current(module, 3.135, False)


@given(inputs, st.floats(10e3, 100e3))
def test_the_boards_weak_pull_down_passes_less_than_the_pin_itself(module, weak):
    assert weakly_pulled_current(module, weak) <= on_currents(module, 0.0, 0.0)[1]


@given(st.floats(3.0, 5.0), st.floats(300, 5e3), st.floats(1.1, 3.4))
def test_what_is_put_across_brings_the_current_that_was_wanted(supply, ohms, drop):
    fed = fed_from_logic(supply, ohms, drop, 0.2)
    assert fed.enough == (supply - drop - 0.2 >= 0.3)
    assume(fed.parallel is not None)
    together = 1 / (1 / ohms + 1 / fed.parallel)
    assert (supply - drop - 0.2) / together == pytest.approx(5e-3) and fed.parallel > fed.wanted


def test_one_that_takes_enough_needs_nothing_across():
    assert fed_from_logic(5.0, 470.0, 1.2, 0.2).parallel is None


def test_the_jumper_off_keeps_the_isolation_and_the_npn_loses_it():
    four = way(on_module())
    apart = edited(
        on_module(),
        (
            "set_setting",
            {"channel": "ch2", **{k: v or "auto" for k, v in four["parallel"].settings.items()}},
        ),
        ("set_rail", {"rail": "rail3", "ground": "own"}),
    )
    joined = edited(
        on_module(),
        (
            "set_setting",
            {"channel": "ch2", **{k: v or "auto" for k, v in four["npn"].settings.items()}},
        ),
    )
    assert evaluate(apart).channels[0].result.netlist.part("ch2.K1").terminals["VCC"] == "board.VDD"
    assert not evaluate(apart).channels[0].result.netlist.joined("ch2.PIN", "rail3.0V")
    assert result(joined).netlist.part("ch2.Q2").terminals["E"] == "0V"


@pytest.mark.parametrize("board", [EIGHT_BIT, RADIO])
@pytest.mark.parametrize("feed", ["module", "logic"])
def test_the_five_states_follow_from_the_currents_of_the_input(board, feed):
    stage = result(on_module(board=board, settings={"feed": feed}))
    unit, module, states = (
        stage.module.unit,
        stage.parts["module"],
        {s.key: s.load for s in stage.states},
    )
    bears = module.off_current / module.transfer_max
    assert (states["commanded_off"] == "off") == (stage.working.step("I_off").result <= bears)
    assert states["commanded_on"] == states["hung"] == "on"
    assert (states["unpowered"] == "off") == (
        feed == "logic" or held_current(unit, 0.6, "x", "") <= bears
    )
    if feed == "logic":
        assert set(states.values()) == {"on", "off"} and states["floating"] == "off"


@pytest.mark.parametrize("across", ["330", "1k", "4k7"])
def test_a_resistor_across_only_ever_adds_current(across):
    plain, more = (
        result(on_module(settings={"feed": "logic"} | extra)).measure("input_on").worst
        for extra in ({}, {"parallel": across})
    )
    assert more > plain


def test_the_pin_pays_for_what_is_put_across():
    heavy = on_module(settings={"feed": "logic", "parallel": "47"})
    assert result(heavy).measure("pin_current").worst > 0.02 and found(heavy).get("P1") in (
        "fix",
        "stop",
    )
