"""``zinc-latch plan``: the power-up plan of a build."""

from __future__ import annotations

import json
import textwrap
from dataclasses import asdict

from console.asking import FALLS_SHORT, SOUND
from latchcore.advice.mending import advised
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.procedure.plan import LOOK, STAGES, Plan, Step, plan_of


def print_plan(build: Build, as_json: bool) -> int:
    """Every step by its stage; exits with 1 where a stop stands that gates what follows."""
    plan = plan_of(BuildContext(build, load_catalogue()), advised(build))
    if as_json:
        print(json.dumps(plan_data(plan), indent=2, ensure_ascii=False))
    else:
        _print(plan)
    return FALLS_SHORT if plan.gates else SOUND


def plan_data(plan: Plan) -> dict:
    """A plan as plain data: ``steps``, ``gates``, ``left_out``."""
    return {
        "steps": [_step(step) for step in plan.steps],
        "gates": list(plan.gates),
        "left_out": list(plan.left_out),
    }


def _step(step: Step) -> dict:
    data = asdict(step)
    words = data.pop("words")
    where = {"look": words} if step.setting == LOOK else {"what": words, "between": step.between}
    for own in ("between", "causes", "nodes", "about"):
        data.pop(own)
    return {"id": data.pop("id"), "stage": data.pop("stage"), **where, **data}


def _print(plan: Plan) -> None:
    for gate in plan.gates:
        print(f"Nothing after stage 0 while this stands: {gate}")
    for number, title in enumerate(STAGES):
        steps = [s for s in plan.steps if s.stage == number]
        if steps:
            print(f"\n{number}. {title}")
        for step in steps:
            where = f" [{' to '.join(step.between)}]" if step.between else ""
            print(f"  ☐ {step.words}{where}")
            if step.setting != LOOK:
                print(f"      {step.setting}: {step.window}")
            print(textwrap.fill(step.miss, 96, initial_indent="      ", subsequent_indent="      "))
    for words in plan.left_out:
        print(f"\nNot worked out: {words}.")
