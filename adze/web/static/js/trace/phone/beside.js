// What goes beside a search on the page in the field: strands read one by one, parts from the shed, photos.

import { token } from "../../basics/api.js";
import { el } from "../../basics/dom.js";
import { lengthOf } from "../../basics/geometry.js";
import { kvWords, M_PER_FT } from "../../basics/scales.js";
import { keep } from "./queue.js";
import { say } from "./shown.js";
import { shedLeft } from "./standing.js";
import { strandsAt } from "../words/strands.js";
import { metresOf } from "./figures.js";

const PASSED_M = 15; // so near the way one stands before it

const find = (id) => document.getElementById(id);

/** Keep a photo on the device, of the search that one of its steps says. Words where there is no room for it. */
export async function keepPhoto(plan, of, input) {
  const [photo] = input.files;
  if (!photo) return "";
  const typed = { what: "photo", of, once: token() };
  const step = { what: "photo", once: typed.once };
  try {
    await keep({ plan, typed, photo, step, words: [`Photo ${photo.name}`, ""] });
  } catch {
    return "The photo is not kept: this device has no space. Free some, or add it on the page of Trace.";
  }
  input.value = "";
  return "";
}

/** Strands, parts and photos as they can be given now. */
export function offerBeside(field, known, waits, shown) {
  offerStrands(field);
  offerLater(known.later ?? [], waits, shown); // none in what an earlier version kept
  offerShed(shedLeft(known, waits));
  const waiting = waits.filter(({ photo }) => photo).length;
  const words = [known.photos && `${known.photos} kept`, waiting && `${waiting} on this device`].filter(Boolean);
  find("search-photos").textContent = words.length ? `Photos: ${words.join(", ")}.` : "";
}

/** What is noted for later, here and on the server; what of it the way to the next place passes. */
function offerLater(later, waits, shown) {
  const own = waits.filter(({ step, refused }) => step.what === "later" && !refused);
  const here = own.map(({ step }) => ({ ...step, words: `${step.label} (waits)` }));
  const rows = [...later, ...here];
  find("search-noted").replaceChildren(...rows.map(({ words }) => el("li", {}, words)));
  const isPassed = ({ run, at_m: atM }) =>
    shown?.passes.some((way) => way.run === run && atM > way.from - PASSED_M && atM < way.to + PASSED_M);
  const passed = rows.filter(isPassed).map(({ words }) => words);
  say("search-passed", passed.length ? `On the way, noted for later: ${passed.join("; ")}.` : "");
}

function offerShed(shed) {
  find("search-shed").hidden = !shed.length;
  const select = find("search-part");
  const options = shed.map(({ part, label, quantity, unit }) =>
    el("option", { value: part }, `${label} (${quantity} ${unit})`),
  );
  const now = options.map(({ textContent }) => textContent).join();
  if (select.dataset.offered === now) return;
  const { value } = select;
  select.replaceChildren(...options);
  select.dataset.offered = now;
  if (shed.some(({ part }) => part === value)) select.value = value;
}

/** The lines whose strands can be told apart, and an input for each strand of the one that is chosen. */
function offerStrands(field) {
  const { strands, runs, units } = field;
  const [select, at] = [find("search-strands-run"), find("search-strands-at")];
  find("search-strands").hidden = !strands.length;
  const name = (run) => runs.find(({ id }) => id === run).name;
  if (!strands.length || select.dataset.mark === field.mark) return;
  select.dataset.mark = field.mark;
  select.replaceChildren(...strands.map(({ run }) => el("option", { value: run }, name(run))));
  const chosen = () => {
    const metres = lengthOf(runs.find(({ id }) => id === select.value).points);
    at.value = (units === "imperial" ? metres / M_PER_FT : metres).toFixed(0);
    const rows = strandsAt(strands, select.value, metres);
    find("search-strands-rows").replaceChildren(...rows.map(strandRow));
  };
  const moved = () => {
    const rows = strandsAt(strands, select.value, metresOf(at.value, units) || 0);
    rows.forEach(({ wellKv }, k) => (find(`search-strand-${k}-well`).textContent = wellWords(wellKv)));
  };
  select.onchange = chosen;
  at.oninput = moved;
  chosen();
}

const wellWords = (kv) => `well, there: ${kvWords(kv)} kV`;

function strandRow({ words, wellKv }, k) {
  const id = `search-strand-${k}`;
  const typed = { class: "form-control short-figure", id, inputmode: "decimal", "data-step": "strand_kv" };
  return el(
    "tr",
    {},
    el("td", {}, el("label", { for: id }, words)),
    el("td", { class: "n soft", id: `${id}-well` }, wellWords(wellKv)),
    el("td", { class: "n" }, el("input", typed)),
  );
}
