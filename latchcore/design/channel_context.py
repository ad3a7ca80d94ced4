"""One channel with everything it hangs on: line, rail, load figures, limits."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from latchcore.catalogue.records import Board, Pin
from latchcore.document.models import Channel, Rail
from latchcore.figures import preferred
from latchcore.figures.quantity import parse, parse_any
from latchcore.figures.resistance import Resistor, read_resistor
from latchcore.figures.spread import Spread, parse_spread
from latchcore.figures.typed import Refusal
from latchcore.sums.loads import LoadFigures, load_figures
from latchcore.sums.mosfet import effective_duty


class Missing(Refusal):
    """Something a sum rests on that nobody has stated yet."""


#: Kinds of load that are sold for vehicles, and bear what those give.
VEHICLE_KINDS = ("filament_lamp", "relay_coil")


@dataclass
class ChannelContext:
    """One channel with what it hangs on."""

    around: Any
    channel: Channel

    @property
    def limits(self):
        """Thresholds of the catalogue."""
        return self.around.catalogue.limits

    @property
    def board(self) -> Board:
        """
        Levels and limits of its line: those of the board, or of the chain its line belongs to; a
        stage is not sized before there is a board.
        """
        if self.around.board is None:
            raise Missing("The build has no board yet; choose one first.")
        return self.around.giver(self.channel.pins)

    @cached_property
    def wire_drop(self) -> float:
        """Volts that stay in the wires of rail and load with everything on [V]."""
        if self.rail is None:
            return 0.0
        own = self.around.wire(self.channel).ohms
        shared = self.around.wire_drop(self.rail) + self.around.block_drop(self.channel)
        return shared + (own * self.load.current.max if own else 0.0)

    @cached_property
    def pin(self) -> Pin | None:
        """The pin, or ``None`` while none is chosen or the board has no such pin."""
        return self.around.line(self.channel.pin)

    @cached_property
    def rail(self) -> Rail | None:
        """The load's rail."""
        return self.around.build.rail(self.channel.rail)

    @cached_property
    def feed(self) -> Rail:
        """The load's rail, where it must have one."""
        if self.rail is None:
            raise Missing(f"{self.channel.name} hangs on no rail yet; say which feeds it.")
        return self.rail

    @cached_property
    def volts(self) -> Spread:
        """Voltage of the load's rail, where it must have one."""
        return self.around.rail_volts(self.feed)

    @property
    def enclosed(self) -> float:
        """
        Highest ambient of a stage [°C]: on a line it stands in a closed box, hotter than the room
        unless that was measured.
        """
        inside = self.around.build.inside
        if inside:
            return parse(inside, "°C", signed=True)
        hot = self.limits["enclosed_ambient"]
        return max(self.around.ambient, hot) if self.dangerous else self.around.ambient

    @cached_property
    def alternating(self) -> bool:
        """Whether the load's rail carries alternating current."""
        return self.around.alternating(self.rail)

    @cached_property
    def dangerous(self) -> bool:
        """Whether the load's rail is a hazardous domain."""
        return self.around.hazardous(self.rail)

    @property
    def rail_is_boards(self) -> bool:
        """Whether the load hangs on a pin of the board itself: one net with its supply."""
        return bool(self.rail and self.rail.source == "board_pin")

    @property
    def rail_dies_with_board(self) -> bool:
        """Whether the load's rail is dead whenever the board is."""
        return self.around.dies_with_board(self.rail)

    @cached_property
    def load(self) -> LoadFigures:
        """The load with every default filled in."""
        load = self.channel.load
        kind = self.around.catalogue.loads[load.kind]
        rated = parse_spread(load.voltage, ("V",))[0].typ
        figure, unit, _ = parse_spread(load.figure, ("A", "W", "Ω"), kind.tolerance, kind.tolerance)
        given = {
            "inductance": load.inductance and parse(load.inductance, "H"),
            "surge": load.surge and parse(load.surge, "A"),
            "surge_time": load.surge_time and parse(load.surge_time, "s"),
            "hazards": load.hazards,
            "power_factor": kind.power_factor if self.alternating else 1.0,
            "count": load.count,
        } | {
            name: self._level(getattr(load, name), rated)
            for name in ("pull_in", "maximum", "release")
        }
        if self._made_for_vehicles(kind, rated) and given["maximum"] is None:
            given["maximum"] = self.limits["vehicle_volts"]
        own = load_figures(kind, rated, figure, unit, given, self.limits["led_strip_share"])
        rails = self.around.ahead(self.channel)
        own = self._with_rails(own, rails, given) if rails else own
        return self._behind_resistor(own)

    def _behind_resistor(self, own: LoadFigures) -> LoadFigures:
        """A winding with the resistor its stage puts before it: more ohms, the same current."""
        text = self.channel.stage.settings.get("series")
        if not text or text in ("auto", "none") or own.kind.model != "four_coils":
            return own
        more = parse(text, "Ω")
        ohms = Spread(
            *(x + more for x in (own.resistance.min, own.resistance.typ, own.resistance.max))
        )
        return replace(own, resistance=ohms, rated=own.current.typ * ohms.typ)

    def _made_for_vehicles(self, kind, rated: float) -> bool:
        """A lamp or coil of twelve volts on a vehicle's supply is one that is sold for it."""
        on_it = self.rail is not None and self.rail.source == "vehicle"
        return on_it and kind.id in VEHICLE_KINDS and 12.0 <= rated <= 14.0

    def _with_rails(self, own: LoadFigures, rails: list[Rail], given: dict) -> LoadFigures:
        """What turns rails on carries all of them, and makes their largest surge."""
        total = sum(self.around.feeds(r) for r in rails)
        if total <= own.current.max:
            return own
        more, lasts = self.around.largest_surge(rails)
        if more > 0:
            given = given | {"surge": total + more, "surge_time": lasts}
        share = self.limits["led_strip_share"]
        return load_figures(own.kind, own.rated, Spread.of(total), "A", given, share)

    @staticmethod
    def _level(text: str | None, rated: float) -> float | None:
        if text is None:
            return None
        value, unit = parse_any(text, ("V", "%"))
        return value if unit == "V" else value / 100 * rated

    @property
    def coupler_volts(self) -> float:
        """Highest voltage a coupler's transistor stands against when it is off [V]."""
        if self.load.kind.model in ("logic", "pair", "analogue") or self.rail is None:
            return self.load.rated * 1.1
        return self.volts.max

    @property
    def hazardous(self) -> bool:
        """Whether the load is on the hazard list, its rail included."""
        return bool(self.load.hazards) or self.dangerous

    @property
    def tolerance(self) -> float:
        """Tolerance of the resistors."""
        return preferred.TOLERANCE[self.around.build.series]

    @property
    def series(self) -> str:
        """Preferred series of the build."""
        return self.around.build.series

    @property
    def frequency(self) -> float | None:
        """PWM frequency [Hz]."""
        return parse(self.channel.pwm, "Hz") if self.channel.pwm else None

    @property
    def release_within(self) -> float | None:
        """Longest time the job allows the coil to let go in [s]."""
        return parse(self.channel.release_within, "s") if self.channel.release_within else None

    @property
    def heat_duty(self) -> float:
        """Share of time that counts for heat: 1 unless pulsed far faster than a case warms."""
        duty = parse(self.channel.duty, "%") / 100 if self.channel.duty else 1.0
        on_time = duty / self.frequency if self.frequency else float("inf")
        return effective_duty(duty, on_time, self.limits["continuous_over"])

    @property
    def duty(self) -> float:
        """Share of a period the load is on, or of the time where it is not pulsed."""
        return parse(self.channel.duty, "%") / 100 if self.channel.duty else 1.0

    @property
    def time_on(self) -> float:
        """Share of all time the load is on, pulses and pauses together, for typical sums."""
        used = parse(self.channel.on_share, "%") / 100 if self.channel.on_share else 1.0
        return self.duty * used

    @property
    def ended_in_hardware(self) -> bool:
        """Whether something besides the program ends a pulse."""
        stated = bool(self.channel.load.cut_off)
        return stated or self.channel.stage.settings.get("one_shot") == "fitted"

    @property
    def least_volts(self) -> float:
        """Volts a load wants at least [V]: as stated, else as its kind does."""
        stated = self.channel.load.least_volts
        return parse(stated, "V") if stated else self.load.kind.accept_min * self.load.rated

    def setting(self, key: str) -> str | None:
        """What the user fixed of the stage, or ``None`` where it is to be sized."""
        value = self.channel.stage.settings.get(key)
        return value if value not in (None, "", "auto") else None

    def given(self, key: str, unit: str) -> float | None:
        """A quantity the user fixed, in SI units; ``None`` where none is."""
        text = self.setting(key)
        return None if text is None else parse(text, unit)

    def fixed_rail(self, key: str) -> Rail | None:
        """A rail the user fixed for a part of the stage."""
        return self.around.build.rail(self.setting(key))

    def ohms(self, key: str) -> Resistor | None:
        """A resistor the user fixed; ``None`` where sized or left out."""
        value = self.setting(key)
        return None if value in (None, "none") else read_resistor(value, self.tolerance)

    def resistor(self, value: float) -> Resistor:
        """A resistor of the series the build uses."""
        return value if isinstance(value, Resistor) else Resistor(value, self.tolerance)

    def in_stock(self, window) -> float | None:
        """
        The stocked value nearest the middle of a window, where stock is preferred and one satisfies
        every corner [Ω].
        """
        stock = self.around.catalogue.stock
        if not self.around.build.prefer_stock or stock is None or window.nominal_max is None:
            return None
        fits = [
            v
            for v in stock.resistors
            if window.nominal_min <= v <= window.nominal_max and not window.failing(v)
        ]
        middle = math.sqrt(max(window.nominal_min, 0.1) * min(window.nominal_max, 10e6))
        return min(fits, key=lambda v: abs(math.log(v / middle)), default=None)

    def left_out(self, key: str) -> bool:
        """Whether the user left a part out on purpose."""
        return self.setting(key) == "none"

    @property
    def missing(self) -> list[str]:
        """What must be said before anything can be computed."""
        absent = []
        if self.around.board is None:
            absent.append("board")
        if self.rail is None:
            absent.append("rail")
        return absent
