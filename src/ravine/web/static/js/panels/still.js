// What is seen now as one picture, with the legend of its colours, to be pinned to a note.
import { all, one } from "../dom.js";
import { sheetColour } from "../view/materials.js";

const WIDEST = 1280; // px
const ROW = 17;
const LETTERS = "12px Inter, sans-serif";

/** @param {HTMLCanvasElement} canvas of the view @returns {string} PNG as a data URI */
export function still(canvas) {
  const scale = Math.min(1, WIDEST / canvas.width);
  const sheet = document.createElement("canvas");
  Object.assign(sheet, { width: Math.round(scale * canvas.width), height: Math.round(scale * canvas.height) });
  const pen = /** @type {CanvasRenderingContext2D} */ (sheet.getContext("2d"));
  pen.fillStyle = sheetColour("--ground");
  pen.fillRect(0, 0, sheet.width, sheet.height);
  pen.drawImage(canvas, 0, 0, sheet.width, sheet.height);
  const rows = all("#legend li, ol.bands li").filter((row) => row.offsetParent && one("i", row));
  if (rows.length) explain(pen, rows, sheet.height);
  return sheet.toDataURL("image/png");
}

/** What is shown, and each colour with what it says.
 * @param {CanvasRenderingContext2D} pen @param {HTMLElement[]} bands @param {number} high */
function explain(pen, bands, high) {
  const rows = bands.map((row) => ({ text: row.innerText.trim(), colour: getComputedStyle(one("i", row)).backgroundColor }));
  const head = /** @type {HTMLElement} */ (bands[0].parentElement?.previousElementSibling);
  const chosen = /** @type {HTMLSelectElement|null} */ (one("select", head))?.selectedOptions[0].textContent;
  const title = chosen ? `${chosen} ${one("span", head)?.innerText ?? ""}` : head.innerText.trim();
  pen.font = LETTERS;
  const wide = Math.max(...[title, ...rows.map((r) => `      ${r.text}`)].map((t) => pen.measureText(t).width)) + 20;
  const tall = ROW * (rows.length + 1) + 14;
  pen.fillStyle = sheetColour("--panel");
  pen.fillRect(12, high - tall - 12, wide, tall);
  pen.fillStyle = sheetColour("--ink");
  pen.fillText(title, 20, high - tall + 6);
  rows.forEach(({ text, colour }, k) => {
    const y = high - tall + 6 + ROW * (k + 1);
    pen.fillStyle = colour;
    pen.fillRect(20, y - 10, 14, 12);
    pen.fillStyle = sheetColour("--ink");
    pen.fillText(text, 40, y);
  });
}
