"""
Inputs that belong to the job, on a page of their own: what each reads in each state, and which
channel it confirms.
"""

from __future__ import annotations

from latchcore.senses import KINDS
from workbench.models import Build
from workbench.views.pages import BuildPage

#: Which fields have a bearing on which kinds.
CONTACT = ("button", "micro_switch", "reed", "end_pair")
FIELDS = {
    "rest": CONTACT,
    "pull": (*CONTACT, "sensor", "tachometer"),
    "output": ("sensor", "tachometer"),
    "shifter": ("sensor", "tachometer", "serial"),
    "debounce": CONTACT,
    "voltage": ("divider", "opto", "sensor", "tachometer", "serial", "zero_transformer"),
    "rail": (
        "divider",
        "opto",
        "sensor",
        "tachometer",
        "serial",
        "knob",
        "zero_transformer",
        "zero_coupler",
    ),
    "upper": ("knob", "divider", "opto", "zero_transformer", "zero_coupler"),
    "lower": ("divider", "zero_transformer"),
    "scale": ("knob",),
    "edge": ("zero_transformer", "zero_coupler"),
    "shift": ("zero_transformer",),
    "pin_two": ("end_pair", "serial"),
}
UPPER = {
    "zero_transformer": ("Upper resistor", "10 kΩ unless stated"),
    "zero_coupler": ("Each of the resistors", "sized if empty"),
    "knob": ("Track of the knob", "10 kΩ unless stated"),
    "divider": ("Upper resistor", "sized if empty"),
    "opto": ("LED resistor", "sized if empty"),
}


class Inputs(BuildPage):
    """Every sense input with its report."""

    station, template = "pins", "build/inputs.html"

    def content(self, build: Build, **kwargs) -> dict:
        """Inputs with the fields that matter for their kind, and the channels each confirms."""
        names = {c.id: f"{c.letter} {c.name}" for c in build.report.channels}
        rows = []
        for item, report in zip(build.document.inputs, build.report.inputs, strict=True):
            shown = {field for field, kinds in FIELDS.items() if item.kind in kinds}
            confirmed = [names[c.id] for c in build.document.channels if c.confirmed_by == item.id]
            rows.append(
                (
                    item,
                    report,
                    shown,
                    UPPER.get(item.kind),
                    confirmed,
                    [f for f in build.report.findings if f.where == item.id],
                )
            )
        return {
            "inputs": rows,
            "kinds": list(KINDS.items()),
            "rest_choices": (("open", "open at rest (NO)"), ("closed", "closed at rest (NC)")),
            "output_choices": (
                ("push_pull", "drives high and low"),
                ("open_collector", "only pulls low"),
            ),
            "input_names": [(i.id, i.name) for i in build.document.inputs],
            "edge_choices": (
                ("rising", "the rising edge, and half the pulse added"),
                ("middle", "the middle between both edges"),
            ),
            "rail_names": [(r.id, r.name) for r in build.document.rails],
        }
