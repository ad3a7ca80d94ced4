"""Takes one current picture of each main view from the demo data, into docs/screenshots."""

from __future__ import annotations

import os
import re
import shutil
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path
from urllib.parse import urlencode

from playwright.sync_api import sync_playwright

ROOT = Path(__file__).resolve().parent.parent
SHOTS = ROOT / "docs" / "screenshots"
#: File name, address within the demo build (None: the workbench; "vents:" within the build on relay
#: modules), what to
#: open first, or which part of the page to bring to the top.
#: Builds beside the theatre whose pages are shown.
OTHERS = {
    "vents": "Fernhouse vents",
    "first": "Fernhouse vents, first try",
    "landing": "Landing chime",
    "seedling": "Seedling bench",
    "valve": "Potting bench valve",
}
#: The storm of the theatre, and what is read while it passes.
STORM = urlencode(
    {
        "script": "0 House dimmer 60\n0.5 Prompt button on\n0.7 Prompt button off\n"
        "6 Curtain ends, second end on\n9 House dimmer 5\n16 House dimmer 60\n"
        "19 Curtain ends, second end off\n22 Curtain ends, first end on",
        "seconds": "40 s",
        "at": "12",
    }
)
VIEWS = [
    ("workbench", None, None),
    ("line-up", "", None),
    ("channel", "channels/ch5/", "Base current"),
    ("bridge", "channels/ch10/", ".bridge-states"),
    ("advisor", "channels/ch7/advisor/", None),
    ("behaviour", "behaviour/", None),
    ("rehearsal", f"behaviour/rehearsal/?{STORM}", None),
    ("explorer", "first:behaviour/explorer/?walk=1", None),
    ("drawer", "/drawer/", None),
    ("chain", "landing:chains/", None),
    ("program", "vents:program/", None),
    ("first-power", "valve:first-power/?step=s5-A2-on&reading=11.9", None),
    ("pins", "pins/", None),
    ("reset-timeline", "states/", None),
    ("barriers", "barriers/", None),
    ("wiring", "wiring/", None),
    ("sheet", "seedling:sheet/", None),
    ("module", "vents:channels/ch3/", None),
    ("contact", "vents:channels/ch4/", ".contact-view"),
]


def main() -> None:
    """Serve the demo on a free port, picture each view, stop the server."""
    SHOTS.mkdir(parents=True, exist_ok=True)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    server = subprocess.Popen(
        [sys.executable, "manage.py", "demo"],
        cwd=ROOT,
        env={**os.environ, "PORT": str(port)},
        stdout=subprocess.DEVNULL,
    )
    base = f"http://127.0.0.1:{port}"
    try:
        for _ in range(200):
            try:
                urllib.request.urlopen(base, timeout=2).read()
                break
            except OSError:
                time.sleep(0.1)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(
                executable_path=shutil.which("chromium"),
                args=["--no-sandbox", "--disable-background-networking"],
            )
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(base)
            build = page.get_by_role("link", name="Hollyhock Marionettes").first.get_attribute(
                "href"
            )
            others = {
                short: page.get_by_role("link", name=re.compile(rf"^{name} \d")).get_attribute(
                    "href"
                )
                for short, name in OTHERS.items()
            }
            for name, where, opened in VIEWS:
                short, colon, rest = (where or "").partition(":")
                if colon:
                    where = others[short] + rest
                page.goto(
                    base
                    + ("/" if where is None else where if where.startswith("/") else build + where)
                )
                if opened and opened.startswith("."):
                    # By the wheel: a picture taken right after a jump by script may be half
                    # painted.
                    page.mouse.move(560, 400)
                    page.mouse.wheel(0, page.locator(opened).first.bounding_box()["y"] - 16)
                    page.wait_for_timeout(400)
                elif opened:
                    page.get_by_text(opened, exact=True).first.click()
                page.evaluate("document.fonts.ready")
                page.screenshot(path=SHOTS / f"{name}.png")
            browser.close()
    finally:
        server.terminate()
        server.wait(10)


if __name__ == "__main__":
    main()
