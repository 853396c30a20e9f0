// A shop's price list from a file: shown as text first, so that it can be looked at before it is brought in.

class PriceFile {
  constructor(bench) {
    this.bench = bench;
    document.getElementById("bench").addEventListener("change", ({ target }) => {
      if (target.id === "prices-file" && target.files.length) this.read(target);
    });
  }

  async read(input) {
    const origin = document.getElementById("prices-csv");
    try {
      const { text } = await this.bench.api.send("/price-text", input.files[0]);
      origin.value = text;
      origin.focus();
    } catch (error) {
      const { message, body } = error;
      const faults = body?.faults ?? [{ path: "bring_prices.text", message }];
      this.bench.tell("refused", { message, faults, origin });
    }
    input.value = "";
  }
}

export function mount(bench) {
  return new PriceFile(bench);
}
