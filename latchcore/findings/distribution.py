"""Distribution points and cables: what they carry together, what fits them, what must not meet."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, Remedy, StageResult
from latchcore.document.laid import Block, Cable
from latchcore.document.models import Channel, Rail
from latchcore.figures.quantity import digits, parse, show
from latchcore.figures.slack import exceeds, falls_short
from latchcore.findings.rails import DROP_FIX, DROP_NOTE
from latchcore.sums import ampacity

Uses = list[tuple[ChannelContext, StageResult]]
#: Conductors of one load or point, and of one that protective earth is led to.
CORES, WITH_EARTH = 2, 3


def build(around: BuildContext, uses: Uses) -> Iterator[Finding]:
    """S6 and S11 of the points and cables of a build, and I2 of a cable with both domains in it."""
    for block in around.build.blocks:
        rail = around.build.rail(block.rail)
        if rail is not None:
            yield from _block(around, block, rail, uses)
    for cable in around.build.cables:
        yield from _cable(around, cable)


def _block(around: BuildContext, block: Block, rail: Rail, uses: Uses) -> Iterator[Finding]:
    behind = [c.id for c in around.behind(block)]
    running = sum(
        r.running for c, r in uses if c.channel.id in behind and not r.contact.series_switch
    )
    wire, where = around.wire(block), f"rail:{rail.id}"
    carries = around.carries(wire, rail) if wire.area else around.thickest(rail)
    if exceeds(running, carries):
        yield Finding(
            "S11",
            "stop",
            where,
            f"The wires to {block.name} carry more than they may",
            f"{show(running, 'A')} of {len(behind)} loads through"
            f" {wire.words or 'the thickest wire that is listed'}, which carries"
            f" {show(carries, 'A') if carries else 'nothing that is listed'}.",
            "A piece that several loads share carries their sum.",
            "everything behind it on",
            remedies=_thicker(around, block, rail, running),
            lasting=around.hazardous(rail),
        )
    if block.rating and exceeds(running, parse(block.rating, "A")):
        yield Finding(
            "S11",
            "stop",
            where,
            f"{block.name} is printed for less",
            f"{show(running, 'A')} behind it, and {block.rating} printed on it.",
            "Its metal warms where the wires are clamped, and loosens them.",
            "everything behind it on",
            remedies=(
                Remedy(
                    f"One that is printed for {show(running, 'A')} or more",
                    (("set_block", {"block": block.id, "rating": show(running * 1.01, "A")}),),
                ),
            ),
            lasting=around.hazardous(rail),
        )
    yield from _places(around, block)
    yield from _drop(around, block, rail, running)


def _thicker(around: BuildContext, block: Block, rail: Rail, amperes: float) -> tuple[Remedy, ...]:
    table = around.wires(around.hazardous(rail))
    area = ampacity.least_area(amperes, table, around.wire(block).laid)
    if area is None:
        return (Remedy("Split the loads over several points, each with wires of its own."),)
    words = ampacity.area_words(area, table)
    edit = ("set_block", {"block": block.id, "wire_area": words})
    return (Remedy(f"Wires of {words}", (edit,)),)


def _places(around: BuildContext, block: Block) -> Iterator[Finding]:
    here = [c for c in around.build.channels if c.block == block.id]
    wires = 1 + len(here) + sum(b.behind == block.id for b in around.build.blocks)
    if block.places is None or wires <= block.places:
        return
    yield Finding(
        "S11",
        "fix",
        f"rail:{block.rail}",
        f"More wires than {block.name} has places",
        f"{wires} wires meet in each pole, and {block.places} places are stated.",
        "Two wires pressed under one screw hold like one: badly.",
        remedies=(
            Remedy(
                f"One with {wires} places",
                (("set_block", {"block": block.id, "places": str(wires)}),),
            ),
        ),
    )


def _drop(around: BuildContext, block: Block, rail: Rail, running: float) -> Iterator[Finding]:
    drop, volts = around.wire(block).ohms * running, around.rail_volts(rail).typ
    if not exceeds(drop / volts, DROP_NOTE):
        return
    wire, table = around.wire(block), around.wires(around.hazardous(rail))
    enough = next(
        (a for a in table if drop * (wire.area or 0.0) / a <= DROP_NOTE * volts),
        None,
    )
    words = ampacity.area_words(enough, table) if enough else ""
    yield Finding(
        "S6",
        "fix" if drop / volts > DROP_FIX else "note",
        f"rail:{rail.id}",
        f"{digits(drop / volts * 100)} % of the volts stay in the wires to {block.name}",
        f"{show(drop, 'V')} of {show(volts, 'V')} at {show(running, 'A')}, out and back.",
        "What the wire keeps, the loads go without.",
        "everything behind it on",
        remedies=(
            Remedy(f"Wires of {words}", (("set_block", {"block": block.id, "wire_area": words}),))
            if enough
            else Remedy("Shorter wires, or the loads on several points."),
        ),
    )


def _inside(around: BuildContext, cable: Cable) -> list[tuple[Channel | Block, Rail]]:
    """What runs in a cable, each with the rail it is of."""
    pieces: list[Channel | Block] = [*around.build.channels, *around.build.blocks]
    mine = [(p, around.build.rail(p.rail)) for p in pieces if p.cable == cable.id]
    return [(piece, rail) for piece, rail in mine if rail is not None]


def cores_of(around: BuildContext, cable: Cable) -> int:
    """How many wires run in a cable, protective earth among them where it is led along."""
    found = 0
    for piece, rail in _inside(around, cable):
        line = around.hazardous(rail) and around.alternating(rail)
        double = isinstance(piece, Channel) and piece.load.protection == "class_ii"
        found += WITH_EARTH if line and not double else CORES
    return found


def _cable(around: BuildContext, cable: Cable) -> Iterator[Finding]:
    inside, wanted = _inside(around, cable), cores_of(around, cable)
    if not inside:
        return
    where = f"rail:{inside[0][1].id}"
    if cable.cores is not None and falls_short(cable.cores, wanted):
        edit = ("set_cable", {"cable": cable.id, "cores": str(wanted)})
        yield Finding(
            "S11",
            "fix",
            where,
            f"Too few cores in {cable.name}",
            f"{wanted} wires are to run in it, and it has {cable.cores} cores.",
            "What does not fit is laid beside it, without its sheath.",
            remedies=(Remedy(f"A cable of {wanted} cores", (edit,)),),
        )
    low = [piece for piece, rail in inside if not around.hazardous(rail)]
    if low and len(low) < len(inside):
        names = ", ".join(piece.name for piece in low)
        yield Finding(
            "I2",
            "stop",
            where,
            "The line and low voltage in one cable",
            f"{cable.name} holds both: {names} beside what is on the line.",
            "Between two cores stands one thin skin; where it is nicked the low side is live.",
            remedies=(
                Remedy(
                    f"Lead {names} apart from it",
                    tuple(
                        ("set_wire", {"channel": piece.id, "cable": ""})
                        if isinstance(piece, Channel)
                        else ("set_block", {"block": piece.id, "cable": ""})
                        for piece in low
                    ),
                ),
            ),
            lasting=True,
        )
