"""What is asked of a build's behaviour, in words, and what came of it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from latchcore.behaviour.exploring import Answer, Exploration, Question, explore
from latchcore.behaviour.faults import BehaviourError
from latchcore.behaviour.hazards import is_grave
from latchcore.behaviour.named import Output, channel_of, outputs_of
from latchcore.design.report import Remedy
from latchcore.document import behaviour as said
from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.figures.quantity import show


@dataclass(frozen=True, slots=True)
class Item:
    """
    One question with its answer.

    ``id`` is the finding it belongs to, ``what`` says what was found, or cannot be; ``severity``
    how bad it is where it was found.
    """

    id: str
    what: str
    severity: str
    answer: Answer
    remedies: tuple[Remedy, ...] = ()


@dataclass
class Asked:
    """Every question of a build, by what came of it."""

    exploration: Exploration
    found: list[Item] = field(default_factory=list)
    excluded: list[Item] = field(default_factory=list)
    open: list[Item] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class _Asks:
    """A question, which answer is bad, and its words for bad and good."""

    question: Question
    id: str
    severity: str
    bad: str
    good: str
    #: Whether it is bad that it was found, or that it was not.
    wanted: bool = False


def ask(build: Build, seconds: float = 5.0, alphabet: dict[str, Any] | None = None) -> Asked:
    """
    Walk a build's behaviour and ask everything of it that a builder would want to know.

    Raises
    ------
    BehaviourError
        If it cannot be run as it stands
    """
    asks = _asks(build)
    exploration = explore(build, [a.question for a in asks], seconds, alphabet)
    out = Asked(exploration)
    for a, answer in zip(asks, exploration.answers, strict=True):
        if a.wanted:
            bad = answer.verdict == "excluded"
            good = answer.verdict == "found"
        else:
            bad, good = answer.verdict == "found", answer.verdict == "excluded"
        if bad:
            at = "" if answer.at is None else f", {show(answer.at, 's') if answer.at else '0 s'} in"
            ways = _remedies(build, a.question)
            out.found.append(Item(a.id, f"{a.bad}{at}.", a.severity, answer, ways))
        elif good:
            out.excluded.append(Item(a.id, f"{a.good}.", "", answer))
        else:
            word = "not shown to happen" if a.wanted else "not excluded"
            out.open.append(Item(a.id, f"{a.bad}: {word}.", "", answer))
    return out


#: A load nobody rated is on so long at a time at the most, as a first remedy.
USUAL_LONGEST = "20 min"
#: A remedy is walked so long to see that it ends what it says [s].
TRIAL = 1.0


def _remedies(build: Build, question: Question) -> tuple[Remedy, ...]:
    """What ends it by one press, each tried on the build before it is offered."""
    tried = []
    for label, name, args in _tries(build, question):
        try:
            changed, _ = apply(build, name, args)
            (after,) = explore(changed, [question], TRIAL).answers
        except (EditError, BehaviourError):
            continue
        if after.verdict != "found":
            tried.append(Remedy(label, ((name, args),)))
    return tuple(tried)


def _tries(build: Build, question: Question) -> list[tuple[str, str, dict[str, str]]]:
    if question.kind in ("by_itself", "by_link"):
        args = {"channel": question.channels[0], "returns": "anew"}
        return [("Stay off until asked anew", "set_manner", args)]
    if question.kind == "for_ever":
        channel = build.channel(channel_of(question.channels[0]))
        assert channel is not None
        most = channel.longest_on or channel.load.longest_rated or USUAL_LONGEST
        args = {"channel": question.channels[0], "longest_on": most}
        return [(f"On for {most} at the most", "set_manner", args)]
    if question.kind == "together":
        pair = set(question.channels)
        routes = [r for r in build.routes if pair <= set(r.members)]
        gap = next((r.gap for r in routes if r.gap), "0 s")
        args = {"channels": ",".join(question.channels), "gap": gap}
        return [(f"Keep them apart, {gap} between", "add_interlock", args)]
    return []


def _asks(build: Build) -> list[_Asks]:
    names = {o.id: o.name for o in outputs_of(build)}
    found = [*_apart(build, names)]
    for channel in outputs_of(build):
        if any(r.channel == channel.id for r in build.does.requests) or _held(build, channel.id):
            found += _of_channel(build, channel)
    for plan in build.does.sequences:
        for n, phase in enumerate(plan.phases):
            found.append(
                _Asks(
                    Question("phase", (), plan.id, n),
                    "T2",
                    "fix",
                    f"Phase “{phase.name}” of {plan.name} is never reached",
                    f"Phase “{phase.name}” of {plan.name} is reached",
                    wanted=True,
                )
            )
    return found


def _held(build: Build, channel: str) -> bool:
    in_phase = any(channel in p.states for s in build.does.sequences for p in s.phases)
    return in_phase or any(p.channel == channel for m in build.does.macros for p in m.presses)


def _apart(build: Build, names: dict[str, str]) -> list[_Asks]:
    """Pairs that must never be on together: interlocked, or sources of one line."""
    pairs: list[tuple[str, str]] = []
    for lock in build.does.interlocks:
        pairs += [(a, b) for n, a in enumerate(lock.channels) for b in lock.channels[n + 1 :]]
    for route in build.routes:
        if route.interlock != "none":
            pairs += [(a, b) for n, a in enumerate(route.members) for b in route.members[n + 1 :]]
    return [
        _Asks(
            Question("together", pair),
            "T2",
            "stop",
            f"{names[pair[0]]} and {names[pair[1]]} are on together",
            f"{names[pair[0]]} and {names[pair[1]]} are never on together",
        )
        for pair in dict.fromkeys(pairs)
        if all(key in names for key in pair)
    ]


def _of_channel(build: Build, channel: Output) -> list[_Asks]:
    found, name = [], channel.name
    grave = is_grave(channel.channel)
    limited = grave or channel.channel.load.longest_rated is not None
    if limited:
        found.append(
            _Asks(
                Question("for_ever", (channel.id,)),
                "T8",
                "stop" if grave else "fix",
                f"{name} can stay on without end",
                f"{name} always goes off again",
            )
        )
    if grave:
        found.append(
            _Asks(
                Question("by_itself", (channel.id,)),
                "T6",
                "stop",
                f"{name} comes on by itself when power returns",
                f"{name} stays off when power returns until it is asked anew",
            )
        )
    if grave and build.does.link_time_out is not None:
        found.append(
            _Asks(
                Question("by_link", (channel.id,)),
                "T6",
                "stop",
                f"{name} comes on by itself when the link returns",
                f"{name} stays off when the link returns until it is asked anew",
            )
        )
    own = [r for r in build.does.requests if r.channel == channel.id]
    plain = [r for r in own if isinstance(r, said.While | said.Follow | said.Pulse)]
    for n, request in enumerate(plain):
        found.append(
            _Asks(
                Question("granted", (channel.id,), request.id, n),
                "T2",
                "fix",
                f"A rule of {name} (no. {own.index(request) + 1}) is never granted",
                f"Rule no. {own.index(request) + 1} of {name} is granted",
                wanted=True,
            )
        )
    return found
