"""Edits of what is known of machines that already exist."""

from __future__ import annotations

from latchcore.document.models import Build, Machine
from latchcore.edits.registry import EditError, edit, next_id, own, validated

WAYS = ("remote_line", "button", "supply_side", "inside")


def _machine(build: Build, machine: str) -> Machine:
    found = next((m for m in build.machines if m.id == machine), None)
    if found is None:
        raise EditError("That machine is no longer in the build.")
    return own(build, found)


@edit
def add_machine(build: Build, name: str) -> str:
    """Note a machine that already exists."""
    if len(build.machines) >= 16:
        raise EditError("A build holds up to 16 machines.")
    build.machines.append(validated(Machine, {"id": next_id(build, "m"), "name": name.strip()}))
    return f"machine {build.machines[-1].name}"


@edit
def set_machine(build: Build, machine: str, **fields: str) -> str:
    """
    Say how it behaved untouched, whether it stores high voltage, or what one of its ways is like
    (way.field).
    """
    found = _machine(build, machine)
    data = found.model_dump()
    for key, value in fields.items():
        way, _, inner = key.partition(".")
        if inner and way in WAYS and inner in data[way]:
            data[way][inner] = value
        elif not inner and key in ("name", "untouched", "stores_high_voltage"):
            data[key] = value
        else:
            raise EditError(f"A machine has no “{key}”.")
    fresh = validated(Machine, data)
    build.machines[build.machines.index(found)] = fresh
    return f"{fresh.name}: {', '.join(key.replace('_', ' ').replace('.', ' ') for key in fields)}"


@edit
def remove_machine(build: Build, machine: str) -> str:
    """Take a machine out of the build."""
    found = _machine(build, machine)
    build.machines.remove(found)
    return f"removed {found.name}"
