"""Addressable strips: data level, volts at the last pixel, current with and without the limit."""

from __future__ import annotations

import pytest

from latchcore.advice.mending import advised
from latchcore.evaluate import evaluate
from tests.core.benches import EIGHT_BIT, RADIO, bench, edited, findings, result


def strip(count="60", board=RADIO, rail="5 V ±2 %", **settings):
    return bench(
        "pixel_strip",
        "5 V",
        "60 mA",
        rail=rail,
        stage="pixel_data",
        board=board,
        load={"count": count},
        settings=settings,
    )


def test_three_volts_are_too_little_for_five_and_either_way_out_ends_it():
    stop = next(f for f in advised(strip(count="10")).all_findings if f.check == "P7")
    assert stop.severity == "stop" and len(stop.remedies) >= 1
    for remedy in stop.remedies:
        assert "P7" not in findings(edited(strip(count="10"), *remedy.edits))
    assert "P7" not in findings(strip(count="10", board=EIGHT_BIT))


def test_data_is_read_or_not_by_a_hair():
    """0.7 of the highest strip volts against the low high level of the pin."""
    level = result(strip()).working.step("V_data").result
    for share, stop in ((1.001, True), (0.999, False)):
        high = level / 0.7 * share
        build = strip(count="1", rail=f"{high - 0.2:.4f} V to {high:.4f} V")
        assert ("P7" in findings(build)) == stop


def test_the_last_pixel_gets_what_the_rails_leave_pixel_by_pixel():
    """n·(n − 1)/2 pieces of pitch times ohms, each with one pixel's current."""
    found = result(strip(pitch="16.6667 mm"))
    drop = 0.063 * 0.0166667 * 0.2 * 60 * 59 / 2
    assert found.load_volts[0] == pytest.approx(4.9 - drop)


def test_volts_at_the_last_fall_short_by_a_hair_and_both_ways_out_hold():
    left = result(strip(board=EIGHT_BIT)).load_volts[0]
    for share, short in ((1.0005, True), (0.9995, False)):
        build = edited(
            strip(board=EIGHT_BIT),
            ("set_load", {"channel": "ch2", "least_volts": f"{left * share:.5f} V"}),
        )
        assert ("D11" in findings(build)) == short
        if short:
            fix = next(f for f in advised(build).all_findings if f.check == "D11")
            assert len(fix.remedies) == 2
            for remedy in fix.remedies:
                assert "D11" not in findings(edited(build, *remedy.edits))


def test_a_limit_of_the_program_scales_the_current_and_what_comes_without_it_is_said():
    full, dim = result(strip()), result(strip(limit="30 %"))
    assert dim.running == pytest.approx(0.3 * full.running)
    assert dim.surge == full.surge == pytest.approx(60 * 0.063)
    assert "unlimited" in dim.live["load"]


def test_fed_at_both_ends_it_loses_a_quarter_of_the_volts():
    one, both = (4.9 - result(strip(fed=f)).load_volts[0] for f in ("one_end", "both_ends"))
    assert both == pytest.approx(one / 4, rel=0.05)


def test_a_first_pixel_hands_on_its_own_supply_less_the_diode():
    """4.9 V less 0.9 V is 4.0 V, over 0.7 of what feeds the second."""
    found = result(strip(level="pixel"))
    assert found.measure("data_handed").verdict == "sound"
    assert found.working.step("V_handed").result == pytest.approx(4.0)
    net = found.netlist
    assert net.part("ch2.D1").terminals["A"] == "rail1"
    assert net.part("ch2.P1").terminals["+"] == net.part("ch2.D1").terminals["K"]
    assert net.part("ch2.LOAD").terminals["DATA"] == net.part("ch2.P1").terminals["OUT"]


def test_how_far_apart_it_is_fed_again_is_said():
    why = result(strip()).measure("last_pixel").why
    assert "feed again every" in why and " m" in why


def test_its_current_stands_on_its_rail():
    report = evaluate(strip())
    assert report.rails[0].all_on == pytest.approx(60 * 0.063)
