"""
Sums on a line worked out a second time, from the printed figures and plain arithmetic: none of the
core's formulas is used.
"""

import math
import random
import tomllib
from pathlib import Path

import pytest

import latchcore.catalogue
from latchcore.evaluate import evaluate
from tests.core.benches import EIGHT_BIT, bench, edited

pytestmark = pytest.mark.slow

DATA = Path(latchcore.catalogue.__file__).parent / "data"
PREFIX = {"m": 1e-3, "k": 1e3, "µ": 1e-6}
MOTORS = ("brush_motor", "induction_motor", "compressor")
#: Share of a contact's rating, usual surge in multiples of the running current, how long it lasts
#: on a contact and in a semiconductor.
KINDS = {
    "heater": (1.0, 1.4, 1.0, 0.1),
    "filament_lamp": (0.1, 15, 0.01, 0.01),
    "led_lamp": (0.1, 100, 0.0005, 0.0002),
    "transformer": (0.25, 15, 0.00833, 0.01),
    "ac_coil": (0.4, 10, 0.1, 0.1),
    "brush_motor": (0.2, 6, 0.5, 0.5),
    "induction_motor": (0.2, 8, 1.0, 1.0),
    "compressor": (0.2, 8, 1.0, 1.0),
}
LINES = {
    "europe-230": (230.0, 50.0, 47.0, 600.0, 800.0),
    "north-america-120": (120.0, 60.0, 57.0, 400.0, 600.0),
}


def table(name: str, key: str) -> dict:
    return {row["id"]: row for row in tomllib.loads((DATA / name).read_text(encoding="utf-8"))[key]}


MAINS, RELAYS, LOADS = (
    table("mains.toml", "parts"),
    table("relays.toml", "parts"),
    table("loads.toml", "loads"),
)


def figure(text: str) -> float:
    number, unit = text.split(" ", 1)
    return float(number) * (
        PREFIX.get(unit[0], 1.0) if len(unit) > 1 and unit[0] in PREFIX else 1.0
    )


def drawn(seed: int):
    """A load on a line, with its currents by hand: typical, most, and at the start."""
    dice = random.Random(seed)
    region, kind = dice.choice(list(LINES)), dice.choice(list(KINDS))
    watts, ambient = (
        dice.choice([8, 15, 40, 60, 100, 150, 300, 450, 700, 1000, 1500, 2000, 2600]),
        dice.choice([20, 30, 45]),
    )
    volts, load = LINES[region][0], LOADS[kind]
    factor, tolerance = load.get("power_factor", 1.0), load["tolerance"]
    typical = watts / (volts * factor)
    # A converter keeps its power, so the lowest line draws most; everything else follows the
    # highest.
    most = typical * (1 + tolerance) * (1 / 0.9 if load["model"] == "constant_power" else 1.1)

    def build(stage):
        made = edited(
            bench(
                kind,
                f"{volts:g} V",
                f"{watts} W",
                rail=f"{volts:g} V",
                source="mains",
                stage=stage,
                board=EIGHT_BIT,
            ),
            ("set_conditions", {"region": region, "ambient": f"{ambient} °C"}),
        )
        return (
            evaluate(edited(made, ("add_rail", {"voltage": "5 V ±3 %", "rating": "4 A"})))
            .channels[0]
            .result
        )

    return region, kind, ambient, typical, most, load["surge"] * most, build


def near(value):
    return pytest.approx(value, rel=1e-6)


@pytest.mark.parametrize("stage", ["triac_coupler", "solid_relay"])
@pytest.mark.parametrize("seed", range(24))
def test_a_semiconductor_on_a_line(stage, seed):
    region, kind, ambient, typical, most, surge, build = drawn(seed)
    volts, frequency, slowest, plain, heavy = LINES[region]
    found = build(stage)
    part, held = MAINS[found.parts["switch"].id], {m.key: m for m in found.measures}
    assert held["switch_current"].worst == near(most) and held["switch_current"].stop == near(
        figure(part["i_rms"])
    )
    # The pulse rating holds for ten milliseconds, the continuous one from a second on, straight on
    # logarithms between.
    lasts, pulse, steady = (
        KINDS[kind][3],
        figure(part["i_surge"]),
        figure(part["i_rms"]) * math.sqrt(2),
    )
    decades = (math.log10(min(max(lasts, 0.01), 1.0)) + 2) / 2
    assert held["switch_surge"].worst == near(surge * math.sqrt(2)) and held[
        "switch_surge"
    ].stop == near(math.exp((1 - decades) * math.log(pulse) + decades * math.log(steady)))
    # It stands in a closed box, and nobody measured there.
    ambient, heat = max(ambient, 50), figure(part["drop"]) * most
    inside = figure(part["theta_jc"]) + figure(part["theta_cs"])
    sink = (figure(part["t_j_max"]) - 25 - ambient) / heat - inside
    bare = ambient + heat * figure(part["theta_ja"]) <= figure(part["t_j_max"]) - 25 and most <= 2
    assert found.power == near(heat) and found.output.sink == (near(sink) if sink > 0 else None)
    assert held["junction"].worst == near(
        ambient + heat * (figure(part["theta_ja"]) if bare or sink <= 0 else inside + sink)
    )
    assert held["class_switch"].stop == (heavy if LOADS[kind]["inductive"] else plain)
    leaks = figure(part["leakage"]) + (
        figure(MAINS[found.parts["driver"].id]["leakage"]) if stage == "triac_coupler" else 0.0
    )
    if LOADS[kind]["inductive"] and not part.get("snubberless"):
        farads = next((c for c in (10e-9, 22e-9, 47e-9) if c >= 100e-9 * most), 100e-9)
        leaks += volts / math.hypot(100, 1 / (2 * math.pi * frequency * farads))
    electronic = LOADS[kind]["model"] == "constant_power"
    assert held["leakage"].fix == (0.2e-3 if electronic else near(20 * leaks))
    assert held["leakage"].worst == near(leaks if electronic else typical)
    assert held["holding"].fix == near(figure(part["holding"])) and held["holding"].worst == near(
        typical
    )
    if stage == "triac_coupler":
        plain = kind in ("heater", "filament_lamp")
        load = volts / typical / (1 - LOADS[kind]["tolerance"]) if plain else 0.0
        fired_by_hand(found, part, held, volts, slowest, load)


def fired_by_hand(found, part, held, volts, slowest, load):
    """
    The gate's resistor between the driver's surge at the highest peak and what the lowest line has
    reached after half a millisecond; a plain resistance lies in the gate's path.
    """
    driver = MAINS[found.parts["driver"].id]
    reached = 0.9 * volts * math.sqrt(2) * math.sin(2 * math.pi * slowest * 0.5e-3)
    gate = figure(part["gate_current"]) + (
        figure(part["gate_volts"]) / (1000 if figure(part["gate_current"]) <= 0.01 else 330)
        if part.get("sensitive")
        else 0.0
    )
    fixed, peak = figure(part["gate_volts"]) + figure(driver["v_tm"]), 1.1 * volts * math.sqrt(2)
    least = peak / figure(driver["surge"]) / 0.95
    most = ((reached - fixed) / gate - load) / 1.05
    values = [
        m * 10.0**d
        for d in range(5)
        for m in (1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2)
    ]
    ohms = found.value("gate_resistor").value
    if fits := [v for v in values if least <= v <= most]:
        assert ohms == near(min(fits))
    assert held["fires"].worst == near(gate * (ohms * 1.05 + load) + fixed) and held[
        "fires"
    ].fix == near(reached)
    assert held["driver_surge"].worst == near(peak / (ohms * 0.95))


@pytest.mark.parametrize("seed", range(40))
def test_a_relays_contact_and_a_contactors_poles_on_a_line(seed):
    region, kind, _, _, most, _, build = drawn(seed)
    volts, (share, times, lasts, _) = LINES[region][0], KINDS[kind]
    relay = build("relay_contact")
    printed, held = RELAYS[relay.parts["relay"].id], {m.key: m for m in relay.measures}
    rating = figure(printed["contact_amperes"])
    making = (
        figure(printed["making"]) if "making" in printed else 2 * rating if lasts >= 0.008 else None
    )
    assert held["contact_current"].worst == near(most) and held["contact_current"].fix == near(
        share * rating
    )
    allowed = min(share * rating, making / times) if making else share * rating
    if making:
        assert held["contact_surge"].worst == near(times * most) and held[
            "contact_surge"
        ].stop == near(making)
    if most <= allowed:
        assert relay.contact.life == near(
            min(1e7, (1e5 if kind == "heater" else 5e4) * (most / allowed) ** -1.5)
        )
    found = build("contactor")
    poles, held = MAINS[found.parts["contactor"].id], {m.key: m for m in found.measures}
    assert held["main_current"].worst == near(most) and held["main_current"].fix == near(
        figure(poles["motors"]) if kind in MOTORS else share * figure(poles["heaters"])
    )
    assert held["main_coil"].worst == near(0.9 * volts) and held["main_coil"].fix == near(
        0.85 * figure(poles["coil"])
    )
    assert found.running == near(
        most + figure(poles["coil_current"]) * 1.15 * 1.1 * volts / figure(poles["coil"])
    )
