/** Hands a file to whoever sits here. */
export function saveFile(file: Blob, name: string): void {
  const url = URL.createObjectURL(file);
  Object.assign(document.createElement('a'), { href: url, download: name }).click();
  // The browser reads it after this task.
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
