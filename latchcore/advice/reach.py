"""
How far a contact reaches: for each kind of load, on the channel's direct voltage and on the mains
of the region.
"""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.catalogue.records import Relay
from latchcore.design.context import ChannelContext
from latchcore.document.models import Build, Channel
from latchcore.pieces import contacts as held
from latchcore.stages import STAGES
from latchcore.sums import contacts


@dataclass(frozen=True, slots=True)
class Reach:
    """
    Running current a contact is allowed for one kind of load.

    ``direct`` [A] at the channel's highest supply and ``mains`` [A] with ``power`` [W, or VA where
    the load is not
    resistive]: ``None`` where refused or where the kind does not run on it; ``note`` says what is
    still to be asked.
    """

    kind: str
    direct: float | None
    mains: float | None
    power: float | None
    note: str

    @property
    def words(self) -> str:
        """The kind in words."""
        return self.kind.replace("_", " ").replace("led", "LED").replace("dc", "DC")

    @property
    def unit(self) -> str:
        """Watts where volts and current go together, else volt-amperes."""
        return "W" if self.kind in ("resistive_heater", "filament_lamp") else "VA"


def reach(context: ChannelContext, relay: Relay, closed: bool = False) -> tuple[Reach, ...]:
    """
    The table of a relay's contact, every kind of load in a line.

    Notes
    -----
    min(share, making/surge) of the resistive rating; direct current besides under the DC curve
    times the share. Mains
    power at the nominal voltage of the build's region; refused where the contact's printed voltage
    is below it.
    """
    region = context.around.catalogue.regions[context.around.build.region]
    found = []
    for name, kind in context.around.catalogue.contacts.items():
        held = contacts.contact_share(
            rating=relay.contact_amperes,
            share=kind["share"],
            surge_ratio=kind["surge"],
            surge_lasts=kind["lasts"],
            running=1.0,
            making=relay.making,
            closed=closed,
            cheap_board=relay.cheap_board,
            printed=relay.printed_for(name),
            tracks=relay.tracks,
        )
        direct = mains = None
        if kind["direct"] and context.rail is not None and not context.alternating:
            curve = contacts.dc_curve(context.volts.max, held.rating, relay.dc_good_to)
            share = 1.0 if held.printed and context.volts.max <= 30.0 else kind["share"]
            direct = None if curve is None else min(held.allowed, curve * share)
        if kind["mains"] and relay.contact_volts >= region.mains.typ:
            mains = held.allowed
        note = "ask for a printed inrush rating" if held.making is None else ""
        found.append(
            Reach(name, direct, mains, None if mains is None else mains * region.mains.typ, note)
        )
    return tuple(found)


@dataclass(frozen=True, slots=True)
class Kind:
    """
    A reed or an armature relay for one load: what it is allowed [A], makes [A], wants at least, how
    fast and how long.
    """

    title: str
    allowed: float | None
    making: float | None
    wetting: tuple[float, float]
    moves: float
    life: float | None
    says: str


def kinds(context: ChannelContext, relay: Relay, running: float) -> tuple[Kind, ...]:
    """
    The relay of a channel beside one of the other kind: reed against armature, on the channel's own
    load.

    Parameters
    ----------
    running : float
        Running current of the load [A]
    """
    family = context.around.family("relay")
    other = next((r for r in family if r.kind != relay.kind), None)
    found = []
    for one in (r for r in (relay, other) if r is not None):
        share = held.shared(context, one, running, False)
        allowed = held.allowed_current(context, one, running)
        life = (
            contacts.contact_life(running, allowed, held.duty_of(context)[1]["life"])
            if allowed and running
            else None
        )
        if allowed is None or running > allowed:
            says = "not for this load"
        elif one.kind == "reed":
            says = "only where another switch makes and breaks"
        else:
            says = (
                "bears this load"
                if running >= one.wetting_amperes
                else "more than this load keeps clean"
            )
        found.append(
            Kind(
                one.title,
                allowed,
                share.making,
                (one.wetting_volts, one.wetting_amperes),
                one.operate + one.bounce,
                life,
                says,
            )
        )
    return tuple(found)


def may_stand_in_series(build: Build, channel: Channel) -> list[Channel]:
    """
    Channels that could break before a channel's contact moves: solid-state ones on its own rail.

    Examples
    --------
    >>> from latchcore.document.models import Build, Channel, Load, Stage
    >>> pump = Load(kind="dc_motor", voltage="12 V", figure="1 A")
    >>> channel = Channel(id="ch1", name="Pump", load=pump, stage=Stage(kind="relay_contact"))
    >>> may_stand_in_series(Build(name="Bench", channels=[channel]), channel)
    []
    """
    return [
        c
        for c in build.channels
        if c.id != channel.id
        and c.rail == channel.rail
        and STAGES[c.stage.kind].traits.silent
        and not STAGES[c.stage.kind].traits.air_gap
    ]
