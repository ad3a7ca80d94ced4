"""A fitted part as the solver takes it, with its figures at one corner."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from latchcore.bench.corners import Corner, NotModelled, between
from latchcore.bench.packages import LEVEL_OHM
from latchcore.bench.solver import Part
from latchcore.catalogue.records import AnalogueSwitch, Coupler, Module, Photovoltaic, Reed, Relay
from latchcore.catalogue.switch_records import Array, Bipolar, BridgeChip, Diode, Mosfet, Zener
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.figures.quantity import QuantityError, parse
from latchcore.figures.spread import Spread
from latchcore.metal.netlist import Part as Fitted
from latchcore.pieces.bridge_states import chip_rows
from latchcore.pieces.module_input import pulled_low

VDD, GROUND, LOW = "board.VDD", "0V", "board.LOW"
#: Protection diodes of a pin: what they hold, their slope; slope of a diode; a relay's contact;
#: where a coil lets go, as a share of its volts; a base–emitter that breaks down: class figures.
PROTECTION_V, PROTECTION_OHM, SLOPE, CONTACT, LETS_GO, BREAKS = 0.6, 20.0, 0.05, 0.05, 0.1, 6.0
#: What a sheet's highest on-resistance is at its least, and its least gain at the most, as shares.
LEAST_ON, MOST_GAIN = 0.4, 4.0
#: An input's own way to ground where it reads low by itself [Ω]; what a dark photovoltaic coupler
#: has across its output [Ω]; a Darlington's two junctions, and their gain.
INPUT_OHM, DARK_OHM, TWO_JUNCTIONS, DOUBLE_GAIN = 1e6, 1e6, Spread(1.2, 1.4, 1.6), 1000.0
#: What is lit acts from this share on of the current its sheet wants at the worst.
LETS_GO_AT = 0.5
#: Loads that are a current at their volts, which is a resistance to a meter.
DRAWS = frozenset({
    "ohmic", "constant_power", "reversing", "two_coils", "two_way_coil", "four_coils",
    "two_windings",
})  # fmt: skip
#: Loads that are the line of another device, pulled up inside it.
FOREIGN = frozenset({"logic", "pair"})


class Made:
    """Makes parts of one channel at one corner, its lines at given levels."""

    def __init__(
        self,
        context: ChannelContext,
        result: StageResult,
        levels: Mapping[str, bool],
        at: Corner,
        acts: bool,
    ) -> None:
        self.context, self.result, self.levels, self.at = context, result, levels, at
        self.acts = acts

    def part(self, fitted: Fitted, left_out: frozenset[str] = frozenset()) -> list[Part]:
        """
        What one part becomes; nodes ``left_out`` are on what is no direct current.

        Raises
        ------
        NotModelled
            If it has no law
        """
        make = getattr(self, f"_{KINDS.get(fitted.kind, '')}", None)
        if make is None:
            raise NotModelled(f"{fitted.kind.replace('_', ' ')} has no law in straight pieces here")
        made = make(fitted)
        found = made if isinstance(made, list) else [made]
        if left_out:
            found = [
                Part(p.id, p.kind, {t: n for t, n in p.at.items() if n not in left_out}, p.figures)
                for p in found
            ]
        return [p for p in found if p.at]

    def _record(self, fitted: Fitted, kind: type) -> Any:
        """The record a part was fitted from, by what stands on it."""
        known = self.context.around.catalogue.parts.values()
        for record in (*self.result.parts.values(), *known):
            if isinstance(record, kind) and fitted.value in (record.title, short(record.title)):
                return record
        raise NotModelled(f"the figures of {fitted.ref} are not known")

    def _known(self, fitted: Fitted, figure: str) -> Any:
        """The record of a part that states some figure, whatever its family."""
        for record in self.result.parts.values():
            if record.title == fitted.value and hasattr(record, figure):
                return record
        raise NotModelled(f"the figures of {fitted.ref} are not known")

    def _pin(self, fitted: Fitted) -> list[Part]:
        board, at, node = self.context.board, self.at, fitted.terminals["pin"]
        high = self.levels[node]
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
        where = {"pin": node, "supply": VDD, "ground": LOW}
        return [Part(fitted.ref, "pin", where, figures)]

    def _resistor(self, fitted: Fitted) -> Part:
        text = fitted.value.partition(",")[0]
        try:
            ohms = parse(text, "Ω")
        except QuantityError as error:
            raise NotModelled(f"{fitted.ref} {fitted.value} is no plain resistor") from error
        off = self.context.tolerance * (2 * self.at.ohms - 1)
        ends = {"a": fitted.terminals["1"], "b": fitted.terminals["2"]}
        return Part(fitted.ref, "resistor", ends, {"ohm": ohms * (1 + off)})

    def _wire(self, fitted: Fitted) -> Part:
        ends = dict(zip("ab", fitted.terminals.values(), strict=False))
        return Part(fitted.ref, "resistor", ends, {"ohm": 0.01})

    def _load(self, fitted: Fitted) -> Part:
        load, at, model = self.context.load, self.at, self.context.load.kind.model
        ends = {"a": fitted.terminals["+"], "b": fitted.terminals["-"]}
        if model == "led":
            forward = Spread.of(load.rated, 0.1)
            figures = {"forward_v": at.of(forward, at.drops), "slope_ohm": SLOPE}
            return Part(fitted.ref, "led", {"a": ends["a"], "k": ends["b"]}, figures)
        if model == "led_string":
            # The LEDs take their share of the volts first, resistors inside the rest.
            first = load.led_share * load.rated
            amps = at.of(load.current, 1 - at.ohms)
            figures = {"forward_v": first, "slope_ohm": (load.rated - first) / amps}
            return Part(fitted.ref, "led", {"a": ends["a"], "k": ends["b"]}, figures)
        if model == "led_array" and not self.result.strings.constant_current:
            many = self.result.strings
            forward = Spread.of(load.rated * many.per_string, 0.1)
            figures = {"forward_v": at.of(forward, at.drops), "slope_ohm": SLOPE}
            return Part(fitted.ref, "led", {"a": ends["a"], "k": ends["b"]}, figures)
        if model in FOREIGN:
            # The other device pulls its line up to its own supply.
            figures = {"volts_v": load.rated, "ohm": at.of(load.resistance, at.ohms),
                       "limit_a": None, "one_way": True}  # fmt: skip
            return Part(fitted.ref, "source", {"plus": ends["a"], "minus": ends["b"]}, figures)
        if model not in DRAWS:
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

    def _array(self, fitted: Fitted) -> list[Part]:
        """A Darlington with the resistor before its base, and the diode to the common pin."""
        part: Array = self._record(fitted, Array)
        at, base = self.at, f"{fitted.ref}.base"
        amps = max(self.result.running, part.drop_at[0])
        drop = between(part.drop(amps, worst=False), part.drop(amps), at.drops)
        figures = {"on_v": at.of(TWO_JUNCTIONS, at.drops), "saturated_v": drop,
                   "gain": DOUBLE_GAIN, "reverse_gain": 2.0, "breakdown_v": BREAKS}  # fmt: skip
        ends = {"base": base, "collector": fitted.terminals["OUT"],
                "emitter": fitted.terminals["GND"]}  # fmt: skip
        ohms = at.of(part.input_resistor, at.ohms)
        found = [
            Part(f"{fitted.ref}.in", "resistor", {"a": fitted.terminals["IN"], "b": base},
                 {"ohm": ohms}),
            Part(fitted.ref, "npn", ends, figures),
        ]  # fmt: skip
        if "COM" in fitted.terminals:
            clamp = {"forward_v": at.of(part.v_f, at.drops), "slope_ohm": SLOPE}
            where = {"a": fitted.terminals["OUT"], "k": fitted.terminals["COM"]}
            found.append(Part(f"{fitted.ref}.diode", "diode", where, clamp))
        return found

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

    def _drain(self, fitted: Fitted) -> Part:
        """An open drain of a register: its latch decides, no line of its own does."""
        line = self.context.around.of_line(self.context.channel.pin)
        on_ohm = line.part.r_on if line is not None else None
        if on_ohm is None:
            raise NotModelled(f"what {fitted.ref} has when it is on is not known")
        ends = {"a": fitted.terminals["OUT"], "b": fitted.terminals["GND"]}
        ohm = on_ohm * between(LEAST_ON, 1.0, self.at.ohms)
        return Part(fitted.ref, "switch", ends, {"closed": self.acts, "closed_ohm": ohm})

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

    def _photovoltaic(self, fitted: Fitted) -> Part:
        part: Photovoltaic = self._record(fitted, Photovoltaic)
        at = self.at
        volts = between(part.v_oc_min, part.v_oc_max, at.supply)
        figures = {
            "forward_v": at.of(part.v_f, at.drops),
            "input_ohm": SLOPE,
            "on_a": part.i_f * LETS_GO_AT,
            "off_a": part.i_f * LETS_GO_AT / 2,
            "open_v": volts,
            "inner_ohm": volts / part.i_sc_min,
            "rest_ohm": DARK_OHM if part.discharges else None,
        }
        names = {"a": "A", "k": "K", "plus": "+", "minus": "-"}
        return Part(fitted.ref, "lit", _at(fitted, names), figures)

    def _relay(self, fitted: Fitted) -> Part:
        part: Relay = self._record(fitted, Relay)
        figures = self._coil(part.coil, self.at.of(part.coil_resistance, self.at.ohms),
                             part.pull_in)  # fmt: skip
        names = {"a": "1", "b": "2", "common": "COM", "no": "NO", "nc": "NC"}
        return Part(fitted.ref, "relay", _at(fitted, names), figures)

    def _reed(self, fitted: Fitted) -> Part:
        part: Reed = self._record(fitted, Reed)
        ohms = part.coil_resistance * (1 + 0.1 * (2 * self.at.ohms - 1))
        names = {"a": "1", "b": "2", "common": "3", "no": "4"}
        figures = self._coil(part.coil, ohms, part.pull_in)
        return Part(fitted.ref, "relay", _at(fitted, names), figures)

    @staticmethod
    def _coil(volts: float, ohms: float, pull_in: float) -> dict[str, Any]:
        return {"coil_ohm": ohms, "pull_in_v": pull_in * volts, "release_v": LETS_GO * volts,
                "contact_ohm": CONTACT, "was": "out", "welded": None}  # fmt: skip

    def _module(self, fitted: Fitted) -> Part:
        """A module: an LED or a base, and the coil or the switch it lets act."""
        module: Module = self._record(fitted, Module)
        at, ends = self.at, fitted.terminals
        if module.regulator is not None or "RIN" in ends:
            raise NotModelled("what stands inside the module is not all known")
        low = pulled_low(self.context, module)
        forward = at.of(module.led, at.drops)
        forward += at.of(module.indicator, at.drops) if module.indicator is not None else 0.0
        figures: dict[str, Any] = {
            "forward_v": forward,
            "input_ohm": at.of(module.input_resistor, at.ohms),
            "on_a": module.on_current * LETS_GO_AT,
            "off_a": module.off_current,
        }
        where = {"a": ends["VCC"], "k": ends["IN"]} if low else {
            "a": ends["IN"], "k": ends.get("IN-", ends["GND"])}  # fmt: skip
        if module.output == "contact":
            coil = self._coil(module.coil, at.of(module.coil_resistance, at.ohms), module.pull_in)
            figures |= {k: v for k, v in coil.items() if k != "was"}
            where |= {"coil": ends["COIL+"], "back": ends["GND"]}
            where |= _at(fitted, {"common": "COM", "no": "NO", "nc": "NC"})
        else:
            figures |= {"on_ohm": SLOPE, "on_v": (module.out_drop or 0.0) * at.drops}
            where |= _at(fitted, {"plus": "OUT+", "minus": "OUT-"})
        return Part(fitted.ref, "lit", where, figures)

    def _solid(self, fitted: Fitted) -> Part:
        """A device in one block: an input that draws its current, and a switch."""
        record = self._known(fitted, "input_current")
        amps = record.input_current
        figures = {
            "forward_v": record.input_min / 2,
            "input_ohm": record.input_min / 2 / amps,
            "on_a": amps * LETS_GO_AT / 2,
            "off_a": amps * LETS_GO_AT / 4,
            "on_ohm": SLOPE,
            "on_v": getattr(record, "drop", 0.0) * self.at.drops,
        }
        names = {"a": "+", "k": "-", "plus": "OUT+", "minus": "OUT-"}
        return Part(fitted.ref, "lit", _at(fitted, names), figures)

    def _triac_driver(self, fitted: Fitted) -> Part:
        """Its LED; what it fires is on alternating current, and no point to probe."""
        record = self._known(fitted, "v_f")
        figures = {"forward_v": self.at.of(record.v_f, self.at.drops), "slope_ohm": SLOPE}
        return Part(fitted.ref, "led", _at(fitted, {"a": "A", "k": "K"}), figures)

    def _analogue_switch(self, fitted: Fitted) -> Part:
        part: AnalogueSwitch = self._record(fitted, AnalogueSwitch)
        ends = {"a": fitted.terminals["A"], "b": fitted.terminals["B"]}
        high = self.levels.get(fitted.terminals["IN"], False)
        return Part(fitted.ref, "switch", ends, {"closed": high, "closed_ohm": part.r_on})

    def _bridge(self, fitted: Fitted) -> Part:
        part: BridgeChip = self._record(fitted, BridgeChip)
        at, ends = self.at, fitted.terminals
        enabled = "EN" in ends
        most = part.drop_max[-1] / part.drop_at[-1] / 2
        ohm = between(LEAST_ON * most, most, at.ohms)
        inputs = (*(("enable",) if enabled else ()), "in1", "in2")
        figures = {
            "inputs": inputs,
            "outputs": ("out1", "out2"),
            "rows": chip_rows(part, enabled),
            "reads_low": part.reads_low,
            "reads_high": part.reads_high,
            "input_ohm": INPUT_OHM if part.open_reads == "low" else None,
            "high_ohm": ohm,
            "low_ohm": ohm,
            "least_supply": part.v_supply_min,
        }
        names = {"supply": "VM", "ground": "GND", "in1": "IN1", "in2": "IN2", "out1": "OUT1",
                 "out2": "OUT2", "enable": "EN"}  # fmt: skip
        return Part(fitted.ref, "package", _at(fitted, names), figures)

    def _lock(self, fitted: Fitted) -> Part:
        """Each line only without the other, at the board's own levels."""
        volts = self.context.board.logic.min
        figures = {
            "inputs": ("in1", "in2"),
            "outputs": ("out1", "out2"),
            "rows": (("10", ("high", "low")), ("01", ("low", "high")), ("xx", ("low", "low"))),
            "reads_low": 0.3 * volts,
            "reads_high": 0.7 * volts,
            "input_ohm": None,
            "high_ohm": LEVEL_OHM,
            "low_ohm": LEVEL_OHM,
            "least_supply": 0.0,
        }
        names = {"supply": "VCC", "ground": "GND", "in1": "IN1", "in2": "IN2", "out1": "OUT1",
                 "out2": "OUT2"}  # fmt: skip
        return Part(fitted.ref, "package", _at(fitted, names), figures)


#: How each kind of part is made.
KINDS = {
    "pin": "pin", "resistor": "resistor", "wire": "wire", "load": "load", "npn": "bipolar",
    "pnp": "bipolar", "npn_darlington": "bipolar", "pnp_darlington": "bipolar", "array": "array",
    "nmos": "mosfet", "pmos": "mosfet", "chain_out": "drain", "diode": "diode", "zener": "zener",
    "coupler": "coupler", "pv_coupler": "photovoltaic", "relay": "relay", "reed": "reed",
    "module": "module", "module_joined": "module", "solid": "module", "solid_joined": "module",
    "solid_relay": "solid", "solid_direct": "solid", "packaged": "solid",
    "triac_driver": "triac_driver", "analogue_switch": "analogue_switch",
    "bridge_chip": "bridge", "lock": "lock",
}  # fmt: skip


def short(title: str) -> str:
    """A title without the package behind its comma."""
    return title.partition(",")[0]


def _at(fitted: Fitted, names: Mapping[str, str]) -> dict[str, str]:
    """Nodes by the names the laws know terminals by; a contact that is not led out has none."""
    return {own: fitted.terminals[t] for own, t in names.items() if t in fitted.terminals}
