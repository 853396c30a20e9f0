// Every text that some scripts hold, with {} for what is computed: node texts.js FILE … prints them as JSON.

import { readFileSync } from "node:fs";
import { parse } from "acorn";

/** A text with {} for its parts, null of what is none. */
function textOf(node) {
  if (node.type === "Literal") return typeof node.value === "string" ? node.value : null;
  if (node.type === "TemplateLiteral") return node.quasis.map(({ value }) => value.cooked).join("{}");
  if (node.type !== "BinaryExpression" || node.operator !== "+") return null;
  const [left, right] = [textOf(node.left), textOf(node.right)];
  return left === null && right === null ? null : (left ?? "{}") + (right ?? "{}");
}

function* texts(node) {
  const text = textOf(node);
  if (text !== null) yield text;
  for (const part of Object.values(node).flat()) if (typeof part?.type === "string") yield* texts(part);
}

const read = (file) => parse(readFileSync(file, "utf8"), { ecmaVersion: "latest", sourceType: "module" });
console.log(JSON.stringify(process.argv.slice(2).flatMap((file) => [...texts(read(file))])));
