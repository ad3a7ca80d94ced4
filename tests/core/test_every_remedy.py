"""Every remedy of every build in the nets: it ends what it says and brings nothing as bad."""

import pytest

from latchcore.advice.mending import advised
from latchcore.advice.whole_build import every, worst_of
from latchcore.design.report import SEVERITIES
from latchcore.edits import apply
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import read_build
from tests.core.test_findings import CASES
from tests.core.test_remedies import LINES, line_bench
from tests.grounds import grounds
from tests.web.conftest import DEMO

pytestmark = pytest.mark.slow

BUILDS = {
    **{
        f"demo {p.stem}": lambda p=p: read_build(p.read_bytes())
        for p in sorted(DEMO.glob("*.json"))
    },
    **{f"ground {name}": lambda name=name: grounds()[name] for name in grounds()},
    **{f"case {name}": case[-1] for name, case in CASES.items()},
    **{
        f"line {name}, {stage}": lambda stage=stage, of=of: line_bench(stage, *of[:2], **of[2])
        for name, of in LINES.items()
        for stage in ("relay_contact", "contactor", "triac_coupler", "relay_module", "solid_module")
    },
}


@pytest.mark.parametrize("name", BUILDS)
def test_every_remedy_ends_what_it_says_and_brings_nothing_as_bad(name):
    build = BUILDS[name]()
    report = advised(build)
    stood = worst_of(every(report))
    for finding in report.all_findings:
        if finding.severity not in ("stop", "fix"):
            continue
        for remedy in (r for r in finding.remedies if r.edits):
            after = every(evaluate(apply(build, remedy.edit_name, remedy.edit_args)[0]))
            assert not any(
                f.mistake == finding.mistake and f.title == finding.title for f in after
            ), remedy.label
            bad = SEVERITIES.index(finding.severity)
            brought = {
                place: SEVERITIES[rank]
                for place, rank in worst_of(after).items()
                if rank <= bad and stood.get(place, len(SEVERITIES)) > rank
            }
            assert not brought, (finding.check, finding.where, remedy.label)
