"""What holds for every stage whatever it switches."""

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from latchcore.advice.spreading import spread_out
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import parse
from latchcore.findings import channel_findings
from latchcore.formats.buildfile import read_build, write_build
from latchcore.stages import STAGES
from latchcore.sums import couplers, gates
from tests.core.benches import COMPUTER, EIGHT_BIT, RADIO, bench, edited, findings, result

LOADS = {
    "power": dict(kind="heater", voltage="12 V", figure="300 mA"),
    "led": dict(kind="indicator_led", voltage="2 V", figure="3 mA"),
    "led_array": dict(kind="led_array", voltage="3 V", figure="20 mA"),
    "logic": dict(kind="logic_line", voltage="5 V", figure="10 kΩ"),
    "pair": dict(kind="button_pair", voltage="5 V", figure="1 mA"),
    "analogue": dict(kind="analogue_control", voltage="5 V", figure="10 kΩ"),
    "signal": dict(kind="wide_signal", voltage="5 to 30 V", figure="2 mA"),
    "sounder": dict(kind="buzzer_active", voltage="5 V", figure="8 mA", rail="5 V"),
    "servo": dict(kind="servo", voltage="5 V", figure="200 mA", rail="5 V"),
    "reversing": dict(kind="motor_both", voltage="12 V", figure="300 mA"),
    "pixels": dict(kind="pixel_strip", voltage="5 V", figure="60 mA", rail="5 V"),
    "panel": dict(
        kind="panel",
        voltage="12 V",
        figure="60 Ω",
        load={"rows": "2", "columns": "2"},
    ),
    "two windings": dict(kind="stepper_bipolar", voltage="12 V", figure="400 mA"),
    "two coils": dict(kind="latching_relay_two", voltage="12 V", figure="180 Ω"),
    "analogue_in": dict(kind="analogue_input", voltage="3.3 V", figure="100 kΩ"),
    "mains": dict(kind="heater", voltage="230 V", figure="500 W", rail="230 V", source="mains"),
}


def load_for(stage: str) -> dict:
    for load in LOADS.values():
        build = bench(**load, stage=stage)
        if (
            STAGES[stage].suits(BuildContext(build, load_catalogue()).channel(build.channels[0]))
            is None
        ):
            return load
    raise AssertionError(stage)


POWER = [kind for kind in STAGES if load_for(kind) is LOADS["power"]]


@pytest.mark.parametrize("stage", STAGES)
@pytest.mark.parametrize("board", [EIGHT_BIT, RADIO, COMPUTER])
def test_it_sizes_joins_and_explains(stage, board):
    found = result(bench(**load_for(stage), stage=stage, board=board))
    net = found.netlist
    line = {EIGHT_BIT: "L4", RADIO: "P25", COMPUTER: "N22"}[board]
    assert net.part("ch2.LOAD") and (net.part(f"BOARD.{line}") or stage == "register_output")
    for measure in found.measures:
        assert found.working.step(measure.symbol), measure.label
        assert math.isfinite(measure.limit) and measure.corner and measure.why
    assert found.netlist.nodes() and all(
        len(net.at(n)) > 1
        or n.endswith((".PIN", ".VDD", ".LINE-"))
        or n in ("0V", "rail1", "board.VDD")
        for n in net.nodes()
    )
    assert found.pulses.limit is not None or stage in ("direct_pin", "nmos_above", "analogue_pot")


@pytest.mark.parametrize("stage", STAGES)
@pytest.mark.parametrize(
    ("volts", "source"),
    [("12 V", "adapter"), ("24 V", "ac_low"), ("230 V", "mains"), ("110 V", "bench")],
)
def test_any_stage_on_any_load_and_rail_answers_and_says_where_it_does_not_fit(
    stage, volts, source
):
    for kind in load_catalogue().loads:
        build = bench(
            kind,
            "3 V" if kind == "led_array" else volts,
            "10 mA",
            rail=volts,
            source=source,
            stage=stage,
        )
        context = BuildContext(build, load_catalogue()).channel(build.channels[0])
        found = {
            f.check: f.severity for f in channel_findings(context, STAGES[stage].size(context))
        }
        if STAGES[stage].suits(context) is not None and stage != "direct_pin":
            assert "stop" in found.values(), (kind, found)


@pytest.mark.parametrize("stage", STAGES)
def test_a_barrier_is_in_the_netlist_exactly_where_it_is_claimed(stage):
    build = bench(**load_for(stage), stage=stage)
    build = edited(build, ("set_rail", {"rail": "rail1", "ground": "own"}))
    if stage.startswith("relay") or stage in ("solid_module", "contactor"):
        build = edited(
            build,
            ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
            ("set_setting", {"channel": "ch2", "coil_rail": "rail3"}),
        )
    islands = [
        i
        for i in evaluate(build).netlist.islands()
        if any("ch2" in n or n in ("0V", "rail1") for n in i)
    ]
    load = result(build).netlist.part("ch2.LOAD").terminals
    board_side = next(i for i in islands if "ch2.PIN" in i or stage == "register_output")
    apart = not (board_side & set(load.values()))
    assert apart == STAGES[stage].traits.isolates or stage in (
        "direct_pin",
        "open_collector",
        "bridge_analogue",
    )


@pytest.mark.parametrize("stage", [s for s in POWER if not STAGES[s].traits.isolates])
def test_without_a_barrier_a_rail_kept_apart_lacks_its_reference(stage):
    build = edited(
        bench(**LOADS["power"], stage=stage), ("set_rail", {"rail": "rail1", "ground": "own"})
    )
    assert findings(build).get("I3") == "stop"


@pytest.mark.parametrize("stage", [s for s in POWER if STAGES[s].traits.isolates])
def test_with_a_barrier_a_rail_kept_apart_is_as_wanted(stage):
    build = edited(
        bench(**LOADS["power"], stage=stage), ("set_rail", {"rail": "rail1", "ground": "own"})
    )
    if stage != "relay_module":
        assert "I3" not in findings(build)
        return
    # Its LED is pulled low by the board: what feeds it must come from where the board's 0 V is.
    assert findings(build)["I3"] == "stop"
    fed = edited(build, ("set_setting", {"channel": "ch2", "feed": "logic"}))
    assert "I3" not in findings(fed)


@settings(max_examples=80, deadline=None)
@given(
    stage=st.sampled_from(
        [
            s
            for s in POWER
            if s not in ("nmos_above", "solid_module", "register_output")
            and not s.startswith("relay")
        ]
    ),
    small=st.floats(20, 400),
    factor=st.floats(1.02, 2.5),
    board=st.sampled_from([EIGHT_BIT, RADIO]),
)
def test_more_load_never_lowers_what_is_asked_of_switch_and_junction(stage, small, factor, board):
    parts = result(
        bench(**LOADS["power"] | {"figure": f"{small * factor:.4g} mA"}, stage=stage, board=board)
    ).parts
    fixed = parts.get("transistor") or parts["switch"]
    key = {
        "array_low_side": "array",
        "triac_coupler": "triac",
        "solid_relay": "device",
        "solid_direct": "device",
    }.get(stage, "transistor")
    chosen = {key: fixed.id}
    less, more = (
        result(
            bench(
                **LOADS["power"] | {"figure": f"{i:.4g} mA"},
                stage=stage,
                board=board,
                settings=chosen,
            )
        )
        for i in (small, small * factor)
    )
    assert more.running > less.running
    assert more.measure("switch_current").worst > less.measure("switch_current").worst
    if (
        stage in ("npn_low_side", "darlington_low_side")
        and not less.value("base_resistor").window.empty
        and not more.value("base_resistor").window.empty
        and less.drive.school == more.drive.school
    ):
        assert more.pin_current >= less.pin_current * (1 - 1e-9)


@pytest.mark.parametrize("stage", STAGES)
def test_no_draw_from_the_spreads_lies_beyond_the_worst_corner(stage):
    build = bench(**load_for(stage), stage=stage)
    found, context = result(build), BuildContext(build, load_catalogue()).channel(build.channels[0])
    for measure in found.measures:
        spread = spread_out(context, found, measure, draws=4000)
        if spread is None or "typical" in measure.corner:
            continue
        if measure.sense == "max":
            assert spread.edges[-1] <= measure.worst * (1 + 1e-6) + 1e-12, measure.key
        else:
            assert spread.edges[0] >= measure.worst * (1 - 1e-6) - 1e-12, measure.key


def test_arrays_equal_a_loop_of_floats_in_the_new_sums():
    r, v = np.array([220.0, 330.0, 470.0]), np.array([1.0, 1.2, 1.4])
    assert couplers.led_current(3.1, 22.5, v, r).tolist() == pytest.approx(
        [couplers.led_current(3.1, 22.5, float(a), float(b)) for a, b in zip(v, r, strict=True)]
    )
    assert gates.divided_gate(12.0, 0.3, 10e3, r).tolist() == pytest.approx(
        [gates.divided_gate(12.0, 0.3, 10e3, float(a)) for a in r]
    )


@settings(max_examples=60, deadline=None)
@given(
    rail=st.floats(4.8, 40),
    stage=st.sampled_from(["pmos_high_side", "coupler_pmos", "coupler_nmos"]),
    milliamperes=st.floats(20, 1500),
)
def test_a_divided_gate_holds_at_every_corner_recomputed_from_the_netlist(
    rail, stage, milliamperes
):
    build = bench(
        "heater",
        f"{rail:.3g} V",
        f"{milliamperes:.4g} mA",
        rail=f"{rail:.3g} V",
        stage=stage,
        board=EIGHT_BIT,
    )
    found = result(build)
    assume(not found.badness)
    net, part = found.netlist, found.parts["transistor"]
    series, pull = (parse(net.part(f"ch2.{ref}").value, "Ω") for ref in ("R3", "R4"))
    volts = BuildContext(build, load_catalogue()).channel(build.channels[0]).volts
    drop = max(p.v_ce_sat.max for p in found.parts.values() if p.family in ("npn", "coupler"))
    for a in (0.95, 1.05):
        for b in (0.95, 1.05):
            low, high = (
                (v - d) * pull * b / (pull * b + series * a)
                for v, d in ((volts.min, drop), (volts.max, 0.0))
            )
            assert low >= part.on_voltage * (1 - 1e-9) and high <= 0.8 * part.v_gs_max * (1 + 0.02)


def test_a_hot_coupler_does_not_lift_a_gate_with_a_low_threshold():
    assert result(bench(**LOADS["power"], stage="coupler_nmos")).measure("dark").verdict == "sound"
    assert (
        findings(
            bench(**LOADS["power"], stage="coupler_nmos", settings={"up_resistor": "100k"})
        ).get("D15")
        == "fix"
    )


def test_a_twenty_four_volt_gate_gets_its_divider():
    found = result(bench("heater", "24 V", "500 mA", rail="24 V", stage="pmos_high_side"))
    assert found.value("series_resistor").value > 2e3 and found.measure("gate_most").worst <= 16.0


def test_a_low_rail_cannot_lift_a_gate_and_says_so():
    assert (
        findings(
            bench(
                "heater",
                "3.3 V",
                "500 mA",
                rail="3.3 V",
                stage="coupler_nmos",
                settings={"transistor": "nmos-60v-30a-4v5"},
            )
        ).get("D4")
        == "stop"
    )


def test_pulsing_wants_a_quicker_pull_up_and_finds_it():
    slow, quick = (
        result(bench(**LOADS["power"], stage="pmos_high_side", switching={"pwm": f} if f else None))
        .value("up_resistor")
        .value
        for f in (None, "8 kHz")
    )
    assert quick < slow


@pytest.mark.parametrize("stage", STAGES)
def test_a_build_file_with_any_stage_comes_back_to_the_byte(stage):
    text = write_build(bench(**load_for(stage), stage=stage))
    assert write_build(read_build(text)) == text
