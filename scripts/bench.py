"""
Prints the budget table: every figure beside its target and its yardstick, measured in this one run.
"""

from __future__ import annotations

import os
import re
import statistics
import subprocess
import sys
import time
import zlib
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "workbench.settings")

import django  # noqa: E402
from scipy.integrate import solve_ivp  # noqa: E402

django.setup()

from django.conf import settings  # noqa: E402
from django.core.management import call_command  # noqa: E402
from django.db import connection  # noqa: E402
from django.test import Client  # noqa: E402
from django.test.utils import CaptureQueriesContext  # noqa: E402

from latchcore.advice.spreading import spread_out  # noqa: E402
from latchcore.catalogue import load_catalogue  # noqa: E402
from latchcore.design.context import BuildContext  # noqa: E402
from latchcore.document.models import Build as Document  # noqa: E402
from latchcore.edits import apply  # noqa: E402
from latchcore.evaluate import evaluate_afresh  # noqa: E402
from latchcore.formats.partsfile import read_parts  # noqa: E402
from latchcore.stages import STAGES  # noqa: E402
from latchcore.sums.coils import release_time  # noqa: E402
from latchcore.whole.laying.conductors import conductors  # noqa: E402
from latchcore.whole.wire_list import wire_list  # noqa: E402
from scripts.bench_at_hand import at_hand, long_log  # noqa: E402
from scripts.bench_behaviour import behaviour  # noqa: E402
from scripts.bench_life import commits, findings, long_life  # noqa: E402
from scripts.bench_motion import motion  # noqa: E402
from scripts.bench_outward import outward  # noqa: E402
from workbench.actions.creating import begin, create_from_file  # noqa: E402
from workbench.models import Build, StockPart  # noqa: E402

#: Widths of the columns of the table; each line is printed as it is measured.
WIDTHS = (52, 10, 10, 62, 6)


def row(
    what: str, got: float, unit: str, target: float | None, yardstick: str, sense: str = "max"
) -> None:
    """One line of the table."""
    kept = target is None or (got <= target if sense == "max" else got >= target)
    limit = "" if target is None else f"{'≤' if sense == 'max' else '≥'} {target:g} {unit}"
    verdict = "" if target is None else "kept" if kept else "MISSED"
    cells = (what, f"{got:.3g} {unit}", limit, yardstick, verdict)
    line = "  ".join(cell.ljust(width) for cell, width in zip(cells, WIDTHS, strict=True))
    print(line.rstrip(), flush=True)


def median(call, times: int = 9) -> float:
    """Median of some runs [ms], one run before to warm up."""
    call()
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        call()
        taken.append((time.perf_counter() - start) * 1e3)
    return statistics.median(taken)


def many(count: int) -> Document:
    """A build of many channels of both stages, the pins used over again."""
    build = Document(name=f"{count} channels")
    steps = [
        ("set_board", {"board": "board-radio-3v3"}),
        ("add_rail", {"voltage": "12 V", "rating": "30 A"}),
    ]
    for index in range(count):
        stage = "nmos_low_side" if index % 2 else "npn_low_side"
        steps.append(
            (
                "add_channel",
                {
                    "kind": "relay_coil",
                    "voltage": "12 V",
                    "figure": f"{380 + index} Ω",
                    "pin": "",
                    "stage": stage,
                },
            )
        )
    for name, args in steps:
        build, _ = apply(build, name, args)
    return build


def wires() -> None:
    """The wire list of a large build, from its report to the rows that are printed."""
    document, catalogue = many(64), load_catalogue()
    report = evaluate_afresh(document, catalogue)
    count = 0

    def listed():
        nonlocal count
        around = BuildContext(document, catalogue)
        laid = conductors(around, report)
        count = sum(len(group.rows) for group in wire_list(around, report, laid))

    taken = median(listed)
    row("wire list of 64 channels", taken, "ms", 120, f"{count} rows, {taken / count:.2f} ms a row")


def core() -> None:
    """Evaluation, Monte Carlo and the coil transient."""
    catalogue = load_catalogue()
    small_build, large_build = many(16), many(64)
    small = median(lambda: evaluate_afresh(small_build, catalogue))
    large = median(lambda: evaluate_afresh(large_build, catalogue))
    row("evaluate 16 channels, cold", small, "ms", 30, f"{small / 16:.2f} ms a channel")
    row(
        "evaluate 64 channels, cold",
        large,
        "ms",
        120,
        f"{large / small:.2f} × the time for 4 × the channels",
    )

    draws, one = 100_000, many(1)
    context = BuildContext(one, catalogue).channel(one.channels[0])
    result = STAGES[one.channels[0].stage.kind].size(context)
    measure = result.measure("base_current")
    together = median(lambda: spread_out(context, result, measure, draws), 5)
    single = (
        median(lambda: [STAGES[one.channels[0].stage.kind].size(context) for _ in range(20)], 3)
        / 20
        * draws
    )
    row(
        "Monte Carlo, one channel, 100 000 draws",
        together / 1e3,
        "s",
        0.25,
        f"a loop of single evaluations: {single / 1e3:.0f} s",
    )
    row(
        "Monte Carlo against the loop",
        single / together,
        "×",
        100,
        "same functions, same draws",
        "min",
    )

    current, inductance, resistance, clamp, low = 0.1714, 0.25, 70.0, 0.8, 0.0107
    closed = release_time(current, inductance, resistance, clamp, low)

    def integrate():
        reached = lambda t, i: i[0] - low  # noqa: E731
        reached.terminal = True
        return solve_ivp(
            lambda t, i: [-(resistance * i[0] + clamp) / inductance],
            (0, 1),
            [current],
            events=reached,
            rtol=1e-9,
            atol=1e-12,
        ).t_events[0][0]

    row(
        "coil release against the integrator, apart by",
        abs(closed / integrate() - 1),
        "",
        1e-4,
        "closed form against stepping",
    )
    ratio = median(integrate, 5) / median(
        lambda: release_time(current, inductance, resistance, clamp, low)
    )
    row(
        "coil release, closed form faster by",
        ratio,
        "×",
        100,
        "scipy's adaptive integrator at 1e-9",
        "min",
    )


def web() -> None:
    """Pages, edits, queries and weight, through the whole request path."""
    settings.ALLOWED_HOSTS.append("testserver")
    call_command("migrate", verbosity=0)
    call_command("collectstatic", interactive=False, verbosity=0)
    build = create_from_file((ROOT / "demo" / "hollyhock-marionettes.json").read_bytes())
    client, at = Client(), f"/builds/{build.pk}/"
    empty = begin(Document(name="Empty"), "begun")
    bare = median(lambda: client.get(f"/builds/{empty.pk}/"), 25)
    views = [
        "",
        "loads/",
        "at-hand/",
        "stages/",
        "sizes/",
        "rails/",
        "pins/",
        "states/",
        "behaviour/",
        "behaviour/rehearsal/",
        "inputs/",
        "variants/?board=board-8bit-5v-20",
        "barriers/",
        "wiring/",
        "keeping/",
        "sheet/",
        "channels/ch5/",
        "channels/ch5/advisor/",
        "channels/ch5/spread/",
    ]
    taken = {view: median(lambda v=view: client.get(at + v)) for view in views}
    slowest = max(taken, key=taken.get)
    row(
        "slowest main view of the demo build",
        taken[slowest],
        "ms",
        100,
        f"{slowest or 'line-up'}; a page with nothing in it: {bare:.1f} ms",
    )

    flip = iter(range(10_000))

    def edit():
        version = Build.objects.values_list("version", flat=True).get(pk=build.pk)
        data = {
            "edit": "set_setting",
            "channel": "ch5",
            "base_resistor": f"{400 + next(flip)}",
            "version": version,
        }
        assert (
            client.post(at + "channels/ch5/", data, headers={"HX-Request": "true"}).status_code
            == 200
        )

    # One by turns with the other, so that both meet the machine in the same mood.
    pairs = [
        (median(edit, 1), median(lambda: client.get(f"/builds/{empty.pk}/"), 1)) for _ in range(40)
    ]
    typical, beside = (sorted(taken)[len(taken) // 2] for taken in zip(*pairs, strict=True))
    row(
        "an edit, from request to fragment",
        typical,
        "ms",
        60,
        f"an empty page of the same server beside it: {beside:.1f} ms",
    )
    row(
        "an edit against an empty page",
        typical / beside,
        "×",
        6,
        "the line-up of a build with nothing in it",
    )
    with CaptureQueriesContext(connection) as queries:
        client.get(at)
    few = len(queries)
    large = create_from_file(_text(many(64)))
    with CaptureQueriesContext(connection) as queries:
        client.get(f"/builds/{large.pk}/")
    row(
        "database queries of the line-up, 64 channels",
        len(queries),
        "",
        12,
        f"{few} with {len(build.document.channels)} channels",
    )
    with CaptureQueriesContext(connection) as listed:
        client.get(f"/builds/{large.pk}/wiring/")
    row("database queries of the wire list, 64 channels", len(listed), "", 12, "its ticks in one")
    stations = {
        view: median(lambda v=view: client.get(f"/builds/{large.pk}/{v}"), 3)
        for view in ("rails/", "pins/", "states/", "barriers/", "wiring/")
    }
    heavy = max(stations, key=stations.get)
    row(
        "slowest station of the whole build, 64 channels",
        stations[heavy],
        "ms",
        None,
        ", ".join(f"{v.strip('/')} {t:.0f}" for v, t in stations.items()),
    )
    wide = median(lambda: client.get(f"/builds/{large.pk}/"), 5)
    row(
        "line-up of 64 channels",
        wide,
        "ms",
        None,
        f"{wide / taken['']:.1f} × that of {len(build.document.channels)}",
    )
    table = "family,title,base,quantity\n" + "".join(
        f"nmos,part {i},nmos-30v-6a-2v5,1\n" for i in range(5000)
    )

    def take_in():
        StockPart.objects.all()._raw_delete("default")
        client.post("/drawer/import/", {"text": table, "confirm": "yes"})

    taken_in = median(take_in, 3)
    row(
        "5 000 parts from a table, judged and taken in",
        taken_in / 1e3,
        "s",
        3,
        f"judging alone: {median(lambda: read_parts(table), 3) / 1e3:.2f} s",
    )
    StockPart.objects.all().delete()
    _weigh(client.get(at).content.decode(), client.get(at + "channels/ch5/").content)
    commits(row, median)
    long_log(client, build, row, median)
    long_life(client, build, row, median)


def _text(document: Document) -> str:
    from latchcore.formats.buildfile import write_build

    return write_build(document)


def _weigh(page: str, later: bytes) -> None:
    total = len(zlib.compress(page.encode(), 6))
    for name in set(re.findall(r'/static/([^"]+)', page)):
        file = settings.STATIC_ROOT / name
        packed = [file.with_name(file.name + end) for end in (".br", ".gz")]
        total += next((p.stat().st_size for p in packed if p.exists()), file.stat().st_size)
    total += sum(
        f.stat().st_size
        for f in (settings.STATIC_ROOT / "vendor").glob("*-latin-[46]00.????????????.woff2")
    )
    row("page weight, first load, everything", total / 1e3, "KB", 700, "compressed, fonts included")
    row(
        "page weight, later pages",
        len(zlib.compress(later, 6)) / 1e3,
        "KB",
        60,
        "channel view, compressed",
    )


def start() -> None:
    """A second start of the demo, to its first answer."""
    import socket
    import urllib.request

    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    begin = time.perf_counter()
    server = subprocess.Popen(
        ["make", "-s", "demo"],
        cwd=ROOT,
        env={**os.environ, "PORT": str(port)},
        stdout=subprocess.DEVNULL,
        start_new_session=True,
    )
    try:
        while time.perf_counter() - begin < 60:
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{port}/", timeout=2).read()
                break
            except OSError:
                time.sleep(0.02)
        row(
            "second start of the demo to its first answer",
            time.perf_counter() - begin,
            "s",
            4,
            "migrate, collect, serve, one page",
        )
    finally:
        os.killpg(server.pid, 15)
        server.wait(10)


if __name__ == "__main__":
    core()
    wires()
    outward(row, many)
    at_hand(row, median, many)
    findings(row, median)
    web()
    motion(row, median)
    behaviour(row, median)
    start()
