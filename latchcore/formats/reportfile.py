"""A report as plain data and as text, for other programs and for the terminal."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

from latchcore.design.report import ChannelReport, Finding, Measure, Report
from latchcore.figures.quantity import show
from latchcore.metal.conductors import Conductor
from latchcore.sums.motion.told import told

REPORT_FORMAT, REPORT_VERSION = "zinc-latch-report", 2


def _number(value: float | None) -> float | None:
    """JSON knows no infinity: what has no finite value is null."""
    if value is None or not math.isfinite(value):
        return None
    return float(f"{value:.9g}")


def finding_data(finding: Finding) -> dict[str, Any]:
    """One finding as data."""
    measure = finding.measure
    return {
        "id": finding.check,
        "severity": finding.severity,
        "where": finding.where,
        "title": finding.title,
        "sentence": finding.sentence,
        "why": finding.why,
        "corner": finding.corner,
        "value": measure and _number(measure.worst),
        "limit": measure and _number(measure.limit),
        "unit": measure and measure.unit,
        "remedies": [
            {
                "label": r.label,
                "result": r.result,
                "edits": [{"edit": name, "args": args} for name, args in r.edits],
            }
            for r in finding.remedies
        ],
    }


def _measure_data(measure: Measure) -> dict[str, Any]:
    return {
        "key": measure.key,
        "check": measure.check,
        "label": measure.label,
        "value": _number(measure.worst),
        "unit": measure.unit,
        "sense": measure.sense,
        "limit": _number(measure.limit),
        "limit_name": measure.limit_name,
        "corner": measure.corner,
        "verdict": measure.verdict,
        "headroom": _number(measure.headroom),
    }


def channel_data(channel: ChannelReport) -> dict[str, Any]:
    """One channel as data."""
    data: dict[str, Any] = {
        "id": channel.id,
        "letter": channel.letter,
        "name": channel.name,
        "verdict": channel.verdict,
        "missing": channel.missing,
    }
    if channel.result is None:
        return data
    result = channel.result
    if result.motion is not None:
        data["combinations"] = [row.as_data() for row in told(result.motion)]
    return data | {
        "stage": result.kind,
        "values": [
            {
                "key": v.key,
                "label": v.label,
                "symbol": v.symbol,
                "value": _number(v.value),
                "unit": v.unit,
                "text": v.text,
                "chosen_by": "you" if v.yours else "sized",
                "corner": v.corner,
                "window": (
                    v.window
                    and {
                        "real": [_number(v.window.real_min), _number(v.window.real_max)],
                        "nominal": [_number(v.window.nominal_min), _number(v.window.nominal_max)],
                        "admissible": v.window.admissible,
                        "empty_reason": v.window.empty_reason,
                        "conflict": v.window.cures,
                    }
                ),
                "failing": [b.name for b in v.failing],
            }
            for v in result.values
        ],
        "measures": [_measure_data(m) for m in result.measures],
        "states": [
            {
                "key": s.key,
                "load": s.load,
                "node": s.node,
                "voltage": _number(s.voltage),
                "limit": _number(s.limit),
                "says": s.says,
            }
            for s in result.states
        ],
        "pin_current": _number(result.pin_current),
        "running_current": _number(result.running),
        "surge_current": _number(result.surge),
        "power": _number(result.power),
        "release_time": _number(result.coil.release_time),
        "working": [step.as_text() for step in result.working.steps],
        "findings": [finding_data(f) for f in channel.findings],
        "accepted": [finding_data(f) | {"reason": reason} for f, reason in channel.accepted],
    }


def conductor_data(conductor: Conductor) -> dict[str, Any]:
    """One conductor or joint as data, in the units its names end in."""
    ends = {
        name: {"part": end.part, "terminal": end.terminal}
        for name, end in (("from", conductor.start), ("to", conductor.end))
    }
    return {
        "id": conductor.id,
        "node": conductor.node,
        **ends,
        "joint": conductor.joint,
        "running_a": _number(conductor.running),
        "worst_a": _number(conductor.worst),
        "area_mm2": None if conductor.joint else _number(conductor.area * 1e6),
        "fuse_a": _number(conductor.fuse),
        "colour": conductor.colour,
        "domain": conductor.domain,
        "cable": conductor.cable,
        "length_m": _number(conductor.length),
    }


def report_data(report: Report, laid: Iterable[Conductor] = ()) -> dict[str, Any]:
    """
    The whole report as data; the format is described in ``docs/report-format.md``.

    ``laid`` are the conductors of the build, which are no part of its verdict.
    """
    return {
        "format": REPORT_FORMAT,
        "version": REPORT_VERSION,
        "build": report.name,
        "catalogue": report.catalogue,
        "sound": report.sound,
        "counts": {s: report.count(s) for s in ("stop", "fix", "check", "note")},
        "findings": [finding_data(f) for f in report.all_findings],
        "channels": [channel_data(c) for c in report.channels],
        "rails": [
            {
                "id": r.id,
                "name": r.name,
                "voltage": {
                    "min": r.volts.min,
                    "typ": r.volts.typ,
                    "max": r.volts.max,
                    "unit": "V",
                },
                "rating": r.rating,
                "idle": _number(r.idle),
                "typical": _number(r.typical),
                "all_on": _number(r.all_on),
                "worst_instant": _number(r.worst),
                "unit": "A",
                "parent": r.parent,
                "regulator_heat": _number(r.heat),
                "junction": _number(r.junction),
                "sags_to": _number(r.sagging),
                "wire_drop": _number(r.wire_drop),
                "lasts": _number(r.lasts),
                "contributors": [
                    {"name": n, "running": _number(a), "surge": _number(b)} for n, a, b in r.shares
                ],
            }
            for r in report.rails
        ],
        "inputs": [
            {
                "id": i.id,
                "name": i.name,
                "kind": i.kind,
                "missing": i.missing,
                "latency": _number(i.latency),
                "debounce": _number(i.debounce),
                "values": [
                    {
                        "key": v.key,
                        "value": _number(v.value),
                        "unit": v.unit,
                        "text": v.text,
                        "chosen_by": "you" if v.yours else "sized",
                    }
                    for v in i.values
                ],
                "measures": [_measure_data(m) for m in i.measures],
                "rows": [list(row) for row in i.rows],
                "working": [step.as_text() for step in i.working.steps],
            }
            for i in report.inputs
        ],
        "chains": [_chain_data(c) for c in report.chains],
        "pins": [{"pin": pin, "channels": users} for pin, users in report.pins.items()],
        "pin_current_total": _number(report.pin_total),
        "conductors": [conductor_data(c) for c in laid],
    }


def _chain_data(chain) -> dict[str, Any]:
    """A chain: who stands where, what its packages carry, why its outputs stay."""
    return {
        "id": chain.id,
        "name": chain.name,
        "part": chain.context.part.id,
        "lines": chain.context.chain.lines,
        "cells": [
            {
                "line": f"{chain.id}.{cell.number}",
                "place": cell.place,
                "package": cell.package,
                "holders": [{"channel": who, "role": role} for who, _, role in cell.holders],
            }
            for cell in chain.cells
        ],
        "packages_a": [_number(amperes) for amperes in chain.packages],
        "draws_a": _number(chain.draws),
        "update_s": _number(chain.update),
        "keeps": chain.context.keeps,
        "values": [{"key": v.key, "text": v.text} for v in chain.values],
        "working": [step.as_text() for step in chain.working.steps],
    }


def report_text(report: Report) -> str:
    """Findings as text, the worst first, with their remedies."""
    names = (
        {c.id: f"{c.letter} {c.name}" for c in report.channels}
        | {i.id: i.name for i in report.inputs}
        | {f"rail:{r.id}": r.name for r in report.rails}
        | {f"chain:{c.id}": c.name for c in report.chains}
    )
    counts = ", ".join(f"{report.count(s)} {s}" for s in ("stop", "fix", "check", "note"))
    lines = [f"{report.name}: {len(report.channels)} channels, {len(report.rails)} rails; {counts}"]
    for finding in report.all_findings:
        where = names.get(finding.where, finding.where.removeprefix("pin:"))
        lines.append(f"\n{finding.severity.upper()} {finding.check}  {where}: {finding.title}")
        lines.append(f"    {finding.sentence}")
        lines += [
            f"    > {r.label}" + (f" ({r.result})" if r.result else "") for r in finding.remedies
        ]
    for channel in report.channels:
        if channel.missing:
            lines.append(
                f"\nMISSING  {channel.letter} {channel.name}: {', '.join(channel.missing)} not"
                " stated"
            )
        lines += [
            f"\nACCEPTED {f.check}  {names[f.where]}: {f.title} ({reason})"
            for f, reason in channel.accepted
        ]
    lines.append(
        "\nRails: "
        + "; ".join(
            f"{r.name} all on {show(r.all_on, 'A')}, worst instant {show(r.worst, 'A')}"
            + (f" of {show(r.rating, 'A')}" if r.rating else "")
            for r in report.rails
        )
        if report.rails
        else "\nNo rails."
    )
    return "\n".join(lines) + "\n"
