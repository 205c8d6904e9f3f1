/**
 * Fetches a file whole, telling the share that has come. Rejected when the server does not give it.
 *
 * @param gzip the file is packed, and is to be unpacked
 */
export async function download(
  url: string,
  signal: AbortSignal,
  progress: (share: number) => void,
  { gzip = false } = {},
): Promise<ArrayBuffer> {
  const response = await fetch(url, { signal });
  if (!response.ok || !response.body) throw new Error(`${url} answered ${response.status}.`);
  const length = Number(response.headers.get('content-length')) || Infinity;
  let got = 0;
  const counted = new TransformStream<Uint8Array<ArrayBuffer>, Uint8Array<ArrayBuffer>>({
    transform(part, controller) {
      got += part.length;
      progress(Math.min(1, got / length));
      controller.enqueue(part);
    },
  });
  const bytes = response.body.pipeThrough(counted);
  return new Response(gzip ? bytes.pipeThrough(new DecompressionStream('gzip')) : bytes).arrayBuffer();
}
