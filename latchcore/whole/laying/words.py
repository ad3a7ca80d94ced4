"""Ends of conductors as they are printed where they are."""

from __future__ import annotations

import re

from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.document.models import Rail
from latchcore.metal.conductors import Terminal
from latchcore.metal.netlist import Part
from latchcore.whole.laying.boards import BOARD, MODULES, Places

#: Terminals of parts in words; what is printed on modules stays as it is.
TERMINALS = {
    "B": "base",
    "C": "collector",
    "E": "emitter",
    "G": "gate",
    "D": "drain",
    "S": "source",
    "A": "anode",
    "K": "cathode, the band",
}
ON_THE_BOARD = {
    "gnd": "board 0 V",
    "return": "board 0 V, beside its supply",
    "feed": "board supply",
    "vdd": "board logic supply",
}
#: What is printed at the shared terminals of modules, the likeliest first.
PRINTED = {
    "VCC": ("VCC", "VIN", "DC+", "+"),
    "COIL+": ("COIL+", "VCOIL"),
    "GND": ("GND", "DC-", "-"),
}
FUSED = {"1": "in", "2": "out", "3": "in, second pole", "4": "out, second pole"}


def pole_words(around: BuildContext, rail: Rail) -> tuple[str, str]:
    """What the two conductors of a line are called."""
    return ("L1", "L2") if around.two_lives(rail) else ("L", "N")


class Ends:
    """
    Words of terminals.

    Parameters
    ----------
    places : Places
        Where the parts of the build are
    letters : dict
        Of channels and inputs, by id
    """

    def __init__(self, places: Places, letters: dict[str, str]):
        self.places, self.letters = places, letters
        self.around: BuildContext = places.around
        self.report: Report = places.report
        self.results = {c.id: c.result for c in self.report.channels if c.result}

    def of(self, terminal: Terminal) -> str:
        """One terminal."""
        kind, _, rest = terminal.part.partition(".")
        if kind in ("SUPPLY", "FUSE", "POINT"):
            return self._infrastructure(kind, rest, terminal.terminal)
        if kind in ("BLOCK", "METAL"):
            return self._laid(rest, terminal.terminal)
        if terminal.part == BOARD:
            return ON_THE_BOARD.get(terminal.terminal, f"board {terminal.terminal}")
        if terminal.part.startswith("MODULE.") and terminal.part.endswith(".X"):
            return f"module {rest.removesuffix('.X')}, {self.node(terminal.terminal)}"
        if kind == "MODULE":
            return f"module {rest} {self._on_module(int(rest), terminal.terminal)}"
        if kind == "ARRAY":
            return self._on_array(rest, terminal.terminal)
        if terminal.part.endswith(".X"):
            letter = self.letters.get(kind, kind)
            return f"{letter} board, {self._of_several(kind, terminal.terminal)}"
        return self._of_part(self.places.parts[terminal.part], terminal.terminal)

    def _infrastructure(self, kind: str, rest: str, name: str) -> str:
        rail = self.around.build.rail(rest.rstrip("+-"))
        title = rail.name if rail else "board 0 V" if rest.endswith("-") else "board logic supply"
        line = rail is not None and self.around.alternating(rail)
        pole = self._pole(rail, name) if line else name
        if kind == "POINT" and name == "PE":
            return f"earth bar of {title}"
        if kind == "POINT":
            return f"block of {title} {pole}" if rail else f"block of {title}"
        if kind == "FUSE":
            return f"fuse of {title}, {FUSED[name]}"
        if rail is not None and self.places.on_board_pin(self.places.parts[f"SUPPLY.{rest}"]):
            return f"board supply pin, {title} {name}"
        if rail is not None and rail.fed_by and rail.converter == "isolating":
            return f"adapter of {title} {name}"
        if rail is not None and rail.source == "mains":
            entry = "inlet" if rail.entry == "inlet" else "plug"
            return f"{entry} of {title}, {'earth' if name == 'PE' else pole}"
        made = rail is not None and rail.fed_by and rail.converter
        return f"regulator of {title} {name}" if made else f"{title} {pole}"

    def _laid(self, ident: str, name: str) -> str:
        """Of a distribution point, or of metal that is joined by hand."""
        build = self.around.build
        block = build.block(ident)
        if block is None:
            metal = next(m for m in build.metals if m.id == ident)
            return f"{metal.name}, {'earth' if name == 'PE' else 'where it is joined'}"
        rail = build.rail(block.rail)
        pole = self._pole(rail, name) if rail and self.around.alternating(rail) else name
        return f"{block.name} {'earth' if name == 'PE' else pole}"

    def _pole(self, rail, name: str) -> str:
        one, other = pole_words(self.around, rail)
        return {"+": one, "-": other}.get(name, name)

    def node(self, node: str) -> str:
        """A node in words."""
        bare = node.removesuffix("-")
        rail = self.around.build.rail(bare.removesuffix(".N"))
        if rail is not None and (node.endswith("-") or bare.endswith(".N")):
            two = self.around.two_lives(rail)
            back = ("L2" if two else "neutral") if self.around.alternating(rail) else "0 V"
            return f"{rail.name} {back}"
        if rail is not None:
            return rail.name
        own = self.around.build.rail(bare.removesuffix(".0V"))
        if own is not None:
            return f"{own.name} 0 V"
        known = {"0V": "0 V", "board.VDD": "logic supply"}
        return known.get(node) or node.split(".", 1)[-1].lower()

    def _of_several(self, channel: str, name: str) -> str:
        """A node on a channel's board; a line of several by what it is for, as outputs are."""
        own = next((c.result for c in self.report.channels if c.id == channel), None)
        if own is not None and own.panel is not None and name.startswith("PIN"):
            return name.removeprefix("PIN.") if name != "PIN" else "r1-high"
        if own is not None and own.motion is not None:
            if name == "PIN":
                return own.motion.power.lines[0].name
            if name.startswith(("PIN.", "OUT")):
                return name.removeprefix("PIN.")
        return self.node(name)

    def _on_module(self, number: int, terminal: str) -> str:
        channel = next(c for c, n in self.places.modules.items() if n == number)
        printed = PRINTED[terminal]
        return next((x for x in self._labels(channel) if x in printed), terminal)

    def _on_array(self, package: str, terminal: str) -> str:
        if terminal in ("GND", "COM"):
            return f"array {package} {terminal}"
        return f"array board {package}, {self.node(terminal)}"

    def _labels(self, channel: str) -> list[str]:
        record = self.results[channel].parts.get("module") if channel in self.results else None
        return [x.strip() for x in (record.header if record else "").split("|") if x.strip()]

    def _of_part(self, part: Part, terminal: str) -> str:
        letter = self.letters.get(part.channel or "", "")
        if part.kind in ("pin", "chain_out"):
            pin, chain = self.around.line(part.value), self.around.of_line(part.value)
            if pin is not None and chain is not None:
                return f"{chain.chain.name} {pin.header}, {pin.chip}"
            return f"board {pin.id} ({pin.chip}, {pin.header})" if pin else "board, pin not chosen"
        if part.kind in MODULES:
            module = f"module {self.places.modules.get(part.channel or '', 1)}"
            return f"{module} {self._signal(part, terminal, letter)}"
        name = part.ref.split(".", 1)[1] if "." in part.ref else part.ref
        if part.kind == "load":
            found = self.around.build.channel(part.channel or "")
            which = f", {part.note}," if part.note else ""
            return (
                f"{letter} {found.name if found else name}{which} {self._load_end(found, terminal)}"
            )
        plain = "end " + terminal if terminal.isdigit() else terminal
        return f"{letter} {name} {TERMINALS.get(terminal, plain)}"

    def _load_end(self, channel, terminal: str) -> str:
        rail = self.around.build.rail(channel.rail) if channel else None
        if terminal == "PE":
            known = channel is not None and channel.load.protection == "class_i"
            return "earth" if known else "earth, where it has touchable metal"
        if rail is None or not self.around.alternating(rail):
            return terminal
        return self._pole(rail, terminal)

    def _signal(self, part: Part, terminal: str, letter: str) -> str:
        labels, which = self._labels(part.channel or ""), self._relay(part.channel or "")
        if terminal == "IN":
            signals = [x for x in labels if re.match(r"^(IN|CH|S)\d*", x)]
            if which and len(signals) >= which:
                return f"{signals[which - 1]} of {letter}"
            name = signals[0] if len(signals) == 1 and not which else f"IN{which or ''}"
            return f"{name} of {letter}"
        return f"relay {which} {terminal} of {letter}" if which else f"{terminal} of {letter}"

    def _relay(self, channel: str) -> int:
        """Which relay of its module a channel uses, 0 of a module that has one."""
        record = self.results[channel].module.part if channel in self.results else None
        if record is None or record.channels < 2:
            return 0
        number = self.places.modules.get(channel)
        sharing = [c for c, n in self.places.modules.items() if n == number]
        return sharing.index(channel) + 1
