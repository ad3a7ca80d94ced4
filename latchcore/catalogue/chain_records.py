"""Records of what gives lines beside the board's: registers, expanders, drivers on a bus."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from latchcore.catalogue.fields import (
    Amperes,
    Celsius,
    Hertz,
    Joules,
    Kelvins_per_watt,
    Ohms,
    OhmSpread,
    Record,
    Seconds,
    Volts,
    VoltSpread,
    ZeroVolts,
)

#: Lines each kind of bus wants of the board, by role.
BUS_ROLES = {"shift": ("data", "clock", "latch"), "two_wire": ("data", "clock")}


class ChainPart(Record):
    """
    A package whose outputs are told by a few lines: a latched shift register, a port expander, a
    pulse driver.

    ``drives`` is what an output can do, ``gives`` and ``takes`` what it may source and sink [A]
    with ``high_drop`` under the supply and ``low_level`` over 0 V at that current, ``package`` what
    all of them may carry together. Levels of its inputs are volts, or shares of its supply where
    none are stated; ``bears`` is how far over its supply they may stand. ``release`` names the line
    that lets go of every output, at ``release_at``; ``at_power_on`` is what they do before they are
    loaded. An open-drain power output has ``r_on`` hot, ``single`` and ``together`` a line, its
    clamp and the energy that may enter it once.
    """

    family: Literal["chain"]
    bus: Literal["shift", "two_wire"]
    outputs: Annotated[int, Field(ge=4, le=32)]
    drives: Literal["both", "sinks"]
    supply: VoltSpread
    reads_low: Volts | None = None
    reads_high: Volts | None = None
    bears: ZeroVolts
    gives: Amperes | None = None
    high_drop: ZeroVolts
    takes: Amperes
    low_level: ZeroVolts
    absolute: Amperes
    package: Amperes
    leakage: Amperes
    injection: Amperes
    idle: Amperes
    at_power_on: Literal["undefined", "inputs", "low"]
    weak_pull: OhmSpread | None = None
    release: Literal["enable", "reset", "none"]
    release_at: Literal["high", "low"] = "high"
    clock_most: Hertz
    pulse_from: Hertz | None = None
    pulse_to: Hertz | None = None
    steps: Annotated[int, Field(ge=16, le=65536)] | None = None
    r_on: Ohms | None = None
    single: Amperes | None = None
    together: Amperes | None = None
    clamp: VoltSpread | None = None
    clamp_energy: Joules | None = None
    theta_ja: Kelvins_per_watt
    t_j_max: Celsius
    t_on: Seconds
    t_off: Seconds

    @property
    def roles(self) -> tuple[str, ...]:
        """Lines it wants of the board, without the one that releases it."""
        return BUS_ROLES[self.bus]


class StepDriver(Record):
    """
    Chip that sets a stepper's current by a reference and sense resistors: I = V_ref/(gain·R).

    ``bare`` and ``sunk`` are what it bears a winding without and with a heat sink [A], ``r_on`` of
    one of its switches hot; its enable lets go while high.
    """

    rising = (("bare", "sunk"), ("v_supply_min", "v_supply_max"), ("reads_low", "reads_high"))
    family: Literal["step_driver"]
    v_supply_min: Volts
    v_supply_max: Volts
    gain: Annotated[float, Field(gt=0, le=100, allow_inf_nan=False)]
    bare: Amperes
    sunk: Amperes
    r_on: Ohms
    reads_low: Volts
    reads_high: Volts
    input_current: Amperes

    def limit(self, sink: bool) -> float:
        """
        What it bears a winding [A].

        Examples
        --------
        >>> from latchcore.catalogue import load_catalogue
        >>> load_catalogue().parts["step-driver-35v-1a"].limit(True)
        1.6
        """
        return self.sunk if sink else self.bare


class LineDriver(Record):
    """
    Half-bridges for the rows and columns of a panel, two control inputs a line: high, low, off.

    ``lines`` in a package, ``peak`` what each bears in pulses [A], ``upper`` and ``lower`` what its
    two switches keep at that current [V]; ``at_both`` what both inputs of a line high at once do.
    """

    rising = (("v_supply_min", "v_supply_max"), ("reads_low", "reads_high"))
    family: Literal["line_driver"]
    lines: Annotated[int, Field(ge=1, le=16)]
    v_supply_min: Volts
    v_supply_max: Volts
    peak: Amperes
    upper: Volts
    lower: Volts
    at_both: Literal["shorts", "off"]
    reads_low: Volts
    reads_high: Volts
    input_current: Amperes
    theta_ja: Kelvins_per_watt
    t_j_max: Celsius
