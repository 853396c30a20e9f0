// From spectra to signed peaks in time: sought at instants and refined by a parabola.
//
// Nearly all time of a search goes here: the products are those of peaks.wat, in single precision as on the server.

const [ROWS, TILE] = [64, 4];
const [SPECTRA, WAVES] = [65536, 131072];

/** The signed peak of a wave that begins at a place. */
function refined(waves, from, count) {
  let at = from;
  for (let t = from + 1; t < from + count; t++) if (Math.abs(waves[t]) > Math.abs(waves[at])) at = t;
  at = Math.min(Math.max(at, from + 1), from + count - 2);
  const before = waves[at - 1];
  const middle = waves[at];
  const after = waves[at + 1];
  const bend = before - 2 * middle + after;
  const isBent = Math.abs(bend) > 1e-6 * Math.abs(middle) + 1e-20;
  const shift = isBent ? Math.min(Math.max((before - after) / (2 * bend), -1), 1) : 0;
  return middle + ((after - before) / 4) * shift;
}

/** A row of spectra times what the unit's stop leaves. */
function scaleBy(spectra, at, left, from, size) {
  for (let i = 0; i < size; i += 2) {
    const [re, im] = [spectra[at + i], spectra[at + i + 1]];
    spectra[at + i] = re * left[from + i] - im * left[from + i + 1];
    spectra[at + i + 1] = re * left[from + i + 1] + im * left[from + i];
  }
}

export class Peaks {
  /** From the bytes of the assembled module and the table from spectra to instants. */
  static async of(bytes, instants, size) {
    const { instance } = await WebAssembly.instantiate(bytes);
    return new Peaks(/** @type {any} */ (instance.exports), instants, size);
  }

  constructor({ memory, waves }, instants, size) {
    Object.assign(this, { size, count: instants.length / size, product: waves });
    this.spectra = new Float32Array(memory.buffer, SPECTRA, ROWS * size);
    this.waves = new Float32Array(memory.buffer, WAVES, ROWS * this.count);
    const table = new Float32Array(memory.buffer, 0, instants.length);
    for (let t = 0; t < this.count; t++)
      for (let i = 0; i < size; i++)
        table[Math.floor(t / TILE) * size * TILE + i * TILE + (t % TILE)] = instants[i * this.count + t];
  }

  /** The signed peak of one spectrum, a row of real and imaginary parts. */
  one(spectrum) {
    this.spectra.set(spectrum);
    this.product(1, this.size, this.count);
    return refined(this.waves, 0, this.count);
  }

  /** Peaks of what stands less what each chosen hypothesis drives; `does` has a row for each fault. */
  of(here, does, { fault, drive, left, chosen }) {
    const { size, count, spectra, waves } = this;
    const found = new Float64Array(chosen.length);
    for (let first = 0; first < chosen.length; first += ROWS) {
      const rows = Math.min(ROWS, chosen.length - first);
      for (let k = 0; k < rows; k++) {
        const h = chosen[first + k] * size;
        const from = fault[chosen[first + k]] * size;
        const at = k * size;
        for (let i = 0; i < size; i += 2) {
          const re = does[from + i];
          const im = does[from + i + 1];
          const pre = drive[h + i];
          const pim = drive[h + i + 1];
          spectra[at + i] = here[i] - (re * pre - im * pim);
          spectra[at + i + 1] = here[i + 1] - (re * pim + im * pre);
        }
        if (left) scaleBy(spectra, at, left, h, size);
      }
      this.product(rows, size, count);
      for (let k = 0; k < rows; k++) found[first + k] = refined(waves, k * count, count);
    }
    return found;
  }
}
