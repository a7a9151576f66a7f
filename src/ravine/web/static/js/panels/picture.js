// A picture of the view at a chosen size, drawn tile by tile on a canvas of its own, with its progress told; or a row of
// them once around the model.
import { one, sure } from "../dom.js";
import { WebGLRenderer } from "three";
import { animated } from "./apng.js";
import { surroundingsFor } from "../view/finished.js";
import { sheetColour } from "../view/materials.js";

const TILE = 512; // px
const LARGEST = 8192; // px a side
const MOST = 120e6; // px of all pictures of a turn
const SPEED = 12; // of them a second

export class Picture {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.dialog = /** @type {HTMLDialogElement} */ (one("#picture-dialog"));
    this.form = /** @type {HTMLFormElement} */ (one("form", this.dialog));
    this.bar = /** @type {HTMLProgressElement} */ (one("progress", this.dialog));
    one("[data-picture]").addEventListener("click", () => this.open());
    this.form.addEventListener("submit", (event) => {
      event.preventDefault();
      this.take();
    });
    one("[data-leave-picture]", this.dialog).addEventListener("click", () => this.leave());
    this.dialog.addEventListener("cancel", () => (this.stopped = true));
  }

  open() {
    this.stopped = false;
    this.bar.hidden = true;
    one("#picture-told").textContent = "";
    this.dialog.showModal();
  }

  leave() {
    this.stopped = true;
    this.dialog.close();
  }

  /** @param {string} name */
  number(name) {
    return Math.round(Number(/** @type {HTMLInputElement} */ (this.form.elements.namedItem(name)).value));
  }

  async take() {
    const [width, height] = [this.number("width"), this.number("height")];
    if (!(width >= 16 && height >= 16 && width <= LARGEST && height <= LARGEST)) {
      one("#picture-told").textContent = `A side takes 16 to ${LARGEST} pixels`;
      return;
    }
    const ground = /** @type {HTMLSelectElement} */ (this.form.elements.namedItem("ground")).value;
    const count = this.number("turning");
    if (count * width * height > MOST) {
      one("#picture-told").textContent = `${count} pictures of that size are too much to keep; up to ${Math.floor(MOST / count / 1e4) / 100} million pixels each fit`;
      return;
    }
    this.bar.hidden = false;
    const blob = await this.around(width, height, ground, count);
    if (!blob) return;
    const link = document.createElement("a");
    link.href = URL.createObjectURL(blob);
    link.download = `${one("#model-name b").textContent.trim()}.png`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 60000);
    this.dialog.close();
    this.bench.say(`Saved ${link.download}, ${width} × ${height}`);
  }

  /** One, or so many once around the model; the view stands afterwards as it did.
   * @param {number} width @param {number} height @param {string} ground @param {number} count
   * @returns {Promise<Blob|null>} null when it was stopped */
  async around(width, height, ground, count) {
    const { view, appearance } = this.bench;
    const { camera } = view;
    const renderer = new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true });
    renderer.setClearColor(0, 0);
    renderer.localClippingEnabled = true;
    renderer.setPixelRatio(1);
    renderer.shadowMap.enabled = appearance.on;
    renderer.shadowMap.type = view.renderer.shadowMap.type;
    const { yaw } = camera;
    /** @type {Blob[]} */
    const pictures = [];
    try {
      for (let k = 0; k < count; k++) {
        camera.yaw = yaw + (2 * Math.PI * k) / count;
        camera.apply();
        const picture = await this.draw(renderer, width, height, ground, k / count, 1 / count);
        if (!picture) return null;
        pictures.push(picture);
      }
    } finally {
      camera.yaw = yaw;
      camera.apply();
      view.draw();
      renderer.dispose();
      renderer.forceContextLoss();
    }
    if (count === 1) return pictures[0];
    const files = await Promise.all(pictures.map(async (p) => new Uint8Array(await p.arrayBuffer())));
    return new Blob([/** @type {any} */ (animated(files, SPEED))], { type: "image/png" });
  }

  /** @returns {Promise<Blob|null>} null when it was stopped
   * @param {WebGLRenderer} renderer @param {number} width @param {number} height @param {string} ground
   * @param {number} done share of the whole that is done @param {number} share that this one is */
  async draw(renderer, width, height, ground, done, share) {
    const { view, appearance } = this.bench;
    const sheet = document.createElement("canvas");
    Object.assign(sheet, { width, height });
    const pen = sure(sheet.getContext("2d"));
    if (ground !== "clear") {
      pen.fillStyle = ground === "white" ? "#ffffff" : sheetColour("--ground");
      pen.fillRect(0, 0, width, height);
    }
    const light = appearance.on ? surroundingsFor(renderer, appearance.surroundings) : null;
    const lens = view.camera.lens.clone();
    lens.aspect = width / height;
    const across = Math.ceil(width / TILE);
    const down = Math.ceil(height / TILE);
    const marks = Object.values(view.marks).filter((group) => group !== view.marks.locked);
    for (let k = 0; k < across * down && !this.stopped; k++) {
      const x = TILE * (k % across);
      const y = TILE * Math.floor(k / across);
      const [w, h] = [Math.min(TILE, width - x), Math.min(TILE, height - y)];
      lens.setViewOffset(width, height, x, y, w, h);
      renderer.setSize(w, h, false);
      const kept = view.scene.environment;
      view.scene.environment = light;
      view.grid?.forEach((g) => (g.visible = ground === "sheet"));
      marks.forEach((group) => (group.visible = false));
      renderer.render(view.scene, lens);
      view.scene.environment = kept;
      view.grid?.forEach((g) => (g.visible = true));
      marks.forEach((group) => (group.visible = true));
      pen.drawImage(renderer.domElement, x, y);
      this.bar.value = done + (share * (k + 1)) / (across * down);
      await new Promise((next) => setTimeout(next));
    }
    return this.stopped ? null : new Promise((take) => sheet.toBlob(take, "image/png"));
  }
}
