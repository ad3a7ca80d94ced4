"""The sheet of a build as one HTML file: drawings, tables and sentences, in black and white."""

from __future__ import annotations

from collections.abc import Iterator
from html import escape

from drawings.alone import LOOK
from drawings.build_plan import build_plan
from drawings.schematic import schematic
from latchcore.advice.mending import advised
from latchcore.advice.substitutes import substitutes_table
from latchcore.behaviour.faults import BehaviourError
from latchcore.behaviour.telling import told
from latchcore.bench.meter import HandMeter
from latchcore.bench.readings import readings_table
from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.figures.quantity import show
from latchcore.figures.table import Table
from latchcore.program.plan import ProgramPlan
from latchcore.program.settings import pins_table
from latchcore.whole.tables import parts_table, wires_table

#: Papers the sheet is made for, as style sheets call them.
PAPERS = {"a4": "A4", "letter": "letter"}
STYLE = """
@page{size:%s;margin:12mm 12mm 18mm}
body{font:10pt sans-serif;color:#111;margin:0 auto;max-width:190mm}
table{border-collapse:collapse;width:100%%;margin-bottom:1em}
th,td{border:1px solid #444;padding:1px 4px;text-align:left;vertical-align:top;font-size:9pt}
h2{break-after:avoid;border-bottom:2px solid #111}
figure,tr,li,dd{break-inside:avoid}
figure{margin:0 0 1em}
svg{max-width:100%%;max-height:118mm}
thead{display:table-header-group}
dt{font-weight:600}
"""
DEFERS = (
    "Sums at the stated corners, no permission. Local codes rule; mains belongs to licensed"
    " practice. Unplug and prove dead first."
)


def paper_sheet(around: BuildContext, paper: str = "a4", meter: HandMeter | None = None) -> str:
    """
    A whole build on paper.

    Parameters
    ----------
    around : BuildContext
        The build with its catalogue
    paper : str
        ``a4`` or ``letter``
    meter : HandMeter, optional
        By which readings are widened; a usual one unless stated

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> from latchcore.document.models import Build
    >>> "size:letter" in paper_sheet(BuildContext(Build(name="B"), load_catalogue()), "letter")
    True
    """
    build = around.build
    report = advised(build)
    name = escape(build.name)
    parts = [
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{name}</title>',
        f"<style>{STYLE % PAPERS[paper]}{LOOK}</style></head><body><h1>{name}</h1>",
        f"<p>{DEFERS}</p>",
        *_findings(report),
        *_drawings(around, report),
        *_sentences(around),
    ]
    tables = (*sheet_tables(around, report, meter), *shop_tables(around, report))
    parts += [_table(t) for t in tables]
    return "\n".join([*parts, "</body></html>", ""])


def sheet_tables(
    around: BuildContext, report: Report, meter: HandMeter | None = None
) -> list[Table]:
    """For the wall: pins, readings, what may be fitted instead."""
    tables = [readings_table(around, report, meter), substitutes_table(around, report)]
    try:
        return [pins_table(ProgramPlan(around.build, around=around, report=report)), *tables]
    except BehaviourError:
        # A behaviour that cannot be done has no program; everything else stands.
        return tables


def shop_tables(around: BuildContext, report: Report) -> list[Table]:
    """For the iron and the shop: wires, parts."""
    return [wires_table(around, report), parts_table(around, report)]


def _table(table: Table) -> str:
    if not table.rows:
        return ""

    def row(cells: tuple[str, ...], tag: str) -> str:
        return "<tr>" + "".join(f"<{tag}>{escape(c)}</{tag}>" for c in cells) + "</tr>"

    body = "".join(row(cells, "td") for cells in table.rows)
    return (
        f"<h2>{escape(table.title)}</h2><table><thead>{row(table.header, 'th')}</thead>"
        f"<tbody>{body}</tbody></table>"
    )


def _findings(report: Report) -> Iterator[str]:
    yield "<h2>Findings</h2><ul>"
    for finding in report.all_findings:
        words = f"{finding.severity.upper()} {finding.check}: {finding.title}. {finding.sentence}"
        yield f"<li>{escape(words)}</li>"
    yield "</ul>" if report.all_findings else "<li>None.</li></ul>"


def _drawings(around: BuildContext, report: Report) -> Iterator[str]:
    if report.channels:
        yield f"<h2>Plan</h2><figure>{build_plan(around, report)}</figure>"
    for channel, told_of in zip(around.build.channels, report.channels, strict=True):
        yield f"<h2>{escape(f'{told_of.letter} {channel.name}')}</h2>"
        if told_of.result is None:
            yield f"<p>Not stated: {escape(', '.join(told_of.missing))}.</p>"
            continue
        yield f"<figure>{schematic(told_of.result, around, channel)}</figure>"
        values = [f"{v.label}: {v.text}" for v in told_of.result.values if v.text]
        values += [f"pin: {show(told_of.result.pin_current, 'A')}"]
        yield f"<p>{escape('; '.join(values))}.</p>"


def _sentences(around: BuildContext) -> Iterator[str]:
    said = told(around.build)
    if not said:
        return
    yield "<h2>What the loads do</h2><dl>"
    for name, lines in said:
        yield f"<dt>{escape(name)}</dt>" + "".join(f"<dd>{escape(line)}</dd>" for line in lines)
    yield "</dl>"
