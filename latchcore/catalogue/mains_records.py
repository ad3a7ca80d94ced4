"""
Records of parts that switch alternating current: triacs, their drivers, solid-state devices,
contactors.
"""

from __future__ import annotations

from typing import Annotated, Literal

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
    TestVolts,
    Volts,
    VoltSpread,
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
