"""The program of a build: its lines, its text in two languages, what firmware asks for."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpRequest, HttpResponse

from latchcore.behaviour.faults import BehaviourError
from latchcore.program.cplusplus import cplusplus
from latchcore.program.heading import OWN
from latchcore.program.micropython import micropython
from latchcore.program.pins import pin_rows
from latchcore.program.plan import ProgramPlan
from latchcore.program.settings import checklist, settings_table
from workbench.keeping.files import zipped
from workbench.models import Build, TakenProgram
from workbench.stations import Page
from workbench.views.outward import attached, plan_of
from workbench.views.pages import BuildPage

LANGUAGES = {"micropython": ("MicroPython", micropython), "cpp": ("C++", cplusplus)}
#: So many of the programs that were taken out are listed.
MOST_TAKEN = 8


def stale_programs(build: Build, plan: ProgramPlan) -> list[tuple[TakenProgram, bool]]:
    """Programs taken out, the newest first, each with whether the design has moved on since."""
    taken = list(build.programs.all()[:MOST_TAKEN])
    return [(program, program.content != plan.content) for program in taken]


def stale_one(build: Build) -> TakenProgram | None:
    """The program taken out last, where the design has moved on since."""
    last = build.programs.first()
    if last is None:
        return None
    try:
        return None if last.content == plan_of(build).content else last
    except BehaviourError:
        # What cannot be done any more is surely not what runs on the board.
        return last


@dataclass(frozen=True)
class Parts:
    """A program apart: its head, what is alike in every program, what is the build's own."""

    head: str
    same: str
    own: str

    @property
    def same_lines(self) -> int:
        """How long the middle is."""
        return self.same.count("\n")


def parts_of(text: str) -> Parts:
    """
    A program cut where the step and where the build's own part begin.

    Examples
    --------
    >>> parts_of("a\\n# The step -\\nb\\n# This build -\\nc\\n").own
    '# This build -\\nc\\n'
    """
    lines = [f"{line}\n" for line in text.split("\n")]
    step, own = (
        next((n for n, line in enumerate(lines) if line[2:].strip().startswith(word)), 0)
        for word in ("The step -", OWN.strip() + " -")
    )
    return Parts("".join(lines[:step]), "".join(lines[step:own]), "".join(lines[own:]))


class ProgramPage(BuildPage):
    """One way only: from the design to the text."""

    page = Page("program/", "program", "behaviour", "build/program.html")

    def get(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Show it in the language asked for."""
        return self.show(request, self.build(pk), asked=request.GET.dict(), **kwargs)

    def post(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Take the program out, and remember that it was; anything else is an edit."""
        language = request.POST.get("take")
        if language not in LANGUAGES:
            return super().post(request, pk, **kwargs)
        build = self.build(pk)
        plan = plan_of(build)
        try:
            files = LANGUAGES[language][1](plan)
        except BehaviourError:
            return self.show(request, build, asked={"language": language}, **kwargs)
        TakenProgram.objects.create(
            build=build, revision=build.head.number, language=language, content=plan.content
        )
        [(name, text), *more] = files.items()
        if not more:
            return attached(text, "text/x-python; charset=utf-8", name)
        return attached(zipped(files.items()), "application/zip", f"{plan.slug}-cpp.zip")

    def content(self, build: Build, **kwargs) -> dict:
        """Text, pin table, settings, what to see to, what was taken out and is stale."""
        asked = kwargs.get("asked") or {}
        plan = plan_of(build)
        language = asked.get("language", "")
        if language not in LANGUAGES:
            language = "cpp" if plan.unfit("micropython") else "micropython"
        page: dict = {"language": language, "languages": LANGUAGES, "faults": []}
        try:
            files = LANGUAGES[language][1](plan)
        except BehaviourError as error:
            return page | {"faults": error.faults}
        name, text = next(iter(files.items()))
        return page | {
            "plan": plan,
            "files": list(files),
            "name": name,
            "text": parts_of(text),
            "lines": text.count("\n"),
            "pins": pin_rows(plan),
            "settings": settings_table(plan),
            "checklist": checklist(plan),
            "unfit": plan.unfit(language),
            "by_hand": plan.hardware.by_hand,
            "taken": stale_programs(build, plan),
            "stamp": asked.get("stamp", "").strip(),
            "stamped": self._stamped(build, plan, asked.get("stamp", "")),
        }

    @staticmethod
    def _stamped(build: Build, plan: ProgramPlan, stamp: str) -> str:
        """What the stamp a board says at its start means."""
        content = stamp.strip().lower().split()[-1:] if stamp.strip() else []
        if not content:
            return ""
        if content[0] == plan.content:
            return "current"
        known = build.programs.filter(content=content[0][:8]).first()
        return f"stale:{known.revision}" if known else "unknown"
