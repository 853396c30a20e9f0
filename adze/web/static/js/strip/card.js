// The stand card: what a tester and an animal would meet where you stand.

import { el, mark } from "../basics/dom.js";
import { openKept } from "../basics/drafts.js";
import { PlaceBar } from "../bench/place_bar.js";
import { heightWords } from "../basics/scales.js";

function figure(value, words) {
  return el("span", { class: "figure" }, value, " ", el("small", {}, words));
}

const HEADS = { dead: "kV, live strands beside it", off: "kV, live strands beside it" };
const ROLES = { off: "carries nothing now" };

function table() {
  const rows = el("div", { class: "rows" });
  const row = (left, ...right) =>
    rows.append(el("div", { class: "row2" }, el("span", {}, left), el("span", {}, ...right)));
  return { rows, row };
}

function rowsOf(card) {
  const { rows, row } = table();
  let path = "";
  for (const t of card.touches) {
    const name = `${t.animal[0].toUpperCase()}${t.animal.slice(1)}`;
    row(t.path === path ? name : `${name}, ${t.path}`, `${t.kv} kV · ${t.joules}`, mark(t.status));
    ({ path } = t);
  }
  if (card.earth_strand_kv !== null)
    row(
      "Earth strand, to soil",
      `${card.earth_strand_kv} kV`,
      el("span", { class: "soft" }, "lost on it and at the rods"),
    );
  for (const own of card.apart) {
    const words = own.fed ? "apart from the others" : "fed by nothing: what couples over";
    row(`${own.strands[0].toUpperCase()}${own.strands.slice(1)}, ${words}`, `${own.kv} kV`);
  }
  return rows;
}

/** Amps and the true peak: for who asks. */
function moreOf(card) {
  const { rows, row } = table();
  row("Current lost beyond here", `${card.leak_a} A`, el("span", { class: "soft" }, card.leak_way));
  row("A tester shows at its peak", `${card.pulse_a} A`);
  row("The pulse's true peak, to soil", `${card.true_kv} kV`);
  return el(
    "details",
    { id: "fold-amps", "data-kept": "" },
    el("summary", { class: "small" }, "Amps, true peak"),
    rows,
  );
}

class Card {
  constructor(bench) {
    this.bench = bench;
    this.root = document.getElementById("stand");
    this.bar = new PlaceBar(bench);
    this.asking = null;
    this.timer = 0;
    for (const event of ["place", "season", "state"]) this.bench.addEventListener(event, () => this.soon());
    this.first = this.ask(); // what the page waits for before it says that it is there
  }

  async ask() {
    this.asking?.abort();
    this.asking = new AbortController();
    if (!this.bench.place || !this.bench.doc.runs.length) {
      this.bar.show(null);
      this.root.replaceChildren(
        el("span", { class: "soft" }, "No place chosen yet"),
        el("p", {}, "Draw a line at Ground. Then press any place on it to see its kV."),
      );
      return;
    }
    const { run, at_m } = this.bench.place;
    const query = new URLSearchParams({
      run,
      at_m: at_m.toFixed(2),
      season: this.bench.season,
      strand: this.bench.strand,
    });
    try {
      this.show(await this.bench.api.ask(`/stand?${query}`, { signal: this.asking.signal }));
    } catch (error) {
      if (error.name !== "AbortError") this.root.replaceChildren(el("p", { class: "fault" }, error.message));
    }
  }

  show(card) {
    this.bar.show(card);
    if (card.blocked) {
      this.root.replaceChildren(
        el("span", { class: "soft" }, "You stand at"),
        el("h2", {}, card.where),
        el("p", { class: "why plain" }, card.blocked),
      );
      return;
    }
    const height = heightWords(card.cm, this.bench.units);
    const role = ROLES[card.role] ?? card.role;
    const strand = `post ${card.post}, strand ${card.strand} of ${card.strands} at ${height}, ${role}`;
    const figures = el("div", { class: "figures" }, figure(card.kv_soil, HEADS[card.role] ?? "kV to soil"));
    if (card.kv_earth !== null) figures.append(figure(card.kv_earth, "kV to earth strand"));
    this.root.replaceChildren(
      el("span", { class: "soft" }, "You stand at"),
      el("h2", { "data-test": "where" }, card.where),
      el("span", { class: "soft small" }, card.fixed.length ? `${strand}; here: ${card.fixed.join(", ")}` : strand),
      figures,
      rowsOf(card),
      moreOf(card),
    );
    openKept(this.root);
  }

  soon() {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.ask(), 40);
  }
}

export function mount(bench) {
  return new Card(bench);
}
