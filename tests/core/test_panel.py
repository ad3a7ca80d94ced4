"""A panel of pulse coils: dots and codes, slips into both switches, sneak paths, redrawing."""

from __future__ import annotations

import pytest

from latchcore.advice.mending import advised
from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.evaluate import evaluate
from latchcore.pieces.panel_sums import sneak_share
from tests.core.benches import EIGHT_BIT, RADIO, edited, with_part

SHORTS = "line-driver-8x500ma"


def wall(rows=6, columns=10, count="4", load=None, switching=None, compared="yes", **settings):
    build = edited(
        Build(name="wall"),
        ("set_board", {"board": EIGHT_BIT}),
        ("set_watchdog", {"watchdog": "yes"}),
        ("add_rail", {"voltage": "12 V", "rating": "3 A"}),
        ("add_chain", {"part": "chain-register-8", "count": count}),
        ("set_chain", {"chain": "chain2", "compared": compared}),
        (
            "add_channel",
            {"kind": "panel", "voltage": "9 V", "figure": "60 Ω", "rail": "rail1", "pin": "auto"},
        ),
        ("set_load", {"channel": "ch3", "rows": str(rows), "columns": str(columns)}),
    )
    build = edited(build, ("set_load", {"channel": "ch3", "cut_off": "15 ms", **(load or {})}))
    pulse = {"longest_on": "12 ms"} | (switching or {})
    build = edited(build, ("set_switching", {"channel": "ch3", **pulse}))
    return edited(build, ("set_setting", {"channel": "ch3", **settings})) if settings else build


def found(build):
    return {f.check: f for f in evaluate(build).all_findings}


def panel(build):
    return evaluate(build).channels[0].result.panel


def test_sixty_dots_take_two_lines_for_each_row_and_column_on_one_chain():
    build = wall()
    lines = build.channels[0].pins
    assert lines == [f"chain2.{n}" for n in range(32)]
    assert len(panel(build).codes) == 1 + 2 * 60


def test_it_waits_for_its_rows_and_columns():
    build = edited(wall(), ("set_load", {"channel": "ch3", "rows": ""}))
    assert "rows and columns" in evaluate(build).channels[0].missing


@pytest.mark.parametrize(("field", "value"), [("rows", "25"), ("columns", "0"), ("rows", "many")])
def test_what_no_panel_has_is_refused(field, value):
    with pytest.raises(EditError) as caught:
        apply(wall(), "set_load", {"channel": "ch3", field: value})
    assert value in str(caught.value)


def test_a_dot_is_a_row_one_way_and_a_column_the_other():
    codes = panel(wall(2, 2)).codes
    assert codes["r1 c1 on"] == "10000100" and codes["r1 c1 off"] == "01001000"
    assert codes["rest"] == "0" * 8


def test_a_slip_to_both_switches_of_a_line_is_a_stop_where_nothing_disarms_it():
    """The last row low and the first column high stand side by side: one place on, both are on."""
    build = wall(compared="no", driver=SHORTS)
    stop = found(build)["M7"]
    assert stop.severity == "stop" and stop.lasting
    locked = wall(compared="no", driver=SHORTS, interlock="logic")
    assert found(locked)["M7"].severity == "fix"
    assert "M7" not in found(wall(driver=SHORTS))


def test_a_driver_that_lets_go_at_both_disarms_it_too():
    assert panel(wall()).disarmed and not panel(wall(driver=SHORTS)).disarmed
    assert found(wall(compared="no"))["M7"].severity == "fix"


def test_more_rows_than_lines_is_told():
    build = wall(6, 10, count="2")
    assert found(build)["P11"].severity == "stop"


def test_current_finds_its_way_round_where_no_diodes_steer_it():
    """Of a square of two the three other coils share the volts; of a column of many most."""
    assert sneak_share(2, 2) == pytest.approx((1 / 3, 1 / 3))
    assert sneak_share(1, 9) == (0.0, 0.0)
    row, column = sneak_share(6, 10)
    assert row < column == pytest.approx(0.6)
    assert "D15" in found(wall(steering="none")) and "D15" not in found(wall())


def test_a_row_carries_all_columns_that_are_pulsed_together_by_a_hair():
    build = wall(at_once="2")
    row = evaluate(build).channels[0].result.working.step("I_row").result
    assert row == pytest.approx(2 * 12.6 / 54)
    for share, stop in ((0.999, True), (1.001, False)):
        own = with_part(build, "line-driver-4x1a-locked", peak=f"{row * share:.5f} A")
        own = edited(own, ("set_setting", {"channel": "ch3", "driver": "own"}))
        assert ("D2" in found(own)) == stop


def test_redrawing_all_takes_a_shot_a_dot_and_a_row_both_ways_two():
    every = panel(wall(at_once="10", driver="line-driver-4x1a-locked")).every
    assert every.shots == 12 and panel(wall()).every.shots == 60
    assert panel(wall()).single.shots == 1


def test_redrawn_more_often_than_it_can_be_by_a_hair():
    lasts = panel(wall()).every.lasts
    for share, slow in ((0.999, True), (1.001, False)):
        build = wall(redrawn=f"{lasts * share:.6f} s")
        assert (
            "redraw" in [f.measure.key for f in evaluate(build).all_findings if f.measure]
        ) == slow


def test_a_capacitor_gives_the_pulse_and_has_less_of_it_each_time():
    """Too small, behind its resistor, the coil gets less than it pulls in with."""
    small, large = (wall(bulk=size, charge="47 Ω", gap="0.5 s") for size in ("220 µF", "10000 µF"))
    keys = [[f.measure.key for f in evaluate(b).all_findings if f.measure] for b in (small, large)]
    assert "bulk_end" in keys[0] and "bulk_end" not in keys[1]
    source = evaluate(large).channels[0].result.running
    assert source < evaluate(wall()).channels[0].result.running


def test_nothing_but_the_program_ending_a_pulse_is_told():
    assert "C8" in found(wall(load={"cut_off": ""}))
    assert "C8" not in {f.check for f in evaluate(wall()).all_findings if f.severity != "check"}


def test_the_remedy_of_a_stop_by_slip_ends_it():
    build = wall(compared="no", driver=SHORTS)
    stop = next(f for f in advised(build).all_findings if f.check == "M7")
    assert "M7" not in found(edited(build, *stop.remedies[0].edits))


def test_a_line_that_pulses_at_boot_turns_a_dot_only_with_one_of_the_other_kind():
    build = edited(
        Build(name="one"),
        ("set_board", {"board": RADIO}),
        ("add_rail", {"voltage": "12 V", "rating": "3 A"}),
        ("add_channel", {"kind": "panel", "voltage": "9 V", "figure": "60 Ω", "rail": "rail1"}),
        ("set_load", {"channel": "ch2", "rows": "1", "columns": "1"}),
        ("assign_pins", {"scope": "all"}),
        # P5 and P14 pulse while this board starts; all others here are quiet.
        ("place_pin", {"what": "ch2", "pin": "P5"}),
    )
    assert evaluate(build).channels[0].result.states[3].load == "off" and "P5" not in found(build)
    both = edited(build, ("place_pin", {"what": "ch2.c1-low", "pin": "P14"}))
    assert found(both)["P5"].severity == "stop"
    # Pulled to the same side both ends of the coil stand alike.
    alike = edited(build, ("place_pin", {"what": "ch2.c1-high", "pin": "P14"}))
    assert "P5" not in found(alike)
