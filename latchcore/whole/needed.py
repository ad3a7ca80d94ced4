"""What a build needs of parts, by kind and value, with who needs it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import chain

from latchcore.design.fuse_words import as_stated
from latchcore.design.report import ChannelReport, Report, Sized, StageResult
from latchcore.document.models import Build, Rail
from latchcore.figures.quantity import show

#: What makes two parts one line: kind, text, and what the drawer knows it by.
Key = tuple[str, str, object]
#: What an input is made of besides its resistors, by kind of part.
OF_INPUTS = {
    "transformer": "Transformer",
    "bridge": "Rectifier",
    "coupler": "Coupler",
    "npn": "Transistor",
    "zener": "Zener",
    "sensor": "Sensor",
    "light_resistor": "Light-dependent resistor",
}


@dataclass(frozen=True, slots=True)
class Need:
    """Parts of one kind and value: who needs one each, and what the drawer knows it by."""

    kind: str
    text: str
    key: object
    users: tuple[str, ...]

    @property
    def named(self) -> str:
        """Who needs it, each once."""
        return " ".join(dict.fromkeys(self.users))


def parts_needed(report: Report, build: Build | None = None) -> list[Need]:
    """
    Every part in order of kind and value; an array is one package however many channels share it.

    Examples
    --------
    >>> from latchcore.evaluate import evaluate
    >>> parts_needed(evaluate(Build(name="Bench")))
    []
    """
    counts: dict[Key, list[str]] = {}
    for key, users in chain(
        _of_channels(report.channels),
        _of_inputs(report.inputs),
        _of_chains(report.chains),
        _of_rails(build.rails if build else ()),
        _of_laid(build),
    ):
        counts.setdefault(key, []).extend(users)
    order = sorted(counts.items(), key=lambda pair: (pair[0][0], str(pair[0][1])))
    return [Need(kind, text, key, tuple(users)) for (kind, text, key), users in order]


def _of_channels(channels: Iterable[ChannelReport]) -> Iterator[tuple[Key, list[str]]]:
    packages: set[tuple[str, str]] = set()
    for channel in channels:
        result = channel.result
        for value in result.values if result else []:
            if value.symbol.startswith("U") and value.key == "array":
                if (value.symbol, value.text) in packages:
                    continue
                packages.add((value.symbol, value.text))
            many = _how_many(value, result)
            yield _key(value, result), [channel.letter] * max(many, 1)


def _how_many(value: Sized, result: StageResult) -> int:
    """How many of a value a channel takes: a resistor for each string, a pull for each line."""
    if value.key == "string_resistor":
        return result.strings.count
    return value.many


def _key(value: Sized, result: StageResult) -> Key:
    if value.unit == "Ω":
        return "Resistor", show(value.value, "Ω") if value.value else value.text, value.value
    kind = "Fuse" if value.key in ("own_fuse", "coil_fuse") else value.label
    part = next((p for p in result.parts.values() if getattr(p, "title", "") == value.text), None)
    return kind, value.text, part.id if part is not None else value.text


def _of_inputs(inputs: Iterable) -> Iterator[tuple[Key, list[str]]]:
    for item in inputs:
        for value in item.values:
            if value.unit == "Ω" and value.value:
                many = (
                    item.found.many if value.key == "upper" else 2 if item.kind == "end_pair" else 1
                )
                yield ("Resistor", show(value.value, "Ω"), value.value), [item.name] * many
        for part in item.netlist.parts:
            if part.kind in OF_INPUTS:
                yield (OF_INPUTS[part.kind], part.value, part.value), [item.name]


def _of_chains(chains) -> Iterator[tuple[Key, list[str]]]:
    """Packages of a chain, a capacitor each, the pull at what releases them, a shifter."""
    for report in chains:
        part, many = report.context.part, report.context.chain.count
        yield ("Lines", part.title, part.id), [report.name] * many
        yield ("Capacitor", "100 nF", "100 nF"), [report.name] * many
        for value in report.values:
            if value.unit == "Ω" and value.value:
                yield ("Resistor", show(value.value, "Ω"), value.value), [report.name]
        if report.context.chain.shifter:
            lines = f"level shifter, {len(report.context.roles)} lines"
            yield ("Shifter", lines, lines), [report.name]


def _of_rails(rails: Iterable[Rail]) -> Iterator[tuple[Key, list[str]]]:
    for rail in rails:
        if text := as_stated(rail):
            yield ("Fuse", text, text), [rail.name] * (2 if rail.fuse_poles == "every" else 1)
        if rail.source == "mains":
            kind, what = ("Inlet", "with earth") if rail.entry == "inlet" else ("Lead", "with plug")
            yield (kind, what, what), [rail.name]


def _of_laid(build: Build | None) -> Iterator[tuple[Key, list[str]]]:
    """Distribution points and cables, as far as they are stated."""
    for block in build.blocks if build else ():
        kind = "Outlet" if block.kind == "outlet" else "Terminal block"
        places = f"{block.places} places a pole" if block.places else "places not stated"
        text = ", ".join(filter(None, [places, f"for {block.rating}" if block.rating else ""]))
        yield (kind, text, text), [block.name]
    for cable in build.cables if build else ():
        cores = f"{cable.cores} cores" if cable.cores else "cores not stated"
        text = ", ".join(filter(None, [cores, cable.wire_area, cable.wire_length]))
        yield ("Cable", text, text), [cable.name]
