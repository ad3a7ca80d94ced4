"""Edits of what wires are led through: distribution points, cables, metal joined by hand."""

from __future__ import annotations

from typing import Any

from latchcore.document.laid import Block, Cable, Metal
from latchcore.document.models import MOST_OF_A_KIND, Build, chain_of
from latchcore.edits.registry import EditError, edit, next_id, own, reread, the_rail, validated

BLOCK_FIELDS = tuple(n for n in Block.model_fields if n not in ("id", "rail"))
CABLE_FIELDS = tuple(n for n in Cable.model_fields if n != "id")
METAL_FIELDS = tuple(n for n in Metal.model_fields if n != "id")


def _room(pieces: list, what: str) -> None:
    if len(pieces) >= MOST_OF_A_KIND:
        raise EditError(f"A build holds up to {MOST_OF_A_KIND} {what}.")


def _known(what: str, fields: dict[str, str], expected: tuple[str, ...]) -> None:
    if unknown := set(fields) - set(expected):
        raise EditError(
            f"{what} has no “{', '.join(sorted(unknown))}”; expected any of {', '.join(expected)}."
        )


def _the(build: Build, pieces: list, wanted: str, what: str) -> Any:
    found = next((piece for piece in pieces if piece.id == wanted), None)
    if found is None:
        raise EditError(
            f"That {what} is no longer in the build; it was removed, perhaps in another tab."
        )
    return own(build, found)


def the_cable(build: Build, cable: str) -> Cable:
    """The cable of that id, or an error that says it is gone."""
    return _the(build, build.cables, cable, "cable")


@edit
def add_block(build: Build, rail: str, name: str = "", kind: str = "block") -> str:
    """A distribution point on a rail, for its loads to begin at."""
    _room(build.blocks, "distribution points")
    found = the_rail(build, rail)
    data = {
        "id": next_id(build, "blk"),
        "name": name.strip() or f"{'Outlet' if kind == 'outlet' else 'Block'} of {found.name}"[:60],
        "rail": rail,
        "kind": kind,
    }
    build.blocks.append(validated(Block, data))
    return f"{build.blocks[-1].name}, on {found.name}"


@edit
def set_block(build: Build, block: str, **fields: str) -> str:
    """Say what a distribution point hangs on and how its wires are made; empty means not known."""
    _known("A distribution point", fields, BLOCK_FIELDS)
    found = _the(build, build.blocks, block, "distribution point")
    if behind := fields.get("behind"):
        above = _the(build, build.blocks, behind, "distribution point")
        if above.rail != found.rail:
            raise EditError(
                f"{above.name} is on another rail; expected a point of the same one.", "behind"
            )
        if found in (chain_of(build, above) or [found]):
            raise EditError(
                f"{above.name} hangs on {found.name} itself; expected one that stands before it.",
                "behind",
            )
    if fields.get("cable"):
        the_cable(build, fields["cable"])
    reread(found, Block, **{key: value.strip() for key, value in fields.items()})
    return f"{found.name}: {', '.join(key.replace('_', ' ') for key in fields)}"


@edit
def remove_block(build: Build, block: str) -> str:
    """Take a distribution point away; what hung on it moves to what it hung on."""
    found = _the(build, build.blocks, block, "distribution point")
    build.blocks.remove(found)
    for piece in (*build.channels, *build.blocks):
        field = "block" if hasattr(piece, "load") else "behind"
        if getattr(piece, field) == block:
            setattr(own(build, piece), field, found.behind)
    return f"removed {found.name}"


@edit
def add_cable(build: Build, name: str, cores: str = "") -> str:
    """A cable that wires run in."""
    _room(build.cables, "cables")
    data = {"id": next_id(build, "cab"), "name": name.strip(), "cores": cores.strip() or None}
    build.cables.append(validated(Cable, data))
    return f"cable {build.cables[-1].name}"


@edit
def set_cable(build: Build, cable: str, **fields: str) -> str:
    """Say how a cable is made and laid; empty means not known."""
    _known("A cable", fields, CABLE_FIELDS)
    found = the_cable(build, cable)
    reread(found, Cable, **{key: value.strip() for key, value in fields.items()})
    return f"{found.name}: {', '.join(key.replace('_', ' ') for key in fields)}"


@edit
def remove_cable(build: Build, cable: str) -> str:
    """Take a cable away; what ran in it runs on its own."""
    found = the_cable(build, cable)
    build.cables.remove(found)
    for piece in (*build.channels, *build.blocks):
        if piece.cable == cable:
            own(build, piece).cable = None
    return f"removed cable {found.name}"


@edit
def add_metal(build: Build, name: str, ends: str = "") -> str:
    """A piece of metal that is joined by hand: a base plate, a shield, a wire for measuring."""
    _room(build.metals, "pieces of metal")
    data = {"id": next_id(build, "mt"), "name": name.strip(), "ends": _ends(build, ends)}
    build.metals.append(validated(Metal, data))
    return f"{build.metals[-1].name}, joined by hand"


@edit
def set_metal(build: Build, metal: str, **fields: str) -> str:
    """Say what a piece of metal is joined to, whether it can be touched and is earthed."""
    _known("A piece of metal", fields, METAL_FIELDS)
    found = _the(build, build.metals, metal, "piece of metal")
    said: dict[str, Any] = {key: value.strip() for key, value in fields.items()}
    if "ends" in said:
        said["ends"] = _ends(build, said["ends"])
    for key in ("touchable", "earthed"):
        if key in said:
            # A ticked box comes with the unticked one's word before it.
            said[key] = "yes" in said[key].split(",")
    reread(found, Metal, **said)
    return f"{found.name}: {', '.join(fields)}"


@edit
def remove_metal(build: Build, metal: str) -> str:
    """Take a piece of metal away."""
    found = _the(build, build.metals, metal, "piece of metal")
    build.metals.remove(found)
    return f"removed {found.name}"


def _ends(build: Build, typed: str) -> list[str]:
    """Poles with commas between, each of a rail that is there, or the board."""
    ends = list(dict.fromkeys(end for end in typed.split(",") if end))
    for end in ends:
        if end != "board":
            the_rail(build, end[:-1])
    return ends
