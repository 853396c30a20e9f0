// Signs on the map that stay where they are: only what changed since the last drawing touches the page.

import * as L from "../../vendor/leaflet/leaflet-src.esm.js";

export class Pool {
  constructor(layer) {
    this.layer = layer;
    this.standing = new Map();
    this.next = new Map();
  }

  /** Have a sign stand at a place. `look` names all that its drawing depends on; `make` gives its icon. */
  put(look, latLng, make, options = {}) {
    let key = look;
    for (let twin = 1; this.next.has(key); twin += 1) key = `${look}#${twin}`;
    let marker = this.standing.get(key);
    if (!marker)
      marker = L.marker(latLng, { icon: make(), interactive: false, keyboard: false, ...options }).addTo(this.layer);
    else if (!marker.getLatLng().equals(latLng)) marker.setLatLng(latLng);
    this.standing.delete(key);
    this.next.set(key, marker);
  }

  /** All is put: what was not put again goes. */
  done() {
    for (const marker of this.standing.values()) marker.remove();
    this.standing = this.next;
    this.next = new Map();
  }
}
