"""Sensors of light, movement, current and presence, and what stands at a pin."""

import pytest

from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.edits import EditError
from latchcore.evaluate import evaluate
from tests.core.benches import EIGHT_BIT, bench, edited


def sensing(kind, base=None, **fields):
    build = base or bench("dc_motor", "12 V", "1 A", stage="nmos_low_side")
    return edited(build, ("add_input", {"kind": kind, **fields}))


def report(build):
    return evaluate(build).inputs[-1]


def found(build):
    where = build.inputs[-1].id
    said = [f for f in evaluate(build).all_findings if f.where == where]
    return {(f.check, f.cause or (f.measure.key if f.measure else "")): f.severity for f in said}


def verdict(build, key):
    return next(m for m in report(build).measures if m.key == key).verdict


@pytest.mark.parametrize(("top", "said"), [("3.4 V", "sound"), ("3.5 V", "stop")])
def test_the_top_of_a_sensors_range_is_what_the_pin_must_bear(top, said):
    assert verdict(sensing("analogue", voltage=f"0.5 to {top}"), "tolerance") == said


@pytest.mark.parametrize(("low", "said"), [("2.16 V", "sound"), ("2.18 V", "fix")])
def test_a_range_under_a_tenth_of_the_scale_tells_nothing_apart(low, said):
    assert verdict(sensing("analogue", voltage=f"{low} to 2.5 V"), "span") == said


def test_an_analogue_sensor_means_its_own_scale_along_its_range():
    build = sensing("analogue", voltage="0.5 to 2.5 V", lowest="-20", highest="80")
    assert [row[3] for row in report(build).rows] == ["-20", "30", "80"]


@pytest.mark.parametrize(("ohms", "said"), [("9 kΩ", "sound"), ("9.1 kΩ", "fix"), (None, "sound")])
def test_the_source_and_what_is_in_series_fill_the_sample(ohms, said):
    more = {"series": ohms} if ohms else {}
    assert verdict(sensing("analogue", voltage="0.5 to 2.5 V", **more), "source") == said


@pytest.mark.parametrize(("bright", "said"), [("6.6 kΩ", "sound"), ("6.8 kΩ", "fix")])
def test_light_and_dark_must_differ_enough_to_be_told_apart(bright, said):
    build = sensing("light", dark="10 kΩ", bright=bright, pull="8.2 kΩ")
    assert verdict(build, "span") == said


def test_the_fixed_resistor_of_a_light_sensor_lies_between_both_and_is_no_weak_source():
    near = report(sensing("light", dark="20 kΩ", bright="1 kΩ"))
    assert near.value("pull").value == 3900.0
    far = report(sensing("light", dark="1 MΩ", bright="10 kΩ"))
    assert far.value("pull").value == 10e3 and not [m for m in far.measures if m.verdict != "sound"]
    assert near.rows[0][0] == "dark" and float(near.rows[0][1].split()[0]) > 0


def test_what_a_light_sensor_lacks_is_asked_together():
    assert report(sensing("light")).missing == [
        "resistance in the dark",
        "resistance in the light",
    ]


@pytest.mark.parametrize(("every", "said"), [("2 s", None), ("2.1 s", "fix")])
def test_a_movement_must_not_come_and_go_between_two_looks(every, said):
    build = sensing("motion", holds="2 s", sampled=every)
    assert found(build).get(("T5", "missed")) == said
    if said:
        mended = [r.label for f in advised(build).all_findings for r in f.remedies]
        assert "Look every 2 s" in mended


def line():
    return bench(
        "filament_lamp", "230 V", "60 W", rail="230 V", source="mains", stage="relay_contact"
    )


@pytest.mark.parametrize(("wait", "said"), [("22 ms", None), ("21 ms", "fix")])
def test_a_present_line_is_dark_around_each_zero_and_that_is_waited_out(wait, said):
    # Two half-cycles of 47 Hz.
    build = sensing("presence", line(), rail="rail1", debounce=wait)
    assert found(build).get(("T5", "gap")) == said
    assert [r[2] for r in report(build).rows] == ["low", "high"]


def test_the_presence_of_a_line_is_read_across_a_barrier_and_never_on_direct_current():
    assert ("I4", "") not in found(sensing("presence", line(), rail="rail1"))
    on_direct = sensing("presence", rail="rail1")
    assert found(on_direct)["S8", ""] == "stop"


@pytest.mark.parametrize(("slope", "said"), [("67 mV", "sound"), ("65 mV", "fix")])
def test_a_running_current_must_move_the_sensor_out_of_its_noise(slope, said):
    assert verdict(sensing("current", watches="ch2", per_ampere=slope), "swing") == said


@pytest.mark.parametrize(("slope", "said"), [("1.2 V", "sound"), ("1.3 V", "fix")])
def test_a_current_sensor_ends_at_its_own_supply(slope, said):
    assert verdict(sensing("current", watches="ch2", per_ampere=slope), "clips") == said


def test_alternating_current_swings_both_ways_by_its_peak():
    build = sensing("current", line(), watches="ch2", per_ampere="1 V")
    assert "swinging" in report(build).rows[1][1]
    direct = sensing("current", watches="ch2", per_ampere="1 V")
    assert "swinging" not in report(direct).rows[1][1]


def test_a_channel_that_is_taken_out_is_watched_no_more():
    build = sensing("current", watches="ch2", per_ampere="1 V")
    gone = edited(build, ("remove_channel", {"channel": "ch2"}))
    assert gone.inputs[-1].watches is None
    with pytest.raises(EditError):
        sensing("current", watches="ch9", per_ampere="1 V")


@pytest.mark.parametrize(("ohms", "said"), [("2.6 kΩ", "sound"), ("2.7 kΩ", "fix")])
def test_behind_a_resistor_a_closed_contact_must_still_read_low(ohms, said):
    build = sensing("button", pull="10 kΩ", series=ohms)
    assert verdict(build, "low_level") == said
    ends = report(build).netlist.part("in3.SW1").terminals
    assert ends == {"1": "in3.FAR", "2": "0V"}


@pytest.mark.parametrize(("volts", "said"), [("2.5 V", "sound"), ("2.45 V", "fix")])
def test_a_zener_at_the_pin_leaves_the_high_level_high(volts, said):
    assert verdict(sensing("button", clamp=volts), "level") == said


@pytest.mark.parametrize(("ohms", "said"), [("3.2 kΩ", "stop"), ("3.3 kΩ", "sound")])
def test_a_resistor_in_series_bounds_what_five_volts_push_into_the_pin(ohms, said):
    build = sensing("sensor", voltage="5 V", series=ohms)
    assert verdict(build, "tolerance") == said
    assert verdict(sensing("sensor", voltage="5 V"), "tolerance") == "stop"


def test_a_zener_takes_the_rest_as_long_as_a_resistor_spares_it():
    bare = sensing("sensor", voltage="15 V", clamp="3 V")
    assert verdict(bare, "zener") == "stop"
    assert verdict(edited(bare, ("set_input", {"what": "in3", "series": "4.7 kΩ"})), "zener") == (
        "sound"
    )
    part = report(bare).netlist.part("in3.D9")
    assert part.terminals == {"K": "in3.PIN", "A": "0V"}


@pytest.mark.parametrize(("board", "said"), [(EIGHT_BIT, "sound"), (None, "stop")])
def test_a_pull_up_that_leads_elsewhere_is_held_against_what_the_pin_bears(board, said):
    base = bench(**({"board": board} if board else {}), rail="5 V", voltage="5 V")
    build = sensing("sensor", base, output="open_collector", pulled_to="rail1")
    assert verdict(build, "tolerance") == said
    assert report(build).netlist.part("in3.R1").terminals["1"] == "rail1"
    with pytest.raises(EditError, match="still feeds"):
        edited(
            edited(build, ("set_channel_rail", {"channel": "ch2", "rail": ""})),
            ("remove_rail", {"rail": "rail1"}),
        )


@pytest.mark.parametrize(("reads", "said"), [("3.0 V", None), ("3.3 V", "fix")])
def test_a_boards_own_threshold_counts_in_place_of_a_share_of_its_supply(reads, said):
    build = sensing("sensor", voltage="3.2 V")
    raw = dict(board_of(build), id="own", reads_high=reads)
    build = build.model_copy(update={"parts": {"own": raw}, "board": "own"})
    assert found(build).get(("T5", "level")) == said


def board_of(build):
    return load_catalogue().raw[build.board]


def test_the_coupler_and_its_pull_up_of_an_isolated_input_can_be_named():
    plain = sensing("opto", voltage="24 V")
    named = sensing("opto", voltage="24 V", pull="4k7", part="coupler-ctr100")
    assert report(named).value("pull").value == 4700.0
    assert report(named).value("coupler").text != report(plain).value("coupler").text
    with pytest.raises(EditError, match="no coupler"):
        sensing("opto", voltage="24 V", part="relay-12v-10a")


def test_the_pull_up_of_a_zeros_detector_moves_its_edge():
    zero = sensing("zero_coupler", line(), rail="rail1")
    stiff = sensing("zero_coupler", line(), rail="rail1", pull="10 kΩ")
    assert report(zero).found.pulse != report(stiff).found.pulse
