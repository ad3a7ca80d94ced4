"""Small behaviours made by chance, in the neutral form, and inputs for them."""

from __future__ import annotations

import random
from typing import Any

STEP = 0.01
CONTACTS = ("p", "q")
CHANNELS = ("a", "b", "c")


def a_time(chance: random.Random, least: int = 1, most: int = 4) -> float:
    return round(chance.randint(least, most) * STEP, 3)


def a_condition(chance: random.Random, deep: int = 2) -> dict[str, Any]:
    kind = chance.choice(["input", "input", "channel", "over", "join"])
    if kind == "join" and deep:
        word = chance.choice(["all", "any", "not"])
        parts = [a_condition(chance, deep - 1) for _ in range(1 if word == "not" else 2)]
        found: dict[str, Any] = {word: parts[0] if word == "not" else parts}
    elif kind == "channel":
        found = {"channel": chance.choice(CHANNELS), "is": "on"}
    elif kind == "over":
        found = {chance.choice(["over", "under"]): "x", "at": 50, "hysteresis": 10}
    else:
        found = {"input": chance.choice(CONTACTS)}
    if chance.random() < 0.3:
        found["for_at_least_s"] = a_time(chance)
    if chance.random() < 0.3:
        found["lasts_s"] = a_time(chance)
    return found


def an_event(chance: random.Random) -> dict[str, Any]:
    contact = chance.choice(CONTACTS)
    return chance.choice(
        [
            {"press": contact},
            {"press": contact},
            {"double": contact, "within_s": a_time(chance, 2)},
            {"hold": contact, "over_s": a_time(chance)},
            {"becomes": a_condition(chance, 1)},
        ]
    )


def a_request(chance: random.Random) -> dict[str, Any]:
    base = {"channel": chance.choice(CHANNELS)}
    kind = chance.choice(["while", "while", "pulse", "toggle"])
    if kind == "while":
        return base | {"while": a_condition(chance)}
    base["upon"] = an_event(chance)
    if kind == "toggle":
        return base | {"toggle": True}
    again = chance.choice(["extend", "restart", "ignore"])
    return base | {"pulse_s": a_time(chance), "again": again, "wait_s": a_time(chance, 0)}


def a_channel(chance: random.Random, name: str) -> dict[str, Any]:
    limits: dict[str, Any] = {}
    if chance.random() < 0.5:
        limits["longest_on_s"] = a_time(chance, 3, 6)
    if chance.random() < 0.4:
        limits["least_on_s"] = a_time(chance, 1, 3)
    if chance.random() < 0.4:
        limits["least_off_s"] = a_time(chance)
    if chance.random() < 0.2:
        limits["starts"] = {"most": chance.randint(1, 2), "per_s": a_time(chance, 4, 8)}
    if chance.random() < 0.2:
        limits["share"] = {"most": 0.5, "window_s": a_time(chance, 6, 10)}
    returns = chance.choice(["anew", "standing", "as_was"])
    return {"name": name, "kind": "switch", "returns": returns, "limits": limits}


def a_sequence(chance: random.Random) -> dict[str, Any]:
    phases: list[dict[str, Any]] = []
    for name in ("one", "two"):
        phase: dict[str, Any] = {"name": name, "set": {chance.choice(CHANNELS): 1}}
        if chance.random() < 0.6:
            phase["lasts_s"] = a_time(chance, 0)
        else:
            then = chance.choice(["next", "stop", "abort"])
            phase |= {"until": an_event(chance), "longest_s": a_time(chance, 2), "then": then}
        phases.append(phase)
    return {
        "name": "s",
        "start": an_event(chance),
        "abort": an_event(chance),
        "after_abort": {chance.choice(CHANNELS): 1},
        "repeat": chance.choice([0, 1, 2]),
        "phases": phases,
    }


def a_behaviour(seed: int) -> dict[str, Any]:
    """One small behaviour; the same seed gives the same one."""
    chance = random.Random(seed)
    data: dict[str, Any] = {
        "step_s": STEP,
        "inputs": [
            {
                "name": name,
                "kind": "contact",
                "debounce_s": round(chance.randint(0, 2) * STEP, 3),
                "start": 0,
            }
            for name in CONTACTS
        ]
        + [{"name": "x", "kind": "level", "start": 0}],
        "channels": [a_channel(chance, name) for name in CHANNELS],
        "requests": [a_request(chance) for _ in range(chance.randint(2, 4))],
        "interlocks": [
            {"channels": chance.sample(CHANNELS, 2), "gap_s": round(chance.randint(0, 3) * STEP, 3)}
        ],
    }
    if chance.random() < 0.4:
        data["blocks"] = [{"channel": chance.choice(CHANNELS), "while": a_condition(chance)}]
    if chance.random() < 0.4:
        data["sequences"] = [a_sequence(chance)]
    if chance.random() < 0.3:
        press = {"hold_s": a_time(chance), "gap_s": a_time(chance, 0)}
        presses = [press | {"channel": c} for c in chance.sample(CHANNELS, 2)]
        data["macros"] = [{"name": "m", "start": an_event(chance), "presses": presses}]
    if chance.random() < 0.3:
        data["stagger"] = [{"channels": list(CHANNELS), "least_s": a_time(chance)}]
    return data


def inputs(seed: int, steps: int = 120, cuts: bool = True) -> list[dict[str, Any]]:
    """What happens to it: inputs that move by chance, power cuts and resets now and then."""
    chance, trace = random.Random(seed * 7919 + 1), []
    for n in range(steps):
        t = round(n * STEP, 3)
        if chance.random() < 0.25:
            trace.append({"t": t, "input": chance.choice(CONTACTS), "value": chance.randint(0, 1)})
        if chance.random() < 0.08:
            trace.append({"t": t, "input": "x", "value": chance.choice([0, 40, 45, 50, 60])})
        if cuts and chance.random() < 0.01:
            trace += [{"t": t, "power": 0}, {"t": round(t + a_time(chance), 3), "power": 1}]
        if cuts and chance.random() < 0.01:
            trace.append({"t": t, "reset": 1})
    return sorted(trace, key=lambda h: h["t"])
