/** Gives the browser a file to keep. Signs that file systems refuse become hyphens in its name. */
export function saveFile(name: string, suffix: string, content: Blob): void {
  const url = URL.createObjectURL(content);
  const link = document.createElement('a');
  link.href = url;
  link.download = `${name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '')}.${suffix}`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
