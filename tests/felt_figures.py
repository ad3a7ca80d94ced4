"""Who feels a figure of a part: a bench with an own part, and the same with another figure."""

from __future__ import annotations

import types
import typing
from functools import cache

from latchcore.catalogue import load_catalogue, read_part
from latchcore.catalogue.families import PART_FAMILIES
from latchcore.document.models import Build
from latchcore.evaluate import evaluate_afresh
from latchcore.stages import STAGES
from tests.core.benches import edited
from tests.grounds import said, stage_bench, work_of

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

FIGURES = [
    (family, name)
    for family, record in PART_FAMILIES.items()
    if family not in ("board", "supply", "load")
    and any(s.family == family for stage in STAGES.values() for s in stage.settings)
    for name in record.model_fields
    if name not in NOT_FELT
]


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
