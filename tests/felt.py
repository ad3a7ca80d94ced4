"""
The net: on which build each thing that can be entered is felt, and by what change of it.

``python -m tests.felt`` searches and writes ``tests/data/felt.json``; the tests only walk what it
found. A new field or figure that is not there yet has nobody who feels it.
"""

from __future__ import annotations

import json
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from latchcore.catalogue import load_catalogue
from latchcore.document.chains import Chain
from latchcore.document.laid import Block, Cable, Metal
from latchcore.document.models import Build, Channel, Load, Rail, Route, SenseInput
from latchcore.document.vehicles import Vehicle
from latchcore.edits import EditError
from latchcore.formats.buildfile import hold_together
from latchcore.stages import STAGES
from tests.core.benches import edited
from tests.felt_figures import FIGURES, figure_witness, figured, with_own_part
from tests.grounds import grounds, said, stage_bench, work_of

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
    "17 Hz",
    "20 kHz",
    "40 mH",
    "17 µF",
    "1700 µF",
    "17 K/W",
    "0.3 mm²",
    "9 mm²",
    "17 m",
    "17 N",
    "17 N·m",
    "17 mN·m",
    "17 mm",
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
    "ch2",
    "ch3",
    "coupler-ctr100",
    "100 mV",
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
    {"reverse": "P13"},
    ["motion"],
    ["dims"],
    ["isolated"],
    ["ch2"],
    ["board", "rail1-"],
    ["rail1+"],
    "class_i",
    "class_ii",
    "outlet",
    "inlet",
    "blk4",
    "blk5",
    "cab6",
    "0.75 mm²",
    1,
    2,
    "isolated_low",
    "unknown",
    "P13",
    "P14",
    "N22",
    "L4",
    "farthest",
    "tied",
    "second",
    "0",
    "1",
    {"data": "P25"},
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
    ("Channel", "irreplaceable"): "tightens first power: tests/bench/test_plan.py",
    ("Channel", "needs"): "moves the advisor's order",
    ("Build", "serial"): "the highest number given to an id",
    ("Build", "stock"): "with the drawer, in tests/web/test_keeping.py",
    ("Build", "prefer_stock"): "with the drawer, in tests/web/test_keeping.py",
    ("Channel", "accepted"): "moves a finding to the accepted ones, which the report lists",
    ("Build", "discipline"): "a mapping; each fact in tests/core/test_mains.py",
    ("Build", "rails"): "pieces of their own",
    ("Build", "channels"): "pieces of their own",
    ("Build", "inputs"): "pieces of their own",
    ("Build", "chains"): "pieces of their own",
    ("Build", "vehicles"): "pieces of their own",
    ("Build", "behaviour"): "pieces of their own, in tests/behaviour",
    ("Vehicle", "note"): "the builder's own words",
    ("Vehicle", "stick_dead"): "moves the curve on its page, in tests/web/test_chain_pages.py",
    ("Vehicle", "motor_dead"): "moves the curve on its page, in tests/web/test_chain_pages.py",
    ("Vehicle", "ramp"): "said on its page, for whoever writes the program",
    ("Vehicle", "most"): "moves the curve on its page, in tests/web/test_chain_pages.py",
    ("Chain", "note"): "the builder's own words",
    ("Build", "routes"): "pieces of their own",
    ("Build", "blocks"): "pieces of their own",
    ("Build", "cables"): "pieces of their own",
    ("Build", "metals"): "pieces of their own",
    ("Build", "parts"): "records; each figure is a case of its own",
    ("Channel", "stage"): "each stage and each setting is a case of its own",
}


def optional_fields(model) -> list[str]:
    """Fields a document may leave out."""
    return [name for name, info in model.model_fields.items() if not info.is_required()]


def places(build: Build, model) -> list[tuple[str, int]]:
    """Where pieces of a model stand in a build."""
    where = {Rail: "rails", Channel: "channels", SenseInput: "inputs", Route: "routes"}
    where |= {
        Block: "blocks",
        Cable: "cables",
        Metal: "metals",
        Chain: "chains",
        Vehicle: "vehicles",
    }
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


LAID = (Block, Cable, Metal)
MODELS = {
    m.__name__: m for m in (Build, Rail, Channel, Load, SenseInput, Chain, Vehicle, Route, *LAID)
}
FIELDS = [
    (model, name)
    for model in MODELS.values()
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


#: What nobody is known to feel, each with why it may still be entered.
NOT_FELT_YET: dict[str, str] = {
    "SenseInput.gone_after": "in a rehearsal: tests/behaviour/test_patterns.py",
    "SenseInput.moved_by": "with such a rule: tests/behaviour/test_behaviour_findings.py",
    "SenseInput.moved": "with such a rule: tests/behaviour/test_behaviour_findings.py",
    "SenseInput.moved_by_much": "with such a rule: tests/behaviour/test_behaviour_findings.py",
    "Rail.touchable": "on hand-made netlists in tests/core/test_islands.py",
    "pnp_darlington.gain_at": "a Darlington is driven at one forced gain, whatever its own",
    "pnp_darlington.gain_min": "a Darlington is driven at one forced gain, whatever its own",
    "packaged.approval": "where none is stated: tests/core/test_packaged.py",
    "packaged_unit.network": "of a unit that listens to one: tests/core/test_packaged.py",
    "igbt.v_ge_th": "told on its sheet; no sum asks for it yet",
    "coupler.ctr_max": "kept for inputs that are on with low; a coupler's light is held dark",
    "diode.fast": "moves the choice of a diode, not one that is fixed",
    "zener.power": "pulsed clamps are held to their peak current only",
    "suppressor.power": "pulsed clamps are held to their peak current only",
    "reed.test_voltage": "a bridged pair is never hazardous; the class stands on the map",
    "reed.barrier": "a bridged pair is never hazardous; the class stands on the map",
    "reed.creepage": "a bridged pair is never hazardous; the class stands on the map",
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


def witnessed(name: str) -> tuple[Build, Build]:
    """The build on which something is felt, and the same with it entered."""
    owner, what = name.split(".", 1)
    known = json.loads(FELT.read_text(encoding="utf-8"))[name]
    if owner in MODELS:
        ground, spot, value = known
        build = grounds()[ground]
        return build, entered(build, spot, what, value)
    *where, value = known
    # A family of parts may be called as a stage is; its figures are found on a stage, too.
    if len(where) == 3:
        build = stage_bench(owner, *where)
        return build, set_to(build, what, value)
    build, raw = with_own_part(owner, *where)
    return build, figured(build, raw, what, value)


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
