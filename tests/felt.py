"""
The net: on which build each thing that can be entered is felt, and by what change of it.

``python -m tests.felt`` searches and writes ``tests/data/felt.json``; the tests only walk what it
found. A new field or figure that is not there yet has nobody who feels it.
"""

from __future__ import annotations

import itertools
import json
import types
import typing
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from pathlib import Path

from latchcore.catalogue import load_catalogue, read_part
from latchcore.catalogue.records import PART_FAMILIES
from latchcore.design.context import BuildContext
from latchcore.document.models import Build, Channel, Load, Rail, Route, SenseInput
from latchcore.edits import EditError
from latchcore.evaluate import evaluate_afresh
from latchcore.formats.buildfile import hold_together
from latchcore.formats.reportfile import report_data
from latchcore.stages import STAGES
from latchcore.whole.wire_list import wire_list
from tests.core.benches import bench, edited
from tests.hostile import benches

FELT = Path(__file__).parent / "data" / "felt.json"
#: What a field may be tried with, the likeliest first; what does not validate is passed over.
TRIED = [
    "17",
    "17 V",
    "3 V",
    "170 mA",
    "17 mA",
    "1.7 A",
    "17 Ω",
    "4.7 kΩ",
    "17 %",
    "63 %",
    "100 %",
    "170 ms",
    "17 s",
    "400 s",
    "2000 Hz",
    "20 kHz",
    "40 mH",
    "17 µF",
    "1700 µF",
    "17 K/W",
    "0.3 mm²",
    "9 mm²",
    "17 m",
    "300 m",
    "5 J",
    "2 Ah",
    "17 h",
    "17 °C",
    "63 °C",
    "yes",
    "no",
    "own",
    "closed",
    "linear",
    "switching",
    "5V",
    "3V3",
    "two",
    "every",
    "one",
    "reversible",
    "polarised",
    "bare",
    "protected",
    "coiled",
    "enclosed",
    "alternating",
    "direct",
    "low",
    "high",
    "independent",
    "control_relay",
    "none",
    "stays_off",
    "as_before",
    "on",
    "off",
    "middle",
    "falling",
    "open_collector",
    "damp",
    "E96",
    "forced_gain",
    "overdrive",
    "north-america-120",
    "rail1",
    "rail2",
    "rail9",
    "ch3",
    "ch4",
    "ch5",
    "ch17",
    "in1",
    "in3",
    "in4",
    "in5",
    "in14",
    "in20",
    "through a grommet",
    "board-8bit-5v-20",
    "mains",
    "battery",
    "wired",
    "program",
    7,
    400,
    True,
    False,
    ["motion"],
    ["dims"],
    ["isolated"],
    ["ch2"],
    "isolated_low",
    "unknown",
    "P13",
    "P14",
    "N22",
    "L4",
]
#: Fields that stand in no sum and on no drawing of the report, each with why.
WORDS_ONLY = {
    ("Rail", "note"): "the builder's own words",
    ("Channel", "note"): "the builder's own words",
    ("SenseInput", "note"): "the builder's own words",
    ("Build", "note"): "the builder's own words",
    ("Machine", "untouched"): "the builder's own words",
    ("Way", "note"): "the builder's own words",
    ("Build", "format"): "names the file",
    ("Build", "schema_version"): "names the file",
    ("Build", "machines"): "judged on their own page, before any stage",
    ("Channel", "pin_locked"): "holds the line when lines are assigned",
    ("SenseInput", "pin_locked"): "holds the line when lines are assigned",
    ("Channel", "needs"): "moves the advisor's order",
    ("Build", "serial"): "the highest number given to an id",
    ("Build", "stock"): "with the drawer, in tests/web/test_keeping.py",
    ("Build", "prefer_stock"): "with the drawer, in tests/web/test_keeping.py",
    ("Channel", "accepted"): "moves a finding to the accepted ones, which the report lists",
    ("Build", "discipline"): "a mapping; each fact in tests/core/test_mains.py",
    ("Build", "rails"): "pieces of their own",
    ("Build", "channels"): "pieces of their own",
    ("Build", "inputs"): "pieces of their own",
    ("Build", "routes"): "pieces of their own",
    ("Build", "parts"): "records; each figure is a case of its own",
    ("Channel", "stage"): "each stage and each setting is a case of its own",
}


def said(build: Build) -> str:
    """Everything the report says, with the working behind it."""
    report = evaluate_afresh(build, load_catalogue())
    steps = [
        [
            (s.symbol, s.result if isinstance(s.result, int | float | str) else str(s.result))
            for s in c.result.working.steps
        ]
        for c in report.channels
        if c.result
    ]
    rails = [[(s.symbol, s.result) for s in r.working.steps] for r in report.rails]
    net = [(p.ref, p.kind, p.value, sorted(p.terminals.items())) for p in report.netlist.parts]
    accepted = [(f.check, reason) for c in report.channels for f, reason in c.accepted]
    read = [i.rows for i in report.inputs]
    wires = wire_list(BuildContext(build, load_catalogue()), report)
    told = [report_data(report), steps, rails, net, accepted, read, wires]
    return json.dumps(told, default=str)


@cache
def grounds() -> dict[str, Build]:
    """
    Builds on which a field may matter: the demo's, and benches that bring out what those lack.
    """
    hot = bench("heater", "230 V", "400 W", rail="230 V", source="mains", stage="relay_contact")
    sensed = edited(
        bench(),
        ("add_input", {"kind": "divider", "voltage": "12 V"}),
        ("add_input", {"kind": "knob"}),
        ("add_input", {"kind": "opto", "voltage": "24 V"}),
        ("add_input", {"kind": "sensor", "voltage": "5 V"}),
        ("add_input", {"kind": "reed"}),
        ("add_input", {"kind": "end_pair"}),
        ("add_input", {"kind": "serial"}),
        ("add_input", {"kind": "tachometer"}),
    )
    zeros = edited(
        bench(
            "filament_lamp", "230 V", "60 W", rail="230 V", source="mains", stage="triac_coupler"
        ),
        ("add_input", {"kind": "zero_transformer", "rail": "rail1", "voltage": "9 V"}),
        ("add_input", {"kind": "zero_coupler", "rail": "rail1"}),
    )
    fed = edited(
        bench(),
        ("add_rail", {"voltage": "5 V"}),
        ("set_rail", {"rail": "rail3", "fed_by": "rail1", "converter": "linear"}),
        ("set_board_feed", {"rail": "rail3"}),
    )
    switched = edited(fed, ("set_rail", {"rail": "rail3", "converter": "switching"}))
    cell = edited(
        bench(source="battery"),
        (
            "set_rail",
            {
                "rail": "rail1",
                "capacity": "2 Ah",
                "wire_area": "0.5 mm²",
                "wire_length": "2 m",
                "resistance": "0.2 Ω",
                "fuse": "2 A",
            },
        ),
        ("set_board_feed", {"rail": "rail1"}),
    )
    motor = bench("dc_motor", "12 V", "1 A", stage="nmos_low_side")
    route = edited(
        bench(
            "speaker" if "speaker" in load_catalogue().loads else "relay_coil",
            stage="relay_contact",
        ),
        ("copy_channel", {"channel": "ch2"}),
        ("add_route", {"name": "line", "members": "ch2,ch3"}),
    )
    compressor = bench(
        "compressor", "230 V", "120 W", rail="230 V", source="mains", stage="relay_contact"
    )
    watched = edited(
        hot,
        ("set_guards", {"channel": "ch2", "unattended": "yes"}),
        ("add_input", {"kind": "reed"}),
    )
    rests = bench("relay_coil", "12 V", "400 Ω", load={"least_on": "10 s", "least_off": "10 s"})
    lock = bench("solenoid", "12 V", "0.5 A", load={"hazards": "lock"})
    pinned = bench("relay_coil", "5 V", "20 Ω", rail="5 V", source="board_pin")
    apart = weak_barrier()
    aside = edited(
        apart,
        ("set_rail", {"rail": "rail3", "ground": "own"}),
        ("set_setting", {"channel": "ch2", "coil_rail": "rail3"}),
    )
    demo = {f"demo{n}": build for n, build in enumerate(benches())}
    return {
        "plain": bench(),
        "hot": hot,
        "sensed": sensed,
        "zeros": zeros,
        "fed": fed,
        "switched": switched,
        "cell": cell,
        "motor": motor,
        "route": route,
        "compressor": compressor,
        "watched": watched,
        "lock": lock,
        "rests": rests,
        "pinned": pinned,
        "weak barrier": apart,
        "weak barrier aside": aside,
        **demo,
    }


def weak_barrier() -> Build:
    """A mains lamp behind a relay of a basic barrier, with low rails of both kinds of return."""
    raw = load_catalogue().raw
    relay = next(r for r in raw.values() if r.get("family") == "relay")
    build = bench(
        "filament_lamp", "230 V", "60 W", rail="230 V", source="mains", stage="relay_contact"
    )
    weak = {**relay, "id": "own", "barrier": "basic"}
    build = build.model_copy(update={"parts": {"own": weak}})
    return edited(
        build,
        ("set_setting", {"channel": "ch2", "relay": "own"}),
        ("add_rail", {"voltage": "5 V"}),
    )


def optional_fields(model) -> list[str]:
    """Fields a document may leave out."""
    return [name for name, info in model.model_fields.items() if not info.is_required()]


def places(build: Build, model) -> list[tuple[str, int]]:
    """Where pieces of a model stand in a build."""
    where = {Rail: "rails", Channel: "channels", SenseInput: "inputs", Route: "routes"}
    return [(where[model], n) for n in range(len(getattr(build, where[model])))]


def spots(build: Build, model) -> list[tuple]:
    """Where in the document a model's fields stand."""
    if model is Build:
        return [()]
    if model is Load:
        return [(*p, "load") for p in places(build, Channel)]
    return places(build, model)


def entered(build: Build, spot: tuple, name: str, value) -> Build | None:
    """The build with a field entered at one of its pieces; ``None`` where it is refused."""
    data = build.model_dump(mode="json", exclude_none=True)
    piece = data
    for step in spot:
        piece = piece[step]
    if piece.get(name) == value:
        return None
    piece[name] = value
    try:
        changed = Build.model_validate(data)
        hold_together(changed, load_catalogue())
    except ValueError:
        return None
    return changed


FIELDS = [
    (model, name)
    for model in (Build, Rail, Channel, Load, SenseInput, Route)
    for name in optional_fields(model)
    if (model.__name__, name) not in WORDS_ONLY
]


def field_witness(model, name: str) -> list | None:
    """The first build, place and value at which a field changes the report."""
    for ground, build in grounds().items():
        before = said(build)
        for spot in spots(build, model):
            for value in TRIED:
                changed = entered(build, spot, name, value)
                if changed is not None and said(changed) != before:
                    return [ground, spot, value]
    return None


def other_values(info, was):
    """Other figures a record's field may have: twice, half, another word."""
    annotation = info.annotation
    if isinstance(was, list):
        return []
    if isinstance(was, bool):
        return [not was]
    if isinstance(was, int | float):
        return [1, 2, 3, 4, was * 1.3, was * 0.7, was + 1, was * 3, was * 0.2, was * 10]
    choices = [
        c
        for a in typing.get_args(annotation) or ()
        for c in typing.get_args(a) or (a,)
        if isinstance(c, str)
    ]
    if typing.get_origin(annotation) in (typing.Literal, types.UnionType) and choices:
        return [c for c in choices if c != was]
    number, _, unit = str(was or "").partition(" ")
    try:
        size = float(number)
    except ValueError:
        return [
            "17 Ω",
            "4.7 kΩ",
            "3 V",
            "3 V ±5 %",
            "17 V",
            "1 A",
            "0.3 A",
            "30 ms",
            "2 K/W",
            "9 V ±5 %",
            "10 Ω ±5 %",
            "inputs",
            "coils",
            1,
            2,
            4,
            "5 W",
            "5 A",
            "170 ms",
            2.0,
            0.5,
            True,
            "yes",
            "1.2 V",
        ]
    return [f"{size * k:.6g} {unit}" for k in (1.5, 0.6, 0.2, 4, 0.02, 20)]


#: Figures of records that stand in no sum of an ordinary bench, each with why.
NOT_FELT = {
    "title": "what it is called",
    "source": "where its figures are from",
    "id": "its key",
    "family": "its kind",
    "header": "told on its sheet",
    "terminals": "told on its sheet",
    "driver": "told on its sheet",
    "rails": "told on its sheet",
}


LOADS = {
    "relay coil": ("relay_coil", "12 V", "400 Ω", "12 V", "adapter"),
    "solenoid": ("solenoid", "12 V", "0.4 A", "12 V", "adapter"),
    "mains lamp": ("filament_lamp", "230 V", "60 W", "230 V", "mains"),
    "mains heater": ("heater", "230 V", "800 W", "230 V", "mains"),
    "mains coil": ("ac_coil", "230 V", "20 W", "230 V", "mains"),
    "mains motor": ("induction_motor", "230 V", "300 W", "230 V", "mains"),
    "motor": ("dc_motor", "12 V", "0.5 A", "12 V", "adapter"),
    "high volts": ("heater", "100 V", "1 A", "100 V", "adapter"),
    "small coil": ("relay_coil", "5 V", "70 Ω", "5 V", "adapter"),
    "led": ("indicator_led", "2 V", "10 mA", "5 V", "adapter"),
    "led array": ("led_array", "2 V", "20 mA", "12 V", "adapter"),
    "logic": ("logic_line", "5 V", "1 mA", "5 V", "adapter"),
    "pair": ("button_pair", "5 V", "1 mA", "5 V", "adapter"),
    "analogue": ("analogue_control", "10 V", "1 mA", "12 V", "adapter"),
    "signal": ("wide_signal", "24 V", "5 mA", "24 V", "adapter"),
}
BOARDS = ("board-radio-3v3", "board-8bit-5v-20")


#: What is made of a bench beforehand, where one channel switched now and then feels too little.
WORKS = {
    "work:pulsed": (("set_switching", {"channel": "ch2", "pwm": "2 kHz", "duty": "50 %"}),),
    "work:overdrive": (("set_conditions", {"school": "overdrive"}),),
    "work:line": (
        ("copy_channel", {"channel": "ch2"}),
        ("add_route", {"name": "line", "members": "ch2,COPY"}),
    ),
    "work:own ground": (("set_rail", {"rail": "rail1", "ground": "own"}),),
    "work:beside": (
        ("add_rail", {"voltage": "12 V", "rating": "2 A"}),
        ("copy_channel", {"channel": "ch2"}),
        ("set_channel_rail", {"channel": "COPY", "rail": "rail4"}),
        ("set_load", {"channel": "COPY", "voltage": "12 V"}),
    ),
}


@cache
def stage_bench(stage: str, load: str, board: str, prior: str) -> Build | None:
    """
    A stage at work on a load, its coil on a rail of its own where the load's is the mains.

    ``prior`` is what is made of it beforehand: one of :data:`WORKS`, or a setting as ``key=value``.
    """
    kind, volts, figure, rail, source = LOADS[load]
    build = bench(kind, volts, figure, rail=rail, source=source, stage=stage, board=board)
    fixed = dict([prior.split("=", 1)]) if "=" in prior else {}
    if source == "mains":
        build = edited(build, ("add_rail", {"voltage": "5 V", "rating": "2 A"}))
        if any(s.key == "coil_rail" for s in STAGES[stage].settings):
            fixed = {"coil_rail": build.rails[-1].id} | fixed
    try:
        if fixed:
            build = edited(build, ("set_setting", {"channel": "ch2", **fixed}))
        for name, args in WORKS.get(prior, ()):
            copy, last = build.channels[-1].id, build.rails[-1].id
            there = {k: v.replace("COPY", copy).replace("rail4", last) for k, v in args.items()}
            build = edited(build, (name, there))
    except EditError:
        return None
    return build


def priors(stage: str, but: str = "") -> list[str]:
    """What may be fixed of a stage before: nothing, or one choice of it."""
    choices = [
        f"{s.key}={value}" for s in STAGES[stage].settings if s.key != but for value, _ in s.choices
    ]
    return ["", *WORKS, *choices]


def work_of(stage: str, but: str = "") -> Iterator[tuple[str, str, str]]:
    """Loads, boards and what is fixed before, the plainest first."""
    yield from itertools.product(LOADS, BOARDS, [""])
    yield from itertools.product(LOADS, BOARDS[:1], priors(stage, but)[1:])


@cache
def with_own_part(
    family: str, stage: str, load: str, board: str, prior: str
) -> tuple[Build, dict] | None:
    """A bench with a part of that family in it as an own record, and the record."""
    build = stage_bench(stage, load, board, prior)
    result = build and evaluate_afresh(build, load_catalogue()).channels[0].result
    part = next((p for p in (result.parts.values() if result else ()) if p.family == family), None)
    if part is None or part.id not in load_catalogue().raw:
        return None
    raw = load_catalogue().raw[part.id] | {"id": "own"}
    setting = next(s.key for s in STAGES[stage].settings if s.kind == "part" and s.family == family)
    build = build.model_copy(update={"parts": {"own": raw}})
    return edited(build, ("set_setting", {"channel": "ch2", setting: "own"})), raw


def figured(build: Build, raw: dict, name: str, value) -> Build | None:
    """The bench with another figure of its own part; ``None`` where the record is refused."""
    record = {**raw, name: value}
    try:
        read_part(record)
    except ValueError:
        return None
    return build.model_copy(update={"parts": {"own": record}})


#: What nobody is known to feel, each with why it may still be entered.
NOT_FELT_YET: dict[str, str] = {
    "Rail.touchable": "on hand-made netlists in tests/core/test_islands.py",
    "pnp_darlington.gain_at": "a Darlington is driven at one forced gain, whatever its own",
    "pnp_darlington.gain_min": "a Darlington is driven at one forced gain, whatever its own",
    "igbt.v_ge_th": "told on its sheet; no sum asks for it yet",
    "coupler.ctr_max": "kept for inputs that are on with low; a coupler's light is held dark",
    "diode.fast": "moves the choice of a diode, not one that is fixed",
    "zener.power": "pulsed clamps are held to their peak current only",
    "suppressor.power": "pulsed clamps are held to their peak current only",
    "reed.test_voltage": "a bridged pair is never hazardous; the class stands on the map",
    "reed.barrier": "a bridged pair is never hazardous; the class stands on the map",
    "relay.operate": "in the sequence of a shared line, on the contact view",
    "module.operate": "in the sequence of a shared line, on the contact view",
    "relay.neighbour": "only modules have neighbours; a bare relay's contacts are its own",
    "module.neighbour": "beside a low channel: tests/core/test_contact_conductors.py",
    "module.channels": "where more hang on one than it has (P11)",
    "module.regulator": "its three figures go together: tests/core/test_solid_modules.py",
    "module.regulator_feeds": "its three figures go together: tests/core/test_solid_modules.py",
    "module.regulator_drop": "its three figures go together: tests/core/test_solid_modules.py",
    "contactor.coil_resistance": "told on its sheet; the coil's current is what counts",
    "relay_module.level": "only where a module's jumper decides: tests/core/test_solid_modules.py",
    "solid_module.level": "only where a module's jumper decides: tests/core/test_solid_modules.py",
}

FIGURES = [
    (family, name)
    for family, record in PART_FAMILIES.items()
    if family not in ("board", "supply", "load")
    and any(s.family == family for stage in STAGES.values() for s in stage.settings)
    for name in record.model_fields
    if name not in NOT_FELT
]


def trials(family: str, raw: dict, name: str) -> list:
    """Other values of a figure."""
    was = raw.get(name)
    if isinstance(was, list):
        return [
            [f"{float(str(v).split()[0]) * k:.6g} {str(v).partition(' ')[2]}".strip() for v in was]
            for k in (1.2, 0.8, 0.3, 3)
        ]
    return other_values(PART_FAMILIES[family].model_fields[name], was)


def figure_witness(family: str, name: str) -> list | None:
    """The first stage, load, board and value at which a figure changes the report."""
    for stage, module in STAGES.items():
        if not any(s.family == family for s in module.settings):
            continue
        for load, board, prior in work_of(stage):
            found = with_own_part(family, stage, load, board, prior)
            if found is None:
                continue
            build, raw = found
            before = said(build)
            for value in trials(family, raw, name):
                changed = figured(build, raw, name, value)
                if changed is not None and said(changed) != before:
                    return [stage, load, board, prior, value]
    return None


SETTINGS = [(kind, s.key) for kind, module in STAGES.items() for s in module.settings]


def values_of(setting) -> list[str]:
    """What a setting may be fixed at."""
    if setting.kind == "choice":
        return [value for value, _ in setting.choices]
    if setting.kind == "part":
        return [p.id for p in load_catalogue().parts.values() if p.family == setting.family]
    return [v for v in TRIED if isinstance(v, str)]


def set_to(build: Build, key: str, value: str) -> Build | None:
    """The bench with one thing of its stage fixed; ``None`` where that is refused."""
    try:
        return edited(build, ("set_setting", {"channel": "ch2", key: value}))
    except EditError:
        return None


def setting_witness(stage: str, key: str) -> list | None:
    """The first load, board and value at which a setting of a stage changes the report."""
    setting = next(s for s in STAGES[stage].settings if s.key == key)
    for load, board, prior in work_of(stage, key):
        build = stage_bench(stage, load, board, prior)
        if build is None:
            continue
        before = said(build)
        for value in values_of(setting):
            changed = set_to(build, key, value)
            if changed is not None and said(changed) != before:
                return [load, board, prior, value]
    return None


def _search(case: tuple) -> tuple[str, list | None]:
    kind, owner, name = case
    if kind == "field":
        return f"{owner.__name__}.{name}", field_witness(owner, name)
    if kind == "setting":
        return f"{owner}.{name}", setting_witness(owner, name)
    return f"{owner}.{name}", figure_witness(owner, name)


def main() -> None:
    """Search for whoever feels each field and figure; only those without are searched anew."""
    known = json.loads(FELT.read_text(encoding="utf-8")) if FELT.exists() else {}
    cases = [("field", m, n) for m, n in FIELDS] + [("figure", f, n) for f, n in FIGURES]
    cases += [("setting", stage, key) for stage, key in SETTINGS]
    names = {
        f"{owner.__name__ if kind == 'field' else owner}.{n}": (kind, owner, n)
        for kind, owner, n in cases
    }
    found = {key: witness for key, witness in known.items() if key in names}
    with ProcessPoolExecutor() as pool:
        for key, witness in pool.map(
            _search, [c for k, c in names.items() if k not in found and k not in NOT_FELT_YET]
        ):
            if witness is None:
                print(f"nobody feels {key}", flush=True)
                continue
            found[key] = witness
            rows = (
                f"{json.dumps(k)}: {json.dumps(found[k], ensure_ascii=False)}"
                for k in sorted(found)
            )
            FELT.write_text("{\n" + ",\n".join(rows) + "\n}\n", encoding="utf-8")


if __name__ == "__main__":
    main()
