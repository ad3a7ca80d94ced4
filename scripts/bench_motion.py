"""Figures of motion and chains for the budget table."""

from __future__ import annotations

import time

from django.test import Client

from latchcore.catalogue import load_catalogue
from latchcore.document.models import Build as Document
from latchcore.edits import apply
from latchcore.evaluate import evaluate_afresh
from latchcore.formats.buildfile import write_build
from latchcore.sums.motion.judge import judge
from latchcore.sums.motion.walk import walk
from workbench.actions.creating import begin, create_from_file
from workbench.models import Build


def _made(*steps: tuple[str, dict]) -> Document:
    build = Document(name="motion")
    for name, args in steps:
        build, _ = apply(build, name, args)
    return build


def chained(count: int) -> Document:
    """Relay coils on one chain of registers, as many as it has outputs."""
    coil = {"kind": "relay_coil", "voltage": "12 V", "stage": "npn_low_side", "rail": "rail1"}
    build = _made(
        ("set_board", {"board": "board-8bit-5v-20"}),
        ("set_watchdog", {"watchdog": "yes"}),
        ("add_rail", {"voltage": "12 V", "rating": "30 A"}),
        *(("add_channel", {**coil, "figure": f"{380 + n} Ω", "pin": ""}) for n in range(count)),
        ("add_chain", {"part": "chain-register-8", "count": str(-(-count // 8))}),
    )
    chain, ids = build.chains[0].id, ",".join(c.id for c in build.channels)
    build, _ = apply(build, "move_to_chain", {"chain": chain, "channels": ids})
    build, _ = apply(build, "set_chain", {"chain": chain, "compared": "yes"})
    return build


def motion(row, median) -> None:
    """The walk of 2^16 states, chains cold, an edit of a chain build."""
    motor = {"kind": "motor_both", "voltage": "12 V", "figure": "0.4 A", "rail": "rail1"}
    wheels = _made(
        ("set_board", {"board": "board-8bit-5v-70"}),
        ("add_rail", {"voltage": "12 V", "rating": "30 A"}),
        *(("add_channel", {**motor, "pin": "auto"}) for _ in range(8)),
    )
    report = evaluate_afresh(wheels, load_catalogue())
    powers = [c.result.motion.power for c in report.channels]
    start = time.perf_counter()
    states = sum(1 for _ in walk([judge(power) for power in powers]))
    row(
        "walk of every state of 16 lines",
        time.perf_counter() - start,
        "s",
        2,
        f"{states} states, eight bridges judged anew",
    )
    large = chained(128)
    small = chained(32)
    many = median(lambda: evaluate_afresh(large, load_catalogue()), 5)
    few = median(lambda: evaluate_afresh(small, load_catalogue()), 5)
    row(
        "128 channels on chains, cold",
        many,
        "ms",
        250,
        f"{many / few:.2f} × the time for 4 × the channels",
    )
    _edited(row, median)


def _edited(row, median) -> None:
    """An edit of a channel on a chain beside an empty page."""
    build = create_from_file(write_build(chained(40)).encode())
    empty, client = begin(Document(name="Empty"), "begun"), Client()
    channel, flip = build.document.channels[4].id, iter(range(10_000))

    def edit(trips: bool = False) -> None:
        version = Build.objects.values_list("version", flat=True).get(pk=build.pk)
        data = {"channel": channel, "version": version, "edit": "set_load"}
        if trips:
            data |= {"edit": "set_setting", "base_resistor": f"{400 + next(flip) / 100:.2f}"}
        else:
            data["figure"] = f"{390 + next(flip) / 100:.2f} Ω"
        address = f"/builds/{build.pk}/channels/{channel}/"
        assert client.post(address, data, headers={"HX-Request": "true"}).status_code == 200

    pairs = [
        (median(edit, 1), median(lambda: client.get(f"/builds/{empty.pk}/"), 1)) for _ in range(25)
    ]
    typical, beside = (sorted(taken)[len(taken) // 2] for taken in zip(*pairs, strict=True))
    tripping = median(lambda: edit(trips=True), 9)
    row(
        "an edit of 40 relays on a chain against an empty page",
        typical / beside,
        "×",
        6,
        f"{typical:.0f} ms beside {beside:.1f} ms; one that trips, with every remedy tried,"
        f" {tripping:.0f} ms",
    )
