"""A workbench with the demo on it."""

from pathlib import Path

import pytest

from workbench.actions.creating import create_from_file
from workbench.models import Build

DEMO = Path(__file__).parent.parent.parent / "demo"


@pytest.fixture(autouse=True)
def plain_static(settings):
    settings.STORAGES = settings.STORAGES | {
        "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
    }


@pytest.fixture
def theatre(db) -> Build:
    return create_from_file((DEMO / "hollyhock-marionettes.json").read_bytes())


@pytest.fixture
def post(client, theatre):
    """Send a named edit as the page does."""

    def send(page="", htmx=True, version=None, **fields):
        theatre.refresh_from_db()
        data = {"version": theatre.version if version is None else version, **fields}
        headers = {"HX-Request": "true"} if htmx else {}
        answer = client.post(f"/builds/{theatre.pk}/{page}", data, headers=headers)
        fresh = Build.objects.select_related("head").get(pk=theatre.pk)
        return answer, fresh

    return send
