"""Solid-state switches of alternating current, and phase control against numerical integration."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from latchcore.advice.mending import advised
from latchcore.pieces.ac_switch import wanted_class
from latchcore.sums import phase
from tests.core.benches import EIGHT_BIT, bench, edited, findings, result

OUTSIDE = {"S7", "X1", "T3", "T6"}  # the rail's fuse and what has to be stated, not the stage's


def on_line(
    kind="filament_lamp",
    figure="100 W",
    stage="triac_coupler",
    volts="230 V",
    board=EIGHT_BIT,
    settings=None,
    load=None,
    **more,
):
    build = bench(
        kind,
        volts,
        figure,
        rail=volts,
        source="mains",
        stage=stage,
        board=board,
        settings=settings,
        load=load,
        **more,
    )
    return edited(
        build,
        ("set_rail", {"rail": "rail1", "plug": "polarised"}),
        ("add_rail", {"voltage": "5 V ±3 %", "rating": "1 A"}),
    )


def of_stage(build) -> dict:
    return {c: s for c, s in findings(build).items() if c not in OUTSIDE}


@given(st.floats(0, math.pi))
def test_what_a_delay_leaves_is_the_integral_of_the_half_wave(angle):
    whole, _ = quad(lambda x: math.sin(x) ** 2, 0, math.pi)
    part, _ = quad(lambda x: math.sin(x) ** 2, angle, math.pi, epsabs=1e-12)
    assert phase.left(angle) == pytest.approx(part / whole, abs=1e-6)
    assert phase.left(angle, "light") == pytest.approx((part / whole) ** 1.7, abs=1e-6)


@given(st.floats(0.001, 0.999), st.sampled_from(["power", "light"]))
def test_a_delay_for_a_share_leaves_that_share(share, quantity):
    assert phase.left(phase.angle_for(share, quantity), quantity) == pytest.approx(share, abs=1e-6)


@pytest.mark.parametrize("nominal", [50.0, 60.0])
def test_the_programs_table_falls_with_the_wanted_share_and_stays_in_the_window(nominal):
    window = phase.firing_window(
        *(phase.CORNERS[nominal][0], nominal, phase.CORNERS[nominal][1]), 100e-6, 100e-6
    )
    rows = phase.table(nominal, window, "light")
    delays = [row[1] for row in rows[1:]]
    assert delays == sorted(delays, reverse=True) and all(
        window.earliest <= d <= window.latest for d in delays
    )
    assert math.isnan(rows[0][1]) and rows[-1][2] == pytest.approx(window.most**1.7, abs=1e-3)
    # Counted from the detector's edge, half its pulse later.
    assert phase.table(nominal, window, "light", 0.5e-3)[5][1] == pytest.approx(rows[5][1] + 0.5e-3)


@pytest.mark.parametrize(
    ("kind", "figure"),
    [
        ("filament_lamp", "100 W"),
        ("heater", "200 W"),
        ("induction_motor", "60 W"),
        ("ac_coil", "40 W"),
    ],
)
@pytest.mark.parametrize("volts", ["230 V", "120 V"])
def test_a_triac_is_sized_sound_for_what_it_is_made_for(kind, figure, volts):
    build = on_line(kind, figure, volts=volts)
    build = (
        edited(build, ("set_conditions", {"region": "north-america-120"}))
        if volts == "120 V"
        else build
    )
    assert not of_stage(build)
    gate = result(build).value("gate_resistor")
    assert gate.value == (390 if volts == "230 V" else min(gate.window.admissible))


def test_the_gate_resistor_has_a_lower_and_an_upper_bound():
    low, high = (on_line(settings={"gate_resistor": r}) for r in ("100", "10k"))
    assert (
        of_stage(low)["A8"] == "fix"
        and "driver"
        in next(f for f in advised(low).all_findings if f.check == "A8").sentence.lower()
    )
    assert of_stage(high)["A8"] == "fix"


def test_the_drivers_led_under_its_trigger_current_is_a_stop():
    weak = on_line(settings={"driver": "driver-zero-600v", "led_resistor": "330"})
    assert of_stage(weak)["A8"] == "stop"


def test_an_inductive_load_wants_a_snubber_or_a_snubberless_part_and_the_higher_class():
    build = on_line(
        "induction_motor", "60 W", settings={"triac": "triac-800v-8a-sensitive", "quench": "none"}
    )
    assert of_stage(build)["A5"] == "fix"
    assert "A5" not in of_stage(
        edited(build, ("set_setting", {"channel": "ch2", "quench": "fitting"}))
    )
    assert "A5" not in of_stage(
        on_line(
            "induction_motor",
            "60 W",
            settings={"triac": "triac-800v-12a-snubberless", "quench": "none"},
        )
    )
    assert (
        of_stage(on_line("induction_motor", "60 W", settings={"triac": "triac-600v-8a"}))["A6"]
        == "stop"
    )
    assert "A6" not in of_stage(on_line(settings={"triac": "triac-600v-8a"}))
    assert (
        of_stage(on_line(settings={"triac": "triac-600v-8a", "varistor": "fitting"}))["A6"]
        == "stop"
    )


@pytest.mark.parametrize(
    ("line", "hard", "volts"),
    [
        (230, True, 800),
        (230, False, 600),
        (120, True, 600),
        (120, False, 400),
        (24, True, 2 * 24 * 2**0.5),
    ],
)
def test_the_class_a_line_wants(line, hard, volts):
    assert wanted_class(line, hard) == pytest.approx(volts)


def test_heat_asks_for_a_sink_and_a_small_one_is_a_stop():
    build = on_line("heater", "1500 W")
    assert "K/W" in result(build).value("heat_sink").text and not of_stage(build)
    assert (
        of_stage(edited(build, ("set_setting", {"channel": "ch2", "heat_sink": "40 K/W"})))["A3"]
        == "stop"
    )
    assert "A3" not in of_stage(
        edited(build, ("set_setting", {"channel": "ch2", "heat_sink": "2 K/W"}))
    )
    assert "free air" in result(on_line("heater", "100 W")).value("heat_sink").text


def test_a_small_lamp_glows_on_what_leaks_and_a_smaller_one_drops_out():
    assert of_stage(on_line("led_lamp", "3 W", stage="solid_relay"))["A4"] == "fix"
    assert "A4" not in of_stage(on_line("filament_lamp", "100 W"))


def test_direct_current_never_turns_a_triac_off():
    assert findings(bench("heater", "12 V", "1 A", stage="triac_coupler"))["A1"] == "stop"
    assert findings(bench("heater", "12 V", "1 A", stage="solid_relay"))["A1"] == "stop"


@pytest.mark.parametrize(
    ("kind", "said", "stops"),
    [
        ("filament_lamp", None, False),
        ("heater", None, False),
        ("led_lamp", None, True),
        ("led_lamp", "yes", False),
        ("led_lamp", "no", True),
        ("induction_motor", None, True),
        ("induction_motor", "yes", False),
        ("transformer", "yes", True),
        ("ac_coil", "yes", True),
    ],
)
def test_what_must_not_be_dimmed_is_refused_with_the_reason(kind, said, stops):
    build = on_line(
        kind, "200 W", settings={"control": "phase"}, load={"dimmable": said} if said else None
    )
    assert ("A2" in findings(build)) == stops
    if stops:
        assert next(f for f in advised(build).all_findings if f.check == "A2").severity == "stop"


def test_a_driver_that_waits_for_the_zero_cannot_dim():
    assert (
        of_stage(on_line(settings={"control": "phase", "driver": "driver-zero-800v"}))["A2"]
        == "stop"
    )
    assert not of_stage(on_line(settings={"control": "phase"}))


def test_a_delay_that_runs_into_the_next_half_cycle_at_the_fastest_line():
    window = result(on_line(settings={"control": "phase"})).output.window
    assert window.latest == pytest.approx(1 / 106 - 100e-6 - 100e-6 - 0.5e-3)
    assert (
        of_stage(on_line(settings={"control": "phase", "latest_delay": "9.2 ms"}))["A10"] == "fix"
    )
    assert (
        of_stage(on_line(settings={"control": "phase", "earliest_delay": "0.1 ms"}))["A10"] == "fix"
    )
    assert "A10" not in of_stage(
        on_line(settings={"control": "phase", "latest_delay": "8.5 ms", "earliest_delay": "0.5 ms"})
    )


def test_a_semiconductor_fuse_is_held_against_the_devices_let_through():
    asked = {"protection": "semiconductor"}
    assert of_stage(on_line(settings=asked))["A7"] == "check"
    assert of_stage(on_line(settings=asked | {"fuse_i2t": "500"}))["A7"] == "check"
    assert "A7" not in of_stage(on_line(settings=asked | {"fuse_i2t": "10"}))


def test_a_solid_state_device_on_three_volts_is_driven_by_a_transistor():
    radio = on_line("heater", "1500 W", stage="solid_relay", board="board-radio-3v3")
    assert result(radio).netlist.part("ch2.Q2") and not of_stage(radio)
    pin = edited(radio, ("set_setting", {"channel": "ch2", "drive": "pin"}))
    assert of_stage(pin)["P7"] == "stop"
    assert result(on_line("heater", "1500 W", stage="solid_relay")).netlist.part("ch2.Q2") is None


def test_an_air_gap_is_not_had_from_a_semiconductor():
    build = edited(on_line(), ("set_needs", {"channel": "ch2", "needs": "air_gap"}))
    assert findings(build)["A9"] == "stop"


@pytest.mark.parametrize("stage", ["triac_coupler", "solid_relay"])
def test_line_and_board_are_two_islands_with_the_barrier_between(stage):
    whole = advised(on_line("heater", "1500 W", stage=stage))
    assert not any({"rail1", "0V"} <= g for g in whole.netlist.islands())
    assert not {f.check for f in whole.findings} & {"I1", "I2"}


def test_a_driver_of_a_lower_class_is_too_little_between_line_and_hand():
    assert findings(on_line(settings={"driver": "driver-zero-600v"}))["I2"] == "stop"


def contactor(kind="heater", figure="3 kW", **more):
    return on_line(kind, figure, stage="contactor", **more)


def test_a_contactor_carries_a_heater_a_relay_cannot_and_a_motor_by_its_own_figure():
    assert not {c: s for c, s in of_stage(contactor()).items() if c != "K8"}
    assert of_stage(contactor(figure="8 kW"))["K1"] == "stop"
    # Nine amperes of motor on poles printed twenty amperes for heaters.
    motor = contactor("induction_motor", "1600 W")
    assert of_stage(motor)["K1"] == "stop"
    assert "K1" not in of_stage(contactor("induction_motor", "600 W"))


@pytest.mark.parametrize("kind", ["induction_motor", "brush_motor", "compressor"])
def test_every_motor_goes_by_the_motor_figure_of_the_poles(kind):
    found = result(contactor(kind, "300 W"))
    assert found.measure("main_current").fix == found.parts["contactor"].motors


def test_the_relay_before_a_contactor_only_carries_its_coil():
    found = result(contactor())
    assert found.measure("contact_current").worst < 0.1 < found.measure("main_current").worst
    assert found.running == pytest.approx(found.measure("main_current").worst + found.loose.pilot)


def test_a_contactors_coil_is_for_its_own_line():
    assert of_stage(contactor(settings={"contactor": "contactor-120v-20a"}))["C2"] == "stop"
    assert (
        of_stage(contactor(volts="120 V", settings={"contactor": "contactor-230v-20a"}))["C1"]
        == "stop"
    )


def test_a_contactor_breaks_both_sides_where_asked_and_keeps_the_board_apart():
    whole = advised(contactor(settings={"breaks": "both"}))
    poles = whole.netlist.part("ch2.K2").terminals
    assert poles["3"] == "rail1.N" and poles["4"] == whole.netlist.part("ch2.LOAD").terminals["-"]
    assert not any({"rail1", "0V"} <= g for g in whole.netlist.islands())


def test_a_contactor_is_not_for_direct_current():
    assert findings(bench("heater", "12 V", "1 A", stage="contactor"))["S8"] == "stop"


@pytest.mark.parametrize("stage", ["triac_coupler", "solid_relay"])
def test_a_surge_is_held_peak_against_peak_and_for_as_long_as_it_lasts(stage):
    def surge(seconds, amperes="12 A"):
        return result(
            on_line(
                "brush_motor", "300 W", stage=stage, load={"surge": amperes, "surge_time": seconds}
            )
        ).measure("switch_surge")

    brief, long = surge("10 ms"), surge("3 s")
    assert brief.worst == pytest.approx(12 * math.sqrt(2))
    # One half-cycle bears its printed peak; after seconds only the running current counts.
    assert brief.stop >= 70 and long.stop == pytest.approx(
        result(
            on_line(
                "brush_motor", "300 W", stage=stage, load={"surge": "12 A", "surge_time": "3 s"}
            )
        )
        .parts["switch"]
        .i_rms
        * math.sqrt(2)
    )
    assert brief.stop > surge("100 ms").stop


def test_a_motor_that_starts_slowly_wants_a_larger_triac_than_a_lamp_of_its_watts():
    motor, lamp = (
        result(on_line(kind, "450 W")).parts["switch"].i_rms
        for kind in ("brush_motor", "filament_lamp")
    )
    assert motor > lamp


def test_a_stall_of_seconds_counts_as_running_on_a_mosfet():
    def drain(seconds):
        return bench(
            "dc_motor",
            "12 V",
            "1 A",
            stage="nmos_low_side",
            load={"surge": "9 A", "surge_time": seconds},
            settings={"transistor": "nmos-30v-6a-2v5"},
        )

    assert "D13" not in findings(drain("10 ms")) and findings(drain("2 s"))["D13"] == "stop"


@pytest.mark.parametrize("stage", ["triac_coupler", "solid_relay"])
@pytest.mark.parametrize(
    ("rail", "severity"),
    [
        ({"plug": "reversible"}, "stop"),
        ({"lives": "two"}, "stop"),
        ({"plug": "unknown"}, "check"),
        ({"plug": "polarised"}, None),
    ],
)
def test_a_solid_state_output_breaks_one_pole_only(stage, rail, severity):
    build = edited(on_line(stage=stage), ("set_rail", {"rail": "rail1"} | rail))
    assert findings(build).get("K8") == severity


def test_two_poles_ahead_of_a_dimmer_leave_nothing_live_behind_a_plug_that_turns():
    build = edited(
        on_line(),
        ("set_rail", {"rail": "rail1", "plug": "reversible"}),
        (
            "add_channel",
            {
                "kind": "filament_lamp",
                "voltage": "230 V",
                "figure": "10 W",
                "stage": "contactor",
                "rail": "rail1",
                "pin": "L5",
            },
        ),
    )
    ahead = build.channels[-1].id
    build = edited(build, ("set_setting", {"channel": ahead, "breaks": "both"}))
    assert findings(build)["K8"] == "stop"
    build = edited(build, ("set_rail", {"rail": "rail1", "switched_by": ahead}))
    assert "K8" not in findings(build)
    # Taken back at the one ahead, it is said again at the other: nothing remembered hides it.
    assert (
        findings(edited(build, ("set_setting", {"channel": ahead, "breaks": "auto"})))["K8"]
        == "stop"
    )


@pytest.mark.parametrize("stage", ["relay_contact", "triac_coupler", "solid_relay"])
def test_a_snubber_as_at_hand_is_held_against_the_line(stage):
    def said(**settings):
        build = on_line(
            "ac_coil",
            "60 W",
            stage=stage,
            settings={"snubber_resistor": "100", "snubber_capacitor": "47 nF"} | settings,
        )
        return build, next((f for f in advised(build).all_findings if f.check == "A5"), None)

    assert said()[1] is None and said(snubber_class="y")[1] is None
    for settings, severity in (
        ({"snubber_class": "plain"}, "stop"),
        ({"snubber_resistor": "10"}, "fix"),
        ({"snubber_resistor": "1k"}, "fix"),
    ):
        build, found = said(**settings)
        assert found.severity == severity
        assert "A5" not in findings(edited(build, *found.remedies[0].edits))


def test_a_larger_snubber_leaks_more_and_wants_its_capacitor_discharged():
    small, large = (
        result(on_line("ac_coil", "60 W", settings={"snubber_capacitor": c}))
        for c in ("47 nF", "220 nF")
    )
    assert large.output.leaks > 3 * small.output.leaks
    # 34 V within a second from the highest peak: under 1 / (220 nF * ln(358 / 34)) less 5 %, so 1.8
    # MΩ.
    assert (
        large.value("snubber").text.endswith("1M8 across it")
        and "across it" not in small.value("snubber").text
    )


def test_at_low_alternating_voltage_a_snubber_needs_no_class():
    build = edited(
        bench(
            "ac_coil",
            "24 V",
            "8 W",
            rail="24 V",
            source="ac_low",
            stage="relay_contact",
            board=EIGHT_BIT,
            settings={"snubber_class": "plain"},
        ),
        ("add_rail", {"voltage": "5 V", "rating": "1 A"}),
    )
    assert "A5" not in findings(build)


def test_a_transformer_is_quenched_too():
    assert (
        findings(
            on_line("transformer", "50 W", stage="relay_contact", settings={"load_clamp": "none"})
        )["A5"]
        == "fix"
    )


def dimmed(edge=None, kind="zero_transformer", **settings):
    build = on_line(settings={"control": "phase"} | settings)
    return (
        edited(build, ("add_input", {"kind": kind, "rail": "rail1", "edge": edge}))
        if edge
        else build
    )


def test_a_detector_counted_from_its_edge_narrows_the_window_by_what_it_wanders():
    alone, edge, middle = (result(dimmed(e)).output.window for e in (None, "rising", "middle"))
    wanders = advised(dimmed("rising")).inputs[-1].found
    # The middle is known when the second edge has come: nothing is fired before that.
    known = advised(dimmed("middle")).inputs[-1].found.known
    assert middle.latest == alone.latest and middle.earliest == known > 0.3e-3
    assert edge.latest == pytest.approx(
        alone.latest + 100e-6 - wanders.late
    ) and edge.earliest == pytest.approx(0.3e-3 + wanders.early)


def test_a_lateness_that_is_stated_too_small_is_said():
    assert findings(dimmed("rising", detector_error="50 us"))["A10"] == "fix"
    assert "A10" not in findings(dimmed("middle", detector_error="50 us"))
    build = dimmed("rising", detector_error="50 us")
    remedy = next(
        r for f in advised(build).all_findings if f.check == "A10" for r in f.remedies if r.edits
    )
    assert "A10" not in findings(edited(build, *remedy.edits))
