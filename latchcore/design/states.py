"""
The five states of a stage, computed once: what stands at its control node and what the load does.

Everything a check, a timeline, a table or a remedy says of a state comes from here: which level is
on, what decides the node in each state, how far it is driven towards on, and up to where the stage
is off.
"""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.catalogue.boards import Board, Pin
from latchcore.design.report import State

#: Titles of the states, in their order.
TITLES = {
    "commanded_off": "Commanded off",
    "commanded_on": "Commanded on",
    "floating": "Floating",
    "weakly_pulled": "Weakly pulled or driven at boot",
    "unpowered": "Board unpowered, load supply live",
    "hung": "Program hung with the output on",
}
OTHER = {"high": "low", "low": "high"}


@dataclass(frozen=True, slots=True)
class Decided:
    """
    What decides a control node in one state.

    ``by`` says it in words; ``drive`` is how far the node is driven from its off level towards on,
    in volts
    or amperes as the stage counts, ``None`` where nothing drives it; ``load`` what the load then
    does where
    no drive can tell. ``shown`` is the voltage that is shown, where that is one.
    """

    by: str
    drive: float | None = None
    load: str | None = None
    symbol: str = ""
    shown: float | None = None

    def does(self, limit: float | None) -> str:
        """
        What the load does: ``on``, ``off``, or ``undecided`` where neither drive nor anything else
        tells.

        Examples
        --------
        >>> Decided("pulled", 0.3).does(0.35), Decided("pulled", 0.36).does(0.35), Decided(
        ...     "air").does(0.35)
        ('off', 'on', 'undecided')
        """
        if self.load is not None:
            return self.load
        if self.drive is None or limit is None:
            return "undecided"
        return "off" if self.drive <= limit else "on"


@dataclass(frozen=True, slots=True)
class Control:
    """
    The control node of a stage in its five states.

    ``active`` is the level that is on; ``limit`` the drive up to which the stage is off;
    ``on_text`` what
    happens when it is commanded on. ``in_volts`` says whether limit and drive are volts that can be
    shown.
    """

    node: str
    active: str
    limit: float | None
    off: Decided
    floating: Decided
    boot: Decided
    dead: Decided
    on_text: str
    upload: str
    start: str
    in_volts: bool = True

    def states(self) -> list[State]:
        """Every state, in the order it is told."""
        limit = self.limit if self.in_volts else None

        def state(key: str, when: str, found: Decided) -> State:
            shown = found.shown if found.shown is not None else found.drive
            volts = shown if self.in_volts else None
            does = found.does(self.limit)
            return State(
                key, TITLES[key], when, self.node, volts, limit, does, found.by, found.symbol
            )

        commanded = State(
            "commanded_on",
            TITLES["commanded_on"],
            "program",
            self.node,
            None,
            None,
            "on",
            self.on_text,
        )
        hung = State(
            "hung",
            TITLES["hung"],
            "until somebody notices",
            self.node,
            None,
            None,
            "on",
            "stays as it was commanded",
        )
        return [
            state("commanded_off", "program", self.off),
            commanded,
            state("floating", self.upload, self.floating),
            state("weakly_pulled", self.start, self.boot),
            state("unpowered", "cable pulled", self.dead),
            hung,
        ]


def quiet(drive: float | None, limit: float, by: str, symbol: str) -> Decided:
    """A node that only a resistor holds: what decides it, or that nothing does."""
    if drive is None:
        return Decided("nothing decides: leakage and a hand nearby do")
    return Decided(by if drive <= limit else "the pull resistor is too weak", drive, symbol=symbol)


def at_boot(
    pin: Pin | None, board: Board, active: str, held: bool, against: Decided | None
) -> Decided:
    """
    What a pin does to a node before the program runs.

    Parameters
    ----------
    active : str
        The level that is on
    held : bool
        Whether a pull resistor holds the node off
    against : Decided, optional
        The node between that resistor and the board's own pull towards on; without it that pull
        decides

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> board = load_catalogue().parts["board-8bit-5v-20"]
    >>> pin = board.pins[0].model_copy(update={"reset": "driven_low"})
    >>> [at_boot(pin, board, active, False, None).does(0.5) for active in ("high", "low")]
    ['off', 'on']
    """
    if pin is None:
        return Decided("no pin chosen yet")
    off, own = OTHER[active], {"high": "pull-up", "low": "pull-down"}[active]
    if pin.reset == "pulses":
        return Decided("the pin pulses", board.voh_noload_min, "on")
    if pin.reset == f"driven_{active}":
        return Decided(f"the pin is driven {active}", board.voh_noload_min, "on")
    if pin.reset == "floating":
        return Decided("this pin only floats", 0.0 if held else None)
    if pin.reset in (f"driven_{off}", {"high": "pull_down", "low": "pull_up"}[active]):
        return Decided("pulled the right way", 0.0)
    if against is None:
        return Decided(f"the board's own {own} turns it on", board.logic.max, "on")
    return against
