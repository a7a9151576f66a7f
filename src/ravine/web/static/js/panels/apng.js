// Pictures one after the other as one animated PNG (W3C, PNG third edition, 11.3.6).

/** @param {number} size @param {(view: DataView) => void} write */
function block(size, write) {
  const data = new Uint8Array(size);
  write(new DataView(data.buffer));
  return data;
}

const TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

/** @param {Uint8Array} data */
export function crc(data) {
  let c = 0xffffffff;
  for (const byte of data) c = TABLE[(c ^ byte) & 255] ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

/** @param {string} type @param {Uint8Array} data */
function chunk(type, data) {
  const found = new Uint8Array(12 + data.length);
  const view = new DataView(found.buffer);
  view.setUint32(0, data.length);
  for (let k = 0; k < 4; k++) found[4 + k] = type.charCodeAt(k);
  found.set(data, 8);
  view.setUint32(8 + data.length, crc(found.subarray(4, 8 + data.length)));
  return found;
}

/** @param {Uint8Array} file @returns {[string, Uint8Array][]} */
export function chunksOf(file) {
  const view = new DataView(file.buffer, file.byteOffset);
  /** @type {[string, Uint8Array][]} */
  const rows = [];
  for (let at = 8; at < file.length; ) {
    const long = view.getUint32(at);
    rows.push([String.fromCharCode(...file.subarray(at + 4, at + 8)), file.subarray(at + 8, at + 8 + long)]);
    at += 12 + long;
  }
  return rows;
}

/** @param {Uint8Array[]} pictures PNG files of one size @param {number} speed pictures a second @returns {Uint8Array} that plays for ever */
export function animated(pictures, speed) {
  const [head] = chunksOf(pictures[0]);
  const size = new DataView(head[1].buffer, head[1].byteOffset);
  const [wide, high] = [size.getUint32(0), size.getUint32(4)];
  let order = 0;
  const rows = [pictures[0].slice(0, 8), chunk("IHDR", head[1]), chunk("acTL", block(8, (v) => v.setUint32(0, pictures.length)))];
  pictures.forEach((file, number) => {
    rows.push(chunk("fcTL", block(26, (v) => {
      v.setUint32(0, order++);
      v.setUint32(4, wide);
      v.setUint32(8, high);
      v.setUint16(20, 1);
      v.setUint16(22, speed);
    })));
    for (const [type, data] of chunksOf(file)) {
      if (type !== "IDAT") continue;
      if (!number) rows.push(chunk("IDAT", data));
      else {
        const more = new Uint8Array(4 + data.length);
        new DataView(more.buffer).setUint32(0, order++);
        more.set(data, 4);
        rows.push(chunk("fdAT", more));
      }
    }
  });
  rows.push(chunk("IEND", new Uint8Array()));
  const whole = new Uint8Array(rows.reduce((sum, row) => sum + row.length, 0));
  let at = 0;
  for (const row of rows) {
    whole.set(row, at);
    at += row.length;
  }
  return whole;
}
