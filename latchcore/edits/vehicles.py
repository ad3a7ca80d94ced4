"""Edits of vehicles: two motors mixed from speed and turn."""

from __future__ import annotations

from latchcore.catalogue import in_use
from latchcore.document.models import MOST_OF_A_KIND, Build
from latchcore.document.vehicles import Vehicle
from latchcore.edits.registry import (
    EditError,
    edit,
    next_id,
    own,
    reread,
    the_channel,
    validated,
)

VEHICLE_FIELDS = tuple(n for n in Vehicle.model_fields if n != "id")


def _the_vehicle(build: Build, vehicle: str) -> Vehicle:
    found = next((v for v in build.vehicles if v.id == vehicle), None)
    if found is None:
        raise EditError(
            "That vehicle is no longer in the build; it was removed, perhaps in another tab."
        )
    return own(build, found)


def _motors(build: Build, left: str, right: str, but: str = "") -> None:
    """Refuse two that are one, that turn one way only, or that move another vehicle already."""
    for side, key in (("left", left), ("right", right)):
        channel = the_channel(build, key)
        if in_use().loads[channel.load.kind].model != "reversing":
            raise EditError(
                f"{channel.name} does not turn both ways; expected a motor that does.", side
            )
        other = next((v for v in build.vehicles if v.id != but and key in (v.left, v.right)), None)
        if other is not None:
            raise EditError(f"{channel.name} moves {other.name} already.", side)
    if left == right:
        raise EditError("Both sides are the same motor; expected two.", "right")


@edit
def add_vehicle(build: Build, left: str = "", right: str = "", name: str = "") -> str:
    """Move one thing by two motors that turn both ways."""
    if len(build.vehicles) >= MOST_OF_A_KIND:
        raise EditError(f"A build holds up to {MOST_OF_A_KIND} vehicles.")
    if not left or not right:
        raise EditError(
            "A vehicle wants a motor on each side; choose both.", "left" if not left else "right"
        )
    _motors(build, left, right)
    data = {"id": next_id(build, "veh"), "name": name.strip() or "Vehicle"}
    build.vehicles.append(validated(Vehicle, data | {"left": left, "right": right}))
    return f"{build.vehicles[-1].name}: two motors"


@edit
def set_vehicle(build: Build, vehicle: str, **fields: str) -> str:
    """Say anything of a vehicle; empty means not known."""
    found = _the_vehicle(build, vehicle)
    if unknown := set(fields) - set(VEHICLE_FIELDS):
        raise EditError(
            f"A vehicle has no “{', '.join(sorted(unknown))}”; expected any of"
            f" {', '.join(VEHICLE_FIELDS)}."
        )
    _motors(build, fields.get("left") or found.left, fields.get("right") or found.right, found.id)
    given = {key: value.strip() for key, value in fields.items()}
    if "note" in given:
        found.note = given.pop("note")
    reread(found, Vehicle, **given)
    return f"{found.name}: {', '.join(k.replace('_', ' ') for k in fields) or 'nothing changed'}"


@edit
def remove_vehicle(build: Build, vehicle: str) -> str:
    """Take a vehicle away; its motors stay."""
    found = _the_vehicle(build, vehicle)
    build.vehicles.remove(found)
    return f"removed {found.name}"
