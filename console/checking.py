"""``zinc-latch check``: the report of a build."""

from __future__ import annotations

import json

from console.asking import FALLS_SHORT, SOUND
from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.formats.reportfile import report_data, report_text
from latchcore.whole.laying.conductors import conductors


def print_check(build: Build, as_json: bool) -> int:
    """Evaluate a build and print its findings, or the whole report as data."""
    report = advised(build)
    if as_json:
        laid = conductors(BuildContext(build, load_catalogue()), report)
        print(json.dumps(report_data(report, laid), indent=2, ensure_ascii=False))
    else:
        print(report_text(report), end="")
    return FALLS_SHORT if report.count("stop") or report.count("fix") else SOUND
