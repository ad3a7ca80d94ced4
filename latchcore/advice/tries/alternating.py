"""Modules: the ways to make one work here, and another output."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.advice.modules import ways
from latchcore.advice.tries.table import Candidate, Case, tried


def _on_module(case: Case) -> bool:
    return "module" in case.knows


@tried
def module_ways(case: Case) -> Iterator[Candidate]:
    """The ways that make a module work on this board."""
    if not _on_module(case):
        return
    for way in ways(case.context):
        if way.settings and not way.used:
            yield (
                f"{way.title}",
                case.setting(**{key: value or "auto" for key, value in way.settings.items()}),
            )


@tried
def other_output(case: Case) -> Iterator[Candidate]:
    """Another module, or a relay in its place."""
    if _on_module(case):
        yield "Use the {module}", case.setting(module="auto")
        yield "Use a relay: the {relay}", case.stage("relay_contact")
