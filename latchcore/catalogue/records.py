"""Typed records of parts, loads and regions, read from text with units."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from latchcore.catalogue.barriers import Tested
from latchcore.catalogue.boards import Board, Pin
from latchcore.catalogue.fields import (
    Amperes,
    Gain,
    Key,
    Millimetres,
    Ohms,
    OhmSpread,
    Plain,
    Record,
    Seconds,
    Share,
    TestVolts,
    Volts,
    VoltSpread,
    Watts,
    Words,
)

__all__ = ["Board", "Pin", "Record"]


class Coupler(Tested, Record):
    """Optocoupler with transistor or Darlington output; the transfer ratio holds at ``ctr_at``."""

    rising = (("ctr_min", "ctr_max"), ("ctr_at", "i_f_max"))
    family: Literal["coupler"]
    v_f: VoltSpread
    i_f_max: Amperes
    ctr_at: Amperes
    ctr_min: Gain
    ctr_max: Gain
    v_ceo: Volts
    i_c: Amperes
    v_ce_sat: VoltSpread
    dark: Amperes
    t_on: Seconds
    t_off: Seconds
    test_voltage: TestVolts
    creepage: Millimetres | None = None
    barrier: Literal["functional", "basic", "reinforced"]


class Photovoltaic(Tested, Record):
    """Photovoltaic coupler: a few volts at tens of microamperes, at the LED current given."""

    rising = (("v_oc_min", "v_oc_max"),)
    family: Literal["pv_coupler"]
    v_f: VoltSpread
    i_f: Amperes
    v_oc_min: Volts
    v_oc_max: Volts
    i_sc_min: Amperes
    discharges: bool
    test_voltage: TestVolts
    creepage: Millimetres | None = None
    barrier: Literal["functional", "basic", "reinforced"]


class Reed(Tested, Record):
    """Reed relay: small coil, small contact."""

    family: Literal["reed"]
    coil: Volts
    coil_resistance: Ohms
    pull_in: Share
    contact_volts: Volts
    contact_amperes: Amperes
    contact_product: Watts
    operate: Seconds
    test_voltage: TestVolts
    creepage: Millimetres | None = None
    barrier: Literal["functional", "basic", "reinforced"]


class AnalogueSwitch(Record):
    """Analogue switch: joins two lines within its own supply, no barrier."""

    family: Literal["analogue_switch"]
    supply: VoltSpread
    r_on: Ohms
    i_max: Amperes
    v_ih: Volts
    t_on: Seconds


class DigitalPot(Record):
    """Digital potentiometer behind an isolator."""

    family: Literal["digital_pot"]
    resistance: OhmSpread
    wiper: Ohms
    steps: Annotated[int, Field(ge=2, le=100_000)]
    v_max: Volts
    i_max: Amperes


class Supply(Record):
    """A supply of one's own."""

    family: Literal["supply"]
    voltage: VoltSpread
    rating: Amperes


class OwnLoad(Record):
    """A load of one's own, ready to become a channel."""

    family: Literal["load"]
    kind: Key
    voltage: Volts
    figure: Words


#: Which printed figure of a contact counts for which kind of duty.
PRINTED_FOR = {
    "filament_lamp": "for_lamps",
    "switch_mode_or_led_lamp": "for_electronics",
    "transformer": "for_transformers",
    "dc_coil_clamped": "for_coils",
    "mains_coil": "for_coils",
    "dc_motor": "for_motors",
    "brush_motor": "for_motors",
    "induction_motor": "for_motors",
}


class Relay(Tested, Record):
    """
    A relay: its coil, and its contact with what is printed on it.

    ``form`` is A (make), B (break) or C (changeover); ``dc_good_to`` the highest direct voltage of
    a contact rated for
    less than 30 V; ``cheap_board`` says that tracks and terminals cap the current. ``kind`` reed
    welds on surges and is
    limited by the ``product`` of volts and amperes too. ``operate``, ``bounce`` and ``drop_out``
    are its times;
    ``for_…`` what is printed for a kind of load at its own volts, ``tracks`` what tracks and
    terminals of its board carry, ``life`` operations printed for its resistive rating;
    ``test_voltage`` what contact and coil bear between them for a minute, ``creepage`` the way
    along the surface from one to the other, ``neighbour`` from one contact to the next [mm].
    """

    rising = (("pull_in", "maximum"),)
    family: Literal["relay", "module"]
    coil: Volts
    coil_resistance: OhmSpread
    pull_in: Share = 0.75
    maximum: Share = 1.10
    contact_volts: Volts
    contact_amperes: Amperes
    making: Amperes | None = None
    for_lamps: Amperes | None = None
    for_electronics: Amperes | None = None
    for_transformers: Amperes | None = None
    for_coils: Amperes | None = None
    for_motors: Amperes | None = None
    tracks: Amperes | None = None
    life: Plain | None = None
    wetting_volts: Volts = 5.0
    wetting_amperes: Amperes = 0.1
    dc_good_to: Volts | None = None
    form: Literal["A", "B", "C"] = "C"
    cheap_board: bool = False
    barrier: Literal["functional", "basic", "reinforced"] = "basic"
    kind: Literal["armature", "reed"] = "armature"
    poles: Annotated[int, Field(ge=1, le=8)] = 1
    product: Watts | None = None
    operate: Seconds = 0.01
    bounce: Seconds = 0.005
    drop_out: Seconds = 0.005
    test_voltage: TestVolts | None = None
    creepage: Millimetres | None = None
    neighbour: Millimetres | None = None

    def printed_for(self, duty: str) -> float | None:
        """
        What is printed for a kind of duty [A], or ``None`` where only the resistive rating is.
        """
        return getattr(self, PRINTED_FOR[duty]) if duty in PRINTED_FOR else None


class Module(Relay):
    """
    A relay module: a relay a channel with its driver, behind an input of its own.

    ``input`` is ``coupler`` (supply, resistor, coupler LED and an indicator LED in series, then the
    input pin) or
    ``transistor`` (the input pin, a resistor, a base); ``supply`` is what its input side is meant
    for, ``separate`` whether
    a jumper parts the coils' supply from the inputs'. ``active`` jumper: either level, as a jumper
    stands. ``regulator``
    is what an on-board regulator gives and ``regulator_feeds`` what hangs on it; ``driver_drop``
    what the coil's transistor keeps; ``header`` and
    ``terminals`` are the order
    of the pins as printed, ``driver`` and ``rails`` what was seen on it. ``output`` is a contact,
    or a solid-state switch for direct current (``dc``) or for alternating
    current (``ac_zero`` turning on at the zero, ``ac_random`` at once), with its drop, leakage and
    least holding current.
    """

    family: Literal["module"]
    supply: Volts
    channels: Annotated[int, Field(ge=1, le=32)]
    input: Literal["coupler", "transistor"]
    active: Literal["low", "high", "jumper", "unknown"]
    input_resistor: OhmSpread
    led: VoltSpread
    indicator: VoltSpread | None = None
    transfer_max: Gain = 3.0
    off_current: Amperes = 5e-5
    on_current: Amperes = 2e-3
    separate: bool = True
    regulator: VoltSpread | None = None
    regulator_feeds: Literal["inputs", "coils"] | None = None
    regulator_drop: Volts = 2.0
    driver_drop: VoltSpread | None = None
    header: Words = ""
    driver: Words = ""
    rails: Words = ""
    terminals: Words = ""
    output: Literal["contact", "dc", "ac_zero", "ac_random"] = "contact"
    out_drop: Volts | None = None
    out_leakage: Amperes | None = None
    out_holding: Amperes | None = None


class Load(Record):
    """What a kind of load brings with it while nothing was measured."""

    model: Literal[
        "ohmic",
        "led_string",
        "constant_power",
        "led",
        "led_array",
        "logic",
        "pair",
        "analogue",
        "signal",
        "piezo",
        "analogue_in",
        "reversing",
        "servo",
        "two_coils",
        "two_way_coil",
        "four_coils",
        "two_windings",
        "panel",
        "pixels",
    ]
    symbol: Literal[
        "coil",
        "lamp",
        "strip",
        "led",
        "heater",
        "motor",
        "input",
        "pair",
        "knob",
        "signal",
        "sounder",
        "servo",
    ]
    inductive: bool
    tolerance: float
    surge: float
    surge_time: Seconds | None = None
    accept_min: float
    accept_max: float
    current: Literal["dc", "ac", "either"] = "dc"
    power_factor: float = 1.0
    duty: Words | None = None
    pull_in: float | None = None
    release: float | None = None
    time_constant: Seconds | None = None
    hazard: str | None = None
    dims: Literal["yes", "marked", "no"] = "no"
    least_off: Seconds | None = None
    #: Whether it acts on a square wave only; whether something must empty it again.
    wave: bool = False
    bleed: bool = False
    example: Words
    help: Annotated[str, Field(max_length=400)]


class Source(Record):
    """A kind of supply with the tolerance that goes with it."""

    family: Literal["source"]
    minus: float
    plus: float
    note: Words
    current: Literal["dc", "ac"] = "dc"
    hazardous: bool = False


class Region(Record):
    """
    Mains voltage, colours and customs of a part of the world; old installations differ, measure.

    ``fuses`` are the sizes sold there, the least first [A]; ``fuse_share`` how far one is loaded
    for good, ``plug`` whether every plug there fits one way only, ``lives`` how many of its line's
    conductors are live.
    """

    family: Literal["region"]
    mains: VoltSpread
    frequency: float
    live: Words
    neutral: Words
    earth: Words
    residual_current: Words
    caution: Words
    flex: Literal["metric", "gauge"] = "metric"
    lives: Literal["one", "two"] = "one"
    fuses: Annotated[tuple[Amperes, ...], Field(min_length=1)]
    fuse_share: Share = 0.8
    plug: Literal["unknown", "polarised"] = "unknown"
