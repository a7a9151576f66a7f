// Other windows on the same model: what is done in one is shown in all.
import { getJson } from "../api.js";
import { all } from "../dom.js";

const EVERY = 2000; // ms between two looks at the server, for windows of another browser

/** @param {import("../workbench.js").Workbench} bench @returns {() => void} to call when this window has changed the model */
export function listen(bench) {
  const channel = new BroadcastChannel(`ravine model ${bench.root.dataset.model}`);
  let looking = false;
  const busy = () => bench.line.isOpen || bench.line.opening || bench.line.accepting || bench.dragging.held || bench.changing || all(".job").length;
  const look = async () => {
    if (looking || document.hidden || busy()) return;
    looking = true;
    const before = bench.base;
    try {
      const { revision } = await getJson(bench.url("head"));
      if (revision === before || bench.base !== before || busy()) return;
      if (!(await bench.reload(false, () => bench.base === before && !busy()))) return;
      await bench.refreshPanels();
      bench.say("Changed in another window");
    } catch { // a server that is away is told by what the person does next
    } finally {
      looking = false;
    }
  };
  channel.onmessage = look;
  document.addEventListener("visibilitychange", look);
  setInterval(look, EVERY);
  return () => channel.postMessage(bench.base);
}
