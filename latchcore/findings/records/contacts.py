"""Contacts: what they carry, make, break, and which conductor."""

from __future__ import annotations

from latchcore.findings.records.record import Record

RECORDS = (
    Record(
        "K1",
        catches="contact steady current over rating / over share for the kind",
        severity="stop / fix",
        why="Contacts heat with the square of the current and weld or pit.",
        short="contact",
        station="sizes",
        title="The contact carries more than it may",
        advice="Use a larger relay, or a contactor; or split the load.",
        tries=(
            "relay",
            "let_be_sized",
            "stages",
        ),
    ),
    Record(
        "K2",
        catches="surge over making capacity (weld)",
        severity=(
            "stop for the hazard list; else fix; check where none is given and the surge is shorter"
            " than 8 ms"
        ),
        why="A contact that closes onto a surge may weld.",
        short="surge",
        station="sizes",
        title="The contact may weld when it closes",
        advice=(
            "Use a relay or contactor with a printed making capacity over this, limit the surge, or"
            " measure it and enter it at the load."
        ),
        tries=(
            "relay",
            "let_be_sized",
            "stages",
        ),
    ),
    Record(
        "K3",
        catches="DC voltage beyond the DC curve; AC voltage over rating; VA product of a reed",
        one_cause=(("contact_volts", "contact_curve", "contact_product"),),
        severity="stop",
        why=(
            "Direct current keeps an arc alive; a contact has a voltage beyond which it cannot"
            " break it."
        ),
        short="contact volts",
        station="sizes",
        title="The contact opens more than it may",
        advice=(
            "Use a part printed for these volts, with its figures entered; direct current beyond a"
            " contact's curve wants a solid-state stage, or a rail of fewer volts."
        ),
        tries=(
            "relay",
            "let_be_sized",
            "stages",
        ),
    ),
    Record(
        "K4",
        catches="below wetting current",
        severity="check",
        why="Too little current leaves the film on the contact unbroken.",
        short="wetting",
        station="sizes",
        advice=(
            "Use a relay with gold contacts, a reed or a solid-state stage; on the line a film is"
            " usually broken through: check now and then that it still closes."
        ),
    ),
    Record(
        "K5",
        catches="hot switching where the contact cannot bear it",
        severity="fix",
        why="A reed or small contact opened under load is burnt by the arc.",
        short="hot switching",
        station="sizes",
        tries=("relay",),
    ),
    Record(
        "K6",
        catches="wanted life not reached",
        severity="note, fix under a year",
        why="Every operation takes a little metal.",
        short="life",
        station="sizes",
        title="The contact does not last a year",
        yields_to=(
            "K1",
            "K3",
            "K5",
        ),
        tries=(
            "relay",
            "let_be_sized",
            "stages",
        ),
    ),
    Record(
        "K7",
        catches="NO or NC gives the wrong state when dead",
        severity="stop for the hazard list; else fix",
        why="When the power fails the contact falls to the side its spring chooses.",
        short="when dead",
        station="sizes",
        tries=("other_contact", "closed_contact"),
    ),
    Record(
        "K8",
        catches=(
            "neutral broken without the live at the same instant; earth broken; reversible plug or"
            " two lives with one pole"
        ),
        lasts_on_line=True,
        done_by=("rail",),
        severity="stop; solid-state output fix",
        why="A load that is off must not be live; earth is never broken.",
        short="conductor",
        station="sizes",
        advice=(
            "A contactor or a relay with two poles breaks both sides at once; say at the rail how"
            " its plug and conductors are."
        ),
        tries=(
            "both_sides",
            "stages_both_sides",
            "looked_at_plug",
            "one_way_plug",
        ),
    ),
    Record(
        "K9",
        catches="contacts paralleled for current",
        severity="stop",
        why="Contacts never close together: the first takes it all.",
        short="contacts",
        station="sizes",
        tries=("one_contact",),
    ),
    Record(
        "K10",
        catches="hazardous beside low voltage on one module under the distances of 04",
        lasts_on_line=True,
        done_by=("module",),
        severity="stop",
        why="Distance along the board is what keeps the line out of the pin.",
        short="distance",
        station="sizes",
        advice=(
            "Measure the way along its board and enter it on the module's sheet, or use a bare"
            " relay with its distance printed."
        ),
    ),
)
