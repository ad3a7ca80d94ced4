"""Inputs that belong to the job: rest state, pull, level, debounce and latency of each, sized and joined."""

from __future__ import annotations

from latchcore.context import BuildContext
from latchcore.document.models import SenseInput
from latchcore.senses import contacts, levels, opto, zero
from latchcore.senses.frame import KINDS, InputContext, InputReport

__all__ = ["KINDS", "InputContext", "InputReport", "sense", "missing_of"]
_BY_KIND = {
    "button": contacts.size, "micro_switch": contacts.size, "reed": contacts.size, "end_pair": contacts.size, "knob": levels.knob, "divider": levels.divider,
    "sensor": levels.sensor, "tachometer": levels.sensor, "serial": levels.serial, "opto": opto.size, "zero_transformer": zero.transformer, "zero_coupler": zero.coupler,
}  # fmt: skip


def missing_of(around: BuildContext, item: SenseInput) -> list[str]:
    """What must be said before an input can be worked out."""
    missing = [] if around.board is not None else ["board"]
    if item.kind in ("divider", "opto") and not item.voltage and around.build.rail(item.rail) is None:
        missing.append("voltage")
    if item.kind.startswith("zero_") and around.build.rail(item.rail) is None:
        missing.append("rail")
    if item.pin is None or (item.kind in ("end_pair", "serial") and item.pin_two is None):
        missing.append("pin")
    return missing


def sense(around: BuildContext, item: SenseInput) -> InputReport:
    """
    Size one input.

    Parameters
    ----------
    around : BuildContext
    item : SenseInput

    Returns
    -------
    InputReport
        Without figures while the board or the sensed voltage is missing
    """
    report = InputReport(item.id, item.name, item.kind, missing_of(around, item))
    if not set(report.missing) - {"pin"}:
        _BY_KIND[item.kind](InputContext(around, item), report)
    return report
