"""
Inputs that belong to the job: rest state, pull, level, debounce and latency of each, sized and
joined.
"""

from __future__ import annotations

from latchcore.design.context import BuildContext
from latchcore.document.models import SenseInput
from latchcore.pieces import zero_detectors
from latchcore.pieces.input_kinds import KINDS
from latchcore.pieces.sensing import InputContext, InputReport, missing_of
from latchcore.senses import analogue, contacts, current, logic, opto, presence

__all__ = ["KINDS", "InputContext", "InputReport", "sense", "missing_of"]
_BY_KIND = {
    "button": contacts.size,
    "micro_switch": contacts.size,
    "reed": contacts.size,
    "end_pair": contacts.size,
    "knob": analogue.knob,
    "divider": analogue.divider,
    "analogue": analogue.analogue,
    "light": analogue.light,
    "sensor": logic.sensor,
    "tachometer": logic.sensor,
    "motion": logic.motion,
    "serial": logic.serial,
    "presence": presence.size,
    "current": current.size,
    "opto": opto.size,
    "zero_transformer": zero_detectors.transformer,
    "zero_coupler": zero_detectors.coupler,
}


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
