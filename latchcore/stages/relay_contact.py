"""A bare relay: its coil on an NPN, its contact in the load's own circuit, an air gap between."""

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.pieces import coil_and_contact, contacts, dry_contact
from latchcore.pieces.frame import Traits

kind = "relay_contact"
title = "Relay contact"
summary = (
    "A coil on a transistor, a contact for the load: an air gap, no polarity, a click, and a"
    " contact that wears."
)
settings = coil_and_contact.SETTINGS
traits = Traits(
    isolates=True,
    air_gap=True,
    silent=False,
    side="high",
    cost=4,
    fails="welds on, or does not close",
    note="the contact breaks either side of the load",
)
suits = dry_contact.suits
beginning = contacts.beginning
missing = dry_contact.missing


def size(context: ChannelContext) -> StageResult:
    """Size the stage; see :mod:`latchcore.pieces.coil_and_contact`."""
    return coil_and_contact.size(context, kind, title)
