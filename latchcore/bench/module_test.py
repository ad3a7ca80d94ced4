"""
Intake of an unlabelled relay module: a test with a meter and one wire, on a real module or on a
simulated one.
"""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.catalogue.records import Module
from latchcore.figures.quantity import digits

#: The steps in their order: key, what to do, what to write down, the possible answers (none: a
#: reading).
STEPS = (
    (
        "coil",
        (
            "The board away. Meter on volts across the module's supply terminals, fed from a bench"
            " supply at what the coils' lids say."
        ),
        "Coil voltage printed on the relay",
        None,
    ),
    (
        "resistance",
        "Supply off. Meter on ohms across the two coil pins of one relay.",
        "Coil resistance",
        None,
    ),
    (
        "low",
        "Supply on. Touch the input pin to the module's 0 V with a wire.",
        "At 0 V the relay",
        ("clicks", "nothing"),
    ),
    (
        "high",
        "Touch the input pin to the module's supply with the same wire.",
        "At its supply the relay",
        ("clicks", "nothing"),
    ),
    (
        "level",
        (
            "Is there a small jumper for the level, high or low? Move it, and touch the input to"
            " both sides again."
        ),
        "With it moved it clicks at",
        ("the other side", "the same side", "there is no such jumper"),
    ),
    (
        "current",
        "Meter on milliamperes between the input pin and the side that made it click.",
        "Input current",
        None,
    ),
    (
        "drop",
        "Meter on volts from the input pin, open, to the module's 0 V.",
        "Volts at the open input",
        None,
    ),
    (
        "jumper",
        (
            "Supply off, jumper off. Meter on ohms from the coils' supply pin to the inputs' supply"
            " pin."
        ),
        "The two supply pins are",
        ("open", "joined"),
    ),
)
READINGS = {"coil": "V", "resistance": "Ω", "current": "A", "drop": "V"}


@dataclass(frozen=True)
class Verdict:
    """
    What a test says: the active level and the figures of the record, or what is still open and why.
    """

    active: str
    says: str
    figures: dict[str, str]
    open: tuple[str, ...]


def judge(answers: dict[str, float | str]) -> Verdict:
    """
    Conclude from the answers of the test.

    Parameters
    ----------
    answers : dict
        By step: readings in SI units, words as given

    Returns
    -------
    Verdict

    Examples
    --------
    >>> judge({"low": "clicks", "high": "nothing"}).active
    'low'
    """
    low, high = answers.get("low"), answers.get("high")
    if low == "clicks" and high == "nothing":
        active, says = "low", "It is active low: a pin at 0 V switches the relay on."
    elif high == "clicks" and low == "nothing":
        active, says = "high", "It is active high: a pin at its supply switches the relay on."
    elif low == "clicks" and high == "clicks":
        active, says = (
            "unknown",
            (
                "It clicks both ways: the input bounced, or two terminals are joined. Touch each"
                " for a full second and test again."
            ),
        )
    elif low == "nothing" and high == "nothing":
        active, says = (
            "unknown",
            (
                "It clicks neither way: is the coils' supply there and right, is the jumper on, is"
                " it the input pin?"
            ),
        )
    else:
        active, says = "unknown", "Touch the input to both sides first."
    if answers.get("level") == "the other side" and active != "unknown":
        says = (
            "Its level is set by a jumper: as it stood, a pin at"
            f" {'0 V' if active == 'low' else 'its supply'} switches the relay on; moved, the other"
            " way round."
        )
    level = "jumper" if answers.get("level") == "the other side" and active != "unknown" else active
    figures, current, coil = {"active": level}, answers.get("current"), answers.get("coil")
    if isinstance(coil, float):
        figures["coil"] = f"{digits(coil)} V"
    if isinstance(answers.get("resistance"), float):
        figures["coil_resistance"] = f"{digits(answers['resistance'])} Ω ±10 %"
    if (
        isinstance(current, float)
        and isinstance(coil, float)
        and current > 0
        and active != "unknown"
    ):
        figures |= _input(active, coil, current, answers.get("drop"))
    if answers.get("jumper") in ("open", "joined"):
        figures["separate"] = "yes" if answers["jumper"] == "open" else "no"
    absent = tuple(words for key, _, words, _ in STEPS if answers.get(key) in (None, ""))
    return Verdict(level, says, figures, absent)


def _input(active: str, coil: float, current: float, drop) -> dict[str, str]:
    """The input circuit from its current: what is left over the LEDs drives the resistor."""
    # An open input shows what its side is fed with, less its LEDs: five volts or less under a
    # higher coil voltage is a supply of its own.
    apart = active == "low" and isinstance(drop, float) and drop <= 5.0
    supply = 5.0 if coil <= 6 or apart else coil
    leds = 1.2 if active == "low" else 0.7
    indicator = active == "low" and isinstance(drop, float) and drop < supply - 2.2
    total = leds + (1.9 if indicator else 0.0)
    resistance = max((supply - total) / current, 10.0)
    found = {
        "input": "coupler" if active == "low" else "transistor",
        "input_resistor": f"{digits(resistance)} Ω ±10 %",
        "led": "1.0 / 1.2 / 1.4 V" if active == "low" else "0.6 / 0.7 / 0.9 V",
        "supply": f"{digits(supply)} V",
        "on_current": f"{digits(max(current * 0.4, 2e-4) * 1e3)} mA",
    }
    return found | ({"indicator": "1.7 / 1.9 / 2.1 V"} if indicator else {})


class SimulatedModule:
    """
    A stand-in with the interface a module on the bench has: touch, measure, look.

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> bench = SimulatedModule(load_catalogue().parts["module-5v-low-plain"])
    >>> bench.touch("low"), bench.touch("high")
    ('clicks', 'nothing')
    """

    def __init__(self, module: Module, jumper: bool = True):
        self.module, self.jumper = module, jumper
        self.level = "low" if module.active == "jumper" else module.active

    def touch(self, side: str) -> str:
        """Touch the input to ``low`` (0 V) or ``high`` (supply) with a wire."""
        return "clicks" if side == self.level else "nothing"

    def measure(self, what: str) -> float | str:
        """Read one of the steps that are readings, or the jumper."""
        m = self.module
        if what == "coil":
            return m.coil
        if what == "resistance":
            return m.coil_resistance.typ
        if what == "jumper":
            return "open" if m.separate and not self.jumper else "joined"
        drop = m.led.typ + (m.indicator.typ if m.indicator else 0.0)
        if what == "drop":
            return m.supply - drop if self.level == "low" else 0.0
        return max(m.supply - drop, 0.0) / m.input_resistor.typ

    def answer(self, step: str) -> float | str:
        """What the step of the guided test yields on this module."""
        if step in ("low", "high"):
            return self.touch(step)
        if step == "level":
            return "the other side" if self.module.active == "jumper" else "there is no such jumper"
        if step == "jumper":
            self.jumper = False
        return self.measure(step)
