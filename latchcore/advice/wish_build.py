"""A build opened from a wish: board, supplies, loads, and the first sound stage for each."""

from __future__ import annotations

from latchcore.advice.advisor import Card, advise
from latchcore.advice.wishes import Wanted, Wish, WishError
from latchcore.catalogue import Catalogue, load_catalogue
from latchcore.document.models import Build
from latchcore.edits import apply
from latchcore.figures.quantity import parse_any
from latchcore.pieces.dry_contact import FOREIGN
from latchcore.stages import STAGES

#: Coils, modules and the board of a build that switches the line want a supply of low voltage.
HELPER = "5 V"
#: Lines between these volts are those of a region; all others those of a new build's.
REGIONS = ((100.0, 130.0, "north-america-120"), (239.0, 241.0, "north-america-240"))
#: From these volts on alternating current is the line's.
FROM_THE_LINE = 100.0
#: How often a dimmed load of direct current is pulsed, and for how much of the time to begin with.
PULSED = {"pwm": "400 Hz", "duty": "50 %"}
#: What a sounder without an oscillator is given.
TONE = {"pwm": "2 kHz", "duty": "50 %"}


def open_wish(wish: Wish, name: str, catalogue: Catalogue | None = None) -> Build:
    """
    The build a complete wish asks for.

    Raises
    ------
    WishError
        While something is missing
    EditError
        Where a figure is refused: what was typed and what was expected

    Examples
    --------
    >>> from latchcore.advice.wishes import read_wish
    >>> build = open_wish(read_wish("12 V solenoid 0.5 A on a 3.3 V radio board"), "Gate")
    >>> build.rails[0].voltage, build.channels[0].stage.kind
    ('12 V', 'nmos_low_side')
    """
    catalogue = catalogue or load_catalogue()
    if not wish.complete:
        raise WishError("Something is missing yet: a load with its volts and figure, and a board.")

    def edit(build: Build, what: str, **args: str) -> Build:
        return apply(build, what, args, catalogue)[0]

    build = edit(Build(name="new"), "rename_build", name=name)
    build = edit(build, "set_board", board=wish.board or "")
    lines = [_volts(load) for load in wish.loads if load.line]
    for least, most, region in REGIONS:
        if any(least <= volts <= most for volts in lines):
            build = edit(build, "set_conditions", region=region)
    rails: dict[tuple[str, bool], str] = {}
    for load in wish.loads:
        key = (load.voltage or "", load.line)
        if catalogue.loads[load.kind].model in (*FOREIGN, "led") or key in rails:
            continue
        source = (
            "adapter" if not load.line else "mains" if _volts(load) >= FROM_THE_LINE else "ac_low"
        )
        build = edit(build, "add_rail", voltage=key[0], source=source)
        rails[key] = build.rails[-1].id
    if _wants_helper(wish, rails, catalogue):
        build = edit(build, "add_rail", voltage=HELPER, source="adapter")
    for load in wish.loads:
        build = _add(build, load, rails.get((load.voltage or "", load.line), ""), edit, catalogue)
    return build


def _volts(load: Wanted) -> float:
    return parse_any(load.voltage or "0 V", ("V",))[0]


def _wants_helper(wish: Wish, rails: dict[tuple[str, bool], str], catalogue: Catalogue) -> bool:
    """Whether nothing low feeds a coil or module that the wish needs."""
    low = any(not line for _, line in rails)
    coil = any(
        load.line
        or load.stage in ("relay_module", "relay_contact", "contactor", "solid_module")
        or catalogue.loads[load.kind].model in FOREIGN
        for load in wish.loads
    )
    fits = any(volts in ("5 V", "12 V", "24 V") for volts, line in rails if not line)
    return coil and not (low and fits)


def _add(build: Build, load: Wanted, rail: str, edit, catalogue: Catalogue) -> Build:
    """One load, as many as are wanted, each on its stage."""
    build = edit(
        build,
        "add_channel",
        kind=load.kind,
        voltage=load.voltage or "",
        figure=load.figure or "",
        rail=rail,
        name=load.words.capitalize(),
    )
    channel = build.channels[-1].id
    if load.rows and load.columns:
        sizes = {"rows": load.rows, "columns": load.columns}
        build = edit(build, "set_load", channel=channel, **sizes)
    if load.needs:
        build = edit(build, "set_needs", channel=channel, needs=",".join(load.needs))
    if "dims" in load.needs and not load.line:
        build = edit(build, "set_switching", channel=channel, **PULSED)
    if catalogue.loads[load.kind].wave:
        build = edit(build, "set_switching", channel=channel, **TONE)
    # A line that must pulse moves to a pin that can; whatever serves stays.
    build = edit(build, "assign_pins")
    if "dims" in load.needs and load.line:
        build = edit(build, "set_load", channel=channel, dimmable="yes")
    stage = load.stage if load.stage in STAGES else None
    if stage is None:
        card = first_sound(advise(build, channel, catalogue))
        stage = card.kind if card is not None else None
    if stage is not None and stage != build.channels[-1].stage.kind:
        build = edit(build, "set_stage", channel=channel, stage=stage)
        build = edit(build, "assign_pins")
    if load.count > 1:
        build = edit(build, "copy_channel", channel=channel, many=str(load.count - 1))
    if load.moves:
        build = edit(build, "add_vehicle", left=channel, right=build.channels[-1].id)
    return build


def first_sound(cards: list[Card]) -> Card | None:
    """The first stage that stands without a stop or a fix, else without a stop, else none."""
    able = [card for card in cards if card.feasible and not card.unmet] or [
        card for card in cards if card.feasible
    ]
    sound = [card for card in able if card.verdict not in ("stop", "fix")]
    return next(iter(sound or able), None)
