"""What leaves the screen: programs, lists, drawings, sheets; a capture that comes in."""

from __future__ import annotations

import html
import io
import json
import zipfile
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from console.main import main
from latchcore.formats.buildfile import read_build, write_build
from latchcore.formats.reportfile import report_data
from latchcore.whole.laying.conductors import conductors
from tests.program.test_line_and_walk import shed
from workbench.actions.creating import create_from_file
from workbench.models import Build, TakenProgram

pytestmark = pytest.mark.django_db
DEMO = Path(__file__).parents[2] / "demo"


@pytest.fixture
def kept():
    return create_from_file(write_build(shed()).encode())


@pytest.fixture
def shown(client, kept):
    def get(address: str, **asked) -> str:
        answer = client.get(f"/builds/{kept.pk}/{address}", asked)
        assert answer.status_code == 200, answer.status_code
        return html.unescape(answer.content.decode())

    return get


def edited(client, build: Build, edit: str, **args) -> None:
    build = Build.objects.get(pk=build.pk)
    data = {"edit": edit, "version": build.version, **args}
    assert client.post(f"/builds/{build.pk}/pins/", data).status_code in (200, 302)


def test_the_program_shows_its_own_part_and_both_languages(shown):
    text = shown("program/", language="micropython")
    assert "ch2 = Channel" in text and "What runs on the board" not in text
    # An 8-bit board has no room for that language: its own comes first, and the other is refused.
    assert "it has not the memory for MicroPython" in text
    for asked in ({}, {"language": "cpp"}, {"language": "cobol"}):
        own = shown("program/", **asked)
        assert "static Channel ch2" in own and "has not the memory" not in own


def test_a_program_taken_out_is_remembered_and_goes_stale_with_the_design(client, kept, shown):
    took = client.post(f"/builds/{kept.pk}/program/", {"take": "micropython"})
    assert took["Content-Disposition"] == 'attachment; filename="shed.py"'
    content = TakenProgram.objects.get().content
    assert f"content {content}" in took.content.decode()
    assert "Stale" not in shown("program/") and "current: MicroPython of" in shown("program/")
    assert "That is the design as it stands" in shown("program/", stamp=f"content {content}")
    edited(client, kept, "set_pin", channel="ch3", pin="L10")
    text = shown("program/")
    assert "Stale:" in text and "stale: MicroPython of" in text.replace("<b>stale</b>", "stale")
    assert "is stale: the design has moved on" in shown("behaviour/")
    assert "Stale: that is revision" in shown("program/", stamp=f"x; content {content}")
    assert "is no program taken out" in shown("program/", stamp="nonsense")
    # What does not change the program leaves it current.
    client.post(f"/builds/{kept.pk}/program/", {"take": "cpp"})
    edited(client, kept, "set_conditions", ambient="35 °C")
    assert "Stale" not in shown("program/")


def test_cplusplus_comes_with_its_calls_to_the_board(client, kept):
    took = client.post(f"/builds/{kept.pk}/program/", {"take": "cpp"})
    with zipfile.ZipFile(io.BytesIO(took.content)) as file:
        assert sorted(file.namelist()) == ["board_calls.h", "shed.h"]


def test_a_behaviour_that_cannot_be_done_has_no_program_and_says_why(client):
    build = shed()
    looped = build.does.model_copy(update={"requests": [
        build.does.requests[0].model_copy(update={"channel": "ch99"})]})  # fmt: skip
    broken = create_from_file(write_build(build.model_copy(update={"behaviour": looped})).encode())
    text = html.unescape(client.get(f"/builds/{broken.pk}/program/").content.decode())
    assert "There is no program yet" in text
    assert client.post(f"/builds/{broken.pk}/program/", {"take": "cpp"}).status_code == 200
    assert not TakenProgram.objects.exists()
    # One that was taken out before it broke is stale, and its page still opens.
    TakenProgram.objects.create(build=broken, revision=1, language="cpp", content="00000000")
    behaviour = client.get(f"/builds/{broken.pk}/behaviour/")
    assert behaviour.status_code == 200 and "is stale" in behaviour.content.decode()


@pytest.mark.parametrize("name", ["wires", "parts", "readings", "substitutes", "pins", "settings"])
def test_every_list_is_a_table(client, kept, name):
    answer = client.get(f"/builds/{kept.pk}/tables/{name}.csv")
    lines = answer.content.decode().split("\r\n")
    assert answer["Content-Type"].startswith("text/csv") and len(lines) > 2 and lines[-1] == ""
    # Each says of which revision it is, those of the program of which content too.
    assert f'filename="shed-{name}-revision-1' in answer["Content-Disposition"]


def test_drawings_are_files_that_stand_alone(client, kept):
    for name in ("ch2", "plan", "points"):
        text = client.get(f"/builds/{kept.pk}/drawings/{name}.svg").content.decode()
        assert text.startswith("<?xml") and "<style>" in text and "var(--" not in text
        assert 'width="' in text.partition(">")[2].partition(">")[0]
    assert client.get(f"/builds/{kept.pk}/drawings/ch99.svg").status_code == 404


def test_the_sheet_is_one_file_on_either_paper(client, kept):
    for paper, size in (("a4", "size:A4"), ("letter", "size:letter")):
        text = client.get(f"/builds/{kept.pk}/sheet.html", {"paper": paper}).content.decode()
        assert size in text and "http" not in text.replace("http://www.w3.org", "")
        for word in (
            "Pin table",
            "Expected readings",
            "May be fitted instead",
            "What the loads do",
        ):
            assert word in text
    assert client.get(f"/builds/{kept.pk}/sheet.html", {"paper": "a0"}).status_code == 404


def test_everything_comes_out_at_once_and_each_build_comes_in_again(client, kept):
    answer = client.get("/copies/everything.zip")
    with zipfile.ZipFile(io.BytesIO(answer.content)) as file:
        names = file.namelist()
        assert "drawer.csv" in names
        [build] = [n for n in names if n.startswith("builds/")]
        assert read_build(file.read(build)).channels == kept.document.channels


@pytest.mark.parametrize("path", sorted(DEMO.glob("*.json")), ids=lambda p: p.stem)
def test_the_command_and_the_web_give_the_same_report(path, capsys):
    main(["check", str(path), "--json"])
    said = json.loads(capsys.readouterr().out)
    build = create_from_file(path.read_bytes())
    build = Build.with_head().get(pk=build.pk)
    told = report_data(build.report, conductors(build.around, build.report))
    told = json.loads(json.dumps(told))
    # A catalogue with a drawer laid over it has a name of its own.
    assert said | {"catalogue": ""} == told | {"catalogue": ""}


SCRIPT = "0.5 Blow on\n1.5 Blow off"


def test_the_plan_goes_out_and_a_capture_that_is_it_differs_in_nothing(client, kept, shown):
    where = f"/builds/{kept.pk}/behaviour/traces/"
    asked = {"script": SCRIPT, "seconds": "3 s"}
    for kind in ("csv", "vcd"):
        plan = client.get(where, {**asked, "file": f"rehearsal.{kind}"}).content
        sent = SimpleUploadedFile(f"seen.{kind}", plan)
        answer = client.post(where, {**asked, "begins": "0", "capture": sent})
        assert answer.status_code == 200
        assert "Nothing differs by more than two steps on 4 lines" in answer.content.decode()
    start = client.get(where, {"file": "start.csv"}).content.decode()
    assert start.startswith("t,L5,L6,L7,L8\r\n0,,,,\r\n")


def test_what_differs_is_named_and_what_was_typed_is_kept(client, kept):
    where = f"/builds/{kept.pk}/behaviour/traces/"
    late = SimpleUploadedFile("seen.csv", b"t,Fan\n9,0\n10.5,1\n12.0,0\n13,0\n")
    asked = {"script": SCRIPT, "seconds": "3 s", "begins": "10", "capture": late}
    text = html.unescape(client.post(where, asked).content.decode())
    assert "Late off" in text and "500 ms after 1.5 s" in text and 'value="10"' in text
    assert SCRIPT in text


@pytest.mark.parametrize(
    ("name", "content", "begins", "says"),
    [
        ("x.csv", b"volts,Fan\n0,1\n", "0", "expected “t”, the time in seconds"),
        ("x.csv", b"t,Attic\n0,1\n", "0", "No line of this build is in it"),
        ("x.csv", b"t,Fan\n0,1\n", "soon", "“soon” is no time"),
        ("x.vcd", b"nonsense", "0", "The file is no value change dump"),
    ],
)
def test_a_capture_that_is_none_is_refused_in_words(client, kept, name, content, begins, says):
    where = f"/builds/{kept.pk}/behaviour/traces/"
    asked = {"script": "", "begins": begins, "capture": SimpleUploadedFile(name, content)}
    answer = client.post(where, asked)
    assert answer.status_code == 422 and says in html.unescape(answer.content.decode())
