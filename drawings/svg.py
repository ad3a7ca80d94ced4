"""
A small canvas that writes SVG; every value that came from a person is escaped here and nowhere
else.
"""

from __future__ import annotations

from collections.abc import Mapping
from html import escape


def number(value: float) -> str:
    """A coordinate to a tenth."""
    return f"{value:.1f}".rstrip("0").rstrip(".")


#: A picture that fills its box whatever its own shape.
STRETCHED = ' preserveAspectRatio="none"'


class Canvas:
    """
    Collects shapes and writes one SVG element.

    Examples
    --------
    >>> c = Canvas(100, 40, "A wire")
    >>> c.wire("0V", (0, 20), (100, 20))
    >>> "data-node" in c.svg()
    True
    """

    def __init__(
        self,
        width: float,
        height: float,
        title: str,
        description: str = "",
        css: str = "drawing",
        stretch: bool = False,
    ):
        self.width, self.height, self.title, self.description, self.css = (
            width,
            height,
            title,
            description,
            css,
        )
        self.stretch = stretch
        self.pieces: list[str] = []
        self.hazardous = False
        self.rails: dict[str, str] = {}
        #: What is said of nodes and parts besides, by node or reference: attributes and values.
        self.marks: Mapping[str, Mapping[str, str]] = {}
        self.runs: dict[str, list[tuple[tuple[float, float], tuple[float, float]]]] = {}

    def add(self, tag: str, css: str = "", **attributes) -> None:
        """One shape; underscores in attribute names become hyphens."""
        given = self._given(attributes)
        self.pieces.append(f"<{tag}{f' class={chr(34)}{css}{chr(34)}' if css else ''}{given}/>")

    def _given(self, attributes: dict[str, object]) -> str:
        """Attributes as they are written, with what marks their node or part."""
        about = attributes.get("data_node") or attributes.get("data_ref")
        marks = self.marks.get(str(about), {}) if about else {}
        return "".join(
            f' {key.rstrip("_").replace("_", "-")}="{escape(str(value))}"'
            for key, value in {**attributes, **marks}.items()
        )

    def line(self, *points: tuple[float, float], css: str = "ink", **attributes) -> None:
        """A line through points."""
        path = "M" + "L".join(f"{number(x)} {number(y)}" for x, y in points)
        self.add("path", css, d=path, **attributes)

    def wire(self, node: str, *points: tuple[float, float]) -> None:
        """A wire of a node."""
        self.line(*points, css="wire", data_node=node)
        self.runs.setdefault(node, []).extend(zip(points, points[1:], strict=False))

    def number_wires(self, numbers: dict[str, int]) -> None:
        """Put a node's number on its longest run of wire, where there is room for one."""
        for node, n in numbers.items():
            runs = sorted(
                self.runs.get(node, ()),
                key=lambda r: -(abs(r[1][0] - r[0][0]) + abs(r[1][1] - r[0][1])),
            )
            if not runs:
                continue
            (x1, y1), (x2, y2) = runs[0]
            x, y = (x1 + x2) / 2, (y1 + y2) / 2
            self.add("circle", "number-plate", cx=number(x), cy=number(y), r=7, data_node=node)
            self.text(x, y + 3.6, str(n), "number", "middle", data_node=node)

    def dot(self, node: str, x: float, y: float) -> None:
        """A joint where three wires of a node meet."""
        self.add("circle", "joint", cx=number(x), cy=number(y), r=3.2, data_node=node)

    def text(
        self, x: float, y: float, words: str, css: str = "", anchor: str = "start", **attributes
    ) -> None:
        """Words at a place."""
        extra = self._given(attributes)
        self.pieces.append(
            f'<text x="{number(x)}" y="{number(y)}" text-anchor="{anchor}"'
            f' class="{css}"{extra}>{escape(words)}</text>'
        )

    def open(self, css: str, **attributes) -> None:
        """Begin a group."""
        self.pieces.append(f'<g class="{css}"{self._given(attributes)}>')

    def close(self) -> None:
        """End the group."""
        self.pieces.append("</g>")

    def svg(self) -> str:
        """The whole element, named for those who do not see it."""
        words = f"<title>{escape(self.title)}</title>" + (
            f"<desc>{escape(self.description)}</desc>" if self.description else ""
        )
        return (
            "<svg"
            f' class="{self.css}"{STRETCHED if self.stretch else ""}'
            f' viewBox="0 0 {number(self.width)} {number(self.height)}" role="img"'
            ' xmlns="http://www.w3.org/2000/svg"'
            f' aria-label="{escape(self.title)}">{words}{"".join(self.pieces)}</svg>'
        )
