"""Figures of behaviour for the budget table: a day rehearsed, a walk, an edit of a rule."""

from __future__ import annotations

import random
import time
from typing import Any

from django.test import Client

from latchcore.behaviour.compiling import compiled
from latchcore.behaviour.exploring import Question, explore
from latchcore.behaviour.happenings import Happening
from latchcore.behaviour.rehearsal import Runner
from latchcore.document.models import Build as Document
from latchcore.formats.buildfile import write_build
from workbench.actions.creating import begin, create_from_file
from workbench.models import Build

LAMP = {"kind": "filament_lamp", "voltage": "12 V", "figure": "100 mA"}
DAY = 86400


def tended(inputs: int = 8, channels: int = 12) -> Document:
    """Channels in turn on a rule that lasts, under a level, upon a press, in the evening."""
    senses: list[dict[str, Any]] = [
        {"id": f"in{n}", "name": f"Input {n}", "kind": "knob" if n % 4 == 3 else "button"}
        for n in range(inputs)
    ]
    requests: list[dict[str, Any]] = []
    for n in range(channels):
        base = {"id": f"ru{100 + n}", "channel": f"ch{n}"}
        contact, level = f"in{n % inputs}", "in3" if n % 2 else f"in{inputs - 1}"
        if n % 4 == 3 or n % inputs % 4 == 3:
            under = {"kind": "under", "of": level, "at": "40", "hysteresis": "5"}
            requests.append(base | {"kind": "while", "condition": under})
        elif n % 4 == 0:
            lasts = {"kind": "input", "of": contact, "lasts": f"{30 + n} s"}
            requests.append(base | {"kind": "while", "condition": lasts})
        elif n % 4 == 1:
            press = {"kind": "press", "of": contact}
            requests.append(base | {"kind": "pulse", "event": press, "length": f"{5 + n} s"})
        else:
            evening = {"kind": "between", "begin": "17:00", "end": "23:00"}
            requests.append(base | {"kind": "while", "condition": evening})
    manners = [
        {"channel": f"ch{n}", "returns": "standing"}
        | ({"longest_on": "20 min", "least_off": "30 s"} if n % 3 == 0 else {})
        for n in range(channels)
    ]
    return Document.model_validate(
        {
            "name": "Tended",
            "serial": 200,
            "rails": [{"id": "rail1", "name": "12 V", "voltage": "12 V", "rating": "5 A"}],
            "channels": [
                {"id": f"ch{n}", "name": f"Lamp {n}", "rail": "rail1", "load": LAMP}
                for n in range(channels)
            ],
            "inputs": senses,
            "behaviour": {
                "requests": requests,
                "manners": manners,
                "interlocks": [{"id": "il150", "channels": ["ch0", "ch4"], "gap": "2 s"}],
            },
        }
    )


def a_day(build: Document) -> list[Happening]:
    """A reading of each level every five minutes, and three hundred touches of contacts."""
    chance, found = random.Random(7), [Happening(0, "clock", value=(0, None))]
    for item in build.inputs:
        if item.kind == "knob":
            found += [
                Happening(t, "input", item.id, 40 + 15 * chance.random())
                for t in range(0, DAY, 300)
            ]
        else:
            for _ in range(50):
                t = chance.random() * (DAY - 100)
                found.append(Happening(t, "input", item.id, True))
                found.append(Happening(t + 20 * chance.random(), "input", item.id, False))
    return found


def behaviour(row, median) -> None:
    """A day of 12 channels, a walk of 8 inputs and 12 channels, an edit of a rule."""
    build = tended()
    program, happenings = compiled(build), a_day(build)
    start = time.perf_counter()
    run = Runner(program, {}).run(happenings, DAY)
    row(
        "a day of 12 channels rehearsed",
        time.perf_counter() - start,
        "s",
        1,
        f"{len(happenings)} happenings, {len(run.changes)} changes, {run.done} of {run.last + 1}"
        " steps worked out",
    )
    questions = [Question("for_ever", (c.id,)) for c in build.channels]
    questions += [Question("by_itself", (c.id,)) for c in build.channels]
    questions.append(Question("together", ("ch0", "ch4")))
    found = explore(build, questions, 5.0)
    row(
        "8 inputs, 12 channels explored",
        found.seconds,
        "s",
        5,
        f"{found.states} states, {'all there are' if found.finished else 'there are more'}",
    )
    _edited(row, median, build)


def _edited(row, median, document: Document) -> None:
    """An edit of a rule beside an empty page."""
    build = create_from_file(write_build(document).encode())
    empty, client = begin(Document(name="Empty"), "begun"), Client()
    flip = iter(range(10_000))

    def edit() -> None:
        version = Build.objects.values_list("version", flat=True).get(pk=build.pk)
        data = {"version": version, "edit": "set_condition_figures", "piece": "ru100"}
        data |= {"path": "condition", "lasts": f"{31 + next(flip) / 100:.2f} s"}
        address = f"/builds/{build.pk}/behaviour/"
        assert client.post(address, data, headers={"HX-Request": "true"}).status_code == 200

    edit()
    pairs = [
        (median(edit, 1), median(lambda: client.get(f"/builds/{empty.pk}/"), 1)) for _ in range(25)
    ]
    typical, beside = (sorted(taken)[len(taken) // 2] for taken in zip(*pairs, strict=True))
    row(
        "an edit of a rule against an empty page",
        typical / beside,
        "×",
        6,
        f"{typical:.0f} ms beside {beside:.1f} ms",
    )
