// What the server packed of a search: a head, and arrays that are read where they lie.

const READS = { f8: Float64Array, f4: Float32Array, i4: Int32Array, i1: Int8Array };

/** The head of a packed search with its arrays as fields; complex ones are real and imaginary parts in turn. */
export function unpack(buffer) {
  const size = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, size)));
  const begin = 4 + size;
  const names = Object.keys(head.arrays);
  const ends = names.map((_, k) => (k + 1 < names.length ? head.arrays[names[k + 1]].at : buffer.byteLength - begin));
  const found = { ...head };
  names.forEach((name, k) => {
    const { type, shape, at } = head.arrays[name];
    const count = shape.reduce((a, b) => a * b, 1);
    const whole = new READS[type](buffer, begin + at, Math.floor((ends[k] - at) / READS[type].BYTES_PER_ELEMENT));
    // What is complex has twice as many numbers; the last few may be padding.
    found[name] =
      whole.length >= 2 * count && COMPLEX.has(name) ? whole.subarray(0, 2 * count) : whole.subarray(0, count);
  });
  return found;
}

const COMPLEX = new Set(["follow", "whole", "push", "series_s", "admittance", "charge", "leak"]);
