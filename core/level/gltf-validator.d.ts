declare module 'gltf-validator' {
  interface Issue {
    code: string;
    message: string;
    /** 0 for an error, 1 to 3 for less. */
    severity: number;
    pointer?: string;
  }

  /** Checks glTF or binary glTF. */
  export function validateBytes(
    bytes: Uint8Array,
    options: { maxIssues?: number; ignoredIssues?: string[] },
  ): Promise<{ issues: { messages: Issue[] } }>;
}
