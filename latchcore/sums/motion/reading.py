"""What each reader of a line takes it for: driven, pulled by board or resistor, floating."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from latchcore.sums.motion.power import Line, Power

#: A dead board's pin holds its line at this, at the most [V].
DEAD_PIN = 0.6


def _by_volts(line: Line, volts: float) -> int | None:
    if volts <= line.low_most:
        return 0
    return 1 if volts >= line.high_least else None


def read(power: Power, line: Line, letter: str) -> int | None:
    """
    What surely is read of a line, ``None`` where nothing decides.

    Parameters
    ----------
    letter : str
        ``1`` ``0`` driven, ``z`` floating, ``u`` ``d`` weakly pulled by the board, ``p`` of a board
        without power, ``x`` driven to nobody knows what
    """
    if letter in "10":
        return int(letter)
    if letter == "x":
        return None
    pull = line.pull
    top = power.pull if pull is not None and pull.fed_by == "load" else power.logic
    if letter == "z":
        if pull is None:
            return {"low": 0, "high": 1}.get(line.open)
        return _by_volts(line, top if pull.to == "high" else 0.0)
    if letter == "p":
        if pull is not None and pull.to == "low":
            return 0
        return _by_volts(line, DEAD_PIN)
    weak, up = power.start.weak, letter == "u"
    if pull is None or (pull.to == "high") == up:
        return _by_volts(line, power.logic if up else 0.0)
    if up:
        return _by_volts(line, power.logic * pull.ohms / (pull.ohms + weak))
    return _by_volts(line, top * weak / (pull.ohms + weak))


def _gate(op: str, levels: list[int]) -> int:
    if op in ("same", "not"):
        return levels[0] if op == "same" else 1 - levels[0]
    whole = all(levels) if op in ("and", "nand") else any(levels)
    return int(whole) if op in ("and", "or") else int(not whole)


def readings(
    power: Power, combination: str, without: frozenset[str] = frozenset()
) -> Iterator[dict[tuple[str, str], int]]:
    """
    Every way a combination may be taken: level by reader and signal.

    What is undecided every switch, gate, chip and relay takes for itself; a gate decides once for
    all that follow it. ``without`` names gates that are thought away: they hand on what they read
    first.
    """
    dead = "p" in combination
    index = power.index
    sure = {
        line.name: read(power, line, letter)
        for line, letter in zip(power.lines, combination, strict=True)
    }
    shared = [n for n in sure if combination[index[n]] == "x"]
    readers = [(g.name, s) for g in power.gates for s in g.of]
    readers += [(s.name, s.signal) for s in power.switches]
    readers += [(c.name, c.signal) for c in power.changeovers]
    readers += [(c.name, s) for c in power.chips for s in c.inputs]
    gates = {g.name: g for g in power.gates}
    floating = {
        g.name
        for g in power.gates
        if dead and g.fed_by == "board" and g.dead not in ("low", "high")
    }
    open_to = list(
        dict.fromkeys(
            (reader, signal)
            for reader, signal in readers
            if (signal in sure and sure[signal] is None and signal not in shared)
            or signal in floating
        )
    )
    for levels in itertools.product((0, 1), repeat=len(shared)):
        known = dict(zip(shared, levels, strict=True))
        for taken in itertools.product((0, 1), repeat=len(open_to)):
            choice = dict(zip(open_to, taken, strict=True))
            yield _settled(power, sure | known, choice, gates, dead, without)


def _settled(power, sure, choice, gates, dead, without) -> dict[tuple[str, str], int]:
    """Level of each signal for each of its readers, gates worked out in their order."""
    out: dict[str, int] = {}

    def level(reader: str, signal: str) -> int:
        if (reader, signal) in choice:
            return choice[reader, signal]
        return out[signal] if signal in gates else sure[signal]

    for gate in power.gates:
        if dead and gate.fed_by == "board":
            out[gate.name] = 1 if gate.dead == "high" else 0
            continue
        levels = [level(gate.name, s) for s in gate.of]
        out[gate.name] = levels[0] if gate.name in without else _gate(gate.op, levels)
    found = {}
    for switch in power.switches:
        found[switch.name, switch.signal] = level(switch.name, switch.signal)
    for contact in power.changeovers:
        found[contact.name, contact.signal] = level(contact.name, contact.signal)
    for chip in power.chips:
        for signal in chip.inputs:
            found[chip.name, signal] = level(chip.name, signal)
    return found
