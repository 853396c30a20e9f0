// Rows over frequency: real and imaginary parts in turn.

/** To `into` a row times a factor, rows of `size` numbers that begin at the places given; `sign` 1 adds, -1 takes. */
export function addProduct(into, at, row, from, factor, begin, size, sign) {
  for (let i = 0; i < size; i += 2) {
    const re = row[from + i];
    const im = row[from + i + 1];
    const fre = factor[begin + i];
    const fim = factor[begin + i + 1];
    into[at + i] += sign * (re * fre - im * fim);
    into[at + i + 1] += sign * (re * fim + im * fre);
  }
}

export function product(one, other) {
  const found = new Float64Array(one.length);
  addProduct(found, 0, one, 0, other, 0, one.length, 1);
  return found;
}
