// Pointer, clicks and swaps on the page, and whom they concern.
import { byId, sure } from "../dom.js";
import { takeMarked } from "../panels/alike.js";
import { under } from "../view/picking.js";

/** @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  const { canvas } = bench.view;
  /** @param {MouseEvent} event @returns {[number, number]} */
  const spot = (event) => [event.offsetX, event.offsetY];
  canvas.addEventListener("pointermove", (event) => {
    if (event.buttons || bench.looking) return;
    bench.looking = true;
    requestAnimationFrame(() => {
      bench.looking = false;
      if (bench.drawing.active) {
        bench.drawing.move(...spot(event));
        return;
      }
      bench.hover(under(bench.view, ...spot(event)));
    });
  });
  canvas.addEventListener("pointerleave", () => {
    bench.hover(null);
    bench.drawing.forget();
  });
  canvas.addEventListener("pointerup", (event) => {
    if (bench.view.camera.dragged || event.button !== 0) return;
    if (bench.drawing.active) {
      bench.drawing.click(...spot(event));
      return;
    }
    if (bench.pieces.click(...spot(event))) return;
    const found = under(bench.view, ...spot(event));
    if (found && event.altKey) found.single = true; // the facet itself, on a mesh that has faces
    const more = event.shiftKey || event.ctrlKey || event.metaKey;
    if (found || !bench.line.isOpen) bench.pick((!more && bench.features.grown(found)) || (found ? [found] : []), more);
  });
  canvas.addEventListener("dblclick", (event) => {
    const found = under(bench.view, ...spot(event));
    if (bench.drawing.active || found?.sketch) return;
    if (found?.kind === "edge") {
      bench.pick([found]);
      bench.growing.along(event.shiftKey ? "loop" : "run");
    }
    else if (found && !bench.line.isOpen) bench.pick([{ kind: "node", node: found.node, index: 0, id: found.node }]);
  });
  document.addEventListener("click", (event) => {
    const target = /** @type {HTMLElement} */ (event.target);
    const action = /** @type {HTMLElement|null} */ (target.closest("[data-edit].action"));
    if (action) takeMarked(bench);
    if (action) bench.line.open(sure(action.dataset.edit), bench.pickIds());
    if (target.closest("[data-show-all]")) bench.hide(new Set());
    if (target.closest("[data-more]")) byId("actions").classList.toggle("every");
    const fence = target.closest("[data-marquee]");
    if (fence) bench.marquee.choose(/** @type {any} */ (fence.getAttribute("data-marquee")));
    if (target.closest("[data-through]")) bench.marquee.toggleThrough();
    const widen = target.closest("[data-grow]");
    if (widen) bench.growing.do(/** @type {any} */ (widen.getAttribute("data-grow")));
    const along = target.closest("[data-along]");
    if (along) bench.growing.along(/** @type {any} */ (along.getAttribute("data-along")));
    const map = target.closest("[data-map]");
    if (map) bench.maps.show(sure(map.getAttribute("data-map")), bench.pickNodes());
    const look = target.closest("[data-look]");
    if (look) bench.look(look.getAttribute("data-look") ?? "");
    const size = target.closest("[data-size]");
    if (size) bench.openSize(sure(size.getAttribute("data-on")).split(" "));
    const go = target.closest("[data-go]");
    if (go) bench.moveTo({ base: bench.base, target: Number(go.getAttribute("data-go")) });
    const stage = target.closest("[data-stage].stage");
    if (stage) bench.setStage(stage.getAttribute("data-stage"));
  });
  byId("only").addEventListener("change", (/** @type {any} */ event) => {
    bench.view.only = /** @type {HTMLSelectElement} */ (event.target).value;
    bench.hover(null);
    bench.tellEdge();
    bench.view.canvas.focus();
  });
  byId("step-back").addEventListener("click", () => bench.step(-1));
  byId("step-forward").addEventListener("click", () => bench.step(1));
  document.body.addEventListener("htmx:beforeSwap", (event) => {
    const { detail } = /** @type {CustomEvent} */ (event);
    if (detail.xhr.status < 400) return;
    detail.shouldSwap = false;
    bench.tell(detail.xhr.responseText);
  });
  document.body.addEventListener("htmx:sendError", () => bench.say("The server does not answer; what you see may be out of date."));
  document.body.addEventListener("htmx:oobAfterSwap", () => bench.markRows());
  document.body.addEventListener("htmx:afterSwap", (event) => {
    bench.markRows();
    const { target } = /** @type {CustomEvent} */ (event).detail;
    if (target.id === "jobs") bench.jobsChanged();
  });
}
