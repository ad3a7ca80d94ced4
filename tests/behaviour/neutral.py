"""From the neutral form of the reference behaviours to a build document."""

from __future__ import annotations

from typing import Any

from latchcore.behaviour.happenings import Happening
from latchcore.document.conditions import clock_seconds
from latchcore.document.models import Build


def time(seconds: float) -> str:
    return f"{seconds:.9f}".rstrip("0").rstrip(".") + " s"


class Neutral:
    """One behaviour of the reference as a build, with what its names became."""

    def __init__(self, data: dict[str, Any]) -> None:
        self.data = data
        self.inputs = {i["name"]: f"in{n}" for n, i in enumerate(data.get("inputs", []), 1)}
        self.commands = {c: f"cm{n}" for n, c in enumerate(data.get("commands", []), 1)}
        self.channels = {c["name"]: f"ch{n}" for n, c in enumerate(data["channels"], 1)}
        self.conditions = {c["name"]: f"co{n}" for n, c in enumerate(data.get("conditions", []), 1)}
        self.queues = {q["name"]: f"qu{n}" for n, q in enumerate(data.get("queues", []), 1)}
        self.levels = {c["name"] for c in data["channels"] if c["kind"] == "level"}
        self.build = Build.model_validate(self._build())
        self.names = {key: name for name, key in self.channels.items()}
        self.names |= {key: name for name, key in self.queues.items()}
        self.names |= {s.id: s.name for s in self.build.does.sequences}
        self.names |= {m.id: m.name for m in self.build.does.macros} | {"link": "link"}

    @property
    def start(self) -> dict[str, Any]:
        """What each input reads before anything happens."""
        return {self.inputs[i["name"]]: i["start"] for i in self.data.get("inputs", [])}

    def happenings(self, trace: list[dict[str, Any]], clock: str | None) -> list[Happening]:
        found = [Happening(0, "clock", value=(clock_seconds(clock), None))] if clock else []
        for h in trace:
            t = h["t"]
            if "input" in h:
                found.append(Happening(t, "input", self.inputs[h["input"]], h["value"]))
            elif "command" in h:
                value = None if h["value"] == "once" else bool(h["value"])
                found.append(Happening(t, "command", self.commands[h["command"]], value))
            elif "clear" in h:
                found.append(Happening(t, "clear", self.channels[h["clear"]]))
            elif "clock" in h:
                found.append(Happening(t, "clock", value=(clock_seconds(h["clock"]), None)))
            else:
                word = next(w for w in ("alive", "power", "reset", "hang") if w in h)
                found.append(Happening(t, word, value=h[word]))
        return found

    def _build(self) -> dict[str, Any]:
        data = self.data
        staggers = data.get("stagger", [])
        on = {c: f"rail{n}" for n, s in enumerate(staggers, 1) for c in s["channels"]}
        rails = [{"id": f"rail{n}", "name": f"r{n}", "voltage": "12 V"} for n in range(9)]
        channels = [
            {
                "id": self.channels[c["name"]],
                "name": c["name"],
                "rail": on.get(c["name"], "rail0"),
                "load": {"kind": "filament_lamp", "voltage": "12 V", "figure": "1 A"},
                "pwm": "1 kHz" if c["name"] in self.levels else None,
            }
            for c in data["channels"]
        ]
        inputs = [
            {
                "id": self.inputs[i["name"]],
                "name": i["name"],
                "kind": "knob" if i["kind"] == "level" else "button",
                "debounce": time(i.get("debounce_s", 0)),
            }
            for i in data.get("inputs", [])
        ]
        return {
            "name": "Reference",
            "rails": rails,
            "channels": channels,
            "inputs": inputs,
            "behaviour": self._behaviour(staggers),
        }

    def _behaviour(self, staggers: list[Any]) -> dict[str, Any]:
        data = self.data
        return {
            "step": time(data["step_s"]),
            "link_time_out": time(data["link"]["time_out_s"]) if "link" in data else None,
            "watchdog": time(data["watchdog_s"]) if "watchdog_s" in data else None,
            "commands": [{"id": key, "name": name} for name, key in self.commands.items()],
            "conditions": [
                {
                    "id": self.conditions[c["name"]],
                    "name": c["name"],
                    "condition": self.condition(c["is"]),
                }
                for c in data.get("conditions", [])
            ],
            "requests": [
                {"id": f"ru{n}"} | self.request(r) for n, r in enumerate(data.get("requests", []))
            ],
            "bars": [
                {
                    "id": f"ba{n}",
                    "channel": self.channels[b["channel"]],
                    "condition": self.condition(b["while"]),
                }
                for n, b in enumerate(data.get("blocks", []))
            ],
            "interlocks": [
                {
                    "id": f"il{n}",
                    "channels": [self.channels[c] for c in i["channels"]],
                    "gap": time(i["gap_s"]),
                }
                for n, i in enumerate(data.get("interlocks", []))
            ],
            "staggers": [
                {"id": f"sg{n}", "rail": f"rail{n}", "least": time(s["least_s"])}
                for n, s in enumerate(staggers, 1)
            ],
            "sequences": [self.sequence(n, s) for n, s in enumerate(data.get("sequences", []))],
            "macros": [self.macro(n, m) for n, m in enumerate(data.get("macros", []))],
            "queues": [
                {
                    "id": self.queues[q["name"]],
                    "name": q["name"],
                    "event": self.event(q["of"]),
                    "delay": time(q["delay_s"]),
                    "length": q["length"],
                    "clear": self.event(q["clear"]) if "clear" in q else None,
                }
                for q in data.get("queues", [])
            ],
            "manners": [self.manner(c) for c in data["channels"]],
        }

    def condition(self, c: dict[str, Any]) -> dict[str, Any]:
        timers = {
            name: time(c[f"{name}_s"]) for name in ("for_at_least", "lasts") if f"{name}_s" in c
        }
        return self._bare(c) | timers

    def _bare(self, c: dict[str, Any]) -> dict[str, Any]:
        if "input" in c:
            return {"kind": "input", "of": self.inputs[c["input"]]}
        for kind in ("over", "under"):
            if kind in c:
                return {
                    "kind": kind,
                    "of": self.inputs[c[kind]],
                    "at": str(c["at"]),
                    "hysteresis": str(c.get("hysteresis", 0)),
                }
        if "between" in c:
            return {"kind": "between", "begin": c["between"][0], "end": c["between"][1]}
        if "since_power_s" in c:
            return {"kind": "since_power", "time": time(c["since_power_s"])}
        if "command" in c:
            return {"kind": "command", "of": self.commands[c["command"]]}
        if "channel" in c:
            return {"kind": "channel", "of": self.channels[c["channel"]], "state": c["is"]}
        if "condition" in c:
            return {"kind": "named", "of": self.conditions[c["condition"]]}
        if "not" in c:
            return {"kind": "not", "part": self.condition(c["not"])}
        kind = "all" if "all" in c else "any"
        return {"kind": kind, "parts": [self.condition(p) for p in c[kind]]}

    def event(self, e: dict[str, Any]) -> dict[str, Any]:
        if "becomes" in e:
            return {"kind": "becomes", "condition": self.condition(e["becomes"])}
        if "press" in e:
            return {"kind": "press", "of": self.inputs[e["press"]]}
        if "double" in e:
            return {
                "kind": "double",
                "of": self.inputs[e["double"]],
                "within": time(e["within_s"]),
            }
        if "hold" in e:
            return {"kind": "hold", "of": self.inputs[e["hold"]], "over": time(e["over_s"])}
        return {"kind": "queue", "of": self.queues[e["queue"]]}

    def request(self, r: dict[str, Any]) -> dict[str, Any]:
        base = {"channel": self.channels[r["channel"]]}
        level = {"level": f"{r['level']} %"} if "level" in r else {}
        if "while" in r:
            return base | level | {"kind": "while", "condition": self.condition(r["while"])}
        if "follow" in r:
            return base | {
                "kind": "follow",
                "of": self.inputs[r["follow"]],
                "low": str(r["from"][0]),
                "high": str(r["from"][1]),
                "level_low": f"{r['to'][0]} %",
                "level_high": f"{r['to'][1]} %",
                "dead_band": str(r.get("dead_band", 0)),
            }
        base["event"] = self.event(r["upon"])
        if "toggle" in r:
            return base | level | {"kind": "toggle"}
        if "ramp_s" in r:
            return base | {"kind": "ramp", "time": time(r["ramp_s"]), "to": f"{r['to']} %"}
        wait = {"wait": time(r["wait_s"])} if "wait_s" in r else {}
        bring = {"bring": r["bring"]} if "bring" in r else {}
        pulse = {"kind": "pulse", "length": time(r["pulse_s"]), "again": r.get("again", "ignore")}
        return base | level | wait | bring | pulse

    def _states(self, given: dict[str, Any]) -> dict[str, str]:
        def word(channel: str, value: int) -> str:
            if value == 0:
                return "off"
            return f"{value} %" if channel in self.levels and value != 1 else "on"

        return {self.channels[c]: word(c, v) for c, v in given.items()}

    def sequence(self, n: int, s: dict[str, Any]) -> dict[str, Any]:
        names = [p["name"] for p in s["phases"]]
        phases = []
        for p in s["phases"]:
            phase: dict[str, Any] = {"name": p["name"], "states": self._states(p["set"])}
            if "lasts_s" in p:
                phase["lasts"] = time(p["lasts_s"])
            if "until" in p:
                phase["until"] = self.event(p["until"])
            if "until_true" in p:
                phase["until_true"] = self.condition(p["until_true"])
            if "longest_s" in p:
                phase["longest"] = time(p["longest_s"])
            then = p.get("then", "abort")
            if then in names and then not in ("next", "stop", "abort"):
                phase |= {"then": "phase", "then_phase": then}
            else:
                phase["then"] = then
            phases.append(phase)
        return {
            "id": f"sq{n}",
            "name": s["name"],
            "start": self.event(s["start"]) if "start" in s else None,
            "abort": self.event(s["abort"]) if "abort" in s else None,
            "repeat": s.get("repeat", 1),
            "after_abort": self._states(s.get("after_abort", {})),
            "phases": phases,
        }

    def macro(self, n: int, m: dict[str, Any]) -> dict[str, Any]:
        return {
            "id": f"mc{n}",
            "name": m["name"],
            "start": self.event(m["start"]),
            "wait": time(m["wait_s"]) if "wait_s" in m else None,
            "presses": [
                {
                    "channel": self.channels[p["channel"]],
                    "hold": time(p["hold_s"]),
                    "gap": time(p["gap_s"]),
                }
                for p in m["presses"]
            ],
        }

    def manner(self, c: dict[str, Any]) -> dict[str, Any]:
        limits, confirm, link = c.get("limits", {}), c.get("confirm"), c.get("link", "hold")
        found: dict[str, Any] = {
            "channel": self.channels[c["name"]],
            "returns": c.get("returns", "anew"),
            "link": "state" if isinstance(link, dict) else link,
        }
        if isinstance(link, dict):
            found["link_level"] = f"{link['state']} %"
        hands = [hand for hand in ("parallel", "series") if c.get(hand)]
        found["hand"] = "both" if len(hands) == 2 else hands[0] if hands else "none"
        if "hardware_limit_s" in c:
            found["hardware_limit"] = time(c["hardware_limit_s"])
        for name in ("longest_on", "least_on", "least_off"):
            if f"{name}_s" in limits:
                found[name] = time(limits[f"{name}_s"])
        if "starts" in limits:
            found["starts"] = limits["starts"]["most"]
            found["starts_in"] = time(limits["starts"].get("per_s", 3600))
        if "share" in limits:
            found["share"] = f"{limits['share']['most'] * 100:g} %"
            found["share_of"] = time(limits["share"]["window_s"])
        if "idle_off" in limits:
            idle = limits["idle_off"]
            found["idle"] = self.condition(idle["idle"])
            found["idle_for"] = time(idle["for_s"])
            if "while" in idle:
                found["idle_while"] = self.condition(idle["while"])
        return found | (self._confirm(confirm) if confirm else {})

    def _confirm(self, confirm: dict[str, Any]) -> dict[str, Any]:
        found: dict[str, Any] = {"confirm": confirm["kind"]}
        ends = {"same": ("input", None), "end": ("end", "other")}
        first, second = ends.get(confirm["kind"], ("open", "closed"))
        found["sense"] = self.inputs[confirm[first]]
        if second and second in confirm:
            found["other"] = self.inputs[confirm[second]]
        found["within"] = time(confirm.get("within_s", confirm.get("travel_s")))
        return found
