// What others do in a search meanwhile: heard while the page is looked at, shown once nothing typed would be lost.

const AGAIN_MS = 15_000;

/** Whether something is typed and not sent. */
function isTyped() {
  const controls = Array.from(document.querySelectorAll("#bench [data-step]:not([type=hidden])"));
  return controls.some((control) => {
    if (control.type === "checkbox") return control.checked !== control.defaultChecked;
    if (!control.options) return control.value !== control.defaultValue;
    const first = Array.from(control.options).findIndex(({ defaultSelected }) => defaultSelected);
    return control.selectedIndex !== Math.max(first, 0);
  });
}

class Others {
  constructor(bench) {
    this.bench = bench;
    setInterval(() => this.hear(), AGAIN_MS);
    document.addEventListener("visibilitychange", () => this.hear());
  }

  async hear() {
    const holder = document.querySelector("[data-trace-stands]");
    if (document.hidden || !holder || isTyped()) return;
    const before = holder.dataset.traceStands;
    try {
      const { stands_at: now } = await this.bench.api.ask("/trace/stands");
      if (now !== before && holder.isConnected && !isTyped()) await this.bench.refresh();
    } catch {
      // no signal: heard the next time
    }
  }
}

export const mount = (bench) => new Others(bench);
