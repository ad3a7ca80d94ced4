"""All that a behaviour says, in order, for paper."""

from __future__ import annotations

from latchcore.behaviour.named import outputs_of
from latchcore.behaviour.sentences import Sentences
from latchcore.document import behaviour as said
from latchcore.document.models import Build


def told(build: Build) -> list[tuple[str, list[str]]]:
    """
    For each channel, sequence and the like its name and its sentences.

    Examples
    --------
    >>> told(Build(name="Bench"))
    []
    """
    words, does = Sentences(build), build.does
    found = [(plan.name, _sequence(words, plan)) for plan in does.sequences]
    for channel in outputs_of(build):
        own = [words.request(r) for r in does.requests if r.channel == channel.id]
        own += [words.bar(b) for b in does.bars if b.channel == channel.id]
        if own or any(m.channel == channel.id for m in does.manners):
            found.append((channel.name, own + words.manner(does.manner(channel.id))))
    found += [(macro.name, [_macro(words, macro)]) for macro in does.macros]
    found += [
        (q.name, [f"When {words.event(q.event)} it waits {q.delay}; room for {q.length}."])
        for q in does.queues
    ]
    if does.interlocks:
        found.append(("Never together", [words.interlock(lock) for lock in does.interlocks]))
    named = [f"{words.other(c.id)} is so while {words.condition(c.condition)}."
             for c in does.conditions]  # fmt: skip
    return found + ([("Conditions", named)] if named else [])


def _sequence(words: Sentences, plan: said.Sequence) -> list[str]:
    repeat = {0: ", again and again until aborted", 1: ""}.get(
        plan.repeat, f", {plan.repeat} times"
    )
    found = [f"Starts when {words.event(plan.start)}{repeat}."]
    if plan.abort is not None:
        found.append(f"Aborts when {words.event(plan.abort)}.")
    for phase in plan.phases:
        states = ", ".join(f"{words.channel(c)} {s}" for c, s in phase.states.items())
        found.append(f"{phase.name}: {states or 'asks for nothing'}; {words.phase_end(phase)}.")
    for channel, state in plan.after_abort.items():
        found.append(f"After an abort {words.channel(channel)} is {state}.")
    return found


def _macro(words: Sentences, macro: said.Macro) -> str:
    presses = ", ".join(f"{words.channel(p.channel)} {p.hold} then {p.gap}" for p in macro.presses)
    return f"When {words.event(macro.start)}: {presses}."
