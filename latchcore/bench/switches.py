"""Laws of what switches: MOSFETs, couplers, relays; and every law by its kind of part."""

from __future__ import annotations

from abc import abstractmethod

from latchcore.bench.laws import (
    OPEN,
    SLACK_A,
    SLACK_V,
    Given,
    Law,
    Piece,
    Seen,
    Tied,
    conducts,
)


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


class Held(Law):
    """A part that stays as it is until everything else has settled, and then asks to change."""

    def hold(self, asked: str) -> None:
        """Be as was asked; what else it has settled by itself stays."""
        self.state = (asked, *self.state[1:])

    @abstractmethod
    def asks(self, seen: Seen) -> str:
        """How it wants to be, by what it sees."""

    @property
    def gates(self) -> list[tuple[str, str]]:
        """Pairs of terminals nothing is decided by while nothing ties them."""
        return []


class Relay(Held):
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
