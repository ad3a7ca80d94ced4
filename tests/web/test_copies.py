"""
Copies while the program runs, bringing one back, damage, a first start cut short, doors to other
users.
"""

import io
import json
import os
import signal
import sqlite3
import stat
import subprocess
import sys
import threading
import time
import zipfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from django.core.management import CommandError, call_command
from django.urls import reverse

from tests.web.test_earlier import ROOT, run
from workbench.keeping import copies

EDITS = """
import django, sys, time
django.setup()
from workbench.models import Build
from workbench.actions.editing import edit_build
from workbench.actions.creating import create_empty
build = create_empty("Bench 0")
print("ready", flush=True)
n = 0
while True:
    n += 1
    edit_build(Build.with_head().get(pk=build.pk), "rename_build", {"name": f"Bench {n}"}, n)
    if n % 5 == 0:
        create_empty(f"Other {n}")
"""
STATE = """
import django, json
django.setup()
from workbench.models import Build, Revision
builds = Build.with_head().order_by("id")
print(json.dumps([[b.name, b.version, b.revisions.count(), b.head.read().name] for b in builds]))
"""


@pytest.fixture
def data(tmp_path) -> Path:
    """A data directory with its database made."""
    assert run(tmp_path, "manage.py", "migrate", "-v0").returncode == 0
    return tmp_path


def state(data: Path) -> list:
    told = run(data, "-c", STATE)
    assert told.returncode == 0, told.stderr[-1500:]
    return json.loads(told.stdout.splitlines()[-1])


def test_a_copy_taken_under_edits_is_a_state_that_existed_and_comes_back(data, tmp_path_factory):
    env = {
        **os.environ,
        "ZINC_LATCH_DATA": str(data),
        "DJANGO_SETTINGS_MODULE": "workbench.settings",
        "ZINC_LATCH_COPIES": "no",
    }
    writer = subprocess.Popen(
        [sys.executable, "-c", EDITS], cwd=ROOT, env=env, stdout=subprocess.PIPE, text=True
    )
    try:
        assert writer.stdout.readline().strip() == "ready"
        time.sleep(0.6)
        target = tmp_path_factory.mktemp("elsewhere") / "copy.zip"
        told = run(data, "manage.py", "backup", str(target))
        assert told.returncode == 0, told.stderr
        time.sleep(0.5)
    finally:
        writer.kill()
        writer.wait()
    later = state(data)
    assert stat.S_IMODE(target.stat().st_mode) == 0o600
    told = run(data, "manage.py", "restore", str(target))
    assert told.returncode == 0 and "what was there is kept in" in told.stdout, told.stderr
    rows = state(data)
    # Every edit raises version, revisions and name together; a copy that fell between two writes
    # would tear them apart.
    name, version, revisions, inside = rows[0]
    assert (
        name == inside == f"Bench {version - 1}"
        and revisions == version
        and 0 < version - 1 < later[0][1]
    )
    assert (
        all(row[1] == row[2] == 1 for row in rows[1:])
        and 0 <= (version - 1) // 5 - (len(rows) - 1) <= 1
    )
    kept = next((data / "copies").glob("before-restore-*.zip"))
    assert run(data, "manage.py", "restore", str(kept)).returncode == 0 and state(data) == later


@pytest.mark.parametrize(
    "spoil, says",
    [
        (lambda p: p.write_bytes(b"nonsense"), "cannot be read as a copy"),
        (lambda p: p.write_bytes(p.read_bytes()[:-200]), "cannot be read as a copy"),
        (lambda p: _rezip(p, {"other.txt": b"x"}), "no copy of this program"),
        (lambda p: _swap(p), "digest differs"),
    ],
)
def test_a_copy_that_is_none_changes_nothing(kept_apart, spoil, says):
    target = kept_apart / "copy.zip"
    copies.write_copy(target)
    before = (kept_apart / "zinc-latch.sqlite3").read_bytes()
    spoil(target)
    with pytest.raises(CommandError, match=f"{says}.*Nothing was changed"):
        call_command("restore", str(target))
    assert (kept_apart / "zinc-latch.sqlite3").read_bytes() == before


def test_a_copy_of_a_newer_program_is_refused_by_its_version(kept_apart):
    with sqlite3.connect(kept_apart / "zinc-latch.sqlite3") as made:
        made.execute("INSERT INTO django_migrations VALUES ('workbench', '0999_later')")
    copies.write_copy(kept_apart / "copy.zip")
    with pytest.raises(copies.CopyError, match="newer program"):
        copies.restore(kept_apart / "copy.zip")


def _rezip(path: Path, files: dict[str, bytes]) -> None:
    with zipfile.ZipFile(path, "w") as archive:
        for name, content in files.items():
            archive.writestr(name, content)


def _swap(path: Path) -> None:
    """Another database under the same description."""
    with zipfile.ZipFile(path) as archive:
        about = archive.read("about.json")
    _rezip(
        path, {"about.json": about, "zinc-latch.sqlite3": b"SQLite format 3\x00" + b"\x00" * 4080}
    )


def test_a_damaged_database_is_said_at_the_start_and_on_every_page_and_a_copy_mends_it(data):
    run(data, "-c", EDITS.split("print")[0])
    before = state(data)
    assert run(data, "manage.py", "backup").returncode == 0
    file = data / "zinc-latch.sqlite3"
    content = bytearray(file.read_bytes())
    content[4096 : 4096 * 6] = os.urandom(4096 * 5)
    file.write_bytes(content)
    look = (
        "import django; django.setup()\nfrom django.core.management import call_command;"
        " call_command('collectstatic', interactive=False, verbosity=0)\nfrom workbench.keeping"
        " import starting\nfrom django.test import"
        " Client\nprint(starting.what_to_do(starting.look_at_database()))\nr ="
        " Client(headers={'host': '127.0.0.1'}).get('/')\nprint(r.status_code, 'restore' in"
        " r.content.decode())"
    )
    told = run(data, "-c", look)
    assert (
        "is damaged" in told.stdout
        and "manage.py restore" in told.stdout
        and "503 True" in told.stdout
    ), told.stderr[-800:]
    copy = next((data / "copies").glob("now-*.zip"))
    assert run(data, "manage.py", "restore", str(copy)).returncode == 0
    assert state(data) == before and list((data / "copies").glob("*.damaged"))


@pytest.mark.parametrize("after", [0.5, 1.1, 1.9])
def test_a_first_start_that_is_killed_goes_on_at_the_next(tmp_path, after):
    env = {**os.environ, "ZINC_LATCH_DATA": str(tmp_path), "PORT": "18046"}
    first = subprocess.Popen(
        [sys.executable, "manage.py", "demo"],
        cwd=ROOT,
        env=env,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    time.sleep(after)
    first.send_signal(signal.SIGKILL)
    first.wait()
    assert run(tmp_path, "manage.py", "migrate", "-v0").returncode == 0
    told = run(tmp_path, "manage.py", "load_demo")
    assert told.returncode == 0, told.stderr[-800:]
    assert sorted(row[0] for row in state(tmp_path)) == [
        "Boat shed tide board",
        "Fernhouse vents",
        "Fernhouse vents, first try",
        "Hollyhock Marionettes",
        "Landing chime",
        "Potting bench valve",
        "Seedling bench",
        "Stairwell chime",
    ]


def test_an_empty_key_of_a_start_cut_short_is_made_anew(tmp_path):
    (tmp_path / "secret-key").write_text("")
    assert (
        run(tmp_path, "manage.py", "check").returncode == 0
        and len((tmp_path / "secret-key").read_text()) > 40
    )


def test_the_data_is_its_owners_alone(tmp_path):
    (tmp_path / "open").mkdir(mode=0o755)
    data = tmp_path / "open"
    assert run(data, "manage.py", "migrate", "-v0").returncode == 0
    assert run(data, "manage.py", "backup").returncode == 0
    assert stat.S_IMODE(data.stat().st_mode) == 0o700
    loose = [p for p in data.rglob("*") if p.is_file() and stat.S_IMODE(p.stat().st_mode) & 0o077]
    assert loose == []


def test_a_data_directory_that_cannot_be_used_is_said_in_one_line(tmp_path):
    (tmp_path / "file").write_text("not a directory")
    told = run(tmp_path / "file" / "inside", "manage.py", "check")
    assert (
        told.returncode != 0 and "cannot be used" in told.stderr and "Traceback" not in told.stderr
    )


@pytest.mark.parametrize(
    "words, status, says",
    [
        ("database or disk is full", 507, "disk is full"),
        ("attempt to write a readonly database", 503, "cannot be written"),
        ("unable to open database file", 503, "cannot be opened"),
        ("database is locked", 503, "is busy"),
        ("database disk image is malformed", 503, "is damaged"),
        ("no such column: x", 500, "fault F-"),
    ],
)
def test_what_the_disk_does_is_said_as_such(client, theatre, monkeypatch, words, status, says):
    from django.db import OperationalError

    from workbench.views import pages

    client.raise_request_exception = False
    monkeypatch.setattr(
        pages, "edit_build", lambda *args: (_ for _ in ()).throw(OperationalError(words))
    )
    answer = client.post(
        reverse("lineup", args=[theatre.pk]),
        {"edit": "rename_build", "name": "x", "version": theatre.version},
    )
    assert answer.status_code == status and says in answer.content.decode()
    theatre.refresh_from_db()
    assert theatre.name == "Hollyhock Marionettes"


@pytest.fixture
def kept_apart(settings, tmp_path, monkeypatch):
    """Copies of the test's own database in a directory of its own."""
    settings.DATA_DIR = tmp_path
    source = tmp_path / "zinc-latch.sqlite3"
    with sqlite3.connect(source) as made:
        for table in ("build", "revision", "stockpart"):
            made.execute(f"CREATE TABLE workbench_{table} (id INTEGER)")
        made.execute("CREATE TABLE django_migrations (app TEXT, name TEXT)")
    monkeypatch.setattr(copies, "database_path", lambda: source)
    return tmp_path


def test_a_copy_a_day_and_the_newest_fourteen_stay(kept_apart):
    day = datetime(2026, 11, 1, 8, tzinfo=UTC)
    for n in range(17):
        assert copies.copy_of_the_day(day + timedelta(days=n)) is not None
        assert copies.copy_of_the_day(day + timedelta(days=n, hours=9)) is None, "one a day"
    names = sorted(p.name for p in (kept_apart / "copies").glob("day-*.zip"))
    assert (
        len(names) == 14 and names[0] == "day-2026-11-04.zip" and names[-1] == "day-2026-11-17.zip"
    )


def test_a_copy_is_made_by_one_press_listed_and_fetched(client, db, kept_apart):
    assert "No copy yet" in client.get(reverse("copies")).content.decode()
    assert client.post(reverse("copies")).status_code == 302
    page = client.get(reverse("copies")).content.decode()
    name = page.split('href="/copies/now-')[1].split('"')[0]
    fetched = client.get(f"/copies/now-{name}")
    archive = zipfile.ZipFile(io.BytesIO(b"".join(fetched.streaming_content)))
    assert set(archive.namelist()) == {"zinc-latch.sqlite3", "about.json"}
    for hostile in ("../secret-key", "secret-key", "now-x.zip", "day-2026-01-01.zip"):
        assert client.get(f"/copies/{hostile}").status_code == 404


def test_the_first_change_of_a_day_makes_the_copy_beside_the_answer(
    client, db, kept_apart, settings, monkeypatch
):
    from workbench.keeping import starting

    settings.COPY_OF_THE_DAY = True
    monkeypatch.setattr(starting, "_COPIED_ON", "")
    client.get(reverse("workbench"))
    assert not (kept_apart / "copies").exists() or not list((kept_apart / "copies").glob("day-*"))
    client.post(reverse("workbench"), {"do": "begin", "name": "First of the day"})
    for thread in threading.enumerate():
        if thread.name == "copy of the day":
            thread.join(10)
    assert len(list((kept_apart / "copies").glob("day-*.zip"))) == 1


def test_head_has_no_body_and_only_this_machine_is_a_host(client, db):
    answer = client.head(reverse("workbench"))
    assert (
        answer.status_code == 200 and answer.content == b"" and int(answer["Content-Length"]) > 500
    )
    from django.conf import settings as live

    assert set(live.ALLOWED_HOSTS) - {"testserver"} == {"127.0.0.1", "localhost"}
