"""
Records of parts that switch alternating current: triacs, their drivers, solid-state devices,
contactors.
"""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from latchcore.catalogue.barriers import Tested
from latchcore.catalogue.fields import (
    Amperes,
    Celsius,
    Kelvins_per_watt,
    Millimetres,
    OhmSpread,
    Plain,
    Record,
    Seconds,
    TestVolts,
    Volts,
    VoltSpread,
    Words,
)


class AcSwitch(Record):
    """
    What every solid-state switch of alternating current is held against.

    ``v_drm`` repetitive off-state voltage, ``i_surge`` what it bears for one half-cycle, ``i2t``
    its let-through [A²·s],
    ``drop`` the highest on-state voltage, ``leakage`` when off and hot, ``holding`` the least
    current that keeps it on.
    """

    v_drm: Volts
    i_rms: Amperes
    i_surge: Amperes
    i2t: Plain
    drop: Volts
    leakage: Amperes
    holding: Amperes
    theta_jc: Kelvins_per_watt
    theta_cs: Kelvins_per_watt
    theta_ja: Kelvins_per_watt
    t_j_max: Celsius


class Triac(AcSwitch):
    """
    Triac class; ``gate_current`` holds for the coldest junction, ``latching`` is what it must have
    reached when the gate is let go (twice its holding current where it is not printed),
    ``snubberless`` bears inductive loads without a snubber.
    """

    family: Literal["triac"]
    gate_current: Amperes
    gate_volts: Volts
    latching: Amperes | None = None
    snubberless: bool = False
    sensitive: bool = False


class TriacDriver(Tested, Record):
    """
    Coupler with a small triac inside: fires its big brother at the zero or at any moment; ``surge``
    once a half-cycle.
    """

    family: Literal["triac_driver"]
    control: Literal["zero", "random"]
    v_drm: Volts
    v_f: VoltSpread
    i_ft: Amperes
    i_f_max: Amperes
    surge: Amperes
    v_tm: Volts
    leakage: Amperes
    test_voltage: TestVolts | None = None
    creepage: Millimetres | None = None
    barrier: Literal["functional", "basic", "reinforced"] = "basic"


class SolidRelay(Tested, AcSwitch):
    """Solid-state device in one block, on a heat sink; its input takes direct current."""

    family: Literal["solid_relay"]
    output: Literal["ac_zero", "ac_random"]
    input_min: Volts
    input_max: Volts
    input_current: Amperes
    test_voltage: TestVolts | None = None
    creepage: Millimetres | None = None
    barrier: Literal["functional", "basic", "reinforced"] = "reinforced"


class SolidDirect(Tested, Record):
    """
    Solid-state device for direct current in one block: a MOSFET behind a barrier.

    ``v_max`` bears its open output, ``i_surge`` a tenth of a second; ``drop`` at its full current.
    """

    rising = (("i_max", "i_surge"), ("input_min", "input_max"))
    family: Literal["solid_direct"]
    v_max: Volts
    i_max: Amperes
    i_surge: Amperes
    drop: Volts
    leakage: Amperes
    t_on: Seconds
    t_off: Seconds
    theta_jc: Kelvins_per_watt
    theta_cs: Kelvins_per_watt
    theta_ja: Kelvins_per_watt
    t_j_max: Celsius
    input_min: Volts
    input_max: Volts
    input_current: Amperes
    test_voltage: TestVolts | None = None
    creepage: Millimetres | None = None
    barrier: Literal["functional", "basic", "reinforced"] = "basic"


class Packaged(Tested, Record):
    """
    A packaged switching unit with an approval of its own: closed, an inlet and outlets, switched
    by a low-voltage input or over a network.

    ``resistive``, ``motors``, ``lamps`` are printed [A] at ``volts``; ``approval`` the mark on it
    as read; ``network`` whether it listens to one.
    """

    rising = (("input_min", "input_max"),)
    family: Literal["packaged"]
    volts: Volts
    resistive: Amperes
    motors: Amperes | None = None
    lamps: Amperes | None = None
    making: Amperes | None = None
    input_min: Volts
    input_max: Volts
    input_current: Amperes
    poles: Annotated[int, Field(ge=1, le=2)] = 1
    approval: Words = ""
    network: bool = False
    test_voltage: TestVolts | None = None
    creepage: Millimetres | None = None
    barrier: Literal["functional", "basic", "reinforced"] = "reinforced"

    #: What a contact is held against besides what is printed on the unit: nothing it states.
    cheap_board: ClassVar[bool] = False
    tracks: ClassVar[float | None] = None
    life: ClassVar[float | None] = None
    dc_good_to: ClassVar[float | None] = None
    product: ClassVar[float | None] = None
    wetting_volts: ClassVar[float] = 5.0
    wetting_amperes: ClassVar[float] = 0.1

    @property
    def contact_volts(self) -> float:
        """Printed volts [V]."""
        return self.volts

    @property
    def contact_amperes(self) -> float:
        """Printed current for resistive loads [A]."""
        return self.resistive

    def printed_for(self, duty: str) -> float | None:
        """What is printed for a kind of duty [A], or ``None`` where nothing is."""
        if duty.endswith("_motor"):
            return self.motors
        return self.lamps if duty in ("filament_lamp", "switch_mode_or_led_lamp") else None


class Contactor(Record):
    """
    Contactor: a coil for the line's voltage, main poles for resistive (``heaters``) and motor
    current.
    """

    family: Literal["contactor"]
    coil: Volts
    coil_current: Amperes
    coil_surge: Plain
    coil_resistance: OhmSpread | None = None
    poles: Annotated[int, Field(ge=1, le=4)]
    volts: Volts
    heaters: Amperes
    motors: Amperes
