"""
Hostile input by the thousand: every field of every edit, every kind of part, files and tables, with
extremes and nonsense.
"""

from __future__ import annotations

import copy
import inspect
import json
import random
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from latchcore.catalogue import load_catalogue, read_part
from latchcore.design.faults import UNWORKED
from latchcore.document.models import PIECES, Build
from latchcore.edits import EDITS, EditError, apply
from latchcore.edits.building import WORDS
from latchcore.edits.channels import LOAD_FIELDS
from latchcore.edits.inputs import INPUT_FIELDS
from latchcore.edits.laying import BLOCK_FIELDS, CABLE_FIELDS, METAL_FIELDS
from latchcore.edits.leads import WIRE_FIELDS
from latchcore.edits.rails import RAIL_FIELDS
from latchcore.edits.using import GUARDS, SWITCHING
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import UNITS
from latchcore.formats.buildfile import BuildFileError, read_build, write_build
from latchcore.formats.partsfile import PartsFileError, read_parts
from latchcore.formats.partsrecord import fields_of
from latchcore.formats.reportfile import report_data
from latchcore.stages import STAGES

ROOT = Path(__file__).parent.parent
#: Longest refusal that is still read [characters].
MOST = 300
UNIT_WORDS = [u for u in UNITS if u]
EXTREMES = [
    "0",
    "-1",
    "1e-30",
    "1e30",
    "1e400",
    "nan",
    "inf",
    "-inf",
    "1e-9",
    "1e9",
    "0.001",
    "1000",
    "950",
    "9" * 30,
    "1,5",
    "4k7",
    "1e",
]
SIZES = "0.001 0.01 0.1 2 7 100 1000 1e-9 0 1e6 3 -1 1e300".split()
NONSENSE = [
    "",
    " ",
    "none",
    "auto",
    "yes",
    "no",
    "on",
    "off",
    "unknown",
    "\u0664\u0662 V",
    "Ⅻ",
    "½ A",
    "²",
    "𝟙𝟚 V",
    "\ud83d",
    "a\x00b",
    "a\nb",
    "\u202e12 V",
    "'; --",
    "<b>x</b>",
    "{{ x }}",
    "ch1,ch2",
    "rail1",
    "../x",
    "12 V ± 500 %",
    "12 V ±1e400 %",
    "13 to 11 V",
    "1 / 2 V",
    "12 V -1/+2 %",
    "x" * 5000,
    "5 V to 5 V",
    "0 V ±0 %",
    "AWG 99",
    "AWG 0",
    "%",
    "V",
]
SETS: dict[str, Callable[[Build], list[str]]] = {
    "set_conditions": lambda b: list(WORDS),
    "set_rail": lambda b: list(RAIL_FIELDS),
    "set_load": lambda b: [*LOAD_FIELDS, "hazards"],
    "set_switching": lambda b: list(SWITCHING),
    "set_guards": lambda b: list(GUARDS),
    "set_wire": lambda b: list(WIRE_FIELDS),
    "set_block": lambda b: list(BLOCK_FIELDS),
    "set_cable": lambda b: list(CABLE_FIELDS),
    "set_metal": lambda b: list(METAL_FIELDS),
    "set_input": lambda b: list(INPUT_FIELDS),
    "add_input": lambda b: list(INPUT_FIELDS),
    "state_discipline": lambda b: list(load_catalogue().discipline),
    "set_route": lambda b: ["name", "interlock", "gap", "members"],
    "set_machine": lambda b: [
        "name",
        "untouched",
        "stores_high_voltage",
        "remote_line.supply",
        "inside.note",
    ],
    "set_setting": lambda b: [s.key for c in b.channels for s in STAGES[c.stage.kind].settings],
    "set_stage": lambda b: ["transistor", "clamp", "relay"],
}


@dataclass
class Tally:
    """How many were tried, refused and accepted, and what went wrong."""

    tried: int = 0
    refused: int = 0
    accepted: int = 0
    wrong: list[str] = field(default_factory=list)


def benches() -> list[Build]:
    """Builds to be hostile to: those of the demo."""
    return [read_build(path.read_bytes()) for path in sorted((ROOT / "demo").glob("*.json"))]


def value(dice: random.Random, build: Build) -> str:
    """
    One thing somebody might type: an extreme with or without a unit, a slip of a thousand, a name
    of the build, nonsense.
    """
    kind = dice.randrange(6)
    if kind == 0:
        return f"{dice.choice(EXTREMES)} {dice.choice(UNIT_WORDS)}"
    if kind == 1:
        unit = dice.choice(UNIT_WORDS)
        _, least, most = UNITS[unit]
        middle = (least * most) ** 0.5 if least else most / 3
        edges = [least, most, least * 1.001, most * 0.999, least / 2, most * 2, middle]
        return f"{dice.choice(edges):.6g} {unit}"
    if kind == 2:
        return (
            f"{dice.choice([1, 5, 12, 24, 230, 950])}"
            f" {dice.choice(['', *'kmMun'])}{dice.choice([*'VAWΩsHF', 'Hz'])}"
        )
    if kind == 3:
        ids = [p.id for kind in PIECES for p in getattr(build, kind)]
        return dice.choice(
            [*ids, *list(STAGES), *list(load_catalogue().loads), *list(load_catalogue().parts)]
        )
    return dice.choice(NONSENSE if kind == 4 else EXTREMES)


def fitting(dice: random.Random, build: Build, name: str) -> str:
    """A value that makes an argument of that name point at something there."""
    pieces = {
        "channel": build.channels,
        "rail": build.rails,
        "route": build.routes,
        "machine": build.machines,
        "block": build.blocks,
        "cable": build.cables,
        "metal": build.metals,
        "what": [*build.channels, *build.inputs],
    }
    if name in pieces and pieces[name] and dice.random() < 0.97:
        return dice.choice(pieces[name]).id
    if name == "stage":
        return dice.choice(list(STAGES))
    if name == "kind":
        return dice.choice([*load_catalogue().loads, "button", "divider", "knob", "opto", "serial"])
    if name == "pin" and (board := load_catalogue().parts.get(build.board)):
        return dice.choice(board.pins).id
    return value(dice, build)


def some_edit(dice: random.Random, build: Build) -> tuple[str, dict[str, str]]:
    """A named edit with arguments of which most fit and one does not."""
    name = dice.choice(list(EDITS))
    parameters = list(inspect.signature(EDITS[name]).parameters.values())[1:]
    args = {}
    for p in parameters:
        if p.kind is p.VAR_KEYWORD:
            known = SETS.get(name, lambda b: [])(build)
            for key in dice.sample(known, min(len(known), dice.randint(1, 2))):
                args[key] = value(dice, build)
        elif p.default is p.empty or dice.random() < 0.4:
            args[p.name] = (
                fitting(dice, build, p.name) if dice.random() < 0.8 else value(dice, build)
            )
    if dice.random() < 0.03:
        args[dice.choice(["build", "self", "name", "args", "x" * 400, "\ud800"])] = "x"
    return name, args


def hold(build: Build, what: str, tally: Tally) -> None:
    """
    Hold an accepted build to what it is owed: a report, a file that comes back, no fault of the
    program.
    """
    try:
        report = evaluate(build)
        json.dumps(report_data(report))
        faults = [
            f.sentence
            for f in report.all_findings
            if f.check == UNWORKED and "fault F-" in f.sentence
        ]
        if faults:
            tally.wrong.append(f"{what}: {faults[0]}")
        text = write_build(build)
        if write_build(read_build(text)) != text:
            tally.wrong.append(f"{what}: its file comes back otherwise")
    except Exception as error:
        tally.wrong.append(f"{what}: {type(error).__name__} {error}")


def edits(
    dice: random.Random, count: int, tally: Tally, seen: Callable[[Build], None] = lambda b: None
) -> None:
    """
    Edits in a row on the demo builds, begun anew now and then so that nothing grows without limit.
    """
    fresh = benches()
    build = dice.choice(fresh)
    for n in range(count):
        if n % 12 == 0:
            build = dice.choice(fresh)
        name, args = some_edit(dice, build)
        tally.tried += 1
        what = f"{name} {json.dumps(args)[:160]}"
        before = build.model_dump_json()
        try:
            changed, says = apply(build, name, args)
        except EditError as error:
            tally.refused += 1
            if len(str(error)) >= MOST:
                tally.wrong.append(f"{what}: refused in {len(str(error))} characters")
            continue
        except Exception as error:
            tally.wrong.append(f"{what}: {type(error).__name__} {error}")
            continue
        if build.model_dump_json() != before:
            tally.wrong.append(f"{what}: changed the build it was tried on")
        tally.accepted += 1
        build = changed
        hold(build, what, tally)
        seen(build)


def parts(dice: random.Random, count: int, tally: Tally) -> None:
    """Records of every family with figures broken, put into a build that uses them."""
    generic = load_catalogue()
    keys = [key for key, raw in generic.raw.items() if raw["family"] != "board"]
    fresh = [b for b in benches() if b.channels]
    for _ in range(count):
        raw = copy.deepcopy(generic.raw[dice.choice(keys)])
        names = fields_of(raw["family"])
        for name in dice.sample(names, min(len(names), dice.choice([1, 1, 2]))):
            raw[name] = broken(dice, raw.get(name))
        raw |= {
            "id": "own-hostile",
            "title": dice.choice(["own"] * 20 + ["\u042f", "x" * 300, "a\x00"]),
        }
        tally.tried += 1
        what = f"part {json.dumps(raw)[:200]}"
        try:
            read_part(raw)
        except ValueError:
            tally.refused += 1
            continue
        except Exception as error:
            tally.wrong.append(f"{what}: {type(error).__name__} {error}")
            continue
        tally.accepted += 1
        build = dice.choice(fresh)
        build = build.model_copy(update={"parts": {**build.parts, "own-hostile": raw}})
        for channel in build.channels:
            setting = next(
                (
                    s
                    for s in STAGES[channel.stage.kind].settings
                    if s.kind == "part" and s.family == raw["family"]
                ),
                None,
            )
            if setting is not None:
                try:
                    build, _ = apply(
                        build, "set_setting", {"channel": channel.id, setting.key: "own-hostile"}
                    )
                except EditError:
                    continue
        hold(build, what, tally)


def broken(dice: random.Random, was: object) -> object:
    """A figure of a record broken: another size, kind, shape or text."""
    if isinstance(was, list):
        return dice.choice(
            [
                [],
                was[:1],
                was[::-1],
                was * 2,
                [*was, "0"],
                was[1:],
                ["x"],
                "1 A",
                [float("nan")] * len(was),
                [1.0] * 500,
                None,
            ]
        )
    if isinstance(was, str) and dice.random() < 0.5:
        number, _, unit = was.partition(" ")
        return f"{dice.choice(SIZES)} {unit}"
    return dice.choice(
        [
            0,
            -1,
            1e300,
            float("inf"),
            float("nan"),
            "",
            None,
            [],
            {},
            True,
            "\ud800",
            "0 V",
            "1 mV",
            "1500 V",
            5,
            0.001,
        ]
    )


def files(dice: random.Random, count: int, tally: Tally) -> None:
    """Build files with pieces taken out, swapped, broken, nested and truncated."""
    texts = [path.read_text(encoding="utf-8") for path in sorted((ROOT / "demo").glob("*.json"))]
    for _ in range(count):
        text = dice.choice(texts)
        if dice.random() < 0.2:
            cut = dice.randrange(len(text))
            text = (
                text[:cut]
                + dice.choice(["", "\x00", "}", "[" * 20, "1e999", "\\ud800"])
                + text[cut + dice.randrange(4) :]
            )
        else:
            data = json.loads(text)
            for _ in range(dice.randint(1, 3)):
                _damage(dice, data)
            text = json.dumps(data)
        tally.tried += 1
        try:
            build = read_build(text)
        except BuildFileError as error:
            tally.refused += 1
            if len(str(error)) >= MOST:
                tally.wrong.append(f"file refused in {len(str(error))} characters")
            continue
        except Exception as error:
            tally.wrong.append(f"file: {type(error).__name__} {error}")
            continue
        tally.accepted += 1
        hold(build, "file", tally)


def _damage(dice: random.Random, data: dict) -> None:
    """Break one thing somewhere in a document."""
    place: object = data
    while True:
        keys = list(place) if isinstance(place, dict) else list(range(len(place)))
        if not keys:
            return
        key = dice.choice(keys)
        inner = place[key]
        if isinstance(inner, dict | list) and inner and dice.random() < 0.85:
            place = inner
            continue
        if dice.random() < 0.25 and isinstance(place, dict):
            del place[key]
        else:
            place[key] = (
                broken(dice, inner)
                if dice.random() < 0.5
                else dice.choice([*NONSENSE, *(f"{e} V" for e in EXTREMES)])
            )
        return


def tables(dice: random.Random, count: int, tally: Tally) -> None:
    """
    Tables of parts with rows that are ragged, empty, absurd or hostile beside plain ones; several
    rows a table.
    """
    bases = {
        raw["family"]: key for key, raw in load_catalogue().raw.items() if raw["family"] != "board"
    }
    keys, versions = ["own-a", "own.b", "A B", "\u042f", "x" * 90], ["1", "-3", "9" * 30, "²"]
    done = 0
    while done < count:
        rows, figures = (
            dice.randint(1, 40),
            dice.sample(
                ["gain_at", "gain_min", "v_ceo", "r_on", "r_on_at", "coil", "channels", "pull_in"],
                3,
            ),
        )
        lines = [
            ",".join(["key", "version", "family", "title", "base", "value", "quantity", *figures])
        ]
        for _ in range(rows):
            family = (
                dice.choice([*bases, "resistor"])
                if dice.random() < 0.95
                else dice.choice(["nothing", "", "\u042f"])
            )
            row = [
                "",
                "",
                family,
                dice.choice(["mine", "ю", "=x"]),
                bases.get(family, ""),
                "4k7" if family == "resistor" else "",
                "3",
                "",
                "",
                "",
            ]
            if dice.random() < 0.7:
                place = dice.randrange(len(row))
                spoilt = {0: keys, 1: versions, 3: ["", "a\tb", "x" * 400], 4: ["", "nothing"]}.get(
                    place, [value(dice, Build(name="x"))]
                )
                row[place] = (
                    dice.choice(spoilt).replace(",", ";").replace('"', "").replace("\n", " ")
                )
            lines.append(",".join(row[: dice.choice([len(row), len(row), len(row) - 2])]))
        done += rows
        tally.tried += rows
        try:
            for row in read_parts("\n".join(lines)):
                tally.refused += bool(row.error)
                tally.accepted += not row.error
                if len(row.error) >= MOST:
                    tally.wrong.append(f"row refused in {len(row.error)} characters")
        except PartsFileError as error:
            tally.refused += rows
            if len(str(error)) >= MOST:
                tally.wrong.append(f"table refused in {len(str(error))} characters")
        except Exception as error:
            tally.wrong.append(f"table: {type(error).__name__} {error}")
