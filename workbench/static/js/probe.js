// A press on a wire of the bench's drawing puts a tip there and reads.
(() => {
  "use strict";
  document.addEventListener("click", (event) => {
    const figure = event.target.closest(".probe-drawing");
    const wire = event.target.closest("[data-node]");
    const form = document.getElementById("probe");
    if (!figure || !wire || !form) return;
    const point = JSON.parse(figure.dataset.points)[wire.dataset.node];
    if (!point) return;
    form.elements[event.shiftKey ? "black" : "red"].value = point;
    form.requestSubmit();
  });
})();
