"""A remedy that is offered mends what it is offered for, and makes nothing worse."""

import pytest

from latchcore.checks.remedies import weight
from latchcore.evaluate import evaluate
from tests.core.benches import bench, edited
from tests.core.test_findings import CASES

TRIPPING = {name: build for name, (_, severity, build) in CASES.items() if severity}


@pytest.mark.parametrize("name", TRIPPING)
def test_every_finding_says_what_mends_it_and_it_does(name):
    build = TRIPPING[name]()
    before = evaluate(build).all_findings
    for finding in before:
        assert finding.remedies and finding.sentence.endswith(".")
        for remedy in (r for r in finding.remedies if r.edits):
            after = evaluate(edited(build, *remedy.edits)).all_findings
            if finding.check != "P2":
                assert (finding.check, finding.where) not in {(f.check, f.where) for f in after}, remedy.label
            assert weight(after) < weight(before) or finding.check in ("S2", "P2")


def test_the_clamp_remedy_says_what_the_switch_then_sees():
    build = bench("solenoid", figure="8 Ω", stage="nmos_low_side", settings={"clamp": "none"})
    remedy = evaluate(build).all_findings[0].remedies[0]
    assert "band to the rail" in remedy.label and "13.7 V" in remedy.result


def test_a_finding_is_accepted_with_a_reason_and_comes_back_without_it():
    build = bench(settings={"base_resistor": "180"})
    kept = edited(build, ("accept_finding", {"channel": "ch2", "check": "P1", "reason": "measured 11 mA"}))
    report = evaluate(kept).channels[0]
    assert report.verdict == "sound" and report.accepted[0][1] == "measured 11 mA"
    again = edited(kept, ("withdraw_acceptance", {"channel": "ch2", "check": "P1"}))
    assert evaluate(again).channels[0].verdict == "fix"


def test_a_stop_on_something_that_moves_stands_whatever_is_written():
    build = bench("solenoid", figure="8 Ω", stage="nmos_low_side", settings={"clamp": "none"})
    kept = edited(build, ("accept_finding", {"channel": "ch2", "check": "C4", "reason": "it worked"}))
    assert evaluate(kept).channels[0].verdict == "stop"
