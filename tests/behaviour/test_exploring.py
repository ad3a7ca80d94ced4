"""The walk over every state: against the reference, against brute force, with timers reduced."""

from __future__ import annotations

import json
import time
from itertools import product
from pathlib import Path

import pytest

from latchcore.behaviour import exploring
from latchcore.behaviour.choices import choices_of
from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.exploring import Question, explore
from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.rehearsal import Runner
from latchcore.behaviour.spaces import Reduced
from latchcore.behaviour.walking import walk
from tests.behaviour.neutral import Neutral
from tests.behaviour.random_ones import CHANNELS, CONTACTS, STEP, a_behaviour
from tests.behaviour.worklight import a_build

DATA = Path(__file__).parents[1] / "data" / "behaviour.json"
EXPLORER = json.loads(DATA.read_text())["explorer"]
#: Brute force tries every input in each of so many steps.
DEEP = 4


def asked(given: Neutral, question: dict) -> Question:
    channels = question.get("channels") or [question[k] for k in ("channel",) if k in question]
    ids = tuple(given.channels[name] for name in channels)
    if question["kind"] != "phase":
        return Question(question["kind"], ids)
    plan = next(s for s in given.build.does.sequences if s.name == question["sequence"])
    names = [phase.name for phase in plan.phases]
    return Question("phase", ids, plan.id, names.index(question["phase"]))


@pytest.mark.parametrize("steps", ["whole", "reduced"])
@pytest.mark.parametrize("case", EXPLORER, ids=lambda c: c["id"])
def test_the_reference_questions_are_answered(case, steps, monkeypatch):
    if steps == "reduced":
        monkeypatch.setattr(exploring, "SMALL_TIMES", -1)
    given = Neutral(case["behaviour"])
    alphabet = {given.inputs[name]: values for name, values in case["alphabet"].items()}
    found = explore(given.build, [asked(given, case["question"])], alphabet=alphabet)
    (answer,) = found.answers
    assert found.finished and found.exact == (steps == "whole")
    if case["expect"]["answer"] == "no":
        assert answer.verdict == "excluded"
    elif steps == "whole":
        assert answer.verdict == "found"
        assert answer.at == pytest.approx(case["expect"]["at_s"])
    else:
        # With timers reduced a way may need more time than there is; never is it denied.
        assert answer.verdict != "excluded"


@pytest.mark.parametrize("case", EXPLORER, ids=lambda c: c["id"])
def test_what_was_found_happens_so_in_the_rehearsal(case):
    given = Neutral(case["behaviour"])
    question = asked(given, case["question"])
    alphabet = {given.inputs[name]: values for name, values in case["alphabet"].items()}
    (answer,) = explore(given.build, [question], alphabet=alphabet).answers
    assert (answer.verdict == "found") == (case["expect"]["answer"] == "yes")
    if answer.verdict != "found" or question.kind == "phase":
        return
    program = compiled(given.build)
    run = Runner(program, answer.start, every=True).run(answer.trace, answer.at)
    on = {w.channel: w.level > 0 for w in run.changes}
    assert all(on.get(program.channels.index(part)) for part in wanted(program, question))


def wanted(program, question):
    return [part for part in program.channels if part.id in question.channels]


def brute(given: Neutral, channels: tuple[str, ...]) -> int | None:
    """The first step in which all of some can be on, every input tried in every step."""
    program = compiled(given.build)
    places = [n for n, name in enumerate(CHANNELS) if name in channels]
    best = None
    for run in product(product((0, 1), repeat=len(CONTACTS)), repeat=DEEP):
        trace = [
            Happening(n * STEP, "input", given.inputs[name], value)
            for n, values in enumerate(run)
            for name, value in zip(CONTACTS, values, strict=True)
        ]
        out = Runner(program, given.start, every=True).run(trace, (DEEP - 1) * STEP)
        on: set[int] = set()
        for step in range(DEEP):
            on -= {w.channel for w in out.changes if w.step == step and not w.level}
            on |= {w.channel for w in out.changes if w.step == step and w.level}
            if on >= set(places) and (best is None or step < best):
                best = step
    return best


@pytest.mark.parametrize("seed", range(10))
@pytest.mark.parametrize("channels", [("a",), ("b",), ("a", "c")], ids=" ".join)
def test_a_walk_finds_what_brute_force_finds(seed, channels):
    given = Neutral(a_behaviour(seed))
    alphabet = {given.inputs[name]: [0, 1] for name in CONTACTS} | {given.inputs["x"]: [0]}
    question = Question("together", tuple(given.channels[c] for c in channels))
    found = explore(given.build, [question], seconds=2, alphabet=alphabet)
    (answer,) = found.answers
    first = brute(given, channels)
    if first is None:
        assert answer.at is None or round(answer.at / STEP) >= DEEP
    else:
        assert answer.verdict == "found" and round(answer.at / STEP) <= first
        assert not found.exact or round(answer.at / STEP) == first


@pytest.mark.parametrize("seed", range(16))
def test_what_reduced_timers_exclude_no_step_can_reach(seed, monkeypatch):
    given = Neutral(a_behaviour(seed))
    alphabet = {given.inputs[name]: [0, 1] for name in CONTACTS} | {given.inputs["x"]: [0]}
    questions = [Question("on", (given.channels[c],)) for c in CHANNELS]
    questions += [Question("for_ever", (given.channels[c],)) for c in CHANNELS]
    questions += [Question("by_itself", (given.channels[c],)) for c in CHANNELS]
    whole = explore(given.build, questions, seconds=3, alphabet=alphabet)
    monkeypatch.setattr(exploring, "SMALL_TIMES", -1)
    reduced = explore(given.build, questions, seconds=1, alphabet=alphabet)
    if not whole.exact:
        # What was not walked to the end says nothing of what it did not reach.
        pytest.skip("too many states to walk step by step")
    for exact, loose in zip(whole.answers, reduced.answers, strict=True):
        if loose.verdict == "excluded":
            assert exact.verdict == "excluded", exact.question
        if loose.verdict == "found":
            assert exact.verdict == "found", exact.question


def linked(**manner):
    """A heater while it is cold, with a link that may be lost."""
    cold = {"kind": "under", "of": "in6", "at": "20", "hysteresis": "5"}
    rule = {"id": "ru10", "kind": "while", "channel": "ch2", "condition": cold}
    return a_build(
        {
            "link_time_out": "2 s",
            "requests": [rule],
            "manners": [{"channel": "ch2", "link": "off"} | manner],
        }
    )


def test_what_comes_on_by_itself_when_the_link_returns_is_found_and_asked_anew_is_not():
    question = Question("by_link", ("ch2",))
    (answer,) = explore(linked(returns="standing"), [question]).answers
    assert answer.verdict == "found" and answer.trace[-1].what == "alive"
    (answer,) = explore(linked(returns="anew"), [question]).answers
    assert answer.verdict == "excluded"


def test_what_has_no_bearing_on_a_question_is_not_walked_for_it():
    build = linked(returns="anew")
    other = {"id": "ru11", "kind": "toggle", "channel": "ch3"}
    press = {"event": {"kind": "press", "of": "in4"}}
    requests = [*build.does.model_dump()["requests"], other | press]
    larger = build.does.model_validate(build.does.model_dump() | {"requests": requests})
    more = build.model_copy(update={"behaviour": larger})
    question = [Question("by_itself", ("ch2",))]
    assert explore(more, question).states == explore(build, question).states


def told_at(band: str):
    """A fan over 50, back by so much, on a scale from 0 to 100."""
    damp = {"kind": "over", "of": "in6", "at": "50", "hysteresis": band}
    rule = {"id": "ru10", "kind": "while", "channel": "ch3", "condition": damp}
    toggled = {"id": "ru11", "kind": "toggle", "channel": "ch2"}
    ends = {"kind": "not", "part": {"kind": "channel", "of": "ch3"}}
    event = {"event": {"kind": "becomes", "condition": ends}}
    return a_build({"requests": [rule, toggled | event]})


@pytest.mark.parametrize("band", ["5", "49.9", "50"])
def test_a_level_reaches_the_end_of_its_scale_in_a_walk(band):
    # The lamp is asked for when the fan ends: with the whole way back, only a reading of 0 does.
    (answer,) = explore(told_at(band), [Question("on", ("ch2",))]).answers
    assert answer.verdict == "found"
    readings = [h.value for h in answer.trace] + list(answer.start.values())
    assert all(0 <= r <= 100 for r in readings if not isinstance(r, bool))


def test_with_timers_reduced_a_second_press_may_come_too_late_for_a_double():
    double = {"kind": "double", "of": "in4", "within": "500 ms"}
    rules = [
        {"id": "ru10", "kind": "toggle", "channel": "ch2", "event": double},
        {"id": "ru11", "kind": "toggle", "channel": "ch3", "event": {"kind": "press", "of": "in4"}},
    ]
    build = a_build({"requests": rules})
    program = compiled(build)
    found = walk(Reduced(program, choices_of(build, program)), time.monotonic() + 5)
    lamp, fan = (part.written for part in program.channels)
    assert found.finished
    # The second press puts the fan off, and comes too late to put the lamp on.
    lone, none = (False, True), (False, False)
    states = [(bool(n.slots[lamp]), bool(n.slots[fan])) for n in found.nodes]
    steps = {(states[n], states[t]) for n, edges in enumerate(found.edges) for t, _ in edges}
    assert (lone, none) in steps and (lone, (True, False)) in steps


def test_what_goes_on_and_off_for_ever_after_a_return_is_followed_to_its_end():
    blinks = {"kind": "not", "part": {"kind": "channel", "of": "ch2"}}
    rule = {"id": "ru10", "kind": "while", "channel": "ch2", "condition": blinks}
    held = {"id": "ru11", "kind": "while", "channel": "ch3", "condition": {
        "kind": "channel", "of": "ch2", "for_at_least": "1 s"}}  # fmt: skip
    manners = [{"channel": key, "returns": "standing"} for key in ("ch2", "ch3")]
    build = a_build({"requests": [rule, held], "manners": manners})
    questions = [Question("by_itself", (key,)) for key in ("ch2", "ch3")]
    lamp, fan = explore(build, questions).answers
    assert lamp.verdict == "found" and fan.verdict == "excluded"
