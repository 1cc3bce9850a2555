// Questions to the server go through one function, and an answer always comes back: also where there
// is no connection, and where something between the page and Footing answered in its stead.

/**
 * status : that of the answer, 0 where nobody answered
 * data : what came, JSON or text; null where nothing came that can be read
 * error : one sentence, where it is not ok
 * @typedef {{ok: boolean, status: number, data: any, error: string}} Answer
 */

const NOBODY = "Footing does not answer just now; try again in a moment.";

/**
 * Ask the server.
 * @param {string} path
 * @param {{method?: string, content?: object | string | Blob, keepalive?: boolean, picture?: boolean}} [how]
 *   content is sent as JSON unless it is a text or a file; a picture is handed on as it comes
 * @returns {Promise<Answer>}
 */
export async function ask(path, how = {}) {
  const { content, method = content === undefined ? "GET" : "POST", keepalive = false, picture = false } = how;
  /** @type {RequestInit} */
  const options = { method, keepalive };
  if (typeof content === "string" || content instanceof Blob) options.body = content;
  else if (content !== undefined) {
    options.body = JSON.stringify(content);
    options.headers = { "Content-Type": "application/json" };
  }
  const response = await fetch(path, options).catch(() => null);
  if (!response) return { ok: false, status: 0, data: null, error: NOBODY };
  const data = await (response.ok && picture ? response.blob() : read(response)).catch(() => null);
  const ok = response.ok && data !== null;
  return { ok, status: response.status, data, error: ok ? "" : (data?.error ?? `Footing could not answer (${response.status}); try again in a moment.`) };
}

/**
 * What an answer holds.
 * @param {Response} response @returns {Promise<any>}
 */
function read(response) {
  return response.headers.get("Content-Type")?.includes("json") ? response.json() : response.text();
}
