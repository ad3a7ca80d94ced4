"""A sized channel as a circuit the solver takes, in one state at one corner."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import product
from typing import Any

from latchcore.bench.solver import Part
from latchcore.catalogue.records import Coupler, Relay
from latchcore.catalogue.switch_records import Bipolar, Diode, Mosfet, Zener
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.figures.quantity import QuantityError, parse
from latchcore.figures.spread import Spread
from latchcore.metal.netlist import Part as Fitted

VDD, GROUND, LOW = "board.VDD", "0V", "board.LOW"
#: Protection diodes of a pin: what they hold, their slope; slope of a diode; a relay's contact;
#: where a coil lets go, as a share of its volts; a base–emitter that breaks down: class figures.
PROTECTION_V, PROTECTION_OHM, SLOPE, CONTACT, LETS_GO, BREAKS = 0.6, 20.0, 0.05, 0.05, 0.1, 6.0
#: The least a rail's own way has [Ω]; what a sheet's highest on-resistance is at its least, and its
#: least gain at the most, as shares.
RAIL_OHM, LEAST_ON, MOST_GAIN = 0.01, 0.4, 4.0
#: Kinds of parts that carry nothing while direct current has settled.
SETTLED = frozenset({"snubber", "capacitor", "varistor", "suppressor"})


class NotModelled(Exception):
    """A circuit the solver does not take; the text says what of it."""


@dataclass(frozen=True, slots=True)
class Corner:
    """Supplies, resistances and junction drops each from their least (0) to their most (1)."""

    supply: float
    ohms: float
    drops: float

    def of(self, spread: Spread, share: float) -> float:
        """So far from the least of a spread to its most."""
        return between(spread.min, spread.max, share)


def between(least: float, most: float, share: float) -> float:
    """
    So far from one figure to another.

    Examples
    --------
    >>> between(10.0, 20.0, 0.25)
    12.5
    """
    return least + (most - least) * share


CORNERS = tuple(Corner(*ends) for ends in product((0.0, 1.0), repeat=3))
LINE_MODES = {"on": ("high", "low"), "off": ("low", "high")}


def circuit_of(context: ChannelContext, result: StageResult, state: str, at: Corner) -> list[Part]:
    """
    Everything of one channel that carries direct current, with its supplies.

    Parameters
    ----------
    context : ChannelContext
    result : StageResult
        With a single line
    state : str
        ``on`` or ``off``, as commanded
    at : Corner

    Raises
    ------
    NotModelled
        If a part of it has no law here
    """
    if result.motion is not None or result.on_with not in ("high", "low"):
        raise NotModelled("it has several lines, or nobody knows which level is on")
    return list(_Maker(context, result, state, at).parts())


@dataclass
class _Maker:
    context: ChannelContext
    result: StageResult
    state: str
    at: Corner

    def parts(self) -> Iterator[Part]:
        """Every part, then the supplies of the nodes they are on."""
        self.alternating = alternating = self._alternating()
        nodes: set[str] = set()
        for fitted in self.result.netlist.parts:
            ends = set(fitted.terminals.values())
            if fitted.kind in SETTLED or (ends & alternating and fitted.kind != "relay"):
                continue
            nodes |= ends
            yield self._part(fitted)
            if fitted.kind == "pin":
                # Unloaded, a low pin may stand as high as its sheet allows.
                low = self.context.board.vol_noload * self.at.drops
                figures = {"volts_v": low, "ohm": 0.0, "limit_a": None, "one_way": False}
                yield Part("V_OL", "source", {"plus": LOW, "minus": GROUND}, figures)
        yield from self._supplies(nodes)

    def _alternating(self) -> set[str]:
        """Nodes of rails that are no direct current, and what hangs behind a contact on them."""
        around, found = self.context.around, set()
        for rail in around.build.rails:
            if around.alternating(rail) or around.hazardous(rail):
                found |= {rail.id, around.return_of(rail)}
        for fitted in self.result.netlist.parts:
            if fitted.kind == "load" and set(fitted.terminals.values()) & found:
                found |= set(fitted.terminals.values())
        return found

    def _supplies(self, nodes: set[str]) -> Iterator[Part]:
        around, at = self.context.around, self.at
        volts = at.of(self.context.board.logic, at.supply)
        yield self._source("V_DD", VDD, GROUND, volts, 0.0)
        for rail in around.build.rails:
            if rail.id in nodes and not around.alternating(rail):
                spread = around.rail_volts(rail)
                back = around.return_of(rail)
                yield self._source(rail.id, rail.id, back, at.of(spread, at.supply), RAIL_OHM)

    @staticmethod
    def _source(name: str, plus: str, minus: str, volts: float, ohm: float) -> Part:
        figures = {"volts_v": volts, "ohm": ohm, "limit_a": None, "one_way": True}
        return Part(name, "source", {"plus": plus, "minus": minus}, figures)

    def _part(self, fitted: Fitted) -> Part:
        make = {
            "pin": self._pin,
            "resistor": self._resistor,
            "load": self._load,
            "npn": self._bipolar,
            "pnp": self._bipolar,
            "npn_darlington": self._bipolar,
            "pnp_darlington": self._bipolar,
            "nmos": self._mosfet,
            "pmos": self._mosfet,
            "diode": self._diode,
            "zener": self._zener,
            "coupler": self._coupler,
            "relay": self._relay,
        }.get(fitted.kind)
        if make is None:
            raise NotModelled(f"{fitted.kind.replace('_', ' ')} has no law in straight pieces here")
        return make(fitted)

    def _record(self, fitted: Fitted, kind: type) -> Any:
        """The record a part was fitted from, by what stands on it."""
        for record in self.result.parts.values():
            if isinstance(record, kind) and record.title == fitted.value:
                return record
        raise NotModelled(f"the figures of {fitted.ref} are not known")

    @property
    def _high(self) -> bool:
        """Whether the line is high in this state."""
        return self.result.on_with == ("high" if self.state == "on" else "low")

    def _pin(self, fitted: Fitted) -> Part:
        board, at = self.context.board, self.at
        high = self._high
        # Its drop at the rated current in the worst corner, next to none in the best.
        drop = between(board.voh_drop_noload, board.voh_drop_rated, at.drops)
        rise = between(0.0, board.vol_max - board.vol_noload, at.drops)
        figures = {
            "mode": "high" if high else "low",
            "protection_v": PROTECTION_V,
            "protection_ohm": PROTECTION_OHM,
            "high_ohm": max(drop, 1e-3) / board.rated_current,
            "low_ohm": max(rise, 1e-3) / board.rated_current,
        }
        # Also while it is high: one that stays low stands as high as that.
        where = {"pin": fitted.terminals["pin"], "supply": VDD, "ground": LOW}
        return Part(fitted.ref, "pin", where, figures)

    def _resistor(self, fitted: Fitted) -> Part:
        text = fitted.value.partition(",")[0]
        try:
            ohms = parse(text, "Ω")
        except QuantityError as error:
            raise NotModelled(f"{fitted.ref} {fitted.value} is no plain resistor") from error
        off = self.context.tolerance * (2 * self.at.ohms - 1)
        ends = {"a": fitted.terminals["1"], "b": fitted.terminals["2"]}
        return Part(fitted.ref, "resistor", ends, {"ohm": ohms * (1 + off)})

    def _load(self, fitted: Fitted) -> Part:
        load, at = self.context.load, self.at
        ends = {"a": fitted.terminals["+"], "b": fitted.terminals["-"]}
        if load.kind.model == "led":
            forward = Spread.of(load.rated, 0.1)
            figures = {"forward_v": at.of(forward, at.drops), "slope_ohm": SLOPE}
            return Part(fitted.ref, "led", {"a": ends["a"], "k": ends["b"]}, figures)
        if load.kind.model != "ohmic":
            raise NotModelled(f"{load.kind.title} is no plain resistance")
        ohms = at.of(load.resistance, at.ohms)
        return Part(fitted.ref, "winding", ends, {"ohm": ohms, "emf_v": 0.0})

    def _bipolar(self, fitted: Fitted) -> Part:
        part: Bipolar = self._record(fitted, Bipolar)
        at, load = self.at, max(self.result.running, 1e-3)
        figures = {
            "on_v": at.of(part.v_be, at.drops),
            "saturated_v": at.of(part.v_ce_sat, at.drops),
            "gain": part.gain(load) * between(MOST_GAIN, 1.0, at.drops),
            "reverse_gain": 2.0,
            "breakdown_v": BREAKS,
        }
        kind = "pnp" if fitted.kind.startswith("pnp") else "npn"
        names = {"base": "B", "collector": "C", "emitter": "E"}
        return Part(fitted.ref, kind, _at(fitted, names), figures)

    def _mosfet(self, fitted: Fitted) -> Part:
        part: Mosfet = self._record(fitted, Mosfet)
        at = self.at
        gate = part.on_voltage
        ohm = part.on_resistance(max(gate, self.context.board.voh_noload_min)) or part.r_on[0]
        figures = {
            "threshold_v": at.of(part.v_gs_th, at.drops),
            "on_v": max(gate, part.v_gs_th.max * 1.01),
            "on_a": part.i_d,
            "on_ohm": ohm * between(LEAST_ON, 1.0, at.ohms),
            "body_v": 0.8,
            "body_ohm": SLOPE,
        }
        names = {"gate": "G", "drain": "D", "source": "S"}
        return Part(fitted.ref, fitted.kind, _at(fitted, names), figures)

    def _diode(self, fitted: Fitted) -> Part:
        part: Diode = self._record(fitted, Diode)
        figures = {"forward_v": self.at.of(part.v_f, self.at.drops), "slope_ohm": SLOPE}
        return Part(fitted.ref, "diode", _at(fitted, {"a": "A", "k": "K"}), figures)

    def _zener(self, fitted: Fitted) -> Part:
        part: Zener = self._record(fitted, Zener)
        figures = {"forward_v": 0.7, "slope_ohm": SLOPE, "zener_ohm": 1.0}
        figures["zener_v"] = self.at.of(part.v_z, self.at.drops)
        return Part(fitted.ref, "zener", _at(fitted, {"a": "A", "k": "K"}), figures)

    def _coupler(self, fitted: Fitted) -> Part:
        part: Coupler = self._record(fitted, Coupler)
        at = self.at
        figures = {
            "forward_v": at.of(part.v_f, at.drops),
            "slope_ohm": SLOPE,
            "transfer": between(part.ctr_max, part.ctr_min, at.drops),
            "dark_a": part.dark * at.drops,
            "saturated_v": at.of(part.v_ce_sat, at.drops),
        }
        names = {"a": "A", "k": "K", "collector": "C", "emitter": "E"}
        return Part(fitted.ref, "coupler", _at(fitted, names), figures)

    def _relay(self, fitted: Fitted) -> Part:
        part: Relay = self._record(fitted, Relay)
        figures = {
            "coil_ohm": self.at.of(part.coil_resistance, self.at.ohms),
            "pull_in_v": part.pull_in * part.coil,
            "release_v": LETS_GO * part.coil,
            "contact_ohm": CONTACT,
            "was": "out",
            "welded": None,
        }
        names = {"a": "1", "b": "2", "common": "COM", "no": "NO", "nc": "NC"}
        where = _at(fitted, names)
        if not self.alternating.isdisjoint(where.values()):
            # Its contact is on what hurts; the coil is all there is to probe.
            where = {"a": where["a"], "b": where["b"]}
        return Part(fitted.ref, "relay", where, figures)


def _at(fitted: Fitted, names: Mapping[str, str]) -> dict[str, str]:
    """Nodes by the names the laws know terminals by; a contact that is not led out has none."""
    return {own: fitted.terminals[t] for own, t in names.items() if t in fitted.terminals}
