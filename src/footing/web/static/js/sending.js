// Sending a file in pieces, so that it goes on where a lost connection left it (the tus protocol).

const RETRY_AFTER = [0, 500, 1000, 2000, 4000, 8000, 8000, 8000, 15000, 15000, 30000];
const PIECE = { "Tus-Resumable": "1.0.0", "Content-Type": "application/offset+octet-stream" };

/**
 * @typedef {object} Sending
 * @property {(sent: number, size: number) => void} progress
 * @property {() => void} waiting the connection is lost; it will be tried again
 * @property {(made: number) => void} used the file became this source
 * @property {(reason: string) => void} refused
 */

/**
 * Send a file; a piece of the same file that was sent before, even before a reload, is not sent again.
 * @param {File} file @param {string} endpoint @param {Record<string, string>} metadata @param {Sending} tell
 * @returns {{stop: () => void}}
 */
export function sendFile(file, endpoint, metadata, tell) {
  const upload = new tus.Upload(file, {
    endpoint,
    metadata: { name: file.name, ...metadata },
    retryDelays: RETRY_AFTER,
    removeFingerprintOnSuccess: true,
    onProgress: (/** @type {number} */ sent, /** @type {number} */ size) => tell.progress(sent, size),
    onShouldRetry: (/** @type {any} */ error) => {
      const status = error.originalResponse?.getStatus() ?? 0;
      const again = status === 0 || status >= 500 || status === 409;
      if (again) tell.waiting();
      return again;
    },
    onError: (/** @type {any} */ error) => tell.refused(reasonOf(error)),
    onSuccess: () => outcome(upload.url ?? "", file.size, tell),
  });
  upload.findPreviousUploads().then((earlier) => {
    const same = earlier.find((one) => one.uploadUrl?.includes(endpoint));
    if (same) upload.resumeFromPreviousUpload(same);
    upload.start();
  });
  return { stop: () => upload.abort(true) };
}

/**
 * What became of a file that has arrived. One of which the last answer was lost is asked for once more.
 * @param {string} url @param {number} size @param {Sending} tell
 */
async function outcome(url, size, tell) {
  let known = await (await fetch(url)).json();
  if (known.state === "arriving") {
    await fetch(url, { method: "PATCH", headers: { ...PIECE, "Upload-Offset": String(size) } });
    known = await (await fetch(url)).json();
  }
  if (known.state === "used") tell.used(known.made);
  else tell.refused(known.reason ?? "The file could not be used; choose it again.");
}

/** @param {any} error */
function reasonOf(error) {
  try {
    return JSON.parse(error.originalResponse.getBody()).error;
  } catch {
    return "The connection was lost; choose the same file again, and it goes on where it stopped.";
  }
}

/**
 * Megabytes as people read them.
 * @param {number} bytes
 */
export function megabytes(bytes) {
  return (bytes / 1e6).toFixed(1);
}
