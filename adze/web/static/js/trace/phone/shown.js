// The page of a search in the field: which part of it stands, and what it says.

import { el } from "../../basics/dom.js";
import { drawSearch } from "./drawn.js";
import "../words/mend_note.js";

const find = (id) => document.getElementById(id);

const row = (...cells) => el("tr", {}, ...cells.map((cell, k) => el("td", { class: k ? "n" : null }, cell)));

/** Words in a line of the page, or the line away. */
export function say(id, words) {
  find(id).textContent = words;
  find(id).hidden = !words;
}

/** The part of the page that stands: none, checked, unit, lead, step or ended. */
export function stand(when) {
  for (const part of document.querySelectorAll("[data-when]")) part.hidden = part.dataset.when !== when;
}

/** The next step and how it stands. */
export function showSearch(shown, field) {
  const { nextStep, words } = shown;
  say("search-surprise", shown.surprise);
  say("search-gain", shown.gain);
  say("search-strands-say", shown.strands);
  say("search-spurs-say", shown.spurs);
  say("search-title", words.title);
  say("search-far", [words.howFar, words.leg && `amps on ${words.leg}`].filter(Boolean).join("; "));
  say("search-reason", words.reason);
  for (const part of document.querySelectorAll("[data-next-step]")) part.hidden = part.dataset.nextStep !== nextStep.do;
  for (const part of document.querySelectorAll("[data-amps]")) part.hidden = !shown.showsAmps;
  find("search-early").hidden = !shown.early;
  find("search-early").textContent = shown.early;
  find("search-switch-there").textContent = nextStep.opens ? "It is open" : "It is shut";
  find("search-means").replaceChildren(
    ...words.means.map(([when, means]) => el("tr", {}, el("td", {}, el("b", {}, when)), el("td", {}, means))),
  );
  find("search-look-for").hidden = !words.lookFor.length;
  find("search-look-for").lastElementChild.replaceChildren(
    ...words.lookFor.map(([label, shows]) => el("tr", {}, el("td", {}, el("b", {}, label), `: ${shows}`))),
  );
  const clear = shown.clear ? [row("No fault that matters", el("b", {}, shown.clear))] : [];
  find("search-stands").replaceChildren(...clear, ...shown.stands.map((one) => row(...one)));
  find("search-stretches").replaceChildren(...shown.stretches.map((one) => row(...one)));
  drawSearch(find("search-map"), shown, field);
  if (shown.at) {
    // What is found is mostly found where one was sent.
    find("search-found-run").value = shown.at.run;
    find("search-found-at").value = `${shown.at.at_m} m`;
  }
  for (const input of document.querySelectorAll('[data-step="kv"], [data-step="amps"], [data-step="strand_kv"]'))
    input.value = "";
}

/** What was done, the newest first; what waits on the device says so, what was refused says why. */
export function showSteps(steps, waiting, says, dropRefused) {
  const gone = new Set(waiting.map(({ step }) => step.of));
  const stands = ({ step }) => step.what !== "undo" && !gone.has(step.once);
  const own = waiting.filter(stands).map(({ words }) => [words[0], `${words[1]} (waits)`]);
  const known = steps.filter(({ once }) => !gone.has(once)).map(({ words }) => words);
  const rows = [...known, ...own];
  find("search-steps").replaceChildren(...rows.toReversed().map((one) => row(...one)));
  find("search-so-far").hidden = !rows.length;
  const refused = waiting.filter((one) => one.refused);
  const count = waiting.length;
  const line = find("search-waits");
  line.hidden = !count;
  line.textContent = count ? `${count} on this device wait${count === 1 ? "s" : ""} to be sent. ${says}` : "";
  for (const one of refused) line.append(` Refused (${one.words.filter(Boolean).join(", ")}): ${one.refused}`);
  if (refused.length)
    line.append(
      " ",
      el("button", { class: "act small", type: "button", onclick: dropRefused }, "Delete refused entries"),
    );
}

/** Lines to choose from, in every form that asks for a place, and switches. */
export function offerLines({ runs, switches }) {
  const options = Object.entries(switches).map(([id, name]) => el("option", { value: id }, name));
  const list = find("search-switch");
  offer(list, options);
  document.querySelector("[data-switches]").hidden = !options.length;
  for (const select of document.querySelectorAll('select[data-step="run"]:not([data-own])')) {
    offer(
      select,
      runs.map(({ id, name }) => el("option", { value: id }, name)),
    );
  }
}

/** Options of a list anew where they are others; what was chosen stays chosen where it still is there. */
function offer(list, options) {
  const words = (own) => Array.from(own, ({ value, textContent }) => `${value} ${textContent}`).join();
  if (words(list.options) === words(options)) return;
  const { value } = list;
  list.replaceChildren(...options);
  if (options.some((option) => option.value === value)) list.value = value;
}

/** A fault of what was typed beside its input, and the one before away. */
export function showFault(form, error) {
  for (const old of document.querySelectorAll(".fault")) old.remove();
  if (!error) return;
  const input = form?.querySelector(`[data-step="${error.field}"]`);
  const words = el("span", { class: "fault", role: "alert" }, error.message);
  if (input) input.after(words);
  else find("search-says").after(words);
  input?.focus();
}
