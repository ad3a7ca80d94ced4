"""What wires are led through: distribution points, cables, and metal that is joined by hand."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from latchcore.document.texts import AmperesText, AreaText, Id, MetresText, Model, Name

#: Where a piece of metal is joined to: the board's ground, or a pole of a rail.
Pole = Annotated[str, Field(pattern=r"^(board|[a-z]{1,8}[0-9]{1,6}[+-])$")]


class Block(Model):
    """
    A distribution point: loads of a rail begin at it, one pole each for feed and return.

    ``behind`` is the point it hangs on in its turn, the rail's own where that is empty: the wires
    to it carry the sum of all behind. ``rating`` is printed on it, ``places`` how many wires fit
    each pole.
    """

    id: Id
    name: Name
    rail: Id
    kind: Literal["block", "outlet"] = "block"
    behind: Id | None = None
    cable: Id | None = None
    wire_length: MetresText | None = None
    wire_area: AreaText | None = None
    rating: AmperesText | None = None
    places: Annotated[int, Field(ge=2, le=100)] | None = None


class Cable(Model):
    """
    Wires that run together in one sheath; its figures hold for every wire in it that states none.
    """

    id: Id
    name: Name
    cores: Annotated[int, Field(ge=1, le=100)] | None = None
    wire_length: MetresText | None = None
    wire_area: AreaText | None = None
    laid: Literal["free", "bundled", "enclosed", "coiled"] = "free"


class Metal(Model):
    """
    A base plate, a shield, a wire laid for measuring: one piece of metal with all it is joined to.

    ``ends`` are poles of rails and the board's ground; ``earthed`` whether protective earth is led
    to it.
    """

    id: Id
    name: Name
    ends: Annotated[list[Pole], Field(max_length=16)] = []
    touchable: bool = True
    earthed: bool = False
