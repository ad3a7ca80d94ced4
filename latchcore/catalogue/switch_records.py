"""Records of semiconductor switches, diodes and arrays."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from latchcore.catalogue.fields import (
    Amperes,
    Celsius,
    Coulombs,
    Farads,
    Gain,
    Kelvins_per_watt,
    Ohms,
    OhmSpread,
    Record,
    Seconds,
    Volts,
    VoltSpread,
    Watts,
)


class Bipolar(Record):
    """
    Bipolar transistor class, single or Darlington; voltages of a PNP are magnitudes.

    ``base_emitter`` is a resistor inside the package, least value.
    """

    curves = (("gain_at", "gain_min"),)
    rising = (("i_c", "i_c_pulse"),)
    family: Literal["npn", "pnp", "npn_darlington", "pnp_darlington"]
    v_ceo: Volts
    i_c: Amperes
    i_c_pulse: Amperes
    pulse_time: Seconds | None = None
    gain_at: list[Amperes]
    gain_min: list[Gain]
    v_be: VoltSpread
    v_ce_sat: VoltSpread
    t_on: Seconds
    t_off: Seconds
    base_emitter: Ohms | None = None
    theta_ja: Kelvins_per_watt
    t_j_max: Celsius

    @property
    def darlington(self) -> bool:
        """Whether it is two transistors in one."""
        return self.family.endswith("darlington")

    def gain(self, current: float) -> float:
        """
        Least gain at a collector current, coldest; on logarithms between the given points, held
        outside them.
        """
        return float(
            np.exp(
                np.interp(np.log(max(current, 1e-9)), np.log(self.gain_at), np.log(self.gain_min))
            )
        )


class Mosfet(Record):
    """
    MOSFET class; ``r_on`` holds for the gate voltage at the same place in ``r_on_at``, a
    P-channel's as magnitudes.
    """

    curves = (("r_on_at", "r_on"),)
    rising = (("i_d", "i_d_pulse"),)
    family: Literal["nmos", "pmos"]
    v_ds: Volts
    v_gs_max: Volts
    i_d: Amperes
    i_d_pulse: Amperes
    pulse_time: Seconds | None = None
    v_gs_th: VoltSpread
    v_plateau: VoltSpread
    r_on_at: list[Volts]
    r_on: list[Ohms]
    q_gd: Coulombs
    c_iss: Farads
    theta_ja: Kelvins_per_watt
    t_j_max: Celsius

    @property
    def on_voltage(self) -> float:
        """Lowest gate voltage at which the on-resistance is specified [V]."""
        return min(self.r_on_at)

    def on_resistance(self, gate_voltage: float) -> float | None:
        """
        Highest on-resistance at 25 °C specified at or under a gate voltage [Ω]; ``None`` below all
        of them.
        """
        rows = [r for v, r in zip(self.r_on_at, self.r_on, strict=True) if v <= gate_voltage]
        return min(rows) if rows else None


class Diode(Record):
    """Diode class used as a clamp."""

    rising = (("i_f", "i_peak"),)
    family: Literal["diode"]
    v_r: Volts
    i_f: Amperes
    i_peak: Amperes
    v_f: VoltSpread
    fast: bool


class Zener(Record):
    """
    Zener or suppressor used in a clamp; a suppressor's ``v_z`` runs from least breakdown to its
    clamping voltage.
    """

    family: Literal["zener", "suppressor"]
    v_z: VoltSpread
    power: Watts
    i_peak: Amperes


class Igbt(Record):
    """IGBT class; ``v_ge`` is the gate voltage its saturation voltage is specified at."""

    rising = (("i_c", "i_c_pulse"), ("v_ge", "v_ge_max"))
    family: Literal["igbt"]
    v_ces: Volts
    v_ge: Volts
    v_ge_max: Volts
    v_ge_th: VoltSpread
    i_c: Amperes
    i_c_pulse: Amperes
    pulse_time: Seconds | None = None
    v_ce_sat: VoltSpread
    q_g: Coulombs
    theta_ja: Kelvins_per_watt
    t_j_max: Celsius


class BridgeChip(Record):
    """
    Bridge for one motor in one package, its diodes inside.

    ``drop_*`` are volts both closed switches keep together at a current. ``at_both``, ``at_none``
    are what the motor does with both direction inputs high, and low; ``enable`` whether a third
    input lets go of both ends while low. ``open_reads`` is what an input takes for itself with
    nothing on it. Without ``logic`` it feeds its own inputs from the motor's supply.
    """

    curves = (("drop_at", "drop_max", "drop_typ"),)
    family: Literal["bridge_chip"]
    v_supply_min: Volts
    v_supply_max: Volts
    i_max: Amperes
    i_peak: Amperes
    drop_at: list[Amperes]
    drop_max: list[Volts]
    drop_typ: list[Volts]
    at_both: Literal["brake", "coast", "unnamed"]
    at_none: Literal["brake", "coast"]
    enable: bool = False
    reads_low: Volts
    reads_high: Volts
    input_current: Amperes
    open_reads: Literal["low", "high", "unknown"] = "unknown"
    logic: VoltSpread | None = None
    t_on: Seconds
    t_off: Seconds
    theta_ja: Kelvins_per_watt
    t_j_max: Celsius

    def drop(self, current: float, worst: bool = True) -> float:
        """
        Volts both closed switches keep at a current [V]: straight between the given points, the
        first's below them, on along the last two above.

        Examples
        --------
        >>> from latchcore.catalogue import load_catalogue
        >>> chip = load_catalogue().parts["bridge-mosfet-10v-1a5"]
        >>> round(chip.drop(1.0), 2), round(chip.drop(3.0), 2)
        (0.9, 2.7)
        """
        volts = self.drop_max if worst else self.drop_typ
        if current > self.drop_at[-1] and len(self.drop_at) > 1:
            steep = (volts[-1] - volts[-2]) / (self.drop_at[-1] - self.drop_at[-2])
            return volts[-1] + steep * (current - self.drop_at[-1])
        return float(np.interp(current, self.drop_at, volts))


class Array(Record):
    """
    Darlington array: eight low-side channels in one package, each with its input resistor and a
    common diode pin.
    """

    curves = (("input_at", "output_at"), ("drop_at", "drop_max", "drop_typ"))
    family: Literal["array"]
    channels: Annotated[int, Field(ge=1, le=32)]
    v_ce: Volts
    i_c: Amperes
    input_resistor: OhmSpread
    v_in: VoltSpread
    input_at: list[Volts]
    output_at: list[Amperes]
    drop_at: list[Amperes]
    drop_max: list[Volts]
    drop_typ: list[Volts]
    v_f: VoltSpread
    t_on: Seconds
    t_off: Seconds
    theta_ja: Kelvins_per_watt
    t_j_max: Celsius

    def guaranteed(self, level: float) -> float:
        """
        Output current guaranteed at an input level [A]; 0 below the lowest one that is specified.
        """
        rows = [i for v, i in zip(self.input_at, self.output_at, strict=True) if v <= level]
        return max(rows, default=0.0)

    def drop(self, current: float, worst: bool = True) -> float:
        """Drop of a channel at a current [V], straight between the given points."""
        return float(np.interp(current, self.drop_at, self.drop_max if worst else self.drop_typ))
