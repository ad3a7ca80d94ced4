"""The build document: what the user decided, with quantities as the text that was typed."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from latchcore.document.behaviour import Behaviour
from latchcore.document.chains import Chain
from latchcore.document.inputs import SenseInput
from latchcore.document.laid import Block, Cable, Metal
from latchcore.document.machines import Machine
from latchcore.document.texts import (
    AmbientText,
    AmpereHoursText,
    AmperesText,
    AreaText,
    DutyText,
    FaradsText,
    FigureText,
    GramsText,
    HenriesText,
    HertzText,
    HoursText,
    Id,
    JoulesText,
    KelvinText,
    Key,
    LevelText,
    MetresText,
    Model,
    Name,
    Note,
    OhmsText,
    PlainVoltsText,
    SecondsText,
    ThermalText,
    VoltsText,
)
from latchcore.document.vehicles import Vehicle

__all__ = [
    "Build",
    "Channel",
    "Load",
    "Rail",
    "Route",
    "SenseInput",
    "Stage",
]

FORMAT = "zinc-latch-build"
SCHEMA_VERSION = 6
MOST_CHANNELS, MOST_RAILS, MOST_PARTS = 128, 32, 200
HAZARDS = ("mains", "heat", "water", "motion", "pulse coil", "igniter", "lock")


#: What a line of a board or a chain is called.
PinName = Annotated[str, Field(max_length=12)]


class Rail(Model):
    """
    One supply rail, of a source of its own or fed by another rail through a regulator.

    ``resistance`` is the source's own, ``short_circuit`` what a short draws of it, ``bulk`` a
    capacitor across the rail; ``switched_by`` names the channel that turns it on; ``joined_with`` a
    rail whose plus is wired to this one's; the ``fuse_…`` fields say what is printed on its fuse
    and whether every live pole has one, ``plug_rating`` what its plug may carry, ``entry`` whether
    a lead with a plug comes out of the box or an inlet is set in it.
    """

    id: Id
    name: Name
    source: Key = "adapter"
    voltage: VoltsText
    rating: AmperesText | None = None
    ground: Literal["shared", "own"] = "shared"
    fed_by: Id | None = None
    converter: Literal["isolating", "linear", "switching"] | None = None
    drop_out: VoltsText | None = None
    theta: ThermalText | None = None
    efficiency: DutyText | None = None
    resistance: OhmsText | None = None
    always: AmperesText | None = None
    short_circuit: AmperesText | None = None
    bulk: FaradsText | None = None
    board_pin: Annotated[str, Field(max_length=12)] | None = None
    capacity: AmpereHoursText | None = None
    wanted: HoursText | None = None
    lithium: Literal["no", "protected", "bare"] = "no"
    wire_length: MetresText | None = None
    wire_area: AreaText | None = None
    laid: Literal["free", "bundled", "enclosed", "coiled"] = "free"
    fuse: AmperesText | None = None
    fuse_volts: PlainVoltsText | None = None
    fuse_for: Literal["unknown", "alternating", "direct", "both"] = "unknown"
    fuse_breaking: Literal["unknown", "low", "high"] = "unknown"
    fuse_poles: Literal["unknown", "one", "every"] = "unknown"
    plug_rating: AmperesText | None = None
    switched_by: Id | None = None
    joined_with: Id | None = None
    touchable: bool = True
    earthed: bool = False
    plug: Literal["unknown", "polarised", "reversible"] = "unknown"
    lives: Literal["one", "two"] = "one"
    entry: Literal["plug", "inlet"] = "plug"
    note: Note = ""


class Load(Model):
    """
    What a channel switches; ``figure`` is any one of current, power or resistance, ``returned``
    what it gives back when it is braked or runs on, ``protection`` whether earth or double
    insulation keeps its metal from hurting.
    """

    kind: Key
    voltage: VoltsText
    figure: FigureText
    inductance: HenriesText | None = None
    surge: AmperesText | None = None
    surge_time: SecondsText | None = None
    pull_in: LevelText | None = None
    maximum: LevelText | None = None
    release: LevelText | None = None
    longest_rated: SecondsText | None = None
    duty_rated: DutyText | None = None
    cut_off: SecondsText | None = None
    act_after: SecondsText | None = None
    armature: SecondsText | None = None
    copper: GramsText | None = None
    may_warm: KelvinText | None = None
    least_on: SecondsText | None = None
    least_off: SecondsText | None = None
    returned: JoulesText | None = None
    count: Annotated[int, Field(ge=1, le=10000)] | None = None
    rows: Annotated[int, Field(ge=1, le=24)] | None = None
    columns: Annotated[int, Field(ge=1, le=24)] | None = None
    protection: Literal["class_i", "class_ii"] | None = None
    dimmable: Literal["yes", "no"] | None = None
    least_volts: PlainVoltsText | None = None
    ignores: AmperesText | None = None
    hazards: (
        list[Literal["mains", "heat", "water", "motion", "pulse coil", "igniter", "lock"]] | None
    ) = None

    @property
    def shown(self) -> str:
        """Its figure, with how many of them there are."""
        return f"{self.count} × {self.figure}" if self.count and self.count > 1 else self.figure


class Stage(Model):
    """Which stage drives the load, with what the user fixed of it; everything else is sized."""

    kind: Key = "npn_low_side"
    settings: dict[Key, Annotated[str, Field(max_length=80)]] = Field(
        default_factory=dict, max_length=40
    )


class Channel(Model):
    """
    One stage with its line or lines, and one load.

    ``lines`` are the pins of a stage's further roles, by role; ``moves_with`` names a channel whose
    pin it shares on purpose; ``fuse`` is one of its own behind the rail's; ``block`` where its
    load's wires begin instead of at the rail, ``cable`` what they run in; ``confirmed_by`` the
    input that says what really happened; ``irreplaceable`` where what it drives cannot be had
    again, so that first power takes no short way.
    """

    id: Id
    name: Name
    pin: Annotated[str, Field(max_length=12)] | None = None
    pin_locked: bool = False
    lines: Annotated[dict[Key, PinName], Field(max_length=96)] = {}
    moves_with: Id | None = None
    rail: Id | None = None
    load: Load
    stage: Stage = Field(default_factory=Stage)
    pwm: HertzText | None = None
    duty: DutyText | None = None
    full_first: SecondsText | None = None
    on_share: DutyText | None = None
    longest_on: SecondsText | None = None
    shortest_on: SecondsText | None = None
    shortest_off: SecondsText | None = None
    series_switch: Id | None = None
    confirmed_by: Id | None = None
    wire_length: MetresText | None = None
    wire_area: AreaText | None = None
    block: Id | None = None
    cable: Id | None = None
    through: Annotated[str, Field(max_length=60)] = ""
    fuse: AmperesText | None = None
    fuse_volts: PlainVoltsText | None = None
    fuse_for: Literal["unknown", "alternating", "direct", "both"] = "unknown"
    fuse_breaking: Literal["unknown", "low", "high"] = "unknown"
    fuse_poles: Literal["unknown", "one", "every"] = "unknown"
    unattended: Literal["yes", "no"] | None = None
    limit: Literal["independent", "control_relay", "none"] | None = None
    second_contactor: Literal["yes", "no"] | None = None
    on_return: Literal["stays_off", "as_before"] | None = None
    way_out: Literal["yes", "no"] | None = None
    when_dead: Literal["unknown", "off", "on"] = "unknown"
    cycles_per_day: Annotated[int, Field(ge=1, le=1_000_000)] | None = None
    years: Annotated[int, Field(ge=1, le=100)] | None = None
    release_within: SecondsText | None = None
    on_level: Literal["high", "low"] | None = None
    irreplaceable: Literal["yes"] | None = None
    needs: list[Literal["dims", "isolated", "silent", "fast", "air_gap", "grounded_load"]] = []
    accepted: dict[Annotated[str, Field(max_length=60)], Note] = Field(
        default_factory=dict, max_length=40
    )
    note: Note = ""

    @property
    def pins(self) -> list[str]:
        """Every line it is on, its own first."""
        return [pin for pin in (self.pin, *self.lines.values()) if pin]

    def duplicate(self) -> Channel:
        """A copy that may be edited; copied by hand, for a remedy is tried on one."""
        load = self.load.model_copy(
            update={"hazards": None if self.load.hazards is None else list(self.load.hazards)}
        )
        stage = self.stage.model_copy(update={"settings": dict(self.stage.settings)})
        return self.model_copy(
            update={
                "load": load,
                "stage": stage,
                "needs": list(self.needs),
                "lines": dict(self.lines),
                "accepted": dict(self.accepted),
            }
        )


class Route(Model):
    """
    Several sources that are switched to one line, one at a time; ``gap`` is the pause between one
    and the next.
    """

    id: Id
    name: Name
    members: Annotated[list[Id], Field(max_length=16)] = []
    interlock: Literal["none", "program", "wired"] = "program"
    gap: SecondsText | None = None


class KeptStock(Model):
    """
    What was in stock when the build was saved, where stock is preferred: resistor values [Ω] and
    ids of parts.
    """

    resistors: Annotated[
        list[Annotated[float, Field(gt=0, le=1e10, allow_inf_nan=False)]], Field(max_length=2000)
    ] = []
    parts: Annotated[list[Key], Field(max_length=MOST_PARTS)] = []


#: The lists of a build whose entries have an id of their own.
PIECES = (
    "rails",
    "channels",
    "inputs",
    "chains",
    "vehicles",
    "routes",
    "machines",
    "blocks",
    "cables",
    "metals",
)
#: How many of each kind a build holds that has no count of its own above.
MOST_OF_A_KIND = 16


class Build(Model):
    """A whole build; the unit that is saved, evaluated, exported and imported."""

    format: Literal["zinc-latch-build"] = "zinc-latch-build"
    schema_version: Literal[6] = 6
    name: Name
    note: Note = ""
    region: Key = "europe-230"
    ambient: AmbientText = "30 °C"
    #: Highest ambient in the closed box, where it was measured.
    inside: AmbientText | None = None
    place: Literal["dry", "damp"] = "dry"
    school: Literal["auto", "forced_gain", "overdrive"] = "auto"
    series: Literal["E12", "E24", "E96"] = "E12"
    prefer_stock: bool = False
    stock: KeptStock | None = None
    discipline: dict[Key, Literal["yes", "no"]] = Field(default_factory=dict, max_length=40)
    board: Key | None = None
    board_feed: Id | None = None
    serial: Annotated[int, Field(ge=0, le=10**6)] = 0
    rails: Annotated[list[Rail], Field(max_length=MOST_RAILS)] = []
    channels: Annotated[list[Channel], Field(max_length=MOST_CHANNELS)] = []
    inputs: Annotated[list[SenseInput], Field(max_length=MOST_CHANNELS)] = []
    chains: Annotated[list[Chain], Field(max_length=MOST_OF_A_KIND)] = []
    vehicles: Annotated[list[Vehicle], Field(max_length=MOST_OF_A_KIND)] = []
    behaviour: Behaviour | None = None
    watchdog: Literal["yes", "no"] | None = None
    routes: Annotated[list[Route], Field(max_length=MOST_OF_A_KIND)] = []
    machines: Annotated[list[Machine], Field(max_length=MOST_OF_A_KIND)] = []
    blocks: Annotated[list[Block], Field(max_length=MOST_OF_A_KIND)] = []
    cables: Annotated[list[Cable], Field(max_length=MOST_OF_A_KIND)] = []
    metals: Annotated[list[Metal], Field(max_length=MOST_OF_A_KIND)] = []
    parts: Annotated[dict[Key, dict[str, Any]], Field(max_length=MOST_PARTS)] = {}

    def draft(self) -> Build:
        """
        A copy whose lists may be changed; what stands in them is shared until an edit takes it as
        its own.
        """
        lists = {name: list(getattr(self, name)) for name in PIECES}
        return self.model_copy(
            update=lists | {"parts": dict(self.parts), "discipline": dict(self.discipline)}
        )

    @property
    def does(self) -> Behaviour:
        """What its loads do; an empty behaviour where nobody said anything."""
        return self.behaviour or Behaviour()

    def channel(self, channel_id: str) -> Channel | None:
        """The channel of that id, or ``None``."""
        return next((c for c in self.channels if c.id == channel_id), None)

    def sense(self, input_id: str | None) -> SenseInput | None:
        """The input of that id, or ``None``."""
        return next((i for i in self.inputs if i.id == input_id), None)

    def chain(self, chain_id: str | None) -> Chain | None:
        """The chain of that id, or ``None``."""
        return next((c for c in self.chains if c.id == chain_id), None)

    def block(self, block_id: str | None) -> Block | None:
        """The distribution point of that id, or ``None``."""
        return next((b for b in self.blocks if b.id == block_id), None)

    def cable(self, cable_id: str | None) -> Cable | None:
        """The cable of that id, or ``None``."""
        return next((c for c in self.cables if c.id == cable_id), None)

    def rail(self, rail_id: str | None) -> Rail | None:
        """The rail of that id, or ``None``."""
        return next((r for r in self.rails if r.id == rail_id), None)


def chain_of(build: Build, block: Block | None) -> list[Block] | None:
    """
    A distribution point with those it hangs on, up to the rail's own; ``None`` where they hang on
    each other in a circle.
    """
    way: list[Block] = []
    while block is not None:
        if block in way:
            return None
        way.append(block)
        block = build.block(block.behind)
    return way


def letter(index: int) -> str:
    """
    The letter a channel is called by at its place in the line-up.

    Examples
    --------
    >>> letter(0), letter(25), letter(26)
    ('A', 'Z', 'AA')
    """
    text = ""
    index += 1
    while index:
        index, rest = divmod(index - 1, 26)
        text = chr(65 + rest) + text
    return text
