// Light gathered from many directions: pictures of one moment, each lit by a sun that stands elsewhere, added up. Shadows
// get soft edges and are dark where things touch, corners that little sky reaches are dim, and edges are smooth.
import { AddEquation, CustomBlending, DirectionalLight, HalfFloatType, Mesh, OneFactor, OrthographicCamera, PlaneGeometry, Scene, ShaderMaterial, Vector3, WebGLRenderTarget } from "three";

export const SUNS = 48;
const KEY = new Vector3(-0.9, -1.4, 1.7).normalize();
const SPREAD = 0.16; // of the key light: how wide it is
const LOWEST = 0.2; // height of the lowest sun of the sky
const SKY = 1.7; // strength of a sun of the sky, and of the key light
const STRONG = 5.2;
const REST = 0.5; // of the surroundings, which have no shadow
const BIAS = -0.0015; // of the depth of a shadow: faces along the light do not shade themselves
const SHADOW = 1024; // px: many shadows make a soft one
const REACH = 2.6; // radii of the model to the suns

const QUAD = "varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy * 2.0, 0.0, 1.0); }";
const ADD = "varying vec2 at; uniform sampler2D picture; uniform float share; void main() { gl_FragColor = share * texture2D(picture, at); }";
const SHOW = `varying vec2 at; uniform sampler2D picture; uniform float share; void main() { vec4 sum = share * texture2D(picture, at);
  gl_FragColor = vec4(sum.a > 0.0 ? sum.rgb / sum.a : vec3(0.0), sum.a);
  #include <colorspace_fragment>
  gl_FragColor.rgb *= sum.a; }`;

/** Where the sun stands for one of the pictures, and how strong it is: every other one is the key light, the rest is sky.
 * @param {number} k @returns {{way: Vector3, strength: number}} */
export function sunAt(k) {
  const row = Math.floor(k / 2) + 1; // each of the two kinds counts for itself, or it would have half of the numbers
  const [u, v] = [halton(row, 2), halton(row, 3)];
  const turn = 2 * Math.PI * v;
  if (k % 2) {
    const side = new Vector3(0, 0, 1).cross(KEY).normalize();
    const up = KEY.clone().cross(side);
    const reach = SPREAD * Math.sqrt(u);
    return { way: KEY.clone().addScaledVector(side, reach * Math.cos(turn)).addScaledVector(up, reach * Math.sin(turn)).normalize(), strength: STRONG };
  }
  const height = LOWEST + (1 - LOWEST) * u;
  const flat = Math.sqrt(1 - height * height);
  return { way: new Vector3(flat * Math.cos(turn), flat * Math.sin(turn), height), strength: SKY };
}

/** Evenly spread numbers from 0 to 1 (van der Corput).
 * @param {number} k @param {number} base */
export function halton(k, base) {
  let found = 0;
  for (let part = 1 / base; k > 0; k = Math.floor(k / base), part /= base) found += part * (k % base);
  return found;
}

export class Gathered {
  /** @param {import("three").WebGLRenderer} renderer @param {import("./view.js").View} view */
  constructor(renderer, view) {
    this.renderer = renderer;
    this.view = view;
    this.count = 0;
    const blend = { blending: CustomBlending, blendEquation: AddEquation, blendSrc: OneFactor, blendDst: OneFactor, blendSrcAlpha: OneFactor, blendDstAlpha: OneFactor, transparent: true };
    const plain = { vertexShader: QUAD, depthTest: false, depthWrite: false };
    this.add = new ShaderMaterial({ ...plain, ...blend, fragmentShader: ADD, uniforms: { picture: { value: null }, share: { value: 1 } } });
    this.show = new ShaderMaterial({ ...plain, fragmentShader: SHOW, uniforms: { picture: { value: null }, share: { value: 1 } }, blending: 0 });
    this.quad = new Mesh(new PlaneGeometry(1, 1), this.add);
    this.quad.frustumCulled = false;
    this.screen = new Scene().add(this.quad);
    this.lens = new OrthographicCamera();
    this.light = new DirectionalLight(0xffffff, 1);
    this.light.castShadow = true;
    this.light.shadow.mapSize.set(SHADOW, SHADOW);
    this.light.shadow.radius = 3;
    this.one = new WebGLRenderTarget(1, 1, { type: HalfFloatType, samples: 4 });
    this.sum = new WebGLRenderTarget(1, 1, { type: HalfFloatType, depthBuffer: false });
  }

  /** @param {number} width @param {number} height pixels of what is gathered next */
  begin(width, height) {
    this.count = 0;
    this.one.setSize(width, height);
    this.sum.setSize(width, height);
    const { renderer } = this;
    renderer.setRenderTarget(this.sum);
    renderer.clear();
    renderer.setRenderTarget(null);
  }

  /** One more picture, lit from elsewhere and shifted by a part of a pixel.
   * @param {any} lens with its whole view as an offset of (full width, full height, x, y, width, height)
   * @param {[number, number, number, number, number, number]} frame */
  gather(lens, frame) {
    const { renderer, view } = this;
    const { scene, sun } = view;
    const [fullWidth, fullHeight, x, y, width, height] = frame;
    const { way, strength } = sunAt(this.count);
    this.stand(way, strength);
    const surroundings = scene.environmentIntensity;
    scene.environmentIntensity = REST;
    scene.add(this.light, this.light.target);
    sun.visible = false;
    lens.setViewOffset(fullWidth, fullHeight, x + halton(this.count + 1, 5) - 0.5, y + halton(this.count + 1, 7) - 0.5, width, height);
    lens.updateProjectionMatrix();
    renderer.setRenderTarget(this.one);
    renderer.clear();
    renderer.render(scene, lens);
    sun.visible = true;
    this.light.removeFromParent();
    this.light.target.removeFromParent();
    scene.environmentIntensity = surroundings;
    this.count++;
    const clears = renderer.autoClear;
    renderer.autoClear = false;
    this.pass(this.add, this.one.texture, 1, this.sum);
    renderer.autoClear = clears;
  }

  /** @param {Vector3} way @param {number} strength */
  stand(way, strength) {
    const { centre, radius } = this.view.camera;
    const { light } = this;
    light.position.copy(centre).addScaledVector(way, REACH * radius);
    light.target.position.copy(centre);
    light.target.updateMatrixWorld();
    light.intensity = strength;
    light.shadow.bias = BIAS;
    light.shadow.normalBias = 0.004 * radius;
    Object.assign(light.shadow.camera, { left: -1.8 * radius, right: 1.8 * radius, top: 1.8 * radius, bottom: -1.8 * radius, near: 0.05 * radius, far: 6 * radius });
    light.shadow.camera.updateProjectionMatrix();
  }

  /** The mean of what was gathered, on the canvas. */
  present() {
    this.pass(this.show, this.sum.texture, 1 / Math.max(this.count, 1), null);
  }

  /** @param {ShaderMaterial} material @param {any} picture @param {number} share @param {any} to */
  pass(material, picture, share, to) {
    this.quad.material = material;
    material.uniforms.picture.value = picture;
    material.uniforms.share.value = share;
    this.renderer.setRenderTarget(to);
    this.renderer.render(this.screen, this.lens);
    this.renderer.setRenderTarget(null);
  }

  dispose() {
    for (const part of [this.one, this.sum, this.add, this.show, this.quad.geometry, this.light]) part.dispose();
  }
}
