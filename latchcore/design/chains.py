"""A chain with what it hangs on: its levels as a board's would be, its outputs as pins of one."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from latchcore.catalogue.boards import Board, Pin
from latchcore.catalogue.chain_records import ChainPart
from latchcore.document.chains import Chain
from latchcore.figures import preferred
from latchcore.figures.quantity import parse
from latchcore.figures.spread import Spread

#: What holds an enable released where nothing else is said [Ω].
USUAL_PULL = 10e3
#: Shares of its own supply an input reads as low and as high where a part states no volts.
READS_LOW, READS_HIGH = 0.3, 0.7
#: What the protection of an unpowered pin holds a line at [V].
DEAD_PIN = 0.6
#: What its outputs do before the program reaches them: with the release held, and without it.
RESET = {"undefined": "floating", "inputs": "pull_up", "low": "driven_low"}


@dataclass
class ChainContext:
    """One chain of a build."""

    around: Any
    chain: Chain

    @property
    def id(self) -> str:
        """Its id, which its lines are named after."""
        return self.chain.id

    @cached_property
    def part(self) -> ChainPart:
        """Its kind of package; the first class where the stated one is no chain."""
        found = self.around.part(self.chain.part)
        return found if isinstance(found, ChainPart) else self.around.family("chain")[0]

    @property
    def outputs(self) -> int:
        """Outputs of all packages."""
        return self.part.outputs * self.chain.count

    @property
    def numbers(self) -> range:
        """Numbers its outputs go by."""
        return range(self.chain.base, self.chain.base + self.outputs)

    @property
    def roles(self) -> tuple[str, ...]:
        """Lines it wants of the board; the one that releases it only where it is wired to one."""
        released = self.chain.enable == "line" and self.part.release != "none"
        return self.part.roles + ((self.part.release,) if released else ())

    @property
    def rail(self):
        """The rail that feeds it, ``None`` for the board's own logic supply."""
        return self.around.build.rail(self.chain.rail)

    @cached_property
    def supply(self) -> Spread:
        """Volts of its supply."""
        return self.around.rail_volts(self.rail) if self.rail else self.around.board.logic

    @property
    def reads_high(self) -> float:
        """Least level its inputs surely read as high [V]."""
        return self.part.reads_high or READS_HIGH * self.supply.max

    @property
    def reads_low(self) -> float:
        """Highest level its inputs surely read as low [V]."""
        return self.part.reads_low or READS_LOW * self.supply.min

    @property
    def pull(self) -> float | None:
        """What holds it released while nobody drives that line [Ω]; ``None`` where nothing does."""
        text = self.chain.enable_pull
        if self.chain.enable != "line" or self.part.release == "none" or text == "none":
            return None
        return USUAL_PULL if text == "auto" else parse(text, "Ω")

    @property
    def outlives_board(self) -> bool:
        """Whether its supply can be live while the board is dead."""
        return self.rail is not None and not self.around.dies_with_board(self.rail)

    @cached_property
    def released_level(self) -> float | None:
        """
        Where the pull holds the release line at the least, against what leaks into it [V from the
        level that releases]; ``None`` without a pull.
        """
        if self.pull is None:
            return None
        loose = self.around.board.leakage + self.part.leakage * self.chain.count
        return self.pull * (1 + preferred.TOLERANCE[self.around.build.series]) * loose

    @property
    def pulled_off(self) -> bool:
        """Whether its pull is strong enough against leakage."""
        off = self.released_level
        if off is None:
            return False
        room = (
            self.supply.min - self.reads_high if self.part.release_at == "high" else self.reads_low
        )
        return off <= room

    @property
    def low_when_dead(self) -> bool:
        """Whether the dead board's pin holds its release line where it is not released."""
        direct = not self.chain.shifter
        return (
            self.outlives_board
            and direct
            and self.part.release_at == "high"
            and self.reads_high > DEAD_PIN
        )

    @property
    def keeps(self) -> list[str]:
        """Why its outputs are not released whenever the board does not command them."""
        if self.part.release == "none":
            return ["it has no line that releases its outputs"]
        if self.chain.enable == "tied":
            return [f"its {self.part.release} is tied so that the outputs always drive"]
        if self.pull is None:
            return [f"nothing pulls its {self.part.release} while the board does not drive it"]
        if not self.pulled_off:
            return [f"the pull at its {self.part.release} is too weak against what leaks there"]
        if (pin := self._against()) is not None:
            return [f"{pin} stands against its {self.part.release} while the board starts"]
        if self.low_when_dead:
            return [f"the dead board's pin holds its {self.part.release} low while its rail lives"]
        return []

    def _against(self) -> str | None:
        """
        The pin of its release line where that is driven, or pulled, to where the outputs drive
        while the board starts; ``None`` where it is not.
        """
        pin = self.around.board.pin(self.chain.lines.get(self.part.release))
        if pin is None or self.chain.shifter or self.pull is None:
            return None
        towards = {"high": "low", "low": "high"}[self.part.release_at]
        if pin.reset in (f"driven_{towards}", "pulses"):
            return pin.id
        weak = {"low": "pull_down", "high": "pull_up"}[towards]
        if pin.reset == weak and pin.pull is not None:
            high = self.pull * (1 + preferred.TOLERANCE[self.around.build.series])
            share = pin.pull.min / (pin.pull.min + high)
            left = share * self.supply.min if towards == "low" else (1 - share) * self.supply.max
            holds = left >= self.reads_high if towards == "low" else left <= self.reads_low
            return None if holds else pin.id
        return None

    @cached_property
    def pins(self) -> tuple[Pin, ...]:
        """Its outputs as pins, in the order of their numbers."""
        part, can = self.part, ["out"] if self.part.drives == "both" else ["sink"]
        if part.pulse_to:
            can.append("pwm")
        return tuple(
            Pin.model_construct(
                id=f"{self.id}.{number}",
                chip=f"output {self._place(n) % part.outputs}",
                header=f"package {self._place(n) // part.outputs + 1}",
                can=can,
                owner=None,
                reset=RESET[part.at_power_on],
                pull=part.weak_pull,
                start=None,
                group=f"{self.id}, package {self._place(n) // part.outputs + 1}",
                timer=f"the clock of {self.chain.name}" if part.pulse_to else None,
                pull_up="inside",
            )
            for n, number in enumerate(self.numbers)
        )

    def _place(self, step: int) -> int:
        """Place from the data input of the output so many after the first."""
        return self.outputs - 1 - step if self.chain.first == "farthest" else step

    @property
    def step_at_50(self) -> float | None:
        """
        The least change of a pulse at 50 Hz [s]; ``None`` of what makes no pulses.
        """
        return 1 / 50 / self.part.steps if self.part.steps else None

    @cached_property
    def board(self) -> Board:
        """Its levels and limits as those of a board, for what hangs on its lines."""
        part, real = self.part, self.around.board
        gives = part.gives or part.takes
        return real.model_copy(
            update={
                "title": f"{self.chain.name} ({part.title})",
                "logic": self.supply,
                "voh_drop_noload": min(0.1, part.high_drop),
                "voh_drop_rated": part.high_drop,
                "rated_current": gives,
                "vol_noload": min(0.1, part.low_level),
                "vol_max": min(0.1, part.low_level)
                + (part.low_level - min(0.1, part.low_level)) * gives / part.takes,
                "pin_recommended": gives,
                "pin_absolute": part.absolute,
                "sink_recommended": part.takes,
                "total_recommended": part.package * self.chain.count,
                "total_absolute": 2 * part.package * self.chain.count,
                "group_limit": part.package,
                "leakage": part.leakage,
                "injection_limit": part.injection,
                "over_supply": part.bears or 0.01,
                "reads_low": self.reads_low,
                "reads_high": self.reads_high,
                "internal_pull": None,
                "pins": list(self.pins),
            }
        )
