"""
Board profiles: the lines of a board under all their names, and what each does before the program
runs.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from latchcore.catalogue.fields import (
    Amperes,
    OhmSpread,
    Record,
    Seconds,
    Volts,
    VoltSpread,
    Words,
    ZeroVolts,
)


class Pin(BaseModel):
    """
    One line of a board under all its names; ``pull_up`` is whether the program can turn a pull-up
    on inside.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", arbitrary_types_allowed=True)
    id: Annotated[str, Field(pattern=r"^[A-Za-z0-9_+-]{1,12}$")]
    chip: Words
    header: Words
    can: list[Literal["out", "sink", "in", "pwm", "analogue", "interrupt"]]
    owner: Words | None = None
    reset: Literal["floating", "pull_up", "pull_down", "driven_high", "driven_low", "pulses"] = (
        "floating"
    )
    pull: OhmSpread | None = None
    start: Literal["high", "low"] | None = None
    group: Words | None = None
    timer: Words | None = None
    pull_up: Literal["inside", "none"] = "inside"


class Board(Record):
    """
    Board profile: levels and limits of its pins, and how each behaves before the program runs.

    ``group_limit`` is what all pins of one group may give together; pins of one ``timer`` pulse at
    one frequency.
    """

    family: Literal["board"]
    logic: VoltSpread
    voh_drop_noload: ZeroVolts
    voh_drop_rated: ZeroVolts
    rated_current: Amperes
    vol_noload: ZeroVolts
    vol_max: ZeroVolts
    pin_recommended: Amperes
    pin_absolute: Amperes
    total_recommended: Amperes
    total_absolute: Amperes
    group_limit: Amperes | None = None
    #: What a pin may sink where that is not what it may give.
    sink_recommended: Amperes | None = None
    leakage: Amperes
    injection_limit: Amperes
    internal_pull: OhmSpread | None = None
    over_supply: Volts
    #: Highest level an input surely reads as low, least it surely reads as high; shares of the
    #: supply stand in where the sheet is not at hand.
    reads_low: Volts | None = None
    reads_high: Volts | None = None
    feed: VoltSpread
    idle: Amperes
    peak: Amperes
    brown_out: Volts
    boot_time: Seconds
    upload_time: Seconds
    #: Which program text it can take.
    program: Literal["either", "cpp", "neither"] = "either"
    power_pins: dict[str, Amperes]
    pins: list[Pin]

    @property
    def voh_noload_min(self) -> float:
        """Low corner of the high level without load [V]."""
        return self.logic.min - self.voh_drop_noload

    @property
    def voh_rated_min(self) -> float:
        """Low corner of the high level at the rated current [V]."""
        return self.logic.min - self.voh_drop_rated

    @property
    def droop(self) -> float:
        """Fall of the high level with current [Ω]."""
        return (self.voh_drop_rated - self.voh_drop_noload) / self.rated_current

    @property
    def sink_droop(self) -> float:
        """Rise of the low level with current [Ω]."""
        return (self.vol_max - self.vol_noload) / self.rated_current

    def pin(self, name: str | None) -> Pin | None:
        """The pin of that name, or ``None``."""
        return next((pin for pin in self.pins if pin.id == name), None)
