// The soft shade under the model where it stands on the sheet: seen from below, near matter dark, blurred, laid once a state.
import { Color, Mesh, OrthographicCamera, PlaneGeometry, Scene, ShaderMaterial, WebGLRenderTarget } from "three";
import { sheetColour } from "./materials.js";

const SIZE = 256; // px of the shade
const ROOM = 1.5; // times the model
const REACH = 0.1; // of the model's size above the floor, within which matter shades it
const STRENGTH = 0.42;

const SEEN_FROM_BELOW = `varying float h; uniform float ground;
  void main() { vec4 p = vec4(position, 1.0);
  #ifdef USE_INSTANCING
    p = instanceMatrix * p;
  #endif
  vec4 w = modelMatrix * p; h = w.z - ground; gl_Position = projectionMatrix * viewMatrix * w; }`;
const BLUR = `varying vec2 at; uniform sampler2D shade; uniform vec2 way;
  void main() { float sum = 0.0; float all = 0.0;
  for (int i = -8; i <= 8; i++) { float w = exp(-float(i * i) / 32.0); sum += w * texture2D(shade, at + float(i) * way).r; all += w; }
  gl_FragColor = vec4(vec3(sum / all), 1.0); }`;

export class Contact {
  /** @param {import("./view.js").View} view */
  constructor(view) {
    this.view = view;
    this.due = false;
    this.sides = [0, 1].map(() => new WebGLRenderTarget(SIZE, SIZE));
    this.lens = new OrthographicCamera();
    this.below = new ShaderMaterial({ uniforms: { ground: { value: 0 }, reach: { value: 1 } }, vertexShader: SEEN_FROM_BELOW, fragmentShader: "varying float h; uniform float reach; void main() { gl_FragColor = vec4(vec3(exp(-max(h, 0.0) / reach)), 1.0); }", side: 2 });
    this.blur = new ShaderMaterial({ uniforms: { shade: { value: null }, way: { value: null } }, depthTest: false, fragmentShader: BLUR, vertexShader: "varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy * 2.0, 0.0, 1.0); }" });
    this.screen = new Scene().add(new Mesh(new PlaneGeometry(1, 1), this.blur));
    this.screen.children[0].frustumCulled = false;
    const material = new ShaderMaterial({ uniforms: { shade: { value: this.sides[0].texture }, ink: { value: new Color() } }, transparent: true, depthWrite: false,
      vertexShader: "varying vec2 at; void main() { at = uv; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }",
      fragmentShader: `varying vec2 at; uniform sampler2D shade; uniform vec3 ink; void main() { gl_FragColor = vec4(ink, ${STRENGTH} * texture2D(shade, at).r); }` });
    this.sheet = new Mesh(new PlaneGeometry(1, 1), material);
    this.sheet.renderOrder = -0.5;
    view.scene.add(this.sheet);
  }

  /** The shade of what is shown now, when the next picture is drawn. */
  lay() {
    this.due = true;
  }

  /** Before a picture. */
  draw() {
    const { view } = this;
    this.sheet.visible = !view.finished && !view.section?.planes && !view.box.isEmpty(); // of a model cut open it would tell of what is gone
    if (!this.due || !this.sheet.visible) return;
    this.due = false;
    const { min, max } = view.box;
    const wide = ROOM * Math.max(max.x - min.x, max.y - min.y, 1e-6);
    const tall = Math.max(max.z - min.z, 1e-6);
    this.sheet.scale.set(wide, wide, 1);
    this.sheet.position.set((min.x + max.x) / 2, (min.y + max.y) / 2, min.z - 1e-4 * wide);
    /** @type {any} */ (this.sheet.material).uniforms.ink.value.set(sheetColour("--shade"));
    Object.assign(this.lens, { left: -wide / 2, right: wide / 2, top: wide / 2, bottom: -wide / 2, near: 0, far: 1.1 * tall + 0.1 * wide });
    this.lens.position.copy(this.sheet.position).add({ x: 0, y: 0, z: -0.01 * wide });
    this.lens.up.set(0, 1, 0);
    this.lens.lookAt(this.lens.position.clone().add({ x: 0, y: 0, z: 1 }));
    this.lens.updateProjectionMatrix();
    this.below.uniforms.ground.value = min.z;
    this.below.uniforms.reach.value = REACH * Math.max(wide / ROOM, tall);
    this.render();
  }

  render() {
    const { renderer, scene, parts, crowd } = this.view;
    const away = scene.children.filter((/** @type {any} */ child) => child.visible && child !== parts && child !== crowd.group);
    for (const child of away) child.visible = false;
    const clear = renderer.getClearColor(new Color());
    const alpha = renderer.getClearAlpha();
    renderer.setClearColor(0, 1);
    scene.overrideMaterial = this.below;
    this.pass(0, scene, this.lens);
    scene.overrideMaterial = null;
    for (const child of away) child.visible = true;
    for (const [from, to, x, y] of [[0, 1, 1, 0], [1, 0, 0, 1]]) {
      this.blur.uniforms.shade.value = this.sides[from].texture;
      this.blur.uniforms.way.value = [x / SIZE, y / SIZE];
      this.pass(to, this.screen, this.lens);
    }
    renderer.setRenderTarget(null);
    renderer.setClearColor(clear, alpha);
  }

  /** @param {number} to @param {Scene} scene @param {any} lens */
  pass(to, scene, lens) {
    this.view.renderer.setRenderTarget(this.sides[to]);
    this.view.renderer.clear();
    this.view.renderer.render(scene, lens);
  }
}
