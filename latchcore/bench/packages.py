"""
Laws of what is bought as one piece: an input decides what stands between its outputs; and every
law by its kind of part.
"""

from __future__ import annotations

from latchcore.bench.laws import (
    OPEN,
    Bipolar,
    Diode,
    Law,
    Piece,
    Pin,
    Pnp,
    Resistor,
    Seen,
    Source,
    Tied,
    Zener,
    conducts,
)
from latchcore.bench.switches import Coupler, Held, Mosfet, Pmos, Relay

#: What an output that holds a level has inside where nothing else is printed [Ω].
LEVEL_OHM = 50.0


class Package(Held):
    """
    A package of logic: inputs read as high or low, a row for each code, outputs that are joined
    with its supply (``high``), with its ground (``low``), or with nothing (``off``).

    Figures: ``inputs``, ``outputs``; ``rows`` from codes to one word an output, first match counts,
    ``x`` matches either; ``reads_low``, ``reads_high`` [V]; ``input_ohm`` of an input's own way to
    ground, ``None`` where it has none; ``high_ohm``, ``low_ohm``; terminals ``supply``, ``ground``.
    """

    def begin(self) -> None:
        """Every input low until it is read; its branches by its outputs."""
        f = self.f
        self.state = ("0" * len(f["inputs"]),)
        self.branches = {}
        for name in f["outputs"]:
            self.branches |= {f"{name}+": ("supply", name), f"{name}-": (name, "ground")}
        if f["input_ohm"] is not None:
            self.branches |= {name: (name, "ground") for name in f["inputs"]}

    def pieces(self) -> dict[str, Piece]:
        """Each output as its row has it."""
        f = self.f
        found: dict[str, Piece] = {}
        for name, level in zip(f["outputs"], self.row(), strict=True):
            found[f"{name}+"] = Tied(f["high_ohm"]) if level == "high" else OPEN
            found[f"{name}-"] = Tied(f["low_ohm"]) if level == "low" else OPEN
        if f["input_ohm"] is not None:
            found |= {name: Tied(f["input_ohm"]) for name in f["inputs"]}
        return found

    def row(self) -> tuple[str, ...]:
        """What its outputs do; off where its print names no such row."""
        for code, outputs in self.f["rows"]:
            if all(c in ("x", s) for c, s in zip(code, self.state[0], strict=True)):
                return outputs
        return ("off",) * len(self.f["outputs"])

    def asks(self, seen: Seen) -> str:
        """The code its inputs read; one between both thresholds stays as it was."""
        if seen.across("supply", "ground") < self.f["least_supply"]:
            return "0" * len(self.state[0])
        code = ""
        for name, was in zip(self.f["inputs"], self.state[0], strict=True):
            volts = seen.across(name, "ground")
            code += "1" if volts >= self.f["reads_high"] else (
                "0" if volts <= self.f["reads_low"] else was)  # fmt: skip
        return code

    @property
    def gates(self) -> list[tuple[str, str]]:
        """Inputs that decide nothing while nothing ties them."""
        if self.f["input_ohm"] is not None:
            return []
        return [(name, "ground") for name in self.f["inputs"]]

    def told(self) -> dict[str, str]:
        """Its outputs."""
        return {f".{n}": level for n, level in zip(self.f["outputs"], self.row(), strict=True)}


class Lit(Held):
    """
    An input that lights an LED or fills a base, and what acts while it does: a coil with a contact,
    a switch, or a source of its own.

    Figures: ``forward_v``, ``input_ohm``; ``on_a`` from which it acts and ``off_a`` under which it
    lets go [A]. What acts, each where it has the terminals: ``coil_ohm`` with ``pull_in_v`` and
    ``contact_ohm``, ``welded``; ``on_ohm``, ``on_v`` of a switch; ``open_v``, ``inner_ohm`` of a
    source, ``rest_ohm`` what it is dark.
    """

    branches = {
        "in": ("a", "k"),
        "coil": ("coil", "back"),
        "made": ("common", "no"),
        "rest": ("common", "nc"),
        "out": ("plus", "minus"),
    }

    def begin(self) -> None:
        """Dark."""
        self.state = ("out", "open")

    def pieces(self) -> dict[str, Piece]:
        """Input, and what acts behind it."""
        f, acts = self.f, self.state[0] == "in"
        lit = Tied(f["input_ohm"], f["forward_v"]) if self.state[1] == "on" else OPEN
        found: dict[str, Piece] = {"in": lit, "made": OPEN, "rest": OPEN}
        found["coil"] = Tied(f["coil_ohm"]) if acts and "coil_ohm" in f else OPEN
        if "contact_ohm" in f:
            made = {"no": "made", "nc": "rest"}.get(f.get("welded") or "")
            found[made or ("made" if acts else "rest")] = Tied(f["contact_ohm"])
        if "open_v" in f:
            dark = Tied(f["rest_ohm"]) if f["rest_ohm"] else OPEN
            found["out"] = Tied(f["inner_ohm"], f["open_v"]) if acts else dark
        elif "on_ohm" in f:
            found["out"] = Tied(f["on_ohm"], f.get("on_v", 0.0)) if acts else OPEN
        return found

    def wanted(self, seen: Seen) -> tuple[tuple[str, ...], float]:
        """The input's junction by itself."""
        volts, amps = seen.across("a", "k"), seen.amps["in"]
        now, by = conducts(self.state[1], volts, amps, self.f["forward_v"])
        return (self.state[0], now), by

    def asks(self, seen: Seen) -> str:
        """By what its input takes, and by the volts its coil finds."""
        f, amps = self.f, seen.amps["in"] if self.state[1] == "on" else 0.0
        if "pull_in_v" in f and "coil" in seen and "back" in seen:
            volts = seen.across("coil", "back")
            if volts < (f["pull_in_v"] if self.state[0] == "out" else f["release_v"]):
                return "out"
        if amps >= f["on_a"]:
            return "in"
        return "out" if amps <= f["off_a"] else self.state[0]

    def told(self) -> dict[str, str]:
        """Acting or not."""
        return {"": self.state[0]}


#: Law by kind of part.
LAWS: dict[str, type[Law]] = {
    "resistor": Resistor,
    "winding": Resistor,
    "lamp": Resistor,
    "switch": Resistor,
    "source": Source,
    "diode": Diode,
    "led": Diode,
    "zener": Zener,
    "npn": Bipolar,
    "pnp": Pnp,
    "nmos": Mosfet,
    "pmos": Pmos,
    "coupler": Coupler,
    "relay": Relay,
    "pin": Pin,
    "package": Package,
    "lit": Lit,
}
