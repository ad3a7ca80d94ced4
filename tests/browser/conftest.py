"""Debian's Chromium on a server of this process's own."""

import os
import shutil
from pathlib import Path

import pytest
from playwright.sync_api import expect

from workbench.actions.creating import create_from_file

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
#: A busy machine is slow, not wrong.
PATIENCE = 20_000
expect.set_options(timeout=PATIENCE)
DEMO = Path(__file__).parent.parent.parent / "demo"


@pytest.fixture(scope="session")
def browser_type_launch_args():
    return {
        "executable_path": shutil.which("chromium"),
        "args": [
            "--no-sandbox",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--no-first-run",
        ],
    }


@pytest.fixture(scope="session")
def browser_context_args():
    return {"viewport": {"width": 1280, "height": 800}}


@pytest.fixture(autouse=True)
def plain_static(settings):
    settings.STORAGES = settings.STORAGES | {
        "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
    }


@pytest.fixture
def page(page):
    page.set_default_timeout(PATIENCE)
    page.wrong = []
    page.on("pageerror", lambda error: page.wrong.append(str(error)))
    page.on(
        "console",
        lambda m: (
            page.wrong.append(m.text)
            if m.type == "error" and "Failed to load resource" not in m.text
            else None
        ),
    )
    yield page
    assert page.wrong == []


@pytest.fixture
def fernhouse(live_server):
    """A build on relay modules and a bare relay."""
    build = create_from_file((DEMO / "fernhouse-vents.json").read_bytes())
    return f"{live_server.url}/builds/{build.pk}/"


@pytest.fixture
def seedling(live_server):
    """A small build on the line: every page of it is soon walked."""
    build = create_from_file((DEMO / "seedling-bench.json").read_bytes())
    return f"{live_server.url}/builds/{build.pk}/"


@pytest.fixture
def theatre(live_server):
    """The demo build's address."""
    build = create_from_file((DEMO / "hollyhock-marionettes.json").read_bytes())
    return f"{live_server.url}/builds/{build.pk}/"
