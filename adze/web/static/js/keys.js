// Walking the line by keyboard, and the list of keys.

import { el } from "./dom.js";

const LIST = [
  ["← →", "walk one post"], ["Shift ← →", "to the next thing fixed on the line"], ["↑ ↓", "change strand"], ["Enter", "open what is here at Ground"],
  ["l", "log a reading here"], ["s", "next season"], ["Ctrl Z, Ctrl Y", "undo, redo"], ["Delete", "take off what is chosen"], ["Alt ← → ↑ ↓", "move what is chosen 1 m, with Shift 10 m"], ["Ctrl A", "choose everything on the ground"], ["Esc", "give up drawing, or what is shown"], ["?", "this list"],
];

export function mountKeys(bench) {
  const dialog = document.getElementById("dialog");
  function help() {
    dialog.replaceChildren(el("h2", { id: "dialog-title" }, "Keys"), ...LIST.map(([keys, deed]) => el("div", { class: "row2" }, el("span", {}, deed), el("span", {}, el("kbd", {}, keys)))),
      el("form", { method: "dialog", class: "acts" }, el("button", { class: "act main" }, "Close")));
    dialog.showModal();
  }

  function walk(way, far) {
    const route = bench.routes[bench.route];
    const at = bench.routeDistance();
    if (!route || at === null) return;
    if (!far) { bench.standOnRoute(Math.min(route.length_m, Math.max(0, at + way * bench.spacingOn(bench.place.run)))); return; }
    const stops = bench.way.marks.map((m) => m.at_m).filter((m) => (way > 0 ? m > at + 0.1 : m < at - 0.1));
    if (stops.length) bench.standOnRoute(way > 0 ? Math.min(...stops) : Math.max(...stops));
  }

  function cycle() {
    const seasons = ["dry", "usual", "wet"];
    bench.choose({ season: seasons[(seasons.indexOf(bench.season) + 1) % 3] });
  }

  document.getElementById("help").addEventListener("click", help);
  document.addEventListener("keydown", (event) => {
    if (event.defaultPrevented || event.target.closest("input, select, textarea, dialog[open]")) return;
    const control = event.ctrlKey || event.metaKey;
    if (control && event.key.toLowerCase() === "z") { event.preventDefault(); bench.post(event.shiftKey ? "/redo" : "/undo"); return; }
    if (control && event.key.toLowerCase() === "y") { event.preventDefault(); bench.post("/redo"); return; }
    if (control || event.altKey) return;
    const fence = bench.fenceOf(bench.place?.run)?.strands.length ?? 1;
    const deeds = {
      ArrowLeft: () => walk(-1, event.shiftKey), ArrowRight: () => walk(1, event.shiftKey),
      ArrowUp: () => bench.choose({ strand: Math.min(fence - 1, bench.strand + 1) }), ArrowDown: () => bench.choose({ strand: Math.max(0, bench.strand - 1) }),
      s: cycle, "?": help, l: () => { location.href = readingAddress(bench); },
      Enter: () => { if (bench.stage !== "ground") location.href = `/plans/${bench.plan}/ground`; },
    };
    const deed = deeds[event.key];
    if (!deed || (event.key === "Enter" && event.target.closest("a, button"))) return;
    if (event.key.startsWith("Arrow")) event.preventDefault();
    deed();
  });
}

export function readingAddress(bench) {
  const query = bench.place ? `?${new URLSearchParams({ run: bench.place.run, at_m: bench.place.at_m.toFixed(1), strand: bench.strand + 1, season: bench.season })}` : "";
  return `/plans/${bench.plan}/log/reading${query}`;
}
