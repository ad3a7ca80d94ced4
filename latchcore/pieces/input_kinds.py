"""Kinds of sense inputs: all that tells one from another, in one record each."""

from __future__ import annotations

from dataclasses import dataclass

ANALOGUE, DIGITAL, INTERRUPT = ("in", "analogue"), ("in",), ("in", "interrupt")


@dataclass(frozen=True, slots=True)
class InputKind:
    """
    One kind of input.

    ``title`` in words; ``wants`` of each line it takes; ``asks`` which fields of the document have
    a bearing on it; ``upper`` what its first resistor is called and what stands in for it;
    ``bounce`` how long its contacts bounce at the worst and ``debounce`` what is waited unless the
    user says otherwise, class figures [s]; ``barrier`` whether it parts the board from what it
    senses; ``of_the_line`` whether it reads the zero of an alternating rail; ``needs_voltage``
    whether it wants a voltage or a rail, ``drives`` whether it can push current while the board is
    dead though it hangs on no rail; ``needs`` fields without which nothing can be worked out.
    """

    title: str
    wants: tuple[tuple[str, ...], ...]
    asks: frozenset[str]
    upper: tuple[str, str] | None = None
    bounce: float = 0.0
    debounce: float = 0.0
    barrier: bool = False
    of_the_line: bool = False
    needs_voltage: bool = False
    drives: bool = False
    needs: tuple[str, ...] = ()


GUARD = frozenset({"series", "clamp"})
CONTACT = frozenset({"rest", "pull", "debounce"}) | GUARD
SENSOR = frozenset({"pull", "pulled_to", "output", "shifter", "voltage", "rail"}) | GUARD

KINDS: dict[str, InputKind] = {
    "button": InputKind("Button", (DIGITAL,), CONTACT, bounce=10e-3, debounce=20e-3),
    "micro_switch": InputKind("Micro switch", (DIGITAL,), CONTACT, bounce=5e-3, debounce=10e-3),
    "reed": InputKind("Reed switch", (DIGITAL,), CONTACT, bounce=2e-3, debounce=5e-3),
    "end_pair": InputKind(
        "Two end switches",
        (DIGITAL, DIGITAL),
        CONTACT | {"pin_two"},
        bounce=5e-3,
        debounce=10e-3,
    ),
    "knob": InputKind(
        "Knob",
        (ANALOGUE,),
        frozenset({"rail", "upper", "scale", "moved"}) | GUARD,
        ("Track of the knob", "10 kΩ unless stated"),
    ),
    "divider": InputKind(
        "Divided-down voltage",
        (ANALOGUE,),
        frozenset({"voltage", "rail", "upper", "lower", "moved"}) | GUARD,
        ("Upper resistor", "sized if empty"),
        needs_voltage=True,
        drives=True,
    ),
    "opto": InputKind(
        "Isolated input",
        (DIGITAL,),
        frozenset({"voltage", "rail", "upper", "pull", "part"}),
        ("LED resistor", "sized if empty"),
        barrier=True,
        needs_voltage=True,
    ),
    "analogue": InputKind(
        "Sensor with an analogue output",
        (ANALOGUE,),
        frozenset({"voltage", "rail", "upper", "scale", "moved"}) | GUARD,
        ("Resistance of its output", "1 kΩ unless stated"),
        needs_voltage=True,
        drives=True,
    ),
    "light": InputKind(
        "Light, by a light-dependent resistor",
        (ANALOGUE,),
        frozenset({"dark", "bright", "pull", "moved"}) | GUARD,
        needs=("dark", "bright"),
    ),
    "motion": InputKind("Motion sensor", (DIGITAL,), SENSOR | {"holds", "warm_up"}),
    "presence": InputKind(
        "Whether a line is live",
        (DIGITAL,),
        frozenset({"rail", "upper", "pull", "debounce"}),
        ("Each of the resistors", "sized if empty"),
        debounce=50e-3,
        barrier=True,
        of_the_line=True,
    ),
    "current": InputKind(
        "Current of a channel, conductor led through",
        (ANALOGUE,),
        frozenset({"rail", "voltage", "per_ampere", "watches", "moved"}) | GUARD,
        barrier=True,
        needs=("per_ampere", "watches"),
    ),
    "sensor": InputKind("Sensor with a logic output", (DIGITAL,), SENSOR),
    "tachometer": InputKind("Pulses of a tachometer", (INTERRUPT,), SENSOR | {"moved"}),
    "serial": InputKind(
        "Serial sensor",
        (DIGITAL, ("out",)),
        frozenset({"shifter", "voltage", "rail", "pin_two", "moved"}) | GUARD,
        drives=True,
    ),
    "zero_transformer": InputKind(
        "Zero of the line, by a transformer",
        (INTERRUPT,),
        frozenset({"voltage", "rail", "upper", "lower", "pull", "edge", "shift"}),
        ("Upper resistor", "10 kΩ unless stated"),
        barrier=True,
        of_the_line=True,
    ),
    "zero_coupler": InputKind(
        "Zero of the line, by a coupler",
        (INTERRUPT,),
        frozenset({"rail", "upper", "pull", "edge"}),
        ("Each of the resistors", "sized if empty"),
        barrier=True,
        of_the_line=True,
    ),
}
