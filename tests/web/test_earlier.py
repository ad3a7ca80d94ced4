"""
Data of every earlier release opens, and opens as what it was; data of a newer one is refused by its
version.
"""

import gzip
import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parent
ROOT = HERE.parent.parent
RELEASES = sorted((HERE / "data" / "earlier").glob("*.sqlite3.gz"))
#: What each release left in its workbench, with the channels of every build, and how many parts in
#: its drawer.
LEFT = {
    "0.1.0": ({"Hollyhock Marionettes": 6, "Potting bench valve": 2}, 0),
    "0.2.0": ({"Hollyhock Marionettes": 6, "Potting bench valve": 2}, 9),
}
LOOK = """
import django, json
django.setup()
from django.conf import settings
settings.ALLOWED_HOSTS.append("testserver")
from django.core.management import call_command
from django.test import Client
call_command("migrate", verbosity=0)
call_command("collectstatic", interactive=False, verbosity=0)
from workbench.models import Build, StockPart
client, found = Client(), {}
for build in Build.with_head():
    at = f"/builds/{build.pk}/"
    pages = ("", "sizes/", "rails/", "wiring/", "keeping/", "sheet/")
    codes = {client.get(at + page).status_code for page in pages}
    unworked = [f.sentence for f in build.report.all_findings if f.check == "E1"]
    doc = build.document
    found[build.name] = (len(doc.channels), sorted(codes), unworked, doc.schema_version)
pages = [client.get("/").status_code, client.get("/drawer/").status_code]
print(json.dumps([found, StockPart.objects.count(), pages]))
"""


def run(data: Path, *words: str, **more) -> subprocess.CompletedProcess:
    """A python of its own on a data directory of its own, as somebody's machine would."""
    env = {
        **os.environ,
        "ZINC_LATCH_DATA": str(data),
        "DJANGO_SETTINGS_MODULE": "workbench.settings",
        "ZINC_LATCH_COPIES": "no",
    }
    return subprocess.run(
        [sys.executable, *words],
        cwd=ROOT,
        env=env,
        capture_output=True,
        text=True,
        timeout=120,
        **more,
    )


@pytest.mark.parametrize("path", RELEASES, ids=lambda p: p.name.removesuffix(".sqlite3.gz"))
def test_a_workbench_of_an_earlier_release_opens_with_all_it_held(path, tmp_path):
    (tmp_path / "zinc-latch.sqlite3").write_bytes(gzip.decompress(path.read_bytes()))
    told = run(tmp_path, "-c", LOOK)
    assert told.returncode == 0, told.stderr[-2000:]
    builds, parts, pages = json.loads(told.stdout.splitlines()[-1])
    assert pages == [200, 200]
    assert builds and all(
        codes == [200] and unworked == [] and version == 6
        for _, codes, unworked, version in builds.values()
    ), builds
    if (release := path.name.removesuffix(".sqlite3.gz")) in LEFT:
        channels, many = LEFT[release]
        assert ({name: row[0] for name, row in builds.items()}, parts) == (channels, many)


def test_a_database_of_a_newer_program_is_refused_by_its_version(tmp_path):
    assert run(tmp_path, "manage.py", "migrate", "-v0").returncode == 0
    mark = (
        'import sqlite3,sys; c=sqlite3.connect(sys.argv[1]); c.execute("INSERT INTO'
        " django_migrations (app,name,applied) VALUES ('workbench','0999_later','2030-01-01')\");"
        " c.commit()"
    )
    run(tmp_path, "-c", mark, str(tmp_path / "zinc-latch.sqlite3"))
    told = run(tmp_path, "manage.py", "demo")
    assert told.returncode != 0 and "newer program (0999_later)" in told.stderr
