// Colours from the sheet, and the hatched materials: what is told by colour is told by pattern too.
import { BackSide, Color, DoubleSide, LineBasicMaterial, MeshLambertMaterial, ShaderMaterial, Vector2 } from "three";

/** @param {string} name of a CSS custom property */
export function sheetColour(name) {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}

const PATTERNS = {
  diagonal: "float band = mod(gl_FragCoord.x + gl_FragCoord.y, 9.0); float mark = step(band, 2.0);",
  back: "float band = mod(gl_FragCoord.x - gl_FragCoord.y, 9.0); float mark = step(band, 2.0);",
  check: "float mark = step(mod(gl_FragCoord.x, 7.0), 1.0) + step(mod(gl_FragCoord.y, 7.0), 1.0);",
  plain: "float mark = 0.0;",
};

/** Translucent fill with a screen-fixed hatch, drawn just over the faces it marks.
 * @param {string} colour @param {string} pattern @param {number} fill @param {number} mark */
export function hatched(colour, pattern, fill, mark) {
  const material = new ShaderMaterial({
    uniforms: { colour: { value: new Color(colour) }, fill: { value: fill }, strong: { value: mark } },
    vertexShader: `#include <clipping_planes_pars_vertex>
      void main() { vec4 mvPosition = modelViewMatrix * vec4(position, 1.0); gl_Position = projectionMatrix * mvPosition;
      #include <clipping_planes_vertex>
      }`,
    clipping: true,
    fragmentShader: `uniform vec3 colour; uniform float fill; uniform float strong;
      #include <clipping_planes_pars_fragment>
      void main() {
      #include <clipping_planes_fragment>
      ${/** @type {Table} */ (PATTERNS)[pattern]} gl_FragColor = vec4(colour, mix(fill, strong, min(mark, 1.0)));
      #include <colorspace_fragment>
      }`,
    transparent: true, depthWrite: false, side: DoubleSide,
    polygonOffset: true, polygonOffsetFactor: -1, polygonOffsetUnits: -2,
  });
  return material;
}

/** What is never clipped: the lines in the section itself. */
const WHOLE = ["cutEdge", "pickedCut", "hoverCut"];

/** Leave away what lies before the planes.
 * @param {Object<string, any>} materials @param {any[]|null} planes */
export function clip(materials, planes) {
  for (const [name, material] of Object.entries(materials)) {
    if (WHOLE.includes(name)) continue;
    material.needsUpdate = (material.clippingPlanes?.length || 0) !== (planes?.length || 0);
    material.clippingPlanes = planes;
  }
}

/** Loud colours of files are toned down on the screen, so that what is picked and hatched stands out; the finished look
 * and every file that is saved have them as they are.
 * @param {any} material */
function calm(material) {
  material.onBeforeCompile = (/** @type {any} */ shader) => {
    shader.fragmentShader = shader.fragmentShader.replace("#include <color_fragment>", `#include <color_fragment>
      float grey = dot(diffuseColor.rgb, vec3(0.2126, 0.7152, 0.0722));
      diffuseColor.rgb = mix(vec3(clamp(grey, 0.05, 0.75)), diffuseColor.rgb, 0.55);`);
  };
  return material;
}

const RIM = 1.2; // px

/** The outline of round forms: the far side of a solid, a little larger than its near side.
 * @param {any} ink */
function rimmed(ink) {
  return new ShaderMaterial({
    uniforms: { colour: { value: ink }, view: { value: new Vector2(1280, 800) } }, side: BackSide, clipping: true,
    vertexShader: `uniform vec2 view;
      #include <clipping_planes_pars_vertex>
      void main() { vec4 mvPosition = modelViewMatrix * vec4(position, 1.0); gl_Position = projectionMatrix * mvPosition;
      vec2 out_ = (projectionMatrix * vec4(normalMatrix * normal, 0.0)).xy;
      if (dot(out_, out_) > 1e-12) gl_Position.xy += normalize(out_ * view) * ${RIM.toFixed(1)} * 2.0 / view * gl_Position.w;
      #include <clipping_planes_vertex>
      }`,
    fragmentShader: `uniform vec3 colour;
      #include <clipping_planes_pars_fragment>
      void main() {
      #include <clipping_planes_fragment>
      gl_FragColor = vec4(colour, 1.0);
      #include <colorspace_fragment>
      }`,
  });
}

export function makeMaterials() {
  const ink = new Color(sheetColour("--ink"));
  return {
    body: calm(new MeshLambertMaterial({ vertexColors: true, side: DoubleSide, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 })),
    edge: new LineBasicMaterial({ color: ink, vertexColors: true, transparent: true }),
    rim: rimmed(ink),
    picked: hatched(sheetColour("--rust"), "diagonal", 0.5, 0.78),
    pickedEdge: new LineBasicMaterial({ color: new Color(sheetColour("--rust")), depthTest: false }),
    hover: hatched(sheetColour("--water"), "plain", 0.16, 0.16),
    hoverEdge: new LineBasicMaterial({ color: new Color(sheetColour("--water")), depthTest: false }),
    locked: hatched(sheetColour("--slate"), "check", 0.3, 0.75),
    cutEdge: new LineBasicMaterial({ color: ink }),
    pickedCut: new LineBasicMaterial({ color: new Color(sheetColour("--rust")), depthTest: false }),
    hoverCut: new LineBasicMaterial({ color: new Color(sheetColour("--water")), depthTest: false }),
    overlap: Object.assign(hatched(sheetColour("--rust"), "diagonal", 0.55, 0.9), { depthTest: false }),
    added: hatched(sheetColour("--moss-fill"), "diagonal", 0.34, 0.72),
    was: new MeshLambertMaterial({ color: new Color(sheetColour("--rust")), transparent: true, opacity: 0.34, depthWrite: false, polygonOffset: true, polygonOffsetFactor: 2, polygonOffsetUnits: 2 }),
    wasEdge: new LineBasicMaterial({ color: new Color(sheetColour("--rust")), transparent: true, opacity: 0.65, depthTest: false }),
    removed: hatched(sheetColour("--rust"), "back", 0.2, 0.55),
  };
}
