"""Every stage worked out for one load, so that a choice is a comparison and not a habit."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from latchcore.catalogue import load_catalogue
from latchcore.checks import channel_findings
from latchcore.context import BuildContext
from latchcore.document.models import Build, Stage
from latchcore.report import Finding, StageResult
from latchcore.stages import STAGES, missing_facts


@dataclass(frozen=True)
class Card:
    """One stage for one load: worked out, or the reason it cannot serve."""

    kind: str
    title: str
    summary: str
    chosen: bool
    unfit: str | None
    result: StageResult | None
    findings: tuple[Finding, ...]

    @property
    def verdict(self) -> str:
        """The worst severity, or ``sound``."""
        return next((s for s in ("stop", "fix", "check") if any(f.severity == s for f in self.findings)), "sound")


def compare(build: Build, channel_id: str) -> list[Card]:
    """
    Work out every stage for a channel: the chosen one as it stands, each other one sized afresh.

    Returns
    -------
    list of Card
        In catalogue order; none while facts are missing
    """
    return _compare(build.model_dump_json(), channel_id)


@lru_cache(maxsize=512)
def _compare(text: str, channel_id: str) -> list[Card]:
    build = Build.model_validate_json(text)
    catalogue = load_catalogue()
    channel = build.channel(channel_id)
    cards = []
    for kind, stage in STAGES.items():
        chosen = kind == channel.stage.kind
        twin = channel if chosen else channel.model_copy(update={"stage": Stage(kind=kind)})
        context = BuildContext(build, catalogue).channel(twin)
        unfit = stage.suits(context)
        if missing_facts(context) or (unfit and not chosen):
            cards.append(Card(kind, stage.title, stage.summary, chosen, unfit, None, ()))
            continue
        result = stage.size(context)
        cards.append(Card(kind, stage.title, stage.summary, chosen, unfit, result, tuple(channel_findings(context, result))))
    return cards
