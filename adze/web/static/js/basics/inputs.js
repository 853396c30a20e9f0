// What an input says, as the document takes it; knows no page.

const UNITS = { metric: { length: "m", height: "cm" }, imperial: { length: "ft", height: "in" } };

const plainNumber = /^[+-]?[\d.,]+$/;

/** A typed number, a comma read as a point; what is no number stays as it was typed, to be refused by the server. */
export function numberOf(text) {
  const value = Number(text.replace(",", "."));
  return text === "" || Number.isNaN(value) ? text : value;
}

/** A typed length or height: a bare number gets the unit of the page. */
export function lengthOf(text, units, kind = "length") {
  return plainNumber.test(text) ? `${text} ${UNITS[units][kind]}` : text;
}

/** Rows of numbers, one row to a line. */
export function pairsOf(text) {
  const rows = text.split("\n").filter((row) => row.trim());
  return rows.map((row) =>
    row
      .trim()
      .split(/[\s;:]+/)
      .map(numberOf),
  );
}

/** A spot typed as east and north. */
export const spotOf = (text) =>
  text
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map((x) => Number(x));

const KINDS = {
  number: numberOf,
  pairs: pairsOf,
  yes: (text) => text === "yes",
  length: (text, units) => lengthOf(text, units),
  height: (text, units) => lengthOf(text, units, "height"),
};

/** What an input of a kind says: "optional-…" may be empty, which is null. */
export function valueOf({ type, value, checked, kind }, units) {
  if (type === "checkbox") return checked;
  const text = value.trim();
  const optional = kind?.startsWith("optional") ?? false;
  if (optional && text === "") return null;
  const read = KINDS[kind?.replace(/^optional-?/, "") ?? ""];
  return read ? read(text, units) : text;
}
