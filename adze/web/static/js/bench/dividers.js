// Dividers between the panes, dragged or moved by the arrow keys; their places are kept in this browser.

import { el } from "../basics/dom.js";
import { recallHere, rememberHere } from "../basics/remembered.js";

const KEY = "adze-panes";
const STEP_PX = 16;
const SHUT_BELOW_PX = 110; // the strip dragged so low is shut to its bar
const SIDE = { name: "--side-px", least: 300, most: 620, label: "Width of the side column" };
const STRIP = { name: "--strip-px", least: 150, most: 460, label: "Height of the strip" };

class Divider {
  /** `size` measures the pane; `grows` is 1 where it grows with the pointer's coordinate and -1 where against it. */
  constructor(root, pane, { axis, size, onsize = (px) => void px }) {
    this.root = root;
    this.pane = pane;
    this.axis = axis;
    this.size = size;
    this.onsize = onsize;
    const isUpright = axis === "x";
    this.handle = el("div", {
      class: `divider ${isUpright ? "upright" : "level"}`,
      role: "separator",
      tabindex: 0,
      "aria-label": pane.label,
      "aria-orientation": isUpright ? "vertical" : "horizontal",
      "aria-valuemin": pane.least,
      "aria-valuemax": pane.most,
      ondblclick: () => this.set(null),
      onpointerdown: (event) => this.hold(event),
      onkeydown: (event) => this.step(event),
    });
    this.set(recallHere(KEY)?.[pane.name] ?? null);
  }

  hold(event) {
    const client = this.axis === "x" ? "clientX" : "clientY";
    const [from, size] = [event[client], this.size()];
    const moved = (move) => this.to(size + from - move[client]);
    this.handle.setPointerCapture(event.pointerId);
    this.handle.addEventListener("pointermove", moved);
    this.handle.addEventListener("lostpointercapture", () => this.handle.removeEventListener("pointermove", moved), {
      once: true,
    });
    event.preventDefault();
  }

  step(event) {
    const way = { ArrowLeft: 1, ArrowUp: 1, ArrowRight: -1, ArrowDown: -1 }[event.key];
    if (!way || (this.axis === "x") !== /Left|Right/.test(event.key)) return;
    event.preventDefault();
    event.stopPropagation();
    this.to(this.size() + way * STEP_PX);
  }

  to(px) {
    this.onsize(px);
    this.set(Math.round(Math.max(this.pane.least, Math.min(this.pane.most, px))));
  }

  /** So many pixels; null for as many as the page gives by itself. */
  set(px) {
    if (px === null) this.root.style.removeProperty(this.pane.name);
    else this.root.style.setProperty(this.pane.name, `${px}px`);
    this.handle.setAttribute("aria-valuenow", px ?? this.pane.least);
    rememberHere(KEY, { ...recallHere(KEY), [this.pane.name]: px });
  }
}

/** Mount both dividers; the strip is shut and opened by its own. */
export function mountDividers(root, bench) {
  const [card, middle] = [document.getElementById("card"), document.getElementById("middle")];
  const strip = document.querySelector(".strip");
  root.append(new Divider(root, SIDE, { axis: "x", size: () => card.offsetWidth }).handle);
  if (!strip) return;
  const onsize = (px) => {
    const isShut = root.classList.contains("place-shut");
    if (isShut !== px < SHUT_BELOW_PX) bench.tell("turn-place");
  };
  middle.append(new Divider(root, STRIP, { axis: "y", size: () => strip.offsetHeight, onsize }).handle);
}
