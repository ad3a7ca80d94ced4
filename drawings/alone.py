"""A drawing as a file of its own, with the look it needs in it, legible in black and white."""

from __future__ import annotations

#: What the classes of a drawing look like on paper, in ink alone.
LOOK = """
.drawing text{font:13px sans-serif;fill:#111}
.drawing text.mono,.drawing text.live,.drawing text.m{font:12.5px monospace;fill:#111}
.drawing text.strong,.drawing text.alarm,.drawing text.lit{font-weight:600;fill:#111}
.drawing text.note{font-size:12px;fill:#444}
.drawing .wire,.drawing .ink,.drawing .gap{stroke:#111;stroke-width:1.8;fill:none}
.drawing .heavy{stroke-width:3.4}
.drawing .body{fill:#fff;stroke:#111;stroke-width:1.8}
.drawing .solid,.drawing .joint,.drawing .filled{fill:#111;stroke:none}
.drawing .frame{fill:none;stroke:#111;stroke-width:1.2;stroke-dasharray:3 2}
.drawing .flag,.drawing .number-plate{fill:#fff;stroke:#111;stroke-width:1.6}
.drawing .absent,.drawing rect.alarm-box,.drawing .danger
{stroke:#111;stroke-width:1.6;stroke-dasharray:5 4;fill:none}
.drawing .cut{stroke:#fff;stroke-width:1.8}
"""


def alone(svg: str) -> str:
    """
    A drawing that stands by itself: a width and a height from its box, and its look.

    Examples
    --------
    >>> alone('<svg class="drawing" viewBox="0 0 4 2" xmlns="x"><g/></svg>').count("<style>")
    1
    """
    head, _, rest = svg.partition(">")
    box = head.partition('viewBox="')[2].partition('"')[0].split()
    if " width=" not in head and len(box) == 4:
        head += f' width="{box[2]}" height="{box[3]}"'
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{head}><style>{LOOK}</style>{rest}\n'
