"""A single resistor with a tolerance and watts of its own, through the document."""

import pytest

from latchcore.edits import EditError
from tests.core.benches import EIGHT_BIT, bench, findings, result

HEATER = dict(kind="heater", voltage="12 V", figure="100 mA")


def fitted(text: str, stage: str = "npn_low_side", key: str = "base_resistor", **more):
    return result(bench(**HEATER, stage=stage, settings={key: text}, **more))


def test_its_own_ends_stand_in_the_base_current_and_in_what_the_pin_gives():
    usual, own = fitted("1k"), fitted("1k 1 %")
    least, most = (usual.measure(k).worst for k in ("base_current", "pin_current"))
    assert own.measure("base_current").worst > least and own.measure("pin_current").worst < most
    # The pin's current goes by the printed value less what it may be off.
    assert own.measure("pin_current").worst / most == pytest.approx(0.95 / 0.99, rel=1e-6)


def test_a_value_that_misses_a_corner_by_its_spread_holds_it_when_it_is_a_closer_one():
    window = fitted("auto").value("base_resistor").window
    just = window.real_max / 1.03
    wide, close = (fitted(f"{just:.6g} Ω {share} %") for share in (5, 1))
    assert wide.value("base_resistor").failing and not close.value("base_resistor").failing


def test_its_watts_are_what_its_heat_is_held_against_and_not_the_stages():
    load = dict(kind="indicator_led", voltage="2 V", figure="10 mA", rail="5 V")
    build = dict(**load, stage="direct_pin", board=EIGHT_BIT)
    stage = dict(resistor_watts="0.25 W")
    own = result(bench(**build, settings={"series_resistor": "270 1 W", **stage}))
    usual = result(bench(**build, settings={"series_resistor": "270", **stage}))
    limits = [r.measure("series_resistor_watts").stop for r in (own, usual)]
    assert limits == [1.0, 0.25]


@pytest.mark.parametrize(
    "stage, key, ref",
    [
        ("npn_low_side", "base_resistor", "R1"),
        ("nmos_low_side", "gate_resistor", "R1"),
        ("npn_low_side", "pull_resistor", "R2"),
        ("pmos_high_side", "up_resistor", "R4"),
        ("coupler_nmos", "series_resistor", "R3"),
    ],
)
def test_it_stands_in_the_wire_list_and_the_drawing_as_it_has_to_be_bought(stage, key, ref):
    found = fitted("820 1 % 1 W", stage, key)
    assert found.netlist.part(f"ch2.{ref}").value == "820 1 % 1 W"
    assert found.value(key).text == "820 1 % 1 W" and found.value(key).yours


@pytest.mark.parametrize("typed", ["1k 0 %", "1k 31 %", "1k 1 % 2 %", "1 % 1k", "1k 0.5", "1k 0 W"])
def test_nonsense_beside_a_value_is_refused_with_what_was_typed(typed):
    with pytest.raises(EditError) as refused:
        fitted(typed)
    assert typed.split(" ", 1)[1].split()[0] in str(refused.value)


def test_a_closer_one_than_its_series_is_no_finding_of_its_own():
    assert findings(bench(**HEATER, settings={"base_resistor": "auto"})) == findings(
        bench(**HEATER, settings={"base_resistor": "270 1 %"})
    )
