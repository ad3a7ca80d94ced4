"""Questions asked of every state a behaviour can reach, and their answers."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal

from latchcore.behaviour.choices import Choice, Choices, choices_of
from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.cone import cone
from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.replaying import Replay, replayed
from latchcore.behaviour.running import RunningSequence
from latchcore.behaviour.spaces import Leaps, Move, Node, Reduced, WholeSteps
from latchcore.behaviour.step import Program, do_step
from latchcore.behaviour.waking import NEVER, next_step
from latchcore.behaviour.walking import MOST_STATES, Walk, walk
from latchcore.document.models import Build

#: Times up to so many steps are walked step by step first.
SMALL_TIMES = 120
#: The part of the time given to the walk with real times: step by step, or in leaps.
EXACT_SHARE, LEAPS_SHARE = 0.4, 0.3
#: A return of power is followed for so many steps at the most.
MOST_AFTER_RETURN = 5000
#: Of a channel after a return of power: it surely stays off, or was not followed far enough.
NOT, UNSETTLED = -1, -2
#: So many ways to a power cut, and to anything else, are run with real times, the shortest first.
MOST_TRIED, MOST_WAYS = 20, 40
#: Rounds of a cycle that are run with real times to show that it goes on.
MOST_ROUNDS = 20

Asks = Literal["together", "on", "for_ever", "phase", "by_itself", "by_link", "granted"]
Verdict = Literal["found", "excluded", "not_excluded"]


@dataclass(frozen=True, slots=True)
class Question:
    """
    One thing to find out.

    ``channels`` are ids; of a phase ``of`` is its sequence and ``index`` its place; of a request
    ``index`` its place among those of the channel.
    """

    kind: Asks
    channels: tuple[str, ...] = ()
    of: str = ""
    index: int = 0


@dataclass(frozen=True, slots=True)
class Answer:
    """
    What came of a question.

    ``verdict`` is whether it was found with real times, cannot happen at all, or is not excluded;
    ``start`` and ``trace`` are the shortest way there, ``at`` the time of its end [s].
    """

    question: Question
    verdict: Verdict
    at: float | None = None
    start: dict[str, Any] = field(default_factory=dict)
    trace: tuple[Happening, ...] = ()


@dataclass(frozen=True, slots=True)
class Exploration:
    """
    What a walk over a behaviour came to.

    ``finished`` tells whether everything was walked; ``exact`` whether with the real times, else
    with timers reduced to idle, running and due; ``one_at_a_time`` whether inputs were taken to
    change one at a time, for there are too many combinations.
    """

    finished: bool
    states: int
    exact: bool
    one_at_a_time: bool
    answers: tuple[Answer, ...]
    seconds: float


def explore(
    build: Build,
    questions: list[Question],
    seconds: float = 5.0,
    alphabet: dict[str, list[Any]] | None = None,
) -> Exploration:
    """
    Walk a build's behaviour and answer questions about it.

    Raises
    ------
    BehaviourError
        If it cannot be run as it stands
    """
    compiled(build)
    begun = time.monotonic()
    parts: dict[tuple[str, ...], tuple[Build, list[int]]] = {}
    for n, question in enumerate(questions):
        small = cone(build, question.channels, question.of)
        key = tuple(c.id for c in small.channels)
        parts.setdefault(key, (small, []))[1].append(n)
    answers: dict[int, Answer] = {}
    walks = []
    # The small ones first: what they leave of the time is the others'.
    waiting = sorted(parts.values(), key=lambda part: len(part[0].channels))
    for left, (small, places) in zip(range(len(waiting), 0, -1), waiting, strict=True):
        share = max((begun + seconds - time.monotonic()) / left, seconds / 50)
        walked = _explored(small, [questions[n] for n in places], share, alphabet)
        answers |= dict(zip(places, walked.answers, strict=True))
        walks.append(walked)
    return Exploration(
        all(w.finished for w in walks),
        sum(w.states for w in walks),
        all(w.exact for w in walks),
        any(w.one_at_a_time for w in walks),
        tuple(answers[n] for n in range(len(questions))),
        time.monotonic() - begun,
    )


def _explored(
    build: Build, questions: list[Question], seconds: float, alphabet: dict[str, list[Any]] | None
) -> Exploration:
    """One part of a behaviour walked by itself."""
    begun = time.monotonic()
    until = begun + seconds
    program = compiled(build)
    choices = choices_of(build, program, alphabet)
    space = (WholeSteps if program.longest <= SMALL_TIMES else Leaps)(program, choices)
    share = EXACT_SHARE if type(space) is WholeSteps else LEAPS_SHARE
    found = walk(space, begun + seconds * share, MOST_STATES // 4)
    asks = _Asking(program, choices, found)
    answers = [asks.answer(question) for question in questions]
    exact = found.finished and type(space) is WholeSteps
    if not exact:
        loose = compiled(build)
        reduced = Reduced(loose, choices_of(build, loose, alphabet))
        found = walk(reduced, until)
        asks = _Asking(program, choices, found)
        answers = [
            answer if answer.verdict == "found" else asks.answer(answer.question)
            for answer in answers
        ]
    return Exploration(
        found.complete,
        len(found.nodes),
        exact,
        not choices.together,
        tuple(answers),
        time.monotonic() - begun,
    )


class _Asking:
    """Answers questions from one walk; the program here is the one with the real times."""

    def __init__(self, program: Program, choices: Choices, found: Walk) -> None:
        self.program, self.choices, self.found = program, choices, found
        self.places = {part.id: part.place for part in program.channels}
        excluded = found.complete and choices.together
        self.none: Verdict = "excluded" if excluded else "not_excluded"
        self._returns: dict[Any, tuple[int, ...]] = {}

    def answer(self, question: Question) -> Answer:
        """What came of one question."""
        if self._by_construction(question):
            return Answer(question, "excluded")
        if question.kind == "by_itself":
            return self._by_itself(question)
        if question.kind == "by_link":
            return self._by_link(question)
        if question.kind == "granted":
            asked = (self.places[question.channels[0]], question.index)
            granted = asked in self.found.space.granted
            return Answer(question, "found" if granted else self.none)
        holds = self._holds(question)
        if question.kind == "for_ever":
            return self._for_ever(question, holds)
        shown = Answer(question, self.none)
        # The shortest way with timers reduced may need more time than there is; another may not.
        for place in self.found.those(holds, MOST_WAYS):
            shown = self._shown(question, [move for _, move in self.found.way(place)], holds)
            if shown.verdict == "found":
                break
        return shown

    def _by_construction(self, question: Question) -> bool:
        """
        Whether the step itself rules it out, however much was walked: an interlock lets no second
        one on, longest on and share end what is on too long.
        """
        places = {self.places[c] for c in question.channels}
        if question.kind == "together":
            return any(len(places & set(lock.channels)) > 1 for lock in self.program.interlocks)
        if question.kind == "for_ever":
            limits = [self.program.channels[place].limits for place in places]
            return any(lim.longest is not None or lim.share is not None for lim in limits)
        return False

    def _holds(self, question: Question) -> Callable[[list[Any]], bool]:
        if question.kind == "phase":
            runner = next(r for r in self.program.runners if r.name == question.of)
            assert isinstance(runner, RunningSequence)
            return lambda slots: slots[runner.phase] == question.index
        written = [self.program.channels[self.places[c]].written for c in question.channels]
        return lambda slots: all(slots[w] for w in written)

    def _shown(
        self, question: Question, way: list[Move], holds: Callable[[list[Any]], bool]
    ) -> Answer:
        """Found where it can be run with real times, else not excluded."""
        run = replayed(self.program, self.choices, way, holds)
        if run is None:
            return Answer(question, "not_excluded")
        at = run.now * self.program.step
        return Answer(question, "found", at, run.start, tuple(run.happenings))

    def _for_ever(self, question: Question, holds: Callable[[list[Any]], bool]) -> Answer:
        place = self.found.for_ever(holds)
        if place is None:
            return Answer(question, self.none)
        way = [move for _, move in self.found.way(place)]
        shown = self._shown(question, way, holds)
        if shown.verdict != "found" or self.found.space.exact:
            return shown
        run = replayed(self.program, self.choices, way, holds)
        if run is None or self._stays(run, holds):
            return shown if run is not None else Answer(question, "not_excluded")
        return self._repeated(question, place, way, holds)

    def _repeated(
        self,
        question: Question,
        place: int,
        way: list[Move],
        holds: Callable[[list[Any]], bool],
    ) -> Answer:
        """Found where a round of the walk, run with real times, comes back to where it began."""
        into, rounds = self.found.lasso(place, holds)
        run = replayed(self.program, self.choices, way + into, holds)
        if run is None or not rounds:
            return Answer(question, "not_excluded")
        at, known = run.now * self.program.step, set()
        for _ in range(MOST_ROUNDS):
            key = self.program.layout.key(run.slots, run.now)
            if key in known:
                return Answer(question, "found", at, run.start, tuple(run.happenings))
            known.add(key)
            for move in rounds:
                run.go(move)
                if not holds(run.slots):
                    return Answer(question, "not_excluded")
        return Answer(question, "not_excluded")

    def _stays(self, run: Replay, holds: Callable[[list[Any]], bool]) -> bool:
        """Whether it holds as long as nothing changes any more."""
        far = run.now + 10 * self.program.longest + 10
        while run.now < far:
            more = run.wait(min(run.now + 1, far))
            if not holds(run.slots):
                return False
            if not more:
                return True
            wakes = next_step(self.program, run.slots, run.now, None)
            run.wait(min(max(wakes, run.now + 1), far))
        return holds(run.slots)

    def _by_itself(self, question: Question) -> Answer:
        """Power fails in a state and is back at once, inputs as they are: does it come on?"""
        place = self.places[question.channels[0]]
        came = [
            (self.found.depths[n] + 1 + delay, n, delay)
            for n, node in enumerate(self.found.nodes)
            if (delay := self._after_return(node)[place]) >= 0
        ]
        for _, n, delay in sorted(came)[:MOST_TRIED]:
            node = self.found.nodes[n]
            run = Replay.along(self.program, self.choices, [move for _, move in self.found.way(n)])
            if self._kept(run.slots) != self._kept(node.slots) or run.choice != node.choice:
                # Reached with timers reduced only.
                continue
            back = run.now + 1
            t = back * self.program.step
            cut = (Happening(t, "power", value=0), Happening(t, "power", value=1))
            at = (back + delay) * self.program.step
            return Answer(question, "found", at, run.start, (*run.happenings, *cut))
        certain = not came and all(
            self._after_return(node)[place] != UNSETTLED for node in self.found.nodes
        )
        return Answer(question, self.none if certain else "not_excluded")

    def _kept(self, slots: list[Any]) -> tuple[Any, ...]:
        """What outlives a power cut."""
        return tuple(slots[n] for n in sorted(self.program.layout.kept))

    def _by_link(self, question: Question) -> Answer:
        """The link is back, nothing else comes in: does it come on in that step?"""
        link = self.program.link
        if link is None:
            return Answer(question, "excluded")
        part = self.program.channels[self.places[question.channels[0]]]
        holds = self._holds(question)
        for n, node in enumerate(self.found.nodes):
            if not node.slots[link.lost] or node.slots[part.written]:
                continue
            for target, move in self.found.edges[n]:
                after = self.found.nodes[target].slots
                if after[link.lost] or not after[part.written]:
                    continue
                if self._quiet(node.choice) == self._quiet(move.choice):
                    way = [m for _, m in self.found.way(n)] + [move]
                    return self._shown(question, way, holds)
        # What is not asked anew may wait for its rest, and come on later.
        return Answer(question, self.none if part.returns == "anew" else "not_excluded")

    def _quiet(self, choice: Choice) -> Choice:
        """What came in, signs of life apart."""
        pairs = zip(self.choices.dimensions, choice, strict=True)
        return tuple(value for d, value in pairs if d.kind != "alive")

    def _after_return(self, node: Node) -> tuple[int, ...]:
        """
        For each channel after how many steps it comes on; :data:`NOT` where it surely does not,
        :data:`UNSETTLED` where it was not followed far enough.
        """
        key = (self._kept(node.slots), node.choice)
        if key not in self._returns:
            self._returns[key] = self._return(node)
        return self._returns[key]

    def _return(self, node: Node) -> tuple[int, ...]:
        slots = self.program.layout.powered(node.slots, 0)
        came: dict[int, int] = {}
        quiet = tuple(
            d.values[0] if d.kind in ("command", "alive") else value
            for d, value in zip(self.choices.dimensions, node.choice, strict=True)
        )
        now, first, known = 0, True, set()
        for _ in range(MOST_AFTER_RETURN):
            before = None if first else list(slots)
            do_step(self.program, slots, now, first, self.choices.given(quiet, slots))
            first = False
            for part in self.program.channels:
                if slots[part.written]:
                    came.setdefault(part.place, now)
            key = self.program.layout.key(slots, now)
            wakes = now + 1
            if slots == before:
                wakes = next_step(self.program, slots, now, None)
            if wakes >= NEVER or key in known:
                # Nothing more can happen, or the same again and again.
                return tuple(came.get(n, NOT) for n in range(len(self.program.channels)))
            known.add(key)
            now = max(wakes, now + 1)
        return tuple(came.get(n, UNSETTLED) for n in range(len(self.program.channels)))
