// kV, lengths and sentences as people read them; knows no page.

const STEPS = [0.6, 0.8, 1, 1.3];

/** Bounds of the five classes for a wanted kV. */
export const kvBounds = (wanted) => STEPS.map((x) => x * wanted);

/** Class 1 (weak, light) to 5 (strong, dark). */
export const kvClass = (kv, wanted) => 1 + kvBounds(wanted).filter((x) => kv >= x).length;

/** Two significant figures. */
export const kvWords = (kv) =>
  kv < 0.001 ? "0" : kv >= 9.95 ? kv.toFixed(0) : kv >= 0.995 ? kv.toFixed(1) : kv.toPrecision(2).replace(/\.?0+$/, "");

/** kV as the farm's tester shows them: from the end of its scale on there is no figure. `sign` stands for words. */
export function readWords(bench, kv, sign = false) {
  const end = bench.forecast?.scale_end;
  if (!end || kv < end.kv) return kvWords(kv);
  return sign ? `${kvWords(end.kv)}+` : end.words;
}

export const M_PER_FT = 0.3048;

/** A figure with so many digits, exact ties to the even neighbour: as the server writes it. */
export function fixed(x, digits) {
  const text = x.toFixed(digits);
  const isTie = (Math.abs(x) * 2 ** (digits + 1)) % 2 === 1;
  return isTie && Number(text.at(-1)) % 2 ? (x - Math.sign(x) * 0.5 * 10 ** -digits).toFixed(digits) : text;
}

export function lengthWords(m, units) {
  if (units === "imperial") {
    const feet = m / M_PER_FT;
    return feet >= 5280 ? `${fixed(feet / 5280, 2)} mi` : `${Number(fixed(feet, 0)).toLocaleString("en")} ft`;
  }
  return m >= 1000 ? `${fixed(m / 1000, 2)} km` : `${fixed(m, 0)} m`;
}

export function heightWords(cm, units) {
  if (units !== "imperial") return `${Math.round(cm * 10) / 10} cm`;
  const quarters = Math.floor((cm / 2.54) * 4 + 0.5);
  const [feet, inches] = [Math.floor(quarters / 48), (quarters % 48) / 4];
  return feet ? `${feet} ft ${inches} in` : `${inches} in`;
}

/** Linear interpolation in a table of samples. */
export function sample(xs, ys, x) {
  let i = xs.findIndex((v) => v >= x);
  if (i < 0) return ys.at(-1);
  if (i === 0) return ys[0];
  while (i > 1 && xs[i] === xs[i - 1]) i -= 1;
  const span = xs[i] - xs[i - 1];
  return span ? ys[i - 1] + ((x - xs[i - 1]) / span) * (ys[i] - ys[i - 1]) : ys[i];
}

/** A sentence with what goes into it, by the names that it has in braces. */
export const filled = (sentence, parts) => sentence.replace(/\{(\w+)\}/g, (_, name) => parts[name]);
