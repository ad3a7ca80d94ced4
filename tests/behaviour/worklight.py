"""Builds the tests of behaviour begin from: a work light, a hatch, a heated mat."""

from __future__ import annotations

from typing import Any

from latchcore.document.models import Build

BUTTON = {"kind": "button", "debounce": "20 ms"}
LAMP = {"kind": "filament_lamp", "voltage": "12 V", "figure": "1 A"}


def a_build(behaviour: dict[str, Any], **more: Any) -> Build:
    """Two passage switches, a damp sensor, a lamp and a fan on one rail of 2 A."""
    data = {
        "name": "Shed",
        "serial": 40,
        "board": "board-8bit-5v-20",
        "rails": [
            {"id": "rail1", "name": "12 V", "voltage": "12 V", "rating": "2 A"},
        ],
        "channels": [
            {"id": "ch2", "name": "Lamp", "rail": "rail1", "load": LAMP, "pin": None},
            {"id": "ch3", "name": "Fan", "rail": "rail1", "load": LAMP, "pin": None},
        ],
        "inputs": [
            {"id": "in4", "name": "North", **BUTTON},
            {"id": "in5", "name": "South", **BUTTON},
            {"id": "in6", "name": "Damp", "kind": "knob", "lowest": "0", "highest": "100"},
        ],
        "behaviour": behaviour,
    }
    return Build.model_validate(data | more)


EITHER = {
    "kind": "any",
    "parts": [{"kind": "input", "of": "in4"}, {"kind": "input", "of": "in5"}],
    "lasts": "3 s",
}


def work_light(**more: Any) -> Build:
    """The lamp follows either of two switches for three seconds more."""
    rule = {"id": "ru10", "kind": "while", "channel": "ch2", "condition": EITHER}
    return a_build(
        {"requests": [rule], "manners": [{"channel": "ch2", "returns": "standing"}]} | more
    )
