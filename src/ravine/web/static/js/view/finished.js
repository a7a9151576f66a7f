// The finished look: roughness, metal and grain of every surface, lit by chosen surroundings, with a shadow on the sheet.
import {
  BackSide, BoxGeometry, Color, DoubleSide, Mesh, MeshBasicMaterial, MeshStandardMaterial, PCFShadowMap, PlaneGeometry,
  PMREMGenerator, Scene, ShadowMaterial,
} from "three";
import { all, one } from "../dom.js";
import { Gathered, SUNS } from "./gathered.js";

/** Light around the model: colour of the room, then panels as [x, y, z, width, height, strength, colour]; lengths in rooms. */
const SURROUNDINGS = {
  workshop: { room: "#4b4a47", panels: [[0, 0, 1, 1.3, 0.5, 9, "#fff6e6"], [-1, -0.3, 0.3, 0.7, 0.7, 4, "#ffffff"], [1, 0.5, 0.2, 0.4, 1.1, 3, "#e6f0ff"]] },
  "open sky": { room: "#8fa7b5", panels: [[0, 0, 1, 2, 2, 2.6, "#e8f2fb"], [0.7, -0.7, 0.7, 0.35, 0.35, 26, "#fff3d6"], [0, 0, -1, 2, 2, 0.5, "#8a8a72"]] },
  evening: { room: "#2b2d38", panels: [[-1, -0.2, 0.15, 1.1, 0.35, 12, "#ffb071"], [0.6, 0.8, 0.7, 0.8, 0.8, 2.4, "#7f95c9"]] },
};
const GRAINS = ["none", "wood", "layers", "brushed", "speckled"];
const COAT = 8; // mm of grain that a whole byte stands for
const ALONG = 16; // kinds of grain to each of the three axes that it may run along
const CALM = 220; // ms without a new picture before light is gathered
const SLOW = 200; // ms for one sun, from which the view stays lit by one; saved pictures have them all

const GRAIN = `
  varying vec4 vCoat; varying vec3 vPlace;
  float dice(vec3 p) { p = fract(p * vec3(0.1031, 0.1030, 0.0973)); p += dot(p, p.yxz + 33.33); return fract((p.x + p.y) * p.z); }
  float soft(vec3 p) { vec3 i = floor(p), f = fract(p); f = f * f * (3.0 - 2.0 * f);
    return mix(mix(mix(dice(i), dice(i + vec3(1,0,0)), f.x), mix(dice(i + vec3(0,1,0)), dice(i + vec3(1,1,0)), f.x), f.y),
      mix(mix(dice(i + vec3(0,0,1)), dice(i + vec3(1,0,1)), f.x), mix(dice(i + vec3(0,1,1)), dice(i + vec3(1,1,1)), f.x), f.y), f.z); }
  float grain(float coded, float scale, vec3 place) { // X of the grain runs along the part
    float along = floor(coded / ${ALONG.toFixed(1)} + 0.01); float kind = coded - ${ALONG.toFixed(1)} * along;
    vec3 p = along < 0.5 ? place : along < 1.5 ? place.yzx : place.zxy;
    if (kind < 0.5) return 1.0;
    if (kind < 1.5) { // rings about an axis along X that wanders, and fibres along it
      float r = length(p.yz + 14.0 + 1.6 * scale * (soft(p * vec3(0.02, 0.05, 0.05)) - 0.5)) / scale;
      float ring = smoothstep(0.1, 0.95, fract(r)) * 0.20;
      return 1.06 - ring - 0.12 * soft(vec3(p.x * 0.25, p.yz * 4.0));
    }
    if (kind < 2.5) return 0.94 + 0.10 * step(0.5, fract(place.z / (2.0 * scale))) * (0.7 + 0.3 * soft(place * vec3(0.3, 0.3, 0.0)));
    if (kind < 3.5) return 0.90 + 0.18 * soft(vec3(p.x * 0.06, p.yz / scale * 2.0));
    return 0.88 + 0.22 * soft(p / scale * 2.0);
  }`;

/** One material for all surfaces: what differs rides on the corners of the triangles. */
function coatedMaterial() {
  const material = new MeshStandardMaterial({ vertexColors: true, side: DoubleSide, roughness: 1, metalness: 1, clipShadows: true, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 });
  material.onBeforeCompile = (/** @type {any} */ shader) => {
    shader.vertexShader = shader.vertexShader
      .replace("#include <common>", "#include <common>\nattribute vec4 coat; varying vec4 vCoat; varying vec3 vPlace;")
      .replace("#include <begin_vertex>", "#include <begin_vertex>\nvCoat = coat; vPlace = position;");
    shader.fragmentShader = shader.fragmentShader
      .replace("#include <common>", `#include <common>\n${GRAIN}`)
      .replace("#include <color_fragment>", `#include <color_fragment>\nfloat grainHere = grain(vCoat.z * 255.0, max(0.05, vCoat.w * ${COAT.toFixed(1)}), vPlace); diffuseColor.rgb *= grainHere;`)
      .replace("#include <roughnessmap_fragment>", "float roughnessFactor = clamp(vCoat.x + (vCoat.z > 0.001 ? 0.35 * (1.0 - grainHere) : 0.0), 0.05, 1.0);")
      .replace("#include <metalnessmap_fragment>", "float metalnessFactor = vCoat.y;");
  };
  return material;
}

/** Light for a renderer, worked out once.
 * @param {any} renderer @param {string} name */
export function surroundingsFor(renderer, name) {
  const { room, panels } = /** @type {Table} */ (SURROUNDINGS)[name];
  const scene = new Scene();
  scene.add(new Mesh(new BoxGeometry(20, 20, 20), new MeshBasicMaterial({ color: new Color(room), side: BackSide })));
  for (const [x, y, z, width, height, strength, colour] of panels) {
    const panel = new Mesh(new PlaneGeometry(10 * width, 10 * height), new MeshBasicMaterial({ color: new Color(colour).multiplyScalar(strength), side: DoubleSide }));
    panel.position.set(9 * x, 9 * y, 9 * z);
    panel.lookAt(0, 0, 0);
    scene.add(panel);
  }
  const maker = new PMREMGenerator(renderer);
  const found = maker.fromScene(scene, 0.03).texture;
  maker.dispose();
  return found;
}

/** The four bytes of a surface on each corner.
 * @param {string|null} finish @param {Object<string, any>} table @param {number} [along] the axis that its grain runs along */
export function coatOfFinish(finish, table, along = 0) {
  const surface = table[finish?.slice(8) || ""];
  if (!surface) return [170, 0, 0, 0];
  return [Math.round(255 * surface.roughness), Math.round(255 * surface.metal), GRAINS.indexOf(surface.grain) + ALONG * along, Math.round((255 * surface.scale) / COAT)];
}

export class Finished {
  /** @param {import("../workbench.js").Workbench} bench */
  constructor(bench) {
    this.bench = bench;
    this.on = false;
    this.surroundings = "workshop";
    /** @type {Map<string, any>} */
    this.lights = new Map();
    /** @type {any} */
    this.coated = null;
    /** @type {any} */
    this.floor = null;
    /** @type {Gathered|null} */
    this.gathered = null;
    this.calm = 0;
    this.word = one("[data-finished]");
    this.select = /** @type {HTMLSelectElement} */ (one("#surroundings"));
    this.word.addEventListener("click", () => this.set(!this.on));
    this.select.addEventListener("change", () => {
      this.surroundings = this.select.value;
      this.light();
    });
  }

  /** @param {string} surroundings in which it is finished, none for the plain look */
  wear(surroundings) {
    if (surroundings in SURROUNDINGS) this.select.value = this.surroundings = surroundings;
    if (this.on === Boolean(surroundings)) this.light();
    else this.set(Boolean(surroundings));
  }

  /** @param {boolean} on */
  set(on) {
    const { view } = this.bench;
    this.on = on;
    this.word.setAttribute("aria-pressed", String(on));
    for (const part of all("[data-when-finished]")) part.hidden = !on;
    this.coated ??= coatedMaterial();
    view.finished = on ? this.coated : null;
    if (on && !this.floor) {
      this.floor = new Mesh(new PlaneGeometry(1, 1), new ShadowMaterial({ opacity: 0.28 }));
      this.floor.receiveShadow = true;
      view.scene.add(this.floor);
    }
    view.renderer.shadowMap.enabled = on;
    view.renderer.shadowMap.type = PCFShadowMap;
    view.sun.castShadow = on;
    view.sky.intensity = on ? 0.15 : 2.15;
    view.sun.intensity = on ? 1.1 : 1.35;
    if (this.floor) this.floor.visible = on;
    this.light();
    view.recolour();
  }

  /** After a picture at rest: suns from elsewhere are added, until all are or something changes. */
  settle() {
    clearTimeout(this.calm);
    const { view } = this.bench;
    if (!this.on || view.moving || view.comparing || this.bench.picture?.working) return;
    this.calm = window.setTimeout(() => this.gather(view.frames), CALM);
  }

  /** @param {number} frame of the view that it belongs to */
  gather(frame) {
    const { view } = this.bench;
    const { renderer } = view;
    const gathered = (this.gathered ??= new Gathered(renderer, view));
    const [width, height] = [renderer.domElement.width, renderer.domElement.height];
    gathered.begin(width, height);
    const lens = view.camera.lens.clone();
    let before = 0;
    const step = (/** @type {number} */ now) => {
      if (!this.on || view.moving || view.frames !== frame || this.bench.picture.working) return;
      if (gathered.count > 1 && now - before > SLOW) return; // the first picture makes the shaders
      before = now;
      gathered.gather(lens, [width, height, 0, 0, width, height]);
      if (gathered.count >= SUNS / 3) gathered.present();
      if (gathered.count < SUNS) requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
  }

  light() {
    const { view } = this.bench;
    if (!this.on) view.scene.environment = null;
    else {
      if (!this.lights.has(this.surroundings)) this.lights.set(this.surroundings, surroundingsFor(view.renderer, this.surroundings));
      view.scene.environment = this.lights.get(this.surroundings);
    }
    view.draw();
  }

  /** With every frame: the shadow's light and floor keep to the model. */
  lay() {
    if (!this.on) return;
    const { view } = this.bench;
    const { radius, centre } = view.camera;
    this.floor.position.set(centre.x, centre.y, view.box.isEmpty() ? 0 : view.box.min.z - 0.002 * radius);
    this.floor.scale.setScalar(10 * radius);
    view.sun.position.copy(centre).add({ x: -0.7 * radius, y: -0.9 * radius, z: 2.2 * radius });
    view.sun.target.position.copy(centre);
    const { camera, mapSize } = view.sun.shadow;
    Object.assign(camera, { left: -1.8 * radius, right: 1.8 * radius, top: 1.8 * radius, bottom: -1.8 * radius, near: 0.05 * radius, far: 6 * radius });
    camera.updateProjectionMatrix();
    mapSize.set(2048, 2048);
    view.sun.shadow.normalBias = 0.004 * radius;
    view.sun.shadow.radius = 4;
  }
}
