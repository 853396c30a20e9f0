// The work surface: what a decision needs lies in the middle of the page, one tab beside the other.
//
// The panel marks such parts with data-surface; each becomes a tab beside the drawing. The chosen tab is in
// the address, and remembered for the stage. What is marked with data-beside stands to the right of the drawing.

import { el } from "../basics/dom.js";
import { recall, remember } from "../basics/remembered.js";

const DRAWING = "drawing";
const NARROW = matchMedia("(max-width: 860px)"); // where the panel stands below the drawing

export class Surface {
  constructor(stage) {
    this.key = `surface:${stage}`;
    this.tabs = document.getElementById("surface-tabs");
    this.root = document.getElementById("surface");
    this.drawing = document.querySelector("#ground, #side");
    this.beside = document.getElementById("beside");
    this.lead = document.getElementById("lead");
    this.last = "";
    const asked = new URLSearchParams(location.search).get("tab");
    this.chosen = asked ?? recall(this.key);
    this.tabs?.addEventListener("click", ({ target }) => {
      const { surfaceTab } = target.closest("button")?.dataset ?? {};
      if (surfaceTab) this.choose(surfaceTab);
    });
    this.tabs?.addEventListener("keydown", (event) => this.walk(event));
  }

  /** Take the marked parts of a fresh panel onto the surface; it stands as far down as it stood. */
  take(panel, scrolled) {
    if (!this.root || !this.drawing) return;
    this.lead.replaceChildren(...(NARROW.matches ? panel.querySelectorAll("[data-lead]") : []));
    this.beside.replaceChildren(...panel.querySelectorAll("[data-beside]"));
    const parts = [...panel.querySelectorAll("[data-surface]")];
    // Where nothing has been chosen yet, a part may ask to be first: on a blank plan there is nothing drawn to look at.
    this.chosen ??= parts.find((part) => "first" in part.dataset)?.dataset.surface ?? DRAWING;
    this.root.replaceChildren(...parts);
    const rows = [[DRAWING, this.tabs.dataset.drawing], ...parts.map((part) => [part.dataset.surface, part.ariaLabel])];
    const held = this.tabs.contains(document.activeElement);
    this.tabs.replaceChildren(
      ...rows.map(([name, words]) =>
        el("button", { type: "button", role: "tab", id: `to-${name}`, "data-surface-tab": name }, words),
      ),
    );
    this.tabs.hidden = !parts.length;
    this.show();
    if (scrolled) this.root.scrollTop = scrolled;
    if (held) this.tabs.querySelector("[aria-selected=true]")?.focus();
  }

  choose(name) {
    if (name !== this.chosen) this.last = this.chosen;
    this.chosen = name;
    remember(this.key, name);
    const address = new URL(location.href);
    if (name === DRAWING) address.searchParams.delete("tab");
    else address.searchParams.set("tab", name);
    history.replaceState(history.state, "", address);
    this.show();
  }

  /** How far down it stands: asked before the page is changed, when nothing has to be laid out for the answer. */
  get scrolled() {
    return this.root?.scrollTop ?? 0;
  }

  /** From the drawing to the work beside it, and back. */
  turn() {
    const names = [...this.tabs.querySelectorAll("button")].map((button) => button.dataset.surfaceTab);
    if (names.length > 1)
      this.choose(this.shown === DRAWING ? (names.includes(this.last) && this.last) || names[1] : DRAWING);
  }

  walk(event) {
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!step) return;
    event.preventDefault();
    const buttons = [...this.tabs.querySelectorAll("button")];
    const at = buttons.findIndex((button) => button.dataset.surfaceTab === this.shown);
    const next = buttons[(at + step + buttons.length) % buttons.length];
    this.choose(next.dataset.surfaceTab);
    next.focus();
  }

  show() {
    const parts = [...this.root.children];
    this.shown = parts.some((part) => part.dataset.surface === this.chosen) ? this.chosen : DRAWING;
    for (const part of parts) part.hidden = part.dataset.surface !== this.shown;
    this.root.hidden = this.shown === DRAWING;
    this.beside.hidden = this.shown !== DRAWING || !this.beside.children.length;
    this.beside.parentElement.classList.toggle("with-beside", !this.beside.hidden);
    this.drawing.inert = this.shown !== DRAWING;
    for (const button of this.tabs.children) {
      const isShown = button.dataset.surfaceTab === this.shown;
      button.setAttribute("aria-selected", String(isShown));
      button.tabIndex = isShown ? 0 : -1;
    }
  }
}
