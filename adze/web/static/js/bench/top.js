// The top bar and the rail: season, units, undo and redo, how each stage stands.

import { mark } from "../basics/dom.js";

const byId = (id) => document.getElementById(id);

function press(group, key, value) {
  for (const button of byId(group).children) {
    button.classList.toggle("on", button.dataset[key] === value);
    button.setAttribute("aria-pressed", button.dataset[key] === value);
  }
}

function show(bench) {
  press("seasons", "season", bench.season);
  press("units", "units", bench.units);
  byId("undo").disabled = !bench.canUndo;
  byId("redo").disabled = !bench.canRedo;
  const tried = bench.doc.what_ifs.length;
  byId("tried").hidden = !tried;
  byId("tried").textContent = `What if: ${tried} thing${tried > 1 ? "s" : ""} gone wrong`;
}

/** The parts' line begins with a sum of money. */
const inMoney = ({ shared }, link) => (link.dataset.stage === "parts" && shared.currency ? `${shared.currency} ` : "");

function rail(bench) {
  for (const link of document.querySelectorAll("#rail .stage")) {
    const stage = bench.forecast?.stages?.[link.dataset.stage];
    if (!stage) continue;
    const bad = stage.status === "fails" || stage.status === "marginal";
    link.querySelector("[data-mark]").replaceChildren(mark(stage.status));
    link.querySelector("[data-line]").textContent = bad
      ? `${stage.status}: ${stage.line}`
      : inMoney(bench, link) + stage.line;
  }
}

export function mountTop(bench) {
  // On a phone the stages are a row that is scrolled: the current one is in sight.
  const [row, now] = [byId("rail"), document.querySelector("#rail [aria-current]")];
  row.scrollLeft = now.offsetLeft - (row.clientWidth - now.offsetWidth) / 2;
  byId("seasons").addEventListener("click", ({ target }) => {
    if (target.dataset.season) bench.choose({ season: target.dataset.season });
  });
  const more = byId("more");
  document.addEventListener("click", ({ target }) => {
    if (!target.closest(".top")) more.open = false;
  });
  more.addEventListener("keydown", ({ key }) => {
    if (key === "Escape") more.open = false;
  });
  byId("units").addEventListener("click", ({ target }) => {
    const { units } = target.dataset;
    if (units && units !== bench.units) bench.do({ do: "set_units", units });
  });
  byId("undo").addEventListener("click", () => bench.post("/undo"));
  byId("redo").addEventListener("click", () => bench.post("/redo"));
  bench.on("state", () => {
    show(bench);
    rail(bench);
    const name = document.querySelector(".crumb input");
    if (document.activeElement !== name) name.value = bench.doc.name;
  });
  bench.on("season", () => show(bench));
  show(bench);
  rail(bench);
}
