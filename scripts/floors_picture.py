"""Draw the floors of the core as they stand in the import contract: ``docs/floors.svg``."""

from __future__ import annotations

import ast
import re
import tomllib
from pathlib import Path

from drawings.svg import Canvas

ROOT = Path(__file__).resolve().parent.parent
WIDTH, LINE, GAP, LEFT = 760, 22, 16, 190


def subject(name: str) -> str:
    """The first sentence of a floor about itself."""
    place = ROOT / "latchcore" / name
    file = place / "__init__.py" if place.is_dir() else place.with_suffix(".py")
    words = ast.get_docstring(ast.parse(file.read_text(encoding="utf-8"))) or ""
    return re.split("[:;]", " ".join(words.split()))[0].rstrip(".")


def picture() -> str:
    """The floors, the highest first; whatever is on one may import what is below it."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]
    floors = next(c["layers"] for c in contracts["contracts"] if "layers" in c)
    above = [[("workbench, console", "Pages and commands")], [("drawings", "SVG from reports")]]
    rows = above + [[(n.strip(), subject(n.strip())) for n in floor.split("|")] for floor in floors]
    height = sum(len(row) * LINE + GAP for row in rows)
    names = "; ".join(", ".join(name for name, _ in row) for row in rows)
    c, y = Canvas(WIDTH, height + 6, "Floors of the program", names), 6.0
    for row in rows:
        tall = len(row) * LINE + GAP - 6
        c.add("rect", "", x=6, y=y, width=WIDTH - 12, height=tall, fill="none", stroke="#777")
        for n, (name, what) in enumerate(row):
            at = y + 20 + n * LINE
            c.text(18, at, name, "", font_weight="bold", font_size=14, fill="#777")
            c.text(LEFT, at, what, "", font_size=13, fill="#777")
        y += tall + 6
    return c.svg()


if __name__ == "__main__":
    print(picture())
