// What only the browser can do: keys, stepping along preferred values, copying, marking a node,
// noticing another tab.
(() => {
  "use strict";
  const $ = (selector, root = document) => root.querySelector(selector);
  const field = /^(INPUT|TEXTAREA|SELECT)$/;
  const typing = (el) => el && (field.test(el.tagName) || el.isContentEditable);

  // What somebody is typing right now is never overwritten by an answer to something sent before.
  // A button that has the focus is no such thing: what it says and sends is brought up to date.
  document.addEventListener("htmx:beforeSwap", () => {
    if (!window.Idiomorph) return;
    Idiomorph.defaults.ignoreActiveValue = Boolean(typing(document.activeElement));
  });

  // A form marked so sends itself when a field changes; pressing Enter also submits it, and once is
  // enough.
  document.addEventListener("submit", (event) => {
    event.target.sentAt = performance.now();
    const busy = event.target.matches("[data-busy]") && $(".busy", event.target);
    if (busy) { busy.hidden = false; waitFor(event.target, busy); }
  }, true);
  // A long import says how many rows it has judged, under a token of this page's own.
  function waitFor(form, busy) {
    const field = $("input[name=token]", form), words = $(".busy-words", form);
    if (!field) return;
    field.value = `${Date.now()}-${Math.random().toString(36).slice(2, 10)}`;
    const ask = async () => {
      const answer = await fetch(`/progress/?token=${field.value}`).catch(() => null);
      const { done, of } = answer?.ok ? await answer.json() : {};
      if (of) {
        busy.max = of;
        busy.value = done;
        words.textContent = `${done} of ${of} rows judged`;
      }
      setTimeout(ask, 150);
    };
    setTimeout(ask, 150);
  }
  document.addEventListener("change", (event) => {
    const form = event.target.closest("form[data-auto]");
    if (!form) return;
    const changedAt = performance.now();
    setTimeout(() => {
      if (!(form.sentAt >= changedAt) && form.isConnected) form.requestSubmit();
    }, 0);
  });

  document.addEventListener("keydown", (event) => {
    const el = event.target;
    if (event.key === "Escape" && typing(el)) { el.blur(); $("#main")?.focus(); return; }
    if (el.dataset?.series && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
      event.preventDefault();
      stepValue(el, event.key === "ArrowUp" ? "up" : "down");
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || typing(el) || $("dialog[open]")) return;
    if (event.key === "?") { $("#keys").showModal(); return; }
    if (event.key === "w") {
      const all = [...document.querySelectorAll("details.margin, details.working-fold")];
      const open = !all.every((d) => d.open);
      all.forEach((d) => { d.open = open; });
      return;
    }
    if (event.key === "j" && !$('[data-key="j"]')) { $("[data-first]")?.click(); return; }
    if (event.key === "f" && $("#verdict")) { event.preventDefault(); nextFinding(); return; }
    if (event.key === "b") {
      const begin = $("input[data-begin], form[data-begin] select");
      if (begin) { event.preventDefault(); begin.focus(); } else { $('[data-key="1"]')?.click(); }
      return;
    }
    const target = $(`[data-key="${CSS.escape(event.key)}"]`);
    if (target && !target.disabled) { event.preventDefault(); target.click(); }
  });

  // From one finding to the next and round again; where there is none, to the verdict that says so.
  function nextFinding() {
    const all = [...document.querySelectorAll("#verdict .finding")];
    const at = all.indexOf(document.activeElement.closest(".finding"));
    const next = all[(at + 1) % all.length] || $("#verdict");
    next.tabIndex = -1;
    next.focus();
    next.scrollIntoView({ block: "nearest" });
  }

  async function stepValue(field, way) {
    const text = field.value || field.placeholder.split(" ")[0];
    const typed = encodeURIComponent(text);
    const asked = `/step/?series=${field.dataset.series}&way=${way}&text=${typed}`;
    const answer = await fetch(asked);
    const found = await answer.json();
    const echo = document.getElementById(`${field.id}-echo`);
    if (!answer.ok) { echo.textContent = found.error; return; }
    field.value = found.text; echo.textContent = found.echo;
    clearTimeout(field.stepping);
    const changed = () => field.dispatchEvent(new Event("change", { bubbles: true }));
    field.stepping = setTimeout(changed, 450);
  }

  document.addEventListener("click", (event) => {
    // A press on a photo fills in its place, in hundredths, for the pin that is to be named there.
    const photo = event.target.closest("[data-photo]");
    if (photo) {
      const box = photo.getBoundingClientRect();
      $("#pin-across").value = `${(((event.clientX - box.left) / box.width) * 100).toFixed(1)} %`;
      $("#pin-down").value = `${(((event.clientY - box.top) / box.height) * 100).toFixed(1)} %`;
      $("#pin-name").focus();
    }
    const opener = event.target.closest("[data-open]");
    if (opener) document.getElementById(opener.dataset.open).showModal();
    if (event.target.closest("[data-print]")) window.print();
    const copy = event.target.closest("[data-copy]");
    if (copy) {
      const lines = [...copy.parentElement.querySelectorAll("code")].map((c) => c.textContent);
      navigator.clipboard?.writeText(lines.join("\n")).then(
        () => { copy.textContent = "Copied"; },
        () => { copy.textContent = "Select and copy by hand"; },
      );
    }
  });

  // A finding or a row that names a node marks it in the drawing.
  const drawn = ".drawing [data-node], .drawing [data-nodes]";
  const mark = (node, on) => document.querySelectorAll(drawn).forEach((el) => {
    const here = el.dataset.node === node || (el.dataset.nodes || "").split(" ").includes(node);
    if (here) el.classList.toggle("lit", on);
  });
  const lights = { mouseover: true, mouseout: false, focusin: true, focusout: false };
  for (const [name, on] of Object.entries(lights)) {
    document.addEventListener(name, (event) => {
      const el = event.target.closest?.(".finding[data-node]");
      if (el) mark(el.dataset.node, on);
    });
  }

  // A tab that was left open is told when the build has moved on.
  document.addEventListener("visibilitychange", async () => {
    const work = $("#work");
    if (document.visibilityState !== "visible" || !work) return;
    const answer = await fetch(`/builds/${work.dataset.build}/version/`).catch(() => null);
    if (!answer?.ok) return;
    const newer = $("#newer");
    newer.hidden = String((await answer.json()).version) === work.dataset.version;
    if (!newer.hidden) $("a", newer).href = location.href;
  });
  document.addEventListener("htmx:afterSwap", () => { $("#newer").hidden = true; });

  // A fold somebody opened stays open when the page answers to what was changed in it.
  const foldOf = (fold) => fold.id || `${fold.className} ${$("summary", fold)?.textContent.trim()}`;
  let opened = new Set();
  document.addEventListener("htmx:beforeSwap", () => {
    opened = new Set([...document.querySelectorAll("#work details[open]")].map(foldOf));
  });
  document.addEventListener("htmx:afterSwap", () => {
    for (const fold of document.querySelectorAll("#work details")) {
      if (opened.has(foldOf(fold))) fold.open = true;
    }
  });

  // A change that could not be sent is said, and stays in its field.
  for (const name of ["htmx:sendError", "htmx:responseError", "htmx:timeout"]) {
    document.addEventListener(name, () => {
      const says = $(".says");
      if (!says) return;
      says.textContent =
        "Not saved: the program did not answer. What you typed is still in its field.";
      says.classList.add("wrong");
    });
  }
})();
