"""
Coils once they are in: what holds them under PWM, what less would spare, how soon they let go.
"""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.advice.mending import advised
from latchcore.sums.pulsed_hold import hold_by_pwm
from tests.core.benches import EIGHT_BIT, bench, edited, findings, result


def coil(stage="nmos_low_side", figure="400 Ω", **more):
    return bench("relay_coil", "12 V", figure, stage=stage, board=EIGHT_BIT, pin="L5", **more)


def allowed(within, **more):
    return edited(coil(**more), ("set_use", {"channel": "ch2", "release_within": within}))


@pytest.mark.parametrize(
    "duty, severity", [("40 %", "stop"), ("60 %", "stop"), ("75 %", None), ("100 %", None)]
)
def test_a_pulsed_coil_must_still_be_held(duty, severity):
    assert findings(coil(switching={"pwm": "500 Hz", "duty": duty})).get("C3") == severity


def test_pulses_taken_away_mend_it():
    found = advised(coil(switching={"pwm": "500 Hz", "duty": "40 %"})).channels[0].findings
    held = next(f for f in found if f.check == "C3")
    assert "V" in held.sentence and any("without pulses" in r.label for r in held.remedies)


def test_sixty_per_cent_of_the_volts_is_a_little_over_a_third_of_the_heat():
    hold = result(coil()).coil.hold
    assert 58 <= int(hold["duty"].split()[0]) <= 75 and 60 <= int(hold["saved"].split()[0]) <= 64
    assert hold["share"] == "60 %" and hold["assumed"]


def test_what_is_offered_for_holding_holds():
    duty = result(coil()).coil.hold["duty"]
    up = f"{int(duty.split()[0]) + 1} %"
    assert findings(coil(switching={"pwm": "500 Hz", "duty": up})).get("C3") is None


@pytest.mark.parametrize(
    "chosen", [{"clamp": "diode_zener"}, {"clamp": "zener_across_switch"}, {"clamp": "none"}]
)
def test_no_pulses_into_a_clamp_that_burns_each_of_them(chosen):
    assert result(coil(settings=chosen)).coil.hold is None


def test_a_slow_stage_says_that_it_cannot_follow():
    assert not result(coil("coupler_nmos")).coil.hold["follows"]


@given(
    share=st.floats(0.3, 0.8),
    supply=st.floats(11.0, 14.0),
    drop=st.floats(0.0, 0.5),
    diode=st.floats(0.3, 1.0),
)
def test_the_mean_volts_at_that_duty_are_the_hold_volts(share, supply, drop, diode):
    hold = hold_by_pwm(
        rated=12.0,
        resistance=400.0,
        inductance=0.8,
        ambient=30.0,
        hold_share=share,
        supply_min=supply,
        switch_drop=drop,
        diode_drop=diode,
    )
    mean = hold.duty * (supply - drop) - (1 - hold.duty) * diode
    assert mean == pytest.approx(share * 12.0) and share**2 <= hold.power_ratio < share**2 * 1.02


@pytest.mark.parametrize("within, severity", [("2 ms", "fix"), ("100 ms", None)])
def test_a_coil_that_must_let_go_soon(within, severity):
    assert findings(allowed(within)).get("C7") == severity


def test_a_zener_mends_a_late_release():
    late = next(f for f in advised(allowed("5 ms")).channels[0].findings if f.check == "C7")
    edits = next(r.edits for r in late.remedies if "zener" in r.label)
    mended = edited(allowed("5 ms"), *edits)
    assert "C7" not in findings(mended)
    assert result(mended).coil.release_time < result(allowed("5 ms")).coil.release_time / 2


@settings(max_examples=40, deadline=None)
@given(ohms=st.floats(150, 1200))
def test_diode_and_zener_never_let_go_later_than_the_diode_alone(ohms):
    plain, quick = (
        result(coil(figure=f"{ohms:.4g} Ω", settings={"clamp": c})).coil.release_time
        for c in ("diode", "diode_zener")
    )
    assert quick < plain


def test_the_coil_of_a_relay_and_the_load_on_its_contact_keep_their_own_figures():
    build = edited(
        bench("heater", "12 V", "2 A", stage="relay_contact"),
        ("add_rail", {"voltage": "5 V", "rating": "2 A"}),
        ("set_setting", {"channel": "ch2", "coil_rail": "rail3"}),
    )
    found = result(build)
    assert (
        found.working.step("I_load_max").result
        > 2.0
        > 0.2
        > found.working.step("I_coil_max").result
        > 0.02
    )
    assert (found.coil.rail, found.coil.draws) == ("rail3", found.working.step("I_coil_max").result)


def test_a_coils_zener_is_held_against_the_coils_own_rail():
    build = edited(
        bench("heater", "40 V", "200 mA", rail="40 V", stage="relay_contact"),
        ("add_rail", {"voltage": "5 V", "rating": "2 A"}),
        ("set_setting", {"channel": "ch2", "coil_rail": "rail3", "clamp": "zener_across_switch"}),
    )
    assert "C5" not in findings(build)


def pulse(load, **more):
    return bench(
        "solenoid",
        "12 V",
        "1 A",
        stage="nmos_low_side",
        board=EIGHT_BIT,
        pin="L5",
        load={"hazards": "motion,pulse coil"} | load,
        **more,
    )


@pytest.mark.parametrize(
    "load, switching, severity, says",
    [
        ({"longest_rated": "300 ms", "cut_off": "250 ms"}, None, "stop", "without end"),
        (
            {"longest_rated": "300 ms", "cut_off": "250 ms"},
            {"longest_on": "2 s"},
            "stop",
            "for 2 s; it bears 300 ms",
        ),
        ({"longest_rated": "300 ms", "cut_off": "250 ms"}, {"longest_on": "200 ms"}, None, ""),
        (
            {"longest_rated": "300 ms", "cut_off": "5 s"},
            {"longest_on": "200 ms"},
            "fix",
            "cuts off after 5 s",
        ),
        ({"longest_rated": "300 ms"}, {"longest_on": "200 ms"}, "fix", "Nothing but the program"),
        ({}, {"longest_on": "200 ms"}, "fix", "not given"),
        ({"duty_rated": "25 %", "cut_off": "1 s"}, {"duty": "40 %"}, "stop", "it bears 25 %"),
        ({"duty_rated": "25 %", "cut_off": "1 s"}, {"duty": "25 %"}, None, ""),
        ({"hazards": "motion"}, None, None, ""),
    ],
)
def test_how_long_a_coil_may_be_on(load, switching, severity, says):
    c8 = next(
        (
            f
            for f in advised(pulse(load, switching=switching)).channels[0].findings
            if f.check == "C8"
        ),
        None,
    )
    assert (c8 and c8.severity) == severity and (c8 is None or says in c8.sentence)
    # What moves or strikes may not be accepted away.
    assert c8 is None or c8.lasting == (severity == "stop")


def test_the_program_is_told_when_to_end_it():
    build = pulse(
        {"longest_rated": "300 ms", "cut_off": "250 ms"},
        switching={"longest_on": "2 s", "duty": "20 %"},
    )
    c8 = next(f for f in advised(build).channels[0].findings if f.check == "C8")
    mended = edited(build, *next(r.edits for r in c8.remedies if "program end it" in r.label))
    assert (
        mended.channels[0].longest_on == "300 ms"
        and mended.channels[0].duty == "20 %"
        and "C8" not in findings(mended)
    )


@pytest.mark.parametrize("many", [2, 3, 8])
def test_coils_side_by_side_add_their_currents_and_let_go_together(many):
    one, more = coil(), edited(coil(), ("set_load", {"channel": "ch2", "count": str(many)}))
    assert result(more).running == pytest.approx(many * result(one).running)
    assert result(more).coil.unclamped_peak > result(one).coil.unclamped_peak
    quick = {key: result(build).coil.release_time for key, build in (("one", one), ("many", more))}
    assert quick["many"] == pytest.approx(quick["one"], rel=1e-6)
    assert result(more).netlist.part("ch2.LOAD").value == f"{many} × 400 Ω"


def test_too_many_coils_for_one_small_transistor():
    build = bench(
        "relay_coil",
        "12 V",
        "160 Ω",
        stage="npn_low_side",
        board=EIGHT_BIT,
        settings={"transistor": "npn-45v-500ma"},
    )
    assert "D2" not in findings(build) and findings(
        edited(build, ("set_load", {"channel": "ch2", "count": "6"}))
    ).get("D2") in ("fix", "stop")
