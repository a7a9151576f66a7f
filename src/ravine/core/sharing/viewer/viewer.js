// One model in one file: read, drawn, turned, cut, measured.  Nothing is fetched.
(async () => {
  "use strict";
  const find = (css) => document.querySelector(css);
  const told = find("#told");
  const canvas = find("canvas");
  const gl = canvas.getContext("webgl2", { antialias: true, preserveDrawingBuffer: true });
  if (!gl || !("DecompressionStream" in window)) {
    told.textContent = "This browser cannot draw models (it lacks WebGL 2); open the file in a newer one.";
    return;
  }

  // --- reading -------------------------------------------------------------------------------------------------
  const packed = Uint8Array.from(atob(find("#model").textContent), (c) => c.charCodeAt(0));
  const stream = new Blob([packed]).stream().pipeThrough(new DecompressionStream("deflate-raw"));
  const raw = new Uint8Array(await new Response(stream).arrayBuffer());
  const long = new DataView(raw.buffer).getUint32(0, true);
  const model = JSON.parse(new TextDecoder().decode(raw.subarray(4, 4 + long)));
  let at = 4 + long;
  const take = (count) => raw.subarray(at, (at += count));
  const differences = (count) => {
    const [a, b, c] = [take(count), take(count), take(count)];
    return Int32Array.from({ length: count }, (_, i) => {
      const folded = a[i] | (b[i] << 8) | (c[i] << 16);
      return (folded >>> 1) ^ -(folded & 1);
    });
  };
  const places = (count, shape) => {
    const steps = differences(3 * count);
    const found = new Float32Array(3 * count);
    for (let k = 0; k < 3; k++) for (let i = 0, v = 0; i < count; i++) found[3 * i + k] = shape.low[k] + (v += steps[k * count + i]) * shape.step;
    return found;
  };
  for (const shape of model.shapes) {
    shape.at = places(shape.points, shape);
    shape.lines = places(shape.edges.reduce((a, b) => a + b, 0), shape);
    const steps = differences(3 * shape.triangles);
    shape.corners = new Uint32Array(steps.length);
    for (let i = 0, v = 0; i < steps.length; i++) shape.corners[i] = v += steps[i];
    const [x, y] = [take(shape.points), take(shape.points)];
    shape.normals = Int8Array.from({ length: 2 * shape.points }, (_, i) => (((i & 1 ? y : x)[i >> 1] << 24) >> 24));
  }

  // --- drawing -------------------------------------------------------------------------------------------------
  const program = (vertex, fragment) => {
    const found = gl.createProgram();
    for (const [kind, text] of [[gl.VERTEX_SHADER, vertex], [gl.FRAGMENT_SHADER, fragment]]) {
      const shader = gl.createShader(kind);
      gl.shaderSource(shader, `#version 300 es\nprecision highp float;\n${text}`);
      gl.compileShader(shader);
      if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) throw new Error(gl.getShaderInfoLog(shader));
      gl.attachShader(found, shader);
    }
    gl.linkProgram(found);
    const places_ = new Map();
    return { it: found, at: (name) => places_.get(name) ?? (places_.set(name, gl.getUniformLocation(found, name)), places_.get(name)) };
  };
  const CUT = "uniform vec4 cut; in vec3 where; ";
  const DROP = "if (dot(where, cut.xyz) > cut.w) discard; ";
  const faces = program(
    `layout(location=0) in vec3 place; layout(location=1) in vec2 oct; uniform mat4 view, stand; out vec3 normal, where;
     void main() { vec2 q = oct / 127.; vec3 n = vec3(q, 1. - abs(q.x) - abs(q.y)); if (n.z < 0.) n.xy = (1. - abs(n.yx)) * (step(0., n.xy) * 2. - 1.);
       normal = mat3(view) * (mat3(stand) * normalize(n)); vec4 w = stand * vec4(place, 1); where = w.xyz; gl_Position = view * w; gl_Position.z += .0004; }`,
    `${CUT} in vec3 normal; uniform vec3 colour; uniform float lit; out vec4 found;
     void main() { ${DROP} if (!gl_FrontFacing) { float line = fract((gl_FragCoord.x + gl_FragCoord.y) / 9.); found = vec4(mix(vec3(.93, .86, .8), vec3(.68, .26, .15), step(.82, line)), 1); return; }
       float light = .66 + .34 * abs(dot(normalize(normal), normalize(vec3(-.3, .5, -.8)))); found = vec4(mix(colour * light, vec3(.05, .43, .54), lit), 1); }`,
  );
  const strokes = program(
    `layout(location=0) in vec3 place; uniform mat4 view, stand; out vec3 where; void main() { vec4 w = stand * vec4(place, 1); where = w.xyz; gl_Position = view * w; }`,
    `${CUT} out vec4 found; void main() { ${DROP} found = vec4(.12, .16, .18, 1); }`,
  );
  const buffer = (data, kind = gl.ARRAY_BUFFER) => {
    gl.bindBuffer(kind, gl.createBuffer());
    gl.bufferData(kind, data, gl.STATIC_DRAW);
  };
  const vertices = (data, number, size, type) => {
    buffer(data);
    gl.enableVertexAttribArray(number);
    gl.vertexAttribPointer(number, size, type, false, 0, 0);
  };
  for (const shape of model.shapes) {
    shape.drawn = gl.createVertexArray();
    gl.bindVertexArray(shape.drawn);
    vertices(shape.at, 0, 3, gl.FLOAT);
    vertices(shape.normals, 1, 2, gl.BYTE);
    buffer(shape.corners, gl.ELEMENT_ARRAY_BUFFER);
    const pairs = [];
    let start = 0;
    for (const count of shape.edges) {
      for (let i = 0; i < count - 1; i++) pairs.push(start + i, start + i + 1);
      start += count;
    }
    shape.inked = gl.createVertexArray();
    gl.bindVertexArray(shape.inked);
    vertices(shape.lines, 0, 3, gl.FLOAT);
    buffer(new Uint32Array(pairs), gl.ELEMENT_ARRAY_BUFFER);
    shape.pairs = pairs.length;
  }
  const placed = (m, p) => [0, 1, 2].map((r) => m[4 * r] * p[0] + m[4 * r + 1] * p[1] + m[4 * r + 2] * p[2] + m[4 * r + 3]);
  const turned = (m, d) => [0, 1, 2].map((r) => m[4 * r] * d[0] + m[4 * r + 1] * d[1] + m[4 * r + 2] * d[2]);
  const dot = (a, b) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const minus = (a, b) => a.map((v, i) => v - b[i]);
  const cross = (a, b) => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  const size = (a) => Math.hypot(...a);

  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const place of model.places) {
    const { at: points } = model.shapes[place.shape];
    const own = [[Infinity, Infinity, Infinity], [-Infinity, -Infinity, -Infinity]];
    for (let i = 0; i < points.length; i += 3) {
      const p = placed(place.stand, points.subarray(i, i + 3));
      for (let k = 0; k < 3; k++) {
        own[0][k] = Math.min(own[0][k], p[k]);
        own[1][k] = Math.max(own[1][k], p[k]);
      }
    }
    place.middle = own[0].map((v, k) => (v + own[1][k]) / 2);
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k], own[0][k]);
      high[k] = Math.max(high[k], own[1][k]);
    }
    place.shown = true;
  }
  const middle = low.map((v, k) => (v + high[k]) / 2);
  const reach = size(minus(high, low)) / 2 || 1;
  const eye = { turn: -0.6, lift: 0.5, near: 1, x: 0, y: 0 };
  const cut = { across: -1, share: 0.5, side: 1 };
  let apart = 0;
  let lit = -1;

  const standing = (place) => {
    const m = [...place.stand];
    const shift = place.apart ? place.apart.map((v) => v * apart) : minus(place.middle, middle).map((v) => v * apart * 1.2);
    for (let k = 0; k < 3; k++) m[4 * k + 3] += shift[k];
    return m;
  };
  const axes = () => {
    const [ca, sa, ce, se] = [Math.cos(eye.turn), Math.sin(eye.turn), Math.cos(eye.lift), Math.sin(eye.lift)];
    const right = [ca, sa, 0];
    const toward = [sa * ce, -ca * ce, se];
    return { right, toward, up: cross(toward, right) };
  };
  const scale = () => {
    const [w, h] = [canvas.clientWidth || 1, canvas.clientHeight || 1];
    const k = eye.near / (reach * (1 + apart));
    return [k * Math.min(1, h / w), k * Math.min(1, w / h)];
  };
  const cutPlane = () => {
    if (cut.across < 0) return [0, 0, 0, 1];
    const normal = [0, 0, 0];
    normal[cut.across] = cut.side;
    return [...normal, cut.side * (low[cut.across] + cut.share * (high[cut.across] - low[cut.across]))];
  };
  const rgb = (colour) => [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16) / 255);
  let due = false;
  const draw = () => {
    if (due) return;
    due = true;
    requestAnimationFrame(paint);
  };
  function paint() {
    due = false;
    const ratio = Math.min(2, window.devicePixelRatio || 1);
    canvas.width = canvas.clientWidth * ratio;
    canvas.height = canvas.clientHeight * ratio;
    gl.viewport(0, 0, canvas.width, canvas.height);
    gl.clearColor(0.949, 0.937, 0.91, 1);
    gl.clear(gl.COLOR_BUFFER_BIT | gl.DEPTH_BUFFER_BIT);
    gl.enable(gl.DEPTH_TEST);
    gl.depthFunc(gl.LEQUAL);
    const { right, toward, up } = axes();
    const [sx, sy] = scale();
    const sz = -1 / (6 * reach * (1 + apart));
    const rows = [right.map((v) => v * sx), up.map((v) => v * sy), toward.map((v) => v * sz)];
    const off = [-dot(right, middle) * sx + eye.x, -dot(up, middle) * sy + eye.y, -dot(toward, middle) * sz];
    const view = [0, 1, 2].flatMap((k) => [rows[0][k], rows[1][k], rows[2][k], 0]).concat(off, 1);
    for (const [pass, ink] of [[faces, false], [strokes, true]]) {
      gl.useProgram(pass.it);
      gl.uniformMatrix4fv(pass.at("view"), false, view);
      gl.uniform4fv(pass.at("cut"), cutPlane());
      model.places.forEach((place) => {
        if (!place.shown) return;
        const shape = model.shapes[place.shape];
        const m = standing(place);
        gl.uniformMatrix4fv(pass.at("stand"), false, [0, 1, 2, 3].flatMap((k) => (k < 3 ? [m[k], m[4 + k], m[8 + k], 0] : [m[3], m[7], m[11], 1])));
        if (ink) {
          gl.bindVertexArray(shape.inked);
          gl.drawElements(gl.LINES, shape.pairs, gl.UNSIGNED_INT, 0);
        } else {
          gl.uniform3fv(pass.at("colour"), rgb(place.colour));
          gl.uniform1f(pass.at("lit"), place.row === lit ? 0.45 : 0);
          gl.bindVertexArray(shape.drawn);
          gl.drawElements(gl.TRIANGLES, 3 * shape.triangles, gl.UNSIGNED_INT, 0);
          for (const [start, count, colour] of place.tints || []) { // over the part's own colour
            gl.uniform3fv(pass.at("colour"), rgb(colour));
            gl.drawElements(gl.TRIANGLES, 3 * count, gl.UNSIGNED_INT, 12 * start);
          }
        }
      });
    }
    canvas.dataset.frames = String(Number(canvas.dataset.frames || 0) + 1);
  }

  // --- pointing and measuring ----------------------------------------------------------------------------------
  function under(x, y) {
    const { right, toward, up } = axes();
    const [sx, sy] = scale();
    const nx = (2 * x) / canvas.clientWidth - 1;
    const ny = 1 - (2 * y) / canvas.clientHeight;
    const from = middle.map((v, k) => v + ((nx - eye.x) / sx) * right[k] + ((ny - eye.y) / sy) * up[k] + 5 * reach * (1 + apart) * toward[k]);
    const plane = cutPlane();
    let best = null;
    for (const place of model.places) {
      if (!place.shown) continue;
      const m = standing(place);
      const shape = model.shapes[place.shape];
      const back = minus(from, [m[3], m[7], m[11]]);
      const o = [0, 1, 2].map((k) => m[k] * back[0] + m[4 + k] * back[1] + m[8 + k] * back[2]);
      const d = [0, 1, 2].map((k) => -(m[k] * toward[0] + m[4 + k] * toward[1] + m[8 + k] * toward[2]));
      const p = shape.at;
      const c = shape.corners;
      for (let t = 0; t < c.length; t += 3) {
        const [i, j, k] = [3 * c[t], 3 * c[t + 1], 3 * c[t + 2]];
        const e1 = [p[j] - p[i], p[j + 1] - p[i + 1], p[j + 2] - p[i + 2]];
        const e2 = [p[k] - p[i], p[k + 1] - p[i + 1], p[k + 2] - p[i + 2]];
        const h = cross(d, e2);
        const det = dot(e1, h);
        if (Math.abs(det) < 1e-12) continue;
        const s = [o[0] - p[i], o[1] - p[i + 1], o[2] - p[i + 2]];
        const u = dot(s, h) / det;
        if (u < 0 || u > 1) continue;
        const q = cross(s, e1);
        const v = dot(d, q) / det;
        if (v < 0 || u + v > 1) continue;
        const far = dot(e2, q) / det;
        if (far <= 0 || (best && far >= best.far)) continue;
        const where = from.map((w, n) => w - far * toward[n]);
        if (dot(where, plane) > plane[3]) continue;
        let face = 0;
        for (let n = t / 3; face < shape.counts.length && n >= shape.counts[face]; face++) n -= shape.counts[face];
        best = { far, place, face, where, m };
      }
    }
    return best;
  }
  const length = (mm) => `${Number((mm / model.unit).toFixed(model.unit === 1 ? 3 : 4))} ${model.units}`;
  const formed = (hit) => {
    const [kind, ...n] = model.shapes[hit.place.shape].forms[hit.face] || ["mesh"];
    const form = { kind, at: hit.where };
    if (kind === "plane") Object.assign(form, { at: placed(hit.m, n.slice(0, 3)), way: turned(hit.m, n.slice(3, 6)) });
    if (kind === "cylinder") Object.assign(form, { at: placed(hit.m, n.slice(0, 3)), way: turned(hit.m, n.slice(3, 6)), radius: n[6] });
    if (kind === "ball") Object.assign(form, { at: placed(hit.m, n.slice(0, 3)), radius: n[3] });
    return form;
  };
  const words = (form) => ({ plane: "flat face", cylinder: `round face, ⌀ ${length(2 * (form.radius || 0))}`, ball: `ball, ⌀ ${length(2 * (form.radius || 0))}` }[form.kind] || "face");
  function between(a, b) {
    const [p, q] = [formed(a), formed(b)];
    const straight = `${length(size(minus(a.where, b.where)))} from place to place`;
    const along = p.way && q.way ? Math.abs(dot(p.way, q.way)) : 0;
    const off = minus(q.at, p.at);
    if (p.kind === "plane" && q.kind === "plane") return along > 0.9999999 ? `${length(Math.abs(dot(off, p.way)))} between the two faces` : `${Number(((Math.acos(Math.min(1, along)) * 180) / Math.PI).toFixed(3))}° between the two faces; ${straight}`;
    if (p.kind === "cylinder" && q.kind === "cylinder" && along > 0.9999999) return `${length(size(cross(off, p.way)))} from axis to axis`;
    const [flat, round] = p.kind === "plane" ? [p, q] : [q, p];
    if (flat.kind === "plane" && round.kind === "cylinder" && along < 1e-6) return `${length(Math.abs(dot(off, flat.way)))} from the face to the axis`;
    return straight;
  }
  let measuring = false;
  let first = null;
  function measure(hit) {
    if (!hit) first = null;
    if (!hit || !first) {
      first = hit;
      told.textContent = hit ? `${hit.place.name}: ${words(formed(hit))}. Point at a second one.` : "Point at a face.";
      return;
    }
    told.textContent = between(first, hit);
    first = null;
  }

  // --- the hand ------------------------------------------------------------------------------------------------
  const held = new Map();
  let moved = 0;
  let spread = 0;
  canvas.addEventListener("pointerdown", (event) => {
    held.set(event.pointerId, [event.offsetX, event.offsetY]);
    moved = 0;
    spread = 0;
    canvas.setPointerCapture(event.pointerId);
  });
  canvas.addEventListener("pointermove", (event) => {
    const before = held.get(event.pointerId);
    if (!before) return;
    const [dx, dy] = [event.offsetX - before[0], event.offsetY - before[1]];
    held.set(event.pointerId, [event.offsetX, event.offsetY]);
    moved += Math.abs(dx) + Math.abs(dy);
    if (held.size === 2) {
      const [a, b] = [...held.values()];
      const wide = Math.hypot(a[0] - b[0], a[1] - b[1]);
      if (spread) eye.near *= wide / spread;
      spread = wide;
      slide(dx / 2, dy / 2);
    } else if (event.shiftKey || event.buttons & 6) slide(dx, dy);
    else turn(dx, dy);
    draw();
  });
  const turn = (dx, dy) => {
    eye.turn -= dx * 0.008;
    eye.lift = Math.max(-Math.PI / 2, Math.min(Math.PI / 2, eye.lift + dy * 0.008));
  };
  const slide = (dx, dy) => {
    eye.x += (2 * dx) / canvas.clientWidth;
    eye.y -= (2 * dy) / canvas.clientHeight;
  };
  canvas.addEventListener("pointerup", (event) => {
    held.delete(event.pointerId);
    if (moved > 4) return;
    const hit = under(event.offsetX, event.offsetY);
    if (measuring) measure(hit);
    else {
      lit = hit ? hit.place.row : -1;
      told.textContent = hit ? hit.place.name : "";
      draw();
    }
  });
  canvas.addEventListener("pointercancel", (event) => held.delete(event.pointerId));
  canvas.addEventListener("contextmenu", (event) => event.preventDefault());
  const zoom = (factor, x, y) => {
    eye.x = x + (eye.x - x) * factor;
    eye.y = y + (eye.y - y) * factor;
    eye.near *= factor;
    draw();
  };
  canvas.addEventListener("wheel", (event) => {
    event.preventDefault();
    zoom(Math.exp(-0.0012 * event.deltaY), (2 * event.offsetX) / canvas.clientWidth - 1, 1 - (2 * event.offsetY) / canvas.clientHeight);
  }, { passive: false });
  canvas.addEventListener("keydown", (event) => {
    const acts = { ArrowLeft: () => turn(-20, 0), ArrowRight: () => turn(20, 0), ArrowUp: () => turn(0, -20), ArrowDown: () => turn(0, 20), "+": () => zoom(1.2, 0, 0), "=": () => zoom(1.2, 0, 0), "-": () => zoom(0.83, 0, 0), Home: () => look("corner") };
    if (!acts[event.key]) return;
    event.preventDefault();
    acts[event.key]();
    draw();
  });
  const LOOKS = { corner: [-0.6, 0.5], front: [0, 0], right: [Math.PI / 2, 0], left: [-Math.PI / 2, 0], back: [Math.PI, 0], top: [0, Math.PI / 2], below: [0, -Math.PI / 2] };
  function look(name) {
    [eye.turn, eye.lift] = LOOKS[name];
    Object.assign(eye, { near: 1, x: 0, y: 0 });
    draw();
  }
  const button = (text, act) => {
    const found = document.createElement("button");
    found.type = "button";
    found.textContent = text;
    found.addEventListener("click", act);
    return found;
  };
  find("nav").append(...Object.keys(LOOKS).map((name) => button(name, () => look(name))), ...model.views.map((kept) => button(kept.name, () => {
    const [turnTo, liftTo, span, target] = kept.eye;
    const { right, up } = (Object.assign(eye, { turn: turnTo, lift: liftTo, near: (2 * reach) / span }), axes());
    const [sx, sy] = scale();
    Object.assign(eye, { x: -dot(minus(target, middle), right) * sx, y: -dot(minus(target, middle), up) * sy });
    draw();
  })));

  // --- the list, the cut, apart --------------------------------------------------------------------------------
  model.rows.forEach((row, number) => {
    const line = document.createElement("tr");
    const [name, count, more] = [document.createElement("th"), document.createElement("td"), document.createElement("td")];
    name.textContent = row.name;
    name.tabIndex = 0;
    count.textContent = `${row.count}×`;
    more.textContent = row.more;
    line.append(name, count, more);
    const toggle = () => {
      const away = line.classList.toggle("away");
      for (const place of model.places) if (place.row === number) place.shown = !away;
      draw();
    };
    line.title = "Click hides it, and shows it again";
    line.addEventListener("click", toggle);
    name.addEventListener("keydown", (event) => (event.key === "Enter" || event.key === " ") && (event.preventDefault(), toggle()));
    line.addEventListener("pointerenter", () => ((lit = number), draw()));
    line.addEventListener("pointerleave", () => ((lit = -1), draw()));
    find("#parts tbody").append(line);
  });
  if (model.notes.length) {
    find("#notes").hidden = false;
    for (const [text, picture] of model.notes) {
      const row = Object.assign(document.createElement("li"), { textContent: text });
      if (picture) row.append(Object.assign(new Image(), { src: picture, alt: "What is pinned to this note" }));
      find("#notes ol").append(row);
    }
  }
  const slider = find("#at");
  find("#across").addEventListener("change", (event) => {
    cut.across = "XYZ".indexOf(event.target.value || "-");
    slider.disabled = find("#flip").disabled = cut.across < 0;
    draw();
  });
  slider.addEventListener("input", () => ((cut.share = Number(slider.value)), draw()));
  find("#flip").addEventListener("click", () => ((cut.side = -cut.side), draw()));
  find("#apart").addEventListener("input", (event) => ((apart = Number(event.target.value)), draw()));
  find("#apart-row").hidden = model.places.length < 2;
  find("#measure").addEventListener("click", (event) => {
    measuring = !measuring;
    event.target.setAttribute("aria-pressed", String(measuring));
    first = null;
    told.textContent = measuring ? "Point at a face." : "";
  });
  new ResizeObserver(draw).observe(canvas);
  window.viewer = { model, eye, under, between, draw, paint };
  canvas.dataset.ready = "true";
  draw();
})();
