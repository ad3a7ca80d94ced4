"""
Prints docs/findings.md from the records of the findings: what each catches, why it matters, what
mends it.
"""

from __future__ import annotations

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from latchcore.findings.records import FAMILIES


def text() -> str:
    """The whole document."""
    lines = [
        "# Findings",
        "",
        (
            "Made from the records in `latchcore/findings/records/` by `make docs`; the application"
            " shows the same under Findings."
        ),
        "",
    ]
    for family in FAMILIES:
        lines += [
            f"## {family.__doc__.strip().rstrip('.')}",
            "",
            (
                "| id | catches | severity | why it matters | what is said where no single change"
                " mends it |"
            ),
            "|---|---|---|---|---|",
        ]
        lines += [
            f"| {r.id} | {r.catches} | {r.severity} | {r.why} | {r.advice} |"
            for r in family.RECORDS
        ]
        lines.append("")
    return "\n".join(lines).rstrip() + "\n"


if __name__ == "__main__":
    sys.stdout.write(text())
