// The cursor of a rehearsal: dragged, stepped, played; what is on at it stands beside. Fields of a
// rule that its kind does not want are put away.
(() => {
  "use strict";
  const bar = () => document.querySelector(".cursor-bar");
  const slider = () => document.getElementById("cursor");
  let playing = 0;

  function show() {
    const here = bar(), range = slider();
    if (!here || !range) return;
    const t = Number(range.value);
    const cursor = document.querySelector(".rehearsal .cursor");
    if (cursor) {
      const { left, wide, span } = cursor.dataset;
      const x = Number(left) + Number(wide) * Math.min(t / Number(span), 1);
      const line = cursor.querySelector("path");
      const [, top, bottom] = line.getAttribute("d").match(/^M\S+ (\S+?)L\S+ (\S+)$/);
      line.setAttribute("d", `M${x} ${top}L${x} ${bottom}`);
    }
    document.getElementById("cursor-time").textContent = `${t.toFixed(3)} s`;
    document.getElementById("script-at").value = String(t);
    const now = document.getElementById("now");
    now.replaceChildren(...JSON.parse(here.dataset.levels).map(({ name, points }) => {
      const last = points.filter(([when]) => when <= t + 1e-9).pop();
      const item = document.createElement("li");
      const state = last ? last[1] : "off";
      item.textContent = `${name} ${state}`;
      item.className = state === "off" || state === "0 %" ? "" : "is-on";
      return item;
    }));
  }

  function stop() {
    cancelAnimationFrame(playing);
    playing = 0;
    const button = document.querySelector("[data-play]");
    if (button) button.textContent = "Play";
  }

  function play() {
    const range = slider(), button = document.querySelector("[data-play]");
    if (playing) { stop(); return; }
    if (Number(range.value) >= Number(range.max)) range.value = 0;
    button.textContent = "Pause";
    // Short runs in their own time, long ones within twenty seconds.
    const speed = Math.max(1, Number(range.max) / 20);
    let before = performance.now();
    const frame = (now) => {
      if (!range.isConnected) { stop(); return; }
      range.value = Number(range.value) + ((now - before) / 1000) * speed;
      before = now;
      show();
      if (Number(range.value) >= Number(range.max)) stop();
      else playing = requestAnimationFrame(frame);
    };
    playing = requestAnimationFrame(frame);
  }

  // A press in an input's lane draws its reading there: a contact changes, a level is as high as
  // the press.
  function draw(hit, event) {
    const drawing = hit.ownerSVGElement, box = drawing.getBoundingClientRect();
    const { sense, low, high, on, off } = hit.dataset;
    const { left, wide, span } = drawing.querySelector(".cursor").dataset;
    const x = ((event.clientX - box.left) / box.width) * drawing.viewBox.baseVal.width;
    const t = ((x - Number(left)) / Number(wide)) * Number(span);
    const last = (times) => Math.max(-1, ...times.split(" ").filter(Boolean).map(Number)
      .filter((when) => when <= t));
    let value = last(on) > last(off) ? "off" : "on";
    if (low !== undefined) {
      const lane = hit.getBoundingClientRect();
      const share = 1 - (event.clientY - lane.top) / lane.height;
      value = (Number(low) + share * (Number(high) - Number(low))).toPrecision(3);
    }
    const script = document.getElementById("script");
    script.value = `${script.value.trim()}\n${t.toPrecision(4)} ${sense} ${value}`.trim();
    document.getElementById("script-form").requestSubmit();
  }

  document.addEventListener("input", (event) => { if (event.target.id === "cursor") show(); });
  document.addEventListener("click", (event) => {
    const here = bar(), range = slider();
    if (!here || !range) return;
    if (event.target.closest("[data-play]")) { play(); return; }
    const by = event.target.closest("[data-by]");
    if (by) {
      range.value = Number(range.value) + Number(by.dataset.by) * Number(here.dataset.step);
      show();
    }
    if (event.target.closest("[data-next]")) {
      const stops = JSON.parse(here.dataset.stops);
      range.value = stops.find((t) => t > Number(range.value) + 1e-9) ?? stops[0] ?? 0;
      show();
    }
    const hit = event.target.closest(".rehearsal .hit");
    if (hit) { draw(hit, event); return; }
    const drawing = event.target.closest(".rehearsal svg");
    if (drawing) {
      const box = drawing.getBoundingClientRect(), cursor = drawing.querySelector(".cursor");
      const x = ((event.clientX - box.left) / box.width) * drawing.viewBox.baseVal.width;
      const share = (x - Number(cursor.dataset.left)) / Number(cursor.dataset.wide);
      range.value = Math.min(Math.max(share, 0), 1) * Number(cursor.dataset.span);
      show();
    }
  });
  // Fields a choice does not want are put away; without a script all of them stand there.
  function putAway(form) {
    const wants = JSON.parse(form.querySelector("[data-wants]").dataset.wants);
    const first = form.querySelector("select"), wanted = wants[first.value] || [];
    for (const field of form.querySelectorAll(".field select")) {
      if (field !== first) field.closest(".field").hidden = !wanted.includes(field.name);
    }
  }
  const all = () => document.querySelectorAll("form:has([data-wants])").forEach(putAway);
  document.addEventListener("change", (event) => {
    const form = event.target.closest("form");
    if (form?.querySelector("[data-wants]")) putAway(form);
  });

  const begin = () => { stop(); show(); all(); };
  document.addEventListener("htmx:afterSwap", begin);
  document.addEventListener("DOMContentLoaded", begin);
  begin();
})();
