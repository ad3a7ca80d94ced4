"""
Worked cases with answers found by other means (integration, root finding, trying every value) than
the core's.
"""

import json
from pathlib import Path

import pytest

from tests.core.reference_adapters import COMPUTE

CASES = [
    case
    for case in json.loads((Path(__file__).parent / "data" / "vectors.json").read_text())
    if case["topic"] in COMPUTE
]


def matches(got, want, rel_tol):
    if isinstance(want, bool) or want is None or isinstance(want, str):
        return got == want
    if isinstance(want, (int, float)):
        return got is not None and abs(got - want) <= (rel_tol * abs(want) if want else 1e-7)
    if isinstance(want, list):
        return len(got) == len(want) and all(
            matches(g, w, rel_tol) for g, w in zip(got, want, strict=True)
        )
    raise TypeError(want)


@pytest.mark.parametrize("case", CASES, ids=[case["id"] for case in CASES])
def test_reference(case):
    got = COMPUTE[case["topic"]](**case["given"])
    for name, want in case["expect"].items():
        assert matches(got[name], want, case["rel_tol"]), f"{name}: {got[name]} is not {want}"
