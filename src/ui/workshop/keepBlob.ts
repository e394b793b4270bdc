/**
 * Keeps a picture or a mesh on the server.
 * @param what is told of in a refusal: “The mesh of Lid”
 * @returns its SHA-256
 * @throws Error that says why it was not taken
 */
export const keepBlob = async (body: Blob | Uint8Array<ArrayBuffer>, what: string): Promise<string> => {
  // A body without a type, such as a file's that the browser does not know, is not read at all.
  const headers = { 'content-type': 'application/octet-stream' };
  const send = () => fetch('/api/blobs', { method: 'POST', headers, body });
  let answer;
  try {
    answer = await send();
    // Many at once are held back for a moment.
    while (answer.status === 429) {
      const wait = Number(answer.headers.get('retry-after') ?? 1);
      await new Promise((resolve) => setTimeout(resolve, 1000 * wait));
      answer = await send();
    }
  } catch {
    throw new Error(`${what} was not taken: the server cannot be reached.`);
  }
  const { sha256, message } = (await answer.json()) as { sha256?: string; message?: string };
  if (!sha256) throw new Error(`${what} was not taken: ${message ?? 'the server refused it.'}`);
  return sha256;
};
