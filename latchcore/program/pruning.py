"""The step as text, with only what one build has need of."""

from __future__ import annotations

import re
from functools import cache
from importlib import resources

MARK = re.compile(r"^\s*(?://|#): (if|else|end|put)\b ?(.*)$")


#: What a program is made of, in order, each with a text in either language.
PARTS = (
    "1_inputs",
    "2_conditions",
    "3_asks",
    "4_running",
    "5_confirming",
    "6_channels",
    "7_step",
    "8_lines",
    "9_pins",
    "a_line",
    "b_loop",
)


@cache
def source(name: str) -> str:
    """A text that ships with the program."""
    return resources.files("latchcore.program").joinpath("texts", name).read_text(encoding="utf-8")


@cache
def whole(language: str) -> str:
    """All parts in one language, ``py`` or ``h``."""
    return "".join(source(f"{part}.{language}.in") for part in PARTS)


def pruned(text: str, features: frozenset[str], put: dict[str, str] | None = None) -> str:
    """
    A text with the parts whose features are wanted, any of those named; ``put`` is set in where its
    name stands.

    Examples
    --------
    >>> pruned("a\\n#: if b c\\nd\\n#: else\\ne\\n#: end\\nf\\n", frozenset({"c"}))
    'a\\nd\\nf\\n'
    """
    kept: list[str] = []
    wanted = [True]
    # Cut at ends of lines alone: names may hold what else counts as one.
    for line in text.removesuffix("\n").split("\n"):
        mark = MARK.match(line)
        if mark is None:
            if all(wanted):
                kept.append(line)
        elif mark[1] == "if":
            wanted.append(bool(features & set(mark[2].split())))
        elif mark[1] == "else":
            wanted[-1] = not wanted[-1]
        elif mark[1] == "end":
            wanted.pop()
        elif all(wanted):
            kept += (put or {})[mark[2].strip()].split("\n")
    return re.sub(r"\n{4,}", "\n\n\n", "\n".join(kept)) + "\n"
