// Every drawing as a file of its own, with what it looks like put into it.
(() => {
  "use strict";
  const LOOKS = ["fill", "fill-opacity", "stroke", "stroke-width", "stroke-dasharray",
    "stroke-linecap", "opacity", "font-family", "font-size", "font-weight", "text-anchor"];

  // As it looks in daylight, each shape by itself: a file has no style sheet beside it.
  function dressed(svg) {
    const copy = svg.cloneNode(true);
    const root = document.documentElement;
    const before = root.dataset.look;
    root.dataset.look = "light";
    const shapes = svg.querySelectorAll("*");
    copy.querySelectorAll("*").forEach((shape, n) => {
      const seen = getComputedStyle(shapes[n]);
      for (const name of LOOKS) shape.style.setProperty(name, seen.getPropertyValue(name));
    });
    root.dataset.look = before;
    return copy;
  }

  function save(svg) {
    const copy = dressed(svg);
    const box = svg.viewBox.baseVal;
    copy.setAttribute("width", box.width);
    copy.setAttribute("height", box.height);
    copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
    const text = '<?xml version="1.0" encoding="UTF-8"?>\n' + new XMLSerializer().serializeToString(copy);
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type: "image/svg+xml" }));
    const words = (svg.getAttribute("aria-label") || "drawing").toLowerCase();
    link.download = words.replace(/[^a-z0-9]+/g, "-").replace(/^-|-$/g, "").slice(0, 60) + ".svg";
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 1000);
  }

  function begin() {
    for (const figure of document.querySelectorAll("figure.paper, .drawing-panel")) {
      const svg = figure.querySelector("svg.drawing");
      if (!svg || figure.querySelector(".save-svg")) continue;
      const button = document.createElement("button");
      button.type = "button";
      button.className = "save-svg";
      button.textContent = "as SVG";
      button.setAttribute("aria-label", `Save as SVG: ${svg.getAttribute("aria-label") || "drawing"}`);
      button.addEventListener("click", () => save(svg));
      figure.append(button);
    }
  }
  document.addEventListener("DOMContentLoaded", begin);
  document.addEventListener("htmx:afterSettle", begin);
})();
