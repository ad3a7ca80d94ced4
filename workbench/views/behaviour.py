"""What the loads do: a sheet of sentences a channel, what keeps channels apart, phases in a row."""

from __future__ import annotations

from dataclasses import dataclass, field

from drawings.lanes import strip_plan
from latchcore.behaviour.checking import faults_of
from latchcore.behaviour.faults import Fault
from latchcore.behaviour.named import Names, Output, outputs_of
from latchcore.behaviour.sentences import Sentences
from latchcore.behaviour.strips import strip_of
from latchcore.behaviour.times import step_of
from latchcore.document import behaviour as said
from latchcore.edits.behaviour.looks import KEPT, choice_of, event_choice
from latchcore.edits.behaviour.patterns import PATTERNS
from workbench.models import Build
from workbench.sentence_rows import Happens, Row, happenings, happens_of, looks, rows_of
from workbench.stations import Page
from workbench.views.pages import BuildPage
from workbench.views.program import stale_one

RETURNS = (
    ("anew", "stays off until asked anew"),
    ("standing", "standing rules count at once"),
    ("as_was", "as it was"),
)
LINKS = (("hold", "goes on as it is"), ("off", "off"), ("state", "a state"))
HANDS = (
    ("none", "none"),
    ("parallel", "in parallel: off is not certain"),
    ("series", "in series: on is not certain"),
    ("both", "both"),
)
CONFIRMS = (
    ("same", "acted on while it is on"),
    ("end", "acted on at its end"),
    ("toggle_load", "open; another says closed"),
)
AGAIN = (
    ("ignore", "does nothing"),
    ("extend", "lengthens it"),
    ("restart", "begins it anew"),
)
KINDS = (
    ("while", "on while something is so"),
    ("follow", "level follows a reading"),
    ("pulse", "on for a time, when something happens"),
    ("toggle", "on and off by turns, when something happens"),
    ("ramp", "to a level, when something happens"),
)
#: What a choice wants beside it; the other fields are put away while it stands.
WANTS = {
    "begin_pattern": {key: list(wants) for key, (_, wants) in PATTERNS.items()},
    "add_rule": {
        "while": ["looks_at"],
        "follow": ["looks_at"],
        "pulse": ["happens"],
        "toggle": ["happens"],
        "ramp": ["happens"],
    },
}
ACCESS = (
    ("inputs", "nobody but the inputs"),
    ("local", "the local network"),
    ("further", "further away"),
)


@dataclass
class Rule:
    """One rule of a channel: its sentence, its strip, and what of it may be changed."""

    said: said.Request | said.Bar
    sentence: str
    strip: str = ""
    rows: list[Row] = field(default_factory=list)
    event: Happens | None = None
    faults: list[str] = field(default_factory=list)

    @property
    def kind(self) -> str:
        """Its kind; a block is one too."""
        return getattr(self.said, "kind", "bar")


@dataclass
class Sheet:
    """All of one channel."""

    id: str
    name: str
    letter: str
    rules: list[Rule]
    manner: said.Manner
    holds: list[str]
    idle: str
    idle_while: str
    idle_rows: list[Row]
    scaled: bool
    faults: list[str]
    elsewhere: list[str]

    @property
    def place(self) -> str:
        """Its id as a part of those on the page."""
        return self.id.replace(".", "-")

    @property
    def silent(self) -> bool:
        """Whether nothing of its own is said of it."""
        return not (self.rules or self.holds or self.faults)


class BehaviourPage(BuildPage):
    """Sentences of every channel, and all that is of several."""

    page = Page(
        "behaviour/",
        "behaviour",
        "behaviour",
        "build/behaviour.html",
        "8",
        "Behaviour",
        touched=lambda build: not build.document.does.empty,
        unanswered=lambda build: len(faults_of(build.document)),
    )

    def content(self, build: Build, **kwargs) -> dict:
        """Sheets with their choices."""
        doc = build.document
        words, does, faults = Sentences(doc), doc.does, faults_of(doc)
        senses = Names.of(doc).senses.values()
        letters = {c.id: c.letter for c in build.report.channels}
        outputs = outputs_of(doc)
        channels = [(o.id, f"{letters[o.channel.id]} {o.name}") for o in outputs]
        return {
            "does": does,
            "step": step_of(does),
            "stale_program": stale_one(build),
            "sheets": [_sheet(doc, words, faults, o, letters[o.channel.id]) for o in outputs],
            "orphans": _orphans(doc, words, faults),
            "looks": looks(doc),
            "happenings": happenings(doc),
            "looks_kept": [(KEPT, "as it stands below"), *looks(doc)],
            "happenings_kept": [(KEPT, "as it stands below"), *happenings(doc)],
            "channels": channels,
            "contacts": [(s.key, s.name) for s in senses if not s.scaled],
            "levels": [(s.key, s.name) for s in senses if s.scaled],
            "patterns": [(key, says) for key, (says, _) in PATTERNS.items()],
            "named_conditions": [
                (c, words.condition(c.condition), rows_of(words, c.id, "condition", c.condition),
                 _of(faults, c.id))
                for c in does.conditions
            ],
            "locks": [(lock, words.interlock(lock), _of(faults, lock.id))
                      for lock in does.interlocks],
            "matrix": _matrix(doc),
            "staggers": {s.rail: s.least for s in does.staggers},
            "queues": [
                (q, words.event(q.event), happens_of(words, q.id, "event", q.event),
                 happens_of(words, q.id, "clear", q.clear), _of(faults, q.id))
                for q in does.queues
            ],
            "sequences": [_sequence(doc, words, faults, plan) for plan in does.sequences],
            "macros": [
                (m, happens_of(words, m.id, "start", m.start), words.event(m.start),
                 _of(faults, m.id))
                for m in does.macros
            ],
            "wants": WANTS,
            "loose": [f.message for f in faults if not f.of],
            "choices": {
                "returns": RETURNS,
                "links": LINKS,
                "hands": HANDS,
                "confirms": CONFIRMS,
                "again": AGAIN,
                "kinds": KINDS,
                "access": ACCESS,
                "how": (("all", "and also"), ("any", "or also")),
                "bring": (("open", "open"), ("closed", "closed")),
            },
        }  # fmt: skip


def _of(faults: list[Fault], key: str) -> list[str]:
    return [f.message for f in faults if f.of == key]


def _sheet(doc, words: Sentences, faults: list[Fault], channel: Output, letter: str) -> Sheet:
    does = doc.does
    manner = does.manner(channel.id)
    rules = [_rule(doc, words, faults, r) for r in does.requests if r.channel == channel.id]
    rules += [
        Rule(b, words.bar(b), "", rows_of(words, b.id, "condition", b.condition), None,
             _of(faults, b.id))
        for b in does.bars
        if b.channel == channel.id
    ]  # fmt: skip
    elsewhere = [s.name for s in does.sequences if any(channel.id in p.states for p in s.phases)]
    elsewhere += [m.name for m in does.macros if any(p.channel == channel.id for p in m.presses)]
    return Sheet(
        channel.id,
        channel.name,
        letter,
        rules,
        manner,
        words.manner(manner) if rules or manner in does.manners else [],
        choice_of(manner.idle),
        choice_of(manner.idle_while),
        [
            row
            for path, condition in (("idle", manner.idle), ("idle_while", manner.idle_while))
            if condition is not None
            for row in rows_of(words, manner.channel, path, condition)
        ],
        channel.channel.pwm is not None,
        _of(faults, channel.id),
        elsewhere,
    )


def _orphans(doc, words: Sentences, faults: list[Fault]) -> list[Rule]:
    """Rules of channels that are gone."""
    there = {o.id for o in outputs_of(doc)}
    pieces = [*doc.does.requests, *doc.does.bars]
    return [
        Rule(p, words.bar(p) if isinstance(p, said.Bar) else words.request(p), "", [], None,
             _of(faults, p.id))
        for p in pieces
        if p.channel not in there
    ]  # fmt: skip


def _rule(doc, words: Sentences, faults: list[Fault], request: said.Request) -> Rule:
    sentence = words.request(request)
    strip = strip_of(doc, request)
    rule = Rule(request, sentence, strip_plan(strip, sentence) if strip else "")
    if isinstance(request, said.While):
        rule.rows = rows_of(words, request.id, "condition", request.condition)
    elif not isinstance(request, said.Follow):
        rule.event = happens_of(words, request.id, "event", request.event)
    rule.faults = _of(faults, request.id)
    return rule


def _matrix(doc) -> list[tuple[str, list[str]]]:
    """Who may not meet whom: for each channel a cell for every other."""
    apart: dict[frozenset[str], str] = {}
    for lock in doc.does.interlocks:
        for n, first in enumerate(lock.channels):
            for second in lock.channels[n + 1 :]:
                apart[frozenset((first, second))] = lock.gap
    if not apart:
        return []
    keys = [o.id for o in outputs_of(doc) if any(o.id in pair for pair in apart)]
    names = {o.id: o.name for o in outputs_of(doc)}
    return [
        (names[a], [("" if a == b else apart.get(frozenset((a, b)), "–")) for b in keys])
        for a in keys
    ]


def _sequence(doc, words: Sentences, faults: list[Fault], plan: said.Sequence) -> dict:
    """A sequence as a grid of phases and channels."""
    used = [o for o in outputs_of(doc) if any(o.id in p.states for p in plan.phases)]
    phases = []
    for n, phase in enumerate(plan.phases):
        until = happens_of(words, plan.id, f"phases.{n}.until", phase.until)
        ends = f"phases.{n}.until_true"
        so = [] if phase.until_true is None else rows_of(words, plan.id, ends, phase.until_true)
        then = f"phase:{phase.then_phase}" if phase.then == "phase" else phase.then
        phases.append(
            {
                "n": n,
                "said": phase,
                "of": f"{plan.id}-{n}",
                "ends": words.phase_end(phase),
                "event": until if until.time or until.rows else None,
                "rows": so,
                "until": event_choice(phase.until),
                "until_true": choice_of(phase.until_true),
                "then": then,
                "cells": [(c, phase.states.get(c.id, "")) for c in used],
            }
        )
    return {
        "said": plan,
        "starts": words.event(plan.start),
        "aborts": words.event(plan.abort) if plan.abort is not None else "",
        "start": happens_of(words, plan.id, "start", plan.start),
        "abort": happens_of(words, plan.id, "abort", plan.abort),
        "channels": used,
        "phases": phases,
        "thens": [
            ("abort", "abort"),
            ("next", "the next phase"),
            ("stop", "stop"),
            *((f"phase:{p.name}", f"phase “{p.name}”") for p in plan.phases),
        ],
        "after": [
            (o.name, plan.after_abort[o.id]) for o in outputs_of(doc) if o.id in plan.after_abort
        ],
        "faults": _of(faults, plan.id),
    }
