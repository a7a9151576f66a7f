// A picture of the view at a chosen size, drawn tile by tile on a canvas of its own, with its progress told; or a row of
// them once around the model.
import { all, one, sure } from "../dom.js";
import { WebGLRenderer } from "three";
import { animated } from "./apng.js";
import { show } from "./kept.js";
import { surroundingsFor } from "../view/finished.js";
import { Gathered, SUNS } from "../view/gathered.js";
import { sheetColour } from "../view/materials.js";

const TILE = 512; // px
const LIT_TILE = 1024; // of the finished look, whose light is gathered tile by tile
const LARGEST = 8192; // px a side
const MOST = 120e6; // px of all pictures of a turn
const SPEED = 12; // of them a second

export class Picture {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.working = false; // while it draws, the view itself is only drawn once
    this.dialog = /** @type {HTMLDialogElement} */ (one("#picture-dialog"));
    this.form = /** @type {HTMLFormElement} */ (one("form", this.dialog));
    this.from = /** @type {HTMLSelectElement} */ (one("[data-picture-from]", this.dialog));
    this.from.addEventListener("change", () => this.from.value && show(bench, this.from.value));
    this.bar = /** @type {HTMLProgressElement} */ (one("progress", this.dialog));
    one("[data-picture]").addEventListener("click", () => this.open());
    this.form.addEventListener("submit", (event) => {
      event.preventDefault();
      this.take();
    });
    one("[data-leave-picture]", this.dialog).addEventListener("click", () => this.leave());
    this.dialog.addEventListener("cancel", () => (this.stopped = true));
  }

  /** What is asked in the dialog, to be kept with a view. */
  settings() {
    /** @param {string} name */
    const chosen = (name) => /** @type {HTMLSelectElement} */ (this.form.elements.namedItem(name)).value;
    return { width: this.number("width"), height: this.number("height"), ground: chosen("ground"), turning: Number(chosen("turning")) };
  }

  /** @param {Object<string, string|number>} settings */
  set(settings) {
    for (const [name, value] of Object.entries(settings)) {
      const field = /** @type {HTMLInputElement|HTMLSelectElement|null} */ (this.form.elements.namedItem(name));
      if (field) field.value = String(value);
    }
  }

  /** Views that are kept: each brings its eye, its look and the size of its picture. */
  offer() {
    const rows = all(".view-row[data-kept]").map((row) => [row.dataset.kept ?? "", one("[data-show-kept]", row)?.textContent ?? ""]);
    one("[data-of-kept]", this.dialog).hidden = !rows.length;
    this.from.replaceChildren(new Option("the view as it is", ""), ...rows.map(([number, name]) => new Option(name, number)));
  }

  open() {
    this.offer();
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
    this.working = true;
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
      this.working = false;
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
    const tile = appearance.on ? LIT_TILE : TILE;
    const across = Math.ceil(width / tile);
    const down = Math.ceil(height / tile);
    const gathered = appearance.on ? new Gathered(renderer, view) : null;
    const marks = Object.values(view.marks).filter((group) => group !== view.marks.locked);
    for (let k = 0; k < across * down && !this.stopped; k++) {
      const x = tile * (k % across);
      const y = tile * Math.floor(k / across);
      const [w, h] = [Math.min(tile, width - x), Math.min(tile, height - y)];
      lens.setViewOffset(width, height, x, y, w, h);
      renderer.setSize(w, h, false);
      const kept = view.scene.environment;
      view.scene.environment = light;
      view.grid?.forEach((g) => (g.visible = ground === "sheet" && !appearance.on));
      marks.forEach((group) => (group.visible = false));
      if (!gathered) renderer.render(view.scene, lens);
      else {
        gathered.begin(w, h);
        for (let n = 0; n < SUNS && !this.stopped; n++) {
          view.scene.environment = light; // the view itself may have been drawn meanwhile
          gathered.gather(lens, [width, height, x, y, w, h]);
          view.scene.environment = kept;
          this.bar.value = done + (share * (k + n / SUNS)) / (across * down);
          await new Promise((next) => setTimeout(next));
        }
        gathered.present();
      }
      view.scene.environment = kept;
      view.grid?.forEach((g) => (g.visible = !appearance.on));
      marks.forEach((group) => (group.visible = true));
      pen.drawImage(renderer.domElement, x, y);
      this.bar.value = done + (share * (k + 1)) / (across * down);
      await new Promise((next) => setTimeout(next));
    }
    gathered?.dispose();
    return this.stopped ? null : new Promise((take) => sheet.toBlob(take, "image/png"));
  }
}
