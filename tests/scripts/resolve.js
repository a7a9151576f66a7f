// Node reads the page's scripts as the browser does: "three" and the like come from the shipped copies.
import { register } from "node:module";

const STATIC = new URL("../../src/ravine/web/static/vendor/", import.meta.url);
const hook = `export function resolve(name, context, next) {
  const shipped = { three: "three/three.module.js", "three-mesh-bvh": "three-mesh-bvh/index.module.js" }[name];
  return shipped ? next(new URL(shipped, ${JSON.stringify(STATIC.href)}).href, context) : next(name, context);
}`;
register(`data:text/javascript,${encodeURIComponent(hook)}`);
