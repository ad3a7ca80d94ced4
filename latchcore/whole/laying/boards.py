"""
Where parts are: on a stage's own board, on a module, or off on their own; and which terminals are
one piece of metal though the netlist names them by channel.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.metal.conductors import Terminal
from latchcore.metal.netlist import Part

#: Kinds of parts that stand off the stage's board: wires go there.
OFF_BOARD = (
    "load",
    "switch",
    "sensor",
    "pot",
    "source",
    "board",
    "pin",
    "module",
    "module_joined",
    "solid",
    "solid_joined",
    "solid_relay",
    "solid_direct",
    "packaged",
    "contactor",
    "metal",
    "chain_out",
    "panel",
)
MODULES = ("module", "module_joined", "solid", "solid_joined")
#: Terminals all channels of a module share.
SHARED = ("VCC", "COIL+", "GND")
#: Terminals all channels of an array share.
PACKAGE = ("GND", "COM")
BOARD = "BOARD.0V"


def module_numbers(around: BuildContext, report: Report) -> dict[str, int]:
    """
    Number of the module each channel is on; channels share one where kind and stated number are the
    same.
    """
    seen: dict[tuple[str, str], int] = {}
    found = {}
    for c in report.channels:
        module = c.result.module.part if c.result else None
        if module is not None:
            number = around.build.channel(c.id).stage.settings.get("board_no", "1")
            found[c.id] = seen.setdefault((module.id, number), len(seen) + 1)
    return found


@dataclass
class Places:
    """
    Where every part of a build is.

    ``modules`` and ``packages`` say by channel on which module, in which array it is.
    """

    around: BuildContext
    report: Report
    modules: dict[str, int] = field(init=False)
    packages: dict[str, str] = field(init=False)
    parts: dict[str, Part] = field(init=False)

    def __post_init__(self) -> None:
        self.modules = module_numbers(self.around, self.report)
        self.packages = {
            c.id: str(c.result.array.package)
            for c in self.report.channels
            if c.result and c.result.array.package
        }
        self.parts = {p.ref: p for p in self.report.netlist.parts}
        inner = {p.terminals["RIN"] for p in self.parts.values() if "RIN" in p.terminals}
        #: What lies across a module's own resistor is soldered to the module.
        self.on_modules = {
            p.ref
            for p in self.parts.values()
            if p.kind not in OFF_BOARD and inner & set(p.terminals.values())
        }

    def terminal(self, part: Part, name: str) -> Terminal:
        """A terminal as the one piece of metal it is."""
        channel = part.channel or ""
        if part.kind in MODULES and name in SHARED and channel in self.modules:
            return Terminal(f"MODULE.{self.modules[channel]}", name)
        if part.kind == "chain_out" and name == "GND":
            pin, chain = self.around.line(part.value), self.around.of_line(part.value)
            if pin is not None and chain is not None:
                return Terminal(f"{chain.id}.U{pin.header.rpartition(' ')[2]}", name)
        if part.kind == "array" and name in PACKAGE and channel in self.packages:
            return Terminal(f"ARRAY.{self.packages[channel]}", name)
        if part.kind == "source" and name == "-" and self.on_board_pin(part):
            return Terminal(BOARD, "gnd")
        return Terminal(part.ref, name)

    def on_board_pin(self, part: Part) -> bool:
        """Whether a supply is a supply pin of the board itself."""
        rail = self.around.build.rail(part.ref.split(".")[1])
        return rail is not None and rail.source == "board_pin" and self.around.board is not None

    def board(self, part: Part) -> str | None:
        """
        The board a part is soldered to: its channel's, or that of all that share its array;
        ``None`` for what stands on its own.
        """
        if part.kind in OFF_BOARD:
            return None
        owner = part.channel or ""
        if part.ref in self.on_modules:
            return f"MODULE.{self.modules[owner]}"
        return f"ARRAY.{self.packages[owner]}" if owner in self.packages else owner
