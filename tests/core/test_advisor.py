"""Which switch for which load: the order and its reason, for loads as they come."""

import pytest

from latchcore.advice.advisor import advise
from latchcore.catalogue import Stock, load_catalogue
from latchcore.evaluate import evaluate
from tests.core.benches import COMPUTER, EIGHT_BIT, RADIO, bench, edited, result


def order(build, needs=""):
    if needs:
        build = edited(build, ("set_needs", {"channel": "ch2", "needs": needs}))
    return advise(build, "ch2")


def power(kind, voltage, figure, **more):
    return lambda: bench(kind, voltage, figure, rail=more.pop("rail", voltage), **more)


#: What is wanted -> (build, needs, what must lead, what the reason says).
WANTED = {
    "12 V strip to be dimmed": (
        power("led_strip", "12 V", "2 A", switching={"pwm": "400 Hz"}),
        "",
        "nmos_low_side",
        "parts",
    ),
    "24 V lamp that must be isolated": (
        power("filament_lamp", "24 V", "5 W"),
        "isolated",
        "coupler_nmos",
        "First",
    ),
    "reed-switched instrument line": (
        lambda: bench("button_pair", "5 V", "1 mA", rail="5 V"),
        "air_gap,isolated",
        "bridge_reed",
        "costs less",
    ),
    "60 W 24 V heater on a 3.3 V board": (
        power("heater", "24 V", "60 W"),
        "",
        "nmos_low_side",
        "First",
    ),
    "small relay on a 5 V board": (
        power("relay_coil", "12 V", "400 Ω", board=EIGHT_BIT),
        "",
        "npn_low_side",
        "First",
    ),
    "isolated relay coil": (
        power("relay_coil", "24 V", "1600 Ω", board=EIGHT_BIT),
        "isolated,silent",
        ("coupler_nmos", "coupler_pmos"),
        "First",
    ),
    "lamp whose other side is chassis": (
        power("filament_lamp", "12 V", "5 W"),
        "grounded_load",
        "pmos_high_side",
        "First",
    ),
    "chassis lamp, isolated": (
        power("filament_lamp", "12 V", "5 W"),
        "grounded_load,isolated,silent",
        "coupler_pmos",
        "First",
    ),
    "solenoid of two amperes": (power("solenoid", "12 V", "2 A"), "", "nmos_low_side", "First"),
    "motor with a stall": (power("dc_motor", "12 V", "500 mA"), "", "nmos_low_side", "First"),
    "strip pulsed at five kilohertz": (
        power("led_strip", "12 V", "1 A", switching={"pwm": "5 kHz"}),
        "fast",
        "nmos_low_side",
        "First",
    ),
    "isolated strip, gently dimmed": (
        power("led_strip", "12 V", "1 A", switching={"pwm": "200 Hz"}),
        "isolated",
        "coupler_nmos",
        "First",
    ),
    "indicator": (lambda: bench("indicator_led", "2 V", "3 mA"), "", "direct_pin", "only one"),
    "single LEDs": (
        lambda: edited(
            bench("led_array", "3 V", "20 mA"), ("set_load", {"channel": "ch2", "count": "12"})
        ),
        "",
        "led_strings",
        "only one",
    ),
    "logic line, grounds apart": (
        lambda: bench("logic_line", "5 V", "10 kΩ"),
        "",
        "coupler_logic",
        "First",
    ),
    "remote line, isolated": (
        lambda: bench("remote_line", "5 V", "1 mA"),
        "isolated",
        "coupler_logic",
        "First",
    ),
    "remote line with an air gap": (
        lambda: bench("remote_line", "12 V", "2 mA", rail="5 V"),
        "air_gap",
        "bridge_reed",
        "costs less",
    ),
    "button of unknown polarity, silent": (
        lambda: bench("button_pair", "5 V", "1 mA", rail="5 V"),
        "isolated",
        "coupler_logic",
        "First",
    ),
    "knob": (lambda: bench("analogue_control", "5 V", "10 kΩ"), "", "analogue_pot", "First"),
    "wide voltage to sense": (
        lambda: bench("wide_signal", "5 to 30 V", "2 mA"),
        "",
        "wide_input",
        "only one",
    ),
    "LED lamp with its gulp": (power("led_lamp", "12 V", "4 W"), "", "nmos_low_side", "First"),
    "5 V relay on a computer": (
        power("relay_coil", "5 V", "72 Ω", board=COMPUTER),
        "",
        "nmos_low_side",
        "First",
    ),
    "9 V heater": (power("heater", "9 V", "9 W"), "", "nmos_low_side", "First"),
    "36 V solenoid": (power("solenoid", "36 V", "500 mA"), "", "nmos_low_side", "First"),
    "grounded motor": (
        power("dc_motor", "12 V", "200 mA"),
        "grounded_load",
        "pmos_high_side",
        "First",
    ),
    "24 V coil above ground on a computer": (
        power("relay_coil", "24 V", "1600 Ω", board=COMPUTER),
        "grounded_load,silent",
        "pmos_high_side",
        "First",
    ),
    "chassis lamp, isolated, a click is no matter": (
        power("filament_lamp", "12 V", "5 W"),
        "grounded_load,isolated",
        "relay_contact",
        "First",
    ),
    "ten amperes, isolated, seldom": (
        power("heater", "12 V", "8 A"),
        "isolated,air_gap",
        "relay_contact",
        "only one",
    ),
}


@pytest.mark.parametrize("wish", WANTED)
def test_order_and_reason(wish):
    build, needs, leads, says = WANTED[wish]
    cards = order(build(), needs)
    assert cards[0].kind in ((leads,) if isinstance(leads, str) else leads) and cards[0].feasible, [
        (c.kind, round(c.total), c.verdict) for c in cards if c.result
    ][:5]
    assert says in cards[0].reason and not cards[0].unmet
    for card in cards:
        assert card.reason or not card.result or not card.feasible
        if card.result and not card.feasible:
            assert card.first_limit
    feasible = [(c.verdict == "fix", c.total) for c in cards if c.feasible]
    assert feasible == sorted(feasible)


def test_there_are_at_least_twenty_five_of_them():
    assert len(WANTED) >= 25


def test_eight_coils_at_once_want_the_array_that_one_coil_does_not():
    build = bench("relay_coil", "12 V", "360 Ω", board=EIGHT_BIT)
    assert order(build)[0].kind != "array_low_side"
    for pin in ("L5", "L6", "L7", "L8", "L9", "L10", "L11"):
        build = edited(
            build,
            (
                "add_channel",
                {
                    "kind": "relay_coil",
                    "voltage": "12 V",
                    "figure": "360 Ω",
                    "pin": pin,
                    "rail": "rail1",
                },
            ),
        )
    first = order(build)[0]
    assert first.kind == "array_low_side" and "parts" in first.reason


def test_a_need_moves_the_order_and_says_why():
    build = bench("filament_lamp", "12 V", "5 W")
    plain, isolated = order(build), order(build, "isolated")
    assert plain[0].kind != isolated[0].kind
    behind = next(c for c in isolated if c.kind == plain[0].kind)
    assert "must be isolated" in behind.reason and behind.unmet == ("isolated",)


def test_the_points_add_up_to_what_is_shown():
    for card in order(bench("heater", "12 V", "6 W")):
        if card.result:
            assert card.total == pytest.approx(sum(points for _, points in card.points)) and all(
                points > 0 for _, points in card.points
            )


def test_a_wrong_pin_is_not_held_against_the_stages():
    assert order(bench("solenoid", "12 V", "8 Ω", pin="P14"))[0].feasible


def test_stock_is_preferred_where_it_is_asked_for():
    from dataclasses import replace

    held = replace(
        load_catalogue(),
        stock=Stock(frozenset({330.0, 10000.0}), frozenset({"npn-45v-500ma", "diode-400v-1a"})),
        version="with-stock",
    )
    build = edited(
        bench("relay_coil", "12 V", "400 Ω", board=EIGHT_BIT),
        ("set_conditions", {"prefer_stock": "yes"}),
    )
    from latchcore.evaluate import evaluate

    stage = evaluate(build, held).channels[0].result
    assert (
        stage.parts["transistor"].id == "npn-45v-500ma"
        and stage.value("base_resistor").value == 330.0
    )
    assert "from the drawer" in stage.value("base_resistor").detail and stage.badness == 0
    names = {
        name
        for card in advise(build, "ch2", held)
        if card.kind == "nmos_low_side"
        for name, _ in card.points
    }
    assert any("drawer" in name for name in names)


@pytest.mark.parametrize("board", [EIGHT_BIT, RADIO, COMPUTER])
def test_everything_that_is_ranked_holds_when_it_is_used(board):
    build = bench("heater", "12 V", "300 mA", board=board)
    for card in order(build):
        if card.feasible:
            from latchcore.evaluate import evaluate

            used = evaluate(
                edited(build, ("set_stage", {"channel": "ch2", "stage": card.kind}))
            ).channels[0]
            assert used.verdict == card.verdict


@pytest.mark.parametrize(
    ("kind", "figure", "needs", "first", "because"),
    [
        ("filament_lamp", "60 W", "dims", "triac_coupler", "is dimmed or pulsed"),
        ("heater", "3.2 kW", "", "contactor", "sheds"),
        ("heater", "1 kW", "air_gap", "relay_contact", "costs less"),
        ("induction_motor", "60 W", "", "relay_contact", "costs less"),
        ("filament_lamp", "60 W", "silent", "solid_relay", "triac, fired by a coupler is next"),
    ],
)
def test_order_and_reason_on_the_line(kind, figure, needs, first, because):
    build = bench(
        kind, "230 V", figure, rail="230 V", source="mains", stage="relay_contact", board=RADIO
    )
    build = edited(
        build,
        ("add_rail", {"voltage": "5 V ±3 %", "rating": "2 A"}),
        ("set_rail", {"rail": "rail1", "plug": "polarised"}),
        ("set_guards", {"channel": "ch2", "unattended": "no", "on_return": "stays_off"}),
    )
    if needs:
        build = edited(build, ("set_needs", {"channel": "ch2", "needs": needs}))
    best = advise(build, "ch2")[0]
    assert best.kind == first and because in best.reason
    # Using it is one edit, and it is what was worked out.
    used = edited(build, ("set_stage", {"channel": "ch2", "stage": first}))
    assert advise(used, "ch2")[0].chosen and result(used).output.control == (
        "phase" if needs == "dims" else result(used).output.control
    )


@pytest.mark.parametrize(
    ("kind", "volts", "source"), [("heater", "110 V", "bench"), ("filament_lamp", "230 V", "mains")]
)
def test_on_a_hazardous_rail_nothing_is_feasible_whose_barrier_would_be_a_stop(kind, volts, source):
    build = edited(
        bench(kind, volts, "60 W", rail=volts, source=source, stage="relay_contact", board=RADIO),
        ("add_rail", {"voltage": "5 V ±3 %", "rating": "2 A"}),
        ("set_rail", {"rail": "rail1", "plug": "polarised"}),
    )
    for card in advise(build, "ch2"):
        chosen = edited(build, ("set_stage", {"channel": "ch2", "stage": card.kind}))
        if card.feasible:
            assert not {f.check for f in evaluate(chosen).all_findings} & {"I1", "I2"}, card.kind
    module = next(c for c in advise(build, "ch2") if c.kind == "relay_module")
    assert not module.feasible and (
        source != "mains" or "a reinforced one is wanted" in module.reason
    )
