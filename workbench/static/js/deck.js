// The pin deck: pick a channel up by mouse, touch or keyboard, see which lines cannot serve and why,
// put it down.
(() => {
  "use strict";
  const $ = (selector, root = document) => root.querySelector(selector);
  let held = null;

  const known = () => JSON.parse($("#refusals")?.textContent || "{}");
  const refusals = (chip) => known()[chip.dataset.want] || {};
  const say = (words) => { const at = $("#deck-says"); if (at) at.textContent = words; };
  const lines = () => [...document.querySelectorAll(".deck .line")];

  function pick(chip) {
    if (chip.classList.contains("fixed") || chip.classList.contains("follows")) {
      say(`${chip.dataset.name} is locked or moves with another.`);
      return;
    }
    drop();
    held = chip;
    chip.classList.add("picked");
    const why = refusals(chip);
    for (const line of lines()) {
      const bar = why[line.dataset.pin];
      line.classList.toggle("cannot", Boolean(bar));
      line.classList.toggle("can", !bar);
      line.dataset.why = bar || "";
    }
    const how = "press a line, or use the arrows and Enter; Escape lets it go.";
    say(`${chip.dataset.name} picked up: ${how}`);
  }
  function drop() {
    held?.classList.remove("picked");
    held = null;
    for (const line of lines()) line.classList.remove("can", "cannot", "over");
  }
  function put(line) {
    if (!held || !line) return;
    if (line.dataset.why) {
      say(`${held.dataset.name} cannot go there: ${line.dataset.pin} ${line.dataset.why}.`);
      return;
    }
    const form = $("#place-form");
    form.elements.what.value = held.dataset.what;
    form.elements.pin.value = line.dataset.pin;
    drop();
    form.requestSubmit();
  }

  document.addEventListener("dragstart", (event) => {
    const chip = event.target.closest?.(".chip");
    if (!chip) return;
    pick(chip);
    event.dataTransfer.effectAllowed = "move";
    event.dataTransfer.setData("text/plain", chip.dataset.what);
  });
  document.addEventListener("dragover", (event) => {
    const line = held && event.target.closest?.(".line");
    document.querySelectorAll(".line.over").forEach((el) => el.classList.remove("over"));
    if (!line) return;
    event.preventDefault();
    line.classList.add("over");
    if (line.dataset.why) say(`${line.dataset.pin} ${line.dataset.why}.`);
  });
  document.addEventListener("drop", (event) => {
    const line = held && event.target.closest?.(".line");
    if (line) { event.preventDefault(); put(line); }
  });
  document.addEventListener("dragend", () => drop());

  document.addEventListener("click", (event) => {
    const chip = event.target.closest(".chip"), line = event.target.closest(".deck .line");
    if (event.target.closest(".lock")) return;
    // A chip pressed while another is held means its line: the two change places.
    if (held && line && chip !== held) { put(line); return; }
    if (chip) { if (chip === held) { drop(); say(""); } else { pick(chip); } }
  });

  document.addEventListener("keydown", (event) => {
    if (!held) return;
    if (event.key === "Escape") {
      const chip = held;
      drop();
      say("Let go.");
      chip.focus();
      event.preventDefault();
      return;
    }
    const fit = lines().filter((line) => line.classList.contains("can"));
    const here = document.activeElement.closest?.(".deck .line");
    if (event.key === "Enter" && here) { event.preventDefault(); put(here); return; }
    const step = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
    if (!step || !fit.length) return;
    event.preventDefault();
    const at = fit.indexOf(here) + step + fit.length + (here || step > 0 ? 0 : 1);
    const next = fit[at % fit.length];
    next.tabIndex = -1;
    next.focus();
    const taken = next.classList.contains("held") ? ", taken: they change places" : "";
    say(`${next.getAttribute("aria-label")}${taken}`);
  });
})();
