// A picture of the view at a chosen size, drawn tile by tile on a canvas of its own, with its progress told.
import { one, sure } from "../dom.js";
import { WebGLRenderer } from "three";
import { surroundingsFor } from "../view/finished.js";
import { sheetColour } from "../view/materials.js";

const TILE = 512; // px
const LARGEST = 8192; // px a side

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
    this.bar.hidden = false;
    const blob = await this.draw(width, height, ground);
    if (!blob) return;
    const link = document.createElement("a");
    link.href = URL.createObjectURL(blob);
    link.download = `${one("#model-name b").textContent.trim()}.png`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 60000);
    this.dialog.close();
    this.bench.say(`Saved ${link.download}, ${width} × ${height}`);
  }

  /** @returns {Promise<Blob|null>} null when it was stopped @param {number} width @param {number} height @param {string} ground */
  async draw(width, height, ground) {
    const { view, appearance } = this.bench;
    const sheet = document.createElement("canvas");
    Object.assign(sheet, { width, height });
    const pen = sure(sheet.getContext("2d"));
    if (ground !== "clear") {
      pen.fillStyle = ground === "white" ? "#ffffff" : sheetColour("--ground");
      pen.fillRect(0, 0, width, height);
    }
    const renderer = new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true });
    renderer.setClearColor(0, 0);
    renderer.localClippingEnabled = true;
    renderer.setPixelRatio(1);
    renderer.shadowMap.enabled = appearance.on;
    renderer.shadowMap.type = view.renderer.shadowMap.type;
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
      this.bar.value = (k + 1) / (across * down);
      await new Promise((next) => setTimeout(next));
    }
    renderer.dispose();
    renderer.forceContextLoss();
    return this.stopped ? null : new Promise((done) => sheet.toBlob(done, "image/png"));
  }
}
