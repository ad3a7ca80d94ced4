"""
Intake of a relay module: the guided test, on a real one or on a simulated one; the result becomes a
part with its evidence.
"""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views import View
from pydantic import ValidationError

from latchcore.bench.module_test import READINGS, STEPS, SimulatedModule, judge
from latchcore.edits.registry import field_of, plain
from latchcore.figures.quantity import QuantityError, parse, show
from latchcore.figures.typed import can_be_kept
from latchcore.formats.partsrecord import build_record, typed
from latchcore.formats.partsrow import Row, own_key
from workbench.actions import stocking
from workbench.drawer import catalogue

#: Which generic module stands in for what the test does not tell.
BASE = {
    "low": "module-5v-low-plain",
    "high": "module-5v-high",
    "jumper": "module-12v-level-jumper",
    "unknown": "module-5v-low-plain",
}


class Intake(View):
    """Answers travel with the page; nothing is kept before the module is put into the drawer."""

    def get(self, request: HttpRequest) -> HttpResponse:
        """The first step."""
        return self.show(request, {}, {}, "")

    def post(self, request: HttpRequest) -> HttpResponse:
        """Take an answer, read the simulated module, or keep the result."""
        typed_in = {key: request.POST.get(key, "").strip() for key, *_ in STEPS}
        simulated = request.POST.get("simulated", "")
        if simulated and simulated not in _simulated():
            simulated = ""
        step = request.POST.get("read", "")
        if simulated and step in typed_in:
            value = SimulatedModule(catalogue().parts[simulated]).answer(step)
            typed_in[step] = show(value, READINGS[step]) if isinstance(value, float) else value
        answers, wrong = _understood(typed_in)
        if request.POST.get("keep") and not wrong:
            kept = self.keep(request, answers)
            if isinstance(kept, HttpResponse):
                return kept
            wrong = {"title": kept}
        return self.show(request, typed_in, wrong, simulated, answers, 422 if wrong else 200)

    def keep(self, request: HttpRequest, answers: dict) -> HttpResponse | str:
        """Put the module into the drawer, or say why not."""
        verdict, title = judge(answers), request.POST.get("title", "").strip()[:120]
        if not title:
            return (
                "Nothing was typed; expected what the module is called, such as “two-channel module"
                " from the shed”."
            )
        if not can_be_kept(title):
            return (
                "The name holds a character that cannot be shown; expected plain text in one line."
            )
        key = own_key(title, "module")
        evidence = "; ".join(
            f"{words}: {request.POST.get(step, '')}"
            for step, _, words, _ in STEPS
            if request.POST.get(step)
        )
        try:
            figures = build_record(
                "module",
                key,
                title,
                typed("module", verdict.figures),
                BASE[verdict.active],
                catalogue(),
            )
        except ValidationError as error:
            return f"{field_of(error)}: {plain(error)}"
        rest = "; the rest as usual for its class" if verdict.open else ""
        figures["source"] = f"bench test: {evidence}"[: 200 - len(rest)] + rest
        stocking.take_in(
            [Row(0, key, "module", title, figures, tuple(verdict.figures), quantity=1)]
        )
        return redirect("module-sheet", key)

    def show(self, request, typed_in, wrong, simulated, answers=None, status=200) -> HttpResponse:
        """All steps, what was answered, and what follows so far."""
        rows = [
            (key, do, words, choices, typed_in.get(key, ""), wrong.get(key, ""))
            for key, do, words, choices in STEPS
        ]
        page = {
            "rows": rows,
            "verdict": judge(answers or {}),
            "simulated": simulated,
            "modules": _simulated(),
            "title": request.POST.get("title", ""),
            "wrong_title": wrong.get("title", ""),
            "begun": bool(answers),
        }
        return render(request, "drawer/intake.html", page, status=status)


def _simulated() -> dict[str, str]:
    """Simulated modules by key, under names that give nothing away."""
    keys = sorted(
        k
        for k, p in catalogue().parts.items()
        if getattr(p, "family", "") == "module"
        and k.startswith("module-")
        and p.output == "contact"
    )
    return {key: f"unlabelled module {index}" for index, key in enumerate(keys, 1)}


def _understood(typed_in: dict[str, str]) -> tuple[dict, dict[str, str]]:
    answers, wrong = {}, {}
    for key, _, _, choices in STEPS:
        text = typed_in.get(key, "")
        if not text:
            continue
        if choices:
            if text in choices:
                answers[key] = text
            else:
                wrong[key] = f"“{text[:40]}” is no answer; expected {' or '.join(choices)}."
            continue
        try:
            answers[key] = parse(text, READINGS[key], allow_zero=True)
        except QuantityError as error:
            wrong[key] = str(error)
    return answers, wrong
