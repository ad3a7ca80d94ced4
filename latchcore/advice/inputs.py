"""What mends a finding of a sense input: edits of it, each tried on a copy."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from itertools import chain

from latchcore.design.context import BuildContext
from latchcore.design.report import Remedy
from latchcore.document.models import SenseInput
from latchcore.edits import EditError, apply
from latchcore.figures.quantity import show
from latchcore.findings.senses import CLEARED, OF_THE_LINE
from latchcore.pieces.input_kinds import KINDS
from latchcore.senses import InputReport, sense

#: What of an input is tried: a label with the edits of it.
Candidate = tuple[str, tuple[tuple[str, dict[str, str]], ...]]


def _change(item: SenseInput, **fields: str):
    return (("set_input", {"what": item.id, **fields}),)


def _of_the_line(item: SenseInput, check: str, key: str) -> Iterator[Candidate]:
    """Whatever the input reads: its pull, its lead, its wait, its level."""
    change = partial(_change, item)
    if key in ("pull", "open_level"):
        yield "Fit the pull-up that is sized", change(pull="auto")
    if key == "open_level":
        yield "Shorten the lead to half a metre", change(lead_length="0.5 m")
    if key == "debounce":
        yield (
            f"Wait {show(KINDS[item.kind].debounce, 's')}",
            change(debounce=show(KINDS[item.kind].debounce, "s")),
        )
    if key in ("level", "toward") or check in ("P9", "S11"):
        if "shifter" in KINDS[item.kind].asks:
            yield "Put a level shifter between", change(shifter="yes")
        if "output" in KINDS[item.kind].asks:
            yield (
                "Use a sensor that only pulls low, with a pull-up to the logic supply",
                change(output="open_collector", pull="auto"),
            )


def _at_the_pin(item: SenseInput, check: str, key: str) -> Iterator[Candidate]:
    """What stands at the pin, and how often it is looked at."""
    change = partial(_change, item)
    if check in ("P9", "S11", "D2") and "series" in KINDS[item.kind].asks:
        for ohms in ("4.7 kΩ", "10 kΩ", "22 kΩ"):
            yield f"Put {ohms} in series with the pin", change(series=ohms)
    if key in ("low_level", "source") and item.series:
        yield "Leave out the resistor in series", change(series="")
    if key == "level" and item.clamp:
        yield "Leave out the zener", change(clamp="")
    if key == "gap":
        yield "Wait 50 ms", change(debounce="50 ms")
    if key == "missed":
        yield f"Look every {item.holds}", change(sampled=item.holds or "")


def _of_the_kind(around: BuildContext, item: SenseInput, key: str) -> Iterator[Candidate]:
    """What only one kind of input has: its divider, its knob, its resistors."""
    change, rail = partial(_change, item), around.build.rail(item.rail)
    if rail is not None and around.alternating(rail) and not KINDS[item.kind].of_the_line:
        yield OF_THE_LINE, change(kind="zero_coupler", **CLEARED)
    elif item.kind == "divider" and key in ("tolerance", "dead", "source"):
        yield "Size both resistors", change(upper="", lower="")
        yield "Sense it through a coupler", change(kind="opto", **CLEARED)
    if item.kind == "knob" and key == "tolerance":
        yield "Feed the knob from the logic supply", change(rail="")
    if item.kind == "knob" and key == "source":
        yield "Use a knob of 10 kΩ", change(upper="10 kΩ")
    if KINDS[item.kind].of_the_line:
        yield (
            "Take the sizes that are worked out",
            (
                change(upper="", lower="", voltage="")
                if item.kind == "zero_transformer"
                else change(upper="")
            ),
        )
    if item.kind == "opto":
        yield "Size the LED resistor", change(upper="")


def mends(around: BuildContext, item: SenseInput, check: str, key: str) -> tuple[Remedy, ...]:
    """Those candidates after which the finding is gone and nothing worse stands in its place."""
    found = []
    for label, edits in chain(
        _of_the_line(item, check, key),
        _at_the_pin(item, check, key),
        _of_the_kind(around, item, key),
    ):
        try:
            changed, _ = apply(around.build, edits[0][0], edits[0][1], around.catalogue)
        except EditError:
            continue
        after = sense(BuildContext(changed, around.catalogue), changed.sense(item.id))
        # Lines are given anew where the kind changes; only the levels decide here.
        if not any(
            m.verdict != "sound" and (m.check == check or m.verdict == "stop")
            for m in after.measures
        ):
            found.append(Remedy(label, edits, _outcome(after, key)))
    return tuple(found[:3]) or (
        Remedy("Lower the voltage, or put a buffer between that shares the board's supply."),
    )


def _outcome(report: InputReport, key: str) -> str:
    measure = next((m for m in report.measures if m.key == key), None)
    if measure is None:
        return ""
    return (
        f"then {measure.label[0].lower()}{measure.label[1:]} {show(measure.worst, measure.unit)},"
        f" {measure.limit_name} {show(measure.limit, measure.unit)}"
        if measure.unit
        else ""
    )
