"""
The net: whatever can be entered changes what is reported. ``tests/data/felt.json`` holds where each
field of a document, each figure of a part and each setting of a stage is felt.
"""

from __future__ import annotations

import json

import pytest
from pydantic import ValidationError

from latchcore.advice.stepin import judge
from latchcore.document.machines import Machine, Way
from tests.accounts import kept
from tests.felt import (
    FELT,
    FIELDS,
    NOT_FELT_YET,
    SETTINGS,
    WORDS_ONLY,
    optional_fields,
    witnessed,
)
from tests.felt_figures import FIGURES
from tests.grounds import said

WITNESSES = json.loads(FELT.read_text(encoding="utf-8"))


def witness(name: str) -> None:
    """Fails where nobody is known to feel it."""
    if name in NOT_FELT_YET:
        pytest.skip(NOT_FELT_YET[name])
    assert name in WITNESSES, f"nobody is known to feel {name}; run python -m tests.felt"


def feels(name: str) -> None:
    """What is entered changes the report, and to what was kept."""
    witness(name)
    plain, changed = witnessed(name)
    told = said(changed)
    assert told != said(plain)
    kept(name, told)


@pytest.mark.parametrize("model, name", FIELDS, ids=lambda x: getattr(x, "__name__", x))
def test_every_optional_field_of_a_document_changes_the_report_when_it_is_entered(model, name):
    feels(f"{model.__name__}.{name}")


@pytest.mark.parametrize("family, name", FIGURES, ids=str)
def test_every_figure_of_a_part_is_felt_by_some_stage_that_uses_it(family, name):
    feels(f"{family}.{name}")


@pytest.mark.parametrize("stage, key", SETTINGS, ids=str)
def test_every_setting_of_a_stage_is_felt_on_some_load(stage, key):
    feels(f"{stage}.{key}")


def test_whatever_is_excused_from_the_net_is_felt_by_nobody_known_and_really_there():
    cases = [*FIELDS, *FIGURES, *SETTINGS]
    there = {f"{getattr(owner, '__name__', owner)}.{name}" for owner, name in cases}
    assert set(NOT_FELT_YET) <= there - set(WITNESSES)
    assert set(WITNESSES) <= there


@pytest.mark.parametrize(
    "model, name",
    [
        (m, n)
        for m in (Machine, Way)
        for n in optional_fields(m)
        if (m.__name__, n) not in WORDS_ONLY
    ],
    ids=lambda x: getattr(x, "__name__", x),
)
def test_every_fact_of_a_machine_changes_its_judgement(model, name):
    bare = {"id": "m1", "name": "Attic fan"}
    with_line = bare | {"remote_line": {"exists": "yes"}}
    ways = [{"exists": "yes", "supply": s} for s in ("isolated_low", "mains", "unknown")]
    values = ("yes", "no", "mains", "isolated_low", "unknown", *ways, {"exists": "no"})
    felt = False
    for plain in (bare, with_line):
        base = judge(Machine.model_validate(plain))
        for value in values:
            way = {"exists": "yes", name: value}
            changed = plain | ({name: value} if model is Machine else {"remote_line": way})
            try:
                felt |= judge(Machine.model_validate(changed)) != base
            except ValidationError:
                continue
    assert felt
