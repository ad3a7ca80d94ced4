"""
Small faults put into the core one at a time, to see which the tests notice.

``python scripts/mutate.py --seed 1 --count 60`` works on a copy of the tree and prints one line a
fault; those that no test noticed are listed at the end. A fault is a comparison turned round, a
constant a tenth larger, the other end of a spread, ``min`` for ``max``, a branch never taken, or
the last condition of an ``and`` left out.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
#: Folders of the core a fault may be put into: where sums, stages and findings are.
FLOORS = (
    "catalogue design metal sums pieces stages senses whole findings edits advice bench".split()
)
TURNED = {ast.Lt: ">=", ast.LtE: ">", ast.Gt: "<=", ast.GtE: "<", ast.Eq: "!=", ast.NotEq: "=="}
OTHER_END = {"min": "max", "max": "min"}


@dataclass(frozen=True)
class Fault:
    """One change of a file: where it begins and ends in the text, and what stands there then."""

    path: Path
    line: int
    begin: int
    end: int
    text: str
    what: str

    def put(self, tree: Path) -> None:
        """Put it into a copy of the tree."""
        source = (ROOT / self.path).read_text(encoding="utf-8")
        (tree / self.path).write_text(
            source[: self.begin] + self.text + source[self.end :], encoding="utf-8"
        )

    def take_out(self, tree: Path) -> None:
        """Leave the file as it was."""
        shutil.copyfile(ROOT / self.path, tree / self.path)


class Finder:
    """Every fault that may be put into one file."""

    def __init__(self, path: Path):
        self.path, self.source = path, (ROOT / path).read_text(encoding="utf-8")
        self.starts = [0]
        for line in self.source.splitlines(keepends=True):
            self.starts.append(self.starts[-1] + len(line))

    def at(self, line: int, column: int) -> int:
        """Place in the text of a line and a column counted in bytes."""
        text = self.source[self.starts[line - 1] : self.starts[line]]
        return self.starts[line - 1] + len(text.encode()[:column].decode())

    def fault(self, node: ast.expr, text: str, what: str) -> Fault:
        """The node replaced by a text."""
        begin = self.at(node.lineno, node.col_offset)
        end = self.at(node.end_lineno, node.end_col_offset)
        return Fault(self.path, node.lineno, begin, end, text, what)

    def between(self, left: ast.expr, right: ast.expr, text: str, what: str) -> Fault:
        """What stands between two nodes replaced."""
        begin = self.at(left.end_lineno, left.end_col_offset)
        end = self.at(right.lineno, right.col_offset)
        return Fault(self.path, left.lineno, begin, end, text, what)

    def faults(self) -> Iterator[Fault]:
        """All of them, in the order of the file."""
        for node in ast.walk(ast.parse(self.source)):
            if isinstance(node, ast.Compare) and type(node.ops[0]) in TURNED:
                sign = TURNED[type(node.ops[0])]
                right = node.comparators[0]
                if "(" not in self.source[self._end(node.left) : self._begin(right)]:
                    yield self.between(node.left, right, f" {sign} ", f"comparison to {sign}")
            elif isinstance(node, ast.Constant) and type(node.value) in (int, float):
                if node.value not in (0, 1, -1) and not isinstance(node.value, bool):
                    yield self.fault(node, repr(node.value * 1.1), f"{node.value} a tenth larger")
            elif isinstance(node, ast.Attribute) and node.attr in OTHER_END:
                yield self.fault(
                    node,
                    f"({ast.unparse(node.value)}).{OTHER_END[node.attr]}",
                    f"the other end of {ast.unparse(node)}",
                )
            elif isinstance(node, ast.Call) and getattr(node.func, "id", "") in OTHER_END:
                yield self.fault(node.func, OTHER_END[node.func.id], f"{node.func.id} swapped")
            elif isinstance(node, ast.If | ast.IfExp):
                yield self.fault(node.test, "(False)", "a branch never taken")
            elif isinstance(node, ast.BoolOp) and isinstance(node.op, ast.And):
                kept = " and ".join(f"({ast.unparse(v)})" for v in node.values[:-1])
                yield self.fault(node, f"({kept})", "the last condition left out")

    def _begin(self, node: ast.expr) -> int:
        return self.at(node.lineno, node.col_offset)

    def _end(self, node: ast.expr) -> int:
        return self.at(node.end_lineno, node.end_col_offset)


def every_fault() -> list[Fault]:
    """Every fault of the floors, of those that still compile."""
    found = []
    for folder in FLOORS:
        for file in sorted((ROOT / "latchcore" / folder).rglob("*.py")):
            found += Finder(file.relative_to(ROOT)).faults()
    return found


def compiles(fault: Fault) -> bool:
    """Whether the file is still Python with the fault in it."""
    source = (ROOT / fault.path).read_text(encoding="utf-8")
    try:
        ast.parse(source[: fault.begin] + fault.text + source[fault.end :])
    except SyntaxError:
        return False
    return True


def noticed(tree: Path, tests: list[str]) -> bool:
    """Whether any test fails in the tree."""
    where = {**os.environ, "PYTHONPATH": str(tree), "ZINC_LATCH_DATA": str(tree / "data")}
    told = subprocess.run(
        [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider", *tests],
        cwd=tree,
        env=where,
        capture_output=True,
    )
    return told.returncode != 0


def main() -> None:
    """Put the faults in, one after another."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--count", type=int, default=60)
    asked.add_argument(
        "--tests",
        nargs="*",
        default=["tests/core/test_accounts.py", "tests/core", "tests/drawings", "latchcore"],
    )
    asked.add_argument("--workers", default="2")
    given = asked.parse_args()
    drawn = random.Random(given.seed).sample(every_fault(), given.count * 2)
    chosen = [f for f in drawn if compiles(f)][: given.count]
    survivors = []
    with tempfile.TemporaryDirectory() as place:
        tree = Path(place) / "tree"
        shutil.copytree(
            ROOT, tree, ignore=shutil.ignore_patterns(".venv", ".git", "var", "__pycache__")
        )
        tests = ["-n", given.workers, *given.tests]
        if noticed(tree, tests):
            raise SystemExit("The tests fail without any fault; mend that first.")
        for number, fault in enumerate(chosen, 1):
            fault.put(tree)
            seen = noticed(tree, tests)
            fault.take_out(tree)
            says = f"{fault.path}:{fault.line} {fault.what}"
            print(f"{number:3} {'noticed' if seen else 'SURVIVES'} {says}", flush=True)
            if not seen:
                survivors.append(says)
    share = 100 * len(survivors) / len(chosen)
    print(f"{len(survivors)} of {len(chosen)} survive ({share:.0f} %), seed {given.seed}")
    print("\n".join(survivors))


if __name__ == "__main__":
    main()
