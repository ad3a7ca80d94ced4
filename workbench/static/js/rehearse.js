// The cursor of a rehearsal: dragged, stepped, played; what is on at it stands beside.
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
    const drawing = event.target.closest(".rehearsal svg");
    if (drawing) {
      const box = drawing.getBoundingClientRect(), cursor = drawing.querySelector(".cursor");
      const x = ((event.clientX - box.left) / box.width) * drawing.viewBox.baseVal.width;
      const share = (x - Number(cursor.dataset.left)) / Number(cursor.dataset.wide);
      range.value = Math.min(Math.max(share, 0), 1) * Number(cursor.dataset.span);
      show();
    }
  });
  document.addEventListener("htmx:afterSwap", () => { stop(); show(); });
  document.addEventListener("DOMContentLoaded", show);
  show();
})();
