// The overview: fixes are looked up one after the other, done by one press, and taken back by Undo.

import { Api, ServerError, token } from "../basics/api.js";

const root = document.getElementById("overview");
const body = document.getElementById("over-body");
const say = document.getElementById("say");
const api = new Api(root.dataset.plan, root.dataset.csrf);

function tell(words) {
  say.textContent = words;
  say.hidden = !words;
}

/** Ask, and say in one line what went wrong. */
async function asked(path, wish = {}) {
  try {
    return await api.ask(path, wish);
  } catch (error) {
    if (!(error instanceof ServerError)) throw error;
    tell(error.message);
    return null;
  }
}

async function change(path, more = {}) {
  document.body.toggleAttribute("aria-busy", true);
  const seen = { edition: Number(root.dataset.edition), based_on: Number(root.dataset.revision) };
  const done = await asked(path, { method: "POST", body: { ...more, ...seen, once: token() } });
  document.body.toggleAttribute("aria-busy", false);
  if (done) location.reload();
}

/** A change that mends an earlier finding too has one button, there. */
function onceOnly(parts, offered) {
  const button = /** @type {HTMLElement} */ (parts.querySelector("[data-mend]"));
  const key = button?.dataset.mend;
  if (key && offered.has(key)) {
    button.remove();
    parts.querySelector("[data-part=fix]").textContent = "The same change as above fixes this.";
  }
  offered.add(key);
}

/** One finding after the other: each answer is several tries of the whole plan. */
async function lookUpFixes() {
  const offered = new Set();
  for (const row of body.querySelectorAll("[data-finding]")) {
    const told = await asked(`/fix/${row.getAttribute("data-finding")}`);
    if (!told) return;
    const parts = new DOMParser().parseFromString(told.html, "text/html");
    onceOnly(parts, offered);
    for (const [name, place] of [
      ["fix", "[data-fix]"],
      ["do", "[data-do]"],
    ]) {
      row.querySelector(place).replaceChildren(...parts.querySelector(`[data-part=${name}]`).childNodes);
    }
    row.toggleAttribute("data-ready", true);
  }
}

/** What else would mend a finding, looked up when it is opened: each is tried on the whole plan. */
async function lookUpOthers(row) {
  const box = row.querySelector("[data-other]");
  if (box.childElementCount) return;
  box.textContent = "Looking for other ways …";
  const told = await asked(`/fix/${row.getAttribute("data-finding")}/others`);
  if (told) box.innerHTML = told.html;
  else box.textContent = "";
}

async function preview() {
  const dialog = /** @type {HTMLDialogElement} */ (document.getElementById("mended"));
  tell("Trying every fix on the whole plan …");
  const told = await asked("/mended");
  if (!told) return;
  tell("");
  dialog.innerHTML = told.html;
  dialog.showModal();
}

document.addEventListener("click", (event) => {
  const pressed = /** @type {HTMLElement} */ (event.target).closest("button");
  if (!pressed) return;
  if (pressed.dataset.mend) void change("/operations", { operation: { do: "do_remedy", key: pressed.dataset.mend } });
  if ("undo" in pressed.dataset) void change("/undo");
  if ("preview" in pressed.dataset) void preview();
  if ("shut" in pressed.dataset) pressed.closest("dialog").close();
});

body.addEventListener(
  "toggle",
  ({ target }) => {
    const part = /** @type {HTMLDetailsElement} */ (target);
    if ("others" in part.dataset && part.open) void lookUpOthers(part.closest("[data-finding]"));
  },
  true,
);

if (body.querySelector("[data-pending]")) {
  const told = await asked("/overview");
  if (told) {
    body.innerHTML = told.html;
    document.getElementById("rail").outerHTML = told.rail;
  }
}
await lookUpFixes();
