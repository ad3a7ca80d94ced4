"""A wish in a line: how it is read, what it asks, and the build it opens."""

import itertools

import pytest

from latchcore.advice.wish_build import open_wish
from latchcore.advice.wish_words import LOADS
from latchcore.advice.wishes import MOST_CHARACTERS, WishError, read_wish
from latchcore.catalogue import load_catalogue
from latchcore.edits import EditError
from latchcore.evaluate import evaluate

RADIO, EIGHT = "board-radio-3v3", "board-8bit-5v-20"

#: One wish said in many ways: load, volts, figure and board in any order and spelling.
NAMES = ("solenoid", "Solenoid", "a solenoid", "my solenoid valve", "one solenoid")
VOLTS = ("12 V", "12V", "12-volt", "twelve-volt", "12,0 V")
DRAWS = ("0.5 A", "0,5 A", "500 mA", "500mA", "0.5 amps")
PLACES = ("on a 3.3 V radio board", "on the radio board", "3.3V radio board", "with a 3 V board")
WAYS = [
    f"{volts} {name} {draws}{stop} {place}"
    for (name, volts, draws, place), stop in zip(
        itertools.product(NAMES, VOLTS, DRAWS, PLACES), itertools.cycle([",", " ", ";"]),
        strict=False,
    )
][::2]  # fmt: skip


@pytest.mark.parametrize(
    "text",
    [
        "panel of 6 x 10 pulse coils 12 V 24 Ω, large board",
        "shutter wall 6 × 10, 12 V 24 Ω, large board",
        "6 by 10 shutters 12 V 24 Ω on a large board",
        "12 V panel, 6 rows and 10 columns, 24 Ω, large board",
    ],
)
def test_a_panel_is_read_with_its_rows_and_columns(text):
    wish = read_wish(text)
    (load,) = wish.loads
    assert (load.kind, load.rows, load.columns) == ("panel", "6", "10") and wish.complete
    (channel,) = open_wish(wish, "wall").channels
    assert channel.stage.kind == "row_column" and (channel.load.rows, channel.load.columns) == (
        6,
        10,
    )


def test_a_panel_without_its_rows_is_asked_for_them_and_others_keep_their_number():
    (panel,) = read_wish("panel 12 V 24 Ω, large board").loads
    assert panel.missing == ("rows", "columns")
    (lamps,) = read_wish("2 x 12 V lamps 5 W").loads
    assert (lamps.kind, lamps.count, lamps.rows) == ("filament_lamp", 2, None)


@pytest.mark.parametrize(
    "text",
    [
        "stage wagon with two motors 12 V 300 mA, radio board",
        "rover 12 V 300 mA on the radio board",
        "a cart on two motors both ways, 12 V 300 mA, radio board",
    ],
)
def test_a_vehicle_is_two_motors_that_turn_both_ways_and_what_they_move(text):
    wish = read_wish(text)
    build = open_wish(wish, "wagon")
    left, right = build.channels
    assert left.stage.kind == right.stage.kind == "bridge_chip" and wish.unknown == ()
    (vehicle,) = build.vehicles
    assert {vehicle.left, vehicle.right} == {left.id, right.id}
    assert "T6" in {f.check for f in evaluate(build).all_findings}


@pytest.mark.parametrize("text", WAYS)
def test_one_wish_is_read_however_it_is_said(text):
    wish = read_wish(text)
    (load,) = wish.loads
    assert wish.board == RADIO and load.kind == "solenoid" and wish.unknown == (), text
    amperes = {"0.5 A": 0.5, "500 mA": 0.5}[load.figure]
    assert float(load.voltage.split()[0]) == 12.0 and amperes == 0.5


def test_so_many_ways_were_tried():
    assert len(WAYS) == 250


@pytest.mark.parametrize(("words", "direct", "alternating"), LOADS)
def test_every_word_for_a_load_means_it_on_either_kind_of_current(words, direct, alternating):
    (low,) = read_wish(f"12 V {words} 1 A, 5 V board").loads
    (line,) = read_wish(f"230 V {words} 60 W, 5 V board").loads
    assert (low.kind, line.kind) == (direct, alternating) and line.line and not low.line


@pytest.mark.parametrize(
    ("text", "loads", "board", "unknown"),
    [
        ("three 12 V lamps 5 W and a 24 V motor 1 A, stick",
         [("filament_lamp", 3), ("dc_motor", 1)], "board-stick-3v3-26", ()),
        ("2 x LED strip 12 V 1,5 A", [("led_strip", 2)], None, ()),
        ("a lamp and a flux capacitor", [("filament_lamp", 1)], None, ("flux capacitor",)),
        ("zwei Lampen", [], None, ("zwei lampen",)),
        ("fan 12 V 3 W on the 9 V board", [("dc_motor", 1)], None, ("9 V",)),
        ("relay module", [], None, ()),
        ("12 V lamp 5 W 6 W, large board", [("filament_lamp", 1)], "board-8bit-5v-70", ("6 W",)),
        ("lamp, 12 V, 5 W, compact board", [("filament_lamp", 1)], "board-8bit-5v-14", ()),
    ],
)  # fmt: skip
def test_what_is_read_and_what_is_given_back(text, loads, board, unknown):
    wish = read_wish(text)
    assert [(x.kind, x.count) for x in wish.loads] == loads
    assert (wish.board, wish.unknown) == (board, unknown)


@pytest.mark.parametrize(
    ("text", "asked"),
    [
        ("solenoid on a radio board", ("voltage", "figure")),
        ("12 V solenoid on a radio board", ("figure",)),
        ("mains lamp on a radio board", ("figure",)),
        ("indicator on a radio board", ()),
        ("12 V solenoid 1 A on a radio board", ()),
    ],
)
def test_what_is_not_said_is_asked(text, asked):
    wish = read_wish(text)
    assert wish.loads[0].missing == asked and wish.complete is (not asked)
    if asked:
        with pytest.raises(WishError, match="missing"):
            open_wish(wish, "x")


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "Nothing was typed"),
        (" \n ", "Nothing was typed"),
        ("x" * (MOST_CHARACTERS + 1), "601 characters"),
        ("lamp " * 200_000, "characters"),
        ("70 lamps 12 V 5 W", "more than 64"),
        ("a lamp \ud83d", "cannot be written down"),
        ("230 V motor 200 W both ways, 5 V board", "both ways on alternating current"),
        ("three-phase 400 V motor 2 kW, 5 V board", "“three-phase” .* licensed work"),
        ("motor 2 A on rectified mains", "“rectified mains” .* every node stays live"),
    ],
)
def test_what_cannot_be_read_is_refused_in_one_line(text, says):
    with pytest.raises(WishError, match=says) as caught:
        read_wish(text)
    assert len(str(caught.value)) < 200


@pytest.mark.parametrize(
    "text",
    [
        "12 V motor 1 A forward and reverse, stick",
        "reversible 12 V motor 1 A, stick",
        "12 V motor 1 A with an H-bridge on a stick",
        "12 V motor, stick, both directions, 1 A",
    ],
)
def test_a_motor_that_turns_both_ways_is_wished_for_in_several_words(text):
    wish = read_wish(text)
    assert [load.kind for load in wish.loads] == ["motor_both"] and not wish.unknown
    assert open_wish(wish, "x").channels[0].stage.kind == "bridge_chip"


def test_words_that_only_look_like_it_are_planned():
    for text in ("reversing lamp 12 V 21 W, stick", "12 V one-phase motor 1 A", "12 V strip 1 A"):
        assert len(read_wish(text).loads) == 1, text


@pytest.mark.parametrize("text", ["12 kV lamp 60 W, 5 V board", "12 V lamp 0 W, 5 V board"])
def test_impossible_figures_are_refused_where_the_build_is_opened(text):
    with pytest.raises(EditError):
        open_wish(read_wish(text), "x")


#: What each wish opens as: its stage, and the findings it deserves, graver than a question.
OPENS = {
    "relay coil 12 V 70 Ω on a 3.3 V radio board": ("nmos_low_side", set()),
    "12 V solenoid 0.5 A on a 3.3 V radio board": ("nmos_low_side", set()),
    "12 V lamp 5 W on a 5 V board": ("nmos_low_side", set()),
    "two 12 V LED strips 1.5 A, dimmed, on a stick": ("nmos_low_side", set()),
    "12 V motor 500 mA on a radio board": ("nmos_low_side", set()),
    "12 V motor 500 mA both ways on a radio board": ("bridge_chip", set()),
    "5 V servo 200 mA on a radio board": ("servo_pulse", set()),
    "two 5 V servos 200 mA on an 8-bit board": ("servo_pulse", set()),
    "5 V servo 200 mA on a single-board computer": ("servo_pulse", set()),
    "dimmed 12 V motor 0.5 A both ways on an 8-bit board": ("bridge_chip", set()),
    "12 V pump 1.5 A on a radio board": ("nmos_low_side", set()),
    "24 V stepper motor 0.4 A on a radio board": ("step_driver", set()),
    "5 V unipolar stepper motor 0.3 A on an 8-bit board": ("coil_switches", set()),
    "12 V latching relay 60 mA on a radio board": ("coil_switches", set()),
    "9 V latching valve 0.3 A on an 8-bit board": ("bridge_chip", set()),
    "5 V addressable strip 60 mA on an 8-bit board": ("pixel_data", set()),
    "three 12 V motors 0.3 A both ways on an 8-bit board": ("bridge_chip", set()),
    "24 V valve 300 mA on an 8-bit board": ("nmos_low_side", set()),
    "230 V lamp 60 W, eight-relay module, 5 V board": ("relay_module", {"S7", "I2", "P13"}),
    "contactor for a 230 V heater 2 kW on a 5 V board": ("contactor", {"S7"}),
    "remote button 3.3 V 1 mA on a single-board computer": ("coupler_logic", set()),
    "dimmed lamp 230 V 60 W on a radio board": ("triac_coupler", {"S7"}),
    "120 V fan 40 W on a radio board": ("relay_contact", {"S7"}),
    "24 V AC valve 5 W on a 5 V board": ("relay_contact", set()),
    "LED on a stick": ("direct_pin", set()),
}


@pytest.mark.parametrize("text", OPENS)
def test_each_opens_sound_or_with_exactly_the_finding_it_deserves(text):
    stage, deserved = OPENS[text]
    build = open_wish(read_wish(text), text[:60])
    report = evaluate(build)
    assert {c.stage.kind for c in build.channels} == {stage}
    assert {f.check for f in report.all_findings if f.severity in ("stop", "fix")} == deserved
    assert not any(c.missing for c in report.channels)
    assert len({c.pin for c in build.channels}) == len(build.channels)
    assert build.region == ("north-america-120" if "120 V" in text else "europe-230")


def test_every_board_can_be_asked_for():
    boards = {p.id for p in load_catalogue().parts.values() if p.family == "board"}
    asked = ("radio board", "stick", "single-board computer", "large board", "compact board",
             "5 V board", "8-bit board", "3.3 V board", "40-pin header")  # fmt: skip
    assert {read_wish(f"lamp, {words}").board for words in asked} == boards
