"""Laws of parts in straight pieces: each branch in each state, and which state comes next."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Vector = NDArray[np.float64]
#: A state is left when it is wrong by more than this [V, A].
SLACK_V, SLACK_A = 1e-7, 1e-9


@dataclass(frozen=True, slots=True)
class Tied:
    """A branch whose voltage is ``volts`` + ``ohm`` · its current."""

    ohm: float = 0.0
    volts: float = 0.0


@dataclass(frozen=True, slots=True)
class Given:
    """
    A branch whose current is given: a constant, shares of other branches' currents, and shares of
    voltages between two terminals.
    """

    amps: float = 0.0
    of_amps: tuple[tuple[str, float], ...] = ()
    of_volts: tuple[tuple[str, str, float], ...] = ()


Piece = Tied | Given
OPEN = Given()


class Seen:
    """Voltages between terminals and currents of branches of one part, in one solution."""

    __slots__ = ("amps", "_volts")

    def __init__(self, volts: Mapping[str, float], amps: Mapping[str, float]) -> None:
        self._volts, self.amps = volts, amps

    def across(self, a: str, b: str) -> float:
        """Volts from one terminal to another."""
        return self._volts[a] - self._volts[b]


class Law(ABC):
    """
    One part.

    Attributes
    ----------
    branches : dict
        Of each branch the terminals it leads from and to
    state : tuple of str
        The pieces it is on now
    """

    branches: dict[str, tuple[str, str]]

    def __init__(self, figures: Mapping[str, Any]) -> None:
        self.f = figures
        self.state: tuple[str, ...] = ()
        self.begin()

    def begin(self) -> None:
        """The states one begins from; none where there is only one."""
        self.state = ()

    @abstractmethod
    def pieces(self) -> dict[str, Piece]:
        """What each branch is in the present state."""

    def wanted(self, seen: Seen) -> tuple[tuple[str, ...], float]:
        """The state a solution asks for, and by how much the present one is wrong."""
        return self.state, 0.0

    def told(self) -> dict[str, str]:
        """The state in words, by what stands behind the part's id."""
        return {}


class Resistor(Law):
    """Anything straight: a resistor, a winding with its back-EMF, a lamp, a switch."""

    branches = {"": ("a", "b")}

    def pieces(self) -> dict[str, Piece]:
        """One straight piece, or open."""
        f = self.f
        if f["kind"] == "switch":
            return {"": Tied(f["closed_ohm"]) if f["closed"] else OPEN}
        if f["kind"] == "lamp":
            return {"": Tied(f["hot_ohm"] if f["is"] == "hot" else f["cold_ohm"])}
        return {"": Tied(f["ohm"], f.get("emf_v", 0.0))}


class Source(Law):
    """A supply with its resistance and limit; one that takes nothing back idles when lifted."""

    branches = {"": ("plus", "minus")}

    def begin(self) -> None:
        """Regulating."""
        self.state = ("regulating",)

    def pieces(self) -> dict[str, Piece]:
        """A voltage less its drop, the limit, or nothing."""
        f = self.f
        if self.state[0] == "regulating":
            return {"": Tied(f["ohm"], f["volts_v"])}
        return {"": Given(-f["limit_a"]) if self.state[0] == "limited" else OPEN}

    def wanted(self, seen: Seen) -> tuple[tuple[str, ...], float]:
        """By what it gives, or by what stands across it."""
        f, given, volts = self.f, -seen.amps[""], seen.across("plus", "minus")
        limit, now = f["limit_a"], self.state[0]
        if now == "regulating":
            if limit is not None and given > limit + SLACK_A:
                return ("limited",), given - limit
            if f["one_way"] and given < -SLACK_A:
                return ("idle",), -given
        elif now == "limited" and volts > f["volts_v"] - f["ohm"] * limit + SLACK_V:
            return ("regulating",), volts - f["volts_v"] + f["ohm"] * limit
        elif now == "idle" and volts < f["volts_v"] - SLACK_V:
            return ("regulating",), f["volts_v"] - volts
        return self.state, 0.0

    def told(self) -> dict[str, str]:
        """One word."""
        return {"": self.state[0]}


def conducts(now: str, volts: float, amps: float, forward: float) -> tuple[str, float]:
    """
    The state of a junction, and by how much the present one is wrong.

    Examples
    --------
    >>> conducts("open", 0.9, 0.0, 0.7)[0], conducts("on", 0.7, -1e-3, 0.7)[0]
    ('on', 'open')
    """
    if now == "open" and volts > forward + SLACK_V:
        return "on", volts - forward
    if now == "on" and amps < -SLACK_A:
        return "open", -amps
    return now, 0.0


class Junctions(Law):
    """Parts made of junctions: each branch with its forward voltage and its slope."""

    #: What each junction is called, its branch, its figures for voltage and slope.
    junctions: tuple[tuple[str, str | None, str | None], ...] = ()

    def begin(self) -> None:
        """All open."""
        self.state = ("open",) * len(self.junctions)

    def forward(self, branch: str) -> float:
        """Volts from which a junction conducts."""
        figure = next(volts for name, volts, _ in self.junctions if name == branch)
        value = None if figure is None else self.f[figure]
        return float("inf") if value is None else value

    def pieces(self) -> dict[str, Piece]:
        """Open, or its line."""
        found: dict[str, Piece] = {}
        for (name, _, slope), now in zip(self.junctions, self.state, strict=True):
            ohm = 0.0 if slope is None else self.f[slope]
            found[name] = Tied(ohm, self.forward(name)) if now == "on" else OPEN
        return found

    def wanted(self, seen: Seen) -> tuple[tuple[str, ...], float]:
        """Each by itself."""
        states, wrong = [], 0.0
        for (name, _, _), now in zip(self.junctions, self.state, strict=True):
            volts = seen.across(*self.branches[name])
            state, by = conducts(now, volts, seen.amps[name], self.forward(name))
            states.append(state)
            wrong = max(wrong, by)
        return tuple(states), wrong


class Diode(Junctions):
    """A diode or an LED."""

    branches = {"": ("a", "k")}
    junctions = (("", "forward_v", "slope_ohm"),)

    def told(self) -> dict[str, str]:
        """One word."""
        return {"": self.state[0]}


class Zener(Junctions):
    """A diode that also conducts the other way from its zener voltage on."""

    branches = {"f": ("a", "k"), "z": ("k", "a")}
    junctions = (("f", "forward_v", "slope_ohm"), ("z", "zener_v", "zener_ohm"))

    def told(self) -> dict[str, str]:
        """One word."""
        return {"": {("on", "open"): "forward", ("open", "on"): "zener"}.get(self.state, "open")}


class Bipolar(Junctions):
    """Two junctions, the collector's share of them, and an emitter that breaks down."""

    branches = {
        "f": ("base", "emitter"),
        "r": ("base", "collector"),
        "x": ("collector", "emitter"),
        "z": ("emitter", "base"),
    }
    junctions = (("f", "on_v", None), ("r", "collector_v", None), ("z", "breakdown_v", None))

    def begin(self) -> None:
        """Its figures with the voltage of the second junction."""
        self.f = {**self.f, "collector_v": self.f["on_v"] - self.f["saturated_v"]}
        super().begin()

    def pieces(self) -> dict[str, Piece]:
        """The junctions, and what the collector carries of them."""
        shares = (("f", self.f["gain"]), ("r", -self.f["reverse_gain"]))
        return super().pieces() | {"x": Given(of_amps=shares)}

    def told(self) -> dict[str, str]:
        """One word."""
        f, r, z = (s == "on" for s in self.state)
        if z:
            return {"": "broken_down"}
        word = {(True, False): "active", (True, True): "saturated", (False, True): "reverse"}
        return {"": word.get((f, r), "off")}


class Pnp(Bipolar):
    """The same turned round."""

    branches = {name: (b, a) for name, (a, b) in Bipolar.branches.items()}


class Mosfet(Law):
    """A channel up to what its gate allows, and the body diode beside it."""

    branches = {"ch": ("drain", "source"), "body": ("source", "drain")}
    #: From which terminal to which the gate is driven.
    gate = ("gate", "source")
    turned = 1.0

    def begin(self) -> None:
        """Off."""
        self.state = ("off", "open")

    def most(self, seen: Seen) -> float:
        """What the channel can carry at the most [A]."""
        f, v = self.f, seen.across(*self.gate)
        return f["on_a"] * (v - f["threshold_v"]) / (f["on_v"] - f["threshold_v"])

    def pieces(self) -> dict[str, Piece]:
        """The channel off, its resistance, or its limit either way; the diode."""
        f = self.f
        share = f["on_a"] / (f["on_v"] - f["threshold_v"])
        channel: Piece = OPEN
        if self.state[0] == "ohmic":
            channel = Tied(f["on_ohm"])
        elif self.state[0] in ("limiting", "limiting back"):
            way = 1.0 if self.state[0] == "limiting" else -1.0
            channel = Given(-way * share * f["threshold_v"], (), ((*self.gate, way * share),))
        body = Tied(f["body_ohm"], f["body_v"]) if self.state[1] == "on" else OPEN
        return {"ch": channel, "body": body}

    def wanted(self, seen: Seen) -> tuple[tuple[str, ...], float]:
        """By its gate, what it carries and what stands across it."""
        channel, wrong = self._channel(seen)
        volts = seen.across(*self.branches["body"])
        body, by = conducts(self.state[1], volts, seen.amps["body"], self.f["body_v"])
        if body != self.state[1] and self.state[0] != "off":
            # What the channel carries beside a diode that ought to be open says nothing yet.
            return (self.state[0], body), by
        return (channel, body), max(wrong, by)

    def _channel(self, seen: Seen) -> tuple[str, float]:
        now, most, amps = self.state[0], self.most(seen), seen.amps["ch"]
        if now == "off":
            # It leaves through its limit where more stands across it than it could drop.
            over = seen.across(*self.branches["ch"]) > self.f["on_ohm"] * most
            return ("limiting" if over else "ohmic", most) if most > SLACK_A else (now, 0.0)
        if most < -SLACK_A:
            return "off", -most
        if now == "ohmic":
            if abs(amps) > most + SLACK_A:
                return ("limiting" if amps > 0 else "limiting back"), abs(amps) - most
            return now, 0.0
        way = 1.0 if now == "limiting" else -1.0
        short = self.f["on_ohm"] * most - way * seen.across(*self.branches["ch"])
        return ("ohmic", short) if short > SLACK_V else (now, 0.0)

    def told(self) -> dict[str, str]:
        """Channel and body."""
        return {".channel": self.state[0].partition(" ")[0], ".body": self.state[1]}


class Pmos(Mosfet):
    """The same turned round."""

    branches = {"ch": ("source", "drain"), "body": ("drain", "source")}
    gate = ("source", "gate")


class Coupler(Law):
    """An LED, and an output that carries a share of its current at the most."""

    branches = {"led": ("a", "k"), "out": ("collector", "emitter")}

    def begin(self) -> None:
        """Dark."""
        self.state = ("open", "starved")

    def pieces(self) -> dict[str, Piece]:
        """The diode; the output open, saturated, or at its share."""
        f = self.f
        led = Tied(f["slope_ohm"], f["forward_v"]) if self.state[0] == "on" else OPEN
        out: Piece = OPEN
        if self.state[1] == "saturated":
            out = Tied(0.0, f["saturated_v"])
        elif self.state[1] == "active":
            out = Given(f["dark_a"], (("led", f["transfer"]),))
        return {"led": led, "out": out}

    def wanted(self, seen: Seen) -> tuple[tuple[str, ...], float]:
        """The diode by itself; the output by what it carries and what stands across it."""
        f, volts = self.f, seen.across("collector", "emitter")
        led, wrong = conducts(
            self.state[0], seen.across("a", "k"), seen.amps["led"], f["forward_v"]
        )
        most, now, by = f["transfer"] * seen.amps["led"] + f["dark_a"], self.state[1], 0.0
        if now == "starved" and volts > f["saturated_v"] + SLACK_V and most > SLACK_A:
            now, by = "saturated", volts - f["saturated_v"]
        elif now == "saturated" and seen.amps["out"] < -SLACK_A:
            now, by = "starved", -seen.amps["out"]
        elif now == "saturated" and seen.amps["out"] > most + SLACK_A:
            now, by = "active", seen.amps["out"] - most
        elif now == "active" and volts < f["saturated_v"] - SLACK_V:
            now, by = "saturated", f["saturated_v"] - volts
        return (led, now), max(wrong, by)

    def told(self) -> dict[str, str]:
        """LED and output; dark, the output is off."""
        output = "off" if self.state[0] == "open" else self.state[1]
        return {".led": self.state[0], ".output": output}


class Relay(Law):
    """A coil, and a contact that stands as the coil was found to ask for."""

    branches = {"coil": ("a", "b"), "made": ("common", "no"), "rest": ("common", "nc")}

    def begin(self) -> None:
        """As it was."""
        self.state = (self.f["was"],)

    def pieces(self) -> dict[str, Piece]:
        """The coil, and whichever contact is made; a welded one whatever the coil does."""
        made = {"no": "made", "nc": "rest"}.get(self.f.get("welded") or "")
        made = made or ("made" if self.state[0] == "in" else "rest")
        found: dict[str, Piece] = {"coil": Tied(self.f["coil_ohm"]), "made": OPEN, "rest": OPEN}
        return found | {made: Tied(self.f["contact_ohm"])}

    def asks(self, seen: Seen) -> str:
        """Where its coil wants it."""
        volts = abs(seen.across("a", "b"))
        if volts >= self.f["pull_in_v"]:
            return "in"
        return "out" if volts <= self.f["release_v"] else self.state[0]

    def told(self) -> dict[str, str]:
        """By its coil."""
        return {"": self.state[0]}


class Pin(Junctions):
    """A pin of a board: its drive or pull, and two protection diodes that are always there."""

    branches = {"up": ("pin", "supply"), "down": ("ground", "pin"), "drive": ("pin", "ground")}
    junctions = (("up", "protection_v", "protection_ohm"),
                 ("down", "protection_v", "protection_ohm"))  # fmt: skip

    def begin(self) -> None:
        """Both open; what drives it leads to its supply or to ground."""
        super().begin()
        mode = self.f["mode"]
        leaks = self.f.get("leak_a", 0.0)
        towards = mode in ("high", "pulled_up") or (mode == "floating" and leaks >= 0)
        ends = ("supply", "pin") if towards else ("pin", "ground")
        self.branches = {**type(self).branches, "drive": ends}

    def pieces(self) -> dict[str, Piece]:
        """Diodes and drive."""
        f, mode = self.f, self.f["mode"]
        if mode == "floating":
            drive: Piece = Given(abs(f.get("leak_a", 0.0)))
        else:
            drive = Tied(f[{"high": "high_ohm", "low": "low_ohm"}.get(mode, "pull_ohm")])
        return super().pieces() | {"drive": drive}

    def told(self) -> dict[str, str]:
        """Which diode conducts."""
        return {"": {("on", "open"): "up", ("open", "on"): "down"}.get(self.state, "none")}


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
}
