"""Edits of conditions, wherever one stands: what it looks at, its figures, how it is joined."""

from __future__ import annotations

from typing import Any

from latchcore.document.conditions import MOST_PARTS
from latchcore.edits.behaviour.looks import looked
from latchcore.edits.behaviour.pieces import at, put, rewritten
from latchcore.edits.registry import EditError, edit
from latchcore.figures.typed import quoted

TIMERS = ("for_at_least", "lasts")
#: Figures a condition may have, by its kind.
FIGURES = {
    "over": ("at", "hysteresis"),
    "under": ("at", "hysteresis"),
    "between": ("begin", "end", "days"),
    "since_power": ("time",),
}


def _changed(build: Any, piece: str, path: str, change) -> None:
    """A condition changed where it stands; ``change`` gives the new one for the old."""
    rewritten(build, piece, lambda data: put(data, path, change(at(data, path))))


@edit
def set_condition(build, piece: str, path: str, looks_at: str) -> str:
    """Let a condition look at something else; its timers stay."""
    fresh = looked(build, looks_at)

    def change(old: dict[str, Any] | None) -> dict[str, Any]:
        return fresh | {key: old[key] for key in TIMERS if old and old.get(key)}

    _changed(build, piece, path, change)
    return "a condition looks at something else"


@edit
def set_condition_figures(build, piece: str, path: str, **fields: str) -> str:
    """Threshold, window and timers of a condition; an empty timer is none."""

    def change(old: dict[str, Any]) -> dict[str, Any]:
        allowed = (*FIGURES.get(old["kind"], ()), *TIMERS)
        if unknown := set(fields) - set(allowed):
            raise EditError(
                f"That condition has no {quoted(', '.join(sorted(unknown)))}; expected any of"
                f" {', '.join(allowed)}."
            )
        given: dict[str, Any] = {key: value.strip() for key, value in fields.items()}
        for key in TIMERS:
            if given.get(key) == "":
                given[key] = None
        if given.get("hysteresis") == "":
            given["hysteresis"] = "0"
        if "days" in given:
            given["days"] = [day for day in given["days"].split(",") if day]
        return old | given

    _changed(build, piece, path, change)
    return f"a condition: {', '.join(k.replace('_', ' ') for k in fields)}"


@edit
def join_condition(build, piece: str, path: str, how: str, looks_at: str) -> str:
    """Join something more to a condition: all of both, or any of them."""
    if how not in ("all", "any"):
        raise EditError(f"{quoted(how)} joins nothing; expected all or any.", "how")
    fresh = looked(build, looks_at)

    def change(old: dict[str, Any]) -> dict[str, Any]:
        if old["kind"] != how:
            return {"kind": how, "parts": [old, fresh]}
        if len(old["parts"]) >= MOST_PARTS:
            raise EditError(f"A condition joins up to {MOST_PARTS}; give some a name of their own.")
        return old | {"parts": [*old["parts"], fresh]}

    _changed(build, piece, path, change)
    return f"joined by {how}"


@edit
def negate_condition(build, piece: str, path: str) -> str:
    """Turn a condition into its opposite, or back."""

    def change(old: dict[str, Any]) -> dict[str, Any]:
        if old["kind"] == "not" and not any(old.get(key) for key in TIMERS):
            return old["part"]
        return {"kind": "not", "part": old}

    _changed(build, piece, path, change)
    return "a condition turned into its opposite"


@edit
def remove_condition(build, piece: str, path: str) -> str:
    """Take one part out of a join; of two the other stays by itself."""
    above, _, last = path.rpartition(".")
    if not last.isdigit() or not above.endswith("parts"):
        raise EditError("That is no part of a join; remove the whole rule instead.")

    def change(old: dict[str, Any]) -> dict[str, Any]:
        rest = [part for n, part in enumerate(old["parts"]) if n != int(last)]
        alone = len(rest) == 1 and not any(old.get(key) for key in TIMERS)
        return rest[0] if alone else old | {"parts": rest}

    _changed(build, piece, above.removesuffix("parts").removesuffix("."), change)
    return "a part of a condition removed"
