// The whole fence solved on the device, with other rods and growth (elimination.py, solver.py).

import { addProduct } from "./rows.js";
import { pieceRows } from "./line.js";

// Which of a piece's three entries stands at each of its ten places: at a, at b, and across.
const OWN = [0, 1, 2, 0, 1, 2];
const ACROSS = [0, 1, 1, 2];

/** The rows of every kind and length of piece: own, across, and those of its half. */
export function shapesOf(kit, grass) {
  const known = new Map();
  return Array.from(kit.line, (line, k) => {
    const key = `${line} ${kit.length_m[k]}`;
    if (!known.has(key)) {
      const [own, across] = pieceRows(kit, line, kit.length_m[k], grass);
      const [halfOwn, halfAcross] = pieceRows(kit, line, kit.length_m[k] / 2, grass);
      const toMiddle = halfAcross.slice(0, 2).map((row) => row.map((x) => -x / 2));
      known.set(key, { own, across, toMiddle, held: halfOwn[0].map((x) => x / 2) });
    }
    return known.get(key);
  });
}

/** The matrix where pieces and rods have changed since it was packed. */
function matrixOf(kit, from, to, rods) {
  const { whole, stands, size } = kit;
  const values = Float64Array.from(whole);
  const change = (place, before, after) => {
    if (place < 0) return;
    for (let i = 0; i < size; i++) values[place * size + i] += after[i] - before[i];
  };
  if (from !== to)
    for (let k = 0; k < to.length; k++) {
      OWN.forEach((entry, at) => change(stands[10 * k + at], from[k].own[entry], to[k].own[entry]));
      ACROSS.forEach((entry, at) => change(stands[10 * k + 6 + at], from[k].across[entry], to[k].across[entry]));
    }
  const at = kit.source[1] * size;
  for (let i = 0; i < size; i += 2) values[at + i] += kit.rods_s / rods - kit.rods_s;
  return values;
}

/** A matrix taken apart: inverse pivots on the diagonal, multipliers at the columns. */
function factorised(kit, values) {
  const { unknowns, starts, columns, target_starts: targetStarts, targets, size } = kit;
  const kept = new Float64Array(size);
  for (const [step, unknown] of unknowns.entries()) {
    const at = unknown * size;
    for (let i = at; i < at + size; i += 2) {
      const scale = 1 / (values[i] * values[i] + values[i + 1] * values[i + 1]);
      values[i] *= scale;
      values[i + 1] *= -scale;
    }
    const pivot = values.subarray(at, at + size);
    const [first, end] = [starts[step], starts[step + 1]];
    let target = targetStarts[step];
    for (let a = first; a < end; a++) {
      const own = columns[a] * size;
      kept.set(values.subarray(own, own + size));
      values.fill(0, own, own + size);
      addProduct(values, own, kept, 0, pivot, 0, size, 1);
      addProduct(values, targets[target] * size, values, own, kept, 0, size, -1);
      for (let b = a + 1; b < end; b++)
        addProduct(values, targets[target + b - a] * size, values, own, values, columns[b] * size, size, -1);
      target += end - a;
    }
  }
  return values;
}

/** Unknowns for a drive given at a few of them. */
export function substituted({ unknowns, starts, neighbours, columns, size }, factors, drive) {
  const found = new Float64Array(unknowns.length * size);
  const touched = new Uint8Array(unknowns.length);
  for (const [unknown, row] of drive) {
    touched[unknown] = 1;
    for (let i = 0; i < size; i++) found[unknown * size + i] += row[i];
  }
  for (const [step, k] of unknowns.entries()) {
    if (!touched[k]) continue;
    for (let a = starts[step]; a < starts[step + 1]; a++) {
      touched[neighbours[a]] = 1;
      addProduct(found, neighbours[a] * size, found, k * size, factors, columns[a] * size, size, -1);
    }
  }
  const own = new Float64Array(size);
  for (let step = unknowns.length - 1; step >= 0; step--) {
    const at = unknowns[step] * size;
    if (touched[unknowns[step]]) {
      own.set(found.subarray(at, at + size));
      found.fill(0, at, at + size);
      addProduct(found, at, own, 0, factors, at, size, 1);
    }
    for (let a = starts[step]; a < starts[step + 1]; a++)
      addProduct(found, at, found, neighbours[a] * size, factors, columns[a] * size, size, -1);
  }
  return found;
}

/** The fence solved with rods and growth so many times what was packed: factors, volts, those with more growth. */
export function solved(kit, packed, { rods, grass, grassier }) {
  const minus = kit.push.map((x) => -x);
  const drive = [
    [kit.source[0], kit.push],
    [kit.source[1], minus],
  ];
  const of = (shapes) => factorised(kit, matrixOf(kit, packed, shapes, rods));
  const shapes = grass === 1 ? packed : shapesOf(kit, grass);
  const factors = of(shapes);
  const grassy = of(shapesOf(kit, grass * grassier));
  return { shapes, factors, volts: substituted(kit, factors, drive), grassyVolts: substituted(kit, grassy, drive) };
}
