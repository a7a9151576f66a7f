// Colours from the sheet, and the hatched materials: what is told by colour is told by pattern too.
import { Color, DoubleSide, LineBasicMaterial, MeshLambertMaterial, ShaderMaterial } from "three";

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

/** Translucent fill with a screen-fixed hatch, drawn just over the faces it marks. */
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
      ${PATTERNS[pattern]} gl_FragColor = vec4(colour, mix(fill, strong, min(mark, 1.0)));
      #include <colorspace_fragment>
      }`,
    transparent: true, depthWrite: false, side: DoubleSide,
    polygonOffset: true, polygonOffsetFactor: -1, polygonOffsetUnits: -2,
  });
  return material;
}

/** What is never clipped: the lines in the section itself. */
const WHOLE = ["cutEdge", "pickedCut", "hoverCut"];

/** Leave away what lies before the planes. @param {Object<string, any>} materials @param {any[]|null} planes */
export function clip(materials, planes) {
  for (const [name, material] of Object.entries(materials)) {
    if (WHOLE.includes(name)) continue;
    material.needsUpdate = (material.clippingPlanes?.length || 0) !== (planes?.length || 0);
    material.clippingPlanes = planes;
  }
}

export function makeMaterials() {
  const ink = new Color(sheetColour("--ink"));
  return {
    body: new MeshLambertMaterial({ vertexColors: true, side: DoubleSide, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }),
    edge: new LineBasicMaterial({ color: ink }),
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
    removed: hatched(sheetColour("--rust"), "back", 0.2, 0.55),
  };
}
