"""What an oscilloscope would show of a stage: pin, switch and current, on, off and pulsed."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from latchcore.bench.circuit import GROUND, MIDDLE, NotModelled, circuit_of
from latchcore.bench.solver import NoPoint, Part, solve
from latchcore.catalogue.switch_records import Diode, Zener
from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.figures.table import Table
from latchcore.pieces.clamps import CLAMPS, Clamp
from latchcore.sums.coils import clamp_voltage, coil_current, decaying_current

Curve = NDArray[np.float64]
ON, OFF, PULSED = "on", "off", "pulsed"
#: How it is switched, in words.
SWITCHINGS = ((ON, "switched on"), (OFF, "switched off"), (PULSED, "pulsed"))
#: Points of a curve; time constants until all is settled; what stands before the edge; periods
#: shown of pulses, and run through before them so that they have settled.
POINTS, SETTLED, BEFORE, PERIODS, WARMED = 900, 5.0, 0.1, 3, 400
#: Where nothing is inductive an edge is drawn so long [s]; nothing is slower than a pin [s].
PLAIN, EDGE = 1e-3, 1e-6
#: A switch that nobody clamps breaks down a little above what its sheet bears, as a share.
BREAKS = 1.15
#: What is drawn of a switch nobody knows the limit of, as multiples of its rail.
UNKNOWN_BEARS = 3.0


@dataclass(frozen=True)
class Trace:
    """One curve: what is probed, in which unit, over the times of its picture."""

    key: str
    title: str
    unit: str
    values: Curve


@dataclass(frozen=True)
class Waves:
    """
    Curves of one switching with one clamp.

    Attributes
    ----------
    switching : str
        ``on``, ``off`` or ``pulsed``
    clamp : str
        What takes the current over, in words
    times : array
        From the edge on [s]
    traces : tuple of Trace
        Pin, switch, load, in this order
    limits : dict
        By key of a trace: what its part bears, with its name
    notes : tuple of str
        What the curves rest on
    """

    switching: str
    clamp: str
    times: Curve
    traces: tuple[Trace, ...]
    limits: dict[str, tuple[str, float]] = field(default_factory=dict)
    notes: tuple[str, ...] = ()

    def at(self, key: str, time: float) -> float:
        """What a curve shows at a time; at its ends beyond them."""
        trace = next(t for t in self.traces if t.key == key)
        return float(np.interp(time, self.times, trace.values))


@dataclass(frozen=True)
class _Stage:
    """What the curves of a channel are made from."""

    supply: float
    ohms: float
    henries: float
    on_volts: float
    amps: float
    low_side: bool
    pin_on: float
    pin_off: float
    bears: float | None
    bears_name: str

    @property
    def tau(self) -> float:
        return self.henries / self.ohms


def clamps_of(context: ChannelContext, result: StageResult) -> dict[str, Clamp]:
    """
    Clamps that can be laid side by side: the one fitted first, then every other kind with the
    smallest part of its family that fits the rail.
    """
    if not context.load.kind.inductive and result.coil.inductance is None:
        return {}
    around, volts = context.around, context.volts
    fitted = result.coil.clamp if isinstance(result.coil.clamp, Clamp) else None
    diodes = [d for d in around.family("diode") if isinstance(d, Diode)]
    diode = next((d for d in diodes if d.i_peak >= result.running), None)
    own = getattr(fitted, "diode", None) or diode
    zeners = [z for z in around.family("zener") if isinstance(z, Zener)]
    above = next((z for z in zeners if z.v_z.min > volts.max), None)
    quick = next((z for z in zeners if z.v_z.typ > volts.typ / 2), None)
    found: dict[str, Clamp] = {}
    if fitted is not None:
        found[fitted.kind] = fitted
    found.setdefault("diode", Clamp("diode", own))
    if quick is not None:
        found.setdefault("diode_zener", Clamp("diode_zener", own, quick))
    if above is not None:
        found.setdefault("zener_across_switch", Clamp("zener_across_switch", None, above))
    found.setdefault("none", Clamp("none"))
    return found


def waves_of(
    context: ChannelContext,
    result: StageResult,
    switching: str,
    clamp: Clamp | None = None,
    seconds: float | None = None,
) -> Waves:
    """
    The curves of one channel, its parts at the middle of their corners.

    Parameters
    ----------
    context : ChannelContext
    result : StageResult
    switching : str
        ``on``, ``off`` or ``pulsed``
    clamp : Clamp, optional
        In place of the one that is fitted
    seconds : float, optional
        How long they are from the edge on; until all is settled unless stated [s]

    Raises
    ------
    NotModelled
        If a part has no law, the load is on the line, or it is not pulsed at all
    """
    stage = _stage(context, result)
    fitted = result.coil.clamp if isinstance(result.coil.clamp, Clamp) else None
    used = clamp or fitted or Clamp("none")
    make: dict[str, Callable[..., Waves]] = {ON: _on, OFF: _off, PULSED: _pulsed}
    if switching not in make:
        raise NotModelled(f"“{switching}” is no way of switching")
    return make[switching](context, stage, used, seconds)


def _stage(context: ChannelContext, result: StageResult) -> _Stage:
    if result.motion is not None:
        raise NotModelled("it has several lines: look at each state by its readings")
    parts = circuit_of(context, result, "on", MIDDLE)
    off = circuit_of(context, result, "off", MIDDLE)
    try:
        point, idle = solve(parts), solve(off)
    except NoPoint as error:
        raise NotModelled(str(error)) from error
    load = _driven(context, parts)
    if load is None or point.undecided or point.chatters:
        raise NotModelled("its load is not in the circuit of direct current")
    plus, minus = load.at["a"], load.at["b" if "b" in load.at else "k"]
    rails = {rail.id: rail for rail in context.around.build.rails}
    low_side = minus not in rails and minus != GROUND
    switch = minus if low_side else plus
    rail = plus if low_side else next((r for r in rails if r in _nodes(parts)), None)
    if rail not in rails:
        raise NotModelled("its load hangs on a pin: it switches as fast as the pin does")
    supply = point.volts(rail, context.around.return_of(rails[rail])) or 0.0
    amps = abs(point.amps_into(f"{load.id}.a"))
    pin = next(p.at["pin"] for p in parts if p.kind == "pin")
    bears, name = _bears(result)
    ohms = supply / amps if amps else context.load.resistance.typ
    return _Stage(
        supply, ohms, _henries(context, result, load), point.volts(switch, GROUND) or 0.0, amps,
        low_side, point.volts(pin, GROUND) or 0.0, idle.volts(pin, GROUND) or 0.0, bears, name,
    )  # fmt: skip


def _nodes(parts: Iterable[Part]) -> set[str]:
    return {node for part in parts for node in part.at.values()}


def _driven(context: ChannelContext, parts: list[Part]) -> Part | None:
    """What the switch drives: the load itself, or the coil of what switches it."""
    own = f"{context.channel.id}."
    load = next((p for p in parts if p.id == f"{own}LOAD" and "a" in p.at), None)
    relay = next((p for p in parts if p.id.startswith(own) and p.kind == "relay"), None)
    return relay or load


def _henries(context: ChannelContext, result: StageResult, load: Part) -> float:
    if load.kind == "relay":
        return result.coil.inductance or 0.0
    found = context.load.inductance
    return found.typ if found is not None else 0.0


def _bears(result: StageResult) -> tuple[float | None, str]:
    """What the switch bears while it is open [V]."""
    for record in result.parts.values():
        for field_name, words in (("v_ds", "V_DS"), ("v_ceo", "V_CEO"), ("v_ce", "V_CE")):
            volts = getattr(record, field_name, None)
            if isinstance(volts, float):
                return volts, f"what the switch bears, {words}"
    return None, ""


def _volts(clamp: Clamp, stage: _Stage) -> float:
    """What a clamp puts across the coil [V]; of none what the switch breaks down at."""
    if clamp.kind == "none":
        bears = stage.bears if stage.bears is not None else UNKNOWN_BEARS * stage.supply
        return BREAKS * bears - stage.supply
    diode = clamp.diode.v_f.typ if clamp.diode is not None else 0.0
    zener = clamp.zener.v_z.typ if clamp.zener is not None else 0.0
    # A diode built into a coil is one across it.
    kind = "diode" if clamp.kind == "built_in" else clamp.kind
    return clamp_voltage(kind, stage.supply, diode, zener)


def _words(clamp: Clamp) -> str:
    named = dict(CLAMPS)[clamp.kind]
    parts = [p.title.partition(",")[0] for p in (clamp.diode, clamp.zener) if p is not None]
    return f"{named} ({', '.join(parts)})" if parts else named


def _notes(stage: _Stage, clamp: Clamp) -> tuple[str, ...]:
    found = ["Parts at the middle of their corners; wires, stray capacitance and ringing left out."]
    if clamp.kind == "none" and stage.henries:
        found.append("Nothing takes the current over: the switch breaks down, and bears it itself.")
        if stage.bears is None:
            found.append("What it breaks down at is not known: drawn at three times its rail.")
    return tuple(found)


def _made(
    stage: _Stage, clamp: Clamp, switching: str, times: Curve, seen: tuple[Curve, Curve, Curve]
) -> Waves:
    """Curves of pin, switch and current with what they are held against."""
    pin, switch, amps = seen
    limits = {"amps": ("what flows when settled", stage.amps)}
    if stage.bears is not None:
        # A switch above bears the rail less what its output goes to.
        most = stage.bears if stage.low_side else stage.supply - stage.bears
        limits["switch"] = (stage.bears_name, most)
    traces = (
        Trace("pin", "Pin", "V", pin),
        Trace("switch", "Switched end of the load", "V", switch),
        Trace("amps", "Load current", "A", amps),
    )
    words = _words(clamp) if stage.henries else "nothing stored, nothing to clamp"
    return Waves(switching, words, times, traces, limits, _notes(stage, clamp))


def _span(seconds: float) -> Curve:
    """Times around an edge, with one on either side of it so that it stands upright."""
    ahead = POINTS // 10
    return np.concatenate([
        np.linspace(-BEFORE * seconds, -1e-9 * seconds, ahead),
        np.linspace(0.0, seconds, POINTS - ahead),
    ])  # fmt: skip


def _on(context: ChannelContext, stage: _Stage, clamp: Clamp, seconds: float | None) -> Waves:
    """The current of a coil rises; the switch is where it stays at once."""
    times = _span(seconds or (SETTLED * stage.tau if stage.henries else PLAIN))
    after = times >= 0
    idle = stage.supply if stage.low_side else 0.0
    switch = np.where(after, stage.on_volts, idle)
    if stage.henries:
        rise = coil_current(np.maximum(times, 0.0), stage.supply, stage.ohms, stage.henries)
    else:
        rise = np.full_like(times, stage.amps)
    amps = np.where(after, rise, 0.0)
    pin = np.where(after, stage.pin_on, stage.pin_off)
    return _made(stage, clamp, ON, times, (pin, switch, amps))


def _off(context: ChannelContext, stage: _Stage, clamp: Clamp, seconds: float | None) -> Waves:
    """The current carries on through the clamp until it is spent."""
    across = _volts(clamp, stage)
    if stage.henries and across <= 0:
        raise NotModelled("that clamp stands under its rail: it would conduct always")
    zero = stage.tau * math.log1p(stage.amps * stage.ohms / across) if stage.henries else 0.0
    times = _span(seconds or (max(1.5 * zero, 20 * EDGE) if stage.henries else PLAIN))
    after = times >= 0
    if stage.henries:
        falls = decaying_current(np.maximum(times, 0.0), stage.amps, stage.ohms, stage.henries,
                                 across)  # fmt: skip
    else:
        falls = np.zeros_like(times)
    amps = np.where(after, falls, stage.amps)
    switch = np.where(after, _open_volts(stage, amps, across), stage.on_volts)
    pin = np.where(after, stage.pin_off, stage.pin_on)
    return _made(stage, clamp, OFF, times, (pin, switch, amps))


def _open_volts(stage: _Stage, amps: Curve, across: float) -> Curve:
    """What the open switch stands at: past the rail while anything flows, then at rest."""
    rest = stage.supply if stage.low_side else 0.0
    thrown = stage.supply + across if stage.low_side else -across
    return np.where((amps > 0) & (stage.henries > 0), thrown, rest)


def _pulsed(context: ChannelContext, stage: _Stage, clamp: Clamp, seconds: float | None) -> Waves:
    """Pulses that have settled: the current rises while it is on and carries on while it is off."""
    if not context.frequency:
        raise NotModelled("it is not pulsed: say its frequency and its duty first")
    period, duty = 1 / context.frequency, context.duty
    across = _volts(clamp, stage)
    if stage.henries and across <= 0:
        raise NotModelled("that clamp stands under its rail: it would conduct always")
    begins = _settled(stage, period, duty, across)
    times = np.linspace(0.0, PERIODS * period, POINTS)
    within = np.mod(times, period)
    closed = within < duty * period
    if stage.henries:
        final = stage.supply / stage.ohms
        rise = final + (begins - final) * np.exp(-within / stage.tau)
        top = final + (begins - final) * math.exp(-duty * period / stage.tau)
        falls = decaying_current(np.maximum(within - duty * period, 0.0), top, stage.ohms,
                                 stage.henries, across)  # fmt: skip
        amps = np.where(closed, rise, falls)
    else:
        amps = np.where(closed, stage.amps, 0.0)
    switch = np.where(closed, stage.on_volts, _open_volts(stage, amps, across))
    pin = np.where(closed, stage.pin_on, stage.pin_off)
    return _made(stage, clamp, PULSED, times, (pin, switch, amps))


def _settled(stage: _Stage, period: float, duty: float, across: float) -> float:
    """What flows at the beginning of a period once pulses have gone on for long [A]."""
    amps = 0.0
    if not stage.henries:
        return amps
    final, on = stage.supply / stage.ohms, math.exp(-duty * period / stage.tau)
    for _ in range(WARMED):
        top = final + (amps - final) * on
        rest = (1 - duty) * period
        then = float(decaying_current(rest, top, stage.ohms, stage.henries, across))
        if abs(then - amps) < 1e-9:
            break
        amps = then
    return amps


def waves_table(found: Iterable[Waves]) -> Table:
    """Curves side by side as a table: a time, then pin, switch and current of each."""
    laid = list(found)
    head = ["time of the first, s"]
    columns: list[Curve] = [laid[0].times]
    for wave in laid:
        same = wave.times.shape == laid[0].times.shape and np.allclose(wave.times, laid[0].times)
        if not same:
            head.append(f"time, s ({wave.clamp})")
            columns.append(wave.times)
        for trace in wave.traces:
            head.append(f"{trace.title}, {trace.unit} ({wave.clamp})")
            columns.append(trace.values)
    rows = tuple(tuple(f"{column[n]:.6g}" for column in columns) for n in range(POINTS))
    return Table("waves", "Waveforms", tuple(head), rows)
