// The tables of the rules, as rows of named cells: what is drawn must know every kind in them.

import { readFileSync } from "node:fs";

const folder = new URL("../../adze/core/tables/data/", import.meta.url);

/** Rows of a table without quoted cells in the named columns. */
export function table(name) {
  const lines = readFileSync(new URL(name, folder), "utf8").trim().split("\n");
  const [head, ...rows] = lines.filter((line) => !line.startsWith("#")).map((line) => line.split(","));
  return rows.map((cells) => Object.fromEntries(head.map((key, i) => [key, cells[i]])));
}

/** The words of an outline or a look as the server gives them: numbers, texts, and true for a word alone. */
export function wordParts(text) {
  const parts = text.split(" ").map((word) => word.split("="));
  return Object.fromEntries(parts.map(([name, value]) => [name, value === undefined ? true : Number(value) || value]));
}

/** The bodies of all kinds of animals by key, as the pictures take them. */
export const animals = () =>
  Object.fromEntries(
    table("animals.csv").map((row) => [
      row.key,
      {
        key: row.key,
        shoulder_cm: Number(row.shoulder_cm),
        nose_cm: Number(row.nose_cm),
        head_cm: Number(row.head_cm),
        outline: { ...wordParts(row.outline), body: row.outline.split(" ")[0] },
      },
    ]),
  );
