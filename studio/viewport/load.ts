/** Runs a load that ends when the effect does; what goes wrong is told in plain words. */
export function load(words: string, tell: (fault: string | null) => void, work: (signal: AbortSignal) => Promise<void>): () => void {
  const abort = new AbortController();
  work(abort.signal).then(
    // What could not be fetched before may have been replaced since: a bake's first look is, when the bake is done.
    () => abort.signal.aborted || tell(null),
    (error: unknown) => {
      if (abort.signal.aborted) return;
      console.error(error);
      tell(words);
    },
  );
  return () => abort.abort();
}
