// Every request to the server: headers, errors in words, a second try where nothing can be done twice, and whether
// the page waits (data-busy on the root element).
import { readContainer, readStreamed } from "./view/packets.js";

const AWAY = "Ravine does not answer; it may be restarting. Nothing was lost; try again";
const AGAIN = 400; // ms before what can be asked without harm is asked once more
const LONG = 2000; // letters of an address, above which a question goes in the body
const PATIENT = 40; // times an edit is asked for again, while the server starts anew

/** What the server would not do: `told` as JSON has it, or `html` to show. */
export class Refused extends Error {
  /** @param {{reason: string, nearest?: string|null, field?: string|null, where?: string[], kind?: string, later?: boolean}} told
   * @param {number} status @param {string} [html] */
  constructor(told, status, html = "") {
    super(told.reason);
    this.told = told;
    this.status = status;
    this.html = html;
  }
}

let waiting = 0;

/** @param {number} by */
function busy(by) {
  waiting += by;
  if (typeof document !== "undefined") document.documentElement.toggleAttribute("data-busy", waiting > 0);
}

/** @param {unknown} error */
export const isAbort = (error) => error instanceof Error && error.name === "AbortError";

/** @param {string} url @param {RequestInit} init @param {number} tries @returns {Promise<Response>} */
async function attempt(url, init, tries) {
  for (let left = tries; ; left -= 1) {
    try {
      return await fetch(url, init);
    } catch (error) {
      if (isAbort(error)) throw error;
      if (left <= 1) throw new Refused({ reason: AWAY }, 0);
      await new Promise((done) => setTimeout(done, AGAIN));
    }
  }
}

/** @param {string} url @param {RequestInit} init @returns {Promise<Response>} an answer that is no refusal */
async function send(url, init) {
  busy(1);
  try {
    const reads = (init.method || "GET") === "GET";
    const [address, question] = reads ? fitting(url, init) : [url, init];
    const answer = await attempt(address, { ...question, headers: { "X-Ravine": "1", ...question.headers } }, reads ? 2 : 1);
    if (!answer.ok) {
      const html = await answer.text();
      throw new Refused({ reason: wordsOf(html) || `the server answered ${answer.status}` }, answer.status, html);
    }
    return answer;
  } finally {
    busy(-1);
  }
}

/** A question that is too long for an address goes in the body instead.
 * @param {string} url @param {RequestInit} init
 * @returns {[string, RequestInit]} */
function fitting(url, init) {
  const [address, query] = url.split("?");
  if (url.length < LONG) return [url, init];
  const headers = { "X-Ravine-Query": "1", "Content-Type": "application/x-www-form-urlencoded", ...init.headers };
  return [address, { ...init, method: "POST", body: query, headers }];
}

/** The words of a fragment.
 * @param {string} html */
export const wordsOf = (html) => html.replace(/<[^>]*>/g, " ").replace(/\s+/g, " ").trim();

/** @param {string} url @param {Object<string, any>} params */
export function withParams(url, params) {
  const query = new URLSearchParams(Object.entries(params).map(([name, value]) => [name, Array.isArray(value) ? value.join(" ") : String(value)]));
  return `${url}${[...query].length ? `?${query}` : ""}`;
}

/** @param {string} url @param {Object<string, any>} [params] */
export const getText = async (url, params = {}) => (await send(withParams(url, params), {})).text();

/** @param {string} url @param {Object<string, any>} [params] @returns {Promise<any>} */
export const getJson = async (url, params = {}) => (await send(withParams(url, params), {})).json();

/** @param {string} url @param {Object<string, any>} [params] */
export const getBuffer = async (url, params = {}) => (await send(withParams(url, params), {})).arrayBuffer();

/** A form, fields or JSON; the answer's text.
 * @param {string} url @param {any} [body] */
export const post = async (url, /** @type {any} */ body = null) => (await posted(url, body)).text();

/** @param {string} url @param {any} [body] @returns {Promise<any>} */
export const postForJson = async (url, /** @type {any} */ body = null) => (await posted(url, body)).json();

/** @param {string} url @param {any} [body] */
export const postForBuffer = async (url, /** @type {any} */ body = null) => (await posted(url, body)).arrayBuffer();

/** @param {string} url @param {any} body */
function posted(url, body) {
  if (body === null || body instanceof FormData || body instanceof URLSearchParams) return send(url, { method: "POST", body });
  return send(url, { method: "POST", body: JSON.stringify(body), headers: { "Content-Type": "application/json" } });
}

/** A question whose answer comes with its progress; leaving it stops the work.
 * @param {string} url @param {Object<string, any>} params @param {(share: number, words: string) => void} told @param {AbortSignal} signal
 * @param {object} [body] JSON that goes along */
export async function stream(url, params, told, signal, body) {
  const more = body ? { method: "POST", body: JSON.stringify(body), headers: { "Content-Type": "application/json" } } : {};
  const answer = await send(withParams(url, params), { signal, ...more });
  return readStreamed(answer, told, (reason) => new Refused({ reason }, 422));
}

/** An edit that is to be saved.  It has a name of its own, so that after a lost answer it is asked for again and nothing
 * is done twice.
 * @param {string} url @param {object} body */
export const keep = (url, body) => ask(url, { ...body, token: crypto.randomUUID() }, undefined, PATIENT);

/** JSON there, a container of JSON and blobs back.
 * @param {string} url @param {object} body @param {AbortSignal} [signal] @param {number} [tries] */
export async function ask(url, body, signal, tries = 1) {
  busy(1);
  try {
    const answer = await attempt(url, {
      method: "POST", signal, body: JSON.stringify(body),
      headers: { "Content-Type": "application/json", "X-Ravine": "1", Accept: "application/x-ravine" },
    }, tries);
    const type = answer.headers.get("Content-Type") || "";
    if (type.startsWith("application/json")) return { head: await answer.json(), blobs: [] };
    if (!type.startsWith("application/x-ravine")) throw new Refused({ reason: `the server answered ${answer.status}` }, answer.status);
    const found = readContainer(await answer.arrayBuffer());
    if (found.head.error) throw new Refused(found.head.error, answer.status);
    return found;
  } finally {
    busy(-1);
  }
}
