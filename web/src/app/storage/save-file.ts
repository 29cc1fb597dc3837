/** Hands bytes or a file to the person as a downloaded file. */
export function saveFile(content: Uint8Array<ArrayBuffer> | Blob, name: string, type: string): void {
  const address = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  // The download has taken the address over once this task is done.
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
