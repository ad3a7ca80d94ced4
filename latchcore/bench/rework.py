"""
Rework of a module: what was changed on it, read before and after; the part it has become follows
from the record.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from latchcore.catalogue import read_part
from latchcore.catalogue.records import Module
from latchcore.figures.quantity import QuantityError, digits, parse, show
from latchcore.figures.typed import Refusal

#: What can be changed: words, and the unit of its value where it has one.
KINDS = {
    "resistor": ("input resistor changed", "Ω"),
    "parallel": ("resistor put across the input resistor", "Ω"),
    "indicator": ("indicator in series bridged", None),
    "jumper_off": ("jumper removed: coils and inputs apart", None),
    "jumper_on": ("jumper fitted: coils and inputs joined", None),
    "rail_cut": ("rail cut between coils and inputs", None),
    "level_low": ("level jumper moved to low", None),
    "level_high": ("level jumper moved to high", None),
    "regulator": ("on-board regulator bypassed", None),
}
#: What is read before and after it, all of them wanted only where they say something.
READINGS = {
    "on_current": ("input current, on", "A"),
    "off_current": ("input current, off", "A"),
    "coil_volts": ("volts at the coil, on", "V"),
}
#: A reading further from what the record gives than this share is worth a word.
NEAR = 0.2


@dataclass(frozen=True)
class Judged:
    """A rework as judged: the record after it, and what its readings say against it."""

    figures: dict[str, Any]
    says: str
    doubts: tuple[str, ...]


class ReworkError(Refusal):
    """A rework that cannot be recorded; ``field`` is where it went wrong."""

    def __init__(self, message: str, field: str):
        super().__init__(message)
        self.field = field


def check(entry: dict[str, str]) -> dict[str, str]:
    """
    A rework as typed, judged for form: its kind, its value, its readings.

    Raises
    ------
    ReworkError
        Naming the field, what was typed and what was expected

    Examples
    --------
    >>> check({"kind": "parallel", "value": "1k2"})["value"]
    '1k2'
    """
    kind = entry.get("kind", "")
    if kind not in KINDS:
        raise ReworkError(
            f"“{kind[:40]}” is no rework known here; expected one of"
            f" {', '.join(w for w, _ in KINDS.values())}.",
            "kind",
        )
    unit = KINDS[kind][1]
    kept = {"kind": kind, "note": entry.get("note", "").strip()[:300]}
    for moment in ("before", "after"):
        for name, (_, reading) in READINGS.items():
            field = f"{moment}_{name}"
            if text := entry.get(field, "").strip()[:40]:
                try:
                    parse(text, reading, allow_zero=True)
                except QuantityError as error:
                    raise ReworkError(str(error), field) from error
                kept[field] = text
    if unit:
        text = entry.get("value", "").strip()[:40]
        both = kept.get("before_on_current") and kept.get("after_on_current")
        if not text and not (kind == "resistor" and both):
            raise ReworkError(
                "Nothing was typed; expected ohms such as “470”"
                + (", or the on-current before and after." if kind == "resistor" else "."),
                "value",
            )
        if text:
            try:
                parse(text, unit)
            except QuantityError as error:
                raise ReworkError(str(error), "value") from error
            kept["value"] = text
    return kept


def applied(raw: dict[str, Any], entry: dict[str, str]) -> Judged:
    """
    One rework put on a module's record.

    Parameters
    ----------
    raw : dict
        The record in its text form, before it
    entry : dict
        As :func:`check` returns it

    Returns
    -------
    Judged

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> after = applied(load_catalogue().raw["module-5v-low-plain"], {"kind": "parallel",
    ...     "value": "1k"})
    >>> after.figures["input_resistor"]
    '500 Ω ±5 %'
    """
    module: Module = read_part(raw)
    figures, kind, doubts = dict(raw), entry["kind"], []
    if kind in ("resistor", "parallel"):
        own = module.input_resistor.typ
        if entry.get("value"):
            value = parse(entry["value"], "Ω")
            value = value if kind == "resistor" else 1 / (1 / own + 1 / value)
        else:
            # The volts left over the LEDs stay: resistor and current go inversely.
            before, after = (
                parse(entry[f"{m}_on_current"], "A", allow_zero=True) for m in ("before", "after")
            )
            if after <= 0 or before <= 0:
                raise ReworkError(
                    "A current of nothing tells no resistor; expected a reading above zero.",
                    "after_on_current",
                )
            value = own * before / after
        figures["input_resistor"] = f"{digits(value)} Ω ±5 %"
    elif kind == "indicator":
        if module.indicator is None:
            raise ReworkError(
                "This module has no indicator in series; there is nothing to bridge.", "kind"
            )
        figures.pop("indicator")
    elif kind in ("jumper_off", "rail_cut"):
        figures["separate"] = True
    elif kind == "jumper_on":
        figures["separate"] = False
    elif kind in ("level_low", "level_high"):
        figures["active"] = kind.removeprefix("level_")
    else:
        if module.regulator is None:
            raise ReworkError(
                "This module has no regulator of its own; there is nothing to bypass.", "kind"
            )
        figures.pop("regulator")
        figures.pop("regulator_feeds", None)
    doubts += _against(figures, entry, "after")
    doubts += [f"before it, {d}" for d in _against(raw, entry, "before")]
    words = KINDS[kind][0] + (f": {entry['value']}" if entry.get("value") else "")
    return Judged(figures, words, tuple(doubts))


def on_current(raw: dict[str, Any]) -> float:
    """What the input takes when on, typical figures [A]."""
    module: Module = read_part(raw)
    drop = module.led.typ + (module.indicator.typ if module.indicator else 0.0)
    return max(module.supply - drop, 0.0) / module.input_resistor.typ


def _against(raw: dict[str, Any], entry: dict[str, str], moment: str) -> list[str]:
    """Readings of one moment that do not fit the record."""
    read, found = entry.get(f"{moment}_on_current"), []
    if read:
        reading, expected = parse(read, "A", allow_zero=True), on_current(raw)
        if abs(reading - expected) > NEAR * expected:
            found.append(
                f"{show(reading, 'A')} was read where the record gives {show(expected, 'A')}: is"
                " the supply as stated, was the right part changed?"
            )
    volts = entry.get(f"{moment}_coil_volts")
    if volts:
        reading, coil = parse(volts, "V", allow_zero=True), read_part(raw).coil
        if reading < 0.75 * coil:
            found.append(
                f"{show(reading, 'V')} at a coil for {show(coil, 'V')}: it may not pull in"
            )
    return found


def effective(
    original: dict[str, Any], entries: list[dict[str, str]]
) -> tuple[dict[str, Any], list[Judged]]:
    """
    The record after every rework in order, with each as judged.

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> raw, steps = effective(load_catalogue().raw["module-5v-low-indicator"],
    ...     [{"kind": "indicator"}, {"kind": "jumper_off"}])
    >>> "indicator" in raw, [s.says for s in steps][0]
    (False, 'indicator in series bridged')
    """
    figures, steps = dict(original), []
    for entry in entries:
        judged = applied(figures, entry)
        figures = judged.figures
        steps.append(judged)
    if entries:
        figures["source"] = (
            str(original.get("source") or "own part")[:150] + f"; reworked: {steps[-1].says}"
        )[:200]
    return figures, steps
