"""The same build otherwise: a variant is the build one would get, worked out as a whole."""

import pytest

from latchcore.advice.variants import variant
from latchcore.catalogue import load_catalogue
from latchcore.edits import EditError
from latchcore.evaluate import evaluate
from tests.core.benches import EIGHT_BIT, RADIO, bench, edited
from tests.core.test_pinning import many

CATALOGUE = load_catalogue()


def test_a_logic_level_gate_is_easier_on_five_volts_and_the_present_build_stays_as_it_is():
    build = bench("led_strip", "12 V", "3 A", stage="nmos_low_side", board=RADIO)
    found = variant(build, CATALOGUE, board=EIGHT_BIT)
    assert build.board == RADIO and found.build.board == EIGHT_BIT
    assert found.lines[0].pins[0] == "P25" and found.lines[0].pins[1].startswith("L")
    assert found.report is evaluate(found.build, CATALOGUE)


def test_a_coil_on_twice_its_voltage_is_new_trouble_and_is_named():
    build = bench("relay_coil", "12 V", "400 Ω")
    found = variant(build, CATALOGUE, rail="rail1", voltage="24 V")
    assert "C2" in {f.check for f in found.come} and not found.gone and not found.better
    assert found.rails[0][2] == pytest.approx(2 * found.rails[0][1], rel=0.05)


def test_a_larger_board_mends_what_the_small_one_lacks():
    build = edited(many(22), ("assign_pins", {"scope": "all"}))
    found = variant(build, CATALOGUE, board="board-8bit-5v-70")
    assert "P11" in {f.check for f in found.gone} and found.better
    assert all(line.pins[1] for line in found.lines)


def test_both_at_once_are_one_edit():
    build = bench("led_strip", "12 V", "1 A", stage="nmos_low_side")
    found = variant(build, CATALOGUE, board=EIGHT_BIT, rail="rail1", voltage="24 V")
    again = edited(
        build, ("take_variant", {"board": EIGHT_BIT, "rail": "rail1", "voltage": "24 V"})
    )
    assert again == found.build
    assert {f.check for f in found.come} >= {"S8"}


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ({}, "Nothing would change"),
        ({"board": RADIO}, "Nothing would change"),
        ({"rail": "rail1"}, "wants both"),
        ({"voltage": "9 V"}, "wants both"),
        ({"rail": "rail1", "voltage": "lots"}, "not a quantity"),
        ({"rail": "rail9", "voltage": "9 V"}, "no longer"),
        ({"board": "nothing"}, "no board"),
    ],
)
def test_nonsense_is_refused_with_what_was_expected(asked, says):
    with pytest.raises(EditError, match=says):
        variant(bench(), CATALOGUE, **asked)
