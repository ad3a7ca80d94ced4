"""Waveforms: what is drawn is what the sums say, at both ends and in between."""

from __future__ import annotations

import math
import re
from functools import cache

import numpy as np
import pytest

from drawings.scope import scope
from latchcore.bench.circuit import NotModelled
from latchcore.bench.waves import clamps_of, waves_of, waves_table
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from latchcore.sums.coils import turn_off
from tests.core.benches import bench

COIL = dict(kind="solenoid", voltage="12 V", figure="10 Ω", load={"inductance": "50 mH"})


@cache
def stage(kind: str = "nmos_low_side", **more):
    build = bench(**COIL, stage=kind, **dict(more))
    context = BuildContext(build, load_catalogue()).channel(build.channels[0])
    return context, evaluate(build).channels[0].result


def test_the_current_of_a_coil_rises_as_its_time_constant_says():
    wave = waves_of(*stage(), "on")
    final = wave.limits["amps"][1]
    tau = 0.05 / (12 / final)
    assert wave.at("amps", -1e-6) == 0.0
    assert wave.at("amps", tau) == pytest.approx(final * (1 - math.exp(-1)), rel=0.01)
    assert wave.at("amps", 5 * tau) == pytest.approx(final, rel=0.01)
    # Before, the whole rail stands across the switch; behind, next to nothing.
    assert wave.at("switch", -1e-6) == pytest.approx(12.0, abs=0.1)
    assert wave.at("switch", tau) < 0.3


@pytest.mark.parametrize("kind", ["diode", "diode_zener", "zener_across_switch"])
def test_each_clamp_takes_the_current_to_nothing_when_the_sums_say(kind):
    context, result = stage()
    clamp = clamps_of(context, result)[kind]
    wave = waves_of(context, result, "off", clamp)
    amps = wave.limits["amps"][1]
    diode = clamp.diode.v_f.typ if clamp.diode else 0.0
    zener = clamp.zener.v_z.typ if clamp.zener else 0.0
    said = turn_off(kind, 12.0, 12 / amps, 0.05, amps, 0.0, diode, zener)
    assert wave.at("amps", 0.98 * said.zero_time) > 0
    assert wave.at("amps", 1.02 * said.zero_time) == pytest.approx(0.0, abs=1e-3)
    assert wave.at("switch", said.zero_time / 2) == pytest.approx(said.switch_voltage, rel=0.01)
    # Once it is spent the rail alone is left across the switch.
    assert wave.at("switch", 1.2 * said.zero_time) == pytest.approx(12.0, abs=0.1)


def test_without_a_clamp_the_switch_is_driven_over_what_it_bears():
    context, result = stage()
    wave = waves_of(context, result, "off", clamps_of(context, result)["none"])
    words, most = wave.limits["switch"]
    assert "V_DS" in words and wave.traces[1].values.max() > most
    fitted = waves_of(context, result, "off")
    assert fitted.traces[1].values.max() < most
    assert any("bears it itself" in note for note in wave.notes)


def test_a_switch_above_swings_below_nothing():
    wave = waves_of(*stage("pmos_high_side"), "off")
    assert wave.traces[1].values.min() == pytest.approx(-0.8, abs=0.4)
    assert wave.at("switch", -1e-6) > 11.5
    # What it bears is the rail less what its output goes to.
    assert wave.limits["switch"][1] < 0


def test_pulses_settle_where_rise_and_fall_agree():
    context, result = stage()
    with pytest.raises(NotModelled, match="is not pulsed"):
        waves_of(context, result, "pulsed")
    context, result = pulsed()
    wave = waves_of(context, result, "pulsed")
    period = 1e-3
    begin, after = wave.at("amps", 0.0), wave.at("amps", period)
    assert after == pytest.approx(begin, rel=0.01) and begin > 0
    top = wave.at("amps", 0.4 * period)
    mean = float(np.trapezoid(wave.traces[2].values, wave.times) / (3 * period))
    final = 12 / 10
    assert begin < mean < top and mean == pytest.approx(0.4 * final, abs=0.12)


@cache
def pulsed():
    build = bench(**COIL, stage="nmos_low_side", switching={"duty": "40 %", "pwm": "1 kHz"})
    context = BuildContext(build, load_catalogue()).channel(build.channels[0])
    return context, evaluate(build).channels[0].result


def test_a_lamp_stores_nothing_and_has_no_clamp_to_choose():
    build = bench(kind="heater", voltage="12 V", figure="300 mA", stage="nmos_low_side")
    context = BuildContext(build, load_catalogue()).channel(build.channels[0])
    result = evaluate(build).channels[0].result
    assert clamps_of(context, result) == {}
    wave = waves_of(context, result, "off")
    assert set(np.round(wave.traces[2].values, 3)) <= {0.0, round(wave.limits["amps"][1], 3)}


def test_a_table_has_a_row_a_point_and_a_column_a_curve():
    context, result = stage()
    clamps = clamps_of(context, result)
    laid = [waves_of(context, result, "off", clamps[k]) for k in ("diode", "none")]
    table = waves_table(laid)
    assert len(table.rows) == len(laid[0].times) and len(table.header) == 8
    assert len(table.as_csv().splitlines()) == len(table.rows) + 1
    same = [waves_of(context, result, "off", clamps[k], 0.05) for k in ("diode", "none")]
    assert len(waves_table(same).header) == 7


def test_the_picture_marks_limits_and_cursors():
    context, result = stage()
    wave = waves_of(context, result, "off", clamps_of(context, result)["none"])
    text = scope([wave], [1e-3], "Waveforms of a coil")
    assert "what the switch bears" in text and text.count('class="ink curve"') == 3
    assert ">1</text>" in text
    # A cursor beyond the picture is not drawn.
    assert ">1</text>" not in scope([wave], [10.0])


def test_what_is_drawn_keeps_its_corners():
    """The current stands until the edge, and falls from there: no line cuts the corner."""
    context, result = stage()
    wave = waves_of(context, result, "off", clamps_of(context, result)["diode"])
    text = scope([wave])
    path = re.findall(r'class="ink curve" d="M([^"]+)"', text)[2]
    points = [tuple(map(float, p.split())) for p in path.split("L")]
    left, level = points[0]
    corner = next(p for p in points[1:] if p[0] > left + 20)
    assert corner[1] == pytest.approx(level, abs=0.3)
