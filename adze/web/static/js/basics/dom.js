// Making elements: text only ever goes in as text.

const SVG = "http://www.w3.org/2000/svg";

function fill(element, attributes, children) {
  for (const [key, value] of Object.entries(attributes)) {
    if (value === null || value === undefined || value === false) continue;
    if (key.startsWith("on")) element.addEventListener(key.slice(2), value);
    // A style attribute is refused by the page's policy; the same text set as a style is not.
    else if (key === "style") element.style.cssText = value;
    else element.setAttribute(key, value === true ? "" : value);
  }
  element.append(...children.filter((c) => c !== null && c !== undefined));
  return element;
}

export const el = (tag, attributes = {}, ...children) => fill(document.createElement(tag), attributes, children);
export const svg = (tag, attributes = {}, ...children) =>
  fill(document.createElementNS(SVG, tag), attributes, children);

const WORDS = { holds: "holds", marginal: "marginal", fails: "fails", unknown: "not known yet" };

/** The verdict mark: three strands between two posts. */
export function mark(status) {
  const lines = [4, 9, 14].map((y) => {
    const broken = status === "fails" || (status === "marginal" && y === 9);
    const d = broken ? `M3 ${y}H10M16 ${y + 1.5}L23 ${y}` : `M3 ${y}H23`;
    return svg("path", { d, "stroke-dasharray": status === "unknown" ? "1.5 3" : null });
  });
  return svg(
    "svg",
    { class: "mark", viewBox: "0 0 26 18", role: "img", "aria-label": WORDS[status] },
    svg("path", { d: "M3 1v16M23 1v16", "stroke-width": 2.4 }),
    ...lines,
  );
}

export const statusWord = (status) => WORDS[status];
