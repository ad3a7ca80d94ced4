"""What hangs on the lines: how each is pulled and read, gates, switches, contacts, chips, loads."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class Pull:
    """A resistor of a line: ``to`` high or low, its ohms, fed by ``board`` or ``load``."""

    to: str
    ohms: float
    fed_by: str = "board"


@dataclass(frozen=True, slots=True)
class Line:
    """
    One line from the board or a chain.

    ``open`` is what is read where nothing pulls (``low``, ``high``, ``unknown``); what is up to
    ``low_most`` reads low, from ``high_least`` on high [V].
    """

    name: str
    low_most: float
    high_least: float
    pull: Pull | None = None
    open: str = "unknown"


@dataclass(frozen=True, slots=True)
class Gate:
    """
    Logic on lines or earlier gates: ``same``, ``not``, ``and``, ``or``, ``nand``, ``nor``.

    ``dead`` is what its output is while its feed is dead. A name with ``lock`` is an interlock.
    """

    name: str
    op: str
    of: tuple[str, ...]
    fed_by: str = "board"
    dead: str = "unknown"

    @property
    def locks(self) -> bool:
        """Whether it is there to keep combinations apart."""
        return "lock" in self.name


@dataclass(frozen=True, slots=True)
class Switch:
    """A switch between two nodes, closed when a signal is at a level."""

    name: str
    between: tuple[str, str]
    ohms: float
    signal: str
    level: int = 1


@dataclass(frozen=True, slots=True)
class HoldsOff:
    """An interlock: while one switch is closed, another is not."""

    name: str
    closed: str
    off: str


@dataclass(frozen=True, slots=True)
class Changeover:
    """A relay's contact, pulled in when a signal is at a level."""

    name: str
    common: str
    nc: str
    no: str
    ohms: float
    signal: str
    level: int = 1


@dataclass(frozen=True, slots=True)
class Chip:
    """
    A bridge chip: its printed rows, the first that fits counts (``x`` any), each output ``high``,
    ``low`` or ``off``; ``ohms`` of one of its switches.
    """

    name: str
    inputs: tuple[str, ...]
    outputs: tuple[str, ...]
    rows: tuple[tuple[str, tuple[str, ...]], ...]
    ohms: float = 0.0
    plus: str = "plus"
    minus: str = "minus"

    def states(self, levels: str) -> tuple[str, ...] | None:
        """State of each output for levels of its inputs; ``None`` where nothing is printed."""
        for when, outputs in self.rows:
            if all(w in ("x", level) for w, level in zip(when, levels, strict=True)):
                return outputs
        return None


@dataclass(frozen=True, slots=True)
class Winding:
    """A load between two nodes; ``role`` motor, coil, set, reset,
    a half-winding A1, A2, B1, B2, or a whole one A, B."""

    name: str
    role: str
    between: tuple[str, str]
    ohms: float


@dataclass(frozen=True, slots=True)
class Program:
    """
    What a program writes: patterns by name, the first of them, which may follow which, and how.

    ``writes`` is ``together``, ``in_order``, ``off_first`` or ``any_order``; ``begin_low`` whether
    a pin becomes an output low and takes its level then.
    """

    patterns: dict[str, str]
    first: str
    writes: str = "in_order"
    after: dict[str, tuple[str, ...]] = field(default_factory=dict)
    order: tuple[int, ...] = ()
    begin_low: bool = False

    def follows(self, pattern: str) -> tuple[str, ...]:
        """Patterns that may be written after one."""
        others = tuple(p for p in self.patterns if p != pattern)
        return self.after.get(pattern, others)


@dataclass(frozen=True, slots=True)
class Start:
    """
    How the lines begin: boot stages, whether the board may be dead while the load is live, what a
    reset does (``boots`` or ``keeps``), the least of a weak boot pull [Ω].
    """

    boot: tuple[str, ...]
    dies_alone: bool
    reset: str = "boots"
    weak: float = 20e3


@dataclass(frozen=True, slots=True)
class Power:
    """
    A whole stage of several lines.

    ``kind`` is ``motor``, ``latching_coil``, ``two_coils``, ``stepper`` or ``line``; ``supply`` and
    ``source`` stand between minus and plus; ``logic`` is a board level, ``pull`` what a pull-up of
    the load leads to [V]. ``chain`` are its lines nearest to the data input first, where they sit
    in a register whose clock modes were compared or not.
    """

    kind: str
    supply: float
    source: float
    logic: float
    pull: float
    lines: tuple[Line, ...]
    program: Program
    start: Start
    gates: tuple[Gate, ...] = ()
    switches: tuple[Switch, ...] = ()
    holds_off: tuple[HoldsOff, ...] = ()
    changeovers: tuple[Changeover, ...] = ()
    chips: tuple[Chip, ...] = ()
    windings: tuple[Winding, ...] = ()
    chain: tuple[str, ...] = ()
    modes_compared: bool = True

    @property
    def index(self) -> dict[str, int]:
        """Place of each line by its name."""
        return {line.name: n for n, line in enumerate(self.lines)}
