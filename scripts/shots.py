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
#: What was read of a relay that does not come on.
DEAD = urlencode({"symptom": "dead", "on-2": "12.1", "on-3": "0.0"})
VIEWS = [
    ("workbench", None, None),
    ("line-up", "", None),
    ("channel", "channels/ch5/", "Base current"),
    ("advisor", "channels/ch7/advisor/", None),
    ("behaviour", "behaviour/", None),
    ("rehearsal", f"behaviour/rehearsal/?{STORM}", None),
    ("explorer", "first:behaviour/explorer/?walk=1", None),
    ("drawer", "/drawer/", None),
    ("program", "vents:program/", None),
    ("first-power", "valve:first-power/", None),
    ("bench", "valve:bench/", None),
    ("fault", f"valve:channels/ch2/fault/?{DEAD}", None),
    (
        "waveforms",
        "channels/ch4/waves/?clamp=none&clamp=diode&clamp=diode_zener&one=2+ms",
        ".paper",
    ),
    ("log", "valve:log/", ".log-find"),
    ("pins", "pins/", None),
    ("reset-timeline", "states/", None),
    ("barriers", "barriers/", None),
    ("wiring", "wiring/", None),
    ("sheet", "seedling:sheet/", None),
]


#: Views that are shown on a phone, and what is pressed before a picture is taken.
PHONE, WIDE = {"width": 390, "height": 844}, {"width": 1280, "height": 800}
ON_A_PHONE = frozenset({"first-power"})
PRESSED = {
    "bench": ("button[value='ch2 on']", "#tip-red=A2", "form.meter button.act"),
    "first-power": ("button[value=simulated]", *["button[value=simulate]"] * 19),
}


def pressed(page, name: str) -> None:
    """Press and choose what a view wants first."""
    for what in PRESSED.get(name, ()):
        selector, equals, option = what.partition("=")
        if selector.startswith("#") and equals:
            page.select_option(selector, option)
        elif page.locator(what).count():
            page.locator(what).first.click()
            page.wait_for_timeout(350)


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
            page = browser.new_page(viewport=WIDE)
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
                page.set_viewport_size(PHONE if name in ON_A_PHONE else WIDE)
                pressed(page, name)
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
