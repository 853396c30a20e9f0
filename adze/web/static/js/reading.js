// The field page: big keys for a thumb, and the reading against the forecast as it is typed.

const form = document.getElementById("reading");

function mount() {
  const kv = document.getElementById("kv");
  const says = document.getElementById("says");
  const forecast = says.innerHTML;
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
          ? ` This is ${off.toFixed(1)} low: something leaks that the plan does not know.`
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
      ["run", "at_m", "strand", "season", "kv", "amps", "way", "note"].map((k) => [k, data.get(k)]),
    );
    if (Number.isNaN(Number(data.get("at_m")))) return;
    location.search = query;
  });
  tell();
}

if (form) mount();
