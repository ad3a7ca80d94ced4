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

    def __contains__(self, terminal: str) -> bool:
        return terminal in self._volts

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
