"""What the loads do, on its pages: said, changed, refused, rehearsed, walked."""

from __future__ import annotations

import html
import re

import pytest

from latchcore.formats.buildfile import write_build
from tests.behaviour.worklight import a_build, work_light
from workbench.actions.creating import create_from_file

pytestmark = pytest.mark.django_db
STATION, REHEARSAL, EXPLORER = "behaviour/", "behaviour/rehearsal/", "behaviour/explorer/"


@pytest.fixture
def kept(client):
    """Keeps a build and gives its pages, and what posting an edit to one answers."""

    class Kept:
        def __init__(self, document):
            self.build = create_from_file(write_build(document).encode())

        def page(self, address, **asked):
            answer = client.get(f"/builds/{self.build.pk}/{address}", asked)
            return html.unescape(answer.content.decode())

        def post(self, address, edit, **args):
            self.build = type(self.build).objects.get(pk=self.build.pk)
            data = {"edit": edit, "version": self.build.version, **args}
            where = f"/builds/{self.build.pk}/{address}"
            return html.unescape(client.post(where, data, follow=True).content.decode())

        def send(self, address, name, content):
            from django.core.files.uploadedfile import SimpleUploadedFile

            where = f"/builds/{self.build.pk}/{address}"
            data = {"inputs": SimpleUploadedFile(name, content)}
            return html.unescape(client.post(where, data).content.decode())

        @property
        def document(self):
            return type(self.build).objects.get(pk=self.build.pk).document

    return Kept


def test_a_rule_reads_as_a_sentence_with_a_strip_of_what_it_means(kept):
    page = kept(work_light()).page(STATION)
    assert "On while (North is acted on or South is acted on) and for 3 s after." in page
    assert "its standing rules count at once" in page
    # The strip is the rule run by itself: on with the switches, off three seconds after.
    assert page.count('class="does on"') == 1


def test_nothing_said_yet_says_what_is_decided_here(kept):
    page = kept(a_build({})).page(STATION)
    assert "Nothing is said yet" in page and "nothing asks for it yet" in page


def test_a_work_light_is_said_by_choices(kept):
    bench = kept(a_build({}))
    bench.post(STATION, "begin_pattern", channel="ch2", pattern="follow_and_last",
               looks_at="input:in4")  # fmt: skip
    rule = bench.document.does.requests[0].id
    page = bench.post(STATION, "join_condition", piece=rule, path="condition", how="any",
                      looks_at="input:in5")  # fmt: skip
    assert "On while (North is acted on and for 3 s after) or South is acted on." in page or (
        "On while North is acted on and for 3 s after or South is acted on." in page
    )


def test_what_is_refused_stands_in_its_field_with_the_reason(kept):
    page = kept(work_light()).post(
        STATION, "set_condition_figures", piece="ru10", path="condition", lasts="1 year"
    )
    assert "“1 year” is not a quantity" in page and 'value="1 year"' in page
    assert page.count('aria-invalid="true"') == 1


def test_a_rule_of_a_removed_channel_is_kept_and_can_be_given_to_another(kept):
    bench = kept(work_light())
    bench.post("loads/", "remove_channel", channel="ch2")
    page = bench.page(STATION)
    assert "Rules of a channel that is gone" in page and "Give it to that channel" in page
    page = bench.post(STATION, "give_rule", rule="ru10", channel="ch3")
    assert "Rules of a channel that is gone" not in page
    assert bench.document.does.requests[0].channel == "ch3"


def test_a_rehearsal_runs_its_script_and_tells_why(kept):
    page = kept(work_light()).page(REHEARSAL, script="1 North on\n2 North off", seconds="9 s")
    assert ">1.02 s</a></td><td>Lamp</td><td>on</td><td>while</td>" in page
    assert ">5.02 s</a></td><td>Lamp</td><td>off</td><td>ended</td>" in page
    assert "12 V gives" in page and "rated" in page


def test_something_put_in_at_the_cursor_is_a_line_of_the_script(kept):
    page = kept(work_light()).page(REHEARSAL, script="1 North on", at="3", add="power off")
    assert "1 North on\n3 power off" in page and "<td>off</td><td>power</td>" in page


@pytest.mark.parametrize(
    ("asked", "words"),
    [
        ({"script": "1 Nord on"}, "Line 1: “Nord on”"),
        ({"seconds": "a year"}, "“a year” is not a quantity"),
        ({"seconds": "800 h"}, "expected up to 31 days"),
    ],
)
def test_a_script_that_says_nothing_is_told_and_stays(kept, asked, words):
    page = kept(work_light()).page(REHEARSAL, **asked)
    assert words in page and next(iter(asked.values())) in page


def test_recorded_inputs_become_the_script_all_or_nothing(kept):
    bench = kept(work_light())
    page = bench.send(REHEARSAL, "a.csv", b"t,North\n0,0\n1,1\n2,0\n")
    assert "1 North on\n2 North off" in page and ">1.02 s</a>" in page
    page = bench.send(REHEARSAL, "a.csv", b"t,North\n0,0\n1,\n")
    assert "Row 3, North: nothing stands there" in page and "Nothing was taken" in page


def test_what_the_page_runs_is_what_the_command_runs(kept, tmp_path, capsys):
    from console.main import main

    path = tmp_path / "b.json"
    path.write_text(write_build(work_light()), encoding="utf-8")
    inputs = tmp_path / "a.csv"
    inputs.write_text("t,North\n0,0\n1,1\n2,0\n")
    main(["rehearse", str(path), "--inputs", str(inputs), "--seconds", "9"])
    times = re.findall(r"([0-9.]+) s  Lamp", capsys.readouterr().out)
    page = kept(work_light()).page(REHEARSAL, script="1 North on\n2 North off", seconds="9 s")
    assert len(times) == 2 and all(f">{float(t):g} s</a>" in page for t in times)


def test_a_walk_finds_it_shows_the_way_and_a_press_ends_it(kept):
    pulse = {"kind": "solenoid", "voltage": "12 V", "figure": "500 mA", "longest_rated": "2 s"}
    build = work_light()
    channel = build.channels[0].model_copy(
        update={"load": build.channels[0].load.model_validate(pulse)}
    )
    bench = kept(build.model_copy(update={"channels": [channel, build.channels[1]]}))
    assert "Walk it now" in bench.page(EXPLORER)
    page = bench.page(EXPLORER, walk="1")
    assert "Lamp can stay on without end" in page and "Replay it" in page
    page = bench.post(EXPLORER, "set_manner", channel="ch2", longest_on="2 s")
    assert "Walk it now" in page and bench.document.does.manner("ch2").longest_on == "2 s"
    page = bench.page(EXPLORER, walk="1")
    assert "Lamp can stay on without end" not in page and "Lamp always goes off again" in page


def test_with_nothing_said_there_is_nothing_to_walk(kept):
    page = kept(a_build({})).page(EXPLORER, walk="1")
    assert "Nothing to walk yet" in page


def test_a_sequence_is_a_grid_of_phases_and_channels(kept):
    bench = kept(a_build({}))
    bench.post(STATION, "add_sequence", name="Evening", happens="press:in4")
    plan = bench.document.does.sequences[0].id
    bench.post(STATION, "add_phase", sequence=plan, name="Two")
    bench.post(STATION, "set_phase_state", sequence=plan, phase="0", channel="ch2", state="on")
    page = bench.post(STATION, "set_phase", sequence=plan, phase="1", until="press:in5",
                      longest="20 s", then="stop")  # fmt: skip
    assert "Starts when North is pressed." in page
    assert "until South is pressed, 20\N{NO-BREAK SPACE}s at the most, then it stops" in page
    assert '<td class="is-on">on</td>' in page
    page = bench.post(STATION, "set_phase", sequence=plan, phase="1", longest="")
    assert "may never come" in page


def test_channels_kept_apart_stand_in_the_matrix(kept):
    bench = kept(a_build({}))
    page = bench.post(STATION, "add_interlock", channels="ch2,ch3", gap="500 ms", name="Either")
    assert "Lamp, Fan: never two on together, 500 ms between one and the next." in page
    assert page.count(">500 ms<") >= 2
    page = bench.post(STATION, "add_interlock", channels="ch3,ch2")
    assert "contrary order of “Either”" in page


def test_the_sheet_for_the_wall_says_what_the_loads_do(kept):
    page = kept(work_light()).page("sheet/")
    assert "What the loads do" in page
    assert "<dd>On while (North is acted on or South is acted on) and for 3 s after.</dd>" in page
    assert "What the loads do" not in kept(a_build({})).page("sheet/")
