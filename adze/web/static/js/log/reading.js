// The field page: big keys for a thumb, and the reading against the forecast as it is typed.

import { token } from "../basics/api.js";
import { mountKeep } from "./field_keep.js";
import { Outbox, outcome } from "./outbox.js";

const form = document.getElementById("reading");

/** What is in the form, as it is sent. */
const fields = () => new URLSearchParams([...new FormData(form)].map(([name, value]) => [name, `${value}`]));

/** Send the form, or keep it on the device where there is no signal or nobody is signed in any more. */
function mountOutbox() {
  const outbox = new Outbox(document.getElementById("outbox"), form.elements.csrf.value);

  async function keep() {
    const once = form.elements.once.value;
    const body = fields();
    body.delete("csrf");
    const words = `${form.querySelector("h1").textContent}, ${form.elements.kv.value} kV`;
    await outbox.keep({ once, url: form.action, body: body.toString(), at: new Date().toISOString(), words });
    form.elements.once.value = token();
    for (const name of ["kv", "amps", "note"]) form.elements[name].value = "";
  }

  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    try {
      const answer = await fetch(form.action, { method: "POST", body: fields() });
      const { kept, later } = await outcome(answer);
      if (kept) location.assign(form.dataset.then);
      else if (later) await keep();
      else form.submit(); // the server's own page says what is wrong
    } catch {
      await keep();
    }
  });
}

function mount() {
  const kv = document.getElementById("kv");
  const says = document.getElementById("says");
  const forecast = says.innerHTML;
  const { why } = form.dataset;
  let into = kv;
  const { low, likely, high } = Object.fromEntries(Object.entries(form.dataset).map(([k, v]) => [k, Number(v)]));

  function tell() {
    const value = Number(kv.value.replace(",", "."));
    says.innerHTML = forecast;
    if (!kv.value || Number.isNaN(value) || Number.isNaN(likely)) return;
    const off = value < low ? low - value : value > high ? value - high : 0;
    const words =
      off < 0.05
        ? " This is as forecast."
        : value < low
          ? ` This is ${off.toFixed(1)} low: ${why ?? "the fence has a leak that is not on the plan."}`
          : ` This is ${off.toFixed(1)} high.`;
    says.append(words);
  }

  for (const input of [kv, document.getElementById("amps")])
    input.addEventListener("focus", () => {
      into = input;
    });
  document.getElementById("keys").addEventListener("click", (event) => {
    const key = event.target.closest("[data-key]")?.dataset.key;
    if (!key) return;
    into.value = key === "back" ? into.value.slice(0, -1) : into.value.length < 6 ? into.value + key : into.value;
    tell();
  });
  kv.addEventListener("input", tell);
  form.addEventListener("change", (event) => {
    if (!event.target.matches("[data-reload]")) return;
    const data = new FormData(form);
    const query = new URLSearchParams(
      ["run", "at_m", "strand", "season", "kv", "amps", "way", "note"]
        .filter((k) => data.has(k))
        .map((k) => [k, `${data.get(k)}`]),
    );
    if (Number.isNaN(Number(data.get("at_m")))) return;
    location.search = `${query}`;
  });
  tell();
}

if (form) {
  mount();
  mountOutbox();
  const keep = document.getElementById("keep-here");
  mountKeep(keep, () => JSON.parse(keep.dataset.pages));
}
