"""A bought sensor in the netlist, with a level shifter where one stands between."""

from __future__ import annotations

from latchcore.pieces.sensing import VDD, InputContext, InputReport


def returns(context: InputContext) -> str:
    """The node what senses returns to."""
    return context.around.return_of(context.rail) if context.rail is not None else "0V"


def sensor_part(context: InputContext, report: InputReport, node: str) -> None:
    """The sensor with its supply, its output on a node."""
    item, plus = context.item, context.rail.id if context.rail is not None else VDD
    if item.shifter:
        context.add(
            report,
            "XS2",
            "sensor",
            "level shifter",
            **{"A1": node, "B1": f"{item.id}.OUT", "VA": VDD, "VB": plus, "GND": "0V"},
        )
        node = f"{item.id}.OUT"
    context.add(
        report,
        "XS1",
        "sensor",
        report.title.lower(),
        **{"+": plus, "OUT": node, "-": returns(context)},
    )
