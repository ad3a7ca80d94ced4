"""Recorded inputs: what is taken, what is refused, and the way there and back."""

from __future__ import annotations

import pytest

from latchcore.advice.rehearsed import rehearse
from latchcore.behaviour.script import ScriptError, read_script, script_of
from latchcore.document.models import Load
from latchcore.formats.inputsfile import MOST_BYTES, InputsFileError, read_inputs
from latchcore.formats.rehearsalfile import rehearsal_data, rehearsal_dump
from tests.behaviour.worklight import work_light

TABLE = b"t,North,Damp\n0,0,40\n1,1,\n2.5,0,55\n"
DUMP = b"""$timescale 1 ms $end
$scope module inputs $end
$var wire 1 ! North $end
$var real 64 " Damp $end
$upscope $end
$enddefinitions $end
#0
0!
r40 "
#1000
1!
#2500
0!
r55 "
"""


def as_rows(happenings):
    return [(h.t, h.of, h.value) for h in happenings]


def test_a_table_is_taken_as_its_changes_and_an_empty_level_is_no_reading():
    assert as_rows(read_inputs(work_light(), "x.csv", TABLE)) == [
        (0.0, "in4", False),
        (0.0, "in6", 40.0),
        (1.0, "in4", True),
        (1.0, "in6", None),
        (2.5, "in4", False),
        (2.5, "in6", 55.0),
    ]


def test_a_dump_is_taken_in_its_own_time_scale():
    assert as_rows(read_inputs(work_light(), "x.vcd", DUMP)) == [
        (0.0, "in4", False),
        (0.0, "in6", 40.0),
        (1.0, "in4", True),
        (2.5, "in4", False),
        (2.5, "in6", 55.0),
    ]


REFUSED = {
    "empty": ("x.csv", b"", "empty"),
    "no time": ("x.csv", b"North\n1\n", "“t”"),
    "a stranger": ("x.csv", b"t,Nord\n0,1\n", "“Nord”"),
    "a gap": ("x.csv", b"t,North\n0,1\n1,\n", "Row 3, North: nothing stands there"),
    "a short row": ("x.csv", b"t,North,Damp\n0,1\n", "Row 2 has 2 cells"),
    "time running back": ("x.csv", b"t,North\n2,1\n1,0\n", "comes after 2 s"),
    "a year": ("x.csv", b"t,North\n40000000,1\n", "is no time"),
    "no contact": ("x.csv", b"t,North\n0,maybe\n", "“maybe”"),
    "no text": ("x.csv", b"\xff\xfe", "no table"),
    "no dump": ("x.vcd", b"$var wire", "no value change dump"),
    "an endless dump": (
        "x.vcd",
        DUMP.replace(b"#2500", b"#99999999999"),
        "no longer than 31 days",
    ),
    "a dump of other things": (
        "x.vcd",
        DUMP.replace(b"North", b"a").replace(b"Damp", b"b"),
        "No variable",
    ),
    "too large": ("x.csv", b"t,North\n" + b"0,1\n" * (MOST_BYTES // 4), "MB"),
}


@pytest.mark.parametrize("name", REFUSED)
def test_what_cannot_be_taken_is_refused_with_its_place(name):
    file, content, words = REFUSED[name]
    with pytest.raises(InputsFileError, match=words):
        read_inputs(work_light(), file, content)


def test_a_rehearsal_written_as_a_dump_gives_the_same_inputs_again():
    build = work_light()
    given = read_inputs(build, "x.csv", TABLE)
    found = rehearse(build, given, 10, {"in6": 40.0})
    dump = rehearsal_dump(build, found)
    assert "North_in4" in dump and "Lamp_ch2" in dump
    renamed = dump.replace("North_in4", "North").replace("Damp_in6", "Damp").encode()
    again = rehearse(build, read_inputs(build, "y.vcd", renamed), 10, {"in6": 40.0})
    # The dump holds readings as they were taken, 20 ms of debounce later.
    first = [(w.step + 2, w.level) for w in found.run.changes]
    assert [(w.step, w.level) for w in again.run.changes] == first


def test_a_script_goes_to_text_and_back():
    build = work_light()
    lines = "0.5 North on\n1 Damp 62\n2 power off\n3 power on\n4 stuck North\n5 clock 22:00:00"
    assert script_of(build, {}, read_script(build, lines)) == lines


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("North on", "is no time"),
        ("1 Nord on", "nothing of this build"),
        ("1 North up", "no state"),
    ],
)
def test_a_line_that_says_nothing_is_refused_with_its_number(line, words):
    with pytest.raises(ScriptError, match=f"Line 2.*{words}"):
        read_script(work_light(), f"0 North on\n{line}")


def test_the_current_of_a_rail_is_that_of_what_is_on_and_a_breach_is_told():
    build = work_light()
    found = rehearse(build, read_script(build, "1 North on\n2 North off"), 10)
    (lane,) = rehearsal_data(build, found)["rails"]
    # A filament lamp of 1 A starts with a multiple of it, over the 2 A of its rail.
    assert lane["most_a"] > 2 and lane["breaches"][0]["t"] == 1.02
    steady = [amps for t, amps in lane["points"] if t < 5]
    assert steady[-1] == pytest.approx(1.0, rel=0.2) and lane["points"][-1][1] == 0
    assert rehearsal_data(build, found)["channels"][0]["on_s"] == pytest.approx(4.0)


def borne(**load):
    """The work light with a lamp of which more is stated, on a rail that gives plenty."""
    build = work_light()
    lamp = build.channels[0].load.model_dump(exclude_none=True) | load
    channel = build.channels[0].model_copy(update={"load": Load.model_validate(lamp)})
    rail = build.rails[0].model_copy(update={"rating": "50 A"})
    return build.model_copy(update={"channels": [channel, build.channels[1]], "rails": [rail]})


@pytest.mark.parametrize(
    ("load", "trips", "words"),
    [
        # On from 1.02 to 5.02 s, and again from 6.02 to 10.02 s, in a run of 20 s.
        ({"longest_rated": "4 s"}, False, ""),
        ({"longest_rated": "3.99 s"}, True, "longer than the 3.99 s"),
        ({"least_off": "1 s"}, False, ""),
        ({"least_off": "1.01 s"}, True, "wants to rest for 1.01 s"),
        ({"duty_rated": "40 %"}, False, ""),
        ({"duty_rated": "39 %"}, True, "rated 39 %"),
    ],
)
def test_what_a_load_does_not_bear_is_a_breach_and_a_hair_less_is_none(load, trips, words):
    build = borne(**load)
    script = "1 North on\n2 North off\n6 North on\n7 North off"
    found = rehearse(build, read_script(build, script), 20)
    assert bool(found.breaches) == trips
    assert not trips or words in found.breaches[0].words
