// The keyboard: digits choose actions, letters open the line, and the view is worked without a mouse.
import { one } from "../dom.js";

const LOOKS = {
  top: [0, 0, 1], front: [0, -1, 0], right: [1, 0, 0], back: [0, 1, 0], left: [-1, 0, 0], below: [0, 0, -1], corner: [0.5, -0.72, 0.52],
};
export { LOOKS };
const TAKES_AWAY = '.action[data-edit="remove"], .action[data-edit="delete body"], .action[data-edit="erase"]';

/** @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  document.addEventListener("keydown", (event) => {
    const target = /** @type {HTMLElement} */ (event.target);
    const writing = target.matches("input, select, textarea") || one("dialog[open]");
    if (event.key === "Escape" && bench.dragging.held) {
      bench.dragging.leave();
      return;
    }
    if (event.key === "Escape" && !one("dialog[open]")) {
      if (bench.line.isOpen) bench.line.leave();
      else if (!writing) bench.pick([]);
      return;
    }
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && (!writing || bench.line.isOpen)) {
      event.preventDefault();
      bench.step(event.shiftKey ? 1 : -1);
      return;
    }
    if (event.key === "F1" || (event.key === "?" && !writing)) {
      event.preventDefault();
      window.open("/help", "_blank");
      return;
    }
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "y" && (!writing || bench.line.isOpen)) {
      event.preventDefault();
      bench.step(1);
      return;
    }
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "a" && !writing) {
      event.preventDefault();
      const shown = [...bench.view.places].filter(([, place]) => place.group.visible);
      bench.pick(shown.map(([node]) => ({ kind: "node", node, index: 0, id: node })));
      return;
    }
    if (writing || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "Delete" && !bench.line.isOpen) {
      const action = /** @type {HTMLElement|null} */ (one(TAKES_AWAY));
      if (action) action.click();
      else bench.say("Nothing picked can be taken away");
      return;
    }
    if (/^[1-9]$/.test(event.key) && !bench.line.isOpen) {
      event.preventDefault();
      bench.choose(event.key);
      return;
    }
    if (event.key === "Enter" && bench.line.isOpen && !target.matches("button")) {
      event.preventDefault();
      bench.line.enter();
      return;
    }
    if (/^[a-z]$/i.test(event.key) && !bench.line.isOpen) {
      event.preventDefault();
      bench.line.openTyping(event.key);
      return;
    }
    if (target === bench.view.canvas || target === document.body) viewKey(bench, event);
  });
}

/** @param {import("../workbench.js").Workbench} bench @param {KeyboardEvent} event */
function viewKey(bench, event) {
  const { camera } = bench.view;
  /** @type {[number, number]} */
  const middle = [camera.element.clientWidth / 2, camera.element.clientHeight / 2];
  /** @type {Table<() => void>} */
  const moves = {
    ArrowLeft: () => (event.shiftKey ? camera.pan(40, 0) : camera.orbit(-20, 0)),
    ArrowRight: () => (event.shiftKey ? camera.pan(-40, 0) : camera.orbit(20, 0)),
    ArrowUp: () => (event.shiftKey ? camera.pan(0, 40) : camera.orbit(0, -20)),
    ArrowDown: () => (event.shiftKey ? camera.pan(0, -40) : camera.orbit(0, 20)),
    "+": () => camera.zoom(0.85, ...middle),
    "=": () => camera.zoom(0.85, ...middle),
    "-": () => camera.zoom(1.18, ...middle),
    Home: () => bench.fit(),
    PageDown: () => bench.walk(1),
    PageUp: () => bench.walk(-1),
    " ": () => bench.pickHovered(event.shiftKey),
  };
  const move = moves[event.key];
  if (!move) return;
  event.preventDefault();
  move();
}
