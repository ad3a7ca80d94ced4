"""
Each entry of the catalogue of mistakes: a design that trips it, and one like it that does not.
"""

import pytest

from latchcore.catalogue import load_catalogue
from tests.core.benches import COMPUTER, EIGHT_BIT, bench, edited, findings, with_part


def own(base: str, build_args: dict, **figures: str):
    """A bench whose transistor is a variant of a generic one."""
    build = with_part(bench(**build_args), base, **figures)
    return edited(build, ("set_setting", {"channel": "ch2", "transistor": "own"}))


def own_board(base: str, build_args: dict, **figures: str):
    """A bench on a variant of a board."""
    build = bench(board=base, **build_args)
    raw = dict(load_catalogue().raw[base]) | {"id": "own-board"} | figures
    return build.model_copy(update={"parts": {"own-board": raw}, "board": "own-board"})


def two_on_one_pin(pin: str):
    return edited(
        bench(),
        (
            "add_channel",
            {
                "kind": "relay_coil",
                "voltage": "12 V",
                "figure": "400 Ω",
                "pin": pin,
                "rail": "rail1",
            },
        ),
    )


def many_relays(count: int):
    build = bench(board=COMPUTER)
    pins = ["N23", "N24", "N25", "N26", "N27", "N5", "N6", "N13"]
    for pin in pins[: count - 1]:
        more = {
            "kind": "relay_coil",
            "voltage": "12 V",
            "figure": "400 Ω",
            "pin": pin,
            "rail": "rail1",
        }
        build = edited(build, ("add_channel", more))
    return build


STRIP = dict(kind="led_strip", figure="1 A", stage="nmos_low_side")
SOLENOID = dict(kind="solenoid", figure="8 Ω", stage="nmos_low_side")
LED = dict(kind="indicator_led", voltage="2 V", figure="3 mA", stage="direct_pin")
LAMP = dict(kind="filament_lamp", figure="5 W", stage="nmos_low_side")

CASES = {
    "P1 fix: 150 Ω asks more than recommended": (
        "P1",
        "fix",
        lambda: bench(settings={"base_resistor": "180"}),
    ),
    "P1 stop: 56 Ω asks more than the pin survives": (
        "P1",
        "stop",
        lambda: bench(settings={"base_resistor": "56"}),
    ),
    "P1 not: sized": ("P1", None, lambda: bench()),
    "P2 fix: seven relays on a small computer's pins": ("P2", "stop", lambda: many_relays(8)),
    "P2 not: two": ("P2", None, lambda: many_relays(2)),
    "P3 stop: input-only line": ("P3", "stop", lambda: bench(pin="P34")),
    "P3 stop: a line of the flash": ("P3", "stop", lambda: bench(pin="P7")),
    "P3 not: ordinary line": ("P3", None, lambda: bench(pin="P25")),
    "P4 stop: pull-down on a line that must be high to start": (
        "P4",
        "stop",
        lambda: bench(pin="P15"),
    ),
    "P4 not: pull-down on a line that must be low": ("P4", None, lambda: bench(pin="P12")),
    "P5 fix: pulsing line and a relay": ("P5", "fix", lambda: bench(pin="P14")),
    "P5 stop: pulsing line and a solenoid that moves": (
        "P5",
        "stop",
        lambda: bench(**SOLENOID, pin="P14"),
    ),
    "P5 not: quiet line": ("P5", None, lambda: bench(**SOLENOID, pin="P26")),
    "P6 fix: floating gate": (
        "P6",
        "fix",
        lambda: bench(**STRIP, settings={"pull_resistor": "none"}),
    ),
    "P6 stop: floating gate of something that moves": (
        "P6",
        "stop",
        lambda: bench(**SOLENOID, settings={"pull_resistor": "none"}),
    ),
    "P6 fix: 100k against the board's pull-up": (
        "P6",
        "fix",
        lambda: bench(pin="N5", board=COMPUTER, settings={"pull_resistor": "100k"}),
    ),
    "P6 not: sized pull-down": ("P6", None, lambda: bench(**STRIP)),
    "P6 not: a weak pull-down of the board holds it off": (
        "P6",
        None,
        lambda: bench(pin="P4", settings={"pull_resistor": "none"}),
    ),
    "P7 stop: blue LED on 3.3 V": ("P7", "stop", lambda: bench(**LED | {"voltage": "3.4 V"})),
    "P7 not: red LED on 3.3 V": ("P7", None, lambda: bench(**LED)),
    "P8 stop: low level over half the threshold": (
        "P8",
        "stop",
        lambda: own(
            "nmos-20v-2a-1v8",
            STRIP | {"rail": "9 V", "voltage": "9 V"},
            v_gs_th="0.08 / 0.3 / 1.0 V",
        ),
    ),
    "P8 not: ordinary threshold": ("P8", None, lambda: bench(**STRIP)),
    "P9 stop: 12 V rail on a pin": (
        "P9",
        "stop",
        lambda: bench(**LED, settings={"connection": "sink"}),
    ),
    "P9 not: from the pin": ("P9", None, lambda: bench(**LED)),
    "P10 stop: two channels on one pin": ("P10", "stop", lambda: two_on_one_pin("P25")),
    "P10 stop: PWM where there is none": (
        "P10",
        "stop",
        lambda: bench(**STRIP, board=EIGHT_BIT, pin="L4", switching={"pwm": "400 Hz"}),
    ),
    "P10 not: two pins": ("P10", None, lambda: two_on_one_pin("P26")),
    "P10 not: PWM line": (
        "P10",
        None,
        lambda: bench(**STRIP, board=EIGHT_BIT, pin="L5", switching={"pwm": "400 Hz"}),
    ),
    "P13 fix: LED from a live rail into a dead board": (
        "P13",
        "fix",
        lambda: bench(**LED, board=EIGHT_BIT, rail="5 V", settings={"connection": "sink"}),
    ),
    "P13 not: the rail dies with the board": (
        "P13",
        None,
        lambda: bench(
            **LED, board=EIGHT_BIT, rail="5 V", source="board_pin", settings={"connection": "sink"}
        ),
    ),
    "D1 fix: base resistor a little high": (
        "D1",
        "fix",
        lambda: bench(settings={"base_resistor": "820"}),
    ),
    "D1 stop: base resistor far too high": (
        "D1",
        "stop",
        lambda: bench(settings={"base_resistor": "10k"}),
    ),
    "D1 not: inside the window": ("D1", None, lambda: bench(settings={"base_resistor": "470"})),
    "D2 stop: 300 mA through a 100 mA part": (
        "D2",
        "stop",
        lambda: bench(figure="300 mA", settings={"transistor": "npn-45v-100ma"}),
    ),
    "D2 fix: 85 mA through a 100 mA part": (
        "D2",
        "fix",
        lambda: bench(figure="75 mA", settings={"transistor": "npn-45v-100ma"}),
    ),
    "D2 not: 30 mA": ("D2", None, lambda: bench(settings={"transistor": "npn-45v-100ma"})),
    "D3 stop: zener over the rating": (
        "D3",
        "stop",
        lambda: bench(
            **SOLENOID,
            settings={
                "clamp": "diode_zener",
                "clamp_zener": "zener-36v-5w",
                "transistor": "nmos-30v-6a-2v5",
            },
        ),
    ),
    "D3 fix: 24 V rail on a 30 V part": (
        "D3",
        "fix",
        lambda: bench(
            kind="heater",
            voltage="24 V",
            rail="24 V",
            figure="24 W",
            stage="nmos_low_side",
            settings={"transistor": "nmos-30v-6a-2v5"},
        ),
    ),
    "D3 not: 60 V part": (
        "D3",
        None,
        lambda: bench(
            kind="heater",
            voltage="24 V",
            rail="24 V",
            figure="24 W",
            stage="nmos_low_side",
            settings={"transistor": "nmos-60v-3a-2v5"},
        ),
    ),
    "D4 stop: threshold taken for on-voltage": (
        "D4",
        "stop",
        lambda: bench(**STRIP, settings={"transistor": "nmos-60v-30a-4v5"}),
    ),
    "D4 stop: 10 V part on 5 V logic": (
        "D4",
        "stop",
        lambda: bench(**STRIP, board=EIGHT_BIT, settings={"transistor": "nmos-100v-17a-10v"}),
    ),
    "D4 stop: divider eats the gate voltage": (
        "D4",
        "stop",
        lambda: bench(
            **STRIP,
            settings={
                "transistor": "nmos-30v-6a-2v5",
                "pull_side": "gate",
                "pull_resistor": "1k",
                "gate_resistor": "470",
            },
        ),
    ),
    "D4 not: specified at 2.5 V": (
        "D4",
        None,
        lambda: bench(**STRIP, settings={"transistor": "nmos-30v-6a-2v5"}),
    ),
    "D5 stop: over the gate's maximum": (
        "D5",
        "stop",
        lambda: own(
            "nmos-20v-2a-1v8",
            STRIP | {"rail": "9 V", "voltage": "9 V", "board": EIGHT_BIT},
            v_gs_max="5 V",
        ),
    ),
    "D5 fix: within a fifth of it": (
        "D5",
        "fix",
        lambda: own(
            "nmos-20v-2a-1v8",
            STRIP | {"rail": "9 V", "voltage": "9 V", "board": EIGHT_BIT},
            v_gs_max="6 V",
        ),
    ),
    "D5 not: 8 V gate on 5 V": (
        "D5",
        None,
        lambda: bench(
            **STRIP | {"rail": "9 V", "voltage": "9 V"},
            board=EIGHT_BIT,
            settings={"transistor": "nmos-20v-2a-1v8"},
        ),
    ),
    "D6 stop: thermal runaway": (
        "D6",
        "stop",
        lambda: own("nmos-60v-3a-2v5", STRIP | {"figure": "1.4 A"}, theta_ja="312 K/W"),
    ),
    "D6 fix: within 25 K": (
        "D6",
        "fix",
        lambda: bench(
            **STRIP | {"figure": "1.15 A"},
            settings={"transistor": "nmos-60v-3a-2v5"},
            conditions={"ambient": "70 °C"},
        ),
    ),
    "D6 not: 0.5 A": (
        "D6",
        None,
        lambda: bench(**STRIP | {"figure": "500 mA"}, settings={"transistor": "nmos-60v-3a-2v5"}),
    ),
    "D7 fix: no gate resistor": (
        "D7",
        "fix",
        lambda: bench(**STRIP, settings={"gate_resistor": "none"}),
    ),
    "D7 not: 100 Ω is under the guide yet within the pulse": (
        "D7",
        None,
        lambda: bench(**STRIP, settings={"gate_resistor": "100"}),
    ),
    "D9 fix: slow gate, fast PWM": (
        "D9",
        "fix",
        lambda: bench(**STRIP, switching={"pwm": "20 kHz"}, settings={"gate_resistor": "4k7"}),
    ),
    "D9 not: 400 Hz": ("D9", None, lambda: bench(**STRIP, switching={"pwm": "400 Hz"})),
    "D11 fix: what the transistor keeps": (
        "D11",
        "fix",
        lambda: bench(
            kind="led_strip", voltage="5 V", figure="300 mA", rail="4.1 V", source="bench"
        ),
    ),
    "D11 not: MOSFET": (
        "D11",
        None,
        lambda: bench(
            kind="led_strip",
            voltage="5 V",
            figure="300 mA",
            rail="4.1 V",
            source="bench",
            stage="nmos_low_side",
        ),
    ),
    "D12 stop: relay coil on a bare pin": ("D12", "stop", lambda: bench(stage="direct_pin")),
    "D12 not: LED on a pin": ("D12", None, lambda: bench(**LED)),
    "D13 stop: cold lamp over the pulse rating": (
        "D13",
        "stop",
        lambda: bench(**LAMP, settings={"transistor": "nmos-60v-200ma-4v5"}, board=EIGHT_BIT),
    ),
    "D13 stop: out of saturation in the surge": (
        "D13",
        "stop",
        lambda: bench(
            **LAMP | {"stage": "npn_low_side", "figure": "2 W"}, settings={"base_resistor": "560"}
        ),
    ),
    "D13 not: large MOSFET": (
        "D13",
        None,
        lambda: bench(**LAMP, settings={"transistor": "nmos-30v-6a-2v5"}),
    ),
    "D14 fix: eighth-watt part warm": (
        "D14",
        "fix",
        lambda: bench(
            board=EIGHT_BIT, settings={"base_resistor": "220", "resistor_watts": "0.125 W"}
        ),
    ),
    "D14 stop: tenth-watt part burnt": (
        "D14",
        "stop",
        lambda: bench(
            board=EIGHT_BIT, settings={"base_resistor": "180", "resistor_watts": "0.1 W"}
        ),
    ),
    "D14 not: quarter watt": (
        "D14",
        None,
        lambda: bench(board=EIGHT_BIT, settings={"base_resistor": "560"}),
    ),
    "C1 stop: 12 V coil on 9 V": ("C1", "stop", lambda: bench(rail="9 V")),
    "C1 fix: hot coil at the low corner": (
        "C1",
        "fix",
        lambda: bench(rail="10.8 V", conditions={"ambient": "50 °C"}),
    ),
    "C1 not: its own voltage": ("C1", None, lambda: bench()),
    "C2 stop: 6 V coil on an unregulated 9 V": (
        "C2",
        "stop",
        lambda: bench(voltage="6 V", figure="100 Ω", rail="9 V", source="unregulated"),
    ),
    "C2 not: at 110 %": ("C2", None, lambda: bench(rail="12.9 V", source="bench")),
    "C4 stop: no clamp": ("C4", "stop", lambda: bench(settings={"clamp": "none"})),
    "C4 not: diode": ("C4", None, lambda: bench()),
    "C4 not: a lamp needs none": ("C4", None, lambda: bench(**LAMP)),
    "C5 stop: diode turned round": ("C5", "stop", lambda: bench(settings={"clamp_band": "switch"})),
    "C5 stop: zener under the supply": (
        "C5",
        "stop",
        lambda: bench(settings={"clamp": "zener_across_switch", "clamp_zener": "zener-12v-1w3"}),
    ),
    "C5 not: zener above the supply": (
        "C5",
        None,
        lambda: bench(settings={"clamp": "zener_across_switch", "clamp_zener": "zener-24v-1w3"}),
    ),
    "C6 fix: small-signal diode on a solenoid": (
        "C6",
        "fix",
        lambda: bench(**SOLENOID, settings={"clamp_diode": "diode-75v-200ma"}),
    ),
    "C6 fix: 40 V diode on 24 V": (
        "C6",
        "fix",
        lambda: bench(
            voltage="24 V",
            rail="24 V",
            figure="1600 Ω",
            settings={"clamp_diode": "schottky-40v-1a"},
        ),
    ),
    "C6 not: 3 A rectifier": (
        "C6",
        None,
        lambda: bench(**SOLENOID, settings={"clamp_diode": "diode-400v-3a"}),
    ),
    "S1 stop: all on over the rating": ("S1", "stop", lambda: bench(**SOLENOID, rating="1 A")),
    "S1 fix: a lamp's surge over the rating": ("S1", "fix", lambda: bench(**LAMP, rating="1 A")),
    "S1 not: an LED lamp's gulp is shorter than a millisecond": (
        "S1",
        None,
        lambda: bench(kind="led_lamp", figure="4 W", stage="nmos_low_side", rating="1 A"),
    ),
    "S2 note: little in hand": ("S2", "note", lambda: bench(**SOLENOID, rating="2 A")),
    "S2 not: four fifths kept": ("S2", None, lambda: bench(**SOLENOID, rating="3 A")),
    "S8 stop: 5 V strip on 12 V": ("S8", "stop", lambda: bench(**STRIP | {"voltage": "5 V"})),
    "S8 stop: unregulated 12 V on a 12 V strip": (
        "S8",
        "stop",
        lambda: bench(**STRIP, source="unregulated"),
    ),
    "S8 not: regulated": ("S8", None, lambda: bench(**STRIP)),
}


@pytest.mark.parametrize("name", CASES)
def test_catalogue_entry(name):
    check, severity, build = CASES[name]
    assert findings(build()).get(check) == severity


@pytest.mark.parametrize(
    "check", "P1 P3 P5 P6 P7 P13 D1 D2 D3 D4 D5 D6 D7 D12 D13 D14 C1 C2 C4 C5 C6 S1 S2 S8".split()
)
def test_each_entry_is_tried_both_ways(check):
    tried = [severity for entry, severity, _ in CASES.values() if entry == check]
    assert None in tried and any(tried)


SOUND = {
    "relay on 5 V logic": lambda: bench(board=EIGHT_BIT),
    "relay on 3.3 V logic": lambda: bench(),
    "strip dimmed": lambda: bench(**STRIP, switching={"pwm": "400 Hz", "duty": "50 %"}),
    "solenoid": lambda: bench(**SOLENOID, rating="5 A"),
    "lamp": lambda: bench(**LAMP),
    "indicator": lambda: bench(**LED),
    "5 V relay on a computer": lambda: bench(
        voltage="5 V", figure="72 Ω", rail="5 V ±3 %", board=COMPUTER, stage="nmos_low_side"
    ),
    "24 V heater": lambda: bench(
        kind="heater",
        voltage="24 V",
        rail="24 V",
        figure="48 W",
        stage="nmos_low_side",
        rating="4 A",
    ),
}
