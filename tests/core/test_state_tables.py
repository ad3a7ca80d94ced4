"""State tables of stages with several lines: rows, what comes about, slips, verdicts."""

import pytest

from latchcore.sums.motion.judge import judge
from latchcore.sums.motion.outcome import conducts, result_of
from latchcore.sums.motion.reach import Explorer
from latchcore.sums.motion.reading import readings
from latchcore.sums.motion.table import Table
from latchcore.sums.motion.walk import TooMany, walk
from tests.core.reference_motion import of, power_of

TABLES = of("state_table")
by_id = pytest.mark.parametrize("case", TABLES, ids=lambda c: c["id"])


def _agrees(row, want: dict) -> None:
    assert row.result == want["result"]
    assert list(row.on) == sorted(want["on"])
    assert list(row.may_be_on) == sorted(want.get("may_be_on", []))
    if "can_be" in want:
        assert sorted(row.can_be) == sorted(want["can_be"])
    flows = dict(row.flows or ())
    for name, amps in want.get("current_a", {}).items():
        assert flows[name] == pytest.approx(amps, rel=1e-4, abs=1e-7)
    if "shorts" in want:
        assert sorted(map(sorted, row.shorts)) == sorted(map(sorted, want["shorts"]))
    if "angle_eighths" in want:
        assert row.angle == want["angle_eighths"]


@by_id
def test_every_combination_does_what_a_solver_of_nodes_finds(case):
    table = Table(power_of(case["given"]))
    for want in case["expect"]["table"]:
        for lines in want["lines"]:
            _agrees(table.row(lines), want)


def _nearest(power, slips: int = 0) -> dict[str, int]:
    table, reached, found = Table(power), Explorer(power, slips).walk(), {}
    for at, depth in reached.depth.items():
        for result in table.row(at.lines).can_be:
            found[result] = min(found.get(result, depth), depth)
    return found


@by_id
def test_what_comes_about_and_in_how_few_steps(case):
    power, expect = power_of(case["given"]), case["expect"]
    assert Explorer(power).walk().combinations == sorted(expect["reached"])
    assert _nearest(power) == {k: v["steps"] for k, v in expect["reach"].items()}
    if "reach_with_one_slip" in expect:
        slipped = {k: v["steps"] for k, v in expect["reach_with_one_slip"].items()}
        assert _nearest(power, 1) == slipped


@by_id
def test_what_is_found_is_what_a_careful_reader_would_say(case):
    found, expect = judge(power_of(case["given"])), case["expect"]
    assert {v.check: v.severity for v in found.verdicts} == expect["findings"]
    assert found.disarms == (expect.get("disarms") or {})
    assert found.back_feeds == pytest.approx(expect["back_feeds_a"])
    assert list(found.hot) == sorted(map(tuple, expect.get("hot_moves", found.hot)))
    assert list(found.arcs) == sorted(map(tuple, expect.get("arc_shorts", found.arcs)))
    slips = {(s.before, s.wanted, s.slip.way, s.slip.moves_in): s for s in found.slips}
    for want in expect.get("slips", []):
        slip = slips[want["before"], want["wanted"], want["slip"], want["moves_in"]]
        assert slip.slip.becomes == want["becomes"]
        assert list(slip.can_be) == sorted(want["can_be"])


@by_id
def test_a_way_that_is_shown_begins_at_power_on_and_ends_in_what_it_shows(case):
    found = judge(power_of(case["given"]))
    for verdict in found.verdicts:
        if verdict.way:
            assert verdict.way[0].event == "begin"
            assert all(step.lines in found.rows for step in verdict.way)


def test_a_walk_of_every_state_of_several_stages_agrees_with_each_worked_out_alone():
    """A chip of three lines, four switches and a stepper: 2^11 states, brute force beside it."""
    by_id = {c["id"]: power_of(c["given"]) for c in of("state_table")}
    powers = [by_id[key] for key in ("table-01", "table-07", "table-22")]
    motions = [judge(power) for power in powers]
    width = sum(len(p.lines) for p in powers)
    walked = dict(walk(motions))
    assert len(walked) == 2**width
    for number in range(2**width):
        code = format(number, f"0{width}b")
        alone, rest = [], code
        for power in powers:
            own, rest = rest[: len(power.lines)], rest[len(power.lines) :]
            can = {result_of(power, conducts(power, levels)) for levels in readings(power, own)}
            alone.append(can.pop() if len(can) == 1 else "undefined")
        assert walked[code] == tuple(alone)


def test_a_walk_says_how_many_lines_are_too_many():
    motion = judge(power_of(next(c for c in of("state_table") if c["id"] == "table-07")["given"]))
    with pytest.raises(TooMany, match="20 lines have 1048576"):
        next(walk([motion] * 5))
