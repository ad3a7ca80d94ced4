"""Fault finding of one channel: what was seen and read, what is likely, what to read next."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from django.http import HttpRequest, HttpResponse

from drawings.schematic import schematic
from latchcore.bench.circuit import NotModelled
from latchcore.bench.looks import DEAD, TURNED, WEAK, WORKS
from latchcore.bench.readings import window_words
from latchcore.figures.quantity import show
from latchcore.procedure.finding import Search, search_of
from latchcore.procedure.judging import OVER, ReadingError, typed_as
from latchcore.procedure.ranking import NONE, OL, Reading, Value, rank
from latchcore.procedure.symptoms import SYMPTOMS, parts_named, raised
from workbench.drawer import meter_at_hand
from workbench.models import Build
from workbench.stations import Page
from workbench.views.pages import BuildPage
from workbench.views.stations import gone

LOOKS = (
    (WORKS, "works"),
    (WEAK, "weak, or warm"),
    (DEAD, "nothing"),
    (TURNED, "the other way round"),
)
#: Causes under this share are not listed, but for the first few.
LEAST_SHOWN, ALWAYS = 0.01, 5


@dataclass(frozen=True)
class Asked:
    """One reading as the page asks for it: what was typed, what is wrong with that."""

    reading: Reading
    words: str
    typed: str
    wrong: str = ""
    proposed: bool = False

    @property
    def look(self) -> bool:
        """Whether it is a look."""
        return bool(self.reading.words)


class FaultPage(BuildPage):
    """Causes ranked by readings, everything in the address, so that nothing is lost."""

    page = Page("channels/<slug:channel>/fault/", "fault", "first-power", "build/fault.html")

    def get(self, request: HttpRequest, pk: int, **kwargs) -> HttpResponse:
        """Show it with what was read."""
        return self.show(request, self.build(pk), asked=request.GET.dict(), **kwargs)

    def content(self, build: Build, channel: str = "", **kwargs) -> dict:
        """The ranking, the reading proposed, what each cause would show there."""
        found, told = build.document.channel(channel), build.report.channel(channel)
        if found is None:
            return gone(build, channel)
        page = {"channel": found, "cr": told, "selected": told, "looks": LOOKS}
        if told.result is None:
            return page | {"why": f"Not stated yet: {', '.join(told.missing)}."}
        try:
            text = build.document.model_dump_json()
            search = _searched(text, channel, _Held(build))
        except NotModelled as error:
            return page | {"why": f"Not worked out: {error}. Read it by its drawing."}
        picture = schematic(told.result, build.around, found)
        asked = dict(kwargs.get("asked") or {})
        symptom = SYMPTOMS.get(asked.get("symptom", ""))
        for key, look in (symptom.looks if symptom is not None else {}).items():
            # What a symptom says of the load is a look already taken, unless another was.
            asked[key] = asked.get(key) or look
        texts = build.log.filter(channel=channel, kind__in=("incident", "rework"))
        named = parts_named(texts.values_list("words", flat=True)[:200])
        weights = raised(search.weights, search.words, asked.get("symptom", ""), named)
        search = replace(search, weights=weights)
        page |= {"symptoms": SYMPTOMS, "symptom": asked.get("symptom", ""), "past": sorted(named)}
        return page | {"picture": picture} | _ranked(search, asked)


def _ranked(search: Search, asked: dict[str, str]) -> dict:
    taken: list[tuple[str, Value]] = []
    wrong: dict[str, str] = {}
    for reading in search.readings:
        typed = asked.get(reading.id, "").strip()
        if not typed:
            continue
        if reading.words:
            taken += [(reading.id, typed)] if typed in reading.words else []
            continue
        try:
            over = typed.lower() in OVER
            taken.append((reading.id, OL if over else typed_as(typed, reading.unit)))
        except ReadingError as error:
            wrong[reading.id] = str(error)
    found = rank(search.weights, search.readings, taken)
    words = {**search.words, NONE: "none of these"}
    order = sorted(found.posterior.items(), key=lambda item: -item[1])
    shown = [(words[c], p, round(100 * p)) for n, (c, p) in enumerate(order)
             if p >= LEAST_SHOWN or n < ALWAYS]  # fmt: skip
    proposed = next((r for r in search.readings if r.id == found.next), None)
    return {
        "asked_for": [
            Asked(r, search.points[r.id], asked.get(r.id, ""), wrong.get(r.id, ""), r is proposed)
            for r in search.readings
        ],
        "causes": shown,
        "taken": taken,
        "next": None if proposed is None else search.points[proposed.id],
        "worth": None if proposed is None else found.fall[proposed.id],
        "would": [] if proposed is None else _would(search, proposed, [c for c, _ in order]),
    }


def _would(search: Search, reading: Reading, causes: list[str]) -> list[tuple[str, str]]:
    """What the likeliest causes would show at a reading."""
    found = []
    for cause in causes:
        window = reading.windows.get(cause)
        if cause == NONE or window is None:
            continue
        if window.words:
            said = " or ".join(sorted(window.words))
        elif window.least is None or window.most is None:
            said = f"over {show(window.least, reading.unit)}, or OL" if window.least else OL
        else:
            said = (
                window_words(window.least, window.most)
                if reading.unit == "V"
                else (f"{show(window.least, reading.unit)} to {show(window.most, reading.unit)}")
            )
        found.append((search.words[cause], said))
    return found[:ALWAYS]


class _Held:
    """A build that is not looked at again where its document and the meter are the same."""

    def __init__(self, build: Build) -> None:
        self.build, self.meter = build, meter_at_hand()

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Held) and other.meter == self.meter

    def __hash__(self) -> int:
        return hash(self.meter.id)


@lru_cache(maxsize=64)
def _searched(document: str, channel: str, held: _Held) -> Search:
    """A search of one channel of one document, once."""
    build = held.build
    told = build.report.channel(channel)
    context = build.around.channel(build.document.channel(channel))
    return search_of(context, told.result, held.meter)
