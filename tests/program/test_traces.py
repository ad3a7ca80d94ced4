"""Plans of lines over time, and captures held against them."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from latchcore.advice.rehearsed import rehearse
from latchcore.behaviour.script import read_script
from latchcore.document.models import Build
from latchcore.evaluate import evaluate
from latchcore.figures.trace import Trace
from latchcore.formats.capturefile import CaptureFileError, read_capture
from latchcore.formats.tracefile import traces_csv, traces_dump
from latchcore.program.compared import compare
from latchcore.program.plan import ProgramPlan
from latchcore.program.traces import called, planned_traces, start_traces
from tests.program.test_line_and_walk import shed

PULSED = Trace("P1", "Bell", ((0.0, 0), (1.0, 1), (1.5, 0)), 0, ("pulse",))
HELD = Trace("P1", "Bell", ((0.0, 0), (1.0, 1), (1.5, 0)), 0, ("while",))


def seen(*points: tuple[float, int]) -> list[Trace]:
    return [Trace("P1", "", points)]


def named(plan: Trace, *points: tuple[float, int], until: float = 4.0) -> list[str]:
    return [d.what for d in compare([plan], seen(*points), until)]


def test_a_capture_that_is_the_plan_differs_in_nothing():
    assert named(HELD, *HELD.points) == []


@pytest.mark.parametrize(
    ("off", "what"), [(1.52, []), (1.521, ["late off"]), (1.48, []), (1.479, ["early off"])]
)
def test_an_edge_may_be_two_steps_off_and_no_more(off, what):
    assert named(HELD, (0, 0), (1.0, 1), (off, 0)) == what


@pytest.mark.parametrize(("off", "what"), [(1.52, []), (1.53, ["pulse too long"])])
def test_a_pulse_has_its_length_wherever_it_begins(off, what):
    assert named(PULSED, (0, 0), (1.0, 1), (off, 0)) == what


def test_a_pulse_that_begins_late_and_keeps_its_length_is_late_alone():
    assert named(PULSED, (0, 0), (1.2, 1), (1.7, 0)) == ["late on", "late off"]


def test_a_line_the_other_way_round_is_called_that_and_nothing_else():
    assert named(HELD, (0, 1), (1.0, 0), (1.5, 1)) == ["wrong polarity"]


def test_on_before_the_first_step_is_the_reset_not_the_program():
    assert named(HELD, (-0.5, 0), (-0.3, 1), (0.0, 0), (1.0, 1), (1.5, 0)) == ["level during reset"]
    assert named(HELD, (-0.5, 0), (1.0, 1), (1.5, 0)) == []


def test_bursts_are_chatter_and_counted_as_one_edge():
    bounced = [(0, 0), (1.0, 1), (1.004, 0), (1.009, 1), (1.5, 0)]
    assert named(HELD, *bounced) == ["chatter"]
    apart = [(0, 0), (1.0, 1), (1.2, 0), (1.3, 1), (1.5, 0)]
    assert named(HELD, *apart) == ["early off", "not planned"]


def test_what_is_missing_and_what_nobody_planned():
    assert named(HELD, (0, 0), (2.0, 1), (3.0, 0)) == ["missing", "not planned"]


def test_a_line_with_an_off_that_is_high_is_on_while_it_is_low():
    plan = Trace("P1", "Mat", ((0.0, 1), (1.0, 0), (2.0, 1)), 1, ("while",))
    assert named(plan, (0, 1), (1.0, 0), (2.0, 1)) == []
    assert named(plan, (0, 1), (1.0, 0), (2.5, 1)) == ["late off"]


def rehearsed() -> tuple[ProgramPlan, list[Trace]]:
    build = shed()
    script = read_script(build, "0.5 Blow on\n1.5 Blow off\n")
    plan = ProgramPlan(build, report=evaluate(build))
    return plan, planned_traces(plan, rehearse(build, script, 3.0))


def test_a_rehearsal_says_what_each_line_does():
    _, traces = rehearsed()
    fan = next(t for t in traces if t.line == "L8")
    assert fan.points == ((0.0, 0), (0.5, 1), (1.5, 0)) and fan.on_for == ("while",)
    assert next(t for t in traces if t.line == "L6").points == ((0.0, 0),)


def test_what_went_out_comes_in_as_it_was_and_differs_in_nothing():
    plan, traces = rehearsed()
    for name, text in (("x.csv", traces_csv(traces)), ("x.vcd", traces_dump(traces, "plan"))):
        found = read_capture(name, text.encode(), called(plan))
        captured = [Trace(line, "", tuple(points)) for line, points in found.items()]
        assert {t.line for t in captured} == {"L5", "L6", "L7", "L8"}
        assert compare(traces, captured, 3.0) == []


def test_the_start_is_the_board_s_own():
    plan, _ = rehearsed()
    lamp = next(t for t in start_traces(plan) if t.line == "L5")
    levels = [level for _, level in lamp.points]
    # Nobody drives it while the board is dead or floats; then the program writes it off.
    assert levels[-1] == 0 and None in levels
    assert lamp.points[-1][0] > plan.context.board.boot_time


@st.composite
def some_traces(draw) -> list[Trace]:
    found = []
    for n in range(draw(st.integers(1, 4))):
        times = sorted(draw(st.sets(st.integers(1, 10_000), max_size=8)))
        points, level = [(0.0, draw(st.integers(0, 1)))], None
        for t in times:
            level = 1 - points[-1][1]
            points.append((t / 1000, level))
        found.append(Trace(f"P{n}", "", tuple(points)))
    return found


@settings(max_examples=60, deadline=None)
@given(some_traces())
def test_tables_and_dumps_keep_every_change(traces):
    known = {t.line.lower(): t.line for t in traces}
    for name, text in (("x.csv", traces_csv(traces)), ("x.vcd", traces_dump(traces, "any"))):
        found = read_capture(name, text.encode(), known)
        for trace in traces:
            assert [(round(t, 6), level) for t, level in found[trace.line]] == [
                (round(t, 6), level) for t, level in trace.points
            ]


HOSTILE = [
    b"",
    b"\xff\xfe\x00",
    b"t\n",
    b"t,P1\n0,2\n",
    b"t,P1\n1,0\n0,1\n",
    b"t,P1\nnan,0\n",
    b"t,P1\n1e99,0\n",
    b"volts,P1\n0,1\n",
    b"t,P9\n0,1\n",
    b"$enddefinitions $end\n#0\n1!\n",
    b"$timescale 1 parsec $end\n",
    b"$var wire 1 ! P1 $end\n#99999999999999999999999999\n1!",
]


@pytest.mark.parametrize("name", ["x.csv", "x.vcd"])
@pytest.mark.parametrize("content", HOSTILE)
def test_a_capture_that_cannot_be_used_is_refused_whole(name, content):
    with pytest.raises(CaptureFileError) as refused:
        read_capture(name, content, {"p1": "P1"})
    assert str(refused.value)


@settings(max_examples=150, deadline=None)
@given(st.binary(max_size=300), st.sampled_from(["x.csv", "x.vcd"]))
def test_any_bytes_are_read_or_refused(content, name):
    try:
        found = read_capture(name, b"t,P1\n" + content, {"p1": "P1"})
    except CaptureFileError:
        return
    assert all(level in (0, 1) for points in found.values() for _, level in points)


def test_a_capture_too_large_is_refused_by_its_size():
    with pytest.raises(CaptureFileError, match="at most 5 MB"):
        read_capture("x.csv", b"t,P1\n" + b"0,1\n" * 1_300_000, {"p1": "P1"})


def test_channels_go_by_their_names_too():
    known = called(ProgramPlan(shed()))
    assert known["fan"] == known["ch5"] == known["l8"] == "L8"
    assert Build(name="b").channels == [] and called(ProgramPlan(Build(name="b"))) == {}
