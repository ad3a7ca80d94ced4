"""Every finding has one record, and everything in a record is used."""

import ast
import subprocess
import sys
from pathlib import Path

import pytest

from latchcore.advice.tries import TRIES
from latchcore.findings.records import FAMILIES, RECORDS, record_of
from tests.hostile import ROOT

STATIONS = {"pins", "sizes", "rails", "barriers", "mains", "inputs", "behaviour"}


def named_in_code() -> set[str]:
    """Ids the core gives to measures and findings, read from its syntax."""
    found = set()
    for path in (ROOT / "latchcore").rglob("*.py"):
        if "records" in path.parts:
            continue
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") in (
                "Finding",
                "Measure",
            ):
                place = 0 if node.func.id == "Finding" else 1
                if len(node.args) > place and isinstance(node.args[place], ast.Constant):
                    found.add(node.args[place].value)
    return found


def test_every_finding_the_core_makes_has_a_record():
    assert named_in_code() <= set(RECORDS)


def test_no_id_stands_in_two_records():
    ids = [record.id for family in FAMILIES for record in family.RECORDS]
    assert len(ids) == len(set(ids)) > 70


@pytest.mark.parametrize("check", sorted(RECORDS))
def test_a_record_says_what_it_catches_why_and_where(check):
    record = record_of(check)
    assert (
        record.catches
        and record.severity
        and record.why.endswith((".", "?"))
        and record.short
        and record.station in STATIONS
    )
    assert set(record.yields_to) | set(record.silences_all_but) <= set(RECORDS)
    assert set(record.tries) <= set(TRIES) and len(set(record.tries)) == len(record.tries)


def test_every_way_out_is_wanted_by_some_finding():
    assert {name for record in RECORDS.values() for name in record.tries} == set(TRIES)


def test_the_document_is_the_one_the_records_give():
    told = subprocess.run(
        [sys.executable, "scripts/findings_doc.py"],
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=True,
    )
    assert told.stdout == (Path(ROOT) / "docs" / "findings.md").read_text(encoding="utf-8"), (
        "make docs"
    )
