// Views kept under a name: the place of the eye, the section, what is hidden and picked.
import { getJson, post } from "../api.js";
import { findById } from "../view/picking.js";

/** @param {import("../workbench.js").Workbench} bench @param {string} what @param {object|null} body */
export async function tellServer(bench, what, body) {
  return (await bench.trying(() => post(bench.url(what), body))) !== null;
}

/** @param {import("../workbench.js").Workbench} bench */
export function listen(bench) {
  document.addEventListener("click", async (event) => {
    const target = /** @type {HTMLElement} */ (event.target);
    const keep = /** @type {HTMLElement|null} */ (target.closest("[data-keep]"));
    if (keep) {
      const data = keep.dataset.keep === "view" ? whole(bench) : { section: bench.section.numbers() };
      if (await tellServer(bench, "kept", { kind: "view", data })) await bench.refreshPanels();
    }
    const number = /** @type {HTMLElement|null} */ (target.closest("[data-kept]"))?.dataset.kept;
    if (!number) return;
    if (target.closest("[data-show-kept]")) await show(bench, number);
    else if (target.closest("[data-drop-kept]")) {
      if (await tellServer(bench, `kept/${number}/drop`, null)) await bench.refreshPanels();
    } else if (target.closest("[data-rename-kept]")) rename(bench, target.closest("[data-kept]"), number);
  });
}

/** @param {Bench} bench */
function whole(bench) {
  const { camera } = bench.view;
  return {
    camera: { target: camera.target.toArray(), span: camera.span, yaw: camera.yaw, pitch: camera.pitch, parallel: camera.parallel },
    section: bench.section.numbers(), hidden: [...bench.hidden], picked: bench.pickPlaces(),
    look: bench.appearance.on ? bench.appearance.surroundings : "", picture: bench.picture.settings(),
  };
}

/** @param {import("../workbench.js").Workbench} bench @param {string} number */
export async function show(bench, number) {
  const kept = await bench.trying(() => getJson(bench.url(`kept/${number}`)));
  if (!kept) return;
  const { data } = kept;
  const { camera } = bench.view;
  if (data.camera) {
    camera.target.set(...data.camera.target);
    Object.assign(camera, { span: data.camera.span, yaw: data.camera.yaw, pitch: data.camera.pitch });
    if (camera.parallel !== data.camera.parallel) bench.look("parallel");
    camera.apply();
  }
  if (data.hidden) {
    const known = new Set([...bench.scene.nodes.map((n) => n.id), ...(bench.scene.sketches || []).map((s) => s.id)]);
    bench.hide(new Set(data.hidden.filter((/** @type {string} */ id) => known.has(id))));
  }
  if (data.look !== undefined) bench.appearance.wear(data.look);
  if (data.picture) bench.picture.set(data.picture);
  if (data.section) bench.section.place(data.section);
  else if (data.camera && bench.section.on) bench.section.leave();
  if (!data.picked) return;
  const found = data.picked.map((/** @type {string} */ id) => findById(bench.view, id)).filter(Boolean);
  bench.pick(found);
  if (found.length < data.picked.length) bench.say(`${data.picked.length - found.length} of what was picked is not there any more`);
}

/** The name becomes a field until it is left.
 * @param {Bench} bench @param {any} row @param {string} number */
function rename(bench, row, number) {
  const name = row.querySelector("[data-show-kept]");
  const input = document.createElement("input");
  input.className = "rename-in";
  input.value = name.textContent;
  input.setAttribute("aria-label", "New name");
  name.replaceWith(input);
  input.focus();
  input.select();
  let done = false;
  /** @param {boolean} take */
  const end = async (take) => {
    if (done) return;
    done = true;
    if (take && input.value.trim()) await tellServer(bench, `kept/${number}/name`, new URLSearchParams({ name: input.value }));
    await bench.refreshPanels();
  };
  input.addEventListener("blur", () => end(true));
  input.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") end(true);
    if (event.key === "Escape") end(false);
  });
}
