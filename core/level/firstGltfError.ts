/**
 * The first error that the validator of the glTF working group finds in a level, as the end of a sentence: what, and at which place of the
 * description. Null where it finds none.
 */
export async function firstGltfError(bytes: Uint8Array): Promise<string | null> {
  // Loaded only where a level could not be read: it is large.
  const { validateBytes } = await import('gltf-validator');
  try {
    const { issues } = await validateBytes(new Uint8Array(bytes), { maxIssues: MOST_ISSUES, ignoredIssues: ['IO_ERROR'] });
    const first = issues.messages.find(({ severity }) => severity === 0);
    if (!first) return null;
    const what = first.message.replace(/\.$/, '').replace(/^./, (letter) => letter.toLowerCase());
    return first.pointer ? `${what} (at ${first.pointer})` : what;
  } catch {
    // It is no glTF at all for the validator.
    return null;
  }
}

/** Most issues that are looked through, warnings among them. */
const MOST_ISSUES = 1000;
