"""The log: added to and put right, never overwritten; found again and taken out."""

from __future__ import annotations

import csv
import html
import io
import re
from datetime import UTC, datetime, timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from PIL import Image

from latchcore.figures.quantity import parse
from tests.web.build_client import BuildClient
from workbench.actions import binning
from workbench.actions.editing import edit_build
from workbench.models import LogEntry, OwnCheck, StockPart

pytestmark = pytest.mark.django_db


class Log(BuildClient):
    def __init__(self, client, name: str = "potting-bench-valve"):
        super().__init__(client, "log/", name)

    def add(self, kind: str, status: int = 302, **sent) -> str:
        return self.post(status, do="add", kind=kind, **sent)


@pytest.fixture
def log(client):
    return Log(client)


def test_an_entry_says_when_of_which_revision_and_channel(log):
    assert "Nothing is written yet" in log.get()
    text = log.add("rework", words="R1 is 390 Ω now", channel="ch2", at="2026-11-02T09:30")
    assert "2 Nov 2026 09:30" in text and "R1 is 390 Ω now" in text and "Mist relay" in text
    entry = LogEntry.objects.get()
    assert (entry.revision, entry.channel, entry.machine) == (log.build.head.number, "ch2", False)


@pytest.mark.parametrize(
    ("sent", "says"),
    [
        (dict(kind="note", words="  "), "Nothing was written"),
        (dict(kind="note", words="x" * 4001), "It has 4001 letters"),
        (dict(kind="note", words="it\x07rang"), "cannot be shown"),
        (dict(kind="poem", words="roses"), "is no kind of entry"),
        (dict(kind="note", words="ok", channel="ch99"), "no channel “ch99”"),
        (dict(kind="note", words="ok", at="yesterday"), "“yesterday” is no time"),
        (dict(kind="note", words="ok", at="2999-01-01"), "has not been yet"),
        (dict(kind="reading", typed=""), "expected a reading"),
        (dict(kind="contact", ohms="0.03 Ω"), "Which contact"),
        (dict(kind="contact", channel="ch2"), "Nothing was read"),
        (dict(kind="contact", channel="ch2", ohms="a few"), "“a few”"),
        (dict(kind="contact", channel="ch2", cycles="-3"), "is no number of cycles"),
    ],
)
def test_what_cannot_stand_there_is_told_and_kept_in_the_field(log, sent, says):
    text = log.post(422, do="add", **sent)
    assert says in text and not LogEntry.objects.exists()
    for value in (sent.get("words", "").strip(), sent.get("ohms"), sent.get("at")):
        assert not value or value in text


def test_it_is_put_right_by_another_and_never_overwritten(log):
    log.add("reading", typed="0.74", between="A2 and 0 V")
    first = LogEntry.objects.get()
    text = log.post(do="correct", entry=first.pk, words="it was 0.14, a wrong range")
    assert LogEntry.objects.get(pk=first.pk).words == first.words
    assert "Put right" in text and "puts right" in text and "0.74" in text
    assert "Nothing was written" in log.post(422, do="correct", entry=first.pk, words="")
    assert "not in the log" in log.post(422, do="correct", entry=10**9, words="x")


def test_an_entry_of_another_build_cannot_be_put_right_from_here(client, log):
    log.add("note", words="here")
    other = Log(client, "seedling-bench")
    said = other.post(422, do="correct", entry=LogEntry.objects.get().pk, words="there")
    assert "not in the log of this build" in said


def test_a_part_that_is_used_leaves_the_drawer_and_no_more_than_lies_there(log):
    StockPart.objects.create(key="spare-diode", family="diode", title="spare diode", quantity=2)
    text = log.add("part", part="spare-diode", many="2", words="D1 was the wrong way round")
    assert "2 × spare diode: D1 was the wrong way round; 0 left" in text
    part = StockPart.objects.get(key="spare-diode")
    assert (part.quantity, part.version) == (0, 2)
    assert "0 × spare diode lie in the drawer" in log.add("part", 422, part="spare-diode", many="1")
    assert "is no count" in log.add("part", 422, part="spare-diode", many="some")
    assert StockPart.objects.get(key="spare-diode").quantity == 0
    assert LogEntry.objects.count() == 1


def test_an_incident_becomes_a_check_of_this_build_or_of_any(client, log):
    log.add("incident", words="The fuse was bridged", why="no spare", replaced="a 1 A fuse",
            prevents="A fuse of the printed value is in its holder")  # fmt: skip
    entry = LogEntry.objects.get()
    text = log.get()
    for words in ("Why it happened", "no spare", "What replaced it", "What now prevents it"):
        assert words in text
    log.post(do="check", entry=entry.pk, check=entry.figures["prevents"], **{"for": "any"})
    for one in (log, Log(client, "landing-chime")):
        plan = html.unescape(
            one.client.get(f"/builds/{one.build.pk}/first-power/").content.decode()
        )
        assert "A fuse of the printed value is in its holder" in plan
    log.post(do="check", entry=entry.pk, check="Only here")
    there = Log(client, "boat-shed-tides")
    plan = there.client.get(f"/builds/{there.build.pk}/first-power/").content.decode()
    assert "Only here" not in plan
    key = OwnCheck.objects.get(words="Only here").pk
    assert "gone already" in there.post(422, do="drop", check=key)
    log.post(do="drop", check=key)
    assert OwnCheck.objects.count() == 1


def test_a_check_is_answered_in_the_first_stage_and_locks_what_follows(client, log):
    log.add("incident", words="It burned", prevents="The strain relief is tight")
    log.post(do="check", entry=LogEntry.objects.get().pk, check="The strain relief is tight")
    key = OwnCheck.objects.get().pk
    first = f"/builds/{log.build.pk}/first-power/"
    client.post(first, {"do": "read", "step": f"s0-own-{key}", "reading": "no"})
    text = html.unescape(client.get(first, {"step": "s1-rail1"}).content.decode())
    assert "Not yet: Stage 0" in text


def photo(size=(1600, 900)) -> SimpleUploadedFile:
    out = io.BytesIO()
    Image.new("RGB", size, "red").save(out, "JPEG", exif=b"Exif\x00\x00secret place")
    return SimpleUploadedFile("bench.jpg", out.getvalue(), "image/jpeg")


def test_a_photo_is_made_small_and_bare(client, log):
    log.client.post(log.address, {"do": "add", "kind": "note", "words": "as built",
                                  "photo": photo()})  # fmt: skip
    entry = LogEntry.objects.get()
    answer = client.get(f"/builds/{log.build.pk}/log/{entry.pk}/photo/")
    assert answer["Content-Type"] == "image/jpeg" and b"secret" not in answer.content
    assert max(Image.open(io.BytesIO(answer.content)).size) == 1200
    assert client.get(f"/builds/{log.build.pk + 1}/log/{entry.pk}/photo/").status_code == 404
    bad = SimpleUploadedFile("x.jpg", b"no photo", "image/jpeg")
    assert "is no photo" in log.post(422, do="add", kind="note", words="x", photo=bad)
    assert LogEntry.objects.count() == 1


def events(text: str) -> SimpleUploadedFile:
    return SimpleUploadedFile("machine.csv", text.encode(), "text/csv")


MACHINE = (
    "time,channel,event\n2026-11-01T06:00,Mist relay,on\n2026-11-01T08:00,ch2,off\n"
    "2026-11-01T09:00,mist relay,on\n2026-11-01T09:30,ch2,off\n2026-11-01T10:00,,started\n"
)


def test_events_of_a_machine_stay_apart_and_are_counted(log):
    log.add("note", words="mine")
    text = log.post(do="take_in", events=events(MACHINE))
    assert "2 cycles, 2.5 h" in text and "by the machine" in text
    assert LogEntry.objects.filter(machine=True).count() == 5
    assert "started" not in log.get(who="people") and "mine" not in log.get(who="machine")
    # Taken in again nothing is doubled, and what a machine wrote is not put right.
    log.post(do="take_in", events=events(MACHINE))
    assert LogEntry.objects.filter(machine=True).count() == 5
    one = LogEntry.objects.filter(machine=True).first()
    assert "kept as it came" in log.post(422, do="correct", entry=one.pk, words="no")


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("when,what\n", "Its first line is"),
        ("time,channel,event\n", "no events in it"),
        ("time,channel,event\nsoon,,on\n", "Line 2: “soon” is no time"),
        ("time,channel,event\n2026-11-01T06:00,Pump,on\n", "no channel “Pump”"),
        ("time,channel,event\n2026-11-01T06:00,,ok\n2026-11-01,ch2\n", "Line 3 has 2 columns"),
        ("time,channel,event\n2026-11-01T06:00,ch2," + "x" * 201, "is no event"),
    ],
)
def test_a_table_of_a_machine_is_taken_whole_or_not_at_all(log, text, says):
    assert says in log.post(422, do="take_in", events=events(text))
    assert not LogEntry.objects.exists()


def test_counters_and_a_resistance_that_rises_are_shown(log):
    for day, ohms in ((1, "30 mΩ"), (5, "55 mΩ")):
        log.add("contact", channel="ch2", hours=f"{day * 10}", cycles=f"{day * 100}", ohms=ohms,
                at=f"2026-11-0{day}T10:00")  # fmt: skip
    text = log.get()
    assert "Resistance of Mist relay: 30 mΩ to 55 mΩ" in text and "30 mΩ at first" in text
    assert '<td class="m">50</td>' in text and '<td class="m">500</td>' in text


def test_it_is_found_by_kind_channel_and_any_part_of_a_word(log):
    log.add("note", words="the Sprinkler hummed")
    log.add("rework", words="bent a leg", channel="ch2")
    assert "hummed" in log.get(q="prinkl") and "bent a leg" not in log.get(q="prinkl")
    assert "bent a leg" in log.get(kind="rework") and "hummed" not in log.get(kind="rework")
    assert "bent a leg" in log.get(channel="ch2") and "hummed" not in log.get(channel="ch2")
    assert "hummed" in log.get(q="hu")
    assert "No entry is found" in log.get(q='"; DROP TABLE')
    assert "No entry is found" in log.get(q="NEAR OR AND")


def test_it_is_paged_and_the_older_ones_follow(log):
    start = datetime(2026, 1, 1, tzinfo=UTC)
    LogEntry.objects.bulk_create(
        [LogEntry(build=log.build, revision=1, words=f"entry {n:03d}",
                  at=start + timedelta(hours=n)) for n in range(95)]
    )  # fmt: skip
    seen, text = [], log.get()
    while True:
        seen += re.findall(r"entry (\d{3})", text)
        older = re.search(r'href="\?([^"]+)">Older', text)
        if older is None:
            break
        text = html.unescape(log.client.get(f"{log.address}?{older[1]}").content.decode())
    assert [int(n) for n in seen] == list(range(94, -1, -1))
    assert log.client.get(log.address, {"before": "soon_x"}).status_code == 200


def test_it_is_taken_out_as_a_table_that_runs_nothing(log):
    log.add("note", words="=1+1")
    log.add("note", words="two\nlines, and a comma")
    answer = log.client.get(f"/builds/{log.build.pk}/log.csv")
    rows = list(csv.reader(io.StringIO(b"".join(answer.streaming_content).decode())))
    assert rows[0][:4] == ["at", "revision", "from", "kind"]
    assert {row[-1] for row in rows[1:]} == {"'=1+1", "two\nlines, and a comma"}
    only = log.client.get(f"/builds/{log.build.pk}/log.csv", {"q": "comma"})
    assert len(b"".join(only.streaming_content).decode().splitlines()) == 3
    assert log.client.get("/builds/999/log.csv").status_code == 404


def test_a_build_that_is_erased_takes_its_log_and_its_words_with_it(log):
    log.add("incident", words="a very particular gurgle")
    log.post(do="check", entry=LogEntry.objects.get().pk, check="No gurgle", **{"for": "any"})
    log.post(do="correct", entry=LogEntry.objects.get().pk, words="a gurgle and a pop")
    binning.bin_build(log.build)
    assert binning.empty_bin() == 1
    assert not LogEntry.objects.exists()
    # What it taught stays.
    assert OwnCheck.objects.get().words == "No gurgle"
    with connection.cursor() as cursor:
        cursor.execute("SELECT count(*) FROM log_words WHERE log_words MATCH 'gurgle'")
        assert cursor.fetchone() == (0,)


def test_a_figure_that_was_measured_is_used_from_then_on_and_says_so(client, log):
    text = log.post(do="calibrate", what="rail1:voltage", value="12.1 V ±1 %",
                    instrument="hand meter", conditions="21 °C, nothing on it")  # fmt: skip
    assert "12.1 V ±1 %, measured" in text and "hand meter, 21 °C" in text
    build = log.fresh
    assert build.document.rail("rail1").voltage == "12.1 V ±1 %"
    rails = html.unescape(client.get(f"/builds/{build.pk}/rails/").content.decode())
    assert "its volts 12.1 V ±1 %, measured" in rails and "another figure" not in rails
    # Once somebody types another figure, that it is no longer the measured one is said.
    edit_build(build, "set_rail", {"rail": "rail1", "voltage": "12 V"}, build.version)
    assert "the design holds another figure by now" in log.get()


def test_a_coil_that_was_measured_stands_on_its_channel(client, log):
    log.post(do="calibrate", what="ch2:inductance", value="310 mH", instrument="bridge at 1 kHz")
    page = html.unescape(client.get(f"/builds/{log.build.pk}/channels/ch2/").content.decode())
    assert "inductance 310 mH, measured" in page and "bridge at 1 kHz" in page
    assert log.fresh.document.channel("ch2").load.inductance == "310 mH"


@pytest.mark.parametrize(
    ("sent", "says"),
    [
        (dict(what=""), "Choose what was measured"),
        (dict(what="rail9:voltage", value="5 V", instrument="x"), "Choose what was measured"),
        (dict(what="rail1:voltage", value=""), "Nothing was measured"),
        (dict(what="rail1:voltage", value="12 V"), "With what was it measured?"),
        (dict(what="rail1:voltage", value="some", instrument="meter"), "“some”"),
    ],
)
def test_a_calibration_that_is_none_changes_nothing(log, sent, says):
    before = log.build.head.number
    assert says in log.post(422, do="calibrate", **sent)
    assert not LogEntry.objects.exists()
    assert log.fresh.head.number == before


def test_timed_moves_become_a_speed_a_lag_and_how_far_they_are_off(log):
    text = log.post(do="moves", channel="ch2", moves="0.5 8, 1 18, 2 38.5", unit="mm")
    assert "20.4 mm a second after" in text and "3 runs" in text
    assert "are no moves" in log.post(422, do="moves", channel="ch2", moves="1 2 3")
    assert "2 moves; expected 3" in log.post(422, do="moves", channel="ch2", moves="1 2, 2 4")
    assert "no farther" in log.post(422, do="moves", channel="ch2", moves="1 9, 2 5, 3 1")
    assert "Which load" in log.post(422, do="moves", moves="1 2, 2 4, 3 6")


def test_the_whole_way_becomes_the_longest_it_is_on_until_somebody_says_otherwise(log):
    moves = {"do": "moves", "channel": "ch2", "moves": "0.5 8, 1 18, 2 38", "unit": "mm"}
    text = log.post(**moves, far="100")
    # 0.1 s of lag and 100 mm at 20 mm a second; nothing lay off.
    assert log.fresh.document.channel("ch2").longest_on == "5.1 s"
    assert "100 mm take 5.1 s at most" in text
    page = log.client.get(f"/builds/{log.build.pk}/channels/ch2/").content.decode()
    assert "Mist relay: longest on, by the whole way" in page and "measured" in page
    assert "is no way" in log.post(422, **moves, far="all of it")
    assert "is no way" in log.post(422, **moves, far="-3")
    assert log.fresh.document.channel("ch2").longest_on == "5.1 s"


def test_the_whole_way_of_a_confirmed_load_is_when_its_input_has_to_say_so(client):
    log = BuildClient(client, "log/", "seedling-bench")
    log.post(do="moves", channel="ch5", moves="1 10, 2 20, 3 30.5", unit="cm", far="40")
    manner = log.fresh.document.does.manner("ch5")
    # 10.25 cm a second after 0.0325 s of lag; the worst lay a sixth of a centimetre off.
    assert parse(manner.within, "s") == pytest.approx(0.0325 + (40 + 1 / 6) / 10.25, abs=0.011)
    assert log.fresh.document.channel("ch5").longest_on == "30 s"
