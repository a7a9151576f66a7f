// All faces along the pointer's ray, front to back; and the small list of them, to pick what lies behind.
import { one } from "../dom.js";
import { DoubleSide, Matrix4, Ray } from "three";

/** @typedef {{kind: string, node: string, index: number, id: string, point: any, distance: number}} Hit */

/** Each face once, nearest first.
 * @param {import("../view/view.js").View} view @returns {Hit[]} @param {number} x @param {number} y */
export function facesAt(view, x, y) {
  const { ray } = view.camera.ray(x, y);
  const [near, far] = view.section?.reach(ray) || [0, Infinity];
  const found = [];
  for (const [node, place] of view.places) {
    if (!place.group.visible) continue;
    const local = new Ray().copy(ray).applyMatrix4(new Matrix4().copy(place.group.matrix).invert());
    for (const hit of place.drawable.tree.raycast(local, DoubleSide, near, far)) {
      const index = place.drawable.faceOf(hit.faceIndex);
      const point = hit.point.clone().applyMatrix4(place.group.matrix);
      found.push({ kind: "face", node, index, id: `f${place.body.faces[index]}`, point, distance: point.distanceTo(ray.origin) });
    }
  }
  const known = new Set();
  return found.sort((a, b) => a.distance - b.distance).filter((f) => !known.has(`${f.node} ${f.id}`) && known.add(`${f.node} ${f.id}`));
}

/** @type {Table<string>} */
const KINDS = { 1: "in front", 2: "behind it" };

/** The list that a press of the other button opens.
 * @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  const list = one("#under");
  const { canvas } = bench.view;
  /** @type {Hit[]} */
  let hits = [];
  const close = () => {
    list.hidden = true;
    bench.view.highlight("hover", []);
  };
  canvas.addEventListener("contextmenu", (/** @type {any} */ event) => {
    if (bench.view.camera.dragged || bench.drawing.active) return;
    hits = facesAt(bench.view, event.offsetX, event.offsetY);
    if (!hits.length) return close();
    /** @param {any} hit */
    const nameOf = (hit) => bench.scene.nodes.find((/** @type {any} */ n) => n.id === hit.node)?.name || "";
    list.replaceChildren(
      ...hits.slice(0, 12).map((hit, k) => {
        const row = document.createElement("button");
        row.type = "button";
        row.dataset.hit = String(k);
        row.textContent = `${KINDS[k + 1] || `${k + 1}th down`} · ${nameOf(hit)}`;
        return row;
      }),
    );
    list.style.transform = `translate(${Math.min(event.offsetX + 6, canvas.clientWidth - 230)}px, ${Math.min(event.offsetY + 6, canvas.clientHeight - 28 * hits.length - 20)}px)`;
    list.hidden = false;
    /** @type {HTMLElement} */ (list.firstElementChild).focus();
  });
  /** @param {any} event */
  const hitOf = (event) => {
    const row = /** @type {HTMLElement} */ (event.target).closest("[data-hit]");
    return row && hits[Number(/** @type {HTMLElement} */ (row).dataset.hit)];
  };
  for (const name of ["pointerover", "focusin"]) list.addEventListener(name, (/** @type {any} */ event) => {
    const hit = hitOf(event);
    if (hit) bench.view.highlight("hover", [hit]);
  });
  list.addEventListener("click", (/** @type {any} */ event) => {
    const hit = hitOf(event);
    close();
    if (hit) bench.pick([hit], event.shiftKey || event.ctrlKey || event.metaKey);
    canvas.focus();
  });
  list.addEventListener("keydown", (/** @type {any} */ event) => {
    const { activeElement } = document;
    if (event.key === "Escape") {
      close();
      canvas.focus();
    } else if (event.key === "ArrowDown") /** @type {HTMLElement} */ (activeElement?.nextElementSibling)?.focus();
    else if (event.key === "ArrowUp") /** @type {HTMLElement} */ (activeElement?.previousElementSibling)?.focus();
    else return;
    event.stopPropagation();
    event.preventDefault();
  });
  canvas.addEventListener("pointerdown", close);
}
